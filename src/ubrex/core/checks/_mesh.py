"""A mesh of the bed: how much of it is tilt, how much a bowl, and what is left (E)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

MOST_TILT_MM, MOST_BOWL_MM, MOST_REST_MM = 0.08, 0.2, 0.1
"""A bed that tilts by more is levelled first; a deeper bowl, or points farther off the shape, are faults [mm] (E)."""

FEWEST_EACH_WAY: Final = 3
"""Points along each side from which a bowl can be told from a tilt."""


@dataclass(frozen=True, slots=True, kw_only=True)
class MeshShape:
    """Tilt from left to right and from front to back, depth of the bowl (above 0: the middle is high), largest rest [mm]."""

    verdict: str
    reason: str
    tilt_x_mm: float | None = None
    tilt_y_mm: float | None = None
    bowl_mm: float | None = None
    rest_mm: float | None = None
    worst: tuple[int, int] | None = None
    range_mm: float | None = None


def mesh_shape(rows_mm: Sequence[Sequence[float]]) -> MeshShape:
    """What a mesh is made of: heights at even points, the front row first, each from left to right.

    Least squares of a plane and a bowl; the bowl is how much higher the middle is than the corners. Method:
    docs/methods/machine-checks.md.
    """
    wide = {len(row) for row in rows_mm}
    if len(rows_mm) < FEWEST_EACH_WAY or len(wide) != 1 or wide.pop() < FEWEST_EACH_WAY:
        return MeshShape(verdict="refuse", reason="three_points_each_way")
    heights = np.asarray(rows_mm, float)
    down, across = heights.shape
    y, x = np.meshgrid(np.linspace(-0.5, 0.5, down), np.linspace(-0.5, 0.5, across), indexing="ij")
    hollow = 1 - 2 * (x**2 + y**2)
    columns = np.stack([np.ones(x.size), x.ravel(), y.ravel(), hollow.ravel()], axis=1)
    shape = np.linalg.lstsq(columns, heights.ravel(), rcond=None)[0]
    _, tilt_x, tilt_y, bowl = shape
    rest = (heights.ravel() - columns @ shape).reshape(heights.shape)
    place = np.unravel_index(int(np.argmax(np.abs(rest))), rest.shape)
    found = MeshShape(
        verdict="even", reason="within_all", tilt_x_mm=float(tilt_x), tilt_y_mm=float(tilt_y), bowl_mm=float(bowl),
        rest_mm=float(rest[place]), worst=(int(place[0]), int(place[1])), range_mm=float(np.ptp(heights)),
    )  # fmt: skip
    if abs(float(rest[place])) > MOST_REST_MM:
        return replace(found, verdict="uneven", reason="a_point_off_the_shape")
    if abs(float(tilt_x)) + abs(float(tilt_y)) > MOST_TILT_MM:
        return replace(found, verdict="level_first", reason="tilted")
    if abs(float(bowl)) > MOST_BOWL_MM:
        return replace(found, verdict="bent", reason="bowl")
    return found
