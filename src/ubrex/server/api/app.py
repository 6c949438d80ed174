"""The application: routes, guard, problems, and the built front end."""

from __future__ import annotations

import gzip
import hashlib
import re
from base64 import b64encode
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager, suppress
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from pathlib import Path
from typing import Any, Final

from anyio import to_thread
from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, Response
from fastapi.routing import APIRoute
from peewee import DataError, IntegrityError
from starlette.datastructures import Headers
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.staticfiles import StaticFiles
from starlette.types import Scope

from ubrex import __version__
from ubrex.core.errors import UbrexError
from ubrex.server.api.guard import LOOPBACK_NAMES, Guard
from ubrex.server.api.problems import (
    DATABASE_DOWN,
    HEADERS,
    POLICY,
    PROBLEM,
    on_added_at_once,
    on_database_down,
    on_error,
    on_failure,
    on_http,
    on_malformed,
    on_unkeepable,
)
from ubrex.server.api.routes import router
from ubrex.server.desk import Desk, Gate, forget_old, utc_now

COMPRESSION: Final = 5
"""Level of gzip for the page's files: 9 takes three times as long to save 2 %, at every first load."""


PACKED: Final = {".js": "text/javascript", ".css": "text/css"}
PAGE: Final = frozenset({"", ".html"})
"""Endings of addresses that get the page."""

FOR_EVER: Final = "public, max-age=31536000, immutable"
"""Files whose names change with their content are packed once, and kept by the browser."""

AT_ONCE: Final = 4
"""Requests worked on at once: they compute in turns, and more of them only wait for each other with connections in hand."""


@dataclass(frozen=True, slots=True, kw_only=True)
class AppSettings:
    """What an application is told: who may ask, by which names, and where the built front end lies (None: nowhere)."""

    passphrase_hash: str | None = None
    hosts: frozenset[str] = LOOPBACK_NAMES
    web: Path | None = None
    clock: Callable[[], datetime] = utc_now


@lru_cache(maxsize=256)
def _packed(path: Path, _changed_ns: int) -> bytes:
    """A script or a style sheet as it goes over the wire: packed once, not at every first load."""
    return gzip.compress(path.read_bytes(), COMPRESSION)


@lru_cache(maxsize=4)
def _page_policy(page: Path, _changed_ns: int) -> str:
    """The policy of the page: what stands in it as a script may run too, named by its hash (CSP Level 3, 8.3)."""
    inline = re.findall("<script>(.*?)</script>", page.read_text(), re.DOTALL)
    hashes = [b64encode(hashlib.sha256(script.encode()).digest()).decode() for script in inline]
    return HEADERS[POLICY].replace(
        "script-src 'self'", " ".join(["script-src 'self'", *(f"'sha256-{one}'" for one in hashes)])
    )


class WebFiles(StaticFiles):
    """The built front end; what is no file is a screen's address and gets the page."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        """The file, or the page; named files may be kept for ever, the page never."""
        kind = PACKED.get(Path(path).suffix)
        if path.startswith("assets/") and kind and "gzip" in Headers(scope=scope).get("accept-encoding", ""):
            full_path, stat = self.lookup_path(path)
            if stat is not None:
                headers = {"Content-Encoding": "gzip", "Vary": "Accept-Encoding", "Cache-Control": FOR_EVER}
                return Response(_packed(Path(full_path), stat.st_mtime_ns), media_type=kind, headers=headers)
        try:
            response = await super().get_response(path, scope)
        except HTTPException as error:
            if error.status_code != 404 or path.startswith(("api/", "assets/")):
                raise
            response = FileResponse(Path(str(self.directory)) / "index.html")
        # Also where the browser is told that it has the page already: the policy it is told with holds from then on.
        if Path(path).suffix in PAGE:
            page = Path(str(self.directory)) / "index.html"
            response.headers[POLICY] = _page_policy(page, page.stat().st_mtime_ns)
        lasting = path.startswith("assets/")
        response.headers["Cache-Control"] = FOR_EVER if lasting else "no-cache"
        return response


def create_app(settings: AppSettings) -> FastAPI:
    """An application; the records must be bound to a database before it serves."""
    desk = Desk(settings.clock)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        # A database that goes away just now is started again; what is old is forgotten at the next start.
        with suppress(*DATABASE_DOWN):
            desk.do(forget_old, None)
        to_thread.current_default_thread_limiter().total_tokens = AT_ONCE
        yield

    app = FastAPI(
        title="Ubrex",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/v1/openapi.json",
        generate_unique_id_function=_operation_id,
    )
    app.state.desk = desk
    app.state.gate = Gate(settings.passphrase_hash)
    app.include_router(router)
    app.add_exception_handler(UbrexError, on_error)
    app.add_exception_handler(RequestValidationError, on_malformed)
    app.add_exception_handler(HTTPException, on_http)
    for kind in DATABASE_DOWN:
        app.add_exception_handler(kind, on_database_down)
    app.add_exception_handler(DataError, on_unkeepable)
    app.add_exception_handler(IntegrityError, on_added_at_once)
    app.add_exception_handler(Exception, on_failure)
    app.add_middleware(Guard, hosts=settings.hosts)
    if settings.web is not None:
        app.mount(
            "/", GZipMiddleware(WebFiles(directory=settings.web, html=True), compresslevel=COMPRESSION), name="web"
        )
    _say_problems(app)
    return app


def _say_problems(app: FastAPI) -> None:
    """Let the contract name problems by their own media type, which the framework knows no place for."""
    made = app.openapi

    def said() -> dict[str, Any]:
        contract = made()
        for methods in contract["paths"].values():
            for operation in methods.values():
                content = operation["responses"]["default"]["content"]
                if "application/json" in content:
                    content[PROBLEM] = content.pop("application/json")
        return contract

    app.openapi = said  # type: ignore[method-assign]


def _operation_id(route: APIRoute) -> str:
    return route.name
