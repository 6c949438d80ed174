"""What workshops lack that were opened while notes and photographs were still being written."""

from __future__ import annotations

from typing import Any

GUARDED = """
DROP TRIGGER IF EXISTS {table}_is_kept ON {table};
CREATE TRIGGER {table}_is_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON {table}
    FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
"""

TAKEN_OFF = """
CREATE INDEX IF NOT EXISTS tuned_value_of_decision ON tuned_value (decision_id) WHERE decision_id IS NOT NULL;
CREATE TABLE IF NOT EXISTS photo_off (
    photo_id bigint PRIMARY KEY REFERENCES photo ON DELETE RESTRICT,
    person_id bigint NOT NULL REFERENCES person ON DELETE RESTRICT,
    at timestamptz NOT NULL
);
"""

MOVED = """
INSERT INTO photo_off (photo_id, person_id, at) SELECT id, person_id, removed_at FROM photo WHERE removed_at IS NOT NULL;
ALTER TABLE photo DROP COLUMN removed_at;
"""


def up(_migrator: Any, db: Any) -> None:
    """Photographs that were taken off keep it in a table of its own; where they do already, nothing changes."""
    db.execute_sql(TAKEN_OFF)
    if any(column.name == "removed_at" for column in db.get_columns("photo")):
        db.execute_sql(MOVED)
    for table in ("photo", "photo_off"):
        db.execute_sql(GUARDED.format(table=table))
