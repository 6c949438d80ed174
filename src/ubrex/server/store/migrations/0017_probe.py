"""Temperatures are read too: with a probe, in a heat check."""

from __future__ import annotations

from typing import Any

PROBE = """
ALTER TABLE reading DROP CONSTRAINT reading_unit_check;
ALTER TABLE reading ADD CONSTRAINT reading_unit_check CHECK (unit IN ('mm', 'g', 'rating', 'count', '°C'));
"""


def up(_migrator: Any, db: Any) -> None:
    """No reading so far was a temperature."""
    db.execute_sql(PROBE)
