"""What a machine has to say so that files can be written for it, and the place of the piece a reading was taken at."""

from __future__ import annotations

from typing import Any

TABLES = """
ALTER TABLE machine
    ADD COLUMN relative_feed boolean NOT NULL DEFAULT true,
    ADD COLUMN centred boolean NOT NULL DEFAULT false,
    ADD COLUMN max_speed_mm_s double precision CHECK (max_speed_mm_s BETWEEN 5 AND 1000),
    ADD COLUMN acceleration_mm_s2 double precision CHECK (acceleration_mm_s2 BETWEEN 10 AND 50000),
    ADD COLUMN start_block text NOT NULL DEFAULT '' CHECK (length(start_block) <= 4000),
    ADD COLUMN end_block text NOT NULL DEFAULT '' CHECK (length(end_block) <= 4000),
    ADD COLUMN screws text NOT NULL DEFAULT '' CHECK (length(screws) <= 200),
    ADD COLUMN screw_pitch_mm double precision CHECK (screw_pitch_mm BETWEEN 0.2 AND 3);
ALTER TABLE reading ADD COLUMN place text CHECK (length(place) <= 20);
"""


def up(_migrator: Any, db: Any) -> None:
    """Widen machines and readings."""
    db.execute_sql(TABLES)
