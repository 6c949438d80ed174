"""Size piece: outer and inner sizes along one axis on one piece, from 20 to 120 mm."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from ubrex.core.gcode._machine import Volume
from ubrex.core.gcode._moves import Feed, Manner, Pen, Set, SetWhat
from ubrex.core.gcode.pieces._piece import (
    KEPT_PIECES,
    Outline,
    Piece,
    Place,
    Plan,
    closed,
    layer_heights,
    line_for,
    placed,
)

OUTER_MM: Final = (120.0, 80.0, 40.0, 20.0)
"""Outer sizes, from the front step to the back one: far enough apart to tell scale from offset."""

INNER_MM: Final = (40.0, 20.0, 12.0)
"""Windows in the front step."""

STEP_MM, FRONT_MM, WINDOW_MM, HIGH_MM = 12.0, 20.0, 10.0, 6.0
"""Depth of a step and of the front one, depth of a window, and how high the piece is."""

APART_MM: Final = 10.0
"""Between windows, and at both ends."""

WALLS: Final = 2
"""Lines of each wall."""

Points = list[tuple[float, float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class SizeOptions:
    """A size piece to print; ``axis``: x lies as drawn, y is turned by a quarter."""

    bore_mm: float
    line_width_mm: float
    layer_mm: float
    first_layer_mm: float
    axis: str = "x"
    fan_pct: float = 0.0


def size_places() -> tuple[str, ...]:
    """What is measured, the longest first: o and its outer size, i and its inner one."""
    return (*(f"o{size:g}" for size in OUTER_MM), *(f"i{size:g}" for size in INNER_MM))


@lru_cache(maxsize=KEPT_PIECES)
def size_piece(options: SizeOptions, volume: Volume, manner: Manner) -> Piece:
    """Stairs of four outer sizes with three windows in the lowest, as walls of two lines.

    Raises
    ------
    OutOfRange
        If line, layer or size do not go with the bore or the bed.
    """
    bead = line_for(options.bore_mm, options.line_width_mm, options.layer_mm)
    first = line_for(options.bore_mm, options.line_width_mm, options.first_layer_mm)
    long, deep = OUTER_MM[0], FRONT_MM + STEP_MM * (len(OUTER_MM) - 1)
    turned = options.axis == "y"
    left, front = placed(volume, *((deep, long) if turned else (long, deep)))

    def put(points: Points) -> Points:
        """Points of the drawing where they are printed; turned by a quarter for the other axis."""
        return [(left + (deep - y if turned else x), front + (x if turned else y)) for x, y in points]

    pen = Pen(manner=manner)
    for index, top in enumerate(layer_heights(first.height_mm, bead.height_mm, HIGH_MM)):
        used, speed = (first, manner.first_speed_mm_s) if index == 0 else (bead, manner.speed_mm_s)
        if index == 1 and options.fan_pct > 0:
            pen.moves.append(Set(what=SetWhat.FAN, number=options.fan_pct))
        # From the inside out: the line that jaws touch leans on one that is there.
        for line in range(WALLS - 1, -1, -1):
            inset = used.width_mm / 2 + line * used.solid_mm
            pen.line(put(closed(_stairs(inset))), top, used, speed=speed, why=Feed.PRINT)
            for window in _windows(inset):
                pen.line(put(closed(window)), top, used, speed=speed, why=Feed.PRINT)
    outlines = [Outline(points=tuple(put(closed(_stairs(0.0)))))]
    outlines += [Outline(points=tuple(put(closed(window)))) for window in _windows(0.0)]
    # Jaws close along the axis that is measured; the lowest stair is touched in front of its windows.
    along = (0.0, 1.0) if turned else (1.0, 0.0)
    places = [
        Place(name=f"{size:g}", group="outer", x=at[0], y=at[1], across=along)
        for row, size in enumerate(OUTER_MM)
        for at in put([(long / 2, _row_y(row) + (2.0 if row == 0 else STEP_MM / 2))])
    ]
    places += [
        Place(name=f"{size:g}", group="inner", x=at[0], y=at[1], across=along)
        for size, window in zip(INNER_MM, _windows(0.0), strict=True)
        for at in put([((window[0][0] + window[1][0]) / 2, FRONT_MM / 2)])
    ]
    width, depth = (deep, long) if turned else (long, deep)
    plan = Plan(outlines=tuple(outlines), places=tuple(places), width_mm=width, depth_mm=depth, height_mm=HIGH_MM)
    return Piece(name="Size piece", moves=tuple(pen.moves), plan=plan, bead=bead, spacing_mm=bead.solid_mm)


def _row_y(row: int) -> float:
    """Where a step begins, from the front."""
    return 0.0 if row == 0 else FRONT_MM + (row - 1) * STEP_MM


def _stairs(inset: float) -> Points:
    """The outside, its line so far inside the surface, anticlockwise from the front left."""
    middle = OUTER_MM[0] / 2
    right: Points = []
    for row, size in enumerate(OUTER_MM):
        low = _row_y(row) + (inset if row == 0 else -inset)
        high = _row_y(row + 1) - inset
        right += [(middle + size / 2 - inset, low), (middle + size / 2 - inset, high)]
    return [*right, *((2 * middle - x, y) for x, y in reversed(right))]


def _windows(inset: float) -> list[Points]:
    """The windows, their lines so far outside the opening."""
    found, x = [], (OUTER_MM[0] - sum(INNER_MM) - APART_MM * (len(INNER_MM) - 1)) / 2
    low, high = (FRONT_MM - WINDOW_MM) / 2 - inset, (FRONT_MM + WINDOW_MM) / 2 + inset
    for size in INNER_MM:
        found.append([(x - inset, low), (x + size + inset, low), (x + size + inset, high), (x - inset, high)])
        x += size + APART_MM
    return found
