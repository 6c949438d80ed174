"""What is said about values that are typed, and about the card that comes before everything that heats."""

from __future__ import annotations

from typing import Final

from ubrex.server.words.numbers import plain

TAKEN_AS_TRUE: Final = "The display is taken as true: there is no probe here."

SHOWS: Final = "The display shows"
REALLY: Final = "Really there, by the probe"
SHOWS_WHAT: Final = "What it shows"
REALLY_WHAT: Final = "What is really there"
CHECKED_WHY: Final = "check a hotend at 100 to 450 °C"
NOTHING_TYPED: Final = "Nothing was typed: there is nothing to write."
NO_SUCH_VALUE: Final = "There is no such value."
NO_SURFACE: Final = "This depends on the build surface, and this setup does not say which one is on. Choose it first."
SAY_WHERE: Final = "Say where the maker says so: a page, a line of the papers."


def not_offered_said(machine: str) -> str:
    """A value that a machine does not have."""
    return f"{machine} does not offer this."


def not_of_label_said(low: float | None, high: float | None) -> str:
    """A value that claims to stand on the label."""
    return (
        f"The label says {plain(low or 0)} to {plain(high or 0)} °C: this cannot stand on it. Say that it is your own."
    )


def held_said(danger: str) -> str:
    """What has to be said before anything heats."""
    return f"{danger} Say it on the card “Safe to tune” first."
