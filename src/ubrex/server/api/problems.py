"""The one table that turns errors into HTTP, in the form of RFC 9457."""

from __future__ import annotations

from collections.abc import Mapping
from http import HTTPStatus
from typing import Final

import psycopg
from fastapi import Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from peewee import InterfaceError, OperationalError
from playhouse.pool import MaxConnectionsExceeded
from starlette.exceptions import HTTPException

from ubrex.core import errors as core
from ubrex.core.gcode import RefusedFile
from ubrex.server.calibrations import UnusableInput
from ubrex.server.desk import Clash, FieldProblem, KeyReused, Missing, NotSignedIn, Outdated, Refused, TooManyTries
from ubrex.server.views.workshop import FieldProblemOut, ProblemOut
from ubrex.server.words.desk import ADDED_AT_ONCE, CANNOT_BE_KEPT, DISK_FULL, FAILED
from ubrex.server.words.desk import DATABASE_DOWN as DATABASE_DOWN_SAID
from ubrex.server.workshop import UnusableBackup

STATUS: Final[Mapping[type[core.UbrexError], int]] = {
    core.OutOfRange: 422,
    core.UnreadableEntry: 422,
    Refused: 422,
    Missing: 404,
    Clash: 409,
    Outdated: 412,
    KeyReused: 422,
    NotSignedIn: 401,
    TooManyTries: 429,
    UnusableInput: 422,
    UnusableBackup: 422,
    RefusedFile: 422,
}
"""HTTP status of each error; a test holds it complete."""

PROBLEM: Final = "application/problem+json"

POLICY: Final = "Content-Security-Policy"

HEADERS: Final = {
    POLICY: (
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; "
        "connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=()",
    "Cross-Origin-Resource-Policy": "same-origin",
}
"""Sent with every answer: nothing from elsewhere is ever loaded."""

HTTP_CODES: Final = {404: "missing", 405: "wrong_method", 413: "too_large"}
"""Codes for what the framework refuses by itself."""

DATABASE_DOWN: Final = (
    OperationalError,
    InterfaceError,
    MaxConnectionsExceeded,
    psycopg.OperationalError,
    psycopg.InterfaceError,
)
"""What peewee, its pool and psycopg raise when the database cannot be reached."""


def problem(status: int, code: str, detail: str, fields: list[FieldProblemOut] | None = None) -> JSONResponse:
    """An answer in the one form all problems have."""
    body = ProblemOut(
        type=f"urn:ubrex:{code}",
        title=HTTPStatus(status).phrase,
        status=status,
        detail=detail,
        code=code,
        fields=fields or [],
    )
    return JSONResponse(body.model_dump(), status_code=status, media_type=PROBLEM)


async def on_error(_: Request, error: Exception) -> JSONResponse:
    """An error of ours."""
    assert isinstance(error, core.UbrexError)
    code = error.clash if isinstance(error, Clash) else error.code
    found = error.problems if isinstance(error, Refused) else ()
    return problem(STATUS[type(error)], code, str(error), [_field(row) for row in found])


async def on_malformed(_: Request, error: Exception) -> JSONResponse:
    """A body or parameter that has not the shape the contract says."""
    assert isinstance(error, RequestValidationError)
    fields = [
        FieldProblemOut(
            field=".".join(str(part) for part in row["loc"][1:]),
            code=row["type"],
            message=row["msg"].removeprefix("Value error, "),
            suggested=None,
            confirmable=False,
        )
        for row in error.errors()
    ]
    return problem(422, "malformed", "The request does not have the shape it should have.", fields)


async def on_http(_: Request, error: Exception) -> JSONResponse:
    """An error of the framework: no such route, wrong method."""
    assert isinstance(error, HTTPException)
    return problem(error.status_code, HTTP_CODES.get(error.status_code, "http"), str(error.detail))


async def on_database_down(_: Request, error: Exception) -> JSONResponse:
    """The database does not answer, or has no room."""
    if isinstance(error.__cause__ or error.__context__, psycopg.errors.DiskFull):
        return problem(507, "disk_full", DISK_FULL)
    return problem(503, "database_down", DATABASE_DOWN_SAID)


async def on_unkeepable(_: Request, __: Exception) -> JSONResponse:
    """A value of a kind or size that no column holds, and that no form asked about before."""
    return problem(422, "cannot_be_kept", CANNOT_BE_KEPT)


async def on_added_at_once(_: Request, error: Exception) -> JSONResponse:
    """The same thing added twice in one moment: the database lets one in. Anything else it refuses no form asked about."""
    if isinstance(error.__cause__ or error.__context__, psycopg.errors.CheckViolation):
        return problem(422, "cannot_be_kept", CANNOT_BE_KEPT)
    return problem(409, "added_at_once", ADDED_AT_ONCE)


async def on_failure(_: Request, __: Exception) -> JSONResponse:
    """A fault of ours; the log has it."""
    answer = problem(500, "failed", FAILED)
    # This one is made outside of what adds them to all other answers.
    answer.headers.update(HEADERS)
    return answer


def _field(row: FieldProblem) -> FieldProblemOut:
    return FieldProblemOut(
        field=row.field, code=row.code, message=row.message, suggested=row.suggested, confirmable=row.confirmable
    )
