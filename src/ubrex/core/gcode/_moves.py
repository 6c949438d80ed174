"""Tool paths as typed moves: what a piece is made of, before any text.

A tower has twenty thousand moves: the two kinds that are many are tuples, made in a third of the time of frozen records.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final, NamedTuple, TypeAlias

from ubrex.core.bead import Bead

CIRCLE: Final = math.pi / 4
"""Area of a circle per square of its diameter."""


BESIDE_MM: Final = 1.0
"""So near (two lines of a usual nozzle), nothing is pulled back: there is no gap to string across."""


class Feed(StrEnum):
    """Why filament is moved; each kind is added up apart."""

    PRINT = "print"
    PRIME = "prime"
    RETRACT = "retract"
    TEST = "test"


class Go(NamedTuple):
    """A straight move to a place [mm] at a speed [mm/s]; filament [mm] is fed along it where ``feed_mm`` > 0."""

    x: float
    y: float
    z: float
    speed_mm_s: float
    feed_mm: float = 0.0
    why: Feed = Feed.PRINT


class Push(NamedTuple):
    """Filament moved with the nozzle standing still [mm], negative: pulled back."""

    feed_mm: float
    speed_mm_s: float
    why: Feed


@dataclass(frozen=True, slots=True, kw_only=True)
class Set:
    """Something that is set: nozzle and bed [°C], fan [%], pressure compensation [s]; ``wait`` until it is reached."""

    what: SetWhat
    number: float
    wait: bool = False


class SetWhat(StrEnum):
    """What can be set."""

    NOZZLE = "nozzle"
    BED = "bed"
    FAN = "fan"
    PRESSURE = "pressure"


@dataclass(frozen=True, slots=True, kw_only=True)
class Pause:
    """Standing still [s]."""

    seconds: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Remark:
    """A line for people."""

    text: str


Move: TypeAlias = Go | Push | Set | Pause | Remark


@dataclass(frozen=True, slots=True, kw_only=True)
class Manner:
    """How a piece is printed: speeds [mm/s], retraction [mm], hop [mm], flow as a ratio, filament [mm] across."""

    filament_mm: float = 1.75
    flow: float = 1.0
    speed_mm_s: float = 30.0
    first_speed_mm_s: float = 20.0
    travel_mm_s: float = 120.0
    retraction_mm: float = 0.8
    retraction_speed_mm_s: float = 30.0
    hop_mm: float = 0.2

    def feed_for(self, bead: Bead, length_mm: float) -> float:
        """Filament [mm] for so much of a line: volume over the area of the strand, times the flow."""
        return self.flow * bead.area_mm2 * length_mm / (CIRCLE * self.filament_mm**2)


@dataclass(slots=True)
class Pen:
    """Draws lines, and keeps account of where it is; before its first move it is nowhere."""

    manner: Manner
    moves: list[Move] = field(default_factory=list)
    x: float = 0.0
    y: float = 0.0
    z: float = 0.0
    started: bool = False

    def travel(self, x: float, y: float, z: float, *, by: Sequence[tuple[float, float]] = ()) -> None:
        """Go there without printing: filament pulled back, lifted over what stands already, brought forward again.

        ``by``: places on the way, where it goes round.

        A line that begins right beside the end of the last one, in the same layer, is stepped over to.
        """
        if self.started and (x, y, z) == (self.x, self.y, self.z):
            return
        if self.started and z == self.z and math.hypot(x - self.x, y - self.y) <= BESIDE_MM:
            self.move(x, y, z)
            return
        self._feed(-self.manner.retraction_mm)
        over = max(self.z, z) + self.manner.hop_mm
        if self.started:
            self.move(self.x, self.y, over)
        for place in by:
            self.move(*place, over)
        self.move(x, y, over)
        self.move(x, y, z)
        self._feed(self.manner.retraction_mm)

    def move(self, x: float, y: float, z: float) -> None:
        """Go there without printing, filament as it is."""
        if not self.started or (x, y, z) != (self.x, self.y, self.z):
            self.started = True
            self.moves.append(Go(x, y, z, self.manner.travel_mm_s))
            self.x, self.y, self.z = x, y, z

    def _feed(self, mm: float) -> None:
        if mm:
            self.moves.append(Push(mm, self.manner.retraction_speed_mm_s, Feed.RETRACT))

    def line(self, places: Sequence[tuple[float, float]], z: float, bead: Bead, *, speed: float, why: Feed) -> None:
        """A line through places [mm] at a height; the nozzle goes to the first."""
        self.travel(*places[0], z)
        each_mm = self.manner.feed_for(bead, 1.0)
        add, from_x, from_y = self.moves.append, self.x, self.y
        for x, y in places[1:]:
            length = math.hypot(x - from_x, y - from_y)
            if length > 0:
                add(Go(x, y, z, speed, each_mm * length, why))
                from_x, from_y = x, y
        self.x, self.y = from_x, from_y


def printed(moves: Sequence[Move]) -> Iterator[tuple[Go, float]]:
    """Moves that lay down a line of the piece itself, each with its length [mm]."""
    at = (0.0, 0.0, 0.0)
    for move in moves:
        if isinstance(move, Go):
            length = math.dist(at, (move.x, move.y, move.z))
            at = (move.x, move.y, move.z)
            if move.feed_mm > 0 and move.why is Feed.PRINT:
                yield move, length
