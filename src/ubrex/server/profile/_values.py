"""Values, read-backs and revisions: written once, at the level they belong to, never changed."""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any, Final

from peewee import JOIN, fn

from ubrex.core.calibrate import Method, feed_ratio, strand_ratio
from ubrex.core.chain import EFFECTS, KINDS, SHOWN_HERE, Belongs, Done, Effect, Kind, Origin, Step, asked_of
from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import Unit, decimal_text, parse_entry
from ubrex.server.desk import Clash, FieldProblem, Refused, Work, find
from ubrex.server.profile._changes import done_on
from ubrex.server.profile._readings import counting, readings_of
from ubrex.server.profile._standing import DAY_S, Standings, confirmation
from ubrex.server.store.database import database
from ubrex.server.store.facts import MarginRows, ReadBackRow, ValueRow
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import (
    Decision,
    Instrument,
    Machine,
    Person,
    ReadBack,
    Revision,
    RevisionValue,
    Run,
    Setup,
    Toolhead,
    TunedValue,
)
from ubrex.server.views.values import ProvenanceOut, ReadBackIn, ReadBackOut, ValueOut
from ubrex.server.words.esteps import METHODS
from ubrex.server.words.machine import Keeping, read_back_said
from ubrex.server.words.numbers import age, plus_minus, to_its_place, unit_text
from ubrex.server.words.values import diameter_said, heat_said, origin_said, rescaled_said
from ubrex.server.words.walls import METHOD_NAMES
from ubrex.server.workshop import get_setup, owners, places_of, scope_keys, select_setups, unit_of_setting, usable_setup


@dataclass(frozen=True, slots=True)
class Evidence:
    """A value with what it rests on: when it was last shown true, whether the machine holds it, what was read."""

    value: ValueRow
    shown_true_at: datetime
    read_back: ReadBackOut
    typed: Sequence[str]


def select_values() -> Any:
    """Query for values with person, run, instrument and decision, in one go."""
    return (
        TunedValue.select(TunedValue, Person, Run, Instrument, Decision)
        .join(Person, on=(TunedValue.person == Person.id))
        .switch(TunedValue)
        .join(Run, JOIN.LEFT_OUTER, on=(TunedValue.run == Run.id))
        .join(Instrument, JOIN.LEFT_OUTER, on=(Run.instrument == Instrument.id))
        .switch(TunedValue)
        .join(Decision, JOIN.LEFT_OUTER, on=(TunedValue.decision == Decision.id))
    )


_HELD: Final = ReadBackOut(state="verified", sentence="")
_LOST: Final = ReadBackOut(state="unverified", sentence="The machine may have lost it: read it back again.")


def _newest_of_head_kind(kind: str, toolhead_id: int) -> Any:
    return (
        select_values()
        .where(TunedValue.kind == kind, TunedValue.toolhead == toolhead_id)
        .order_by(TunedValue.id.desc())
        .limit(1)
    )


def _of_head(toolhead_id: int, hotend_id: int) -> Any:
    esteps = (TunedValue.kind == Kind.E_STEPS.value) & (TunedValue.toolhead == toolhead_id)
    heat = (TunedValue.kind == Kind.HEAT_BIAS.value) & (TunedValue.hotend == hotend_id)
    newest_value = TunedValue.select(fn.MAX(TunedValue.id)).where(esteps | heat).group_by(TunedValue.kind)
    return TunedValue.select().where(TunedValue.id.in_(newest_value))


def _last_kept(toolhead_id: int) -> Any:
    return (
        Decision.select(Decision, Run)
        .join(Run)
        .join(Setup)
        .where(Decision.action == "keep", Setup.toolhead == toolhead_id)
        .order_by(Decision.id.desc())
        .limit(1)
    )


def _last_read_back(value_id: int) -> Any:
    return ReadBack.select().where(ReadBack.value == value_id).order_by(ReadBack.id.desc()).limit(1)


_NEWEST: Final[Prepared[TunedValue]] = Prepared(_newest_of_head_kind)
_OF_HEAD: Final[Prepared[TunedValue]] = Prepared(_of_head)
_LAST_KEPT: Final[Prepared[Decision]] = Prepared(_last_kept)
_LAST_READ_BACK: Final[Prepared[ReadBack]] = Prepared(_last_read_back)


