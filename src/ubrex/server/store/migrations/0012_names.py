"""One name for one thing: feed through a tube, the ways to measure, and nothing in use where nothing was."""

from __future__ import annotations

from typing import Any

NAMES = """
ALTER TABLE machine DROP CONSTRAINT machine_feed_path_check;
UPDATE machine SET feed_path = 'bowden' WHERE feed_path = 'remote';
ALTER TABLE machine ADD CONSTRAINT machine_feed_path_check CHECK (feed_path IN ('direct', 'bowden'));
UPDATE run SET method = CASE method WHEN 'tower' THEN 'temperature' WHEN 'pulls' THEN 'retraction' ELSE 'foaming' END
    WHERE method IN ('tower', 'pulls', 'foam');
UPDATE run SET inputs = inputs || '{"current": null}'::jsonb WHERE inputs->>'in_use' = 'false';
UPDATE run SET inputs = inputs - 'in_use' - 'of' WHERE jsonb_exists_any(inputs, ARRAY['in_use', 'of']);
UPDATE run SET inputs = inputs || '{"asked": 3}'::jsonb WHERE step = 'e_steps' AND NOT jsonb_exists(inputs, 'asked');
"""


def up(_migrator: Any, db: Any) -> None:
    """Rename what is stored; ``ubrex.server.store.upgrades`` does the same to rows of an older backup."""
    db.execute_sql(NAMES)
