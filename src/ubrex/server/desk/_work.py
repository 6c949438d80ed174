"""One piece of work: who does it, when, and inside which transaction."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Concatenate, Final, ParamSpec, TypeVar

from ubrex.server.desk._errors import FieldProblem, Missing, Refused
from ubrex.server.store.database import unit_of_work
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Person, Record
from ubrex.server.words.desk import WHO_IS_IT, not_there_said

P = ParamSpec("P")
R = TypeVar("R")
AnyRecord = TypeVar("AnyRecord", bound=Record)


_PERSON: Final[Prepared[Person]] = Prepared(lambda person_id: Person.select().where(Person.id == person_id))


def utc_now() -> datetime:
    """The time, from the one place in the services that asks for it."""
    return datetime.now(UTC)


@dataclass(frozen=True, slots=True)
class Work:
    """What a use case knows about its caller; ``person_id`` is None until somebody said who they are."""

    now: datetime
    person_id: int | None = None

    def person(self) -> Person:
        """Who does this; every write carries a name."""
        person = None if self.person_id is None else _PERSON.first(self.person_id)
        if person is None:
            raise Refused(FieldProblem("person", "who_is_it", WHO_IS_IT))
        return person


@dataclass(frozen=True, slots=True)
class Desk:
    """Where use cases are handed in: opens the transaction, in the thread that asks, and closes it."""

    clock: Callable[[], datetime] = utc_now

    def do(
        self, case: Callable[Concatenate[Work, P], R], person_id: int | None, *args: P.args, **kwargs: P.kwargs
    ) -> R:
        """Answer of ``case``, run in one transaction that is kept only if it does not raise."""
        with unit_of_work():
            return case(Work(self.clock(), person_id), *args, **kwargs)


def find(kind: type[AnyRecord], key: int, what: str) -> AnyRecord:
    """The record with this id.

    Raises
    ------
    Missing
        If there is none.
    """
    record = kind.get_or_none(kind.id == key)
    if record is None:
        raise Missing(not_there_said(what, key), id=key)
    return record
