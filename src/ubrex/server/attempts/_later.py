"""What shows only later: looked at again when its day has come."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Final, Literal, TypeAlias, cast

from peewee import JOIN

from ubrex.server.desk import Clash, FieldProblem, TypedFields, Work, find
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import LookAgain, Looked, Print
from ubrex.server.views.attempts import LookAgainIn, LookAgainOut, LookedIn, LooksOut
from ubrex.server.words import attempts as words
from ubrex.server.words.numbers import day

LONGEST_DAYS: Final = 1000
USUAL_DAYS: Final = "14"

_LOOKED: Final = Insert(Looked)

Write: TypeAlias = Callable[[Work, Print, datetime], object]


def write_look(
    at_what: str, days: str, fields: TypedFields, *, at: str = "look_again", field: str = "look_in_days"
) -> Write | None:
    """How to write down what is looked at again, with the attempt it belongs to; None where nothing is."""
    if not at_what.strip():
        if days.strip():
            fields.add(FieldProblem(at, "empty", words.EMPTY_LOOK))
        return None
    number = fields.number(field, days or USUAL_DAYS, what=words.AT_WHAT, low=1, high=LONGEST_DAYS, why=words.DAYS_WHY)
    if number is None:
        return None
    return lambda work, row, since: LookAgain.create(
        print=row, at_what=at_what.strip(), due_at=since + timedelta(days=number), person=work.person(), at=work.now
    )


def look_again(work: Work, print_id: int, form: LookAgainIn) -> LooksOut:
    """Have something of an attempt looked at again."""
    row, fields = find(Print, print_id, "print"), TypedFields()
    write = write_look(form.at_what, form.days, fields, at="at_what", field="days")
    if write is None and not fields.any:
        fields.add(FieldProblem("at_what", "empty", words.EMPTY_LOOK))
    fields.refuse_if_any()
    if write is not None:
        write(work, row, work.now)
    return LooksOut(looks=looks_of(work, [row]))


def look(work: Work, look_id: int, form: LookedIn) -> LooksOut:
    """Say what was found when somebody looked again."""
    person = work.person()
    row = find(LookAgain, look_id, "look")
    if not _LOOKED.add_unless_there(
        look_again=row, outcome=form.outcome, note=form.note.strip(), person=person, at=work.now
    ):
        raise Clash(words.LOOKED, code="looked_already")
    return LooksOut(looks=looks_of(work, [find(Print, row.print_id, "print")]))


def looks_of(work: Work, prints: list[Print]) -> list[LookAgainOut]:
    """Everything of some attempts that is looked at again, the next one first."""
    rows = (
        LookAgain.select(LookAgain, Print, Looked)
        .join(Print)
        .switch(LookAgain)
        .join(Looked, JOIN.LEFT_OUTER, on=(Looked.look_again == LookAgain.id), attr="found")
        .where(LookAgain.print.in_([row.id for row in prints]))
        .order_by(LookAgain.due_at, LookAgain.id)
    )
    return [_shown(work, row) for row in rows]


def due_looks(work: Work, setup_id: int) -> list[LookAgainOut]:
    """What nobody has looked at yet on a setup, though its day has come."""
    rows = Print.select().join(LookAgain).where(Print.setup == setup_id, Print.standing(), LookAgain.due_at <= work.now)
    return [one for one in looks_of(work, list(rows.distinct())) if one.due]


def _shown(work: Work, row: LookAgain) -> LookAgainOut:
    found: Looked | None = getattr(row, "found", None)
    if found is not None and found.look_again_id is None:
        found = None
    outcome = None if found is None else found.outcome
    due = outcome is None and row.due_at <= work.now
    return LookAgainOut(
        id=row.id,
        print_id=row.print_id,
        what=row.print.what,
        at_what=row.at_what,
        due_at=row.due_at,
        due=due,
        outcome=cast("Literal['good', 'bad'] | None", outcome),
        note="" if found is None else found.note,
        said=words.look_said(row.at_what, row.print.what, day(row.due_at), due=due)
        if outcome is None
        else words.looked_said(row.at_what, outcome),
    )
