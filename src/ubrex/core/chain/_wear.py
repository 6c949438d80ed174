"""Parts that wear: after how much use each is worth a look."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.chain._changes import Change


class Wearing(StrEnum):
    """A counter that is kept."""

    NOZZLE = "nozzle"
    NOZZLE_ABRASIVE = "nozzle_abrasive"
    TUBE = "tube"
    FAN = "fan"
    BELTS = "belts"
    PLATE = "plate"
    GREASE = "grease"


@dataclass(frozen=True, slots=True, kw_only=True)
class WearLimit:
    """After which amount a part is worth a look, in ``unit``; ``resets``: changes after which it counts from 0 again.

    ``days``: after how long it is worth a look even where it was hardly used; None where only use wears it.
    """

    amount: float
    unit: str
    resets: tuple[Change, ...]
    days: float | None = None


WEAR: Final[Mapping[Wearing, WearLimit]] = {
    Wearing.NOZZLE: WearLimit(amount=5000, unit="g", resets=(Change.NOZZLE_SAME, Change.NOZZLE_OTHER)),
    Wearing.NOZZLE_ABRASIVE: WearLimit(amount=300, unit="g", resets=(Change.NOZZLE_SAME, Change.NOZZLE_OTHER)),
    Wearing.TUBE: WearLimit(amount=1000, unit="h", resets=(Change.FEED_TUBE,), days=730),
    Wearing.FAN: WearLimit(amount=2000, unit="h", resets=(Change.HEAT_SINK_FAN, Change.TOOLHEAD), days=365),
    Wearing.BELTS: WearLimit(amount=1500, unit="h", resets=(Change.BELTS,), days=365),
    Wearing.PLATE: WearLimit(amount=50, unit="prints", resets=(Change.PLATE_WASHED, Change.PLATE_TWIN)),
    Wearing.GREASE: WearLimit(amount=500, unit="h", resets=(Change.GREASED,), days=180),
}
"""Usual amounts (E). On nozzles the schools differ: a few kilograms, or hundreds unless abrasive; symptoms override both."""
