"""Decisions to keep a value, newest first: which of them came after a value is looked up, not walked to."""

from __future__ import annotations

from typing import Any

INDEX = "CREATE INDEX decision_kept ON decision (at DESC) WHERE action = 'keep';"


def up(_migrator: Any, db: Any) -> None:
    """Add the index."""
    db.execute_sql(INDEX)
