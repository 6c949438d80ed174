"""What work on a machine makes of the values that rest on it (job, section 4): light where the trade is light."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from enum import StrEnum
from typing import Final

from ubrex.core.chain._standing import Effect, Step


class Change(StrEnum):
    """Work on a machine that touches a step there is."""

    EXTRUDER = "extruder"
    GEAR_TENSION = "gear_tension"
    TOOLHEAD = "toolhead"
    FIRMWARE = "firmware"


EFFECTS: Final[Mapping[Change, Mapping[Step, Effect]]] = {
    Change.EXTRUDER: {Step.E_STEPS: Effect.REDO},
    Change.GEAR_TENSION: {Step.E_STEPS: Effect.CHECK},
    Change.TOOLHEAD: {Step.E_STEPS: Effect.REDO},
    Change.FIRMWARE: {Step.E_STEPS: Effect.RE_ENTER},
}
"""The matrix of job, section 4: rows of work on the machine, columns of the steps there are."""


def gravest(effects: Iterable[Effect]) -> Effect | None:
    """The effect that counts when several changes touch one step; None if none does."""
    asked = set(effects)
    return next((effect for effect in Effect if effect in asked), None)
