"""Dates outside this century, which clocks that were wrong wrote, and names with line ends in them."""

from __future__ import annotations

from typing import Any, Final

DATED: Final = (
    ("change", "happened_at", "logged_at"),
    ("print", "happened_at", "logged_at"),
    ("reading", "taken_at", "received_at"),
    ("spool_entry", "at", "logged_at"),
)
"""Tables with a time that somebody says, and the time at which it was said."""

NAMED: Final = ("workshop", "person", "machine", "hotend", "surface", "filament", "spool", "instrument")

IN_TIME = """
ALTER TABLE {table} DISABLE TRIGGER USER;
UPDATE {table} SET {said} = {at} WHERE {said} < '2000-01-01' OR {said} >= '2100-01-01';
ALTER TABLE {table} ENABLE TRIGGER USER;
"""

ON_ONE_LINE = "UPDATE {table} SET name = regexp_replace(name, '[[:cntrl:]]+', ' ', 'g') WHERE name ~ '[[:cntrl:]]'"


def up(_migrator: Any, db: Any) -> None:
    """What lies outside happened when it was written down."""
    for table, said, at in DATED:
        db.execute_sql(IN_TIME.format(table=table, said=said, at=at))
    for table in NAMED:
        db.execute_sql(ON_ONE_LINE.format(table=table))
