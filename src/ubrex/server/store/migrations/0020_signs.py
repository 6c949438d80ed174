"""Prints say what was looked at: signs on the scales of 0 to 4. Of earlier ones nobody said any."""

from __future__ import annotations

from typing import Any

SIGNS = """
ALTER TABLE print ADD COLUMN signs jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(signs) = 'object');
"""


def up(_migrator: Any, db: Any) -> None:
    """Add them."""
    db.execute_sql(SIGNS)
