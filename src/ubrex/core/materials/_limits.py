"""How hot anything may be made, and which limit says so: always the strictest of all that are known."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.materials._families import Family

LINED_LIMIT_C: Final = 240.0
"""Continuous limit [°C] of a hotend whose liner may reach into the hot zone (job section 9)."""


UNSTATED_NOZZLE_C: Final = 240.0
"""Limit [°C] of a hotend whose maker's limit nobody entered: what every hotend stands (job section 9)."""

UNSTATED_BED_C: Final = 60.0
"""Limit [°C] of a bed whose maker's limit nobody entered: what every heated bed stands (job section 9)."""

COLDEST_FEED_C: Final = 150.0
"""No filament is pushed colder than this [°C]: the gear grinds it, and most firmware refuses (job, row 2)."""

BELOW_USUAL_C: Final = 20.0
"""Nor colder than so much below what label or family begin at [°C] (rules, E, *failure modes*)."""


ROUNDING_C: Final = 1e-9
"""What adding and taking away may leave of a degree."""


class Liner(StrEnum):
    """Where a hotend's liner ends."""

    LINED = "lined"
    ABOVE = "above"
    ALL_METAL = "all_metal"
    UNKNOWN = "unknown"


class HeatLimit(StrEnum):
    """What a limit is the limit of."""

    HOTEND = "hotend"
    HOTEND_UNSTATED = "hotend_unstated"
    LINER = "liner"
    LINER_UNKNOWN = "liner_unknown"
    PRINTED_PARTS = "printed_parts"
    FAMILY = "family"
    BED = "bed"
    BED_UNSTATED = "bed_unstated"
    SURFACE = "surface"
    ENCLOSURE = "enclosure"


@dataclass(frozen=True, slots=True, kw_only=True)
class Limit:
    """A temperature [°C] that must not be exceeded, and of what it is the limit."""

    max_c: float
    of: HeatLimit

    def allows(self, celsius: float) -> bool:
        """Whether a temperature may be set; the limit itself may."""
        return celsius <= self.max_c + ROUNDING_C


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedHeat:
    """Temperature for feeding, and the strictest limit of the hotend.

    ``target_c`` is None when neither label nor family says one, or when what it needs lies beyond the limit.
    ``limit_c`` is None when nothing is known that limits this hotend.
    """

    target_c: float | None
    limit_c: float | None
    limit: HeatLimit | None


def strictest(limits: Iterable[Limit]) -> Limit | None:
    """The limit that holds; of equal ones the first. None if nothing is known."""
    return min(limits, default=None, key=lambda limit: limit.max_c)


def nozzle_limits(
    *,
    liner: Liner,
    hotend_max_c: float | None,
    filament: Family | None = None,
    reads_low_by_c: float = 0.0,
) -> list[Limit]:
    """Limits of what a hotend may be set to [°C].

    A liner that is not known counts as one in the hot zone, and where nobody stated a limit, what every hotend stands holds.
    ``reads_low_by_c`` > 0: the hotend is really hotter than it
    shows by so much, and every limit is one of what is real; one that shows too much is limited by what it shows.
    """
    limits = []
    if liner is Liner.LINED:
        limits.append(Limit(max_c=LINED_LIMIT_C, of=HeatLimit.LINER))
    if liner is Liner.UNKNOWN:
        limits.append(Limit(max_c=LINED_LIMIT_C, of=HeatLimit.LINER_UNKNOWN))
    if hotend_max_c is not None:
        limits.append(Limit(max_c=hotend_max_c, of=HeatLimit.HOTEND))
    elif not limits:
        limits.append(Limit(max_c=UNSTATED_NOZZLE_C, of=HeatLimit.HOTEND_UNSTATED))
    if filament is not None and filament.ceiling_c is not None:
        limits.append(Limit(max_c=filament.ceiling_c, of=HeatLimit.FAMILY))
    return [Limit(max_c=limit.max_c - max(0.0, reads_low_by_c), of=limit.of) for limit in limits]


def bed_limits(*, bed_max_c: float | None, surface_max_c: float | None) -> list[Limit]:
    """Limits of what a bed may be set to [°C]: its heater, and what the sheet, its glue and its magnets stand."""
    limits = [] if surface_max_c is None else [Limit(max_c=surface_max_c, of=HeatLimit.SURFACE)]
    if bed_max_c is None:
        return [Limit(max_c=UNSTATED_BED_C, of=HeatLimit.BED_UNSTATED), *limits]
    return [Limit(max_c=bed_max_c, of=HeatLimit.BED), *limits]


def chamber_limits(*, chamber_max_c: float | None, printed_parts_max_c: float | None) -> list[Limit]:
    """Limits of the air round the print [°C]: the chamber's own, and what printed parts that stand in it soften at.

    Such parts sit by the heat sink, in the air of the chamber: the nozzle is as hot as it likes (job, section 2).
    """
    rows = ((chamber_max_c, HeatLimit.ENCLOSURE), (printed_parts_max_c, HeatLimit.PRINTED_PARTS))
    return [Limit(max_c=max_c, of=of) for max_c, of in rows if max_c is not None]


def feeds_from(coolest_usual_c: float | None) -> float:
    """Lowest temperature [°C] at which filament is pushed whose label or family begins at ``coolest_usual_c``."""
    return COLDEST_FEED_C if coolest_usual_c is None else max(COLDEST_FEED_C, coolest_usual_c - BELOW_USUAL_C)


def feed_heat(coolest_usual_c: float | None, limits: Iterable[Limit]) -> FeedHeat:
    """Coolest usual temperature [°C] that feeds a filament, never beyond the strictest of the hotend's ``limits``."""
    limit = strictest(limits)
    within = coolest_usual_c is not None and (limit is None or coolest_usual_c <= limit.max_c)
    return FeedHeat(
        target_c=coolest_usual_c if within else None,
        limit_c=None if limit is None else limit.max_c,
        limit=None if limit is None else limit.of,
    )
