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
"""Nor colder than so much below what is usual for its family [°C] (rules, E, *failure modes*)."""


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


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedHeat:
    """Temperature for feeding, and the strictest limit of the hotend.

    ``target_c`` is None when the family says none, or when what the family needs lies beyond the limit.
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
    printed_parts_max_c: float | None = None,
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
    if printed_parts_max_c is not None:
        limits.append(Limit(max_c=printed_parts_max_c, of=HeatLimit.PRINTED_PARTS))
    if filament is not None and filament.ceiling_c is not None:
        limits.append(Limit(max_c=filament.ceiling_c, of=HeatLimit.FAMILY))
    return [Limit(max_c=limit.max_c - max(0.0, reads_low_by_c), of=limit.of) for limit in limits]


def bed_limits(*, bed_max_c: float | None, surface_max_c: float | None) -> list[Limit]:
    """Limits of what a bed may be set to [°C]: its heater, and what the sheet, its glue and its magnets stand."""
    limits = [] if surface_max_c is None else [Limit(max_c=surface_max_c, of=HeatLimit.SURFACE)]
    if bed_max_c is None:
        return [Limit(max_c=UNSTATED_BED_C, of=HeatLimit.BED_UNSTATED), *limits]
    return [Limit(max_c=bed_max_c, of=HeatLimit.BED), *limits]


def feeds_from(filament: Family) -> float:
    """Lowest temperature [°C] at which filament of a family is pushed."""
    usual = filament.nozzle_low_c
    return COLDEST_FEED_C if usual is None else max(COLDEST_FEED_C, usual - BELOW_USUAL_C)


def feed_heat(filament: Family, limits: Iterable[Limit]) -> FeedHeat:
    """Coolest usual temperature [°C] that feeds ``filament``, never beyond the strictest of the hotend's ``limits``."""
    limit = strictest(limits)
    wanted = filament.nozzle_low_c
    within = wanted is not None and (limit is None or wanted <= limit.max_c)
    return FeedHeat(
        target_c=wanted if within else None,
        limit_c=None if limit is None else limit.max_c,
        limit=None if limit is None else limit.of,
    )
