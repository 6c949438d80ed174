"""Standing of a step, and why it is next."""

from __future__ import annotations

from datetime import datetime
from typing import Final

from ubrex.core.chain import Danger, NextReason, Origin, Standing, Step
from ubrex.server.words.numbers import NBSP, ago, day, plain

STEP_NAMES: Final[dict[str, str]] = {
    Step.SAFETY: "Safe to tune",
    Step.HEAT: "Heat check",
    Step.E_STEPS: "E-steps",
    Step.LEVEL: "Level",
    Step.Z_OFFSET: "Z-offset",
    Step.TEMPERATURE: "Temperature",
    Step.FLOW: "Flow",
    Step.PRESSURE: "Pressure compensation",
    Step.RETRACTION: "Retraction",
    Step.SEAM: "Seam gap",
    Step.SIZE: "Size and fit",
    Step.TOP_SPEED: "Top speed",
    Step.BED: "Bed",
}
"""Names of the steps as they stand in the chain."""

ROW_NAMES: Final[dict[str, str]] = STEP_NAMES | {Step.Z_OFFSET: "Level and Z-offset"}
"""Names of the nine rows, by the step whose value they show."""

CURES: Final[dict[str, str]] = {
    Step.HEAT: "The melt may be 10 °C from what the display shows, and every temperature here is read off it.",
    Step.E_STEPS: "An extruder that feeds more or less than it is told makes every line too fat or too thin.",
    Step.LEVEL: "One corner of a part sticks and the other does not.",
    Step.Z_OFFSET: "Too high, and lines lie loose side by side; too low, and they are squeezed into ridges.",
    Step.TEMPERATURE: "Too hot strings and sags; too cold splits between layers.",
    Step.FLOW: "Walls come out too fat or too thin, tops rough or open, and joints do not fit.",
    Step.PRESSURE: "Corners bulge, and the line behind them is thin.",
    Step.RETRACTION: "Strings between parts, or gaps where a line begins.",
    Step.SEAM: "A blob or a gap where each wall closes.",
    Step.SIZE: "Holes come out tight and outsides large, the same way on every part.",
    Step.TOP_SPEED: "Faster than the hotend melts, lines starve and layers split.",
    Step.BED: "Corners lift, or the part does not come off.",
}
"""What goes wrong in a print while a step is not right: why anybody would measure it."""

DANGERS: Final = {
    Danger.RUNAWAY_UNKNOWN: (
        "Nobody has said whether this machine stops heating when its sensor fails. "
        "Look in its maker's papers; never test it by pulling a sensor from a hot block."
    ),
    Danger.LINER_UNKNOWN: (
        "Nobody has said where the liner of this hotend ends. "
        "One that reaches into the hot zone gives off fumes above 240 °C."
    ),
    Danger.SAFETY_STALE: (
        "Heater, sensor, heat-sink fan, head or firmware were worked on, or it crashed, since somebody went through the "
        "card. Go through it again, and stay for all of the first job after."
    ),
}
"""Why nothing that heats is offered."""


NOTHING_WRITTEN: Final = "Nothing was written: there is nothing to keep."
NOT_SET: Final = "Not set"
TOO_HOT: Final = "Too hot"
OUT_OF_LIMITS: Final = "Out of limits"
CHOSEN: Final = "Chosen"


def on_purpose_said(calibrated: str, bias_pct: float) -> str:
    """A flow that is typed with its bias in it."""
    return f"calibrated {calibrated}, {bias_pct:.0f} % of it on purpose"


COULD_NOT_TELL: Final = "The readings it rests on could not tell. A few more, or a finer tool, say whether it is right."


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
        Standing.HOLD: "Hold",
        Standing.OUT: "Out of tolerance",
        Standing.NOT_ON_MACHINE: "Not on this machine",
    }[standing]


