"""Where setups stand: facts from the store, judged by the core. One setup or all of them go the same way."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property, lru_cache
from itertools import accumulate
from typing import Final, TypeAlias

from ubrex.core.chain import (
    AGEING,
    EFFECTS,
    KINDS,
    MAIN_KIND,
    SHOWS,
    SPEAKS_TOO,
    STEPS,
    AgeingLimits,
    Change,
    Danger,
    Done,
    Effect,
    Heats,
    Held,
    Kind,
    Origin,
    Since,
    Standing,
    Step,
    StepState,
    all_asked,
    standing,
    temperature_change,
)
from ubrex.core.judge import Parts
from ubrex.core.materials import Limit, family
from ubrex.core.quantity import Verdict
from ubrex.server.profile._held import DAY_S, confirmation, held_of
from ubrex.server.profile._parts import parts_of
from ubrex.server.profile._tuned import SAFETY_CHANGES, Tuned, dangers_with
from ubrex.server.store.facts import DoneRow, FactRows, KeptRow, PrintsRow, ReadBackRow, ValueRow, WrittenRow, fetch
from ubrex.server.store.records import Setup
from ubrex.server.workshop import scope_keys, unit_of_setting

_OPTIONAL: Final = frozenset({Step.LEVEL, Step.SEAM, Step.BED})
"""Steps that stay out of sight until somebody says a value: not every machine and every person has one."""

_FOLLOWED: Final[Mapping[str, Change]] = {
    Kind.E_STEPS: Change.E_STEPS_CHANGED,
    Kind.FLOW: Change.FLOW_CHANGED,
    Kind.Z_OFFSET: Change.Z_OFFSET_CHANGED,
    Kind.LINE_WIDTH: Change.LINE_SHAPE,
    Kind.LAYER: Change.LINE_SHAPE,
}

_EARLIER_TOO: Final = (*_FOLLOWED, Kind.NOZZLE)
"""Kinds whose earlier values count: what moved between two of them, and what a rescaled one was rescaled from."""

_READ_BACK: Final = [kind.value for kind, what in KINDS.items() if what.reads_back]
"""Kinds that a machine is asked for after it was switched on."""

_HEATED: Final = tuple((kind, what.heats) for kind, what in KINDS.items() if what.heats is not None)

_WETNESS: Final = frozenset({Change.WET, Change.DRIED, Change.SPOOL_SAME, Change.COLOUR_OTHER, Change.FILAMENT_OTHER})
"""Changes that count whenever they happened: what wet filament asks outlasts a measurement, and only these end it."""

_Part: TypeAlias = tuple[str, int]


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
    beyond: Limit | None = None
    other_form: bool = False
    untold: bool = False
    causes: Sequence[Done] = ()
    """All that was done since which asks as much as ``asked``, newest first."""

    def state(self) -> StepState:
        """The step as the core's choice of what is next sees it."""
        return _state(
            standing=self.standing,
            verified=self.verified,
            run_open=self.run_open is not None,
        )


@lru_cache(maxsize=128)
def _state(standing: Standing, verified: bool, run_open: bool) -> StepState:
    return StepState(standing=standing, verified=verified, run_open=run_open)


@dataclass(frozen=True)
class Standings(Tuned):
    """A setup with everything that is known of where it stands."""

    steps: Mapping[Step, StepFacts]
    states: Mapping[Step, StepState]
    """The steps as the core sees them."""
    beyond: Mapping[Kind, Limit]
    """The limits that values are hotter than, of those that do not keep all that hold now."""
    _given: Given

    @cached_property
    def parts(self) -> Parts:
        """What it is made of, worked out once for what was read."""
        return self._given.tuned.parts

    @property
    def held(self) -> tuple[Danger, ...]:
        """What holds everything that heats."""
        return self._given.log.dangers(self.setup)

    @property
    def last_print_s(self) -> float | None:
        """When something was printed on the machine last; None where nobody wrote a print down."""
        prints = self._given.log.prints.get(self.setup.toolhead.machine_id, ())
        return max((-alike.ages[0] for alike in prints if alike.ages), default=None)

    @property
    def fan_in_doubt(self) -> bool:
        """Whether nobody looked at the heat-sink fan since something was done to it, or ever."""
        safety = self.steps[Step.SAFETY]
        return safety.standing is Standing.NEVER or any(one.change is Change.HEAT_SINK_FAN for one in safety.causes)

    def done_at_s(self, change: Change) -> float | None:
        """When this was last done to any part of the setup; None if it is not logged."""
        log = self._given.log
        moments = [log.last[part, change] for part in self._given.parts if (part, change) in log.last]
        return max(moments, default=None)

    @property
    def typed_in(self) -> Mapping[int, bool]:
        """Which values are ticked as typed into the slicing program."""
        return self._given.log.rows.typed_in

    @property
    def kept(self) -> KeptRow | None:
        """The newest run of the toolhead that kept its e-steps."""
        return self._given.log.kept.get(self.setup.toolhead_id)

    def read_back(self, value: ValueRow) -> ReadBackRow | None:
        """The newest read-back of a value."""
        return self._given.log.read_backs.get(value.id)

    def with_change(self, change: Change, at_day: float, now: datetime) -> Standings:
        """Where the setup would stand had this been done to it too: nothing is written."""
        return judged(replace(self._given, extra=Done(change, at_day, _NOT_LOGGED)), now)


