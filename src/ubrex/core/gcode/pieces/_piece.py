"""What every test piece is: moves, a plan to draw, and where to put the jaws."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Final

from ubrex.core.bead import NARROWEST, THICKEST, THINNEST, WIDEST, Bead
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode._machine import EDGE_MM, Volume
from ubrex.core.gcode._moves import CIRCLE, Feed, Go, Move, Pause, Pen, Push, printed
from ubrex.core.gcode.pieces._front import FrontPart, from_front

MM3_PER_CM3: Final = 1000.0

ALONG: Final = 0.97
"""Cosine of a turn that is taken without stopping: 14 degrees."""

KEPT_PIECES: Final = 16
"""Pieces kept made: a run that is measured asks for its piece at every reading, and it is the same one."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """Where to measure: a name, its group, a point [mm] in the plan, and which way the jaws close (unit vector)."""

    name: str
    group: str
    x: float
    y: float
    across: tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Outline:
    """A line of the plan [mm]; ``bold``: what is measured, thin: what only holds or names it."""

    points: tuple[tuple[float, float], ...]
    bold: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """A piece from above and its height [mm]: data for a drawing, not a drawing."""

    outlines: tuple[Outline, ...]
    places: tuple[Place, ...]
    width_mm: float
    depth_mm: float
    height_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Band:
    """A band of a tower: its value, where it begins and ends, and from which height [mm] on the nozzle has settled."""

    value: float
    from_mm: float
    to_mm: float
    settled_mm: float


@dataclass(frozen=True, kw_only=True)
class Piece:
    """A test piece: what to print, what to draw, and what it is expected to measure; ``bands`` of a tower, bottom up.

    A piece is kept made, and asked for its mass and time at every reading: both are added up once.
    """

    name: str
    moves: tuple[Move, ...]
    plan: Plan
    bead: Bead
    spacing_mm: float
    bands: tuple[Band, ...] = ()

    @cached_property
    def filament_mm(self) -> float:
        """Filament [mm] that the piece itself takes, without priming and retraction."""
        return math.fsum(move.feed_mm for move, _ in printed(self.moves))

    @cached_property
    def front(self) -> list[FrontPart]:
        """The piece from the front."""
        return from_front(self.moves, self.bead.width_mm)

    def grams(self, filament_mm: float, density_g_cm3: float) -> float:
        """Mass [g] of the piece, of a strand so thick."""
        return self.filament_mm * CIRCLE * filament_mm**2 * density_g_cm3 / MM3_PER_CM3

    def minutes(self, acceleration_mm_s2: float) -> float:
        """Time [min] of the moves; each speeds up and slows down to nothing."""
        if acceleration_mm_s2 not in self._seconds_at:
            self._seconds_at[acceleration_mm_s2] = self.seconds(self.moves, acceleration_mm_s2=acceleration_mm_s2)
        return self._seconds_at[acceleration_mm_s2] / 60

    @cached_property
    def _seconds_at(self) -> dict[float, float]:
        """Seconds by acceleration."""
        return {}

    @staticmethod
    def seconds(moves: Sequence[Move], *, acceleration_mm_s2: float) -> float:
        """Time [s] of some moves, and of the pauses between them; it stops where they turn, not along an arc."""
        total, at, length, speed = 0.0, (0.0, 0.0, 0.0), 0.0, 1.0
        way = (0.0, 0.0, 0.0)
        for move in moves:
            if isinstance(move, Go):
                here = (move.x, move.y, move.z)
                far = math.dist(at, here)
                if far == 0:
                    continue
                onward = ((here[0] - at[0]) / far, (here[1] - at[1]) / far, (here[2] - at[2]) / far)
                same = way[0] * onward[0] + way[1] * onward[1] + way[2] * onward[2]
                if move.speed_mm_s != speed or same < ALONG:
                    total, length = total + _seconds(length, speed, acceleration_mm_s2), 0.0
                length, speed, at, way = length + far, move.speed_mm_s, here, onward
            elif isinstance(move, Push):
                total += abs(move.feed_mm) / move.speed_mm_s
            elif isinstance(move, Pause):
                total += move.seconds
        return total + _seconds(length, speed, acceleration_mm_s2)


def _seconds(length: float, speed: float, acceleration: float) -> float:
    if length < speed**2 / acceleration:
        return 2 * math.sqrt(length / acceleration)
    return length / speed + speed / acceleration


def line_for(bore_mm: float, width_mm: float, height_mm: float) -> Bead:
    """The line of a piece, checked against the bore.

    Raises
    ------
    OutOfRange
        If the width is not 0.9 to 1.25 times the bore, or the layer not 0.15 to 0.8 times.
    """
    for name, what, value, low, high in (
        ("line_width_mm", "lines", width_mm, NARROWEST * bore_mm, WIDEST * bore_mm),
        ("layer_mm", "layers", height_mm, THINNEST * bore_mm, THICKEST * bore_mm),
    ):
        if not low - 1e-9 <= value <= high + 1e-9:
            raise OutOfRange(
                f"a bore of {bore_mm:g} mm lays {what} of {low:.2f} to {high:.2f} mm", name=name, value=value
            )
    return Bead(width_mm=width_mm, height_mm=height_mm)


def placed(volume: Volume, width_mm: float, depth_mm: float) -> tuple[float, float]:
    """Front left corner [mm] of a piece in the middle of the bed.

    Raises
    ------
    OutOfRange
        If the bed is too small for it.
    """
    for name, size, room in (("width", width_mm, volume.width_mm), ("depth", depth_mm, volume.depth_mm)):
        if size + 2 * EDGE_MM > room:
            raise OutOfRange(f"the piece needs {size + 2 * EDGE_MM:g} mm of {name}, the bed has {room:g}", name="size")
    x, y = volume.middle
    return x - width_mm / 2, y - depth_mm / 2


def layer_heights(first_mm: float, layer_mm: float, height_mm: float) -> list[float]:
    """Tops of the layers [mm] up to a height, the first as high as it is squeezed."""
    count = max(1, round((height_mm - first_mm) / layer_mm) + 1)
    return [round(first_mm + layer_mm * index, 4) for index in range(count)]


def closed(points: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """A loop that ends where it began."""
    return [*points, points[0]]


def filled(pen: Pen, bead: Bead, x: float, y: float, width: float, depth: float) -> None:
    """A first layer that just fills a rectangle."""
    points = back_and_forth(bead, x, y, width, depth)
    pen.line(points, bead.height_mm, bead, speed=pen.manner.first_speed_mm_s, why=Feed.PRINT)


def back_and_forth(bead: Bead, x: float, y: float, width: float, depth: float) -> list[tuple[float, float]]:
    """Lines back and forth that just fill a rectangle, joined at their ends."""
    points = []
    for index in range(max(2, int(depth / bead.solid_mm))):
        at = y + bead.width_mm / 2 + index * bead.solid_mm
        ends = [(x, at), (x + width, at)]
        points += ends if index % 2 == 0 else ends[::-1]
    return points
