"""Readings of a run: all of them, struck ones too, each with its strike, tool and person."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Final

from peewee import JOIN

from ubrex.server.store.prepared import Prepared, record
from ubrex.server.store.records import Instrument, Person, Reading, Strike

STRUCK: Final = "strike"
"""Where a reading that was struck out keeps why; the others have nothing there."""

_OWN: Final = tuple(Reading._meta.sorted_fields)


def _of_run(run_id: int) -> Any:
    return (
        Reading.select(*_OWN, Instrument.name, Person.name, Strike.reason, Strike.at_once)
        .join(Strike, JOIN.LEFT_OUTER, on=(Strike.reading == Reading.id))
        .switch(Reading)
        .join(Instrument)
        .switch(Reading)
        .join(Person, on=(Reading.person == Person.id))
        .where(Reading.run == run_id)
        .order_by(Reading.position)
    )


_OF_RUN: Final[Prepared[Reading]] = Prepared(_of_run)


def readings_of(run_id: int) -> list[Reading]:
    """Every reading of a run, in the order they were taken; a tower has hundreds, so no record is made twice."""
    tools: dict[int, Instrument] = {}
    people: dict[int, Person] = {}
    found = []
    for *own, tool, person, reason, at_once in _OF_RUN.tuples(run_id):
        reading = record(Reading, own)
        if reading.instrument_id not in tools:
            tools[reading.instrument_id] = Instrument(id=reading.instrument_id, name=tool)
        if reading.person_id not in people:
            people[reading.person_id] = Person(id=reading.person_id, name=person)
        reading.instrument, reading.person = tools[reading.instrument_id], people[reading.person_id]
        if reason is not None:
            setattr(reading, STRUCK, Strike(reading=reading.id, reason=reason, at_once=at_once))
        found.append(reading)
    return found


def strike_of(reading: Reading) -> Strike | None:
    """The strike of a reading; None for one that counts."""
    strike: Strike | None = getattr(reading, STRUCK, None)
    return strike


def counting(rows: Iterable[Reading]) -> list[Reading]:
    """Those of the readings that count."""
    return [row for row in rows if strike_of(row) is None]
