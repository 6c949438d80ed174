"""Filament diameter from two readings at each of several places along the filament (rules, section C).

The area goes with the product of the two readings; correction factor of the flow c = nominal^2 / mean product.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from scipy.special import chdtri

from ubrex.core.quantity import (
    Component,
    Reason,
    SpreadHistory,
    Tool,
    Verdict,
    combine,
    decide,
    further_repeats,
    spread_of,
    student_quantile,
)

DIAMETER_RULE_VERSION: Final = "diameter/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

DIAMETER_TOLERANCE_PCT: Final = 1.0
"""Smallest change of area worth making [%]: 0.009 mm, one digit of a calliper (rules, C)."""

DIAMETER_TARGET_PCT: Final = 2.0
"""Half-width of the area that makes the answer usable [%] (rules, C)."""

DIAMETER_REFUSE: Final = 0.06
"""Farther (relative) from the nominal it is another filament, or it will not feed (rules, C)."""

READ_STD_MM: Final = 0.01
"""Usual scatter of one reading of one diameter by hand [mm] (rules, C)."""

USUAL_DIAMETER_STD_MM: Final = 0.015
"""Usual scatter of the diameter along a spool [mm], for one or two places (rules, C)."""

OVAL_MM: Final = 0.03
"""Ovality worse than this lets the flow wander, whatever is set (rules, C)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DiameterSample:
    """Readings [mm]: ``widest`` is the largest found by turning, ``across`` the one at a right angle to it.

    ``history``: earlier scatter of the diameter along a spool.
    """

    widest: tuple[float, ...]
    across: tuple[float, ...]
    nominal_mm: float
    tool: Tool
    history: SpreadHistory | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class DiameterFigures:
    """The numbers behind a verdict; ± is the 95 % half-width. ``factor`` multiplies the flow if the nominal stays."""

    count: int
    diameter_mm: float
    diameter_std_mm: float
    diameter_half_width_mm: float
    factor: float
    error_pct: float
    std_pct: float
    dof: float
    half_width_95_pct: float
    guard_pct: float
    tool_half_width_pct: float
    ovality_mm: float
    oval_detected: bool
    spread_mm: float

    @property
    def oval_bad(self) -> bool:
        """Whether it is oval enough to let the flow wander."""
        return self.oval_detected and self.ovality_mm > OVAL_MM


@dataclass(frozen=True, slots=True, kw_only=True)
class DiameterResult:
    """What the readings say. ``more_repeats``: further places that would reach the target; None if none can."""

    verdict: Verdict
    reason: Reason
    figures: DiameterFigures | None = None
    more_repeats: int | None = None


def evaluate_diameter(
    sample: DiameterSample,
    *,
    tolerance_pct: float = DIAMETER_TOLERANCE_PCT,
    target_pct: float = DIAMETER_TARGET_PCT,
    read_std_mm: float = READ_STD_MM,
) -> DiameterResult:
    """What the readings say about the filament. Method and thresholds: docs/methods/diameter.md."""
    both = sample.widest + sample.across
    if not both or any(value <= 0 for value in both):
        return DiameterResult(verdict=Verdict.REFUSE, reason=Reason.INVALID_READING)
    # The product of both readings goes with the area: scatter of the diameter counts twice the diameter in it.
    to_area = 2 * sample.nominal_mm
    history = sample.history
    spread = spread_of(
        [one * other for one, other in zip(sample.widest, sample.across, strict=True)],
        history=None if history is None else SpreadHistory(std=to_area * history.std, dof=history.dof),
        usual_std=to_area * USUAL_DIAMETER_STD_MM,
    )
    diameter = math.sqrt(spread.mean)
    factor = sample.nominal_mm**2 / spread.mean
    to_pct = 100 * factor / spread.mean
    # The tool is off by as much at each place: its share does not shrink with more of them.
    tool = Component(100 * factor * 2 * sample.tool.std / diameter)
    total = combine([Component(to_pct * spread.std / math.sqrt(spread.count), spread.dof), tool])
    repeats = further_repeats(spread, scale=to_pct, tool_std=tool.std, target=target_pct)
    error_pct = 100 * (factor - 1)
    decision = decide(error_pct, total, tolerance=tolerance_pct, target=target_pct, more_helps=bool(repeats))
    # A doubt of the area is twice that of the diameter, relative to each.
    relative = total.std / 100 / factor / 2
    ovality, detected = _ovality(sample, read_std_mm)
    figures = DiameterFigures(
        count=spread.count,
        diameter_mm=diameter,
        diameter_std_mm=diameter * relative,
        diameter_half_width_mm=diameter * relative * student_quantile(0.975, total.dof),
        factor=factor,
        error_pct=error_pct,
        std_pct=total.std,
        dof=total.dof,
        half_width_95_pct=decision.half_width_95,
        guard_pct=decision.guard,
        tool_half_width_pct=1.96 * tool.std,
        ovality_mm=ovality,
        oval_detected=detected,
        spread_mm=max(both) - min(both),
    )
    verdict, reason = decision.verdict, decision.reason
    # No spool is that far from its name: it is the name that is wrong, or the reading.
    if abs(diameter - sample.nominal_mm) > DIAMETER_REFUSE * sample.nominal_mm:
        verdict, reason = Verdict.REFUSE, Reason.IMPLAUSIBLE
    return DiameterResult(verdict=verdict, reason=reason, figures=figures, more_repeats=repeats)


def _ovality(sample: DiameterSample, read_std_mm: float) -> tuple[float, bool]:
    """Root mean square of the difference across [mm] beyond what reading explains, and whether that is real (5 %)."""
    squares = math.fsum((one - other) ** 2 for one, other in zip(sample.widest, sample.across, strict=True))
    count = len(sample.widest)
    by_reading = 2 * (read_std_mm**2 + sample.tool.resolution**2 / 12)
    found = math.sqrt(max(0.0, squares / count - by_reading))
    return found, bool(squares / by_reading > chdtri(count, 0.05))
