"""What tonight's numbers come to with those beside them."""

from __future__ import annotations

from ubrex.server.words.numbers import NBSP, plain


def layers_said(span_mm: float, count: int) -> str:
    """How many layers a height takes."""
    return f"{count} layers to {plain(span_mm)}{NBSP}mm"


def melt_said(rate_mm3_s: float, cap_mm3_s: float | None) -> str:
    """How much a speed asks of the hotend, and of how much that may be."""
    of = "" if cap_mm3_s is None else f" of {plain(round(cap_mm3_s, 1))}"
    return f"asks for {plain(round(rate_mm3_s, 1))}{of}{NBSP}mm³/s"


def speed_said(speed: str) -> str:
    """How fast the line that is set can be laid at most."""
    return f"this line up to {speed}{NBSP}mm/s"
