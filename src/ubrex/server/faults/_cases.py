"""Cases of faults: opened, answered in any order, taken back, closed, opened again."""

from __future__ import annotations

from typing import Final

from ubrex.core.diagnose import knowledge
from ubrex.server.attempts import read_place
from ubrex.server.desk import Clash, FieldProblem, Refused, TypedFields, Work, find
from ubrex.server.faults._ends import ended, was_gone
from ubrex.server.faults._found import found_on
from ubrex.server.faults._sheet import MENDS, REOPENS_WITHIN, complaint_out, show_fault
from ubrex.server.profile import log_change, tuned_of
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import Fault, FaultAnswer, FaultAnswerOff, FaultEnd, Machine, Person, Print, Setup
from ubrex.server.views.bench import ChangeIn
from ubrex.server.views.faults import FaultAnswerIn, FaultCloseIn, FaultIn, FaultLineOut, FaultSheetOut, FaultsOut
from ubrex.server.words import causes
from ubrex.server.words import faults as words
from ubrex.server.workshop import usable_setup

MOST_CASES: Final = 200

_OFF: Final = Insert(FaultAnswerOff)


def list_faults(_work: Work) -> FaultsOut:
    """Cases, the open ones first and the newest first, and everything that can be seen."""
    rows = list(
        Fault.select(Fault, Person, Machine.name)
        .join(Person)
        .switch(Fault)
        .join(Machine)
        .order_by(Fault.id.desc())
        .limit(MOST_CASES)
    )
    ends = {end.fault_id: end for end in FaultEnd.select().order_by(FaultEnd.id)}
    lines = [_line(row, ends.get(row.id)) for row in rows]
    return FaultsOut(
        cases=sorted(lines, key=lambda one: one.closed),
        found=[one for machine in Machine.select().order_by(Machine.name) for one in found_on(machine)],
        complaints=[complaint_out(key) for key in causes.COMPLAINTS],
    )


def _line(row: Fault, last: FaultEnd | None) -> FaultLineOut:
    closed = last is not None and last.closed
    return FaultLineOut(
        id=row.id,
        title=words.title_said(row.complaint, row.machine.name),
        machine=row.machine.name,
        leads=causes.CAUSES[last.cause] if last is not None and closed else "",
        closed=closed,
        at=row.at,
        person=row.person.name,
    )


def open_fault(work: Work, form: FaultIn) -> FaultSheetOut:
    """Open a case on a setup."""
    person, setup = work.person(), usable_setup(form.setup_id)
    if form.complaint not in causes.COMPLAINTS:
        raise Refused(FieldProblem("complaint", "unknown", words.NO_SUCH))
    row = None if form.print_id is None else find(Print, form.print_id, "print")
    if row is not None and row.setup_id != setup.id:
        raise Refused(FieldProblem("print_id", "unknown", words.NO_SUCH))
    layer, height_mm = (None, None) if row is None else (row.stopped_layer, row.stopped_mm)
    if form.layer.strip() or form.height_mm.strip():
        fields = TypedFields()
        layer, height_mm = read_place(
            tuned_of(setup), form.layer, form.height_mm, fields, what=words.WHERE, at=("layer", "height_mm")
        )
        fields.refuse_if_any()
    seen = {
        "print": form.print_id, "layer": layer, "height_mm": height_mm, "note": form.note.strip(),
        "person": person, "at": work.now,
    }  # fmt: skip
    fault = _same_case(work, setup, form.complaint)
    if fault is None:
        fault = Fault.create(setup=setup, machine=setup.toolhead.machine_id, complaint=form.complaint, **seen)
    elif ended(fault) or was_gone(fault) or form.print_id or layer or height_mm or form.note.strip():
        # The same on the same machine is the same case: what was gone was not cured.
        FaultEnd.create(fault=fault, closed=False, cause="", **seen)
    return show_fault(work, fault.id)


