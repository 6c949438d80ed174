"""Hollow box: four walls of one or two lines, to be measured below the rim; walls are told apart by notches at the foot."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Final, Literal

from ubrex.core.bead import Bead
from ubrex.core.errors import OutOfRange
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

SIDE_PER_LINE: Final = 70.0
"""Sides are so many line widths long: long enough for jaws in mid-span, short enough to stand straight (E)."""

SHORTEST_MM, LONGEST_MM = 24.0, 60.0

HEIGHT_MM: Final = 10.0
"""Usual height: the foot is far below where the jaws reach (E)."""

JAWS_BELOW_RIM_MM: Final = 3.0
"""Jaw tips reach so far down (job, chain row 5)."""

NOTCH_MM: Final = 1.6
NOTCH_OUT_MM: Final = 1.0
NOTCHED_MM: Final = 2.0
"""Notches name the walls on the lowest so many mm only, where nobody measures."""

ROOT: Final = 0.3
"""How far a notch of a solid body reaches into its wall, as a share of how far it stands out."""

BRIM_LINES: Final = 4
CORNER_MM: Final = 3.0
"""The corner of the seam is cut by so much: that is how it is told."""

APART_MM: Final = 12.0
"""Between the two boxes of one print."""

WALLS: Final = ("A", "B", "C", "D")
POSITIONS: Final = (0.5, 0.3, 0.7)
"""Where on a wall, as shares of its length: mid-span first."""

POSITIONS_A_WALL: Final = len(POSITIONS)

Walls = Literal["one", "two", "both"]


@dataclass(frozen=True, slots=True, kw_only=True)
class BoxOptions:
    """A box to print. ``walls``: lines of one, of two side by side, or a box of each in one print."""

    bore_mm: float
    line_width_mm: float
    layer_mm: float
    first_layer_mm: float
    walls: Walls = "one"
    side_mm: float | None = None
    height_mm: float = HEIGHT_MM
    fan_pct: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Body:
    """A convex outline [mm], pulled up so high [mm] from the bed."""

    outline: tuple[tuple[float, float], ...]
    height_mm: float


@lru_cache(maxsize=KEPT_PIECES)
def hollow_box(options: BoxOptions, volume: Volume, manner: Manner) -> Piece:
    """The box in the middle of the bed. Lines lie so far apart that they just fill the plane: the spacing is known.

    Raises
    ------
    OutOfRange
        If line, layer or size do not go with the bore or the bed.
    """
    bead = line_for(options.bore_mm, options.line_width_mm, options.layer_mm)
    first = line_for(options.bore_mm, options.line_width_mm, options.first_layer_mm)
    side = _side(options, bead)
    counts = {"one": (1,), "two": (2,), "both": (1, 2)}[options.walls]
    width = len(counts) * side + (len(counts) - 1) * APART_MM
    left, front = placed(volume, width + 2 * _margin(bead), side + 2 * _margin(bead))
    corners = [
        (left + _margin(bead) + index * (side + APART_MM), front + _margin(bead)) for index in range(len(counts))
    ]
    pen = Pen(manner=manner)
    for index, top in enumerate(layer_heights(first.height_mm, bead.height_mm, options.height_mm)):
        used, speed = (first, manner.first_speed_mm_s) if index == 0 else (bead, manner.speed_mm_s)
        if index == 1 and options.fan_pct > 0:
            pen.moves.append(Set(what=SetWhat.FAN, number=options.fan_pct))
        for lines, (x, y) in zip(counts, corners, strict=True):
            # A brim round each box, from the outside in.
            if index == 0:
                for ring in range(BRIM_LINES, 0, -1):
                    loop = _square(x, y, side, -ring * first.solid_mm, notched=False)
                    pen.line(closed(loop), top, first, speed=speed, why=Feed.PRINT)
            for line in range(lines):
                # Outside first: what is measured is laid down freely, the second line leans on it.
                loop = _square(x, y, side, line * used.solid_mm, notched=top <= NOTCHED_MM and index > 0 and line == 0)
                pen.line(closed(loop), top, used, speed=speed, why=Feed.PRINT)
    outlines, places = [], []
    for lines, (x, y) in zip(counts, corners, strict=True):
        outlines.append(Outline(points=tuple(closed(_square(x, y, side, -bead.width_mm / 2, notched=True)))))
        inner = lines * bead.solid_mm
        outlines.append(Outline(points=tuple(closed(_square(x, y, side, inner, notched=False))), bold=False))
        places += _places(x, y, side, group={1: "one line", 2: "two lines"}[lines])
    return Piece(
        name="Hollow box",
        moves=tuple(pen.moves),
        plan=Plan(
            outlines=tuple(outlines),
            places=tuple(places),
            width_mm=width,
            depth_mm=side,
            height_mm=layer_heights(first.height_mm, bead.height_mm, options.height_mm)[-1],
        ),
        bead=bead,
        spacing_mm=bead.solid_mm,
    )


def box_bodies(options: BoxOptions) -> list[Body]:
    """The box as solid bodies, standing at the origin, for a program that slices it: outlines only, it makes the walls.

    Raises
    ------
    OutOfRange
        If line, layer or size do not go with the bore.
    """
    bead = line_for(options.bore_mm, options.line_width_mm, options.layer_mm)
    side = _side(options, bead)
    outside = -bead.width_mm / 2
    core = Body(outline=tuple(_square(0.0, 0.0, side, outside, notched=False)), height_mm=options.height_mm)
    notched = _square(0.0, 0.0, side, outside, notched=True)
    plain = set(core.outline)
    points = [point for point in notched if point not in plain]
    return [core, *(_tooth(*points[at : at + 3]) for at in range(0, len(points), 3))]


def _tooth(begin: tuple[float, float], tip: tuple[float, float], end: tuple[float, float]) -> Body:
    """A notch that reaches a little into the wall, so that the two are one."""
    deeper = [ROOT * ((begin[axis] + end[axis]) / 2 - tip[axis]) for axis in (0, 1)]
    root = [(x + deeper[0], y + deeper[1]) for x, y in (end, begin)]
    return Body(outline=(begin, tip, end, *root), height_mm=NOTCHED_MM)


def _side(options: BoxOptions, bead: Bead) -> float:
    side = options.side_mm or min(LONGEST_MM, max(SHORTEST_MM, SIDE_PER_LINE * bead.width_mm))
    if not SHORTEST_MM <= side <= 150:
        raise OutOfRange(f"sides are {SHORTEST_MM:g} to 150 mm long", name="side_mm", value=side)
    if not 2 * JAWS_BELOW_RIM_MM <= options.height_mm <= 60:
        raise OutOfRange("a box is 6 to 60 mm high", name="height_mm", value=options.height_mm)
    return side


def _margin(bead: Bead) -> float:
    return BRIM_LINES * bead.width_mm + NOTCH_OUT_MM


def _square(x: float, y: float, side: float, inset: float, *, notched: bool) -> list[tuple[float, float]]:
    """A loop from the cut corner at the front left, anticlockwise: A is the front, then B, C, D, with 1 to 4 notches."""
    a, b = inset, side - inset
    cut = CORNER_MM
    loop = [(x + a + cut, y + a)]
    ends = [
        ((1, 0), (x + a + cut, y + a)),
        ((0, 1), (x + b, y + a)),
        ((-1, 0), (x + b, y + b)),
        ((0, -1), (x + a, y + b)),
    ]
    corners = [(x + b, y + a), (x + b, y + b), (x + a, y + b), (x + a, y + a + cut)]
    for index, ((along, begin), corner) in enumerate(zip(ends, corners, strict=True)):
        if notched:
            loop += _notches(begin, along, index + 1)
        loop.append(corner)
    return loop


def _notches(begin: tuple[float, float], along: tuple[int, int], count: int) -> list[tuple[float, float]]:
    """Small teeth outwards, near the begin of a wall."""
    out = (along[1], -along[0])
    points = []
    for index in range(count):
        at = CORNER_MM + index * 2 * NOTCH_MM
        for share, reach in ((0.0, 0.0), (0.5, NOTCH_OUT_MM), (1.0, 0.0)):
            go = at + share * NOTCH_MM
            points.append((begin[0] + along[0] * go + out[0] * reach, begin[1] + along[1] * go + out[1] * reach))
    return points


def _places(x: float, y: float, side: float, group: str) -> list[Place]:
    """Mid-span of each wall first, then two more on each; jaws close across the wall."""
    found = []
    for number, share in enumerate(POSITIONS, 1):
        for wall, (px, py), across in (
            ("A", (x + share * side, y), (0.0, 1.0)),
            ("B", (x + side, y + share * side), (-1.0, 0.0)),
            ("C", (x + (1 - share) * side, y + side), (0.0, -1.0)),
            ("D", (x, y + (1 - share) * side), (1.0, 0.0)),
        ):
            found.append(Place(name=f"{wall}{number}", group=group, x=px, y=py, across=across))
    return found
