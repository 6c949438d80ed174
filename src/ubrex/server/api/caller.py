"""What a route knows about its caller: the desk, the person, and the key of a write that may be repeated."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import Annotated, Any, Concatenate, Final, ParamSpec, TypeVar

from fastapi import Depends, Header, Request
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool

from ubrex.server.api.guard import MOST_DIGITS, is_json
from ubrex.server.desk import Desk, FieldProblem, Gate, NotSignedIn, Refused, Work, is_signed_in, once

P = ParamSpec("P")
R = TypeVar("R")
OutModel = TypeVar("OutModel", bound=BaseModel)

COOKIE = "ubrex_signed_in"


async def _desk(request: Request) -> Desk:
    desk: Desk = request.app.state.desk
    return desk


async def _gate(request: Request) -> Gate:
    gate: Gate = request.app.state.gate
    return gate


# Dependencies that only look something up are async: each sync one costs a hop into the thread pool.
DeskOf = Annotated[Desk, Depends(_desk)]
GateOf = Annotated[Gate, Depends(_gate)]


@dataclass(frozen=True, slots=True)
class Caller:
    """Somebody who may ask."""

    desk: Desk
    person_id: int | None

    def do(self, case: Callable[Concatenate[Work, P], R], *args: P.args, **kwargs: P.kwargs) -> R:
        """Answer of a use case."""
        return self.desk.do(case, self.person_id, *args, **kwargs)


async def signed_in_caller(
    request: Request, desk: DeskOf, gate: GateOf, ubrex_person: Annotated[int | None, Header()] = None
) -> Caller:
    """The caller, signed in where that is needed; what is sent can be kept."""
    if gate.passphrase_hash is not None:
        token = request.cookies.get(COOKIE, "")
        if not await run_in_threadpool(desk.do, is_signed_in, None, token, gate.passphrase_hash):
            raise NotSignedIn("Sign in with the passphrase of this workshop.")
    await _refuse_nul(request)
    return Caller(desk, ubrex_person)


async def _refuse_nul(request: Request) -> None:
    """Refuse the one character that no text in the database can hold; it comes in by pasting, and nobody sees it."""
    holding = next((name for name, text in request.query_params.items() if "\0" in text), None)
    if is_json(request.headers.get("content-type", "")):
        body = await request.body()
        # Other encodings of JSON than UTF-8 have a zero byte in every second place.
        if b"\\u0000" in body or b"\0" in body[:4]:
            with suppress(ValueError, RecursionError):
                holding = _holding_nul(json.loads(body), "text")
    if holding is not None:
        said = "This text holds a character that cannot be kept (NUL), most likely from pasting. Type it instead."
        raise Refused(FieldProblem(holding, "nul", said))


def _holding_nul(value: Any, name: str) -> str | None:
    """Name of the first field whose text holds a NUL; ``name``: of what ``value`` stands in."""
    waiting = [(name, value)]
    while waiting:
        name, value = waiting.pop()
        match value:
            case str() if "\0" in value:
                return name
            case dict() if any("\0" in key for key in value):
                return name
            case dict():
                waiting.extend(value.items())
            case list():
                waiting.extend((name, one) for one in value)
    return None


CallerOf = Annotated[Caller, Depends(signed_in_caller)]


@dataclass(frozen=True, slots=True)
class Once:
    """A caller whose write carries a key and is done once, however often it is sent."""

    caller: Caller
    key: str
    request_hash: str

    def do(
        self,
        answer: type[OutModel],
        case: Callable[Concatenate[Work, P], OutModel],
        *args: P.args,
        **kwargs: P.kwargs,
    ) -> OutModel:
        """Answer of a use case, or the answer it gave before."""
        return self.caller.do(
            lambda work: once(work, self.key, self.request_hash, answer, lambda w: case(w, *args, **kwargs))
        )


async def keyed(
    request: Request, caller: CallerOf, idempotency_key: Annotated[str | None, Header(max_length=80)] = None
) -> Once:
    """The caller of a create; the key is asked for."""
    if idempotency_key is None or len(idempotency_key) < 8:
        raise Refused(FieldProblem("Idempotency-Key", "missing", "Send an Idempotency-Key of 8 to 80 characters."))
    digest = hashlib.sha256(f"{request.method} {request.url.path} ".encode() + await request.body())
    return Once(caller, idempotency_key, digest.hexdigest())


OnceOf = Annotated[Once, Depends(keyed)]


async def _bytes(request: Request) -> bytes:
    return await request.body()


BytesOf = Annotated[bytes, Depends(_bytes)]


async def version_seen(if_match: Annotated[str | None, Header()] = None) -> int:
    """Version in ``If-Match``; an edit says which version it was made from."""
    digits = (if_match or "").strip('"')
    if not digits.isdecimal() or len(digits) > MOST_DIGITS:
        raise Refused(FieldProblem("If-Match", "missing", 'Send If-Match with the version you saw, like "3".'))
    return int(digits)


VersionOf = Annotated[int, Depends(version_seen)]

BYTES: Final = {
    "requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}
}
"""The body of a photograph."""
