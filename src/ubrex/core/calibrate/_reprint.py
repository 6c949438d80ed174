"""A box printed anew: whether it answers as it should, or is the old one measured again (rules, section B)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.calibrate._flow import FlowResult, evaluate_flow
from ubrex.core.calibrate._walls import WallSample
from ubrex.core.quantity import Component, combine, student_quantile

VERIFY_MARGIN_PCT: Final = 5.0
"""A reprint within this of what was asked is confirmed (rules, B)."""

CHANGE_MARGIN_MM: Final = 0.015
"""How far a wall may move otherwise than predicted and still count as consistent [mm] (rules, B)."""

CHANGE_DOF: Final = 6.0
"""Usual weight of the scatter of two walls compared with each other (rules, B)."""

SAME_BOX_STD_MM: Final = 0.008
"""How far the mean of the walls of one box moves when it is measured again [mm] (evidence.md)."""

SAME_BOX_FROM: Final = 2.0
"""Log-likelihood ratio from which on a box is rather the old one than one printed anew (evidence.md)."""


class Equivalence(StrEnum):
    """Whether something is shown to be as asked, shown not to be, or neither."""

    INSIDE = "inside"
    OUTSIDE = "outside"
    OPEN = "open"


def equivalence(error: float, guard: float, margin: float) -> Equivalence:
    """Two one-sided tests at 5 %: the 90 % interval inside the margin, outside it, or across its edge."""
    if abs(error) + guard <= margin:
        return Equivalence.INSIDE
    return Equivalence.OUTSIDE if abs(error) - guard > margin else Equivalence.OPEN


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """How a wall moved against what was predicted [mm], same tool before and after."""

    difference_mm: float
    guard_mm: float
    found: Equivalence


def compare_walls(
    before: Component,
    after: Component,
    *,
    moved_mm: float,
    predicted_mm: float,
    step_mm: float = 0.01,
    margin_mm: float = CHANGE_MARGIN_MM,
    dof: float = CHANGE_DOF,
    share_doubt: float = 0.0,
) -> Moved:
    """Whether a wall moved as the new flow should have moved it; errors of the tool are in both, and cancel.

    ``share_doubt``: relative doubt of the prediction, from how far lines fuse (evidence.md).
    """
    total = combine(
        [
            Component(math.hypot(before.std, after.std), dof),
            Component(math.hypot(step_mm / math.sqrt(6), share_doubt * predicted_mm)),
        ]
    )
    guard = student_quantile(0.95, total.dof) * total.std
    difference = moved_mm - predicted_mm
    return Moved(difference_mm=difference, guard_mm=guard, found=equivalence(difference, guard, margin_mm))


class Reprint(StrEnum):
    """What a reprint says of the value it was printed with."""

    CONFIRMED = "confirmed"
    CONSISTENT = "consistent"
    CONTRADICTED = "contradicted"


def judge_reprint(before: FlowResult, sample: WallSample, flow_ratio: float) -> Reprint | None:
    """What a reprint says; None when its readings cannot be used.

    ``flow_ratio``: the new flow over the old. Equivalence alone would leave most honest people without an answer for ever: a
    wall that moved as predicted counts too, since the zero and the wave of the layers are in both.
    """
    after = evaluate_flow(sample)
    if after.figures is None or before.figures is None:
        return None
    met = equivalence(after.figures.error_pct, after.figures.guard_pct, VERIFY_MARGIN_PCT)
    if met is Equivalence.INSIDE:
        return Reprint.CONFIRMED
    predicted = before.figures.delivered * (flow_ratio - 1) / sample.per_mm
    moved = compare_walls(
        before.figures.wall.scatter,
        after.figures.wall.scatter,
        moved_mm=after.figures.wall.mean_mm - before.figures.wall.mean_mm,
        predicted_mm=predicted,
        step_mm=sample.tool.resolution,
        share_doubt=sample.share_doubt,
    )
    if met is Equivalence.OUTSIDE or moved.found is Equivalence.OUTSIDE:
        return Reprint.CONTRADICTED
    return Reprint.CONSISTENT


def same_box(before: FlowResult, after: FlowResult, sample: WallSample, flow_ratio: float) -> bool:
    """Whether walls are rather those of the box measured before than of one printed at ``flow_ratio`` times its flow.

    A wall that did not move, against one that moved as any fusing of its lines would have it: the logarithm of the
    likelihoods' ratio is above 2 (evidence.md). Never where both were printed with the same flow.
    """
    if before.figures is None or after.figures is None:
        return False
    moved = after.figures.wall.mean_mm - before.figures.wall.mean_mm
    predicted = before.figures.delivered * (flow_ratio - 1) / sample.per_mm
    # Lines that are fused move their wall by more than the middle, lines that just touch by less.
    share = (1 + 1 / sample.lines) / 2
    edges = sorted((predicted * share, predicted * share * sample.lines))
    nearest = min(max(moved, edges[0]), edges[1])
    std = math.hypot(SAME_BOX_STD_MM, sample.tool.resolution / math.sqrt(6))
    return ((moved - nearest) ** 2 - moved**2) / (2 * std**2) > SAME_BOX_FROM


@dataclass(frozen=True, slots=True, kw_only=True)
class TwoPrints:
    """Flow at which the wall comes out as expected, from two prints and no model of the line.

    ``extrapolated``: it lies farther than half a step outside the two flows that were printed.
    """

    flow: float
    std: float
    slope_mm: float
    slope_std_mm: float
    extrapolated: bool


def flow_of_two_prints(
    first: tuple[float, Component],
    second: tuple[float, Component],
    *,
    widths_mm: tuple[float, float],
    expected_mm: float,
    common: Component,
) -> TwoPrints | None:
    """Straight line through two prints of one wall, each given as its flow and the scatter of its width [mm].

    ``common``: what is wrong with both alike. None when the wall did not respond: slope under three times its doubt.
    """  # fmt: skip
    (low, low_scatter), (high, high_scatter) = first, second
    slope = (widths_mm[1] - widths_mm[0]) / (high - low)
    slope_std = math.hypot(low_scatter.std, high_scatter.std) / abs(high - low)
    if slope <= 0 or slope < 3 * slope_std:
        return None
    flow = low + (expected_mm - widths_mm[0]) / slope
    along = (flow - low) / (high - low)
    scatter = math.hypot((1 - along) * low_scatter.std, along * high_scatter.std)
    return TwoPrints(
        flow=flow,
        std=math.hypot(scatter, common.std) / slope,
        slope_mm=slope,
        slope_std_mm=slope_std,
        extrapolated=not -0.5 <= along <= 1.5,
    )
