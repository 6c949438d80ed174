"""How long what was hot, or is switched off, is left before somebody looks again: a clock, never the proof."""

from __future__ import annotations

from typing import Final

HOTEND_COOLS_S: Final = 300.0
"""When to look whether a hotend with its fan on is below 50 °C [s] (ours; the temperature decides, job.md 2)."""

PIECE_COOLS_S: Final = 900.0
"""When to look whether a piece is as cold as the room, on a bed that was switched off [s] (ours; the hand decides)."""

POWER_OFF_S: Final = 10.0
"""How long a machine stays without power before it is read back [s] (job.md 2)."""
