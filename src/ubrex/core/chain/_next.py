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

TOUCHED: Final = frozenset({Standing.STALE, Standing.RE_ENTER, Standing.CHECK, Standing.OUT})
"""Standings of a value that something was done to, or was found wrong: due also where no calibration exists."""

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
    SAFETY_STALE = "safety_stale"


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
    WAITS = "waits"
    NOTHING_DUE = "nothing_due"


@dataclass(frozen=True, slots=True, kw_only=True)
class StepState:
    """Where one step stands."""

    standing: Standing
    verified: bool = True
    run_open: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Next:
    """The next step, why, and which of its bases are not fresh. ``step`` is None when nothing is due.

    ``before``: the step that is waiting for it, where it is asked for because something rests on it.
    """

    step: Step | None
    reason: NextReason
    rests_on: tuple[Step, ...] = ()
    before: Step | None = None


def dangers(*, runaway: Grade, liner_known: bool, stale: bool = False) -> tuple[Danger, ...]:
    """What holds everything that heats; empty if nothing does.

    ``stale``: whether work was done on heater, sensor, fan, head or firmware since somebody went through the card.
    """
    found = []
    if runaway is Grade.UNKNOWN:
        found.append(Danger.RUNAWAY_UNKNOWN)
    if not liner_known:
        found.append(Danger.LINER_UNKNOWN)
    if stale:
        found.append(Danger.SAFETY_STALE)
    return tuple(found)


class Unattended(StrEnum):
    """What a print needs beside luck while nobody is near."""

    TESTED = "tested"
    FAN = "fan"
    FREE = "free"
    FILE = "file"


def unattended(*, tested: bool, fan_looked_at: bool, held: bool, file_checked: bool) -> tuple[Unattended, ...]:
    """What is missing before a print may run with nobody near; () if nothing is (job, section 9).

    ``tested``: the machine is known to stop heating, by a test and not by its maker's word. ``file_checked``: nothing
    harmful was found in that very file.
    """
    needs = (
        (Unattended.FREE, not held),
        (Unattended.TESTED, tested),
        (Unattended.FAN, fan_looked_at),
        (Unattended.FILE, file_checked),
    )
    return tuple(need for need, given in needs if not given)


def next_step(states: Mapping[Step, StepState], *, can_run: Collection[Step], held: Sequence[Danger] = ()) -> Next:
    """The one next step; ``can_run``: those whose calibration exists, the others take a typed value or a look.

    Danger first; then an open run, whose readings are already paid for; then the first step in order that can be run and is
    not settled, or what it rests on where that does not carry it; then any other that something was done to; then what was
    not read back; then what is merely old.
    """
    if held:
        return Next(step=Step.SAFETY, reason=NextReason.DANGER)
    order = [step for step in STEPS if step in states]
    for step in order:
        if states[step].run_open:
            return _chosen(step, NextReason.RUN_OPEN, states)
    # Whoever has no probe loses nothing by it before the first step that rests on it.
    by_itself = [step for step in order if step is not Step.HEAT or states[step].standing not in UNSEEN]
    for step in (*by_itself, *order):
        if step not in can_run or not _due(states[step]):
            continue
        base = _first_base(step, states)
        if base is None:
            return _chosen(step, reason_of(states[step]), states)
        if states[base].standing is not Standing.HOLD:
            return _chosen(base, reason_of(states[base]), states, before=step)
    for step in order:
        if states[step].standing in TOUCHED:
            return _chosen(step, reason_of(states[step]), states)
    for step in order:
        if states[step].standing is Standing.AGEING:
            return _chosen(step, NextReason.OLD, states)
    waits = any(state.standing is Standing.HOLD for state in states.values())
    return Next(step=None, reason=NextReason.WAITS if waits else NextReason.NOTHING_DUE)


UNSEEN: Final = frozenset({Standing.NEVER, Standing.ASSUMED})
"""A heat check that nobody made yet comes where temperature rests on it, not before e-steps and first layer."""


def _first_base(step: Step, states: Mapping[Step, StepState]) -> Step | None:
    """The lowest thing a step rests on that does not carry it: what that rests on comes before it. None if all do."""
    for base in BASES[step]:
        if base in states and not _carries(base, states):
            return _first_base(base, states) or base
    return None


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


def _chosen(step: Step, reason: NextReason, states: Mapping[Step, StepState], *, before: Step | None = None) -> Next:
    return Next(step=step, reason=reason, rests_on=rests_on(step, states), before=before)


def reason_of(state: StepState) -> NextReason:
    """Why a step asks for something, or that it does not."""
    if not _due(state):
        return NextReason.OLD if state.standing is Standing.AGEING else NextReason.NOTHING_DUE
    match state.standing:
        case Standing.NEVER:
            return NextReason.NEVER_MEASURED
        case Standing.STALE | Standing.RE_ENTER | Standing.CHECK:
            return NextReason.CHANGED
        case Standing.OUT:
            return NextReason.OUT
    return NextReason.ONLY_ASSUMED if state.verified else NextReason.NOT_READ_BACK
