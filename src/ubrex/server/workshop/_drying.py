"""What dries a filament, and which entries of a spool's log count as drying."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from ubrex.core.materials import DryEntry, Drying, Found, drying_of, family, that_count
from ubrex.server.store.records import Filament, SpoolEntry


def drying_asked(filament: Filament) -> Drying | None:
    """What dries a filament: its label, before what is usual for its family."""
    return drying_of(family(filament.family), filament.dry_c, filament.dry_h)


def dried_that_count(entries: Iterable[SpoolEntry], filament: Filament) -> list[SpoolEntry]:
    """The dryings of a spool's log that dried it, newest first."""
    rows = sorted((row for row in entries if row.kind == "dried"), key=lambda row: row.at, reverse=True)
    found = [_as_entry(row, rows[0].at) for row in rows]
    count = set(that_count(found, drying_asked(filament)))
    return [row for row, one in zip(rows, found, strict=True) if one in count]


def _as_entry(row: SpoolEntry, newest: datetime) -> DryEntry:
    """An entry, its age counted from the newest: only how far apart they are matters."""
    return DryEntry(Found.DRIED, (newest - row.at).total_seconds() / 3600, row.number, row.second or 0.0)
