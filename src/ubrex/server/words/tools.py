"""What is said about measuring tools."""

from __future__ import annotations

from typing import Final

from ubrex.server.words.numbers import ago, plain, plus_minus, signed

EYES_DETAIL: Final = "ratings of 0 to 4"


def tool_said(step: float, error: float, unit: str) -> str:
    """How fine a tool reads, and how far off it may be."""
    return f"{plain(step)} {unit} step, {plus_minus(error)}"


REFERENCE_MASS: Final = "Mass of the reference piece"
REFERENCE_LENGTH: Final = "Length of the reference piece"
REFERENCE_TOOL: Final = "Reference measured with"
REFERENCE_MASS_WHAT: Final = "The mass of the reference piece"
REFERENCE_MASS_WHY: Final = "a metre of filament weighs about 3 g"
REFERENCE_LENGTH_WHAT: Final = "The length of the reference piece"
REFERENCE_LENGTH_WHY: Final = "use a piece of 20 mm to 5 m"
REFERENCE_TOOL_MISSING: Final = "Choose what the reference was measured with."
"""A piece of the spool that is weighed and measured: what is asked, and why an answer is refused."""

KNOWN: Final = "The known size"
KNOWN_WHY: Final = "a drill shank, a feeler gauge, or 0 for closed jaws"
READ: Final = "The reading"


def zero_said(days: float | None, off_mm: float) -> str:
    """When the zero of a tool was checked, and what it was off by; None is never."""
    if days is None:
        return "zero not checked yet"
    return f"zero checked {ago(days)}{f', {signed(off_mm, 3)} mm off' if off_mm else ''}"


def no_jaws_said(name: str) -> str:
    """A tool whose zero is not a matter of jaws."""
    return f"{name} has no jaws to close: only a calliper or a micrometer is checked so."
