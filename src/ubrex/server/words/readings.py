"""What is said of readings, whatever is measured: odd ones, bare strips, verdicts that all calibrations share."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import Final

from ubrex.core.quantity import Reason, Unit, Verdict, decimal_text
from ubrex.server.words.numbers import percent, plain, signed, unit_text

BARE: Final = "The strip stays bare until the first readings asked for are in."

NOT_HERE: Final = {
    "zero": ("no_zero", "Here a zero that is a few hundredths off does not count."),
    "soft": ("nothing_read", "Read a wall first, as usual."),
    "purpose": ("no_tower", "This run has no tower."),
    "swap": ("no_tower", "This run has no tower."),
    "walked": ("no_walls", "This run has no walls to go round."),
    "old_box": ("no_question", "Nothing was asked of this box."),
    "skip": ("all_needed", "Here every place is needed, or there is none to pass over."),
}
"""What not every run has: code and sentence where it is asked for all the same."""

PLACE_DONE: Final = "This place was measured or passed over meanwhile."
ZERO: Final = "The zero"
TOOLS_MIXED: Final = "Readings of different tools: judged by the coarser one."
NOT_A_DATE: Final = "That is not a day and time."
UNUSABLE: Final = "A reading cannot be used: strike it and measure again."
SOMETHING_WRONG: Final = "Something is wrong"
LEAVE_IT: Final = "Leave it alone"
CANNOT_TELL: Final = "These readings cannot tell"


def zero_why(most_mm: float) -> str:
    """Why a zero is no more than so much."""
    return f"more than {plain(most_mm)} mm off, the tool is broken or not closed"


def zero_said(zero_mm: float) -> str:
    """A zero that was found wrong afterwards: the readings stay as they were read."""
    return (
        f"Closed, the tool read {signed(zero_mm, 3)} mm: that is taken off every reading, which stay as they were read."
    )


def unseen_said(half_width_pct: float) -> str:
    """What would not show [%], rounded up: less than that is never claimed."""
    return percent(math.ceil(10 * half_width_pct) / 10, 1)


def held_up_said(count: int) -> str:
    """Readings that keep the result as doubtful as they are."""
    one = count == 1
    return (
        f"{count} reading{'' if one else 's'} whose zero is known less well keep{'s' if one else ''} the doubt up: strike "
        f"{'it' if one else 'them'}, and read there again."
    )


def left_out_said(count: int) -> str:
    """Readings that would only add doubt."""
    one = count == 1
    return (
        f"{count} reading{'' if one else 's'} {'does' if one else 'do'} not count: the zero was known less well for "
        f"{'it' if one else 'them'}, and the others are enough by themselves."
    )


def zero_check_said(off_mm: float) -> str:
    """What the zero check before the readings found."""
    return f"Its zero check found it {signed(off_mm, 3)} mm off: that is taken off the readings after it."


def slip_said(shown: str, suggested: float, unit: Unit) -> str:
    """A number that looks like another with its point elsewhere."""
    return f"{shown} looks like a slipped point. Did you mean {plain(suggested)} {unit_text(unit.value)}?"


def not_above_zero_said(noun: str) -> str:
    """What every size is."""
    return f"A {noun} is above 0."


def struck_said(text: str, reason: str) -> str:
    """A reading that was struck out, and why."""
    return f"{text} struck out: {reason}"


def title_said(verdict: Verdict, reason: StrEnum, proposal: str, more: int | None) -> str:
    """A verdict in a few words; ``more``: readings that would settle it."""
    match verdict:
        case Verdict.APPLY:
            return f"Apply {proposal}"
        case Verdict.TRY:
            return f"Try {proposal}"
        case Verdict.KEEP:
            return LEAVE_IT
        case Verdict.REPEAT if reason is Reason.MORE_REPEATS and more:
            return f"Measure {more} more"
        case Verdict.REPEAT:
            return CANNOT_TELL
    return SOMETHING_WRONG


def change_said(old: float, new: float, places: int, up: str = "up", down: str = "down") -> str:
    """What a proposal replaces, for the plate."""
    moved = decimal_text(abs(new - old), places)
    if float(moved) == 0:
        return f"is {decimal_text(old, places)}, unchanged"
    return f"was {decimal_text(old, places)}, {up if new > old else down} {moved}"


def less_known_said(recorded: str, known: str, found: str) -> str:
    """A value that would replace one that is known better."""
    return f"On record, {recorded} is known to {known}; this run knows it to {found}."


def before_proof_said(verdict: Verdict, proposal: str, *, less_known: bool) -> str | None:
    """What is asked before something is applied that is not proven; None where the verdict itself says so.

    ``less_known``: it replaces a value that is known better, which even a try has to be asked for.
    """
    if verdict in {Verdict.APPLY, Verdict.REFUSE} or (verdict is Verdict.TRY and not less_known):
        return None
    if verdict is Verdict.TRY:
        return (
            f"{proposal} is a try, and what it replaces is known better. Apply it all the same? The record will say so."
        )
    return f"{proposal} is not proven to be better than what is set. Apply it anyway? The record will say so."


_EXAMPLES: Final = {Unit.G: "2.98", Unit.CELSIUS: "203.5"}


def not_a_number_said(typed: str, unit: Unit, implied: str) -> str:
    """Text that is no number, or none at all; ``implied``: how numbers begin that are read here, "0." for walls."""
    if not typed:
        return "Type what the tool shows, then Enter."
    like = f"{implied}47" if implied else _EXAMPLES.get(unit, "98.4")
    shows = f"{like} or {like.replace('.', ',')}"
    return f"“{typed}” is not a number Ubrex can read. Type what the tool shows, like {shows}."
