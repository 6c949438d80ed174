"""Flow from the mass of boxes: an example by hand, what cancels, and what is refused."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from ubrex.core.calibrate import BoxMassSample, ReferencePiece, evaluate_box_mass
from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import Reason, Tool, Verdict

SCALE = Tool(resolution=0.01, max_permissible_error=0.02)
RULER = Tool(resolution=0.5, max_permissible_error=0.5)
AS_HEAVY = ReferencePiece(mass_g=0.80, length_mm=268.5, length_tool=RULER)
BOX = BoxMassSample(masses_g=(0.86, 0.86), commanded_mm=268.5, tool=SCALE, reference=AS_HEAVY)


def test_a_box_by_hand() -> None:
    """0.86 g where 0.80 were commanded: 1.075 of it, so the flow over 1.075; the limit nearly cancels, the digits stay."""
    found = evaluate_box_mass(BOX)
    assert found.figures.delivered == pytest.approx(1.075)
    assert found.figures.error_pct == pytest.approx(100 * (1 / 1.075 - 1))
    limit = 0.02 / math.sqrt(3) * (1 / 0.80 - 1 / 0.86)
    digits = 0.01 / math.sqrt(6) * math.hypot(1 / 0.80, 1 / 0.86)
    length = math.hypot(0.5 / math.sqrt(3), 0.5 / math.sqrt(12)) / 268.5
    expected = 1.96 * 100 / 1.075 * math.hypot(limit, digits, length)
    assert found.figures.tool_half_width_pct == pytest.approx(expected, rel=1e-9)


def test_three_boxes_together_tell_more_than_one() -> None:
    """With a reference as heavy: less than half the doubt."""
    three = BoxMassSample(
        masses_g=(2.58, 2.58), commanded_mm=3 * 268.5, tool=SCALE,
        reference=ReferencePiece(mass_g=2.40, length_mm=3 * 268.5, length_tool=RULER),
    )  # fmt: skip
    one, more = evaluate_box_mass(BOX).figures, evaluate_box_mass(three).figures
    assert more.error_pct == pytest.approx(one.error_pct)
    assert more.half_width_95_pct < one.half_width_95_pct / 2
    assert evaluate_box_mass(three).verdict is Verdict.APPLY


def test_what_cannot_be_a_box_of_these() -> None:
    """A third more or a quarter less is a box too many, or a brim cut off; nothing weighed is an error of the caller."""
    found = evaluate_box_mass(replace(BOX, masses_g=(1.7, 1.7)))
    assert (found.verdict, found.reason) == (Verdict.REFUSE, Reason.IMPLAUSIBLE)
    for wrong in ({"masses_g": ()}, {"masses_g": (0.0,)}, {"commanded_mm": 0.0}):
        with pytest.raises(OutOfRange):
            replace(BOX, **wrong)


@pytest.mark.slow
@pytest.mark.parametrize("truth_pct", [0.0, 3.0, 6.0])
def test_intervals_cover_and_nothing_right_is_changed(truth_pct: float) -> None:
    """Three boxes on a scale of 0.01 g that is off by up to its limit, beside a reference as heavy."""
    rng = np.random.default_rng([20261204, int(truth_pct)])
    gram, covered, applied, trials = 0.00298, 0, 0, 2000
    for _ in range(trials):
        bias = rng.uniform(-0.02, 0.02)

        def weigh(mass: float, off: float = bias) -> float:
            return round((mass + off) / 0.01) * 0.01

        length = 800.0
        piece = ReferencePiece(
            mass_g=weigh(length * gram + rng.normal(0, 0.003)), length_mm=length + rng.uniform(-0.5, 0.5), length_tool=RULER
        )  # fmt: skip
        boxes = length * gram / (1 + truth_pct / 100)
        masses = tuple(weigh(boxes + rng.normal(0, 0.003)) for _ in range(2))
        found = evaluate_box_mass(BoxMassSample(masses_g=masses, commanded_mm=length, tool=SCALE, reference=piece))
        covered += abs(found.figures.error_pct - truth_pct) <= found.figures.half_width_95_pct
        applied += found.verdict is Verdict.APPLY
    print(f"weighed box at {truth_pct}: covers {covered / trials:.3f}, applied {applied / trials:.3f}")
    assert covered / trials >= 0.93
    if truth_pct <= 3:
        assert applied / trials <= 0.05


def test_half_a_width_in_grams_is_that_of_the_mean_mass() -> None:
    """The half-width of the flow is relative to what would be set: in grams it is that share of what was weighed."""
    figures = evaluate_box_mass(BOX).figures
    share = figures.half_width_95_pct / figures.factor
    assert figures.half_width_g == pytest.approx(share * figures.mean_g / 100, rel=1e-12)
