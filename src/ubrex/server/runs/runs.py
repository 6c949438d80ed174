"""Runs: start one, take readings, strike them, decide, leave. Each write answers with the run as it then stands."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any, Final, cast

from peewee import JOIN, fn

from ubrex.core.calibrate import FIRST_ASKED
from ubrex.core.chain import Done, Step
from ubrex.core.errors import OutOfRange, UnreadableEntry
from ubrex.core.gcode import RefusedFile
from ubrex.core.quantity import ToolKind, decimal_text, parse_entry
from ubrex.server.calibrations import cases, edits, esteps, first_layer, pasted, walls
from ubrex.server.calibrations.rated import TowerCase
from ubrex.server.desk import Clash, FieldProblem, Missing, Outdated, Refused, Work, find
from ubrex.server.printing import layers_of_text, machine_limits
from ubrex.server.profile import (
    NewValue,
    counting,
    done_on,
    evidence_of,
    lock_toolhead,
    newest_esteps,
    readings_of,
    refuse_danger,
    select_values,
    strike_of,
    tuned_of,
    value_out,
    write_values,
)
from ubrex.server.store.facts import RunRow
from ubrex.server.store.prepared import Insert, Prepared
from ubrex.server.store.records import (
    Decision,
    Filament,
    Hotend,
    Instrument,
    Machine,
    Nozzle,
    Person,
    Reading,
    Run,
    Setup,
    Spool,
    Strike,
    Surface,
    Toolhead,
    TunedValue,
)
from ubrex.server.views.base import RunState
from ubrex.server.views.pieces import FileViewOut
from ubrex.server.views.runs import (
    DecisionIn,
    DecisionOut,
    EntryOut,
    EStepsStartIn,
    InstructionOut,
    ReadingIn,
    ReadingListIn,
    ReadingOut,
    RunEditIn,
    RunLineOut,
    RunOut,
    RunsOut,
    StrikeIn,
)
from ubrex.server.words.machine import Keeping, how_to_set
from ubrex.server.words.numbers import day, step_places, unit_text
from ubrex.server.words.readings import usual_slips
from ubrex.server.words.standing import STEP_NAMES
from ubrex.server.words.walls import SLICED_ELSEWHERE
from ubrex.server.workshop import instrument_out, owners, setup_out, setup_title, unit_of_setting, usable_setup

TAKEN_BACK = "taken back at once"
PAGE = 50


def get_run(run_id: int) -> Run:
    """A run with its setup, instrument and person.

    Raises
    ------
    Missing
        If there is none.
    """
    return _found(_ONE.first(run_id), run_id)


def _found(run: Run | None, run_id: int) -> Run:
    if run is None:
        raise Missing(f"There is no run {run_id} in this workshop.", id=run_id)
    return run


def _select_runs() -> Any:
    return (
        Run.select(Run, Setup, Toolhead, Machine, Hotend, Nozzle, Surface, Filament, Spool, Instrument, Person)
        .join(Setup)
        .join(Toolhead)
        .join(Machine)
        .switch(Toolhead)
        .join(Hotend)
        .switch(Setup)
        .join(Nozzle)
        .switch(Setup)
        .join(Surface, JOIN.LEFT_OUTER, on=(Setup.surface == Surface.id))
        .switch(Setup)
        .join(Filament)
        .switch(Setup)
        .join(Spool, JOIN.LEFT_OUTER, on=(Setup.spool == Spool.id))
        .switch(Run)
        .join(Instrument)
        .switch(Run)
        .join(Person, on=(Run.person == Person.id))
    )


def _select_lines() -> Any:
    """Runs as lists show them: with the number of readings that count, the decision, and the value it made."""
    counted = (
        Reading.select(fn.COUNT(Reading.id))
        .join(Strike, JOIN.LEFT_OUTER, on=(Strike.reading == Reading.id))
        .where(Reading.run == Run.id, Strike.id.is_null())
    )
    # A decision may make several values; the first is the one it was about.
    first = TunedValue.alias()
    main_value = first.select(fn.MIN(first.id)).where(first.decision == Decision.id)
    shown = (
        Run.id, Run.step, Run.state, Run.inputs, Run.started_at, Setup.id, Toolhead.id, Machine.name, Hotend.name,
        Nozzle.bore_mm, Nozzle.material, Filament.name, Person.name, Decision.action, TunedValue.number,
    )  # fmt: skip
    return (
        _select_runs()
        .select(*shown, counted.alias("counted"))
        .switch(Run)
        .join(Decision, JOIN.LEFT_OUTER, on=(Decision.run == Run.id), attr="decision")
        .join(TunedValue, JOIN.LEFT_OUTER, on=(TunedValue.id == main_value), attr="value")
        .order_by(Run.id.desc())
    )


def _decision_of(run_id: int) -> Any:
    return Decision.select(Decision, Person).join(Person).where(Decision.run == run_id)


def _open_of(setup_id: int, step: str) -> Any:
    return Run.select(Run.id).where(Run.setup == setup_id, Run.step == step, Run.ended_at.is_null())


_ONE: Final[Prepared[Run]] = Prepared(lambda run_id: _select_runs().where(Run.id == run_id))
_LOCKED: Final[Prepared[Run]] = Prepared(lambda run_id: _select_runs().where(Run.id == run_id).for_update(of=Run))
_DECISION: Final[Prepared[Decision]] = Prepared(_decision_of)
_OPEN: Final[Prepared[Run]] = Prepared(_open_of)
READINGS: Final = Insert(Reading, counted_on="run")
_NEXT_VERSION: Final[Prepared[Run]] = Prepared(
    lambda run_id: Run.update(version=Run.version + 1).where(Run.id == run_id)
)


def open_run_of(setup_id: int, step: Step) -> Run | None:
    """The open run of a step on a setup; there is at most one."""
    return _OPEN.first(setup_id, step.value)


def start_esteps(work: Work, form: EStepsStartIn) -> RunOut:
    """Start an e-steps run. There is one open run for each step of a setup."""
    person = work.person()
    setup = usable_setup(form.setup_id)
    refuse_danger(setup)
    lock_toolhead(setup.toolhead_id)
    inputs, instrument = esteps.read_start(work, form, setup)
    open_run = open_run_of(setup.id, Step.E_STEPS)
    if open_run is not None:
        raise Clash(
            f"Run {open_run.id} of this step is still open. Go on with it, or leave it first.",
            code="run_open",
            run_id=open_run.id,
        )
    run = Run.create(
        setup=setup,
        step=Step.E_STEPS.value,
        method=form.method.value,
        instrument=instrument,
        inputs=inputs.model_dump(mode="json")
        | esteps.scatter(setup, form.method.value, instrument.id, inputs.commanded_mm),
        fed_at=form.fed_at,
        person=person,
        started_at=work.now,
    )
    return show_run(work, run.id)


def show_run(work: Work, run_id: int, *, early: bool = False) -> RunOut:
    """A run as it stands; ``early`` shows a result before the readings first asked for are in."""
    return view(work, cases.load(get_run(run_id), work), early=early)


def edit_run(work: Work, run_id: int, version: int, form: RunEditIn) -> RunOut:
    """Use another tool from here on, leave earlier scatter out, pass a place over."""
    work.person()
    run = open_run(run_id)
    _check_version(run, version)
    case = cases.load(run, work)
    edits.refuse_others(form, case.edits)
    if form.instrument_id is not None:
        instrument = find(Instrument, form.instrument_id, "measuring tool")
        if ToolKind(instrument.kind) not in case.tools:
            raise Refused(FieldProblem("instrument_id", "wrong_kind", f"{instrument.name} cannot read this."))
        run.instrument = instrument
    if form.use_history is not None:
        run.use_history = form.use_history
    run.inputs = run.inputs | case.edited(form)
    _save(run)
    return show_run(work, run_id)


def take_reading(work: Work, run_id: int, form: ReadingIn) -> RunOut:
    """Take a reading as typed; anything odd is asked about first and taken only ``as_typed``."""
    person = work.person()
    run = open_run(run_id)
    case = cases.load(run, work)
    _refuse_overtaken(case)
    place = case.next_place()
    if place is None and case.piece() is not None:
        raise Clash(
            "Every place of this piece has its reading. Strike one out to measure it again.", code="all_measured"
        )
    try:
        number = parse_entry(_with_point(form.typed, case.implied), case.unit)
    except UnreadableEntry as error:
        typed = form.typed.strip()
        said = (
            f"“{typed}” is not a number Ubrex can read. Type what the tool shows, like 98.4 or 98,4."
            if typed
            else "Type what the tool shows, then Enter."
        )
        raise Refused(FieldProblem("typed", "not_a_number" if typed else "empty", said)) from error
    problem = case.question(number)
    if problem is not None and (not problem.confirmable or form.as_typed != problem.code):
        raise Refused(problem)
    taken = READINGS.add(
        run=run,
        position=len(case.rows) + 1,
        typed=form.typed.strip(),
        number=number,
        unit=case.unit.value,
        instrument=run.instrument,
        resolution=run.instrument.resolution,
        max_permissible_error=run.instrument.max_permissible_error,
        taken_as_typed=form.as_typed if problem is not None else None,
        place=place,
        person=person,
        taken_at=min(form.taken_at, work.now),
        received_at=work.now,
    )
    run.version += 1
    return view(work, case.with_reading(taken))


def take_list(work: Work, run_id: int, form: ReadingListIn) -> RunOut:
    """Take readings that were written down elsewhere, in walking order: all of them, or none."""
    case = cases.load(open_run(run_id), work)
    shown = show_run(work, run_id)
    for row in pasted.read_list(form.text, case.unit):
        one = ReadingIn(typed=row.text, taken_at=form.taken_at, as_typed=form.as_typed)
        try:
            shown = take_reading(work, run_id, one)
        except Refused as error:
            problem = error.problems[0]
            said = f"Line {row.line}, {row.text}: {problem.message}"
            raise Refused(replace(problem, field="text", message=said)) from error
    return shown


def _with_point(typed: str, implied: str) -> str:
    """What a display shows: digits alone mean what stands behind the point, where the calibration says which point."""
    text = typed.strip()
    if not implied or not text.isdigit() or len(text) < 2 or text.startswith("0"):
        return typed
    whole = implied.rstrip(".")
    return f"{implied}{text.removeprefix(whole) if whole != '0' else text}"


def strike_reading(work: Work, run_id: int, reading_id: int, form: StrikeIn) -> RunOut:
    """Strike a reading out, with its reason. It stays on record."""
    if not form.reason:
        raise Refused(FieldProblem("reason", "empty", "Say why: a slipped cut, a snag, the wrong piece."))
    return _strike(work, run_id, reading_id, form.reason, at_once=False)


def take_back(work: Work, run_id: int) -> RunOut:
    """Take back the last reading that counts."""
    last = next(reversed(counting(readings_of(open_run(run_id).id))), None)
    if last is None:
        raise Clash("There is no reading to take back.", code="nothing_to_take_back")
    return _strike(work, run_id, last.id, TAKEN_BACK, at_once=True)


def _strike(work: Work, run_id: int, reading_id: int, reason: str, *, at_once: bool) -> RunOut:
    person = work.person()
    run = open_run(run_id)
    reading = Reading.get_or_none(Reading.id == reading_id, Reading.run == run.id)
    if reading is None:
        raise Missing(f"Run {run_id} has no reading {reading_id}.", id=reading_id)
    if Strike.select().where(Strike.reading == reading.id).exists():
        raise Clash("This reading is struck out already.", code="struck_already")
    Strike.create(reading=reading, reason=reason, at_once=at_once, person=person, at=work.now)
    _save(run)
    return show_run(work, run_id)


def decide(work: Work, run_id: int, version: int, form: DecisionIn) -> RunOut:
    """Apply what a run proposes, or keep what is set: decision, value and revisions in one transaction."""
    person = work.person()
    run = open_run(run_id)
    lock_toolhead(run.setup.toolhead_id)
    case = cases.load(run, work)
    _refuse_overtaken(case)
    _check_version(run, version)
    shown = case.result(early=True)
    if shown is None:
        raise Clash("There is no reading to decide on.", code="no_readings")
    if not (shown.can_apply if form.action == "apply" else shown.can_keep):
        raise Clash(f"{shown.title}. {shown.sentence} Nothing can be decided on these readings.", code="refused")
    if form.action == "apply" and shown.ask_before is not None and not form.before_proof:
        raise Refused(FieldProblem("before_proof", "not_proven", shown.ask_before, confirmable=True))
    decision = Decision.create(
        run=run,
        action=form.action,
        verdict=shown.verdict.value,
        reason=shown.reason.value,
        figures=case.figures(),
        rule_version=case.rule_version,
        before_proof=form.action == "apply" and not case.proven,
        note=form.note.strip(),
        person=person,
        at=work.now,
    )
    run.state, run.ended_at = "decided", work.now
    _save(run)
    new = case.decided(decision)
    if new:
        _refuse_homeless(run, new)
        cause = "applied" if form.action == "apply" else "confirmed"
        write_values(work, run.setup, new, cause=cause, note=decision.note)
    return show_run(work, run_id)


def _refuse_homeless(run: Run, new: Sequence[NewValue]) -> None:
    """Refuse a value that depends on something the setup does not say."""
    if any(None in owners(value.kind, run.setup).values() for value in new):
        said = "This depends on the build surface, and this setup does not say which one is on. Choose it on the bench."
        raise Clash(said, code="no_surface")


def leave(work: Work, run_id: int, version: int) -> RunOut:
    """Leave a run undecided, also that of a removed setup. Its readings stay on record and count for nothing."""
    work.person()
    run = open_run(run_id, removed_too=True)
    _check_version(run, version)
    run.state, run.ended_at = "left", work.now
    _save(run)
    return show_run(work, run_id)


def list_runs(_work: Work, *, cursor: int | None = None, limit: int = PAGE) -> RunsOut:
    """Open runs first, then the ended ones, newest first."""
    ended = _select_lines().where(Run.ended_at.is_null(False)).limit(limit + 1)
    if cursor is not None:
        ended = ended.where(Run.id < cursor)
    rows = list(ended)
    still_open = [] if cursor is not None else list(_select_lines().where(Run.ended_at.is_null()))
    return RunsOut(
        open=[_line(run) for run in still_open],
        ended=[_line(run) for run in rows[:limit]],
        next_cursor=rows[limit - 1].id if len(rows) > limit else None,
    )


def recent_lines(setup: Setup, rows: Sequence[RunRow]) -> list[RunLineOut]:
    """The last runs of a setup."""
    title = setup_title(setup)
    return [
        RunLineOut(
            id=row.id,
            step=Step(row.step),
            name=STEP_NAMES[row.step],
            state=cast("RunState", row.state),
            setup_id=setup.id,
            setup=title,
            started_at=datetime.fromtimestamp(row.started_s, UTC),
            person=row.person,
            outcome=_outcome(row.state, row.inputs, row.action, row.number, row.counted),
            readings=row.counted,
        )
        for row in rows
    ]


def _outcome(state: str, given: dict[str, Any], action: str | None, number: float | None, counted: int) -> str:
    """How a run ended, in one line; ``number``: the value it made."""
    places = given["places"]
    kept = f"{decimal_text(given['current'], places)} {unit_text(given['unit'])}"
    if action is None:
        asked = max(counted, given.get("asked", FIRST_ASKED))
        return "Left undecided" if state == "left" else f"Open, {counted} of {asked} readings"
    if action == "keep" or number is None:
        return f"Kept {kept}"
    if not given.get("in_use", True):
        return f"Applied {decimal_text(number, places)} {unit_text(given['unit'])}"
    return f"Applied {decimal_text(number, places)}, was {kept}"


def _line(run: Any) -> RunLineOut:
    """A run that was selected as a line."""
    decision = getattr(run, "decision", None)
    number = None if decision is None or decision.value is None else decision.value.number
    action = None if decision is None else decision.action
    return RunLineOut(
        id=run.id,
        step=Step(run.step),
        name=STEP_NAMES[run.step],
        state=state_of(run),
        setup_id=run.setup.id,
        setup=setup_title(run.setup),
        started_at=run.started_at,
        person=run.person.name,
        outcome=_outcome(run.state, run.inputs, action, number, run.counted),
        readings=run.counted,
    )


def state_of(run: Run) -> RunState:
    """State of a run; the database lets it be nothing else."""
    return cast("RunState", run.state)


def open_run(run_id: int, *, removed_too: bool = False) -> Run:
    """An open run on a setup in use, locked until this work is done; ``removed_too``: whether the setup is in use or not."""
    run = _found(_LOCKED.first(run_id), run_id)
    if run.setup.removed_at is not None and not removed_too:
        raise Clash(
            f"The setup of run {run_id}, {setup_title(run.setup)}, was removed. Leave the run; its readings are kept.",
            code="setup_removed",
        )
    if run.state == "decided":
        decision = Decision.select(Decision, Person).join(Person).where(Decision.run == run.id).get()
        raise Clash(
            f"Run {run_id} was decided by {decision.person.name} on {day(decision.at)}. Start a new run to measure again.",
            code="decided_already",
        )
    if run.state == "left":
        raise Clash(f"Run {run_id} was left. Start a new one.", code="run_left")
    return run


def _refuse_overtaken(case: cases.Case) -> None:
    """Refuse a run whose sample was made at a setting that has been changed since."""
    said = case.overtaken()
    if said:
        raise Clash(said, code="sample_too_old")


def _check_version(run: Run, version: int) -> None:
    if run.version != version:
        raise Outdated("Readings have come in since this was shown. Look at the result again, then decide.")


def _save(run: Run) -> None:
    run.version += 1
    run.save(only=[Run.state, Run.instrument, Run.inputs, Run.use_history, Run.ended_at, Run.version])


def next_version(run: Run) -> None:
    """Count a change of a run, so that nobody decides on what they have not seen."""
    _NEXT_VERSION.run(run.id)
    run.version += 1


def view(work: Work, case: cases.Case, *, early: bool = False) -> RunOut:
    """A run as a screen shows it; ``early``: with its result before the readings first asked for are in."""
    run = case.run
    setup = run.setup
    result = case.result(early=early or run.state != "open")
    places = step_places(run.instrument.resolution)
    return RunOut(
        id=run.id,
        version=run.version,
        step=Step(run.step),
        name=STEP_NAMES[run.step],
        state=state_of(run),
        setup=setup_out(setup),
        method=run.method,
        method_name=case.method_name(),
        procedure=case.procedure(),
        cautions=case.cautions(),
        instrument=instrument_out(run.instrument, work),
        cells=case.cells(),
        piece=case.piece(),
        tower=case.tower() if isinstance(case, TowerCase) else None,
        file_name=file_name(run) if cases.prints(run) else "",
        sliced=SLICED_ELSEWHERE if cases.sliced_elsewhere(run) else "",
        verify=_verify(run),
        use_history=run.use_history,
        has_history=case.has_history,
        started_at=run.started_at,
        person=run.person.name,
        readings=[_entry(row, strike_of(row), places, case.place_text(row)) for row in case.rows],
        entry=EntryOut(
            reads=case.reads(),
            unit=unit_text(case.unit.value),
            places=places,
            next=len(case.readings) + 1,
            asked=case.asked,
            place=case.next_place() or "",
            implied=case.implied,
            current=run.inputs["current"],
            tools=list(case.tools),
            slips=list(usual_slips(run.method)),
        ),
        finding=case.finding(),
        strip=case.strip(result),
        result=result,
        decision=None if run.state == "open" else _decision(work, run, setup.toolhead.machine),
    )


def file_name(run: Run) -> str:
    """Name of the file of a run: plain letters, so that any card reader shows it."""
    name = f"{run.setup.toolhead.machine.name}-{run.setup.filament.name}-{run.method}-{run.id}"
    return "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in name).lower() + ".gcode"


def _verify(run: Run) -> str:
    """What a reprint would be printed with; empty where there is none to offer."""
    if run.state != "decided" or run.method != walls.METHOD:
        return ""
    value = (
        TunedValue.select()
        .where(TunedValue.decision.in_(Decision.select(Decision.id).where(Decision.run == run.id)))
        .first()
    )
    applied = value is not None and value.number != run.inputs["current"]
    return decimal_text(value.number, 1) if applied else ""


def file_of(work: Work, run_id: int, *, pad: bool = False) -> tuple[str, str]:
    """Name and text of the file that a run is printed with; ``pad``: of the pad that comes before the patches."""
    run = get_run(run_id)
    name = file_name(run)
    return (f"pad-{name}" if pad else name), _written(work, run, pad=pad)


def preview_of(work: Work, run_id: int) -> FileViewOut:
    """The file of a run, drawn layer by layer."""
    run = get_run(run_id)
    text = _written(work, run, pad=False)
    return layers_of_text(text, machine_limits(tuned_of(run.setup), still=True).volume)


def _written(work: Work, run: Run, *, pad: bool) -> str:
    case = cases.load(run, work)
    try:
        if pad and isinstance(case, first_layer.PatchCase):
            return case.pad_file()
        if not pad and cases.prints(run) and isinstance(case, cases.Printed):
            return case.file()
    except (RefusedFile, OutOfRange) as error:
        raise Clash(f"This file cannot be written: {error}.", code="refused_file") from error
    raise Clash("Nothing is printed in this run.", code="no_file")


def _entry(reading: Reading, strike: Strike | None, places: int, place: str) -> ReadingOut:
    return ReadingOut(
        id=reading.id,
        position=reading.position,
        number=reading.number,
        text=decimal_text(reading.number, max(places, step_places(reading.resolution))),
        instrument=reading.instrument.name,
        person=reading.person.name,
        taken_at=reading.taken_at,
        struck=None if strike is None else strike.reason,
        taken_back=strike is not None and strike.at_once,
        odd=reading.taken_as_typed is not None,
        place=place,
    )


def _decision(work: Work, run: Run, machine: Machine) -> DecisionOut | None:
    decision = _DECISION.first(run.id)
    if decision is None:
        return None
    made = list(select_values().where(TunedValue.decision == decision.id).order_by(TunedValue.id))
    value = next(iter(made), None)
    of_machine = Step(run.step) is Step.E_STEPS
    newest = newest_esteps(run.setup.toolhead_id) if of_machine else None
    shown = value or newest
    done: list[Done] = []
    if shown is not None and newest is not None and shown.id == newest.id:
        done = done_on(machine.id)
    out = None if shown is None else value_out(evidence_of(shown, machine, done=done), machine, work)
    applied = decision.action == "apply"
    steps, superseded = [], ""
    if applied and out is not None and newest is not None:
        if newest.id != out.id:
            superseded = "A newer value has replaced this one since."
        elif newest.unit != unit_of_setting(machine).value:
            superseded = f"{machine.name} keeps its setting in another form since: this number cannot be entered there."
        else:
            steps = how_to_set(Keeping(machine.keeps_setting), out.setting)
    return DecisionOut(
        action="apply" if applied else "keep",
        sentence=f"{'Applied' if applied else 'Kept'} by {decision.person.name} on {day(decision.at)}.",
        person=decision.person.name,
        at=decision.at,
        note=decision.note,
        value=out,
        beside=[value_out(evidence_of(row, machine, done=[]), machine, work) for row in made[1:]],
        instructions=[InstructionOut(text=row.text, send=row.send) for row in steps],
        superseded=superseded,
    )
