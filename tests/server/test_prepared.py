"""Statements whose SQL and rows are made once give what peewee gives."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from itertools import product
from typing import Any

from peewee import JOIN, fn

from ubrex.server.desk import Desk, Work
from ubrex.server.profile import select_values
from ubrex.server.runs import select_runs
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Record, Run, Setup, Surface, TunedValue
from ubrex.server.workshop import select_setups


def whole(record: Record | None) -> Any:
    """A record with everything that is joined to it."""
    if record is None:
        return None
    return type(record), record.__data__, {name: whole(joined) for name, joined in record.__rel__.items()}


def with_surface(setup_id: int) -> Any:
    """Only a part of what is joined, and that not always there."""
    return (
        Setup.select(Setup, Surface.id, Surface.name)
        .join(Surface, JOIN.LEFT_OUTER, on=(Setup.surface == Surface.id))
        .where(Setup.id == setup_id)
    )


def test_records_are_those_that_peewee_makes_with_all_that_is_joined_to_them(sample: Desk) -> None:
    """For every setup, run and value of the sample workshop; asked twice, since the second time nothing is worked out."""

    def compared(_work: Work) -> Counter[str]:
        Setup.update(surface=None, spool=None).where(Setup.id == Setup.select(fn.MAX(Setup.id))).execute()
        found: Counter[str] = Counter()
        builds: dict[str, Callable[[int], Any]] = {
            "setup": lambda key: select_setups().where(Setup.id == key),
            "surface": with_surface,
            "run": lambda key: select_runs().where(Run.id == key),
            "value": lambda key: select_values().where(TunedValue.id == key),
        }
        prepared = {name: Prepared[Record](build) for name, build in builds.items()}
        for key, name in product(range(1, 40), builds):
            ours = [whole(record) for record in prepared[name].rows(key)]
            assert ours == [whole(record) for record in builds[name](key)], (name, key)
            found[name] += len(ours)
        return found

    assert min(sample.do(compared, 1).values()) > 4
