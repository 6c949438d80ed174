"""Standing of a step, and why it is next."""

from __future__ import annotations

from datetime import datetime

from ubrex.core.chain import NextReason, Standing
from ubrex.server.words.numbers import NBSP, ago, day

STEP_NAMES = {"e_steps": "E-steps"}
"""Names of the steps as they stand in the chain."""


def standing_word(standing: Standing) -> str:
    """The word beside the glyph."""
    return {
        Standing.NEVER: "Never measured",
        Standing.ASSUMED: "Assumed",
        Standing.FRESH: "Fresh",
        Standing.AGEING: "Ageing",
        Standing.CHECK: "Check",
        Standing.RE_ENTER: "Re-enter",
        Standing.STALE: "Stale",
    }[standing]


def standing_cause(standing: Standing, *, verified: bool, days: float, ageing_after: float, changed: str) -> str:
    """What stands behind the word; ``changed``: what was done to the machine, and when, where that is the cause."""
    if changed:
        return changed
    unread = "" if verified else "unverified: not read back yet"
    if standing is Standing.NEVER:
        return ""
    if standing is Standing.ASSUMED:
        return unread or "typed, not measured"
    if standing is Standing.AGEING:
        return unread or f"recheck after {ageing_after:.0f}{NBSP}days"
    return unread or f"measured {ago(days)}"


def next_said(reason: NextReason, *, setup: str, days: float, measured_at: datetime | None, touched: str) -> str:
    """Why the step is next, or that nothing is due; ``touched``: what a change asks for, where one does."""
    match reason:
        case NextReason.RUN_OPEN:
            return "A run is open. Go on where it was: the readings already taken count."
        case NextReason.NEVER_MEASURED:
            return f"Nothing measured on {setup} yet. Every number after this one rests on it."
        case NextReason.ONLY_TYPED:
            return "The value was typed, not measured. Flow and retraction would rest on a guess."
        case NextReason.NOT_READ_BACK:
            return "The last value was applied but not read back: some machines lose it when switched off."
        case NextReason.CHANGED:
            return touched
        case NextReason.OLD:
            when = f" on {day(measured_at)}" if measured_at else ""
            return (
                f"Last measured {ago(days)}{when}. Gears wear and screws turn: three feeds say whether it still holds."
            )
        case NextReason.NOTHING_DUE:
            return "Nothing is due. Measure again after work on the extruder, or when parts come out thin or thick."
