"""Units at the border, and what a measuring tool is worth."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.errors import OutOfRange

RECTANGULAR_HALF: Final = 1 / math.sqrt(3)
"""Standard uncertainty per half-width of a range in which any value is as likely (GUM, 4.3.7)."""

RECTANGULAR_STEP: Final = 1 / math.sqrt(12)
"""Standard uncertainty per display step (GUM, F.2.2.1)."""


class Unit(StrEnum):
    """Units a value or a reading may carry; the text is what the API sends."""

    MM = "mm"
    G = "g"
    STEPS_PER_MM = "steps/mm"
    MM_PER_TURN = "mm/turn"
    CELSIUS = "°C"
    PERCENT = "%"
    MM_PER_S = "mm/s"
    MM3_PER_S = "mm³/s"
    SECONDS = "s"
    HOURS = "h"
    RATING = "rating"
    COUNT = "count"


class ToolKind(StrEnum):
    """Instruments a workshop measures with."""

    CALLIPER = "calliper"
    MICROMETER = "micrometer"
    RULER = "ruler"
    SCALE = "scale"
    THERMOMETER = "thermometer"
    EYES = "eyes"

    @property
    def unit(self) -> Unit:
        """What the instrument reads in."""
        units = {ToolKind.SCALE: Unit.G, ToolKind.THERMOMETER: Unit.CELSIUS, ToolKind.EYES: Unit.RATING}
        return units.get(self, Unit.MM)


@dataclass(frozen=True, slots=True, kw_only=True)
class Tool:
    """What an instrument can be trusted with: one digit and the maker's limit, both in its unit.

    ``resolution`` > 0; ``max_permissible_error`` >= 0, symmetric (±).
    """

    resolution: float
    max_permissible_error: float

    def __post_init__(self) -> None:
        if not (math.isfinite(self.resolution) and self.resolution > 0):
            raise OutOfRange("the step of a tool must be above 0", name="resolution", value=self.resolution)
        if not (math.isfinite(self.max_permissible_error) and self.max_permissible_error >= 0):
            raise OutOfRange(
                "the permissible error of a tool cannot be negative",
                name="max_permissible_error",
                value=self.max_permissible_error,
            )

    @property
    def std(self) -> float:
        """Standard uncertainty of one reading of one place: limit and digit, both rectangular (GUM, 4.3.7)."""
        return math.hypot(self.max_permissible_error * RECTANGULAR_HALF, self.resolution * RECTANGULAR_STEP)

    @property
    def std_of_difference(self) -> float:
        """Standard uncertainty of a difference of two readings near each other: the limit counts once, the digit twice."""
        return math.hypot(
            self.max_permissible_error * RECTANGULAR_HALF, math.sqrt(2) * self.resolution * RECTANGULAR_STEP
        )


ZERO_CHECKED_ERROR_MM: Final = 0.01
"""Permissible error of jaws on thin sizes once they were closed and read: there only the zero matters (rules, B)."""

KNOWN_SIZE_ERROR_MM: Final = 0.005
"""How far a drill shank or a feeler gauge may be from the size on it [mm] (E)."""

MOST_ZERO_MM: Final = 0.2
"""A closed tool that reads more than this [mm] is not closed, or broken (rules, B: zero checks)."""

ZERO_HOLDS_HOURS: Final = 12.0
"""A zero that was checked counts for the evening, and for nothing that was read before (evidence.md)."""


def zero_error(known_mm: float, tool: Tool) -> float:
    """Permissible error [mm] of a tool on thin sizes after it was read on a known one; 0 for closed jaws.

    A known size also shows whether the jaws are square: its own limit and one digit are all that is left.
    """
    if known_mm == 0:
        return min(tool.max_permissible_error, ZERO_CHECKED_ERROR_MM)
    known = math.hypot(KNOWN_SIZE_ERROR_MM * RECTANGULAR_HALF, tool.resolution * RECTANGULAR_STEP)
    return min(tool.max_permissible_error, known / RECTANGULAR_HALF)


USUAL_STEP: Final[Mapping[ToolKind, float]] = {
    ToolKind.CALLIPER: 0.01,
    ToolKind.MICROMETER: 0.001,
    ToolKind.RULER: 0.5,
    ToolKind.SCALE: 0.01,
    ToolKind.THERMOMETER: 0.1,
}
"""Step of a usual tool of its kind, in its unit (rules, section 0)."""

USUAL_ERROR_STEPS: Final[Mapping[ToolKind, float]] = {
    ToolKind.CALLIPER: 3.0,
    ToolKind.MICROMETER: 4.0,
    ToolKind.RULER: 1.0,
    ToolKind.SCALE: 2.0,
    ToolKind.THERMOMETER: 20.0,
    ToolKind.EYES: 1.0,
}
"""Permissible error in steps where the maker says none: usual for hobby tools (rules, section 0); the one typed wins."""

MOST_ERROR: Final = 10.0
"""Largest permissible error of any tool, in its unit."""


def usual_error(kind: ToolKind, resolution: float) -> float | None:
    """Permissible error of a tool whose maker states none, in its unit; None where its step is too coarse for any."""
    error = USUAL_ERROR_STEPS[kind] * resolution
    return error if error <= MOST_ERROR else None
