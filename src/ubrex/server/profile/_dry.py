"""How dry the filament of a setup is, by the log of its spool."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from ubrex.core.judge import Finding, judge_dryness
from ubrex.core.materials import DryEntry, Dryness, Found, dryness, family, that_count
from ubrex.server.store.margin import MOST_DRY, DryRow
from ubrex.server.store.records import Setup, SpoolEntry
from ubrex.server.workshop import drying_asked

HOUR_S = 3600.0


def dry_rows(setup: Setup) -> list[DryRow]:
    """How dry the spool of a setup was found, newest first."""
    if setup.spool_id is None:
        return []
    rows = (
        SpoolEntry.select()
        .where(SpoolEntry.spool == setup.spool_id, SpoolEntry.kind.in_(("wet_test", "dried")))
        .order_by(SpoolEntry.at.desc(), SpoolEntry.id.desc())
        .limit(MOST_DRY)
    )
    return [DryRow(row.kind, row.number, row.second, row.at.timestamp()) for row in rows]


def dryness_of(setup: Setup, rows: Iterable[DryRow], now: datetime) -> Dryness:
    """Whether the filament of a setup counts as dry."""
    return dryness(family(setup.filament.family), _entries(setup, rows, now))


def dry_findings(setup: Setup, rows: Iterable[DryRow], now: datetime) -> list[Finding]:
    """What is to be said of that."""
    row = family(setup.filament.family)
    return judge_dryness(dryness_of(setup, rows, now), thirsty=row.hygroscopic or row.dry_always)


def hours_since_dried(setup: Setup, rows: Iterable[DryRow], now: datetime) -> float | None:
    """Hours since the last drying that counts; None where nobody noted one."""
    return next((row.hours_ago for row in _entries(setup, rows, now) if row.found is Found.DRIED), None)


def days_since_found(setup: Setup, rows: Iterable[DryRow], now: datetime) -> float | None:
    """Days since the newest entry that counts; None where there is none."""
    return next((row.hours_ago / 24 for row in _entries(setup, rows, now)), None)


def _entries(setup: Setup, rows: Iterable[DryRow], now: datetime) -> list[DryEntry]:
    """The entries of a spool that count, newest first."""
    now_s = now.timestamp()
    found = [DryEntry(_found(row), (now_s - row.at_s) / HOUR_S, row.number, row.celsius or 0.0) for row in rows]
    return that_count(found, drying_asked(setup.filament))


def _found(row: DryRow) -> Found:
    if row.kind == "dried":
        return Found.DRIED
    return Found.POPS if row.number > 0 else Found.SILENT
