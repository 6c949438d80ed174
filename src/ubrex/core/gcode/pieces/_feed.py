"""Feed test for the e-steps: no print, only so much filament pushed, slowly."""

from __future__ import annotations

from collections.abc import Sequence

from ubrex.core.gcode._moves import CIRCLE, Feed, Move, Pause, Push, Remark

FEED_SPEED_MM_S = 1.5
"""Slow enough that neither slip nor the nozzle's pressure counts (job, chain row 2)."""

HOT_FEED_SPEED_MM_S = 1.0
"""Through the hot nozzle slower still: melt that is pushed back slips at the gear (job, chain row 2)."""

SETTLE_S = 30.0
"""Before the feed, for the heat to go through [s]."""


def feed_test(length_mm: float, speed_mm_s: float = FEED_SPEED_MM_S) -> tuple[Move, ...]:
    """Filament pushed once; heaters go off when it is done, the nozzle stays where it is."""
    return (
        Remark(text=f"feeds {length_mm:g} mm at {speed_mm_s:g} mm/s; hands off the hot block"),
        Pause(seconds=SETTLE_S),
        Push(feed_mm=length_mm, speed_mm_s=speed_mm_s, why=Feed.TEST),
    )


CUT_S = 20.0
"""Between two steps of a ladder, to cut off what came and lay it aside [s]."""


def feed_ladder(flows_mm3_s: Sequence[float], volume_mm3: float, filament_mm: float) -> tuple[Move, ...]:
    """The same volume pushed into the open, step by step faster; what comes is cut off and weighed."""
    strand = CIRCLE * filament_mm**2
    moves: list[Move] = [Pause(seconds=SETTLE_S)]
    for step, flow in enumerate(flows_mm3_s, 1):
        moves += [
            Remark(text=f"step {step}: {volume_mm3:g} mm3 at {flow:g} mm3/s"),
            Push(feed_mm=volume_mm3 / strand, speed_mm_s=flow / strand, why=Feed.TEST),
            Remark(text="cut it off, keep it apart"),
            Pause(seconds=CUT_S),
        ]
    return tuple(moves)
