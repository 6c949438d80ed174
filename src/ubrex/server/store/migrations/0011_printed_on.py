"""Runs keep what their piece was drawn for, so that they can be looked at whatever is entered of their machine later."""

from __future__ import annotations

from typing import Any

PRINTED_ON = """
UPDATE run SET inputs = run.inputs || jsonb_build_object('on', jsonb_build_object(
    'bore_mm', CASE WHEN (run.inputs->>'line_width_mm')::float8 BETWEEN 1.05 * n.bore_mm AND 1.25 * n.bore_mm
        THEN n.bore_mm ELSE (run.inputs->>'line_width_mm')::float8 / 1.05 END,
    'width_mm', coalesce(m.width_mm, 300), 'depth_mm', coalesce(m.depth_mm, 300),
    'height_mm', coalesce(m.height_mm, 300), 'centred', m.centred))
FROM setup s JOIN nozzle n ON n.id = s.nozzle_id
    JOIN toolhead t ON t.id = s.toolhead_id JOIN machine m ON m.id = t.machine_id
WHERE s.id = run.setup_id AND run.method IN ('box', 'patches', 'tower', 'pulls', 'foam');
"""


def up(_migrator: Any, db: Any) -> None:
    """Take it from the machine as it is entered now: nothing else is known of runs before this."""
    db.execute_sql(PRINTED_ON)
