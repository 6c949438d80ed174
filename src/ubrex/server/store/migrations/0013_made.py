"""When the sample of a run was made or read last; and a Z-offset, which may be below 0, is read back too."""

from __future__ import annotations

from typing import Any

MADE = """
ALTER TABLE read_back DROP CONSTRAINT read_back_number_check;
ALTER TABLE run ADD COLUMN made_at timestamptz;
UPDATE run SET made_at = least(ended_at, coalesce(fed_at, greatest(started_at,
    (SELECT max(taken_at) FROM reading WHERE run_id = run.id)))) WHERE ended_at IS NOT NULL;
"""


def up(_migrator: Any, db: Any) -> None:
    """Runs of older backups come without it: they count as made when they ended."""
    db.execute_sql(MADE)
