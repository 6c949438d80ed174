"""How hot a hotend may be made to feed a filament, and which limit says so."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.materials._families import Family

LINED_LIMIT_C: Final = 240.0
"""Continuous limit [°C] of a hotend whose liner may reach into the hot zone (job section 9)."""


class Liner(StrEnum):
    """What is known of a hotend's liner."""

    LINED = "lined"
    ALL_METAL = "all_metal"
    UNKNOWN = "unknown"


class HeatLimit(StrEnum):
    """Which limit is the strictest."""

    HOTEND = "hotend"
    LINER = "liner"
    LINER_UNKNOWN = "liner_unknown"


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedHeat:
    """Temperature for feeding, and the strictest limit of the hotend.

    ``target_c`` is None when the family says none, or when what the family needs lies beyond the limit.
    ``limit_c`` is None when nothing is known that limits this hotend.
    """

    target_c: float | None
    limit_c: float | None
    limit: HeatLimit | None


def feed_heat(filament: Family, *, liner: Liner, hotend_max_c: float | None) -> FeedHeat:
    """Coolest usual temperature [°C] that feeds ``filament``, never beyond the hotend's strictest limit.

    A liner that is not known is treated as one in the hot zone.
    """
    limits: list[tuple[float, HeatLimit]] = []
    if liner is Liner.LINED:
        limits.append((LINED_LIMIT_C, HeatLimit.LINER))
    if liner is Liner.UNKNOWN:
        limits.append((LINED_LIMIT_C, HeatLimit.LINER_UNKNOWN))
    if hotend_max_c is not None:
        limits.append((hotend_max_c, HeatLimit.HOTEND))
    limit_c, limit = min(limits, default=(None, None), key=lambda pair: pair[0])
    wanted = filament.nozzle_low_c
    within = wanted is not None and (limit_c is None or wanted <= limit_c)
    return FeedHeat(target_c=wanted if within else None, limit_c=limit_c, limit=limit)
