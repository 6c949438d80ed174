"""What is said about revisions and about a change between two of them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from ubrex.core.calibrate import ESTEPS_TOLERANCE_PCT
from ubrex.core.quantity import decimal_text
from ubrex.server.words.numbers import percent


def then_at_machine(machine: str, names: Sequence[str]) -> str:
    """What is left to do once values that the machine keeps were gone back to."""
    return f"Then type {' and '.join(name.lower() for name in names)} into {machine} and read back what it says."


def revision_cause(cause: str, from_number: int | None) -> str:
    """What made a revision."""
    if cause == "restored":
        return "Brought back elsewhere" if from_number is None else f"Back to {from_number}"
    return {
        "applied": "Measured, applied",
        "confirmed": "Measured, confirmed",
        "typed": "Typed",
        "copied": "Copied",
        "rescaled": "Flow rescaled",
    }[cause]


def change_real(times: float | None) -> str:
    """Is it real? ``times``: the change against the ± of both together; None if one was never measured."""
    if times is None:
        return "Typed: not measured, so nobody knows."
    if times > 1:
        return f"Real: {decimal_text(times, 1)} times its ±."
    return "No real change: inside its ±."


def change_visible(relative_pct: float, *, visible: bool) -> str:
    """Would one see it in a print?"""
    if visible:
        return f"You could see it: {percent(relative_pct)}, and a wall shows {percent(ESTEPS_TOLERANCE_PCT, 0)}."
    return (
        f"You would not see it: {percent(relative_pct)} is under the {percent(ESTEPS_TOLERANCE_PCT, 0)} a wall shows."
    )


SAME_NUMBER: Final = "the same number"
