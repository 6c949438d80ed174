"""All prints of a workshop as a table for a spreadsheet."""

from __future__ import annotations

from typing import Final

from peewee import JOIN

from ubrex.core.chain import Kind
from ubrex.server.desk import Work
from ubrex.server.profile import sheet_of
from ubrex.server.store.records import CheckedFile, Person, Print, PrintOff, Spool, Trial
from ubrex.server.views.profiles import ExportOut
from ubrex.server.words.attempts import COUNTS, tried_said
from ubrex.server.words.scales import SIGNS
from ubrex.server.workshop import select_setups, setup_title

HEADS: Final = (
    "print",
    "what",
    "setup",
    "when",
    "started",
    "outcome",
    "revision",
    "looks",
    "stopped_layer",
    "stopped_mm",
    "fit",
    "file",
    "tried",
    "hours",
    "grams",
    "spool",
    *SIGNS,
    *(f"{key}_counted" for key in COUNTS),
    "note",
    "person",
    "taken_back",
)


def export_prints(_work: Work) -> ExportOut:
    """Every print ever written down, the newest first, those taken back too; signs that nobody looked at are empty."""
    titles = {setup.id: setup_title(setup) for setup in select_setups()}
    rows = (
        Print.select(Print, Person.name, Spool.name, CheckedFile.name, PrintOff.print)
        .join(Person, on=(Print.person == Person.id))
        .switch(Print)
        .join(Spool, JOIN.LEFT_OUTER)
        .switch(Print)
        .join(CheckedFile, JOIN.LEFT_OUTER)
        .switch(Print)
        .join(PrintOff, JOIN.LEFT_OUTER, on=(PrintOff.print == Print.id), attr="off")
        .order_by(Print.happened_at.desc(), Print.id.desc())
    )
    tried: dict[int, list[str]] = {}
    for one in Trial.select().order_by(Trial.id):
        said = tried_said(Kind(one.kind), one.number, one.unit, one.reach, one.from_mm)
        tried.setdefault(one.print_id, []).append(said)
    lines = []
    for row in rows:
        off = getattr(row, "off", None)
        back = "yes" if off is not None and off.print_id is not None else ""
        signs = [row.signs.get(key) for key in SIGNS]
        counted = [row.counts.get(key) for key in COUNTS]
        lines.append(
            [
                row.id, row.what, titles[row.setup_id], row.happened_at, row.started_at, row.outcome, row.revision,
                row.looks, row.stopped_layer, row.stopped_mm, row.fit, None if row.file is None else row.file.name,
                "; ".join(tried.get(row.id, [])), row.hours or None, row.grams or None,
                None if row.spool is None else row.spool.name, *signs, *counted, row.note, row.person.name, back,
            ]
        )  # fmt: skip
    return ExportOut(name="prints.csv", text=sheet_of(HEADS, lines))
