"""Answers kept for a repeated write are stored as they are: packing one took longer than writing it."""

from __future__ import annotations

from typing import Any

STORED = "ALTER TABLE idempotency ALTER COLUMN response SET STORAGE EXTERNAL;"


def up(_migrator: Any, db: Any) -> None:
    """Change how answers are stored from now on."""
    db.execute_sql(STORED)
