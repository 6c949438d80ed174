"""Support ladder: bays under one roof, each with a support that ends a little lower than the one before."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Final

from ubrex.core.bead import Bead
from ubrex.core.gcode._machine import Volume
from ubrex.core.gcode._moves import Feed, Manner, Pen, Set, SetWhat
from ubrex.core.gcode._strokes import strokes_of, width_of
from ubrex.core.gcode.pieces._piece import (
    KEPT_PIECES,
    Outline,
    Piece,
    Place,
    Plan,
    back_and_forth,
    closed,
    layer_heights,
    line_for,
    placed,
)

BAY_MM, DEEP_MM, UNDER_MM = 12.0, 14.0, 6.0
"""A bay: how wide and deep, and how high its roof begins: room to see its underside (E)."""

WALLS, ROOF_LAYERS = 4, 3
"""Lines of a wall; layers of the roof."""

SPACING_MM, CLEAR_MM = 2.0, 0.8
"""Between two lines of a support, and between it and a wall: it touches the roof alone (E)."""

DIGIT_MM: Final = 4.0
HUNDREDTHS: Final = 100.0
"""Numbers on the roof are hundredths of a millimetre, to be short."""

Points = list[tuple[float, float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class SupportOptions:
    """Bays under one roof; ``layers``: how many layers the support of each ends below it, tightest first."""

    bore_mm: float
    line_width_mm: float
    layer_mm: float
    first_layer_mm: float
    layers: tuple[int, ...]
    fan_pct: float = 0.0


@lru_cache(maxsize=KEPT_PIECES)
def support_piece(options: SupportOptions, volume: Volume, manner: Manner) -> Piece:
    """Ribs and a back wall that carry one roof; in each bay a zigzag that stands on the bed and has no line round it.

    The bays are open in front and below, so that what holds a support is the roof alone.

    Raises
    ------
    OutOfRange
        If line, layer or size do not go with the bore or the bed.
    """
    bead = line_for(options.bore_mm, options.line_width_mm, options.layer_mm)
    first = line_for(options.bore_mm, options.line_width_mm, options.first_layer_mm)
    rib = (WALLS - 1) * bead.solid_mm + bead.width_mm
    pitch = BAY_MM + rib
    wide, deep = pitch * len(options.layers) + rib, DEEP_MM + rib
    left, front = placed(volume, wide, deep)
    bays = [left + rib + pitch * index for index in range(len(options.layers))]
    stands = [_zigzag(x + CLEAR_MM, front, BAY_MM - 2 * CLEAR_MM, DEEP_MM - CLEAR_MM, bead) for x in bays]
    tops = layer_heights(first.height_mm, bead.height_mm, UNDER_MM)
    pen = Pen(manner=manner)
    # A support ends so many layers below the roof: what differs from bay to bay is only that.
    for number, top in enumerate(tops):
        line, speed = (first, manner.first_speed_mm_s) if number == 0 else (bead, manner.speed_mm_s)
        if number == 1 and options.fan_pct > 0:
            pen.moves.append(Set(what=SetWhat.FAN, number=options.fan_pct))
        pen.line(back_and_forth(bead, left, front + DEEP_MM, wide, rib), top, line, speed=speed, why=Feed.PRINT)
        for x in (left, *(bay + BAY_MM for bay in bays)):
            upright = _turned(back_and_forth(bead, front, x, DEEP_MM, rib))
            pen.line(upright, top, line, speed=speed, why=Feed.PRINT)
        for stand, below in zip(stands, options.layers, strict=True):
            if number < len(tops) - below:
                pen.line(stand, top, line, speed=speed, why=Feed.PRINT)
    top = tops[-1]
    for layer in range(ROOF_LAYERS):
        top = round(top + bead.height_mm, 4)
        # From rib to rib first: its lines hang on the walls also where a support is far below.
        lines = (
            back_and_forth(bead, left, front, wide, deep)
            if layer % 2 == 0
            else _turned(back_and_forth(bead, front, left, deep, wide))
        )
        pen.line(lines, top, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
    # On the roof above each bay: how far below it the support ends, in hundredths of a millimetre.
    written = []
    for below, x in zip(options.layers, bays, strict=True):
        sign = f"{below * bead.height_mm * HUNDREDTHS:.0f}"
        at = x + (BAY_MM - width_of(sign, DIGIT_MM)) / 2
        written += strokes_of(sign, at, front + (DEEP_MM - DIGIT_MM) / 2, DIGIT_MM)
    top = round(top + bead.height_mm, 4)
    for stroke in written:
        pen.line(stroke, top, bead, speed=manner.first_speed_mm_s, why=Feed.PRINT)
    frame = [(left, front), (left + wide, front), (left + wide, front + deep), (left, front + deep)]
    outlines = [Outline(points=tuple(closed(frame)))]
    ribs = [[(x + at, front), (x + at, front + DEEP_MM)] for x in bays for at in (0.0, BAY_MM)]
    outlines += [Outline(points=tuple(points), bold=False) for points in (*ribs, *written)]
    places = tuple(
        Place(name=f"{below * bead.height_mm:.2f}", group="bay", x=x + BAY_MM / 2, y=front, across=(0.0, 0.0))
        for below, x in zip(options.layers, bays, strict=True)
    )
    plan = Plan(outlines=tuple(outlines), places=places, width_mm=wide, depth_mm=deep, height_mm=top)
    return Piece(name="Support ladder", moves=tuple(pen.moves), plan=plan, bead=bead, spacing_mm=bead.solid_mm)


def _turned(points: Points) -> Points:
    """The same with its sides changed over: back and forth becomes up and down."""
    return [(y, x) for x, y in points]


def _zigzag(x: float, y: float, width: float, depth: float, bead: Bead) -> Points:
    """Lines from front to back, joined at their ends, the middle of each line inside."""
    count = int((width - bead.width_mm) / SPACING_MM) + 1
    starts = x + (width - (count - 1) * SPACING_MM) / 2
    near, far = y + bead.width_mm / 2, y + depth - bead.width_mm / 2
    columns = [
        [(starts + SPACING_MM * index, end) for end in ((near, far) if index % 2 == 0 else (far, near))]
        for index in range(count)
    ]
    return [columns[0][0], *(point for one, after in pairwise(columns) for point in (one[1], after[0])), columns[-1][1]]