_NOT_LOGGED: Final = 2**62
"""Key of a change that is only thought of; newer than every logged one."""


class _Facts:
    """Rows sorted by what they are about, so that each setup finds its own without looking at all."""

    def __init__(self, rows: FactRows) -> None:
        self.rows = rows
        self.last: dict[tuple[_Part, str], float] = {}
        self.done: dict[_Part, dict[Step, list[Done]]] = defaultdict(lambda: defaultdict(list))
        self.wetness: dict[_Part, list[Done]] = defaultdict(list)
        for row in sorted(rows.done, key=lambda row: (row.at_s, row.id), reverse=True):
            part = _part_of(row)
            self.last[part, row.kind] = row.at_s
            done = Done(Change(row.kind), row.at_s / DAY_S, row.id)
            for step in EFFECTS[done.change]:
                self.done[part][step].append(done)
            if done.change in _WETNESS:
                self.wetness[part].append(done)
        self.prints: dict[int, list[_Prints]] = defaultdict(list)
        for print_row in rows.prints:
            self.prints[print_row.machine_id].append(_Prints(print_row))
        self.kept = {row.toolhead_id: row for row in rows.kept}
        self.read_backs = {row.value_id: row for row in rows.read_backs}
        self.open_runs: dict[int, dict[str, int]] = defaultdict(dict)
        for (setup_id, step_name), run_id in rows.open_runs.items():
            self.open_runs[setup_id][step_name] = run_id
        self.limits = {
            step: replace(usual, days=rows.limits[step.value]) if step.value in rows.limits else usual
            for step, usual in AGEING.items()
        }
        self.never = {
            (step, at): StepFacts(
                standing=at, value=None, shown_at_s=None, asked=None, since=_NOTHING, limits=self.limits[step]
            )
            for step in STEPS
            for at in (Standing.NEVER, Standing.NOT_ON_MACHINE)
        }
        self._caps: dict[tuple[Heats, int, int | None, float], Limit | None] = {}
        self._dangers: dict[int, tuple[Danger, ...]] = {}

    def wear_on(self, setup: Setup) -> _Wear:
        """What was printed on the machine of a setup."""
        return _Wear(self.prints.get(setup.toolhead.machine_id, ()), setup.nozzle_id, setup.surface_id)

    def cap(self, setup: Setup, heats: Heats, checked: ValueRow | None) -> Limit | None:
        """The strictest limit of a temperature; setups with the same parts share it."""
        bias = None if checked is None else checked.number
        key = (heats, setup.toolhead_id, setup.surface_id, bias or 0.0)
        if key not in self._caps:
            self._caps[key] = parts_of(setup, bias).limit_of(heats)
        return self._caps[key]

    def dangers(self, setup: Setup) -> tuple[Danger, ...]:
        """What holds everything that heats; setups on the same toolhead share it."""
        found = self._dangers.get(setup.toolhead_id)
        if found is None:
            machine_id = setup.toolhead.machine_id
            worked_on = max((self.last.get((("machine", machine_id), one), 0.0) for one in SAFETY_CHANGES), default=0.0)
            stale = worked_on > self.rows.safe_at.get(machine_id, 0.0)
            found = self._dangers[setup.toolhead_id] = dangers_with(setup, stale=stale)
        return found


def _part_of(row: DoneRow) -> _Part:
    if row.machine_id is not None:
        return "machine", row.machine_id
    if row.nozzle_id is not None:
        return "nozzle", row.nozzle_id
    if row.surface_id is not None:
        return "surface", row.surface_id
    if row.filament_id is not None:
        return "filament", row.filament_id
    return "setup", row.setup_id or 0


