"""Towers of retraction speeds have a rule of their own; they were a kind of distance tower before."""

from __future__ import annotations

from typing import Any

PULL_SPEED = """
UPDATE run SET method = 'retraction_speed', inputs = inputs || jsonb_build_object('distance_mm', COALESCE(
        (SELECT v.number FROM tuned_value v JOIN setup s ON s.id = run.setup_id
          WHERE v.kind = 'retraction' AND v.nozzle_id = s.nozzle_id AND v.filament_id = s.filament_id
            AND v.at <= run.started_at ORDER BY v.id DESC LIMIT 1), 1.0))
 WHERE method = 'retraction' AND inputs->>'of_speed' = 'true';
UPDATE run SET inputs = inputs - 'of_speed' - 'crossings' WHERE method = 'retraction_speed';
UPDATE run SET inputs = inputs - 'of_speed' WHERE method = 'retraction';
"""


def up(_migrator: Any, db: Any) -> None:
    """Runs of speeds move over, with the retraction that was on record when they were printed."""
    db.execute_sql(PULL_SPEED)
