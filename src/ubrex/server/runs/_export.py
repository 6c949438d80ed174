"""All readings of a workshop as a table for a spreadsheet."""

from __future__ import annotations

from datetime import datetime
from typing import Final

from peewee import JOIN

from ubrex.server.calibrations import CALIBRATIONS
from ubrex.server.desk import Work
from ubrex.server.profile import sheet_of
from ubrex.server.runs._records import select_runs
from ubrex.server.store.records import Instrument, Person, Reading, Strike
from ubrex.server.views.profiles import ExportOut
from ubrex.server.words.standing import STEP_NAMES
from ubrex.server.workshop import setup_title

HEADS: Final = (
    "run", "step", "method", "setup", "state", "started", "sample_made", "reading", "place", "number", "unit", "typed",
    "tool", "person", "taken", "struck",
)  # fmt: skip


def export_readings(_work: Work) -> ExportOut:
    """Every reading and rating ever taken, the struck ones with their reason; the newest run first."""
    runs = {run.id: run for run in select_runs()}
    rows = (
        Reading.select(Reading, Instrument.name, Person.name, Strike.reason)
        .join(Instrument)
        .switch(Reading)
        .join(Person, on=(Reading.person == Person.id))
        .switch(Reading)
        .join(Strike, JOIN.LEFT_OUTER, on=(Strike.reading == Reading.id), attr="strike")
        .order_by(Reading.run.desc(), Reading.position)
    )
    lines: list[list[str | float | datetime | None]] = []
    for row in rows:
        run = runs[row.run_id]
        strike = getattr(row, "strike", None)
        lines.append(
            [
                run.id, STEP_NAMES[run.step], CALIBRATIONS[run.method].words.name, setup_title(run.setup), run.state,
                run.started_at, run.made_at or run.fed_at, row.position, row.place or "", row.number, row.unit, row.typed,
                row.instrument.name, row.person.name, row.taken_at, None if strike is None else strike.reason,
            ]
        )  # fmt: skip
    return ExportOut(name="readings.csv", text=sheet_of(HEADS, lines))
