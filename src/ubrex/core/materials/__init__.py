"""Families of filament, cautions, schools, and the limits of heat: frozen tables, each row with its source."""

from ubrex.core.materials._cautions import CAUTIONS, Caution, Hazard, caution
from ubrex.core.materials._families import FAMILIES, Enclosure, Family, Stiffness, Window, family
from ubrex.core.materials._limits import (
    LINED_LIMIT_C,
    FeedHeat,
    HeatLimit,
    Limit,
    Liner,
    bed_limits,
    feed_heat,
    nozzle_limits,
    strictest,
)
from ubrex.core.materials._schools import SCHOOLS, School

__all__ = [
    "CAUTIONS",
    "FAMILIES",
    "LINED_LIMIT_C",
    "SCHOOLS",
    "Caution",
    "Enclosure",
    "Family",
    "FeedHeat",
    "Hazard",
    "HeatLimit",
    "Limit",
    "Liner",
    "School",
    "Stiffness",
    "Window",
    "bed_limits",
    "caution",
    "family",
    "feed_heat",
    "nozzle_limits",
    "strictest",
]
