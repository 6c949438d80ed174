"""What stands before every route: which names may be asked for, who may ask, how much, and what browsers are told."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Final
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ubrex.server.api.problems import HEADERS, problem

LARGEST_BODY: Final = 1_000_000
LARGEST_BACKUP: Final = 256_000_000
LARGEST_FILE: Final = 130_000_000
LARGEST_PICTURE: Final = 64_000_000
FILE_PATHS: Final = ("/file-checks", "/file-comparisons")
PHOTO_PATH: Final = "/photos"
BACKUP_PATH: Final = "/api/v1/backup"
COMPARISON_PATH: Final = "/file-comparisons"
LARGEST_COMPARED: Final = LARGEST_FILE
"""Bytes a request may carry; of a picture more than is kept, so that the answer can say how large it was."""

MOST_DIGITS: Final = 12
"""Of a length or a version that a header names: far more than anything has."""

SAFE_METHODS: Final = frozenset({"GET", "HEAD", "OPTIONS"})

TRUSTED_HEADERS: Final = {"Cross-Origin-Opener-Policy": "same-origin"}
"""Sent where browsers heed it: by HTTPS or on loopback. On a phone's plain HTTP they only complain about it."""

LOOPBACK_NAMES: Final = frozenset({"localhost", "127.0.0.1", "::1"})
"""Names a loopback server is asked for by."""


class TooLarge(HTTPException):
    """A body went past its limit while it was read. An HTTP error, because FastAPI calls any other a bad body."""

    def __init__(self) -> None:
        super().__init__(413, "That is more than Ubrex takes at once.")


class Guard:
    """Checks Host and Origin, limits bodies, adds the headers. ``hosts``: names this server answers to, lower case."""

    def __init__(self, app: ASGIApp, hosts: Iterable[str]) -> None:
        self.app = app
        self.hosts = frozenset(hosts)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass a request on, or refuse it with a problem."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        trusted = scope["scheme"] == "https" or host_name(headers.get("host", "")) in LOOPBACK_NAMES
        send = _with_headers(send, HEADERS | TRUSTED_HEADERS if trusted else HEADERS)
        most = LARGEST_BACKUP if scope["path"] == BACKUP_PATH else LARGEST_BODY
        if scope["path"].endswith(FILE_PATHS):
            most = LARGEST_FILE
        if scope["path"].endswith(PHOTO_PATH):
            most = LARGEST_PICTURE
        if is_json(headers.get("content-type", "")):
            most = min(most, LARGEST_COMPARED if scope["path"].endswith(COMPARISON_PATH) else LARGEST_BODY)
        refused = self._refusal(scope["method"], headers, most)
        if refused is not None:
            await problem(*refused)(scope, receive, send)
            return
        await self.app(scope, _limited(receive, most), send)

    def _refusal(self, method: str, headers: Headers, most: int) -> tuple[int, str, str] | None:
        host = headers.get("host", "")
        if host_name(host) not in self.hosts:
            return 421, "unknown_host", "This Ubrex does not go by that name. Start it with --allow-host NAME."
        length = headers.get("content-length") or "0"
        if not length.isdecimal() or len(length) > MOST_DIGITS or int(length) > most:
            return 413, "too_large", "That is more than Ubrex takes at once."
        origin = headers.get("origin")
        foreign = origin is not None and _place(origin) != host
        if method not in SAFE_METHODS and (foreign or headers.get("sec-fetch-site") == "cross-site"):
            return 403, "foreign_origin", "This request comes from another site."
        return None


def host_name(host: str) -> str:
    """Name in a Host header, lower case, without its port; brackets of IPv6 dropped."""
    try:
        return (urlsplit(f"//{host}").hostname or "").lower()
    except ValueError:
        return ""


def _place(origin: str) -> str:
    """Host and port of an origin; empty for what is none."""
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return ""


def is_json(content_type: str) -> bool:
    """Whether a body of this type is read as JSON."""
    kind = content_type.partition(";")[0].strip().lower()
    return kind == "application/json" or kind.endswith("+json")


def _limited(receive: Receive, most: int) -> Receive:
    seen = 0

    async def receive_limited() -> Message:
        nonlocal seen
        message = await receive()
        seen += len(message.get("body", b""))
        if seen > most:
            raise TooLarge
        return message

    return receive_limited


def _with_headers(send: Send, added: Mapping[str, str]) -> Send:
    async def send_with_headers(message: Message) -> None:
        if message["type"] == "http.response.start":
            headers = MutableHeaders(scope=message)
            for name, value in added.items():
                headers.setdefault(name, value)
        await send(message)

    return send_with_headers
