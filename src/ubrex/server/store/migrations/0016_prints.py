"""Prints say apart whether they work and how they look, and one that was logged by mistake can be taken back."""

from __future__ import annotations

from typing import Any

PRINTS = """
ALTER TABLE print ADD COLUMN looks text CHECK (looks IN ('good', 'bad'));
CREATE TABLE print_off (
    print_id bigint PRIMARY KEY REFERENCES print ON DELETE RESTRICT,
    person_id bigint NOT NULL REFERENCES person ON DELETE RESTRICT,
    at timestamptz NOT NULL
);
CREATE TRIGGER print_off_is_kept BEFORE UPDATE OR DELETE OR TRUNCATE ON print_off
    FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
"""


def up(_migrator: Any, db: Any) -> None:
    """Of earlier prints nobody said how they looked."""
    db.execute_sql(PRINTS)
