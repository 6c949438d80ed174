"""What a value rests on: when it was last shown true, whether its machine holds it, what was read; and how that is shown."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any, Final

from peewee import JOIN

from ubrex.core.chain import KINDS, SHOWN_HERE, Done, Held, Kind, Origin, Step, asked_of
from ubrex.core.quantity import decimal_text, same_setting
from ubrex.server.desk import Work
from ubrex.server.profile._held import DAY_S, confirmation, held_of
from ubrex.server.profile._methods import method_name
from ubrex.server.profile._readings import counting, readings_of
from ubrex.server.profile._standing import Standings
from ubrex.server.store.facts import KeptRow, ReadBackRow, ValueRow, fetch_kept
from ubrex.server.store.margin import MarginRows
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Decision, Instrument, Machine, Person, ReadBack, Run, TunedValue
from ubrex.server.views.values import ProvenanceOut, ReadBackOut, ValueOut
from ubrex.server.words.machine import LOST, NOT_READ_BACK, READ_WHEN_MEASURED, Keeping, read_back_said
from ubrex.server.words.numbers import age, plus_minus, unit_text
from ubrex.server.words.values import AS_SHOWN, FITS, before_proof_too, fit_said, heat_said, origin_said
from ubrex.server.workshop import places_of


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


_NOTHING_TO_SAY: Final = ReadBackOut(state="verified", sentence="")

_LAST_READ_BACK: Final[Prepared[ReadBack]] = Prepared(
    lambda value_id: ReadBack.select().where(ReadBack.value == value_id).order_by(ReadBack.id.desc()).limit(1)
)


def evidence_of(value: TunedValue, machine: Machine, *, done: Sequence[Done] = ()) -> Evidence:
    """What a value rests on: its run, any later run that confirmed it, and the last read-back.

    ``done``: what was done to the machine, for the value it runs with now; a value of the past has none.
    """
    run, row = value.run, row_of(value)
    typed = [] if run is None else [one.typed for one in counting(readings_of(run.id))]
    shown_at_s = row.at_s if row.run_ended_s is None else row.run_ended_s
    kind = Kind(value.kind)
    if not KINDS[kind].reads_back:
        return Evidence(row, datetime.fromtimestamp(shown_at_s, UTC), _NOTHING_TO_SAY, typed)
    kept = None
    if kind is Kind.E_STEPS and value.toolhead_id is not None:
        kept = fetch_kept(value.toolhead_id, value.at)
    if kept is not None and confirmation(row, kept) is not None:
        shown_at_s = kept.at_s
    last = _read_back_row(_LAST_READ_BACK.first(value.id))
    read_at_s = last.at_s if last is not None and last.matches else row.at_s
    asked = asked_of(KINDS[kind].step, done, shown_true_at=shown_at_s / DAY_S, read_back_at=read_at_s / DAY_S)
    old = value.replaces.number if value.replaces is not None else None
    if run is not None and row.origin != Origin.RESTORED.value:
        old = run.inputs["current"]
    state = _read_back_out(row, machine, _Known(kept, last, asked, old))
    return Evidence(row, datetime.fromtimestamp(shown_at_s, UTC), state, typed)


def read_back_from(value: ValueRow, standing: Standings) -> ReadBackOut:
    """Whether the machine of a setup is known to hold a value of it, from facts already fetched."""
    facts = standing.steps[KINDS[Kind(value.kind)].step]
    kept = standing.kept if value.kind == Kind.E_STEPS else None
    known = _Known(kept, standing.read_back(value), facts.asked, None)
    return _read_back_out(value, standing.setup.toolhead.machine, known)


def evidence_from(value: ValueRow, standing: Standings, margin: MarginRows) -> Evidence:
    """What the e-steps of a setup rest on, from facts already fetched."""
    facts = standing.steps[Step.E_STEPS]
    run, old = margin.measured, margin.replaced
    if run is not None and value.origin != Origin.RESTORED.value:
        old = run.inputs["current"]
    known = _Known(standing.kept, standing.read_back(value), facts.asked, old)
    state = _read_back_out(value, standing.setup.toolhead.machine, known)
    shown_at = datetime.fromtimestamp(facts.shown_at_s or value.at_s, UTC)
    return Evidence(value, shown_at, state, [] if run is None else [row.typed for row in run.readings])


@dataclass(frozen=True, slots=True)
class _Known:
    """What is known of a value on its machine; ``asked``: by what; ``old``: what it held before, where that is known."""

    kept: KeptRow | None
    read_back: ReadBackRow | None
    asked: Done | None
    old: float | None


def _read_back_row(row: ReadBack | None) -> ReadBackRow | None:
    if row is None:
        return None
    return ReadBackRow(row.value_id, row.at.timestamp(), row.typed, row.number, row.matches)


def _read_back_out(value: ValueRow, machine: Machine, known: _Known) -> ReadBackOut:
    """Whether the machine is known to hold a value, in words."""
    held = held_of(value, known.kept, known.read_back, known.asked)
    last, places = known.read_back, places_of(Kind(value.kind), machine)
    if held is Held.LOST:
        return ReadBackOut(state="unverified", sentence=LOST)
    if held is Held.UNVERIFIED:
        return ReadBackOut(state="unverified", sentence=NOT_READ_BACK)
    if held is not Held.DIFFERS and (
        last is None or confirmation(value, known.kept) is not None or value.action == "keep"
    ):
        return ReadBackOut(state="verified", sentence=READ_WHEN_MEASURED)
    assert last is not None
    said = read_back_said(
        setting=decimal_text(value.number, places),
        typed=last.typed,
        matches=last.matches,
        is_old=known.old is not None and same_setting(last.number, known.old, places),
        keeping=Keeping(machine.keeps_setting),
    )
    return ReadBackOut(state="verified" if held is Held.VERIFIED else "differs", sentence=said)


def value_out(found: Evidence, machine: Machine, work: Work) -> ValueOut:
    """A value as a screen shows it, with where it comes from."""
    return row_out(found.value, machine, work, found)


def _made_s(run: Run | None) -> float | None:
    """When the sample of a run was made or read last [s since 1970]."""
    moment = None if run is None else run.made_at or run.ended_at
    return None if moment is None else float(moment.timestamp())


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
        run_ended_s=_made_s(run),
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


def _text(value: ValueRow, text: str) -> str:
    """A number as it is shown: a heat check by what the display shows and what is there."""
    if value.kind in FITS:
        return fit_said(FITS[value.kind], text)
    if value.kind != Kind.HEAT_BIAS.value:
        return text
    if value.beside is not None:
        return heat_said(value.beside, value.number, confirmed=value.origin in SHOWN_HERE)
    return AS_SHOWN if value.number == 0 and value.half_width_95 is not None else text


@lru_cache(maxsize=1024)
def _view(
    value: ValueRow, places: int, how_old: str, typed: tuple[str, ...] = (), read_back: ReadBackOut = _NOTHING_TO_SAY
) -> ValueOut:
    """Made once for a value that is shown again and again: it never changes, only grows older."""
    kind = Kind(value.kind)
    heat = kind is Kind.HEAT_BIAS and value.beside is not None
    setting = decimal_text(value.number, places)
    return ValueOut(
        id=value.id,
        kind=kind,
        name=KINDS[kind].name,
        number=value.number,
        unit=value.unit,
        unit_text="" if heat else unit_text(value.unit),
        half_width_95=value.half_width_95,
        text=_text(value, setting),
        half_width_text="" if value.half_width_95 is None else plus_minus(value.half_width_95),
        setting=setting,
        person=value.person,
        at=datetime.fromtimestamp(value.at_s, UTC),
        age=how_old,
        provenance=_provenance(value, typed),
        read_back=read_back,
    )


def _provenance(value: ValueRow, typed: Sequence[str]) -> ProvenanceOut:
    origin = Origin(value.origin)
    method = "" if value.method is None else method_name(value.method)
    sentence = origin_said(origin, person=value.person, run_id=value.run_id, method=method)
    if value.before_proof:
        sentence = before_proof_too(sentence)
    return ProvenanceOut(
        origin=origin,
        sentence=sentence,
        run_id=value.run_id,
        instrument=value.instrument,
        readings=", ".join(text.replace(",", ".") for text in typed),
        rule_version=value.rule_version,
        note=value.decision_note or value.note,
    )
