"""Values, read-backs and revisions: written once, at the level they belong to, never changed."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from peewee import JOIN, fn

from ubrex.core.calibrate import Method
from ubrex.core.chain import Effect, Origin, Step
from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import Unit, decimal_text, parse_entry
from ubrex.server.services import changes, readings
from ubrex.server.services.errors import Clash, FieldProblem, Refused
from ubrex.server.services.setups import get_setup, usable_setup
from ubrex.server.services.views import ProvenanceOut, ReadBackIn, ReadBackOut, ValueOut
from ubrex.server.services.work import Work, find
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import (
    Decision,
    Instrument,
    LoggedChange,
    Machine,
    Person,
    ReadBack,
    Reading,
    Revision,
    RevisionValue,
    Run,
    Setup,
    Toolhead,
    TunedValue,
)
from ubrex.server.words.esteps import METHODS
from ubrex.server.words.machine import Keeping, read_back_said
from ubrex.server.words.numbers import age, plus_minus, to_its_place, unit_text
from ubrex.server.words.standing import STEP_NAMES

DAY_S = 86400.0


@dataclass(frozen=True, slots=True)
class Evidence:
    """A value with what it rests on: when it was last shown true, what was done to the machine since, its readings."""

    value: TunedValue
    shown_true_at: datetime
    changed: LoggedChange | None
    read_back: ReadBackOut
    readings: Sequence[Reading]


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


def _newest(kind: str, toolhead_id: int) -> Any:
    return (
        select_values()
        .where(TunedValue.kind == kind, TunedValue.toolhead == toolhead_id)
        .order_by(TunedValue.id.desc())
        .limit(1)
    )


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


_NEWEST: Final[Prepared[TunedValue]] = Prepared(_newest)
_LAST_KEPT: Final[Prepared[Decision]] = Prepared(_last_kept)
_LAST_READ_BACK: Final[Prepared[ReadBack]] = Prepared(_last_read_back)


def newest_esteps(toolhead_id: int) -> TunedValue | None:
    """The e-steps a toolhead is recorded to run with."""
    return _NEWEST.first(Step.E_STEPS.value, toolhead_id)


def evidence(value: TunedValue, machine: Machine, logged: Sequence[LoggedChange] = ()) -> Evidence:
    """What a value rests on: its run, any later run that confirmed it, and the last read-back.

    ``logged``: what was done to the machine, for the value it runs with now; a value of the past has none.
    """
    run = value.run
    shown_at = value.at if run is None or run.ended_at is None else run.ended_at
    kept = None if value.toolhead_id is None else _LAST_KEPT.first(value.toolhead_id)
    confirmed = kept is not None and kept.at > shown_at and kept.run.inputs["current"] == value.number
    if kept is not None and confirmed:
        shown_at = kept.at
    taken = [] if run is None else readings.counting(readings.of_run(run.id))
    last = _LAST_READ_BACK.first(value.id)
    read_at = last.at if last is not None and last.matches else None
    changed = changes.counting(logged, Step.E_STEPS, since=shown_at, read_back_at=read_at)
    lost = changed is not None and changes.effect_of(changed, Step.E_STEPS) is Effect.RE_ENTER
    state = (
        ReadBackOut(state="unverified", sentence="The machine may have lost it: read it back again.")
        if lost
        else _read_back_state(value, machine, last, confirmed)
    )
    return Evidence(value, shown_at, changed, state, taken)


def _read_back_state(value: TunedValue, machine: Machine, last: ReadBack | None, confirmed: bool) -> ReadBackOut:
    """Whether the machine is known to hold a value; ``confirmed``: a later run read it there and kept it."""
    kept = value.decision is not None and value.decision.action == "keep"
    if value.origin == Origin.TYPED.value or confirmed or kept:
        return ReadBackOut(state="verified", sentence="Read from the machine when it was measured.")
    if last is None:
        return ReadBackOut(state="unverified", sentence="Not read back from the machine yet.")
    said = read_back_said(
        setting=decimal_text(value.number, machine.setting_places),
        typed=last.typed,
        matches=last.matches,
        is_old=_is_old_value(value, last.number, machine.setting_places),
        keeping=Keeping(machine.keeps_setting),
    )
    return ReadBackOut(state="verified" if last.matches else "differs", sentence=said)


def view(found: Evidence, machine: Machine, work: Work) -> ValueOut:
    """A value as a screen shows it, with where it comes from."""
    value = found.value
    places = machine.setting_places
    return ValueOut(
        id=value.id,
        kind=Step(value.kind),
        name=STEP_NAMES[value.kind],
        number=value.number,
        unit=value.unit,
        unit_text=unit_text(value.unit),
        half_width_95=value.half_width_95,
        text=to_its_place(value.number, value.half_width_95, places=places),
        half_width_text="" if value.half_width_95 is None else plus_minus(value.half_width_95),
        setting=decimal_text(value.number, places),
        person=value.person.name,
        at=value.at,
        age=age((work.now - found.shown_true_at).total_seconds() / DAY_S),
        provenance=_provenance(found),
        read_back=found.read_back,
    )


def _provenance(found: Evidence) -> ProvenanceOut:
    value = found.value
    origin = Origin(value.origin)
    run = value.run
    decision = value.decision
    method = "" if run is None else METHODS[Method(run.method)].name.lower()
    sentence = {
        Origin.MEASURED: "" if run is None else f"run {run.id}, {method}",
        Origin.TYPED: f"typed by {value.person.name}",
        Origin.RESTORED: "brought back" + ("" if run is None else f", measured in run {run.id}"),
    }[origin]
    if decision is not None and decision.before_proof:
        sentence += ", applied before it was proven"
    return ProvenanceOut(
        origin=origin,
        sentence=sentence,
        run_id=None if run is None else run.id,
        instrument=None if run is None else run.instrument.name,
        readings=", ".join(reading.typed.replace(",", ".") for reading in found.readings),
        rule_version=None if decision is None else decision.rule_version,
        note="" if decision is None else decision.note,
    )


def write_value(
    work: Work,
    *,
    toolhead_id: int,
    number: float,
    unit: Unit,
    half_width_95: float | None,
    origin: Origin,
    run_id: int | None,
    decision_id: int | None,
    restored_from_id: int | None = None,
) -> TunedValue:
    """An e-steps value, replacing the newest of its toolhead."""
    replaced = newest_esteps(toolhead_id)
    value: TunedValue = TunedValue.create(
        kind=Step.E_STEPS.value,
        toolhead=toolhead_id,
        number=number,
        unit=unit.value,
        half_width_95=half_width_95,
        origin=origin.value,
        run=run_id,
        decision=decision_id,
        restored_from=restored_from_id,
        replaces=None if replaced is None else replaced.id,
        person=work.person(),
        at=work.now,
    )
    return value


def write_revisions(
    work: Work,
    value: TunedValue,
    *,
    cause: str,
    note: str,
    from_setup_id: int | None = None,
    from_number: int | None = None,
) -> None:
    """A revision for every setup in whose scope ``value`` falls; ``from_number`` holds for ``from_setup_id`` only."""
    for setup in Setup.select().where(Setup.toolhead == value.toolhead_id, Setup.removed_at.is_null()):
        newest = Revision.select(fn.MAX(Revision.number)).where(Revision.setup == setup.id).scalar() or 0
        revision = Revision.create(
            setup=setup,
            number=newest + 1,
            cause=cause,
            from_number=from_number if setup.id == from_setup_id else None,
            note=note,
            person=work.person(),
            at=work.now,
        )
        RevisionValue.create(revision=revision, value=value)


def lock_toolhead(toolhead_id: int) -> None:
    """Let one decision on a toolhead happen at a time."""
    Toolhead.select().where(Toolhead.id == toolhead_id).for_update().get()


def read_back(work: Work, setup_id: int, value_id: int, form: ReadBackIn) -> ValueOut:
    """What the machine says after switching on: the value is verified only if it is the very setting."""
    person = work.person()
    setup = usable_setup(setup_id)
    machine = setup.toolhead.machine
    value = find(TunedValue, value_id, "value")
    newest = newest_esteps(setup.toolhead_id)
    if newest is None or newest.id != value.id:
        raise Clash("This value has been replaced since. Read back the newest one.", code="value_replaced")
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
    return view(evidence(newest, machine, changes.of_machine(machine.id)), machine, work)


def _is_old_value(value: TunedValue, number: float, places: int) -> bool:
    if value.origin == Origin.RESTORED.value:
        old = math.nan if value.replaces is None else value.replaces.number
    else:
        old = math.nan if value.run is None else value.run.inputs["current"]
    return math.isclose(number, old, abs_tol=0.51 * 10**-places, rel_tol=0)


def recorded_setting(_work: Work, setup_id: int) -> str:
    """The e-steps a setup is recorded to run with, as its machine holds them; empty if there are none."""
    setup = get_setup(setup_id)
    newest = newest_esteps(setup.toolhead_id)
    return "" if newest is None else decimal_text(newest.number, setup.toolhead.machine.setting_places)
