"""Size: what part of an error grows with the size, and what is the same on every size (rules, section I)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from ubrex.core.quantity import Component, Verdict, combine, decide_plainly, student_quantile

SIZE_RULE_VERSION: Final = "size/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

SCALE_TOLERANCE_PCT, SCALE_TARGET_PCT, MOST_SCALE = 0.1, 0.15, 0.03
"""Scale: smallest change worth making, half-width that is usable [%], and the share that is a mistake (rules, I)."""

OFFSET_TOLERANCE_MM, OFFSET_TARGET_MM, MOST_OFFSET_MM = 0.05, 0.08, 0.6
"""Offset: smallest change worth making, usable half-width, and what is a mistake [mm] (rules, I)."""

LEAST_RANGE_MM: Final = 20.0
"""Sizes of one kind that lie nearer cannot tell scale from offset (rules, I)."""

OUTER_ERROR_MM, INNER_ERROR_MM = 0.02, 0.03
"""Usual limits of the outside and the inside jaws [mm] (rules, I)."""

Pairs = Sequence[tuple[float, float]]
"""Nominal and measured sizes [mm]."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Offset:
    """What is the same on every size of one kind [mm]; ``per_side_mm``: what to type for a contour."""

    offset_mm: float
    std_uncertainty_mm: float
    dof: float
    half_width_95_mm: float
    verdict: Verdict
    reason: str
    per_side_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SizeResult:
    """Scale [%] with its verdict, and the offsets of outer and inner sizes; None where there are none."""

    scale_pct: float
    scale_std_uncertainty_pct: float
    scale_dof: float
    scale_half_width_95_pct: float
    scale_verdict: Verdict
    scale_reason: str
    scale_factor: float
    residual_sd_mm: float
    outer: Offset | None = None
    inner: Offset | None = None

    @property
    def line_part_mm(self) -> float | None:
        """What lines that are too wide would do, to both alike."""
        if self.outer is None or self.inner is None:
            return None
        return (self.outer.offset_mm - self.inner.offset_mm) / 2

    @property
    def hole_part_mm(self) -> float | None:
        """What lines cannot explain: arcs cut short, the flats of the jaws."""
        if self.outer is None or self.inner is None:
            return None
        return (self.outer.offset_mm + self.inner.offset_mm) / 2


def evaluate_size(
    outer_mm: Pairs, inner_mm: Pairs = (), *, resolution_mm: float = 0.01,
    max_permissible_error_outer_mm: float = OUTER_ERROR_MM, max_permissible_error_inner_mm: float = INNER_ERROR_MM,
    tolerance_pct: float = SCALE_TOLERANCE_PCT,
    target_pct: float = SCALE_TARGET_PCT, offset_tolerance_mm: float = OFFSET_TOLERANCE_MM,
    offset_target_mm: float = OFFSET_TARGET_MM,
) -> SizeResult | None:  # fmt: skip
    """Scale and offsets of one axis; None where sizes are too few or too close. Method: docs/methods/size.md.

    Measured minus nominal = scale x nominal + offset of its kind, by least squares with one scale.
    """
    given = ((outer_mm, max_permissible_error_outer_mm), (inner_mm, max_permissible_error_inner_mm))
    kinds = [(np.asarray(pairs, float).reshape(-1, 2), error) for pairs, error in given]
    there = [(pairs, error) for pairs, error in kinds if len(pairs)]
    if not there:
        return None
    nominal, measured = np.vstack([pairs for pairs, _ in there]).T
    # A column of ones for each kind, one of sizes for all: offsets of their own and a scale that they share.
    ones = [np.repeat(np.eye(len(there))[:, place], [len(pairs) for pairs, _ in there]) for place in range(len(there))]
    columns = np.column_stack([*ones, nominal])
    widest = max(float(np.ptp(pairs[:, 0])) for pairs, _ in there)
    dof = float(len(nominal) - columns.shape[1])
    if dof < 1 or widest < LEAST_RANGE_MM:
        return None
    spread = np.linalg.inv(columns.T @ columns)
    found = spread @ columns.T @ (measured - nominal)
    rest = measured - nominal - columns @ found
    residual = math.sqrt(max(float(rest @ rest) / dof, resolution_mm**2 / 12))
    scale = float(found[-1])
    # Both ends of the range are read by the same jaws, each wrong within their limit.
    tool = math.sqrt(2) * max(error for _, error in there) / math.sqrt(3) / widest
    total = combine([Component(residual * math.sqrt(spread[-1, -1]), dof), Component(tool)])
    in_pct = Component(100 * total.std, total.dof)
    decision = decide_plainly(100 * scale, in_pct, tolerance=tolerance_pct, target=target_pct, tool_std=100 * tool)
    mistaken = abs(scale) > MOST_SCALE
    offsets: dict[int, Offset] = {}
    for place, (_, error) in enumerate(there):
        by_tool = math.sqrt(error**2 / 3 + resolution_mm**2 / 12)
        doubt = combine([Component(residual * math.sqrt(spread[place, place]), dof), Component(by_tool)])
        value = float(found[place])
        said = decide_plainly(value, doubt, tolerance=offset_tolerance_mm, target=offset_target_mm, tool_std=by_tool)
        wrong = abs(value) > MOST_OFFSET_MM
        offsets[place] = Offset(
            offset_mm=value, std_uncertainty_mm=doubt.std, dof=doubt.dof, half_width_95_mm=said.half_width_95,
            verdict=Verdict.REFUSE if wrong else said.verdict, reason="implausible" if wrong else said.reason.value,
            # Too much outside is taken off, too little inside is added: half of it on each side.
            per_side_mm=value / 2 * (-1 if place == 0 and len(outer_mm) else 1),
        )  # fmt: skip
    return SizeResult(
        scale_pct=100 * scale, scale_std_uncertainty_pct=in_pct.std, scale_dof=in_pct.dof,
        scale_half_width_95_pct=decision.half_width_95,
        scale_verdict=Verdict.REFUSE if mistaken else decision.verdict,
        scale_reason="implausible" if mistaken else decision.reason.value, scale_factor=1 / (1 + scale),
        residual_sd_mm=residual, outer=offsets.get(0) if len(outer_mm) else None,
        inner=offsets.get(len(there) - 1) if len(inner_mm) else None,
    )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class AxisScale:
    """The scale of one axis [%]."""

    scale_pct: float
    scale_std_uncertainty_pct: float
    scale_dof: float


@dataclass(frozen=True, slots=True, kw_only=True)
class AxesResult:
    """Whether two axes differ (95 %): belts or skew, not steps."""

    difference_pct: float
    half_width_95_pct: float
    different: bool


def compare_axes(x: AxisScale, y: AxisScale) -> AxesResult:
    """Whether the scales of two axes differ (rules, I)."""
    apart = x.scale_pct - y.scale_pct
    total = combine([Component(one.scale_std_uncertainty_pct, one.scale_dof) for one in (x, y)])
    half = student_quantile(0.975, total.dof) * total.std
    return AxesResult(difference_pct=apart, half_width_95_pct=half, different=abs(apart) > half)
