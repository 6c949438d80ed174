"""A case that came again knows the attempt it was seen on this time, and where on the part."""

from __future__ import annotations

from typing import Any


def up(_migrator: Any, db: Any) -> None:
    """Add the columns; the guard on the table holds them too."""
    db.execute_sql("""
ALTER TABLE fault_end
    ADD COLUMN print_id bigint REFERENCES print ON DELETE RESTRICT,
    ADD COLUMN layer integer CHECK (layer > 0),
    ADD COLUMN height_mm double precision CHECK (height_mm > 0);
""")
