"""The one model of a printed line: what is commanded and what is expected to be measured are worked out from it.

A line is a stadium: flat above and below, its sides half circles (rules, section B). Lengths in mm, areas in mm2.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from ubrex.core.errors import OutOfRange

ROUNDING: Final = 1 - math.pi / 4
"""What the round sides of a line take off its width, per unit of height [1]."""

NARROWEST, WIDEST = 0.9, 1.25
"""Line widths that a bore can be asked for, as shares of it (job, chain row 5)."""

USUAL_NARROWEST: Final = 1.05
"""From this share of the bore up to ``WIDEST`` it presses its line down well (job, chain row 5)."""

USUAL_LINE, USUAL_LAYER = 1.05, 0.5
"""Line width and layer height where nobody chose any, as shares of the bore (job, chain row 5)."""

LEAST_LINE, MOST_LINE = 0.75, 2.0
"""Beyond these shares of the bore no line is laid at all: a slip (job, chain row 5)."""

THINNEST, THICKEST = 0.15, 0.8
"""Layers that a bore presses down, as shares of it: the first one too (job, chain row 5)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Bead:
    """Cross-section of a line of ``width_mm``, ``height_mm`` high; no narrower than it is high.

    Raises
    ------
    OutOfRange
        If a size is not above 0, or the line is narrower than its layer is high.
    """

    width_mm: float
    height_mm: float

    def __post_init__(self) -> None:
        for name, value in (("width_mm", self.width_mm), ("height_mm", self.height_mm)):
            if not (math.isfinite(value) and value > 0):
                raise OutOfRange(f"{name} must be above 0", name=name, value=value)
        if self.width_mm < self.height_mm:
            raise OutOfRange("a line is at least as wide as its layer is high", name="width_mm", value=self.width_mm)

    @property
    def deficit_mm(self) -> float:
        """What the round sides take off the width."""
        return ROUNDING * self.height_mm

    @property
    def solid_mm(self) -> float:
        """Width of the rectangle of the same height and area: how far apart lines lie that just fill the plane."""
        return self.width_mm - self.deficit_mm

    @property
    def area_mm2(self) -> float:
        """Area, and so the volume [mm3] in each mm of line."""
        return self.height_mm * self.solid_mm

    def wall_mm(self, lines: int, spacing_mm: float) -> float:
        """Width of a wall of ``lines`` side by side, ``spacing_mm`` apart."""
        return (lines - 1) * spacing_mm + self.width_mm


def bead_or_none(width_mm: float | None, height_mm: float | None) -> Bead | None:
    """The line of a width and a height, both in mm; None where one is not known, or they make no line."""
    if width_mm is None or height_mm is None:
        return None
    try:
        return Bead(width_mm=width_mm, height_mm=height_mm)
    except OutOfRange:
        return None


@dataclass(frozen=True, slots=True, kw_only=True)
class Layers:
    """Layers of a print: the first ``first_mm`` high, all others ``each_mm``; numbered from 1."""

    first_mm: float
    each_mm: float

    def top_mm(self, layer: int) -> float:
        """Height at which a layer ends."""
        return self.first_mm + (layer - 1) * self.each_mm

    def reaching(self, height_mm: float) -> int:
        """The first layer that ends at a height or above it: from where on a slicing program changes something."""
        return max(1, 1 + math.ceil((height_mm - self.first_mm) / self.each_mm - 1e-9))

    def nearest(self, height_mm: float) -> int:
        """The layer that ends nearest to a height, as one that was measured on a piece that was stopped."""
        return max(1, 1 + round((height_mm - self.first_mm) / self.each_mm))


def time_with_s(seconds: float, was: Bead, becomes: Bead, *, speed_mm_s: float, cap_mm3_s: float | None) -> float:
    """Time [s] of a print with other lines: as many mm3 through another cross-section, until the hotend lags behind.

    Where lines are laid at ``speed_mm_s``, time goes with 1 / area; nothing is faster than ``cap_mm3_s`` (section B; job,
    chain row 12). Travels and short lines take their own time, so a real print gains less.

    Raises
    ------
    OutOfRange
        If a time, speed or cap is not above 0.
    """
    for name, value in (("seconds", seconds), ("speed_mm_s", speed_mm_s), ("cap_mm3_s", cap_mm3_s)):
        if value is not None and not (math.isfinite(value) and value > 0):
            raise OutOfRange(f"{name} must be above 0", name=name, value=value)
    cap = math.inf if cap_mm3_s is None else cap_mm3_s
    return seconds * min(was.area_mm2 * speed_mm_s, cap) / min(becomes.area_mm2 * speed_mm_s, cap)


def usual_line_mm(bore_mm: float) -> float:
    """Line width [mm] where nobody chose one: that share of the bore, as it is typed."""
    return round(bore_mm * USUAL_LINE, 2)


def usual_layer_mm(bore_mm: float) -> float:
    """Layer height [mm] where nobody chose one: that share of the bore, as it is typed."""
    return round(bore_mm * USUAL_LAYER, 2)