class _Prints:
    """Prints alike in everything but time and size, newest first: sums up to any moment are looked up, not added again."""

    def __init__(self, row: PrintsRow) -> None:
        self.nozzle_id, self.surface_id, self.abrasive = row.nozzle_id, row.surface_id, row.abrasive
        self.ages = [-float(at_s) for at_s in row.at_s.split()]
        self.hours = list(accumulate(map(float, row.hours.split()), initial=0.0))
        self.grams = list(accumulate(map(float, row.grams.split()), initial=0.0))


@dataclass(frozen=True, slots=True)
class _Wear:
    """What was printed on a machine, as one nozzle and one surface see it."""

    prints: Sequence[_Prints]
    nozzle_id: int
    surface_id: int | None

    def since(self, moment_s: float, days: float) -> Since:
        """What happened since a moment."""
        hours, count, plain_g, abrasive_g = 0.0, 0, 0.0, 0.0
        for alike in self.prints:
            place = bisect_left(alike.ages, -moment_s)
            hours += alike.hours[place]
            if alike.surface_id == self.surface_id:
                count += place
            if alike.nozzle_id == self.nozzle_id and alike.abrasive:
                abrasive_g += alike.grams[place]
            elif alike.nozzle_id == self.nozzle_id:
                plain_g += alike.grams[place]
        return Since(days=days, hours=hours, prints=count, plain_g=plain_g, abrasive_g=abrasive_g)


@dataclass(frozen=True)
class Given:
    """The facts on one setup, whatever the time; ``extra``: a change that is only thought of."""

    setup: Setup
    newest: Mapping[Kind, ValueRow]
    written: Sequence[WrittenRow]
    followed: Mapping[Step, Sequence[Done]]
    parts: tuple[_Part, ...]
    log: _Facts
    wear: _Wear
    open_runs: Mapping[str, int]
    lacks: frozenset[str]
    extra: Done | None = None

    @cached_property
    def tuned(self) -> Tuned:
        """The setup with its values, and nothing that grows older."""
        return Tuned(self.setup, self.newest)

    @cached_property
    def beyond(self) -> dict[Kind, Limit]:
        """Limits that temperatures are beyond: one within all of them may not be after a heat check or another head."""
        checked = self.newest.get(Kind.HEAT_BIAS)
        found = {}
        for kind, heats in _HEATED:
            value = self.newest.get(kind)
            limit = None if value is None else self.log.cap(self.setup, heats, checked)
            if value is not None and limit is not None and not limit.allows(value.number):
                found[kind] = limit
        return found


def standing_of(setup: Setup, now: datetime) -> Standings:
    """Where one setup stands."""
    return judged(facts_of([setup])[0], now)


def standings_of(setups: Sequence[Setup], now: datetime) -> list[Standings]:
    """Where each of these setups stands."""
    return [judged(given, now) for given in facts_of(setups)]


def facts_of(setups: Sequence[Setup]) -> list[Given]:
    """Everything that the standing of each of these setups rests on; the caller holds a connection."""
    return given_from(setups, fetch(setups, *asked_for(setups)))


def asked_for(setups: Sequence[Setup]) -> tuple[Sequence[str], Sequence[str], Sequence[str]]:
    """What the store is asked for of these setups: scopes, kinds whose earlier values count, kinds that are read back."""
    return sorted({key for setup in setups for key in scope_keys(setup).values()}), _EARLIER_TOO, _READ_BACK


def given_from(setups: Sequence[Setup], rows: FactRows) -> list[Given]:
    """Facts on each of these setups, from rows on all of them."""
    newest: dict[str, list[ValueRow]] = defaultdict(list)
    for value in rows.values:
        newest[value.scope].append(value)
    written: dict[str, list[WrittenRow]] = defaultdict(list)
    for row in sorted(rows.written, reverse=True):
        written[row.scope].append(row)
    log = _Facts(rows)
    return [_given(setup, tuple(scope_keys(setup).values()), newest, written, log) for setup in setups]


