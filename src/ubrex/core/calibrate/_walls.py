"""Walls of a printed box as they were read, and their mean (rules, section B)."""

from __future__ import annotations

import math
import statistics
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Final

from scipy.special import fdtr, fdtri

from ubrex.core.bead import Bead
from ubrex.core.quantity import Component, Tool, student_quantile

ENVELOPE_MM: Final = 0.02
"""How far jaws may rest on the high spots of wavy layers [mm]; 0 where only one layer is measured (rules, B)."""

USUAL_WALL_STD_MM: Final = 0.015
"""Usual scatter from wall to wall [mm], where too few walls were measured to show their own (rules, B)."""

POOL_BELOW: Final = 0.75
"""Walls whose F statistic lies below this quantile are not told apart: all their readings are pooled (p > 0.25)."""

MOST_A_WALL: Final = 3
"""Places that a wall of a box has: more readings than this are those of a second box."""

SIDES: Final = 4
"""Walls of a box, in the order in which they stand: the first is opposite the third."""

USUAL_SIDE_STD_MM: Final = 0.011
"""Usual scatter of opposite walls of one box, one reading each [mm]; between 0.010 and 0.012 (evidence.md)."""

USUAL_WITHIN_STD_MM: Final = 0.008
"""How much of it is the scatter along one wall [mm]; between 0.006 and 0.010 (evidence.md)."""

USUAL_DOF: Final = 4.0
"""Weight of a usual scatter of walls [degrees of freedom] (evidence.md)."""

SIDES_ALIKE: Final = 0.95
"""The usual scatter counts while that of opposite walls over it is not above this quantile of F (evidence.md)."""

AXES_QUANTILE, AXES_MATTER_MM = 0.995, 0.03
"""Walls along x and y differ where Student's t is beyond this quantile, and by no less than so much: mechanics."""

_CUTS: Final = ((30, 4.8), (20, 5.2), (16, 5.6), (12, 6.4), (10, 7.0), (8, 8.2), (6, 10.8), (5, 19.0))
"""Fewest readings and the cut for them: 99 % of normal samples hold no reading beyond it (rules, B, *outliers*)."""

_MAD_TO_STD: Final = 1.4826