def newest_esteps(toolhead_id: int) -> TunedValue | None:
    """The e-steps a toolhead is recorded to run with."""
    return _NEWEST.first(Kind.E_STEPS.value, toolhead_id)


def newest_of_head(head: Toolhead) -> dict[Kind, TunedValue]:
    """The e-steps of a toolhead and the heat check of its hotend, as far as there are any."""
    return {Kind(value.kind): value for value in _OF_HEAD.rows(head.id, head.hotend_id)}


def evidence_of(value: TunedValue, machine: Machine, *, done: Sequence[Done] = ()) -> Evidence:
    """What a value rests on: its run, any later run that confirmed it, and the last read-back.

    ``done``: what was done to the machine, for the value it runs with now; a value of the past has none.
    """
    run = value.run
    shown_at = value.at if run is None or run.ended_at is None else run.ended_at
    typed = [] if run is None else [row.typed for row in counting(readings_of(run.id))]
    if value.kind != Kind.E_STEPS.value:
        return Evidence(row_of(value), shown_at, ReadBackOut(state="verified", sentence=""), typed)
    kept = None if value.toolhead_id is None else _LAST_KEPT.first(value.toolhead_id)
    confirmed = kept is not None and kept.at > shown_at and kept.run.inputs["current"] == value.number
    if kept is not None and confirmed:
        shown_at = kept.at
    last = _LAST_READ_BACK.first(value.id)
    read_at = last.at if last is not None and last.matches else value.at
    asked = asked_of(
        Step.E_STEPS,
        done,
        shown_true_at=shown_at.timestamp() / DAY_S,
        read_back_at=read_at.timestamp() / DAY_S,
    )
    lost = asked is not None and EFFECTS[asked.change][Step.E_STEPS] is Effect.RE_ENTER
    row = row_of(value)
    old = value.replaces.number if value.replaces is not None else None
    if run is not None and row.origin != Origin.RESTORED.value:
        old = run.inputs["current"]
    state = _LOST if lost else _read_back_state(row, machine, last, confirmed, old)
    return Evidence(row, shown_at, state, typed)


def evidence_from(value: ValueRow, found: Standings, margin: MarginRows) -> Evidence:
    """What the e-steps of a setup rest on, from facts already fetched."""
    facts = found.steps[Step.E_STEPS]
    confirmed = confirmation(value, found.kept) is not None
    lost = facts.effect is Effect.RE_ENTER
    run = margin.measured
    old = margin.replaced
    if run is not None and value.origin != Origin.RESTORED.value:
        old = run.inputs["current"]
    state = _LOST if lost else _read_back_state(value, found.setup.toolhead.machine, found.read_back, confirmed, old)
    shown_at = datetime.fromtimestamp(facts.shown_at_s or value.at_s, UTC)
    return Evidence(value, shown_at, state, [] if run is None else [row.typed for row in run.readings])


def _read_back_state(
    value: ValueRow, machine: Machine, last: ReadBack | ReadBackRow | None, confirmed: bool, old: float | None
) -> ReadBackOut:
    """Whether the machine is known to hold a value.

    ``confirmed``: a later run read it there and kept it; ``old``: what the machine held before, where that is known.
    """
    if Origin(value.origin) not in SHOWN_HERE or confirmed or value.action == "keep":
        return ReadBackOut(state="verified", sentence="Read from the machine when it was measured.")
    if last is None:
        return ReadBackOut(state="unverified", sentence="Not read back from the machine yet.")
    said = read_back_said(
        setting=decimal_text(value.number, machine.setting_places),
        typed=last.typed,
        matches=last.matches,
        is_old=old is not None
        and math.isclose(last.number, old, abs_tol=0.51 * 10**-machine.setting_places, rel_tol=0),
        keeping=Keeping(machine.keeps_setting),
    )
    return ReadBackOut(state="verified" if last.matches else "differs", sentence=said)


def value_out(found: Evidence, machine: Machine, work: Work) -> ValueOut:
    """A value as a screen shows it, with where it comes from."""
    return row_out(found.value, machine, work, found)