def _given(
    setup: Setup,
    keys: Sequence[str],
    newest: Mapping[str, Sequence[ValueRow]],
    written: Mapping[str, Sequence[WrittenRow]],
    log: _Facts,
) -> Given:
    ours = [row for key in keys for row in written.get(key, ())]
    return Given(
        setup=setup,
        newest={Kind(value.kind): value for key in keys for value in newest.get(key, ())},
        written=ours,
        followed=_followed(ours, setup),
        parts=(
            ("machine", setup.toolhead.machine_id),
            ("nozzle", setup.nozzle_id),
            ("surface", setup.surface_id or 0),
            ("filament", setup.filament_id),
            ("setup", setup.id or 0),
        ),
        log=log,
        wear=log.wear_on(setup),
        open_runs=log.open_runs.get(setup.id, {}),
        lacks=frozenset(setup.toolhead.machine.lacks),
    )


def _followed(written: Iterable[WrittenRow], setup: Setup) -> dict[Step, list[Done]]:
    """Changes that follow from values written one after the other, by step; of each kind the newest comes first."""
    found: dict[Step, list[Done]] = {}
    newer: dict[str, WrittenRow] = {}
    for value in written:
        after = newer.get(value.kind)
        newer[value.kind] = value
        if after is None or (after.number, after.unit) == (value.number, value.unit):
            continue
        change = _FOLLOWED.get(value.kind)
        if value.kind == Kind.NOZZLE:
            foaming = family(setup.filament.family).foaming
            change = temperature_change(value.number, after.number, foaming=foaming)
        if change is not None:
            done = Done(change, after.at_s / DAY_S, -after.id)
            for step in EFFECTS[change]:
                found.setdefault(step, []).append(done)
    return found


def judged(given: Given, now: datetime) -> Standings:
    """Where a setup stands by what is given, at a time."""
    now_s, newest = now.timestamp(), given.newest
    wetness = [done for part in given.parts if part in given.log.wetness for done in given.log.wetness[part]]
    if given.extra is not None and given.extra.change in _WETNESS:
        wetness.append(given.extra)
    if not any(done.change is Change.WET for done in wetness):
        wetness = []
    step_beyond: dict[Step, Limit] = {}
    for hot, limit in given.beyond.items():
        step_beyond.setdefault(KINDS[hot].step, limit)
    steps: dict[Step, StepFacts] = {}
    for step in STEPS:
        main = _speaks_for(step, newest)
        if main is None and not wetness and step is not Step.SAFETY and _shown_by_work(step, given) is None:
            if step not in _OPTIONAL or step in given.lacks:
                steps[step] = _never_told(step, given)
            continue
        facts = _step(step, main, given.followed.get(step, ()), wetness, given, step_beyond.get(step), now_s)
        if main is None and step in _OPTIONAL and facts.standing is Standing.NEVER:
            continue
        steps[step] = facts
    states = {step: facts.state() for step, facts in steps.items()}
    return Standings(given.setup, newest, steps, states, given.beyond, given)


def _speaks_for(step: Step, newest: Mapping[Kind, ValueRow]) -> ValueRow | None:
    """The value that a row shows; where its main one was never found, another that shows it was measured."""
    kinds = (MAIN_KIND.get(step), *SPEAKS_TOO.get(step, ()))
    return next((newest[kind] for kind in kinds if kind is not None and kind in newest), None)


def _never_told(step: Step, given: Given) -> StepFacts:
    """A step that nobody ever said or measured anything of: most of them, and alike on all setups but for an open run."""
    at = Standing.NOT_ON_MACHINE if step in given.lacks else Standing.NEVER
    facts = given.log.never[step, at]
    open_run = given.open_runs.get(step)
    return facts if open_run is None else replace(facts, run_open=open_run)


def _done_since(
    step: Step, since_day: float, followed: Sequence[Done], wetness: Sequence[Done], given: Given
) -> list[Done]:
    """What was done to any part after a day; and where filament got wet, whatever was said of wet and dry."""
    found = [done for done in wetness if done.at_day <= since_day]
    for part in given.parts:
        rows = given.log.done.get(part)
        if rows is None:
            continue
        for done in rows.get(step, ()):
            if done.at_day <= since_day:
                break
            found.append(done)
    found += [done for done in followed if done.at_day > since_day]
    # Wet and dry count for every step, whatever they ask of it.
    found += [done for done in wetness if done.at_day > since_day and step not in EFFECTS[done.change]]
    if given.extra is not None and step in EFFECTS[given.extra.change]:
        found.append(given.extra)
    return found


