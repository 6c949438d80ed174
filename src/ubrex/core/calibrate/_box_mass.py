"""Flow from the mass of a box: how much of the filament that was commanded is in it (rules, B; evidence.md).

Delivered over commanded f = m / (lambda L), lambda the mass of 1 mm of the spool, L the filament commanded; the new flow is
the old one over f. Free of the zero, the waves and the shape of a wall; it says nothing of how lines fuse.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from ubrex.core.calibrate._esteps import (
    USUAL_SPREAD_STEPS_OF_SCALE,
    ReferencePiece,
    mass_per_mm,
    relative_weighing_std,
)
from ubrex.core.calibrate._flow import DELIVERED_HIGH, DELIVERED_LOW, FLOW_TOLERANCE_PCT, to_try
from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import Component, Reason, Tool, Verdict, combine, decide, further_repeats, spread_of

BOX_MASS_RULE_VERSION: Final = "box-mass/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

BOX_MASS_TARGET_PCT: Final = 3.0
"""Half-width that makes the answer usable [%]: one box of 0.8 g on a scale of 0.01 g beside a reference as heavy."""

FINEST_NEEDED_G: Final = 0.01
"""Step of the coarsest scale that tells anything of a box [g]."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BoxMassSample:
    """Masses of the same boxes, weighed together and anew each time [g], and the filament commanded for all of them [mm].

    Raises
    ------
    OutOfRange
        If nothing was weighed, or a mass or the length is not above 0.
    """

    masses_g: tuple[float, ...]
    commanded_mm: float
    tool: Tool
    reference: ReferencePiece

    def __post_init__(self) -> None:
        if not self.masses_g or min(self.masses_g) <= 0:
            raise OutOfRange("a mass is above 0", name="masses_g")
        if not (math.isfinite(self.commanded_mm) and self.commanded_mm > 0):
            raise OutOfRange("commanded_mm must be above 0", name="commanded_mm", value=self.commanded_mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class BoxMassFigures:
    """The numbers behind a verdict; ± is the 95 % half-width. ``expected_g``: what the boxes should weigh."""

    mean_g: float
    expected_g: float
    delivered: float
    factor: float
    error_pct: float
    half_width_95_pct: float
    guard_pct: float
    tool_half_width_pct: float

    @property
    def half_width_g(self) -> float:
        """95 % half-width of the mean mass [g], doubt of the reference in it."""
        return self.mean_g * self.half_width_95_pct / 100 / self.factor


@dataclass(frozen=True, slots=True, kw_only=True)
class BoxMassResult:
    """What the boxes say. ``more_readings``: further weighings that would help; None if none can."""

    verdict: Verdict
    reason: Reason
    figures: BoxMassFigures
    more_readings: int | None = None
    to_set: float = 1.0


def evaluate_box_mass(
    sample: BoxMassSample, *, tolerance_pct: float = FLOW_TOLERANCE_PCT, target_pct: float = BOX_MASS_TARGET_PCT
) -> BoxMassResult:
    """What the mass of boxes says about the flow they were printed with. Method: docs/methods/flow.md.

    Uncertainty as for weighed e-steps (``relative_weighing_std``): what is wrong with the scale is in box and reference.
    """
    usual = USUAL_SPREAD_STEPS_OF_SCALE * sample.tool.resolution
    spread = spread_of(sample.masses_g, history=None, usual_std=usual)
    expected = sample.commanded_mm * mass_per_mm(sample.reference)
    delivered = spread.mean / expected
    factor = 1 / delivered
    to_pct = 100 * factor / spread.mean
    scatter = Component(to_pct * spread.std / math.sqrt(spread.count), spread.dof)
    tool = Component(100 * factor * relative_weighing_std(sample.reference, sample.tool, spread.mean))
    total = combine([scatter, tool])
    repeats = further_repeats(spread, scale=to_pct, tool_std=tool.std, target=target_pct)
    error_pct = 100 * (factor - 1)
    decision = decide(
        error_pct, total, tolerance=tolerance_pct, target=target_pct, more_helps=bool(repeats), cheap=True
    )
    impossible = not DELIVERED_LOW <= delivered <= DELIVERED_HIGH
    return BoxMassResult(
        verdict=Verdict.REFUSE if impossible else decision.verdict,
        reason=Reason.IMPLAUSIBLE if impossible else decision.reason,
        figures=BoxMassFigures(
            mean_g=spread.mean,
            expected_g=expected,
            delivered=delivered,
            factor=factor,
            error_pct=error_pct,
            half_width_95_pct=decision.half_width_95,
            guard_pct=decision.guard,
            tool_half_width_pct=1.96 * tool.std,
        ),
        more_readings=repeats,
        to_set=to_try(decision.verdict, factor, total),
    )
