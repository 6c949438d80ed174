"""Fit ladder: one hole for each gap in a row, and the peg that is tried in them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Final

from ubrex.core.gcode._machine import Volume
from ubrex.core.gcode._moves import Feed, Manner, Pen, Set, SetWhat
from ubrex.core.gcode._strokes import strokes_of, width_of
from ubrex.core.gcode.pieces._box import Body
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

PLATE_MM, BAR_MM = 0.8, 0.9
"""As bodies: how thick the strip with the numbers is, and how far they stand out of it; how wide their strokes are."""

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
    # The gap across the whole peg, not on each side of it.
    signs = [(f"{gap * HUNDREDTHS:.0f}", x) for gap, (x, _, _) in zip(options.gaps_mm, holes, strict=True)]
    written = [
        stroke
        for sign, x in signs
        for stroke in strokes_of(sign, x - width_of(sign, DIGIT_MM) / 2, front + 1, DIGIT_MM)
    ]
    # The first layer was filled above: it closes the holes.
    for index, top in enumerate(layer_heights(first.height_mm, bead.height_mm, HIGH_MM)[1:]):
        if index == 0:
            if options.fan_pct > 0:
                pen.moves.append(Set(what=SetWhat.FAN, number=options.fan_pct))
            for stroke in written:
                pen.line(stroke, top, bead, speed=manner.first_speed_mm_s, why=Feed.PRINT)
        # From the outside in for a hole: the line at its edge is laid last, against those that hold it.
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Slab:
    """Convex polygons [mm], anticlockwise, that share their corners and leave holes; pulled up so high [mm] from the bed."""

    polygons: tuple[tuple[tuple[float, float], ...], ...]
    height_mm: float


def fit_bodies(options: LadderOptions) -> tuple[Slab, list[Body]]:
    """The ladder as solid bodies from the origin, for a program that slices it: holes, what closes them, numbers, peg."""
    peg, wall = options.peg_mm, WALLS * options.line_width_mm
    pitch, low = peg + max(options.gaps_mm) + 2 * wall + APART_MM, options.first_layer_mm
    front, long = DIGIT_MM + APART_MM, pitch * len(options.gaps_mm)
    middle_y, polygons, bodies = front + pitch / 2, [], [_block(0.0, 0.0, long, front + pitch, low)]
    bodies.append(_block(0.0, 0.0, long, front, low + PLATE_MM))
    for index, gap in enumerate(options.gaps_mm):
        x = pitch * (index + 0.5)
        hole = _circle(x, middle_y, (peg + gap) / 2)[:-1]
        rim = [_on_square(x, middle_y, pitch / 2, 2 * math.pi * place / CORNERS) for place in range(CORNERS)]
        for place in range(CORNERS):
            after = (place + 1) % CORNERS
            polygons.append((hole[place], rim[place], rim[after], hole[after]))
        sign = f"{gap * HUNDREDTHS:.0f}"
        for stroke in strokes_of(sign, x - width_of(sign, DIGIT_MM) / 2, 1.0, DIGIT_MM):
            bodies += [_bar(one, other, low + 2 * PLATE_MM) for one, other in pairwise(stroke)]
    if options.own_peg:
        at = (long + APART_MM + FOOT_MM + peg / 2, middle_y)
        side = peg + 2 * FOOT_MM
        bodies.append(_block(at[0] - side / 2, at[1] - side / 2, side, side, low))
        bodies.append(Body(outline=tuple(_circle(*at, peg / 2)[:-1]), height_mm=HIGH_MM))
    return Slab(polygons=tuple(polygons), height_mm=HIGH_MM), bodies


def _block(x: float, y: float, width: float, depth: float, height_mm: float) -> Body:
    return Body(outline=((x, y), (x + width, y), (x + width, y + depth), (x, y + depth)), height_mm=height_mm)


def _bar(one: tuple[float, float], other: tuple[float, float], height_mm: float) -> Body:
    """A stroke of a number as a bar."""
    length = math.dist(one, other)
    x, y = ((other[axis] - one[axis]) / length * BAR_MM / 2 for axis in (0, 1))
    (x0, y0), (x1, y1) = (one[0] - x, one[1] - y), (other[0] + x, other[1] + y)
    return Body(outline=((x0 + y, y0 - x), (x1 + y, y1 - x), (x1 - y, y1 + x), (x0 - y, y0 + x)), height_mm=height_mm)


def _on_square(x: float, y: float, half: float, turn: float) -> tuple[float, float]:
    """Where a ray from its middle leaves a square."""
    across, along = math.cos(turn), math.sin(turn)
    far = half / max(abs(across), abs(along))
    return x + far * across, y + far * along


def _circle(x: float, y: float, radius: float) -> Points:
    out = 2 * radius / (1 + math.cos(math.pi / CORNERS))
    turns = [2 * math.pi * index / CORNERS for index in range(CORNERS)]
    return closed([(x + out * math.cos(turn), y + out * math.sin(turn)) for turn in turns])
