"""What is said about parts that wear."""

from __future__ import annotations

from typing import Final

from ubrex.core.attempts import Qualified
from ubrex.core.chain import Wearing
from ubrex.server.words.numbers import NBSP, plain
from ubrex.server.words.scales import SCALES

AGEING_WHY: Final = "look again after 1 to 3650 days"
WHAT: Final = "What was printed"
TIME: Final = "The time"
FILAMENT: Final = "The filament"
UNNAMED: Final = "not named"
PRINT_BACK_ALREADY: Final = "This print was taken back already."
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


def came_out_said(outcome: str, looks: str | None) -> str:
    """How a print came out: whether it works, and how it looks."""
    works = {"good": "works", "bad": "does not work", "stopped": "stopped early"}[outcome]
    return works if looks is None else f"{works}, looks {looks}"


NO_SUCH_SIGN: Final = "Signs are those that are offered, each rated 0 to 4."


def sign_said(key: str, rating: int) -> str:
    """What was seen of a sign: its name, figure and word."""
    return f"{SCALES[key].name} {rating}, {SCALES[key].words[rating]}"


def took_said(hours: float, grams: float) -> str:
    """Time and filament of a print, as far as somebody said."""
    minutes = round(60 * hours)
    time = f"{minutes // 60}{NBSP}h {minutes % 60:02d}" if minutes >= 60 else f"{minutes}{NBSP}min"
    return ", ".join(part for part, said in ((time, hours), (f"{plain(round(grams, 1))}{NBSP}g", grams)) if said)


def qualified_said(found: Qualified, prints: int, failed: int, revision: int) -> str:
    """How far a setup can be relied on; a few clean prints are no proof."""
    if found.upper_95 is None:
        return f"Nothing printed since revision {revision}: whether it holds is not known."
    went = "none failed" if failed == 0 else f"{failed} failed"
    still = f"it may still fail up to {100 * found.upper_95:.0f} % of the time"
    since = f"{prints} {'print' if prints == 1 else 'prints'} since revision {revision}, {went}"
    if found.verdict == "qualified":
        return f"Qualified: {since}; {still}."
    if found.verdict == "failing":
        return f"{since}: too many to be chance. Find out why before the next."
    more = found.clean_prints_needed
    return f"{since}; {still}." + ("" if more is None else f" {more} more without a failure qualify it.")


def used_said(amount: str, limit: str, due_on: str, *, passed: bool) -> str:
    """How much a part was used, and by when it is worth a look however little that is; ``passed``: that day is over."""
    used = f"{amount} of {limit}"
    if not due_on:
        return used
    return f"due since {due_on}, after {used}" if passed else f"{used}, or by {due_on}"


def before_said(amount: str, until: str) -> str:
    """What a part saw before it was replaced, or seen to."""
    return f"{amount} until {until}"
