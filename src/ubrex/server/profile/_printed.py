"""All prints of a workshop as a table for a spreadsheet."""

from __future__ import annotations

from typing import Final

from peewee import JOIN

from ubrex.server.desk import Work
from ubrex.server.profile._exports import sheet_of
from ubrex.server.store.records import Person, Print, PrintOff, Spool
from ubrex.server.views.profiles import ExportOut
from ubrex.server.words.scales import SIGNS
from ubrex.server.workshop import select_setups, setup_title

HEADS: Final = (
    "print",
    "what",
    "setup",
    "when",
    "outcome",
    "looks",
    "hours",
    "grams",
    "spool",
    *SIGNS,
    "note",
    "person",
    "taken_back",
)


def export_prints(_work: Work) -> ExportOut:
    """Every print ever written down, the newest first, those taken back too; signs that nobody looked at are empty."""
    titles = {setup.id: setup_title(setup) for setup in select_setups()}
    rows = (
        Print.select(Print, Person.name, Spool.name, PrintOff.print)
        .join(Person, on=(Print.person == Person.id))
        .switch(Print)
        .join(Spool, JOIN.LEFT_OUTER)
        .switch(Print)
        .join(PrintOff, JOIN.LEFT_OUTER, on=(PrintOff.print == Print.id), attr="off")
        .order_by(Print.happened_at.desc(), Print.id.desc())
    )
    lines = []
    for row in rows:
        off = getattr(row, "off", None)
        back = "yes" if off is not None and off.print_id is not None else ""
        signs = [row.signs.get(key) for key in SIGNS]
        lines.append(
            [
                row.id, row.what, titles[row.setup_id], row.happened_at, row.outcome, row.looks, row.hours or None,
                row.grams or None, None if row.spool is None else row.spool.name, *signs, row.note, row.person.name, back,
            ]
        )  # fmt: skip
    return ExportOut(name="prints.csv", text=sheet_of(HEADS, lines))