def row_of(value: TunedValue) -> ValueRow:
    """A record as the row that standings are worked out from."""
    run, decision = value.run, value.decision
    return ValueRow(
        id=value.id,
        scope="",
        kind=value.kind,
        number=value.number,
        unit=value.unit,
        half_width_95=value.half_width_95,
        origin=value.origin,
        at_s=value.at.timestamp(),
        person=value.person.name,
        run_id=None if run is None else run.id,
        method=None if run is None else run.method,
        run_ended_s=None if run is None or run.ended_at is None else run.ended_at.timestamp(),
        instrument=None if run is None else run.instrument.name,
        action=None if decision is None else decision.action,
        verdict=None if decision is None else decision.verdict,
        before_proof=None if decision is None else decision.before_proof,
        rule_version=None if decision is None else decision.rule_version,
        decision_note=None if decision is None else decision.note,
        beside=value.beside,
        note=value.note,
        carried_from=value.carried_from_id,
    )


def row_out(value: ValueRow, machine: Machine, work: Work, found: Evidence | None = None) -> ValueOut:
    """A value as a screen shows it; ``found``: what e-steps rest on."""
    places = places_of(Kind(value.kind), machine)
    now_s = work.now.timestamp()
    if found is None:
        return _view(value, places, age((now_s - (value.run_ended_s or value.at_s)) / DAY_S))
    return _view(
        value, places, age((now_s - found.shown_true_at.timestamp()) / DAY_S), tuple(found.typed), found.read_back
    )


@lru_cache(maxsize=1024)
def _view(
    value: ValueRow, places: int, how_old: str, typed: tuple[str, ...] = (), read_back: ReadBackOut = _HELD
) -> ValueOut:
    """Made once for a value that is shown again and again: it never changes, only grows older."""
    kind = Kind(value.kind)
    heat = kind is Kind.HEAT_BIAS and value.beside is not None
    text = to_its_place(value.number, value.half_width_95, places=places)
    return ValueOut(
        id=value.id,
        kind=kind,
        name=KINDS[kind].name,
        number=value.number,
        unit=value.unit,
        unit_text="" if heat else unit_text(value.unit),
        half_width_95=value.half_width_95,
        text=heat_said(value.beside or 0.0, value.number) if heat else text,
        half_width_text="" if value.half_width_95 is None else plus_minus(value.half_width_95),
        setting=decimal_text(value.number, places),
        person=value.person,
        at=datetime.fromtimestamp(value.at_s, UTC),
        age=how_old,
        provenance=_provenance(value, typed),
        read_back=read_back,
    )


def _provenance(value: ValueRow, typed: Sequence[str]) -> ProvenanceOut:
    origin = Origin(value.origin)
    method = "" if value.method is None else _method_name(value.method)
    sentence = origin_said(origin, person=value.person, run_id=value.run_id, method=method)
    if value.before_proof:
        sentence += ", applied before it was proven"
    return ProvenanceOut(
        origin=origin,
        sentence=sentence,
        run_id=value.run_id,
        instrument=value.instrument,
        readings=", ".join(text.replace(",", ".") for text in typed),
        rule_version=value.rule_version,
        note=value.decision_note or value.note,
    )


def _method_name(method: str) -> str:
    return METHOD_NAMES[method] if method in METHOD_NAMES else METHODS[Method(method)].name.lower()


@dataclass(frozen=True, slots=True, kw_only=True)
class NewValue:
    """A value to write, at the level its kind belongs to."""

    kind: Kind
    number: float
    unit: Unit
    origin: Origin
    half_width_95: float | None = None
    run_id: int | None = None
    decision_id: int | None = None
    restored_from_id: int | None = None
    carried_from_id: int | None = None
    beside: float | None = None
    note: str = ""


