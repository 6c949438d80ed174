"""Which bands a tower gets: from label, heat check and wanted speed, and inside every limit."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

from ubrex.core.materials import Limit, Window

FINE_STEP_C, COARSE_STEP_C = 5.0, 10.0
"""Steps from band to band; the coarse one where the range is wide."""

WIDE_C: Final = 45.0
"""A range wider than this is walked in coarse steps first."""

MOST_TOWER_BANDS: Final = 10
WANTED_BANDS: Final = 5
"""A range that gives fewer bands is widened on both sides: from the ends of a tower nothing can be told."""

RETRACTION_BANDS: Final = 8
SPEED_BANDS: Final = 6
SLOWEST_RETRACTION_MM_S: Final = 10.0
SHORTEST_RETRACTION_MM: Final = 0.2


@dataclass(frozen=True, slots=True, kw_only=True)
class LabelRange:
    """A range as printed on a spool [°C], and the speed from which it holds [mm/s]."""

    low_c: float
    high_c: float
    from_mm_s: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class TemperatureBands:
    """Temperatures to set [°C], coldest first; the limit that cut the range short, if one did."""

    temperatures_c: tuple[float, ...]
    step_c: float
    cut: Limit | None = None


def label_at(rows: Sequence[LabelRange], speed_mm_s: float) -> Window | None:
    """The range for a speed: between rows it is interpolated, beyond them the nearest holds. None without a row."""
    ordered = sorted(rows, key=lambda row: row.from_mm_s)
    if not ordered:
        return None
    for before, after in pairwise(ordered):
        if before.from_mm_s <= speed_mm_s < after.from_mm_s:
            share = (speed_mm_s - before.from_mm_s) / (after.from_mm_s - before.from_mm_s)
            return Window(
                low=before.low_c + share * (after.low_c - before.low_c),
                high=before.high_c + share * (after.high_c - before.high_c),
            )
    row = ordered[0] if speed_mm_s < ordered[0].from_mm_s else ordered[-1]
    return Window(low=row.low_c, high=row.high_c)


def temperature_bands(
    window: Window,
    *,
    bias_c: float,
    limit: Limit | None,
    coldest_c: float,
    fewest: int = WANTED_BANDS,
    most: int = MOST_TOWER_BANDS,
    fine: bool = False,
) -> TemperatureBands:
    """Bands over a range of true temperatures, as the hotend has to be set for them.

    Parameters
    ----------
    window
        True temperatures [°C] that are worth a try.
    bias_c
        What the hotend shows too much, as far as that is trusted.
    limit, coldest_c
        The strictest limit, and what nothing is fed below.
    fewest, most
        Bands that the tower should have, where the limits leave room; and the most it gets.
    fine
        Small steps however wide the range: a peak is narrower than a range.
    """
    low, high = window.low + bias_c, window.high + bias_c
    step = COARSE_STEP_C if high - low > WIDE_C and not fine else FINE_STEP_C
    first, last = FINE_STEP_C * math.ceil(low / FINE_STEP_C - 1e-9), high
    count = int((last - first) / step + 1e-9) + 1
    while count < fewest:
        first, count = first - step, count + 2
    found = [first + step * place for place in range(min(count, most))]
    kept = [value for value in found if value >= coldest_c and (limit is None or value <= limit.max_c)]
    cut = limit if limit is not None and found and found[-1] > limit.max_c else None
    while cut is not None and len(kept) < fewest and kept and kept[0] - step >= coldest_c:
        kept.insert(0, kept[0] - step)
    return TemperatureBands(temperatures_c=tuple(kept), step_c=step, cut=cut)


def retraction_bands(cap_mm: float, *, from_zero: bool, share: float = 1.0) -> tuple[float, ...]:
    """Distances [mm] from almost nothing up to a share of the cap, evenly, in tenths; soft filament starts at none."""
    start, end = 0.0 if from_zero else SHORTEST_RETRACTION_MM, cap_mm * share
    steps = [start + (end - start) * place / (RETRACTION_BANDS - 1) for place in range(RETRACTION_BANDS)]
    return tuple(dict.fromkeys(round(value, 1) for value in steps))


def speed_bands(cap_mm_s: float) -> tuple[float, ...]:
    """Speeds [mm/s] of a retraction up to the cap, evenly."""
    return tuple(
        float(round(SLOWEST_RETRACTION_MM_S + (cap_mm_s - SLOWEST_RETRACTION_MM_S) * place / (SPEED_BANDS - 1)))
        for place in range(SPEED_BANDS)
    )