def _step(
    step: Step,
    value: ValueRow | None,
    followed: Sequence[Done],
    wetness: Sequence[Done],
    given: Given,
    beyond: Limit | None,
    now_s: float,
) -> StepFacts:
    log = given.log
    shown_at_s = _shown_at(value, given.written)
    # Safety has no value of its own: its card is what shows it.
    if step is Step.SAFETY:
        shown_at_s = log.rows.safe_at.get(given.setup.toolhead.machine_id)
    origin = None if value is None else Origin(value.origin)
    # Some work ends in what a run would show: then the step was seen to that day, whatever was written before.
    done_at_s = _shown_by_work(step, given)
    if done_at_s is not None and (shown_at_s is None or done_at_s > shown_at_s):
        shown_at_s, origin = done_at_s, Origin.MEASURED
    if step is Step.SAFETY and shown_at_s is not None:
        origin = Origin.MEASURED
    # What was applied before it was proven is no better known than what was kept on readings that could not tell.
    rests_on_it = value is not None and (value.action == "keep" or bool(value.before_proof))
    kept_verdict = value.verdict if value is not None and rests_on_it else None
    # A value that was written after its machine may have lost it was entered again then.
    read_at_s = None if value is None else value.at_s
    read_back = None if value is None else log.read_backs.get(value.id)
    if step is Step.E_STEPS and value is not None:
        kept = confirmation(value, log.kept.get(given.setup.toolhead_id))
        if kept is not None:
            shown_at_s, kept_verdict = kept.at_s, kept.verdict
    if value is not None and read_back is not None and read_back.matches:
        read_at_s = max(value.at_s, read_back.at_s)
    shown_day = None if shown_at_s is None else shown_at_s / DAY_S
    # A wet spool asks of what nobody has told yet, too.
    done: Sequence[Done] = wetness
    if origin is not None:
        done = _done_since(step, -1e9 if shown_day is None else shown_day, followed, wetness, given)
    causes: Sequence[Done] = ()
    if done:
        read_day = None if read_at_s is None else read_at_s / DAY_S
        causes = all_asked(step, done, shown_true_at=shown_day, read_back_at=read_day)
    asked = causes[0] if causes else None
    effect = None if asked is None else EFFECTS[asked.change][step]
    since = _NOTHING if shown_at_s is None else given.wear.since(shown_at_s, (now_s - shown_at_s) / DAY_S)
    other_form = (
        step is Step.E_STEPS and value is not None and value.unit != unit_of_setting(given.setup.toolhead.machine).value
    )
    untold = kept_verdict in _UNTOLD
    return StepFacts(
        standing=standing(
            origin=origin,
            since=since,
            limits=log.limits[step],
            asked=effect,
            out=kept_verdict == Verdict.APPLY,
            untold=untold,
            beyond_limit=beyond is not None,
            other_form=other_form,
            on_machine=step not in given.lacks,
        ),
        value=value,
        shown_at_s=shown_at_s,
        asked=asked,
        causes=causes,
        since=since,
        limits=log.limits[step],
        verified=value is None or not KINDS[Kind(value.kind)].reads_back or _verified(value, given, asked),
        run_open=given.open_runs.get(step),
        effect=effect,
        beyond=beyond,
        other_form=other_form,
        untold=untold,
    )


_UNTOLD: Final = frozenset({Verdict.REPEAT.value, Verdict.REFUSE.value, Verdict.TRY.value})
"""Verdicts on which a value was kept, or applied, without having been shown right: the readings could not tell, or said
otherwise."""


def _shown_by_work(step: Step, given: Given) -> float | None:
    """When work last showed a step to be right: levelling shows the level."""
    moments = [
        given.log.last[part, change]
        for change, shown in SHOWS.items()
        if shown is step
        for part in given.parts
        if (part, change) in given.log.last
    ]
    return max(moments, default=None)


_NOTHING: Final = Since(days=0.0)


def _verified(value: ValueRow, given: Given, asked: Done | None) -> bool:
    """Whether the machine is known to hold a value."""
    kept = given.log.kept.get(given.setup.toolhead_id) if value.kind == Kind.E_STEPS else None
    return held_of(value, kept, given.log.read_backs.get(value.id), asked) is Held.VERIFIED


def _shown_at(value: ValueRow | WrittenRow | None, written: Sequence[WrittenRow]) -> float | None:
    """When a value was last shown true; one that was rescaled is as old as what it was rescaled from."""
    while value is not None and value.carried_from is not None:
        source = next((row for row in written if row.id == value.carried_from), None)
        if source is None:
            break
        value = source
    if value is None:
        return None
    return value.at_s if value.run_ended_s is None else value.run_ended_s
