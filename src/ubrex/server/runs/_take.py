"""Readings of a run: taken, taken from a list, struck out, taken back; and what may be changed while it is open."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any, Final

from ubrex.core.calibrate import moved_offset
from ubrex.core.chain import Kind, Origin
from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import ToolKind, Unit, parse_entry
from ubrex.server.calibrations import Case, refuse_others, with_point
from ubrex.server.desk import Clash, FieldProblem, Missing, Refused, Work, find
from ubrex.server.profile import NewValue, counting, lock_values, readings_of, write_values
from ubrex.server.runs._pasted import PastedReading, read_list
from ubrex.server.runs._records import (
    READINGS,
    check_version,
    get_run,
    load_case,
    open_run,
    refuse_overtaken,
    save,
)
from ubrex.server.runs._view import live_out, reading_out, run_out, show_run
from ubrex.server.store.database import database
from ubrex.server.store.records import Instrument, Reading, Run, Strike
from ubrex.server.views.runs import (
    ListPreviewOut,
    ListRowOut,
    LiveOut,
    LiveStepIn,
    ReadingIn,
    ReadingListIn,
    RunEditIn,
    RunOut,
    StrikeIn,
    TakeBackIn,
)
from ubrex.server.words import runs as words
from ubrex.server.words.numbers import plain
from ubrex.server.words.readings import not_a_number_said
from ubrex.server.workshop import zero_at

TAKEN_BACK: Final = "taken back at once"
"""Why a reading is struck that was taken back right after it was taken."""


def edit_run(work: Work, run_id: int, version: int, form: RunEditIn) -> RunOut:
    """Use another tool from here on, leave earlier scatter out, pass a place over."""
    work.person()
    run = open_run(run_id)
    check_version(run, version)
    case = load_case(run, work)
    refuse_others(form, case.edits)
    if form.instrument_id is not None:
        instrument = find(Instrument, form.instrument_id, "measuring tool")
        if ToolKind(instrument.kind) not in case.tools:
            raise Refused(FieldProblem("instrument_id", "wrong_kind", words.wrong_tool_said(instrument.name)))
        run.instrument = instrument
    if form.use_history is not None:
        run.use_history = form.use_history
    run.inputs = run.inputs | dict(case.edited(form))
    save(run)
    return show_run(work, run_id)


def take_reading(work: Work, run_id: int, form: ReadingIn) -> RunOut:
    """Take a reading as typed; anything odd is asked about first and taken only ``as_typed``.

    It goes where it was asked for when it was typed, whatever has come in since.
    """
    person = work.person()
    run = open_run(run_id)
    case = _asked_at(load_case(run, work), form)
    refuse_overtaken(case)
    entry = case.entry
    if entry is None:
        raise Clash(words.NOT_MEASURED, code="not_measured")
    if entry.full:
        raise Clash(words.ALL_MEASURED, code="all_measured")
    typed = form.typed.strip()
    try:
        number = parse_entry(with_point(form.typed, entry.implied), entry.unit)
    except UnreadableEntry as error:
        code = "not_a_number" if typed else "empty"
        raise Refused(FieldProblem("typed", code, not_a_number_said(typed, entry.unit, entry.implied))) from error
    # What is asked about is taken only by the name of that question: another that has come up since is asked anew.
    problem = entry.question(number)
    if problem is not None and (not problem.confirmable or form.as_typed != problem.code):
        raise Refused(problem)
    # A reading that waited without a network keeps its time; a clock that runs ahead does not make it future.
    taken_at = min(form.taken_at, work.now)
    taken = READINGS.add(
        run=run,
        position=len(case.rows) + 1,
        typed=typed,
        number=number,
        unit=entry.unit.value,
        instrument=run.instrument,
        resolution=run.instrument.resolution,
        max_permissible_error=run.instrument.max_permissible_error,
        **zero_at(run.instrument, taken_at),
        taken_as_typed=form.as_typed if problem is not None else None,
        place=entry.place,
        person=person,
        taken_at=taken_at,
        received_at=work.now,
    )
    run.version += 1
    return run_out(work, case.with_reading(taken))


def _asked_at(case: Case[Any], form: ReadingIn) -> Case[Any]:
    """The run as it asked for the number.

    Raises
    ------
    Refused
        If that place has got its reading meanwhile, or there is none such.
    """
    if not form.place or not case.walk:
        return case
    there = case.read_at(form.place)
    if there is not None:
        asked = case.next_place()
        label = case.place_label(form.place)
        now = "" if asked is None else case.place_label(asked)
        said = words.place_taken_said(label, reading_out(case, there).text, there.person.name, form.typed.strip(), now)
        raise Refused(FieldProblem("typed", "place_taken", said))
    if form.place not in case.walk:
        raise Refused(FieldProblem("place", "no_such_place", words.no_place_said(form.place)))
    return case.at_place(form.place)


def take_list(work: Work, run_id: int, form: ReadingListIn) -> RunOut:
    """Take readings that were written down elsewhere: all of them, or none."""
    shown = show_run(work, run_id)
    for row, one in _rows_of(work, run_id, form):
        try:
            shown = take_reading(work, run_id, one)
        except Refused as error:
            problem = error.problems[0]
            said = words.line_said(row.line, row.text, problem.message)
            raise Refused(replace(problem, field="text", message=said)) from error
    return shown


def preview_list(work: Work, run_id: int, form: ReadingListIn) -> ListPreviewOut:
    """Where each number of a list would go, and what would be asked about it: taken, looked at, and undone."""
    shown: list[ListRowOut] = []
    asked: list[FieldProblem] = []
    with database.atomic() as tried:
        for row, one in _rows_of(work, run_id, form):
            case = load_case(open_run(run_id), work)
            place = one.place or case.next_place()
            label = "" if place is None else case.place_label(place)
            said, text = "", row.text
            try:
                text = take_reading(work, run_id, one).readings[-1].text
            except Refused as error:
                asked.append(error.problems[0])
                said = error.problems[0].message
            shown.append(ListRowOut(line=row.line, typed=row.text, place=label, text=text, problem=said))
        tried.rollback()
    first = asked[0] if asked else None
    return ListPreviewOut(
        rows=shown,
        code="" if first is None else first.code,
        confirmable=first is not None and all(one.confirmable and one.code == first.code for one in asked),
    )


def _rows_of(work: Work, run_id: int, form: ReadingListIn) -> Iterator[tuple[PastedReading, ReadingIn]]:
    """Each number of a list with the reading it stands for: at the place it names, or at the one that is next."""
    case = load_case(open_run(run_id), work)
    if case.entry is None:
        raise Clash(words.NOT_MEASURED, code="not_measured")
    labels = {place: case.place_label(place) for place in case.walk}
    for row in read_list(form.text, case.entry.unit, labels, case.open_places()):
        yield row, ReadingIn(typed=row.text, place=row.place, taken_at=form.taken_at, as_typed=form.as_typed)


def strike_reading(work: Work, run_id: int, reading_id: int, form: StrikeIn) -> RunOut:
    """Strike a reading out, with its reason. It stays on record."""
    if not form.reason:
        raise Refused(FieldProblem("reason", "empty", words.NO_REASON))
    _strike(work, open_run(run_id), reading_id, form.reason, at_once=False)
    return show_run(work, run_id)


def take_back(work: Work, run_id: int, form: TakeBackIn) -> RunOut:
    """Take back the readings that are named, or the last one that counts."""
    run = open_run(run_id)
    named = form.readings or [row.id for row in counting(readings_of(run.id))[-1:]]
    if not named:
        raise Clash(words.NOTHING_TO_TAKE_BACK, code="nothing_to_take_back")
    for reading_id in named:
        _strike(work, run, reading_id, TAKEN_BACK, at_once=True)
    return show_run(work, run_id)


def _strike(work: Work, run: Run, reading_id: int, reason: str, *, at_once: bool) -> None:
    person = work.person()
    reading = Reading.get_or_none(Reading.id == reading_id, Reading.run == run.id)
    if reading is None:
        raise Missing(words.no_reading(run.id, reading_id), id=reading_id)
    if Strike.select().where(Strike.reading == reading.id).exists():
        raise Clash(words.STRUCK_ALREADY, code="struck_already")
    Strike.create(reading=reading, reason=reason, at_once=at_once, person=person, at=work.now)
    save(run)


def tick(work: Work, run_id: int, form: LiveStepIn) -> LiveOut:
    """Write down that the machine was moved by a step while a piece prints, or take the last step back."""
    work.person()
    run = open_run(run_id)
    case = load_case(run, work)
    live, ticks = case.calibration.live, case.inputs.ticks
    if live is None:
        raise Clash(words.NO_LIVE, code="no_live")
    if form.by is None and not ticks:
        raise Clash(words.NO_STEP, code="nothing_to_take_back")
    if form.by is None:
        ticks = ticks[:-1]
    else:
        by = _step_of(form.by)
        if by is None or abs(by) not in live.steps_mm:
            steps = ", ".join(plain(step) for step in live.steps_mm)
            raise Refused(FieldProblem("by", "no_such_step", words.no_such_step_said(steps)))
        ticks = [*ticks, by]
    run.inputs = run.inputs | {"ticks": ticks}
    save(run)
    return live_out(load_case(get_run(run_id), work), live)


def take_offset_over(work: Work, run_id: int) -> RunOut:
    """Keep the offset that a pad was moved to by eye; the patches that follow are printed with it.

    Raises
    ------
    Clash
        If nothing was moved, or patches were read already: they were printed with the offset before.
    """
    work.person()
    run = open_run(run_id)
    lock_values()
    case = load_case(run, work)
    if case.calibration.live is None:
        raise Clash(words.NO_LIVE, code="no_live")
    if not case.inputs.ticks:
        raise Clash(words.NO_STEP, code="nothing_moved")
    if case.readings:
        raise Clash(words.PATCHES_READ, code="patches_read")
    now = round(moved_offset(case.inputs.current or 0.0, case.inputs.ticks), 3)
    said = words.by_eye_said(run.id)
    value = NewValue(kind=Kind.Z_OFFSET, number=now, unit=Unit.MM, origin=Origin.TYPED, note=said)
    write_values(work, run.setup, [value], cause="typed", note=said)
    run.inputs = run.inputs | {"current": now, "ticks": []}
    save(run)
    return show_run(work, run_id)


def _step_of(typed: str) -> float | None:
    try:
        return round(parse_entry(typed, Unit.MM), 3)
    except UnreadableEntry:
        return None
