"""What is said about measuring tools."""

from __future__ import annotations

from typing import Final

from ubrex.server.words.numbers import ago, plain, plus_minus

EYES_DETAIL: Final = "ratings of 0 to 4"


def tool_said(step: float, error: float, unit: str) -> str:
    """How fine a tool reads, and how far off it may be."""
    return f"{plain(step)} {unit} step, {plus_minus(error)}"


def zero_said(days: float | None) -> str:
    """When the zero of a tool was checked; None is never."""
    return "zero not checked yet" if days is None else f"zero checked {ago(days)}"
