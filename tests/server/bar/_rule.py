"""Scale of a part from the length of a bar: how much longer or shorter the next one has to be asked for."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from ubrex.core.quantity import Component, Reason, Tool, Verdict, combine, decide, further_repeats, spread_of

BAR_RULE_VERSION: Final = "bar/1"

SCALE_TOLERANCE_PCT: Final = 0.1
"""Smallest change of scale worth making [%]."""

SCALE_TARGET_PCT: Final = 0.2
"""Half-width that makes the answer usable [%]."""

USUAL_BAR_STD_MM: Final = 0.03
"""Usual scatter of the length of a bar [mm], for one or two readings."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BarResult:
    """What the readings say; all in % but the mean."""

    verdict: Verdict
    reason: Reason
    mean_mm: float
    scale_pct: float
    half_width_95_pct: float
    more_repeats: int | None


def evaluate_bar(lengths_mm: tuple[float, ...], *, drawn_mm: float, scale_pct: float, tool: Tool) -> BarResult:
    """The scale at which a bar is as long as it was drawn."""
    spread = spread_of(lengths_mm, history=None, usual_std=USUAL_BAR_STD_MM)
    scale = scale_pct * drawn_mm / spread.mean
    to_pct = scale / spread.mean
    by_tool = Component(to_pct * tool.std)
    total = combine([Component(to_pct * spread.std / math.sqrt(spread.count), spread.dof), by_tool])
    more = further_repeats(spread, scale=to_pct, tool_std=by_tool.std, target=SCALE_TARGET_PCT)
    found = decide(
        scale - scale_pct, total, tolerance=SCALE_TOLERANCE_PCT, target=SCALE_TARGET_PCT, more_helps=bool(more)
    )
    return BarResult(
        verdict=found.verdict,
        reason=found.reason,
        mean_mm=spread.mean,
        scale_pct=scale,
        half_width_95_pct=found.half_width_95,
        more_repeats=more,
    )
