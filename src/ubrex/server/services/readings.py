"""Readings of a run: all of them, struck ones too, each with its strike, tool and person."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Final

from peewee import JOIN

from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Instrument, Person, Reading, Strike


def _of_run(run_id: int) -> Any:
    return (
        Reading.select(Reading, Strike, Instrument.id, Instrument.name, Person.id, Person.name)
        .join(Strike, JOIN.LEFT_OUTER, on=(Strike.reading == Reading.id), attr="strike")
        .switch(Reading)
        .join(Instrument)
        .switch(Reading)
        .join(Person, on=(Reading.person == Person.id))
        .where(Reading.run == run_id)
        .order_by(Reading.position)
    )


_OF_RUN: Final[Prepared[Reading]] = Prepared(_of_run)


def of_run(run_id: int) -> list[Reading]:
    """Every reading of a run, in the order they were taken."""
    return _OF_RUN.rows(run_id)


def strike_of(reading: Reading) -> Strike | None:
    """The strike of a reading; None for one that counts."""
    strike: Strike | None = getattr(reading, "strike", None)
    return strike


def counting(rows: Iterable[Reading]) -> list[Reading]:
    """Those of the readings that count."""
    return [row for row in rows if strike_of(row) is None]
