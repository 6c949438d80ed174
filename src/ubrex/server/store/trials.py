"""What is set for a trial alone, and was neither put back nor kept."""

from __future__ import annotations

from typing import Final, NamedTuple

from ubrex.server.store.database import database

OPEN_TRIALS: Final = """trial t JOIN print p ON p.id = t.print_id
    WHERE t.setup_id = %(setup)s AND NOT EXISTS (SELECT 1 FROM trial_end e WHERE e.trial_id = t.id)
    AND NOT EXISTS (SELECT 1 FROM print_off o WHERE o.print_id = t.print_id)"""
"""Where the trials of a setup are found that are open."""


class TrialRow(NamedTuple):
    """A setting that is still set for a trial."""

    id: int
    kind: str
    number: float
    unit: str
    reach: str
    from_mm: float | None
    what: str


def fetch_open_trials(setup_id: int) -> list[TrialRow]:
    """What is set for a trial on a setup, oldest first."""
    sql = f"SELECT t.id, t.kind, t.number, t.unit, t.reach, t.from_mm, p.what FROM {OPEN_TRIALS} ORDER BY t.id"
    return [TrialRow(*row) for row in database.execute_sql(sql, {"setup": setup_id}).fetchall()]
