"""What workshops lack that were opened while the migration before this one was still being written."""

from __future__ import annotations

from typing import Any

ADDED = """
ALTER TABLE hotend ADD COLUMN IF NOT EXISTS version integer NOT NULL DEFAULT 1;

CREATE TABLE IF NOT EXISTS part_limit (
    part text PRIMARY KEY CHECK (part IN ('nozzle', 'nozzle_abrasive', 'tube', 'fan', 'belts', 'plate', 'grease')),
    amount double precision NOT NULL CHECK (amount > 0 AND amount <= 1000000),
    person_id bigint NOT NULL REFERENCES person ON DELETE RESTRICT,
    at timestamptz NOT NULL,
    version integer NOT NULL DEFAULT 1
);

ALTER TABLE print
    ADD COLUMN IF NOT EXISTS machine_id bigint REFERENCES machine ON DELETE RESTRICT,
    ADD COLUMN IF NOT EXISTS nozzle_id bigint REFERENCES nozzle ON DELETE RESTRICT,
    ADD COLUMN IF NOT EXISTS surface_id bigint REFERENCES surface ON DELETE RESTRICT,
    ADD COLUMN IF NOT EXISTS abrasive boolean;
"""

FILLED = """
UPDATE print SET machine_id = t.machine_id, nozzle_id = s.nozzle_id, surface_id = s.surface_id,
    abrasive = jsonb_exists_any(f.flags, ARRAY['abrasive', 'filled', 'glitter'])
FROM setup s JOIN toolhead t ON t.id = s.toolhead_id JOIN filament f ON f.id = s.filament_id
WHERE s.id = print.setup_id AND print.machine_id IS NULL;
"""

HELD = """
ALTER TABLE print
    ALTER COLUMN machine_id SET NOT NULL, ALTER COLUMN nozzle_id SET NOT NULL, ALTER COLUMN abrasive SET NOT NULL;
DROP INDEX IF EXISTS tuned_value_of_toolhead, tuned_value_of_hotend;
CREATE INDEX tuned_value_of_toolhead ON tuned_value (kind, toolhead_id, id DESC);
CREATE INDEX tuned_value_of_hotend ON tuned_value (kind, hotend_id, id DESC);
CREATE INDEX IF NOT EXISTS print_of_machine ON print (machine_id, happened_at DESC);
CREATE INDEX IF NOT EXISTS print_of_setup ON print (setup_id, happened_at DESC);
"""


def up(_migrator: Any, db: Any) -> None:
    """Bring every form of them to the one that later migrations build on; where nothing is lacking, nothing changes."""
    db.execute_sql(ADDED)
    guarded = db.execute_sql("SELECT 1 FROM pg_trigger WHERE tgname = 'print_is_kept'").fetchone() is not None
    if guarded:
        db.execute_sql("ALTER TABLE print DISABLE TRIGGER print_is_kept")
    db.execute_sql(FILLED)
    if guarded:
        db.execute_sql("ALTER TABLE print ENABLE TRIGGER print_is_kept")
    db.execute_sql(HELD)