def _same_case(work: Work, setup: Setup, complaint: str) -> Fault | None:
    """The newest case of the same complaint on the same setup, where it is open or was closed within the last weeks.

    With another filament or nozzle it is a case of its own, which says that there was one.
    """
    row: Fault | None = (
        Fault.select().where(Fault.setup == setup.id, Fault.complaint == complaint).order_by(Fault.id.desc()).first()
    )
    end = None if row is None else ended(row)
    return None if end is not None and end.at < work.now - REOPENS_WITHIN else row


def answer_fault(work: Work, fault_id: int, form: FaultAnswerIn) -> FaultSheetOut:
    """Write one answer down; the newest to the same question counts."""
    # What was found on the way may be mended long after its case was closed.
    person, row = work.person(), find(Fault, fault_id, "case") if form.kind == "found" else _open_case(fault_id)
    if not _is_answer(form):
        raise Refused(FieldProblem("answer", "unknown", words.NO_SUCH))
    if form.kind == "remedy" and form.write_down and form.key in MENDS:
        _write_down(work, row, form.key)
    FaultAnswer.create(
        fault=row, kind=form.kind, key=form.key, answer=form.answer, unsure=form.unsure, note=form.note.strip(),
        person=person, at=work.now,
    )  # fmt: skip
    return show_fault(work, fault_id)


def _write_down(work: Work, row: Fault, remedy: str) -> None:
    """Log the work of a remedy once a case, however often its result is said."""
    done = FaultAnswer.select().where(
        FaultAnswer.fault == row.id, FaultAnswer.kind == "remedy", FaultAnswer.key == remedy
    )
    if not done.exists():
        note = words.work_note(causes.REMEDIES[remedy][0], causes.COMPLAINTS[row.complaint][0])
        log_change(work, row.setup_id, ChangeIn(kind=MENDS[remedy], note=note))


def _open_case(fault_id: int) -> Fault:
    row = find(Fault, fault_id, "case")
    if ended(row) is not None:
        raise Clash(words.NOT_OPEN, code="closed")
    return row


def _is_answer(form: FaultAnswerIn) -> bool:
    base = knowledge()
    there = {
        "finding": lambda: form.key in base.findings and form.answer in base.findings[form.key].background,
        "not_so": lambda: form.key in base.findings and form.answer == "",
        "also": lambda: form.key in base.complaints and form.answer in {"yes", "no"},
        "unable": lambda: form.key in base.checks and form.answer == "",
        "remedy": lambda: form.key in base.remedies and form.answer in words.RESULTS,
        "stopped": lambda: form.key in causes.STOP and form.answer == "",
        "found": lambda: form.key in causes.FOUND and form.answer in {"", words.MENDED},
    }
    return there[form.kind]()


def take_back_answer(work: Work, answer_id: int) -> FaultSheetOut:
    """Take an answer back; it stays on record."""
    row = find(FaultAnswer, answer_id, "answer")
    _open_case(row.fault_id)
    _OFF.add_unless_there(answer=row, person=work.person(), at=work.now)
    return show_fault(work, row.fault_id)


def close_fault(work: Work, fault_id: int, form: FaultCloseIn) -> FaultSheetOut:
    """Close a case with what it was: on this machine that cause counts more from then on."""
    person, row = work.person(), _open_case(fault_id)
    if form.cause not in causes.CAUSES:
        raise Refused(FieldProblem("cause", "unknown", words.EMPTY_CAUSE))
    FaultEnd.create(fault=row, closed=True, cause=form.cause, note=form.note.strip(), person=person, at=work.now)
    return show_fault(work, fault_id)


def reopen_fault(work: Work, fault_id: int) -> FaultSheetOut:
    """Open a case again."""
    person, row = work.person(), find(Fault, fault_id, "case")
    if ended(row) is not None:
        FaultEnd.create(fault=row, closed=False, cause="", note="", person=person, at=work.now)
    return show_fault(work, fault_id)
