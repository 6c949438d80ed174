"""Prints remember the spool they were printed from, so that what is left on it is known between two weighings."""

from __future__ import annotations

from typing import Any

SPOOL = """
ALTER TABLE print ADD COLUMN spool_id bigint REFERENCES spool ON DELETE RESTRICT;
CREATE INDEX print_of_spool ON print (spool_id, happened_at DESC) WHERE spool_id IS NOT NULL;
"""


def up(_migrator: Any, db: Any) -> None:
    """Add the column; of earlier prints nobody knows it."""
    db.execute_sql(SPOOL)
