"""What to do next and why, what the rest will take, and what holds everything that heats."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.chain._standing import Standing
from ubrex.core.chain._steps import BASES, COSTS, STEPS, Cost, Step

SETTLED: Final = frozenset({Standing.FRESH, Standing.AGEING, Standing.HOLD, Standing.NOT_ON_MACHINE})
"""Standings that ask for nothing now."""

CARRIES: Final = frozenset({Standing.FRESH, Standing.AGEING, Standing.CHECK, Standing.ASSUMED, Standing.NOT_ON_MACHINE})
"""Standings of a base that the next step may rest on, saying so where it is not fresh."""

RESTS_UNSAID: Final = frozenset({Standing.FRESH, Standing.AGEING, Standing.NOT_ON_MACHINE})
"""Standings of a base that need no word."""


class Grade(StrEnum):
    """How sure it is that a machine stops heating when its sensor fails."""

    TESTED = "tested"
    MAKER_SAYS = "maker_says"
    UNKNOWN = "unknown"


class Danger(StrEnum):
    """What holds everything that heats until somebody says."""

    RUNAWAY_UNKNOWN = "runaway_unknown"
    LINER_UNKNOWN = "liner_unknown"


class NextReason(StrEnum):
    """Why a step is next, or that nothing is due."""

    DANGER = "danger"
    RUN_OPEN = "run_open"
    NEVER_MEASURED = "never_measured"
    ONLY_ASSUMED = "only_assumed"
    OUT = "out"
    NOT_READ_BACK = "not_read_back"
    CHANGED = "changed"
    OLD = "old"
    NOTHING_DUE = "nothing_due"


@dataclass(frozen=True, slots=True, kw_only=True)
class StepState:
    """Where one step stands."""

    standing: Standing
    verified: bool = True
    run_open: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Next:
    """The next step, why, and which of its bases are not fresh. ``step`` is None when nothing can be measured now."""

    step: Step | None
    reason: NextReason
    rests_on: tuple[Step, ...] = ()


def dangers(*, runaway: Grade, liner_known: bool) -> tuple[Danger, ...]:
    """What holds everything that heats; empty if nothing does."""
    found = []
    if runaway is Grade.UNKNOWN:
        found.append(Danger.RUNAWAY_UNKNOWN)
    if not liner_known:
        found.append(Danger.LINER_UNKNOWN)
    return tuple(found)


def next_step(states: Mapping[Step, StepState], *, can_run: Collection[Step], held: Sequence[Danger] = ()) -> Next:
    """The one next step; ``can_run``: those whose calibration exists.

    Danger first; then an open run, whose readings are already paid for; then the first step in order that is not settled,
    whose bases carry it and whose calibration exists; then what was not read back; then what is merely old.
    """
    if held:
        return Next(step=Step.SAFETY, reason=NextReason.DANGER)
    order = [step for step in STEPS if step in states]
    for step in order:
        if states[step].run_open:
            return _chosen(step, NextReason.RUN_OPEN, states)
    for step in order:
        if step in can_run and _due(states[step]) and all(_carries(base, states) for base in BASES[step]):
            return _chosen(step, _reason(states[step]), states)
    for step in order:
        if step in can_run and states[step].standing is Standing.AGEING:
            return _chosen(step, NextReason.OLD, states)
    return Next(step=None, reason=NextReason.NOTHING_DUE)


def rests_on(step: Step, states: Mapping[Step, StepState]) -> tuple[Step, ...]:
    """Bases of a step that are not fresh: what its result has to say it rests on."""
    return tuple(base for base in BASES[step] if base in states and states[base].standing not in RESTS_UNSAID)


def remaining(states: Mapping[Step, StepState]) -> list[tuple[Step, Cost]]:
    """Steps that still ask for something, in order, each with what it takes; what waits for dry filament too."""
    settled = SETTLED - {Standing.HOLD}
    return [(step, COSTS[step]) for step in STEPS if step in states and states[step].standing not in settled]


def total(costs: Iterable[Cost]) -> Cost:
    """What several steps take together."""
    rows = list(costs)
    return Cost(minutes=sum(row.minutes for row in rows), grams=sum(row.grams for row in rows))


def _due(state: StepState) -> bool:
    return state.standing not in SETTLED or not state.verified


def _carries(base: Step, states: Mapping[Step, StepState]) -> bool:
    return base not in states or states[base].standing in CARRIES


def _chosen(step: Step, reason: NextReason, states: Mapping[Step, StepState]) -> Next:
    return Next(step=step, reason=reason, rests_on=rests_on(step, states))


def _reason(state: StepState) -> NextReason:
    match state.standing:
        case Standing.NEVER:
            return NextReason.NEVER_MEASURED
        case Standing.STALE | Standing.RE_ENTER | Standing.CHECK:
            return NextReason.CHANGED
        case Standing.OUT:
            return NextReason.OUT
    return NextReason.ONLY_ASSUMED if state.verified else NextReason.NOT_READ_BACK
