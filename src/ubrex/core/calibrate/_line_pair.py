"""One line and two: what both say of the flow, and of what is added to every wall (rules, section B)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from ubrex.core.calibrate._flow import (
    FLOW_TARGET_PCT,
    FLOW_TOLERANCE_PCT,
    FlowFigures,
    FlowReason,
    FlowResult,
    evaluate_flow,
    to_try,
)
from ubrex.core.calibrate._walls import WallSample
from ubrex.core.quantity import Component, Reason, Verdict, decide

AGREE_Z, AGREE_BIAS_MM = 2.0, 0.03
"""One and two walls agree within so many standard uncertainties, and so much additive error [mm] (rules, B)."""

ZERO_VOUCHES_MM: Final = 0.015
"""Jaws whose zero is known so well do not read off by ``AGREE_BIAS_MM`` (evidence.md)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Reconciled:
    """One and two walls of one print, put together. ``bias_mm``: the error of reading that would explain them both."""

    z: float
    agree: bool
    weight_of_single: float
    delivered: float
    std: float
    bias_mm: float

    @property
    def factor(self) -> float:
        """What multiplies the old flow."""
        return 1 / self.delivered


def reconcile(single: FlowFigures, double: FlowFigures, sample: WallSample) -> Reconciled:
    """Weighted mean of one and two walls, and whether they agree at all; ``sample``: either of them, for bead and tool.

    Both share the zero of the calliper and the wave of the layers; z alone would miss that, so the bias is judged too.
    """
    shared = 0.75 * (sample.tool.max_permissible_error**2 / 3 + sample.envelope_mm**2 / 12) / sample.bead.solid_mm**2
    one, two = single.delivered_std, double.delivered_std
    apart = one**2 + two**2 - 2 * shared
    z = (single.delivered - double.delivered) / math.sqrt(apart)
    weight = min(1.0, max(0.0, (two**2 - shared) / apart))
    variance = (weight * one) ** 2 + ((1 - weight) * two) ** 2 + 2 * weight * (1 - weight) * shared
    bias = 2 * (single.corrected_mm - single.expected_mm) - (double.corrected_mm - double.expected_mm)
    return Reconciled(
        z=z,
        agree=abs(z) <= AGREE_Z and abs(bias) <= AGREE_BIAS_MM,
        weight_of_single=weight,
        delivered=weight * single.delivered + (1 - weight) * double.delivered,
        std=math.sqrt(max(0.0, variance)),
        bias_mm=bias,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class PairResult:
    """One and two walls of one print, and what both say together; ``both`` is None while one of them says nothing."""

    single: FlowResult
    double: FlowResult
    verdict: Verdict
    reason: Reason | FlowReason
    both: Reconciled | None = None
    error_pct: float = 0.0
    half_width_95_pct: float = 0.0
    guard_pct: float = 0.0
    to_set: float = 1.0


def evaluate_pair(
    single: WallSample, double: WallSample, *, tolerance_pct: float = FLOW_TOLERANCE_PCT, vouched: bool = True
) -> PairResult:
    """What one and two walls say together. Where they disagree nothing is averaged, and the cause is named.

    Lines that just touch move a wall of two no farther than a wall of one, which looks like jaws that read off. Where the
    zero is known well enough it is taken for flow, and tried; ``vouched``: whether a known zero counts for that.
    """
    one, two = (evaluate_flow(sample, tolerance_pct=tolerance_pct) for sample in (single, double))
    for found in (one, two):
        if found.verdict is Verdict.REFUSE or found.figures is None:
            return PairResult(single=one, double=two, verdict=Verdict.REFUSE, reason=found.reason)
    if one.figures is None or two.figures is None:
        return PairResult(single=one, double=two, verdict=Verdict.REFUSE, reason=Reason.INVALID_READING)
    both = reconcile(one.figures, two.figures, single)
    error_pct, to_pct = 100 * (both.factor - 1), 100 * both.factor**2
    total = Component(to_pct * both.std, min(one.figures.dof, two.figures.dof))
    helps = one.more_readings is not None or two.more_readings is not None
    decision = decide(error_pct, total, tolerance=tolerance_pct, target=FLOW_TARGET_PCT, more_helps=helps)
    verdict: Verdict = decision.verdict
    reason: Reason | FlowReason = decision.reason
    if not both.agree and vouched and _may_be_flow(one.figures, two.figures, single):
        if verdict in {Verdict.APPLY, Verdict.TRY}:
            verdict, reason = Verdict.TRY, FlowReason.RESTS_ON_ZERO
    elif not both.agree:
        verdict = Verdict.REFUSE
        reason = FlowReason.WALLS_READ_THICK if both.bias_mm > AGREE_BIAS_MM else FlowReason.LINES_NOT_FUSED
    return PairResult(
        single=one,
        double=two,
        verdict=verdict,
        reason=reason,
        both=both,
        error_pct=error_pct,
        half_width_95_pct=decision.half_width_95,
        guard_pct=decision.guard,
        to_set=to_try(verdict, both.factor, total),
    )


def _may_be_flow(single: FlowFigures, double: FlowFigures, sample: WallSample) -> bool:
    """Whether some share of fusing, from lines that just touch to lines that are one, explains both walls by flow alone."""
    one, two = (found.corrected_mm - found.expected_mm for found in (single, double))
    low, high = sorted((one, 2 * one))
    known = sample.tool.max_permissible_error <= ZERO_VOUCHES_MM
    return known and max(low - two, two - high) <= AGREE_BIAS_MM
