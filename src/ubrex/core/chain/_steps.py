"""The steps of the chain, which rests on which, and how long a measured value may be left alone."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class Step(StrEnum):
    """What can go stale by itself, in the order of the chain (job, sections 3 and 4)."""

    SAFETY = "safety"
    HEAT = "heat"
    E_STEPS = "e_steps"
    LEVEL = "level"
    Z_OFFSET = "z_offset"
    TEMPERATURE = "temperature"
    FLOW = "flow"
    PRESSURE = "pressure"
    RETRACTION = "retraction"
    SEAM = "seam"
    SIZE = "size"
    TOP_SPEED = "top_speed"
    BED = "bed"


STEPS: Final = tuple(Step)
"""The steps in order; an enumeration itself is walked many times slower than a tuple of it."""

BASES: Final[Mapping[Step, tuple[Step, ...]]] = {
    Step.SAFETY: (),
    Step.HEAT: (),
    Step.E_STEPS: (),
    Step.LEVEL: (),
    Step.Z_OFFSET: (Step.LEVEL,),
    Step.TEMPERATURE: (Step.HEAT,),
    Step.FLOW: (Step.E_STEPS, Step.TEMPERATURE),
    Step.PRESSURE: (Step.TEMPERATURE, Step.FLOW),
    Step.RETRACTION: (Step.TEMPERATURE, Step.PRESSURE),
    Step.SEAM: (Step.RETRACTION,),
    Step.SIZE: (Step.Z_OFFSET, Step.FLOW),
    Step.TOP_SPEED: (Step.TEMPERATURE, Step.FLOW),
    Step.BED: (),
}
"""What a step rests on directly. The loops of the trade (temperature and flow of foam, temperature and top speed) are cut
where they are walked first, so that the chain ends."""

ROWS: Final[tuple[tuple[Step, ...], ...]] = (
    (Step.HEAT,),
    (Step.E_STEPS,),
    (Step.LEVEL, Step.Z_OFFSET),
    (Step.TEMPERATURE, Step.BED),
    (Step.FLOW,),
    (Step.PRESSURE,),
    (Step.RETRACTION, Step.SEAM),
    (Step.SIZE,),
    (Step.TOP_SPEED,),
)
"""The nine rows as a person reads them."""


@dataclass(frozen=True, slots=True, kw_only=True)
class AgeingLimits:
    """After how much of anything a value is worth a look; None: that does not age it. A person may change each (E)."""

    days: float
    hours: float | None = None
    prints: int | None = None
    plain_g: float | None = None
    abrasive_g: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Since:
    """What happened since a value was last shown true; grams are those that went through the nozzle."""

    days: float
    hours: float = 0.0
    prints: int = 0
    plain_g: float = 0.0
    abrasive_g: float = 0.0

    def exceeds(self, limits: AgeingLimits) -> bool:
        """Whether any of it is more than the limits let pass."""
        pairs = (
            (self.days, limits.days),
            (self.hours, limits.hours),
            (self.prints, limits.prints),
            (self.plain_g, limits.plain_g),
            (self.abrasive_g, limits.abrasive_g),
        )
        return any(limit is not None and amount > limit for amount, limit in pairs)


_HALF_YEAR: Final = AgeingLimits(days=180)
_HEATED: Final = AgeingLimits(days=90, hours=200)
_FIRST_LAYER: Final = AgeingLimits(days=30, prints=50)
_WORN_NOZZLE: Final = AgeingLimits(days=90, plain_g=2000, abrasive_g=300)

AGEING: Final[Mapping[Step, AgeingLimits]] = {
    Step.SAFETY: _HEATED,
    Step.HEAT: _HEATED,
    Step.E_STEPS: _HALF_YEAR,
    Step.LEVEL: _FIRST_LAYER,
    Step.Z_OFFSET: _FIRST_LAYER,
    Step.TEMPERATURE: _HALF_YEAR,
    Step.FLOW: _WORN_NOZZLE,
    Step.PRESSURE: _HALF_YEAR,
    Step.RETRACTION: _WORN_NOZZLE,
    Step.SEAM: _HALF_YEAR,
    Step.SIZE: _HALF_YEAR,
    Step.TOP_SPEED: _HALF_YEAR,
    Step.BED: _HALF_YEAR,
}
"""Usual limits (job, section 4, *ageing after*)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Cost:
    """What a step takes: time [min] with a person near, filament [g]."""

    minutes: int
    grams: float


COSTS: Final[Mapping[Step, Cost]] = {
    Step.SAFETY: Cost(minutes=5, grams=0),
    Step.HEAT: Cost(minutes=15, grams=0),
    Step.E_STEPS: Cost(minutes=9, grams=1),
    Step.LEVEL: Cost(minutes=10, grams=1),
    Step.Z_OFFSET: Cost(minutes=8, grams=2),
    Step.TEMPERATURE: Cost(minutes=55, grams=14),
    Step.FLOW: Cost(minutes=35, grams=5),
    Step.PRESSURE: Cost(minutes=40, grams=10),
    Step.RETRACTION: Cost(minutes=35, grams=8),
    Step.SEAM: Cost(minutes=20, grams=5),
    Step.SIZE: Cost(minutes=75, grams=18),
    Step.TOP_SPEED: Cost(minutes=25, grams=12),
    Step.BED: Cost(minutes=20, grams=3),
}
"""Usual costs (E), for planning an evening; a print's own estimate wins."""
