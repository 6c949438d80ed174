"""What may be changed of a run while it is open. Each calibration names what it allows, and makes inputs of it."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any, Final

from ubrex.server.desk import Clash, TypedFields
from ubrex.server.views.runs import RunEditIn
from ubrex.server.words.numbers import plain

MOST_ZERO_MM: Final = 0.2
"""A closed tool that reads more than this is not closed, or broken."""

_NOT_HERE: Final = {
    "zero": ("no_zero", "Here a zero that is a few hundredths off does not count."),
    "purpose": ("no_tower", "This run has no tower."),
    "swap": ("no_tower", "This run has no tower."),
    "walked": ("no_walls", "This run has no walls to go round."),
    "skip": ("all_needed", "Here every place is needed: a plane takes all nine patches."),
}
"""What not every run has: code and sentence where it is asked for all the same."""


def refuse_others(form: RunEditIn, allowed: Collection[str]) -> None:
    """Refuse what a run does not have.

    Raises
    ------
    Clash
        If the form asks for it.
    """
    for name, (code, said) in _NOT_HERE.items():
        if name not in allowed and getattr(form, name) is not None:
            raise Clash(said, code=code)


def zero(form: RunEditIn) -> dict[str, Any]:
    """What a closed tool read [mm], found afterwards: taken off every reading, and what was read stays."""
    if form.zero is None:
        return {}
    fields = TypedFields()
    number = fields.number(
        "zero", form.zero, what="The zero", low=-MOST_ZERO_MM, high=MOST_ZERO_MM,
        why=f"more than {plain(MOST_ZERO_MM)} mm off, the tool is broken or not closed",
    )  # fmt: skip
    fields.refuse_if_any()
    return {"zero_mm": number}


def skip(form: RunEditIn, next_place: str | None, skipped: Sequence[str]) -> dict[str, Any]:
    """A place passed over: only the one that is measured next."""
    if form.skip is None:
        return {}
    if form.skip != next_place:
        raise Clash("This place was measured or passed over meanwhile.", code="not_next")
    return {"skipped": [*skipped, form.skip]}
