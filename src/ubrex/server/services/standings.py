"""Where setups stand: facts from the store, judged by the core. One setup or all of them go the same way."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Final

from ubrex.core.chain import (
    AGEING,
    EFFECTS,
    MAIN_KIND,
    SHOWN_HERE,
    AgeingLimits,
    Change,
    Danger,
    Done,
    Effect,
    Grade,
    Kind,
    Next,
    Origin,
    Since,
    Standing,
    Step,
    StepState,
    asked_of,
    dangers,
    next_step,
    standing,
    temperature_change,
)
from ubrex.core.materials import Liner, family
from ubrex.core.quantity import Verdict
from ubrex.server.services.scopes import scope_keys
from ubrex.server.store.facts import ChangeRow, FactRows, PrintRow, ReadBackRow, ValueRow, fetch
from ubrex.server.store.records import Setup

DAY_S: Final = 86400.0

CAN_RUN: Final = frozenset({Step.E_STEPS})
"""Steps whose calibration exists; the others take a typed value."""

_OPTIONAL: Final = frozenset({Step.LEVEL, Step.SEAM, Step.BED})
"""Steps that stay out of sight until somebody says a value: not every machine and every person has one."""

_FOLLOWED: Final = {
    Kind.E_STEPS: Change.E_STEPS_CHANGED,
    Kind.FLOW: Change.FLOW_CHANGED,
    Kind.Z_OFFSET: Change.Z_OFFSET_CHANGED,
    Kind.LINE_WIDTH: Change.LINE_SHAPE,
    Kind.LAYER: Change.LINE_SHAPE,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class StepFacts:
    """One step of one setup: its value, when that was last shown true, what was done since, and where it stands."""

    standing: Standing
    value: ValueRow | None
    shown_at_s: float | None
    asked: Done | None
    since: Since
    limits: AgeingLimits
    verified: bool = True
    run_open: int | None = None
    effect: Effect | None = None

    def state(self, step: Step) -> StepState:
        """The step as the core's choice of what is next sees it."""
        return StepState(
            standing=self.standing,
            verified=self.verified,
            run_open=self.run_open is not None,
            can_run=step in CAN_RUN,
        )


@dataclass(frozen=True, slots=True)
class Standings:
    """A setup with everything that is known of where it stands."""

    setup: Setup
    values: Mapping[Kind, ValueRow]
    steps: Mapping[Step, StepFacts]
    held: tuple[Danger, ...]
    next: Next
    changes: Sequence[ChangeRow]
    prints: Sequence[PrintRow]
    _given: _Given

    def with_change(self, change: Change, at_day: float, now: datetime) -> Standings:
        """Where the setup would stand had this been done to it too: nothing is written."""
        done = [*self._given.done, Done(change, at_day, _NOT_LOGGED)]
        return _judge(replace(self._given, done=done), now)


_NOT_LOGGED: Final = 2**62
"""Key of a change that is only thought of; newer than every logged one."""


@dataclass(frozen=True, slots=True)
class _Given:
    """The facts on one setup."""

    setup: Setup
    history: Sequence[ValueRow]
    done: Sequence[Done]
    changes: Sequence[ChangeRow]
    prints: Sequence[PrintRow]
    kept_at_s: float | None
    kept_out: bool
    kept_value: float | None
    read_back: ReadBackRow | None
    limits: Mapping[str, float]
    safe_at_s: float | None
    open_runs: Mapping[str, int]


def of_setup(setup: Setup, now: datetime) -> Standings:
    """Where one setup stands."""
    return of_setups([setup], now)[0]


def of_setups(setups: Sequence[Setup], now: datetime) -> list[Standings]:
    """Where each of these setups stands."""
    keys = [tuple(scope_keys(setup).values()) for setup in setups]
    rows = fetch(setups, sorted({key for one in keys for key in one}))
    by_scope: dict[str, list[ValueRow]] = defaultdict(list)
    for value in rows.values:
        by_scope[value.scope].append(value)
    log = _Log(rows)
    return [
        _judge(_given(setup, [value for key in one for value in by_scope[key]], rows, log), now)
        for setup, one in zip(setups, keys, strict=True)
    ]


