"""Rule A held against simulated feeds: its own truths, seeded, printed beside what the design reports."""

from __future__ import annotations

import math

import numpy as np
import pytest

from ubrex.core.calibrate import EStepsMethod, EStepsSample, evaluate_esteps
from ubrex.core.quantity import Tool, Verdict

TRIALS = 4000
CALLIPER = Tool(resolution=0.01, max_permissible_error=0.03)


def _trial(rng: np.random.Generator, error_pct: float, count: int) -> tuple[bool, bool]:
    """One sample of ``count`` cuts at a true error: does the 95 % interval hold the truth, and is a change advised?"""
    true_fed = 100.0 / (1 + error_pct / 100)
    tool_error = rng.uniform(-0.03, 0.03)
    cuts = true_fed + tool_error + rng.normal(0.0, 0.3, count)
    sample = EStepsSample(
        method=EStepsMethod.OPEN_AIR, commanded_mm=100.0, readings=tuple(np.round(cuts, 2).tolist()), tool=CALLIPER
    )
    result = evaluate_esteps(sample)
    assert result.figures is not None
    covered = abs(result.figures.error_pct - error_pct) <= result.figures.half_width_95_pct
    return covered, result.verdict is Verdict.APPLY


@pytest.mark.slow
@pytest.mark.parametrize("count", [3, 5, 8])
def test_intervals_cover_and_changes_inside_tolerance_are_rare(count: int) -> None:
    """95 % intervals cover 93 to 98 %, and no more than 5 % (and two standard errors) of changes are false.

    Truth: cuts with sd 0.3 mm, a calliper anywhere inside ± 0.03 mm, a true error at the edge of the tolerance.
    """
    rng = np.random.default_rng(20261125 + count)
    edge = [_trial(rng, 1.0, count) for _ in range(TRIALS)]
    coverage = sum(covered for covered, _ in edge) / TRIALS
    false_apply = sum(applied for _, applied in edge) / TRIALS
    print(f"n = {count}: coverage {coverage:.3f}, false apply at the edge {false_apply:.3f}")
    assert 0.93 <= coverage <= 0.98
    assert false_apply <= 0.05 + 2 * math.sqrt(0.05 * 0.95 / TRIALS)
