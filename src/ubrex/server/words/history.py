"""What is said about revisions and about a change between two of them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from ubrex.core.quantity import decimal_text

BOTH: Final = "the same value: it belongs to both"
OTHER_FORM: Final = "kept in a different form"
NOTE_CHANGED: Final = "Somebody else changed this note meanwhile. Yours is still in the field; look at theirs first."
CANNOT_BE_COMPARED: Final = "The machine keeps its setting in a different form since: the two cannot be compared."


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


def change_visible(change: str, least: str, *, visible: bool) -> str:
    """Would one see it in a print? ``least``: the smallest change worth making."""
    if visible:
        return f"You could see it: {change}, and {least} shows."
    return f"You would not see it: {change} is under the {least} that shows."


SAME_NUMBER: Final = "the same number"


def written_since_said(newest: int) -> str:
    """Somebody wrote a revision meanwhile."""
    return f"Revision {newest} was written since this was shown. Compare with it before you go back."


def nothing_left_said(number: int, why: str) -> str:
    """Nothing of a revision may be set any more."""
    return f"Nothing of revision {number} may be set here any more: {why}."


def nothing_differs_said(number: int) -> str:
    """A revision that has what is set now."""
    return f"Revision {number} has the values that are set now: there is nothing to go back to."


def no_revision_said(number: int) -> str:
    """A revision that is not there."""
    return f"This setup has no revision {number}."


def strip_said(before: str, now: str) -> str:
    """Two settings of a machine on one strip."""
    return f"Before {before}; now {now}; the band is what a print hides."
