"""Runs as screens show them: as they stand, what of them does not change, what one rating changed."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Final

from ubrex.core.calibrate import moved_offset
from ubrex.core.chain import KINDS, Done, Kind, SetAt, Step
from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations import CALIBRATIONS, Case, LiveSteps
from ubrex.server.desk import Work
from ubrex.server.printing import no_piece, piece_out
from ubrex.server.profile import (
    done_on,
    evidence_of,
    newest_value,
    revision_with,
    revisions_after,
    select_values,
    strike_of,
    value_out,
)
from ubrex.server.runs._files import file_name
from ubrex.server.runs._records import get_run, load_case, state_of
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Decision, Machine, Person, Reading, Run, Strike, TunedValue
from ubrex.server.views.base import InstructionOut, OptionOut, StageOut
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.runs import (
    Action,
    AheadOut,
    BackOut,
    DecisionOut,
    EntryOut,
    FileOut,
    LiveOut,
    MethodOut,
    RatingOut,
    ReadingOut,
    ReprintOut,
    ResultOut,
    RunOut,
    ToSetOut,
)
from ubrex.server.views.values import ValueOut
from ubrex.server.words import runs as words
from ubrex.server.words.machine import Keeping, how_to_set
from ubrex.server.words.numbers import day, plain, signed, step_places, unit_text
from ubrex.server.words.standing import STEP_NAMES
from ubrex.server.workshop import instrument_out, setup_out, unit_of


def _decision_of(run_id: int) -> Any:
    return Decision.select(Decision, Person).join(Person).where(Decision.run == run_id)


_DECISION: Final[Prepared[Decision]] = Prepared(_decision_of)


def show_run(work: Work, run_id: int, *, early: bool = False) -> RunOut:
    """A run as it stands; ``early`` shows a result before the readings first asked for are in."""
    return run_out(work, load_case(get_run(run_id), work), early=early)


def run_out(work: Work, case: Case[Any], *, early: bool = False) -> RunOut:
    """A run as a screen shows it; ``early``: with its result before the readings first asked for are in."""
    run, setup = case.run, case.run.setup
    result = case.result(early=early or run.state != "open")
    again = case.again()
    return RunOut(
        id=run.id,
        version=run.version,
        step=Step(run.step),
        name=STEP_NAMES[run.step],
        state=state_of(run),
        setup=setup_out(setup),
        method=run.method,
        method_name=case.method_name(),
        instrument=instrument_out(run.instrument, work),
        cells=case.cells(),
        use_history=run.use_history,
        started_at=run.started_at,
        person=run.person.name,
        readings=[reading_out(case, row) for row in case.rows],
        entry=_entry(case),
        finding=case.finding(),
        result=result,
        decision=None if run.state == "open" else _decision(work, run, setup.toolhead.machine),
        actions=actions_of(case, result),
        body=case.body(result),
        reprint=None if again is None else ReprintOut(sentence=again.sentence, label=again.label),
        curve=None if result is None else case.curve(),
    )


def _entry(case: Case[Any]) -> EntryOut | None:
    entry = case.entry
    if entry is None:
        return None
    return EntryOut(
        reads=entry.reads,
        unit=unit_text(entry.unit.value),
        places=step_places(case.run.instrument.resolution),
        next=len(case.readings) + 1,
        asked=entry.asked,
        place=entry.place or "",
        ahead=[AheadOut(place=place, label=case.place_label(place), reads=reads) for place, reads in entry.ahead],
        implied=entry.implied,
        tools=list(case.tools),
        slips=list(case.calibration.words.slips),
        spots=entry.spots(),
    )


def actions_of(case: Case[Any], result: ResultOut | None) -> list[Action]:
    """What can be done with a run as it stands: keys and buttons are made of nothing else."""
    if case.run.state != "open":
        reprint: list[Action] = ["reprint"] if case.again() is not None else []
        return ["photos", *reprint] if case.tower is not None else reprint
    found: list[Action] = []
    if case.entry is not None:
        found += ["take", "instrument", "list"]
    if case.readings:
        found += ["take_back"]
        found += ["strike"] if case.entry is not None else []
    found += case.actions()
    if case.has_history:
        found.append("history")
    if case.entry is not None and case.readings and result is None:
        found.append("early")
    if result is not None and result.can_apply:
        found.append("apply")
    if result is not None and result.can_keep:
        found.append("keep")
    return [*found, "leave"]


def reading_out(case: Case[Any], reading: Reading) -> ReadingOut:
    """A reading as the list of readings shows it; what was typed finer than the tool reads is shown as it was typed."""
    strike: Strike | None = strike_of(reading)
    places = max(step_places(case.run.instrument.resolution), step_places(reading.resolution))
    shown = decimal_text(reading.number, places)
    exact = plain(reading.number)
    return ReadingOut(
        id=reading.id,
        position=reading.position,
        number=reading.number,
        text=exact if len(exact) > len(shown) else shown,
        instrument=reading.instrument.name,
        person=reading.person.name,
        taken_at=reading.taken_at,
        struck=None if strike is None else strike.reason,
        taken_back=strike is not None and strike.at_once,
        odd=reading.taken_as_typed is not None,
        place=case.place_label(case.place_of(reading)),
    )


def show_method(work: Work, run_id: int) -> MethodOut:
    """What does not change while a run goes on."""
    case = load_case(get_run(run_id), work)
    calibration, run = case.calibration, case.run
    return MethodOut(
        procedure=list(calibration.words.procedure),
        cautions=case.cautions(),
        drawing=calibration.drawing,
        piece=_piece(case),
        files=[
            FileOut(key=file.key, label=file.label, name=file_name(run, file), drawn=file.drawn)
            for file in case.files()
        ],
        stages=[
            StageOut(key=key, name=name, wait_s=wait_s) for key, name, wait_s in words.stages(rated=case.entry is None)
        ]
        if calibration.piece is not None
        else [],
        body_note=next((file.note for file in case.files() if file.note), ""),
        rounds=[OptionOut(value=order, text=", ".join(order)) for order in case.rounds],
        live=None if calibration.live is None else live_out(case, calibration.live),
    )


def _piece(case: Case[Any]) -> PieceOut | None:
    if case.calibration.piece is None:
        return None
    try:
        made, manner = case.made
    except OutOfRange as error:
        return no_piece(case.calibration.words.name, str(error), "line_width")
    return piece_out(made, case.tuned, manner, [])


def live_out(case: Case[Any], live: LiveSteps) -> LiveOut:
    """Steps the machine was moved by while a piece printed, and where it is now."""
    ticks = case.inputs.ticks
    return LiveOut(
        steps=[OptionOut(value=plain(step), text=f"{plain(step)} mm") for step in live.steps_mm],
        usual=plain(live.usual_mm),
        wait_s=round(live.wait_s),
        moved=len(ticks),
        now=f"{signed(moved_offset(case.inputs.current or 0.0, ticks), 3)} mm",
    )


def rating_out(before: RunOut, after: RunOut) -> RatingOut:
    """What one rating changed of a run, and nothing else."""
    old, new = before.body, after.body
    assert old.kind == "rated" and new.kind == "rated"  # noqa: PT018
    known = {reading.id: reading for reading in before.readings}
    return RatingOut(
        id=after.id,
        since=before.version,
        version=after.version,
        entry=after.entry,
        readings=[reading for reading in after.readings if known.get(reading.id) != reading],
        bands=[band for band, was in zip(new.tower.bands, old.tower.bands, strict=True) if band != was],
        scales=None if new.tower.scales == old.tower.scales else new.tower.scales,
        waiting=new.tower.waiting,
        left=new.tower.left,
        finding=after.finding,
        result=after.result,
        actions=after.actions,
        curve=after.curve,
    )


def _decision(work: Work, run: Run, machine: Machine) -> DecisionOut | None:
    decision = _DECISION.first(run.id)
    if decision is None:
        return None
    made = list(select_values().where(TunedValue.decision == decision.id).order_by(TunedValue.id))
    applied = decision.action == "apply"
    newest = {value.kind: newest_value(Kind(value.kind), run.setup) for value in made}
    if not made:
        kept = newest_value(CALIBRATIONS[run.method].kinds[0], run.setup)
        newest, made = ({}, []) if kept is None else ({kept.kind: kept}, [kept])
    shown = []
    for value in made:
        holds = newest.get(value.kind)
        done: Sequence[Done] = done_on(machine.id) if holds is not None and holds.id == value.id else ()
        shown.append(value_out(evidence_of(value, machine, done=done), machine, work))
    return DecisionOut(
        action="apply" if applied else "keep",
        sentence=words.decided_said(decision.person.name, day(decision.at), applied=applied),
        person=decision.person.name,
        at=decision.at,
        note=decision.note,
        values=shown,
        to_set=[_to_set(machine, out, newest.get(out.kind.value)) for out in shown] if applied else [],
        back=_back(run, made) if applied else None,
    )


def _back(run: Run, made: Sequence[TunedValue]) -> BackOut | None:
    """The revision before a decision, while nothing but what it brought along was written since."""
    first = revision_with([value.id for value in made])
    if first is None or first.number == 1 or first.setup_id != run.setup_id:
        return None
    since = revisions_after(first)
    if any(row.cause != "rescaled" for row in since):
        return None
    newest = max((row.number for row in since), default=first.number)
    return BackOut(number=first.number - 1, newest=newest, note=words.taken_back_said(run.id))


def _to_set(machine: Machine, value: ValueOut, newest: TunedValue | None) -> ToSetOut:
    """What is left to do with a value: at the machine, in the slicing program, or nothing."""
    kind = value.kind
    where = KINDS[kind].set_at
    superseded = ""
    if newest is None or newest.id != value.id:
        superseded = words.SUPERSEDED
    elif newest.unit != unit_of(kind, machine).value:
        superseded = words.other_form_since_said(machine.name)
    at_machine = where is SetAt.MACHINE and not superseded
    steps = how_to_set(kind, Keeping(machine.keeps_setting), value.setting) if at_machine else []
    return ToSetOut(
        value=value,
        where=where,
        sentence=words.to_set_said(where, KINDS[kind].name, value.setting, value.unit_text),
        instructions=[InstructionOut(text=row.text, send=row.send, wait_s=row.wait_s) for row in steps],
        read_back=KINDS[kind].reads_back,
        superseded=superseded,
    )
