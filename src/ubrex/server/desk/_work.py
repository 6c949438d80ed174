"""One piece of work: who does it, when, and inside which transaction."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from typing import Concatenate, Final, ParamSpec, TypeVar

from ubrex.server.desk._errors import FieldProblem, Missing, Refused
from ubrex.server.store.database import unit_of_work
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Person, Record
from ubrex.server.words.desk import WHO_IS_IT, not_there_said

P = ParamSpec("P")
R = TypeVar("R")

TICK: Final = timedelta(microseconds=1)
"""Time between two entries while the clock stands still or goes back."""

AnyRecord = TypeVar("AnyRecord", bound=Record)


_PERSON: Final[Prepared[Person]] = Prepared(lambda person_id: Person.select().where(Person.id == person_id))


def utc_now() -> datetime:
    """The time, from the one place in the services that asks for it."""
    return datetime.now(UTC)


def _forget(_at: datetime) -> None:
    """Nobody keeps when something was written."""


@dataclass(frozen=True, slots=True)
class Work:
    """What a use case knows about its caller; ``person_id`` is None until somebody said who they are.

    ``now`` is never before the newest entry, so that what is written later is later. ``behind``: by how much the clock of
    the machine stands before it.
    """

    now: datetime
    person_id: int | None = None
    behind: timedelta = timedelta()
    wrote: Callable[[datetime], None] = _forget

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
    _newest: list[datetime] = field(default_factory=list)

    def do(
        self, case: Callable[Concatenate[Work, P], R], person_id: int | None, *args: P.args, **kwargs: P.kwargs
    ) -> R:
        """Answer of ``case``, run in one transaction that is kept only if it does not raise."""
        with unit_of_work():
            return case(self._work(person_id), *args, **kwargs)

    def do_still(self, case: Callable[[Work], R], person_id: int | None) -> R:
        """Answer of ``case``, which sees the workshop as it was when it began: what others write meanwhile is not in it."""
        with unit_of_work(still=True):
            return case(self._work(person_id))

    def wrote(self, at: datetime) -> None:
        """Remember when the newest entry was written."""
        self._newest[:] = [max([at, *self._newest])]

    def _work(self, person_id: int | None) -> Work:
        now = self.clock()
        newest = max([now, *self._newest])
        behind = newest - now
        return Work(newest + TICK if behind else now, person_id, behind, self.wrote)


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
