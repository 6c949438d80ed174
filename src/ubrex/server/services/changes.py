"""Work done on machines: what it will make stale, logging it, taking an entry back."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any, Final

from peewee import JOIN

from ubrex.core.chain import EFFECTS, Change, Effect, Step, gravest
from ubrex.server.services import setups
from ubrex.server.services.errors import Clash, FieldProblem, Refused
from ubrex.server.services.views import ChangeIn, ChangeKindOut, ChangeOut
from ubrex.server.services.work import Work, find
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import LoggedChange, Person, Withdrawal
from ubrex.server.words.changes import CHANGES, touched

SHOWN: Final = 5


def _of_machine(machine_id: int) -> Any:
    return (
        LoggedChange.select(LoggedChange, Person.name, Withdrawal)
        .join(Person, on=(LoggedChange.person == Person.id))
        .switch(LoggedChange)
        .join(Withdrawal, JOIN.LEFT_OUTER, on=(Withdrawal.change == LoggedChange.id), attr="withdrawal")
        .where(LoggedChange.machine == machine_id)
        .order_by(LoggedChange.happened_at.desc(), LoggedChange.id.desc())
        .limit(200)
    )


_OF_MACHINE: Final[Prepared[LoggedChange]] = Prepared(_of_machine)


def of_machine(machine_id: int) -> list[LoggedChange]:
    """What was done to a machine, the newest first."""
    return _OF_MACHINE.rows(machine_id)


def recent(logged: Sequence[LoggedChange]) -> list[ChangeOut]:
    """The last things done to a machine, entries taken back too."""
    return [view(row) for row in logged[:SHOWN]]


def counting(
    logged: Sequence[LoggedChange], step: Step, *, since: datetime, read_back_at: datetime | None
) -> LoggedChange | None:
    """The change after ``since`` that asks for most of a step, the newest of several; None if nothing was done.

    What asks only for the stored value is answered by a read-back that matched.
    """

    def counts(row: LoggedChange) -> bool:
        effect = effect_of(row, step)
        answered = max(since, read_back_at or since) if effect is Effect.RE_ENTER else since
        return effect is not None and not _withdrawn(row) and row.happened_at > answered

    later = [row for row in logged if counts(row)]
    worst = gravest(effect for row in later if (effect := effect_of(row, step)))
    return next((row for row in later if effect_of(row, step) is worst), None)


def effect_of(row: LoggedChange, step: Step) -> Effect | None:
    """What a logged change asks of a step."""
    return EFFECTS[Change(row.kind)].get(step)


def view(row: LoggedChange) -> ChangeOut:
    """A logged change as a screen shows it."""
    return ChangeOut(
        id=row.id,
        kind=Change(row.kind),
        name=CHANGES[Change(row.kind)],
        note=row.note,
        happened_at=row.happened_at,
        person=row.person.name,
        withdrawn=_withdrawn(row),
    )


def kinds(_work: Work, setup_id: int) -> list[ChangeKindOut]:
    """What can be logged, and what each will make of which setups."""
    machine = setups.usable_setup(setup_id).toolhead.machine
    names = [setups.title(row) for row in setups.setups_in_use() if row.toolhead.machine_id == machine.id]
    return [
        ChangeKindOut(
            kind=kind,
            name=name,
            consequence=touched(EFFECTS[kind][Step.E_STEPS], kind),
            setups=names,
        )
        for kind, name in CHANGES.items()
    ]


def log(work: Work, setup_id: int, form: ChangeIn) -> ChangeOut:
    """Log what was done to the machine of a setup, also after the fact."""
    person = work.person()
    machine = setups.usable_setup(setup_id).toolhead.machine
    happened_at = form.happened_at or work.now
    if happened_at > work.now:
        raise Refused(FieldProblem("happened_at", "in_future", "That lies in the future: when was it done?"))
    note = form.note.strip()
    day = happened_at.date()
    same = [row for row in of_machine(machine.id) if row.kind == form.kind.value and row.happened_at.date() == day]
    if any(row.note == note and not _withdrawn(row) for row in same):
        said = "That is logged for this day already. Say in the note what was different."
        raise Refused(FieldProblem("kind", "logged_already", said))
    row = LoggedChange.create(
        machine=machine,
        kind=form.kind.value,
        note=note,
        happened_at=happened_at,
        person=person,
        logged_at=work.now,
    )
    return view(row)


def withdraw(work: Work, change_id: int) -> ChangeOut:
    """Take a logged change back: it was not done, or not to this machine."""
    person = work.person()
    row = find(LoggedChange, change_id, "change")
    if Withdrawal.get_or_none(Withdrawal.change == row.id) is not None:
        raise Clash("This entry was taken back already.", code="withdrawn_already")
    Withdrawal.create(change=row, person=person, at=work.now)
    return next(view(one) for one in of_machine(row.machine_id) if one.id == row.id)


def _withdrawn(row: LoggedChange) -> bool:
    return getattr(row, "withdrawal", None) is not None