def write_values(
    work: Work,
    setup: Setup,
    new: Sequence[NewValue],
    *,
    cause: str,
    note: str,
    from_number: int | None = None,
    stay: Collection[Kind] = (),
) -> None:
    """Write values of a setup, what follows from them, and a revision for every setup they are true for.

    ``from_number``: the revision of this very setup that is gone back to. ``stay``: kinds that are right beside the new
    values as they are, so that new e-steps do not rescale them. The caller holds the toolhead.
    """
    before, thick = newest_esteps(setup.toolhead_id), _diameter(setup)
    for value in new:
        _create(work, setup, value)
    after, thin = newest_esteps(setup.toolhead_id), _diameter(setup)
    touched = {setup.id: setup} | {
        row.id: row for value in new for row in _sharing(setup, KINDS[value.kind].belongs) if row.removed_at is None
    }
    if before is not None and after is not None and before.id != after.id and before.unit == after.unit:
        ratio = 1 / feed_ratio(before.number, after.number, Unit(after.unit))
        for row in touched.values():
            kinds = _moving(row, setup, stay)
            _rescale_flow(work, row, kinds, ratio, lambda flow: rescaled_said(flow, before.number, after.number))
    if thick != thin:
        for row in touched.values():
            kinds = _moving(row, setup, stay)
            _rescale_flow(
                work, row, kinds, 1 / strand_ratio(thick, thin), lambda flow: diameter_said(flow, thick, thin)
            )
    for row in touched.values():
        _write_revision(work, row, cause=cause, note=note, from_number=from_number if row.id == setup.id else None)


def _create(work: Work, setup: Setup, value: NewValue) -> None:
    own = owners(value.kind, setup)
    replaced = (
        TunedValue.select(TunedValue.id)
        .where(
            TunedValue.kind == value.kind.value, *(getattr(TunedValue, column) == key for column, key in own.items())
        )
        .order_by(TunedValue.id.desc())
        .first()
    )
    TunedValue.create(
        kind=value.kind.value,
        number=value.number,
        unit=value.unit.value,
        half_width_95=value.half_width_95,
        origin=value.origin.value,
        run=value.run_id,
        decision=value.decision_id,
        restored_from=value.restored_from_id,
        replaces=replaced,
        carried_from=value.carried_from_id,
        beside=value.beside,
        note=value.note,
        person=work.person(),
        at=work.now,
        **own,
    )


def _sharing(setup: Setup, belongs: frozenset[Belongs]) -> list[Setup]:
    """Setups in use that a value with this home is true for as well."""
    conditions = {
        Belongs.MACHINE: Toolhead.machine == setup.toolhead.machine_id,
        Belongs.TOOLHEAD: Setup.toolhead == setup.toolhead_id,
        Belongs.HOTEND: Toolhead.hotend == setup.toolhead.hotend_id,
        Belongs.NOZZLE: Setup.nozzle == setup.nozzle_id,
        Belongs.SURFACE: Setup.surface == setup.surface_id,
        Belongs.FILAMENT: Setup.filament == setup.filament_id,
    }
    return list(
        select_setups().where(Setup.removed_at.is_null(), *(conditions[thing] for thing in belongs)).order_by(Setup.id)
    )


FLOWS: Final = (Kind.FLOW, Kind.FLOW_THIN, Kind.FLOW_SOLID)


def _diameter(setup: Setup) -> float:
    """Diameter of the filament [mm] that the slicing program is recorded to hold."""
    return diameter_of(setup, newest_value(Kind.DIAMETER, setup))


def diameter_of(setup: Setup, value: ValueRow | TunedValue | None) -> float:
    """Diameter of the filament [mm] with this value for it: its stated one where there is none."""
    return setup.filament.diameter_mm if value is None else value.number


def _moving(setup: Setup, written: Setup, stay: Collection[Kind]) -> list[Kind]:
    """Flows of a setup that new e-steps move: not those that ``written`` has too and that are to stay."""
    return [kind for kind in FLOWS if kind not in stay or owners(kind, setup) != owners(kind, written)]


def _rescale_flow(work: Work, setup: Setup, kinds: Sequence[Kind], ratio: float, note: Callable[[float], str]) -> None:
    """Give a setup the flow that feeds as much as before: otherwise one error is corrected twice."""
    if ratio == 1:
        return
    for kind in kinds:
        flow = newest_value(kind, setup)
        if flow is None or flow.at >= work.now:
            continue
        shown_here = Origin(flow.origin) in SHOWN_HERE
        value = NewValue(
            kind=kind,
            number=flow.number * ratio,
            unit=Unit.PERCENT,
            half_width_95=None if flow.half_width_95 is None else flow.half_width_95 * ratio,
            origin=Origin.RESCALED if shown_here else Origin(flow.origin),
            run_id=flow.run_id,
            carried_from_id=flow.id,
            note=note(flow.number),
        )
        _create(work, setup, value)


