"""What was done to a machine, and what that makes of a value, in words."""

from __future__ import annotations

from ubrex.core.chain import Change, Effect
from ubrex.server.words.numbers import ago

CHANGES = {
    Change.EXTRUDER: "Extruder, gear or motor replaced",
    Change.GEAR_TENSION: "Gear cleaned, or its tension changed",
    Change.TOOLHEAD: "Whole toolhead replaced",
    Change.FIRMWARE: "Firmware flashed, or settings reset",
}
"""Work on a machine, as a person picks it from a list."""


def change_said(change: Change, days: float) -> str:
    """What was done, and when, as the cause of a standing."""
    done = {
        Change.EXTRUDER: "the extruder, its gear or motor was replaced",
        Change.GEAR_TENSION: "the gear was cleaned or its tension changed",
        Change.TOOLHEAD: "the toolhead was replaced",
        Change.FIRMWARE: "the firmware was flashed or its settings reset",
    }[change]
    return f"{done} {ago(days)}"


def touched(effect: Effect, change: Change) -> str:
    """What a change makes of e-steps, with its reason; said before it is saved."""
    why = {
        Change.EXTRUDER: "another gear feeds another length in each turn",
        Change.GEAR_TENSION: "tension and dirt move the feed a little, or not at all",
        Change.TOOLHEAD: "its gear and motor are others",
        Change.FIRMWARE: "the stored value may be lost",
    }[change]
    return {
        Effect.REDO: f"E-steps go stale: {why}. Measure them anew.",
        Effect.RE_ENTER: f"E-steps have to be looked up: {why}. Read the value back, and enter it again if it differs.",
        Effect.CHECK: f"E-steps want a check: {why}. Three feeds tell.",
    }[effect]
