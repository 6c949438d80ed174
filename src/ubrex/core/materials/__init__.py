"""Filament families and the limits that people and hotends set: frozen tables, each row with its source."""

from ubrex.core.materials._families import FAMILIES, Family, family
from ubrex.core.materials._limits import LINED_LIMIT_C, FeedHeat, HeatLimit, Liner, feed_heat

__all__ = ["FAMILIES", "LINED_LIMIT_C", "Family", "FeedHeat", "HeatLimit", "Liner", "family", "feed_heat"]