def dangers_of(setup: Setup) -> tuple[Danger, ...]:
    """What holds everything that heats on this setup."""
    head = setup.toolhead
    return dangers(runaway=Grade(head.machine.runaway), liner_known=head.hotend.liner != Liner.UNKNOWN.value)


class _Log:
    """Rows sorted by what they are about, so that each setup finds its own without looking at all."""

    def __init__(self, rows: FactRows) -> None:
        self._by_part: dict[tuple[str, int], list[ChangeRow]] = defaultdict(list)
        for change in rows.changes:
            for part, key in (
                ("machine", change.machine_id),
                ("nozzle", change.nozzle_id),
                ("surface", change.surface_id),
                ("filament", change.filament_id),
                ("setup", change.setup_id),
            ):
                if key is not None:
                    self._by_part[part, key].append(change)
        self.prints: dict[int, list[PrintRow]] = defaultdict(list)
        for row in rows.prints:
            self.prints[row.machine_id].append(row)
        self.kept = {row.toolhead_id: row for row in rows.kept}
        self.read_backs = {row.value_id: row for row in rows.read_backs}
        self.open_runs: dict[int, dict[str, int]] = defaultdict(dict)
        for (setup_id, step), run_id in rows.open_runs.items():
            self.open_runs[setup_id][step] = run_id

    def changes_of(self, setup: Setup) -> list[ChangeRow]:
        """What was done to any part of a setup, newest first."""
        parts = (
            ("machine", setup.toolhead.machine_id),
            ("nozzle", setup.nozzle_id),
            ("surface", setup.surface_id or 0),
            ("filament", setup.filament_id),
            ("setup", setup.id),
        )
        found = [row for part in parts for row in self._by_part.get(part, ())]
        return sorted(found, key=lambda row: (row.at_s, row.id), reverse=True)


def _given(setup: Setup, history: list[ValueRow], rows: FactRows, log: _Log) -> _Given:
    history.sort(key=lambda value: value.id, reverse=True)
    changes = log.changes_of(setup)
    logged = [Done(Change(row.kind), row.at_s / DAY_S, row.id) for row in changes if not row.withdrawn]
    kept = log.kept.get(setup.toolhead_id)
    esteps = next((value for value in history if value.kind == Kind.E_STEPS), None)
    return _Given(
        setup=setup,
        history=history,
        done=logged + list(_followed(history, setup)),
        changes=changes,
        prints=log.prints.get(setup.toolhead.machine_id, ()),
        kept_at_s=None if kept is None else kept.at_s,
        kept_out=kept is not None and kept.verdict == Verdict.APPLY.value,
        kept_value=None if kept is None else kept.current,
        read_back=None if esteps is None else log.read_backs.get(esteps.id),
        limits=rows.limits,
        safe_at_s=rows.safe_at.get(setup.toolhead.machine_id),
        open_runs=log.open_runs.get(setup.id, {}),
    )


def _followed(history: Iterable[ValueRow], setup: Setup) -> Iterable[Done]:
    """Changes that follow from values written one after the other; ``history`` is newest first."""
    foaming = family(setup.filament.family).foaming
    newer: dict[str, ValueRow] = {}
    for value in history:
        after = newer.get(value.kind)
        newer[value.kind] = value
        if after is None or (after.number, after.unit) == (value.number, value.unit):
            continue
        change = _FOLLOWED.get(Kind(value.kind))
        if value.kind == Kind.NOZZLE:
            change = temperature_change(value.number, after.number, foaming=foaming)
        if change is not None:
            yield Done(change, after.at_s / DAY_S, -after.id)


