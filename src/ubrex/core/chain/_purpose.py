"""For which parts a setup is good enough: *stop here* is a verdict too."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
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
    Purpose.EVERYDAY: Needs(shown=(Step.E_STEPS,), usable=(Step.LEVEL, Step.Z_OFFSET, Step.TEMPERATURE)),
    Purpose.STRENGTH: Needs(
        shown=(Step.E_STEPS, Step.TEMPERATURE), usable=(Step.HEAT, Step.LEVEL, Step.Z_OFFSET, Step.FLOW)
    ),
    Purpose.LOOKS: Needs(
        shown=(Step.E_STEPS, Step.FLOW), usable=(Step.LEVEL, Step.Z_OFFSET, Step.TEMPERATURE, Step.RETRACTION)
    ),
    Purpose.FIT: Needs(
        shown=(Step.E_STEPS, Step.FLOW), usable=(Step.LEVEL, Step.Z_OFFSET, Step.TEMPERATURE, Step.SIZE)
    ),
    Purpose.LIGHTNESS: Needs(shown=(Step.E_STEPS, Step.FLOW), usable=(Step.LEVEL, Step.Z_OFFSET, Step.TEMPERATURE)),
}
"""What each purpose rests on (E). No purpose is served by typed numbers alone: what is fed is measured for all of them, and
beside it what the purpose hangs on: the bond of a bracket, the walls of a joint or a show piece, both of a shell of foam."""

MAY_LACK: Final = frozenset({Step.LEVEL})
"""Steps that count only where somebody said anything of them: not every bed has screws."""

BAD_PRINTS, OF_PRINTS = 2, 3
"""So many of the last so many prints that failed say that something is wrong, whatever was measured (E)."""

BLOCKAGES, BLOCKAGE_DAYS = 2, 30.0
"""So many blockages in so many days say the same (job, section 7; E)."""


class Against(StrEnum):
    """What speaks against a setup for any purpose, whatever its numbers say."""

    HELD = "held"
    BAD_PRINTS = "bad_prints"
    BLOCKAGES = "blockages"
    DOES_NOT_FOAM = "does_not_foam"


def against(
    purpose: Purpose, *, held: bool, last_outcomes: Sequence[bool], blocked_days_ago: Sequence[float], foams: bool
) -> Against | None:
    """The first thing that speaks against a setup for a purpose before any of its numbers is looked at.

    ``last_outcomes``: whether prints came out well, newest first. ``blocked_days_ago``: when the machine was blocked.
    """
    if held:
        return Against.HELD
    if purpose is Purpose.LIGHTNESS and not foams:
        return Against.DOES_NOT_FOAM
    if sum(days <= BLOCKAGE_DAYS for days in blocked_days_ago) >= BLOCKAGES:
        return Against.BLOCKAGES
    if list(last_outcomes[:OF_PRINTS]).count(False) >= BAD_PRINTS:
        return Against.BAD_PRINTS
    return None


def missing_for(purpose: Purpose, states: Mapping[Step, StepState]) -> tuple[Step, ...]:
    """Steps that keep a setup from being good enough for a purpose, in order; empty if it is."""
    needs = NEEDS[purpose]

    def lacks(step: Step, allowed: frozenset[Standing]) -> bool:
        if step not in states:
            return step not in MAY_LACK
        return states[step].standing not in allowed

    return tuple(
        step
        for step in STEPS
        if (step in needs.shown and lacks(step, SHOWN)) or (step in needs.usable and lacks(step, USABLE))
    )
