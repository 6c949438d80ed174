"""What may be changed of a run while it is open. Each calibration names what it has, and makes inputs of it."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any, Final

from ubrex.core.quantity import MOST_ZERO_MM
from ubrex.server.desk import Clash, TypedFields
from ubrex.server.views.runs import Action, RunEditIn
from ubrex.server.words.readings import NOT_HERE, PLACE_DONE, ZERO, zero_why

_ASKED_BY: Final[dict[str, Action]] = {
    "zero": "zero", "soft": "soft", "purpose": "purpose", "swap": "swap", "walked": "walked", "skip": "skip",
    "box": "old_box",
}  # fmt: skip
"""Fields of an edit, and the action that they are."""


def refuse_others(form: RunEditIn, has: Collection[Action]) -> None:
    """Refuse what a run does not have.

    Raises
    ------
    Clash
        If the form asks for it.
    """
    for name, action in _ASKED_BY.items():
        if action not in has and getattr(form, name) is not None:
            code, said = NOT_HERE[action]
            raise Clash(said, code=code)


def read_zero(form: RunEditIn) -> dict[str, Any]:
    """What a closed tool read [mm], found afterwards: taken off every reading, and what was read stays."""
    if form.zero is None:
        return {}
    fields = TypedFields()
    number = fields.number(
        "zero", form.zero, what=ZERO, low=-MOST_ZERO_MM, high=MOST_ZERO_MM, why=zero_why(MOST_ZERO_MM)
    )
    fields.refuse_if_any()
    return {"zero_mm": number}


def read_skip(form: RunEditIn, next_place: str | None, skipped: Sequence[str]) -> dict[str, Any]:
    """A place passed over: only the one that is measured next."""
    if form.skip is None:
        return {}
    if form.skip != next_place:
        raise Clash(PLACE_DONE, code="not_next")
    return {"skipped": [*skipped, form.skip]}
