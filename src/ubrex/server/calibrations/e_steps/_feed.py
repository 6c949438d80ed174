"""How hot filament is fed on a setup, and what can hurt while it is."""

from __future__ import annotations

from functools import lru_cache

from ubrex.core.calibrate import EStepsMethod
from ubrex.core.chain import Heats, Kind
from ubrex.core.gcode.pieces import FEED_SPEED_MM_S, HOT_FEED_SPEED_MM_S
from ubrex.core.materials import FeedHeat, feed_heat
from ubrex.server.calibrations.e_steps import _words as words
from ubrex.server.profile import Tuned, usual_on
from ubrex.server.views.base import CautionOut


def feed_heat_of(tuned: Tuned) -> FeedHeat:
    """How hot the hotend of a setup may be made to feed its filament."""
    usual = usual_on(tuned, Kind.NOZZLE)
    return feed_heat(None if usual is None else usual.window.low, tuned.parts.limits_of(Heats.NOZZLE))


def feed_speed_of(method: EStepsMethod) -> float:
    """How fast [mm/s] filament is fed to be measured by ``method``."""
    return HOT_FEED_SPEED_MM_S if method is EStepsMethod.MARKED else FEED_SPEED_MM_S


def feed_cautions(tuned: Tuned, method: EStepsMethod) -> list[CautionOut]:
    """Cautions for feeding by ``method`` on a setup."""
    return list(_cautions(feed_heat_of(tuned), method))


@lru_cache(maxsize=64)
def _cautions(heat: FeedHeat, method: EStepsMethod) -> tuple[CautionOut, ...]:
    return tuple(CautionOut(lead=row.lead, text=row.text) for row in words.cautions(heat, method))
