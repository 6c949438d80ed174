"""Feed test for the e-steps: no print, only so much filament pushed, slowly."""

from __future__ import annotations

from ubrex.core.gcode._moves import Feed, Move, Pause, Push, Remark

FEED_SPEED_MM_S = 1.5
"""Slow enough that neither slip nor the nozzle's pressure counts (job, chain row 2)."""

SETTLE_S = 30.0
"""Before the feed, for the heat to go through [s]."""


def feed_test(length_mm: float, speed_mm_s: float = FEED_SPEED_MM_S) -> tuple[Move, ...]:
    """Filament pushed once; heaters go off when it is done, the nozzle stays where it is."""
    return (
        Remark(text=f"feeds {length_mm:g} mm at {speed_mm_s:g} mm/s; hands off the hot block"),
        Pause(seconds=SETTLE_S),
        Push(feed_mm=length_mm, speed_mm_s=speed_mm_s, why=Feed.TEST),
    )
