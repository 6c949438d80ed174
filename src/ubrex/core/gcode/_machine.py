"""What a machine may be told: its volume, its limits, and how it wants to hear it."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

from ubrex.core.errors import UbrexError

USUAL_SPEED_MM_S: Final = 150.0
"""Highest speed that is asked of a machine whose maker states none [mm/s]: any hobby machine reaches it."""

USUAL_ACCELERATION_MM_S2: Final = 1000.0
"""Acceleration assumed for times where none is stated [mm/s2]."""

ROUNDING_C: Final = 1e-9
"""What adding and taking away may leave of a degree."""

MOST_RETRACTION_MM_S: Final = 60.0
"""Fastest retraction anywhere [mm/s] (rules, F)."""

EDGE_MM: Final = 5.0
"""Nothing is printed nearer than this to the edge of the volume: clips and wavy rims are there."""


class Breach(StrEnum):
    """A limit that a file would pass."""

    VOLUME = "volume"
    NOZZLE_HEAT = "nozzle_heat"
    BED_HEAT = "bed_heat"
    MELT_RATE = "melt_rate"
    SPEED = "speed"
    RETRACTION = "retraction"
    COLD = "cold"
    NOT_SAFE = "not_safe"
    BLOCK = "block"


class RefusedFile(UbrexError, ValueError):
    """A file that must not be written: ``breach`` says which limit, the message by how much."""

    code = "refused_file"

    def __init__(self, breach: Breach, message: str) -> None:
        super().__init__(message, breach=breach.value)
        self.breach = breach


@dataclass(frozen=True, slots=True, kw_only=True)
class Volume:
    """Where the nozzle may be [mm]; the origin is a corner of the bed, or its centre."""

    width_mm: float
    depth_mm: float
    height_mm: float
    centred: bool = False

    @property
    def left(self) -> float:
        """Smallest x."""
        return -self.width_mm / 2 if self.centred else 0.0

    @property
    def front(self) -> float:
        """Smallest y."""
        return -self.depth_mm / 2 if self.centred else 0.0

    @property
    def middle(self) -> tuple[float, float]:
        """Centre of the bed."""
        return self.left + self.width_mm / 2, self.front + self.depth_mm / 2

    def reach(self, slack: float = 1e-6) -> tuple[float, float, float, float, float, float]:
        """Least and greatest x, y and z [mm] that lie inside, or no farther out than the slack."""
        left, front = self.left, self.front
        return (
            left - slack, left + self.width_mm + slack, front - slack, front + self.depth_mm + slack,
            -slack, self.height_mm + slack,
        )  # fmt: skip

    def holds(self, x: float, y: float, z: float, slack: float = 1e-6) -> bool:
        """Whether a place lies inside."""
        left, right, front, back, low, high = self.reach(slack)
        return left <= x <= right and front <= y <= back and low <= z <= high


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatCap:
    """A temperature that must not be passed [°C], and what sets it, in words for the file."""

    max_c: float
    why: str

    def allows(self, celsius: float) -> bool:
        """Whether a temperature may be asked for; the cap itself may."""
        return celsius <= self.max_c + ROUNDING_C


@dataclass(frozen=True, slots=True, kw_only=True)
class MachineLimits:
    """Everything a file is held to. ``feeds_from_c``: below it no filament may be pushed; ``safe``: nothing is unknown.

    ``speed_stated``: whether anybody entered the machine's speed, or it is only what any machine reaches.
    """

    volume: Volume
    nozzle: HeatCap
    bed: HeatCap
    feeds_from_c: float
    melt_mm3_s: float
    retraction_mm: float
    retraction_mm_s: float = MOST_RETRACTION_MM_S
    speed_mm_s: float = USUAL_SPEED_MM_S
    speed_stated: bool = True
    acceleration_mm_s2: float = USUAL_ACCELERATION_MM_S2
    safe: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Dialect:
    """How a machine wants its text; ``pressure``: the line by which it takes its pressure compensation.

    ``start`` and ``end`` are lines of its owner, run after heating and after cooling is asked for; in them ``{nozzle_c}``,
    ``{bed_c}``, ``{width_mm}``, ``{depth_mm}`` and ``{height_mm}`` are filled in.
    """

    relative_feed: bool = True
    pressure: str = ""
    start: tuple[str, ...] = ()
    end: tuple[str, ...] = ()
    words: tuple[str, ...] = field(default=("nozzle_c", "bed_c", "width_mm", "depth_mm", "height_mm"), repr=False)