def newest_heat(setup: Setup) -> TunedValue | None:
    """The heat check of a setup's hotend."""
    return newest_of_head(setup.toolhead).get(Kind.HEAT_BIAS)


def esteps_at(setup: Setup, moment: datetime) -> TunedValue | None:
    """The e-steps a toolhead was recorded to run with at a moment."""
    value: TunedValue | None = (
        TunedValue.select()
        .where(TunedValue.kind == Kind.E_STEPS.value, TunedValue.toolhead == setup.toolhead_id, TunedValue.at <= moment)
        .order_by(TunedValue.id.desc())
        .first()
    )
    return value


def newest_revision(setup_id: int) -> int | None:
    """Number of the newest revision of a setup."""
    number: int | None = Revision.select(fn.MAX(Revision.number)).where(Revision.setup == setup_id).scalar()
    return number


def newest_value(kind: Kind, setup: Setup) -> TunedValue | None:
    """The value of this kind that a setup runs with."""
    value: TunedValue | None = (
        select_values()
        .where(
            TunedValue.kind == kind.value,
            *(getattr(TunedValue, column) == key for column, key in owners(kind, setup).items()),
        )
        .order_by(TunedValue.id.desc())
        .first()
    )
    return value


def _write_revision(work: Work, setup: Setup, *, cause: str, note: str, from_number: int | None) -> None:
    """The values a setup has now, as its next revision."""
    scopes = list(scope_keys(setup).values())
    ids = [
        row[0]
        for row in database.execute_sql(
            "SELECT DISTINCT ON (kind) id FROM tuned_value WHERE scope = ANY(%s) ORDER BY kind, id DESC", (scopes,)
        )
    ]
    revision = Revision.create(
        setup=setup,
        number=(newest_revision(setup.id) or 0) + 1,
        cause=cause,
        from_number=from_number,
        note=note,
        person=work.person(),
        at=work.now,
    )
    RevisionValue.insert_many([{"revision": revision, "value": key} for key in ids]).execute()


def lock_toolhead(toolhead_id: int) -> None:
    """Let one decision on a toolhead happen at a time."""
    Toolhead.select().where(Toolhead.id == toolhead_id).for_update().get()


def read_back(work: Work, setup_id: int, value_id: int, form: ReadBackIn) -> ValueOut:
    """What the machine says after switching on: the value is verified only if it is the very setting."""
    person = work.person()
    setup = usable_setup(setup_id)
    machine = setup.toolhead.machine
    value = find(TunedValue, value_id, "value")
    recorded = newest_esteps(setup.toolhead_id)
    if recorded is None or recorded.id != value.id:
        raise Clash("This value has been replaced since. Read back the newest one.", code="value_replaced")
    if value.unit != unit_of_setting(machine).value:
        raise Clash(f"{machine.name} keeps its setting in another form since: measure it again.", code="other_form")
    try:
        number = parse_entry(form.typed, Unit(value.unit))
    except UnreadableEntry as error:
        said = (
            f"“{form.typed.strip()}” is not a number. Type what the machine shows."
            if form.typed.strip()
            else ("Type the number that the machine shows.")
        )
        raise Refused(FieldProblem("typed", "not_a_number", said)) from error
    if number <= 0:
        raise Refused(
            FieldProblem("typed", "not_above_zero", "A machine that works has a setting above 0. Look again.")
        )
    matches = math.isclose(number, value.number, abs_tol=0.51 * 10**-machine.setting_places, rel_tol=0)
    ReadBack.create(value=value, typed=form.typed.strip(), number=number, matches=matches, person=person, at=work.now)
    return value_out(evidence_of(recorded, machine, done=done_on(machine.id)), machine, work)


def recorded_setting(_work: Work, setup_id: int) -> str:
    """The e-steps a setup is recorded to run with, as its machine holds them; empty if there are none."""
    setup = get_setup(setup_id)
    recorded = newest_esteps(setup.toolhead_id)
    return "" if recorded is None else decimal_text(recorded.number, setup.toolhead.machine.setting_places)
