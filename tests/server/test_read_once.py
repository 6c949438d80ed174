"""The bench is read again only when something was written; nobody is ever shown what was before a write."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta

import psycopg
import pytest

from ubrex.core.chain import Standing
from ubrex.server import bench
from ubrex.server.bench import _read as reading
from ubrex.server.desk import Desk, Work
from ubrex.server.runtime.cluster import APP, Cluster
from ubrex.server.store import database as store
from ubrex.server.store.margin import fetch_all
from ubrex.server.store.records import Machine, Surface
from ubrex.server.views.bench import SetupNoteIn


def notes(work: Work) -> list[str]:
    """What the bench shows as notes."""
    return [note.text for note in bench.show_bench(work, 1).notes]


def test_what_was_read_is_shown_again_until_something_is_written(sample: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    """The write may be anywhere: on another setup, by another person; here also in the workshop of another test."""
    reads: list[int] = []

    def counted(*given: object) -> object:
        reads.append(1)
        return fetch_all(*given)  # type: ignore[arg-type]

    def again() -> int:
        before = len(reads)
        assert sample.do(bench.show_bench, 2, 1).notes == first.notes
        return len(reads) - before

    monkeypatch.setattr(reading, "fetch_all", counted)
    first = sample.do(bench.show_bench, 1, 1)
    assert 0 in (again() for _ in range(200))
    sample.do(bench.add_note, 2, 2, SetupNoteIn(text="Rod oiled."))
    assert again() == 1


def test_what_comes_as_before_is_not_taken_apart_again_and_what_changed_is(sample: Desk) -> None:
    """A note elsewhere leaves everything as it was; one here the standing; a part of the setup nothing."""

    def now(write: Callable[[Work], object]) -> reading.Read:
        sample.do(write, 1)
        return sample.do(lambda _work: reading.read_now(1), 1)

    first = now(lambda work: bench.add_note(work, 1, SetupNoteIn(text="Began.")))
    elsewhere = now(lambda work: bench.add_note(work, 2, SetupNoteIn(text="Rod oiled.")))
    assert elsewhere is first
    here = now(lambda work: bench.add_note(work, 1, SetupNoteIn(text="Belt squeaks.")))
    assert here.given is first.given
    assert [row.text for row in here.margin.notes][:2] == ["Belt squeaks.", "Began."]
    now(lambda _work: Machine.update(name="Renamed").where(Machine.id == here.machine.id).execute())
    renamed = now(
        lambda _work: Surface.update(adhesive="glue").where(Surface.id == here.given.setup.surface_id).execute()
    )
    assert renamed.machine.name == "Renamed"
    assert renamed.given.setup.surface is not None
    assert renamed.given.setup.surface.adhesive == "glue"


def test_a_write_is_seen_by_itself_at_once_and_by_others_when_it_is_kept(sample: Desk, cluster: Cluster) -> None:
    """Also by those who asked while it went on; not at all if it is undone."""
    before = sample.do(notes, 1)
    with psycopg.connect(cluster.url(APP, "sample")) as another:
        another.execute("INSERT INTO note (setup_id, text, person_id, at) VALUES (1, 'Belt squeaks.', 2, now())")
        assert sample.do(notes, 1) == before
    assert sample.do(notes, 1) == ["Belt squeaks.", *before]

    def undone(work: Work) -> list[str]:
        with store.database.atomic() as part:
            bench.add_note(work, 1, SetupNoteIn(text="Never mind."))
            seen = notes(work)
            part.rollback()
        return seen

    assert sample.do(undone, 1) == ["Never mind.", "Belt squeaks.", *before]
    assert sample.do(notes, 1) == ["Belt squeaks.", *before]


def test_time_goes_on_over_rows_that_were_read_before(sample: Desk) -> None:
    """A year later nothing was written, and what was fresh is not."""
    now = sample.clock()
    found = []
    for moment in (now, now + timedelta(days=400)):
        rows = Desk(lambda moment=moment: moment).do(bench.show_bench, 1, 1).steps  # type: ignore[misc]
        found.append({row.step for row in rows if row.standing is Standing.FRESH})
    assert found[0] > found[1]
