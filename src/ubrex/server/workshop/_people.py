"""People: names in the workshop, no passwords."""

from __future__ import annotations

from ubrex.server.desk import FieldProblem, Refused, Work
from ubrex.server.store.records import Person
from ubrex.server.views.workshop import PersonIn, PersonOut


def all_people(_work: Work) -> list[PersonOut]:
    """Everybody, by name."""
    return [PersonOut(id=person.id, name=person.name) for person in Person.select().order_by(Person.name)]


def add_person(work: Work, form: PersonIn) -> PersonOut:
    """A name added; a name already there is that person."""
    if not form.name:
        raise Refused(FieldProblem("name", "empty", "Type a name: every entry carries one."))
    person, _ = Person.get_or_create(name=form.name, defaults={"created_at": work.now})
    return PersonOut(id=person.id, name=person.name)
