"""Taking a check of a machine, listing those that were taken, taking one back."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from typing import Final

from peewee import JOIN

from ubrex.core.chain import Change, Kind, Origin
from ubrex.core.quantity import Unit
from ubrex.server.checks._kinds import CHECK_KINDS, offered, outcome_of
from ubrex.server.desk import Clash, FieldProblem, Refused, TypedFields, Work, find
from ubrex.server.profile import NewValue, Tuned, lock_values, tuned_of, write_values
from ubrex.server.store.facts import fetch_changes
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import CheckOff, LoggedChange, MachineCheck, Person
from ubrex.server.views.checks import CheckIn, CheckKindOut, CheckOut, ChecksOut
from ubrex.server.views.forms import FormOptionOut
from ubrex.server.words import checks as words
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.numbers import day
from ubrex.server.workshop import get_setup, setup_out, usable_setup

MOST_CHECKS: Final = 60
"""Checks that are listed at once."""

MOST_CHANGES: Final = 12
"""Work that a comparison may belong to: the newest."""

_OFF: Final = Insert(CheckOff)


def list_checks(_work: Work, setup_id: int) -> ChecksOut:
    """What can be checked on the machine of a setup, and what was."""
    setup = get_setup(setup_id)
    tuned = tuned_of(setup)
    work_done = [FormOptionOut(value="", text="nothing in particular")]
    for row in fetch_changes(setup, MOST_CHANGES):
        if not row.withdrawn:
            text = f"{CHANGES[Change(row.kind)].done}, {day(datetime.fromtimestamp(row.at_s, UTC))}"
            work_done.append(FormOptionOut(value=str(row.id), text=text))
    kinds = [
        CheckKindOut(
            kind=kind,
            name=what.name,
            why=what.why,
            procedure=list(what.procedure),
            fields=offered(kind, tuned, work_done),
        )
        for kind, what in CHECK_KINDS.items()
    ]
    rows = (
        MachineCheck.select(MachineCheck, Person, LoggedChange, CheckOff.check)
        .join(Person, on=(MachineCheck.person == Person.id))
        .switch(MachineCheck)
        .join(LoggedChange, JOIN.LEFT_OUTER)
        .switch(MachineCheck)
        .join(CheckOff, JOIN.LEFT_OUTER, on=(CheckOff.check == MachineCheck.id), attr="off")
        .where(MachineCheck.machine == setup.toolhead.machine_id)
        .order_by(MachineCheck.id.desc())
        .limit(MOST_CHECKS)
    )
    return ChecksOut(setup=setup_out(setup), kinds=kinds, done=[_shown(row, tuned) for row in rows])


def _shown(row: MachineCheck, tuned: Tuned) -> CheckOut:
    """A check as its rule says it today."""
    found = outcome_of(row.kind, tuned, row.typed, TypedFields())
    off = getattr(row, "off", None)
    change = row.change
    return CheckOut(
        id=row.id,
        kind=row.kind,
        name=CHECK_KINDS[row.kind].name,
        grade="open" if found is None else found.grade,
        title="" if found is None else found.title,
        sentence="" if found is None else found.sentence,
        remarks=[] if found is None else found.remarks,
        mesh=[] if found is None else found.mesh,
        change="" if change is None else f"{CHANGES[Change(change.kind)].done}, {day(change.happened_at)}",
        note=row.note,
        person=row.person.name,
        at=row.at,
        withdrawn=off is not None and off.check_id is not None,
    )


def take_check(work: Work, setup_id: int, form: CheckIn) -> ChecksOut:
    """Take a check; where it finds up to where a heater holds, that stands with its hotend from now on."""
    person = work.person()
    setup = usable_setup(setup_id)
    if form.kind not in CHECK_KINDS:
        raise Refused(FieldProblem("kind", "unknown", words.NO_SUCH_KIND))
    lock_values()
    fields = TypedFields()
    found = outcome_of(form.kind, tuned_of(setup), form.values, fields)
    change = _change_of(form.values.get("change", ""), setup.toolhead.machine_id, fields)
    fields.refuse_if_any()
    assert found is not None
    names = {row.name for row in CHECK_KINDS[form.kind].offer(tuned_of(setup))}
    MachineCheck.create(
        setup=setup,
        machine=setup.toolhead.machine_id,
        change=change,
        kind=form.kind,
        typed={name: text for name, text in form.values.items() if name in names},
        figures=found.figures,
        note=form.note.strip(),
        person=person,
        at=work.now,
    )
    if found.holds_c is not None:
        said = found.remarks[0]
        holds = NewValue(
            kind=Kind.HEATER_HOLDS,
            number=float(round(found.holds_c)),
            unit=Unit.CELSIUS,
            origin=Origin.TYPED,
            note=said,
        )
        write_values(work, setup, [holds], cause="typed", note=said)
    return list_checks(work, setup_id)


def _change_of(typed: str, machine_id: int, fields: TypedFields) -> LoggedChange | None:
    """The work a check belongs to; None where it belongs to nothing in particular."""
    if not typed:
        return None
    known = re.fullmatch(r"[0-9]{1,18}", typed) is not None
    row = LoggedChange.get_or_none(LoggedChange.id == int(typed)) if known else None
    if row is None or row.machine_id not in {None, machine_id}:
        fields.add(FieldProblem("change", "unknown", words.CHOOSE))
        return None
    return row


def withdraw_check(work: Work, check_id: int) -> ChecksOut:
    """Take a check back; what it found of a heater stays until it is typed or logged anew."""
    person = work.person()
    row = find(MachineCheck, check_id, "check")
    if not _OFF.add_unless_there(check=row, person=person, at=work.now):
        raise Clash(words.BACK_ALREADY, code="withdrawn_already")
    return list_checks(work, row.setup_id)
