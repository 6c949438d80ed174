"""For which parts a setup is good enough: *stop here* is a verdict too."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.chain._next import StepState
from ubrex.core.chain._standing import Standing
from ubrex.core.chain._steps import STEPS, Step


class Purpose(StrEnum):
    """What a part is for. It says which steps have to be good enough, and moves tolerances and picks; never a value."""

    EVERYDAY = "everyday"
    STRENGTH = "strength"
    LOOKS = "looks"
    FIT = "fit"
    LIGHTNESS = "lightness"


SHOWN: Final = frozenset({Standing.FRESH, Standing.AGEING, Standing.NOT_ON_MACHINE})
"""Standings of a value that was shown true here and not touched since."""

USABLE: Final = SHOWN | {Standing.ASSUMED, Standing.CHECK}
"""Standings of a value that an undemanding part can be printed with."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Needs:
    """Steps a purpose needs: ``shown`` ones measured here, ``usable`` ones at least typed and not stale."""

    shown: tuple[Step, ...]
    usable: tuple[Step, ...]


NEEDS: Final[Mapping[Purpose, Needs]] = {
    Purpose.EVERYDAY: Needs(shown=(), usable=(Step.E_STEPS, Step.Z_OFFSET, Step.TEMPERATURE)),
    Purpose.STRENGTH: Needs(shown=(Step.E_STEPS,), usable=(Step.HEAT, Step.Z_OFFSET, Step.TEMPERATURE, Step.FLOW)),
    Purpose.LOOKS: Needs(shown=(Step.E_STEPS,), usable=(Step.Z_OFFSET, Step.TEMPERATURE, Step.FLOW, Step.RETRACTION)),
    Purpose.FIT: Needs(shown=(Step.E_STEPS, Step.FLOW), usable=(Step.Z_OFFSET, Step.TEMPERATURE, Step.SIZE)),
    Purpose.LIGHTNESS: Needs(shown=(Step.E_STEPS,), usable=(Step.Z_OFFSET, Step.TEMPERATURE, Step.FLOW)),
}
"""What each purpose rests on (E)."""


def missing_for(purpose: Purpose, states: Mapping[Step, StepState]) -> tuple[Step, ...]:
    """Steps that keep a setup from being good enough for a purpose, in order; empty if it is."""
    needs = NEEDS[purpose]

    def lacks(step: Step, allowed: frozenset[Standing]) -> bool:
        return step not in states or states[step].standing not in allowed

    return tuple(
        step
        for step in STEPS
        if (step in needs.shown and lacks(step, SHOWN)) or (step in needs.usable and lacks(step, USABLE))
    )