def _judge(given: _Given, now: datetime) -> Standings:
    setup = given.setup
    newest: dict[Kind, ValueRow] = {}
    for value in given.history:
        newest.setdefault(Kind(value.kind), value)
    by_id = {value.id: value for value in given.history}
    by_step: dict[Step, list[Done]] = defaultdict(list)
    for done in given.done:
        for step in EFFECTS[done.change]:
            by_step[step].append(done)
    # Drying and another spool ask nothing of some steps, and yet end what wet filament asked.
    drying = [done for done in given.done if done.change in _DRY]
    steps: dict[Step, StepFacts] = {}
    for step in Step:
        kind = MAIN_KIND.get(step)
        main = None if kind is None else newest.get(kind)
        mine = by_step[step] + [done for done in drying if step not in EFFECTS[done.change]]
        found = _step(step, main, mine, given, by_id, now.timestamp())
        if step in _OPTIONAL and main is None and found.standing is Standing.NEVER:
            continue
        steps[step] = found
    held = dangers_of(setup)
    chosen = next_step({step: facts.state(step) for step, facts in steps.items()}, held=held)
    return Standings(setup, newest, steps, held, chosen, given.changes, given.prints, given)


_DRY: Final = frozenset({Change.DRIED, Change.SPOOL_SAME, Change.COLOUR_OTHER, Change.FILAMENT_OTHER})


def _step(
    step: Step,
    value: ValueRow | None,
    done: Sequence[Done],
    given: _Given,
    by_id: Mapping[int, ValueRow],
    now_s: float,
) -> StepFacts:
    shown_at_s = given.safe_at_s if step is Step.SAFETY else _shown_at(value, by_id)
    origin = None if value is None else Origin(value.origin)
    if step is Step.SAFETY and shown_at_s is not None:
        origin = Origin.MEASURED
    out = value is not None and value.action == "keep" and value.verdict == Verdict.APPLY.value
    read_at_s = None
    if step is Step.E_STEPS and value is not None:
        if given.kept_at_s is not None and given.kept_at_s > value.at_s and given.kept_value == value.number:
            shown_at_s, out = given.kept_at_s, given.kept_out
        read_at_s = None if given.read_back is None or not given.read_back.matches else given.read_back.at_s
    asked = asked_of(
        step,
        done,
        shown_true_at=None if shown_at_s is None else shown_at_s / DAY_S,
        read_back_at=None if read_at_s is None else read_at_s / DAY_S,
    )
    limits = AGEING[step]
    if step.value in given.limits:
        limits = replace(limits, days=given.limits[step.value])
    since = _since(given, shown_at_s, now_s)
    effect = None if asked is None else EFFECTS[asked.change][step]
    return StepFacts(
        standing=standing(
            origin=origin,
            since=since,
            limits=limits,
            asked=effect,
            out=out,
            on_machine=step.value not in given.setup.toolhead.machine.lacks,
        ),
        value=value,
        shown_at_s=shown_at_s,
        asked=asked,
        since=since,
        limits=limits,
        verified=step is not Step.E_STEPS or value is None or _verified(value, given, effect),
        run_open=given.open_runs.get(step.value),
        effect=effect,
    )


def _verified(value: ValueRow, given: _Given, effect: Effect | None) -> bool:
    """Whether the machine is known to hold its e-steps: read there when measured or typed, or read back since."""
    if effect is Effect.RE_ENTER:
        return False
    if Origin(value.origin) not in SHOWN_HERE or value.action == "keep":
        return True
    confirmed = given.kept_at_s is not None and given.kept_at_s > value.at_s and given.kept_value == value.number
    return confirmed or (given.read_back is not None and given.read_back.matches)


def _shown_at(value: ValueRow | None, by_id: Mapping[int, ValueRow]) -> float | None:
    """When a value was last shown true; one that was rescaled is as old as what it was rescaled from."""
    while value is not None and value.carried_from is not None and value.carried_from in by_id:
        value = by_id[value.carried_from]
    if value is None:
        return None
    return value.at_s if value.run_ended_s is None else value.run_ended_s


def _since(given: _Given, shown_at_s: float | None, now_s: float) -> Since:
    """What happened to machine and nozzle since a moment."""
    if shown_at_s is None:
        return Since(days=0.0)
    later = [row for row in given.prints if row.at_s > shown_at_s]
    through = [row for row in later if row.nozzle_id == given.setup.nozzle_id]
    return Since(
        days=(now_s - shown_at_s) / DAY_S,
        hours=sum(row.hours for row in later),
        prints=sum(row.surface_id == given.setup.surface_id for row in later),
        plain_g=sum(row.grams for row in through if not row.abrasive),
        abrasive_g=sum(row.grams for row in through if row.abrasive),
    )