def standing_cause(
    standing: Standing,
    *,
    verified: bool,
    days: float,
    ageing_after: float,
    changed: str,
    origin: Origin | None,
    limit: str = "",
    other_form: bool = False,
    untold: bool = False,
    before_proof: bool = False,
) -> str:
    """What stands behind the word.

    ``changed``: what was done, and when, where that is the cause; ``limit``: the one that a temperature is beyond;
    ``other_form``: its machine keeps such a number otherwise now; ``untold``: it was kept on readings that could not
    tell, or, ``before_proof``, applied on them.
    """
    if standing is Standing.NOT_ON_MACHINE:
        return "the next step carries the load"
    # In the order of ``standing``: what decided the word is what is told, and nothing else.
    if limit:
        return f"too hot, {limit}"
    if other_form:
        return "the machine keeps it in a different form since"
    if changed:
        return changed
    # Said before any age: the machine may not have the value at all.
    unread = "" if verified else "unverified: not read back yet"
    if standing is Standing.NEVER:
        return ""
    if untold and standing is Standing.CHECK:
        return "applied before it was proven" if before_proof else "kept, though the readings could not tell"
    if standing is Standing.OUT:
        return "the last run found it outside its tolerance, and it was kept"
    if standing is Standing.ASSUMED:
        how = {
            Origin.LABEL: "from the label",
            Origin.FAMILY: "usual for the family",
            Origin.COPIED: "copied, not measured",
            Origin.READ_FROM_FILE: "read from a file",
            Origin.ATTEMPT: "kept from an attempt",
        }
        return unread or how.get(origin or Origin.TYPED, "typed")
    if standing is Standing.AGEING:
        worn = days <= ageing_after
        return unread or ("much was printed since" if worn else f"recheck after {ageing_after:.0f}{NBSP}days")
    return unread or f"measured {ago(days)}"


def next_said(reason: NextReason, *, step: Step | None, days: float, measured_at: datetime | None, touched: str) -> str:
    """Why the step is next, or that nothing is due; ``touched``: what a change asks for, where one does."""
    match reason:
        case NextReason.DANGER:
            return "Before anything is heated, say whether it is safe to tune."
        case NextReason.RUN_OPEN:
            return "A run is open. Go on where it was: the readings already taken count."
        case NextReason.NEVER_MEASURED:
            return CURES.get(step or "", "")
        case NextReason.ONLY_ASSUMED:
            return "The value was never measured here. What follows would rest on a guess."
        case NextReason.OUT:
            return "The last run found it off by more than its tolerance, and it was kept. What follows inherits the error."
        case NextReason.NOT_READ_BACK:
            return "The last value was applied but not read back: some machines lose it when switched off."
        case NextReason.CHANGED:
            return touched or COULD_NOT_TELL
        case NextReason.OLD:
            when = f" on {day(measured_at)}" if measured_at else ""
            return f"Last measured {ago(days)}{when}. Gears wear and screws turn: a few readings say whether it still holds."
        case NextReason.WAITS:
            return "What is left waits until the filament is dry."
        case NextReason.NOTHING_DUE:
            return "Nothing to measure now. What was never measured takes a typed value, and stays assumed."


def assume_said(off_c: float) -> str:
    """A display that is taken as true."""
    return f"No probe: take the display as true, ±{NBSP}{off_c:.0f}{NBSP}°C"


def before_said(step: Step) -> str:
    """Why a step without a calibration is next."""
    return f"{STEP_NAMES[step]} rests on it: look it up and type it in, or say that this machine does not offer it."


def level_said(word: str, days: float, out_mm: float | None) -> str:
    """When a bed was levelled, how that stands, and how far out it was found."""
    out = "" if out_mm is None else f", {plain(round(out_mm, 2))}{NBSP}mm out"
    return f"Level: {word.lower()}, seen to {ago(days)}{out}"


def other_form_said(machine: str) -> str:
    """What to do where a number on record cannot be entered any more."""
    return f"The number on record cannot be entered there. Read the one that {machine} has now, and feed a length."


def rests_said(steps: tuple[Step, ...]) -> str:
    """What a result rests on that is not fresh; empty if nothing is."""
    names = " and ".join(STEP_NAMES[step] for step in steps)
    return f"It will rest on {names}, which nobody has shown true here." if steps else ""
