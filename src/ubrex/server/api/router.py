"""The one router: a room's routes are made on it, so that each is made once."""

from __future__ import annotations

from typing import Any, Final

from fastapi import APIRouter

from ubrex.server.views.workshop import ProblemOut

PROBLEMS: Final[dict[int | str, dict[str, Any]]] = {
    "default": {"model": ProblemOut, "description": "Problem (RFC 9457)"}
}

router = APIRouter(prefix="/api/v1", responses=PROBLEMS)
