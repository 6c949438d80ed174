"""Fit ladder: one hole for each gap in a row, and the peg that is tried in them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from ubrex.core.gcode._machine import Volume
from ubrex.core.gcode._moves import Feed, Manner, Pen, Set, SetWhat
from ubrex.core.gcode._strokes import strokes_of, width_of
from ubrex.core.gcode.pieces._piece import (
    KEPT_PIECES,
    Outline,
    Piece,
    Place,
    Plan,
    closed,
    filled,
    layer_heights,
    line_for,
    placed,
)

WALLS: Final = 2
"""Lines of each wall."""

CORNERS: Final = 48
"""Corners of a circle: as far outside as its flats are inside, it stays within 0.005 mm of 8 mm."""

HIGH_MM, FOOT_MM, APART_MM, DIGIT_MM = 8.0, 4.0, 2.0, 5.0
"""How high holes and peg are; how far the foot of the peg goes; between two holes; how tall their numbers are."""

HUNDREDTHS: Final = 100.0
"""Numbers beside the holes are hundredths of a millimetre, to be short."""

Points = list[tuple[float, float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class LadderOptions:
    """Holes for one peg: ``gaps_mm`` are hole minus peg, both sides together. ``own_peg``: it is printed beside them."""

    bore_mm: float
    line_width_mm: float
    layer_mm: float
    first_layer_mm: float
    peg_mm: float
    gaps_mm: tuple[float, ...]
    own_peg: bool = True
    fan_pct: float = 0.0


@lru_cache(maxsize=KEPT_PIECES)
def fit_piece(options: LadderOptions, volume: Volume, manner: Manner) -> Piece:
    """Holes from the tightest on the left, on one layer that closes them below, so that no foot narrows them.

    The peg stands on a foot of one layer to hold it by; its upper end is what is tried.

    Raises
    ------
    OutOfRange
        If line, layer or size do not go with the bore or the bed.
    """
    bead = line_for(options.bore_mm, options.line_width_mm, options.layer_mm)
    first = line_for(options.bore_mm, options.line_width_mm, options.first_layer_mm)
    peg, wall = options.peg_mm, WALLS * bead.solid_mm + bead.width_mm - bead.solid_mm
    pitch = peg + max(options.gaps_mm) + 2 * wall + APART_MM
    long, deep = pitch * len(options.gaps_mm), pitch + DIGIT_MM + APART_MM
    beside = peg + 2 * FOOT_MM + APART_MM if options.own_peg else 0.0
    left, front = placed(volume, long + beside, deep)
    middle_y = front + deep - pitch / 2
    holes = [(left + pitch * (index + 0.5), middle_y, (peg + gap) / 2) for index, gap in enumerate(options.gaps_mm)]
    stands = (left + long + beside - FOOT_MM - peg / 2, middle_y, peg / 2)
    pen = Pen(manner=manner)
    filled(pen, first, left, front, long, deep)
    if options.own_peg:
        side = peg + 2 * FOOT_MM
        filled(pen, first, stands[0] - side / 2, stands[1] - side / 2, side, side)
    signs = [(f"{gap * HUNDREDTHS:.0f}", x) for gap, (x, _, _) in zip(options.gaps_mm, holes, strict=True)]
    written = [
        stroke
        for sign, x in signs
        for stroke in strokes_of(sign, x - width_of(sign, DIGIT_MM) / 2, front + 1, DIGIT_MM)
    ]
    for index, top in enumerate(layer_heights(first.height_mm, bead.height_mm, HIGH_MM)[1:]):
        if index == 0:
            if options.fan_pct > 0:
                pen.moves.append(Set(what=SetWhat.FAN, number=options.fan_pct))
            for stroke in written:
                pen.line(stroke, top, bead, speed=manner.first_speed_mm_s, why=Feed.PRINT)
        for line in range(WALLS - 1, -1, -1):
            inset = bead.width_mm / 2 + line * bead.solid_mm
            for x, y, radius in holes:
                pen.line(_circle(x, y, radius + inset), top, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
            if options.own_peg and stands[2] > inset:
                pen.line(_circle(*stands[:2], stands[2] - inset), top, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
    frame = [(left, front), (left + long, front), (left + long, front + deep), (left, front + deep)]
    outlines = [Outline(points=tuple(closed(frame)), bold=False)]
    outlines += [Outline(points=tuple(_circle(*hole))) for hole in holes]
    outlines += [Outline(points=tuple(stroke), bold=False) for stroke in written]
    if options.own_peg:
        outlines.append(Outline(points=tuple(_circle(*stands))))
    places = tuple(
        Place(name=f"{gap:.2f}", group="hole", x=x, y=y, across=(0.0, 0.0))
        for gap, (x, y, _) in zip(options.gaps_mm, holes, strict=True)
    )
    plan = Plan(outlines=tuple(outlines), places=places, width_mm=long + beside, depth_mm=deep, height_mm=HIGH_MM)
    return Piece(name="Fit ladder", moves=tuple(pen.moves), plan=plan, bead=bead, spacing_mm=bead.solid_mm)


def _circle(x: float, y: float, radius: float) -> Points:
    out = 2 * radius / (1 + math.cos(math.pi / CORNERS))
    turns = [2 * math.pi * index / CORNERS for index in range(CORNERS)]
    return closed([(x + out * math.cos(turn), y + out * math.sin(turn)) for turn in turns])
