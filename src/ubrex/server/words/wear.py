"""What is said about parts that wear."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import Wearing

AGEING_WHY: Final = "look again after 1 to 3650 days"
HOURS_WHY: Final = "prints take up to 1000 h"
GRAMS_WHY: Final = "spools hold up to 20 kg"
LIMIT_WHY: Final = "nothing lasts a million of anything"
IN_FUTURE: Final = "That lies in the future: when was it?"

WEAR_NAMES: Final = {
    Wearing.NOZZLE: "Nozzle, plain filament",
    Wearing.NOZZLE_ABRASIVE: "Nozzle, abrasive filament",
    Wearing.TUBE: "Feed tube",
    Wearing.FAN: "Heat-sink fan",
    Wearing.BELTS: "Belts",
    Wearing.PLATE: "Plate since its wash",
    Wearing.GREASE: "Grease",
}
"""Counters by name."""

ADVICE: Final = {
    Wearing.NOZZLE: (
        "One school changes a nozzle after a few kilograms, another when prints or drift say so. Look at it; signs win."
    ),
    Wearing.NOZZLE_ABRASIVE: "Abrasives open a bore within a spool. Look at it, and measure a wall.",
    Wearing.TUBE: "Its end hardens and its slack grows. Look at both ends.",
    Wearing.FAN: "Listen to it and blow it clean; heat creeps when it fails.",
    Wearing.BELTS: "Pluck both: they should sound alike.",
    Wearing.PLATE: "Wash it before the next print that matters.",
    Wearing.GREASE: "Wipe rails and screws, and grease them as their maker says.",
}
"""What to do when a counter has something to say."""


def print_asked_said(what: str) -> str:
    """A print that cannot be true, which is taken all the same if somebody says so."""
    return f"{what} Was a point slipped? If it is right, log it again."