@dataclass(frozen=True, slots=True, kw_only=True)
class WallSample:
    """Readings of the walls of a box [mm], one row a wall, and what was commanded.

    ``spacing_mm``: how far apart lines lie side by side; never assumed. ``excluded``: flat places of readings that are left
    out for a cause. ``foaming``: swelling is meant. ``boxes``: rows are the walls of boxes, four by four as they stand.
    ``sure_by_digit``: no change is applied that hangs on the last digit of one reading (evidence.md).
    """

    readings: tuple[tuple[float, ...], ...]
    bead: Bead
    tool: Tool
    lines: int = 1
    spacing_mm: float | None = None
    envelope_mm: float = ENVELOPE_MM
    excluded: Collection[int] = ()
    foaming: bool = False
    boxes: bool = False
    sure_by_digit: bool = False

    @property
    def walls(self) -> list[list[float]]:
        """Readings that count, by wall; walls without any are left out."""
        found, place = [], 0
        for row in self.readings:
            kept = [value for index, value in enumerate(row, place) if index not in self.excluded]
            place += len(row)
            if kept:
                found.append(kept)
        return found

    @property
    def per_mm(self) -> float:
        """Change of delivered over commanded per mm of wall [1/mm]."""
        return (1 + 1 / self.lines) / 2 / self.bead.solid_mm

    def width_at(self, delivered: float) -> float:
        """What jaws read [mm] on a wall that got so much of what was commanded."""
        return self.expected_mm + (delivered - 1) / self.per_mm + self.envelope_mm / 2

    @property
    def share_doubt(self) -> float:
        """Relative standard uncertainty of how much of its excess a line shows [1]: none of one line."""
        return (1 - 1 / self.lines) / (2 * math.sqrt(2)) / ((1 + 1 / self.lines) / 2)

    @property
    def expected_mm(self) -> float:
        """Width that the lines should make; of one line when their spacing is not known."""
        return self.bead.wall_mm(self.lines, self.spacing_mm or 0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class WallMean:
    """Mean of wall means [mm] with its scatter; components are None where the readings cannot show them.

    ``sides_mm``: how much wider walls along x are than those along y, where that is more than scatter.
    """

    mean_mm: float
    scatter: Component
    within_std_mm: float | None
    between_std_mm: float | None
    pooled: bool
    walls: int
    readings: int
    boxes: bool = False
    sides_mm: float | None = None


def flagged_readings(values: Sequence[float], step_mm: float) -> tuple[int, ...]:
    """Places of readings that lie far from the median of all; never any of fewer than five."""
    cut = next((cut for fewest, cut in _CUTS if len(values) >= fewest), math.inf)
    if math.isinf(cut):
        return ()
    middle = statistics.median(values)
    scale = max(_MAD_TO_STD * statistics.median(abs(value - middle) for value in values), step_mm)
    return tuple(place for place, value in enumerate(values) if abs(value - middle) > cut * scale)


def wall_mean(walls: Sequence[Sequence[float]]) -> WallMean:
    """Mean of the wall means and its scatter, by analysis of variance in two levels.

    Walls that do not differ more than their readings are pooled; one or two walls borrow a usual scatter.
    """
    count, total = len(walls), sum(len(row) for row in walls)
    means = [math.fsum(row) / len(row) for row in walls]
    mean = math.fsum(means) / count
    squares = math.fsum((value - middle) ** 2 for row, middle in zip(walls, means, strict=True) for value in row)
    free = total - count
    within = squares / free if free else None
    per_wall = count / math.fsum(1 / len(row) for row in walls)

    def found(scatter: Component, between: float | None, *, within_std: float | None, pooled: bool = False) -> WallMean:
        return WallMean(
            mean_mm=mean,
            scatter=scatter,
            within_std_mm=within_std,
            between_std_mm=between,
            pooled=pooled,
            walls=count,
            readings=total,
        )

    if count == 1:
        std = math.sqrt(within) if within else USUAL_WALL_STD_MM
        return found(Component(math.hypot(USUAL_WALL_STD_MM, std / math.sqrt(total)), 2.0), None, within_std=std)
    variance = math.fsum((middle - mean) ** 2 for middle in means) / (count - 1)
    share = (within or 0.0) / per_wall
    between = math.sqrt(max(0.0, variance - share))
    within_std = None if within is None else math.sqrt(within)
    if count == 2:
        # One degree of freedom says nothing: a usual scatter of walls with two more is pooled in.
        pooled = (2 * (USUAL_WALL_STD_MM**2 + share) + variance) / 3
        return found(Component(math.sqrt(pooled / 2), 3.0), between, within_std=within_std)
    if within and fdtr(count - 1, free, variance * per_wall / within) < POOL_BELOW:
        both = ((count - 1) * variance * per_wall + squares) / (count - 1 + free)
        scatter = Component(math.sqrt(both / per_wall / count), float(count - 1 + free))
        return found(scatter, between, within_std=within_std, pooled=True)
    return found(Component(math.sqrt(variance / count), count - 1.0), between, within_std=within_std)


def box_mean(walls: Sequence[Sequence[float]]) -> WallMean:
    """Mean of the walls of one or more boxes and its scatter, which only opposite walls show: x and y may differ for good.

    The scatter of opposite walls has two degrees of freedom a box; a usual one with four more is pooled in while an F test
    lets it. Reading along the walls again lowers the part of it that lies along them.
    """
    means = [math.fsum(row) / len(row) for row in walls]
    plain = wall_mean(walls)
    a_wall = len(walls) / math.fsum(1 / len(row) for row in walls)
    free = plain.readings - plain.walls
    along = (USUAL_DOF * USUAL_WITHIN_STD_MM**2 + free * (plain.within_std_mm or 0.0) ** 2) / (USUAL_DOF + free)
    usual = USUAL_SIDE_STD_MM**2 - USUAL_WITHIN_STD_MM**2 + along / a_wall
    pairs = [(means[place], means[place + 2]) for place in range(len(means)) if place % SIDES < SIDES / 2]
    own = math.fsum((first - second) ** 2 for first, second in pairs) / 2 / len(pairs)
    pooled = own <= float(fdtri(len(pairs), USUAL_DOF, SIDES_ALIKE)) * usual
    dof = len(pairs) + (USUAL_DOF if pooled else 0.0)
    variance = (len(pairs) * own + (USUAL_DOF * usual if pooled else 0.0)) / dof
    along_x, along_y = (math.fsum(sum(pair) for pair in pairs[axis::2]) / len(pairs) for axis in (0, 1))
    apart, std = along_x - along_y, math.sqrt(4 * variance / len(means))
    differ = abs(apart) > max(AXES_MATTER_MM, student_quantile(AXES_QUANTILE, dof) * std)
    return WallMean(
        mean_mm=plain.mean_mm,
        scatter=Component(math.sqrt(variance / len(means)), dof),
        within_std_mm=math.sqrt(along),
        between_std_mm=math.sqrt(max(0.0, variance - along / a_wall)),
        pooled=pooled,
        walls=plain.walls,
        readings=plain.readings,
        boxes=True,
        sides_mm=apart if differ else None,
    )
