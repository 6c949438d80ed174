"""Numbers, units, dates and ages as people read them."""

from __future__ import annotations

from datetime import datetime
from typing import Final

from ubrex.core.quantity import Unit, decimal_text, half_width_places

NBSP: Final = "\N{NO-BREAK SPACE}"
DASH: Final = "\N{EN DASH}"
SHORTEST_SHOWN: Final = 4

_UNIT_TEXT: Final = {
    Unit.MM: "mm",
    Unit.G: "g",
    Unit.STEPS_PER_MM: "steps/mm",
    Unit.MM_PER_TURN: "mm per turn",
    Unit.CELSIUS: "°C",
    Unit.PERCENT: "%",
    Unit.MM_PER_S: "mm/s",
    Unit.MM3_PER_S: "mm³/s",
    Unit.SECONDS: "s",
    Unit.HOURS: "h",
    Unit.RATING: "",
    Unit.COUNT: "",
}


def unit_text(unit: str) -> str:
    """A unit in words."""
    return _UNIT_TEXT[Unit(unit)]


def plus_minus(half_width: float) -> str:
    """A 95 % half-width: one digit, two when the first is 1."""
    return f"±{NBSP}{decimal_text(half_width, half_width_places(half_width))}"


def signed(value: float, places: int) -> str:
    """A difference with its sign."""
    text = decimal_text(value, places)
    return text if text.startswith("\N{MINUS SIGN}") or float(text) == 0 else f"+{text}"


def step_places(step: float) -> int:
    """Decimals an instrument shows, from its step."""
    return max(0, min(SHORTEST_SHOWN, len(f"{step:.4f}".rstrip("0").partition(".")[2])))


def plain(value: float) -> str:
    """A number as it would be typed, without trailing zeros."""
    return f"{value:.6f}".rstrip("0").rstrip(".")


def percent(value: float, places: int = 1) -> str:
    """A percentage."""
    return f"{decimal_text(value, places)}{NBSP}%"


def day(moment: datetime) -> str:
    """A date as on the bench: 5 Nov 2026."""
    return f"{moment.day}{NBSP}{moment:%b}{NBSP}{moment.year}"


def age(days: float) -> str:
    r"""An age in the unit a person would use.

    >>> age(0.2), age(1.4), age(196)
    ('today', 'yesterday', '196\xa0days')
    """
    whole = int(days)
    if whole < 1:
        return "today"
    return "yesterday" if whole == 1 else f"{whole}{NBSP}days"


def ago(days: float) -> str:
    """An age inside a sentence."""
    text = age(days)
    return text if text in {"today", "yesterday"} else f"{text} ago"
