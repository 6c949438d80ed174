"""Typed text into a reading, and the questions to ask before it is taken."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Final, Literal, TypeAlias

from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity._tools import Unit

_UNIT: Final = r"(?:[a-z%\N{DEGREE SIGN}\N{QUOTATION MARK}][a-z3\N{SUPERSCRIPT THREE}/]*)?"

_ENTRY: Final = re.compile(
    r"(?P<number>[+\-\N{MINUS SIGN}]?(?:\d+[.,]?\d*|[.,]\d+))\s*(?P<unit>" + _UNIT + ")",
    re.I,
)

PER_UNIT: Final = {
    Unit.MM: {"": 1.0, "mm": 1.0, "cm": 10.0, "in": 25.4, '"': 25.4},
    Unit.G: {"": 1.0, "g": 1.0, "mg": 0.001, "kg": 1000.0},
    Unit.CELSIUS: {"": 1.0, "c": 1.0, "°c": 1.0, "°": 1.0, "f": 5 / 9, "°f": 5 / 9},
    Unit.PERCENT: {"": 1.0, "%": 1.0},
    Unit.MM_PER_S: {"": 1.0, "mm/s": 1.0, "mm/min": 1 / 60},
    Unit.MM3_PER_S: {"": 1.0, "mm3/s": 1.0, "mm³/s": 1.0},
    Unit.SECONDS: {"": 1.0, "s": 1.0, "ms": 0.001},
    Unit.HOURS: {"": 1.0, "h": 1.0, "min": 1 / 60},
    Unit.RATING: {"": 1.0},
    Unit.COUNT: {"": 1.0},
}
"""Unit text that may be typed behind a number, and what one of it is in the unit kept (exact by definition)."""

FAHRENHEIT_ZERO: Final = 32.0
"""What a Fahrenheit scale reads at 0 °C (exact by definition)."""

SLIP_POWERS: Final = (10.0, 100.0, 1000.0, 0.1, 0.01, 0.001)
"""Factors of a slipped decimal point, nearest first."""

SLIP_LOOKS_RIGHT: Final = 0.10
"""A slip is offered only when the shifted reading comes this near (relative) to what was commanded."""

LOOKS_WRONG: Final = 0.20
"""Farther than this (relative) from what was commanded, a reading is asked about: no wear or slip does that (rules, A)."""

IMPOSSIBLE_FACTOR: Final = 5.0
"""Past this factor a length is no feed at all: a wrong microstep or gear setting gives at most a factor of 4."""


SAME: Final = "="
"""What is typed where a machine says the very number that is shown beside the field."""


def parse_entry(text: str, unit: Unit) -> float:
    """Number in ``unit`` that ``text`` says; a comma is a decimal mark, a unit behind the number is understood.

    Raises
    ------
    UnreadableEntry
        If the text is empty, is no number, or carries a unit that does not belong here.

    Examples
    --------
    >>> parse_entry("98,4", Unit.MM), parse_entry("4 in", Unit.MM), parse_entry("410 °F", Unit.CELSIUS)
    (98.4, 101.6, 210.0)
    """
    shown = text.strip()
    if not shown:
        raise UnreadableEntry("nothing was typed", text=text)
    match = _ENTRY.fullmatch(shown)
    if match is None:
        raise UnreadableEntry("that is not a number", text=text)
    behind = match["unit"].lower()
    factor = PER_UNIT.get(unit, {"": 1.0}).get(behind)
    if factor is None:
        raise UnreadableEntry(f"{match['unit']} is not a unit for a reading in {unit}", text=text)
    zero = FAHRENHEIT_ZERO if behind.endswith("f") else 0.0
    number = float(match["number"].replace(",", ".").replace("\N{MINUS SIGN}", "-"))
    return round((number - zero) * factor, 9)


@dataclass(frozen=True, slots=True, kw_only=True)
class Slip:
    """The decimal point seems to have slipped: ``suggested`` is what was probably meant."""

    code: Literal["unit_slip"] = "unit_slip"
    suggested: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Impossible:
    """A reading that cannot be true of this method: outside ``low`` <= reading < ``high``."""

    code: Literal["impossible"] = "impossible"
    low: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FarOff:
    """A reading that can be true only if something else is wrong: ``error`` is relative to what was commanded."""

    code: Literal["far_off"] = "far_off"
    error: float


EntryFinding: TypeAlias = Slip | Impossible | FarOff


def check_entry(
    value: float, *, fed: Callable[[float], float], commanded: float, low: float, high: float
) -> EntryFinding | None:
    """Question to ask about a typed reading before it is taken; None if it looks right.

    Parameters
    ----------
    value
        What was typed, in the unit of the reading.
    fed
        Turns a reading into the quantity that was commanded.
    commanded
        That quantity as commanded, > 0.
    low, high
        Readings that are possible at all with this method; ``high`` itself is not.

    Notes
    -----
    In this order: slip, impossible, far off. A slip is asked about first, because the answer is one key.
    """

    def error(reading: float) -> float:
        return fed(reading) / commanded - 1

    if math.isfinite(value) and low <= value < high and abs(error(value)) <= LOOKS_WRONG:
        return None
    for power in SLIP_POWERS:
        shifted = round(value * power, 9)
        if low <= shifted < high and abs(error(shifted)) <= SLIP_LOOKS_RIGHT:
            return Slip(suggested=shifted)
    if not low <= value < high:
        return Impossible(low=low, high=high)
    return FarOff(error=error(value))
