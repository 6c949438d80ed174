"""Checks of a machine: whether readings that follow can be trusted at all (rules, section S; before and after, R)."""

from __future__ import annotations

import math
import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from scipy.special import chdtri

from ubrex.core.attempts._qualified import upper_rate
from ubrex.core.calibrate import flagged_readings
from ubrex.core.quantity import Component, combine, student_quantile

RANGE_OF_TEN: Final = 3.078
"""Mean range of ten normal readings, in standard deviations (rules, S)."""

GOOD_MM, USABLE_MM = 0.02, 0.05
"""Range of ten touches of a probe that is good, and that is usable [mm] (rules, S)."""

FROM_DRIFT, MOST_MORE_READINGS = 6, 30
"""Readings from which on a drift can be told, and the most that are asked for (rules, S)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Repeatability:
    """Expected range of ten with its one-sided 95 % bounds, in the unit of the readings; and what was flagged."""

    verdict: str
    reason: str
    n: int | None = None
    range: float | None = None
    sd: float | None = None
    range_of_ten: float | None = None
    range_of_ten_low: float | None = None
    range_of_ten_high: float | None = None
    drift_per_reading: float | None = None
    flagged: tuple[int, ...] = ()
    more_readings: int | None = None


def repeatability(
    readings: Sequence[float], resolution: float, *, good: float = GOOD_MM, usable: float = USABLE_MM
) -> Repeatability:
    """How well touches of a probe, or one piece printed again, repeat. Method: docs/methods/machine-checks.md."""
    count = len(readings)
    if count < 3:
        return Repeatability(verdict="refuse", reason="three_readings_needed")
    found = np.asarray(readings, float)
    at = np.arange(count) - (count - 1) / 2
    slope = float((at * found).sum() / (at * at).sum())
    std = math.sqrt(max(float(found.var(ddof=1)), resolution**2 / 12))
    expected = RANGE_OF_TEN * std

    def bound(share: float, dof: float) -> float:
        # chdtri gives the upper quantile.
        return expected * math.sqrt(dof / float(chdtri(dof, 1 - share)))

    low, high = bound(0.95, count - 1), bound(0.05, count - 1)
    flagged = flagged_readings(readings, resolution / 2)
    said = Repeatability(
        verdict="doubtful", reason="near_the_limit", n=count, range=float(np.ptp(found)), sd=std, range_of_ten=expected,
        range_of_ten_low=low, range_of_ten_high=high, drift_per_reading=slope, flagged=flagged,
    )  # fmt: skip
    if _drifts(found, at, slope, resolution, good):
        return replace(said, verdict="drifting", reason="readings_move_one_way")
    if flagged:
        return replace(said, verdict="repeat", reason="first_touch_differs" if flagged == (0,) else "lone_reading")
    if high <= good:
        return replace(said, verdict="good", reason="within_good")
    if low > usable:
        return replace(said, verdict="poor", reason="outside_usable")
    if high <= usable:
        return replace(said, verdict="usable", reason="within_usable")
    # How many more would bring the bound within the limit it is nearest to, if they scatter like these.
    edge = good if expected <= good else usable
    more = next(
        (
            extra
            for extra in range(1, MOST_MORE_READINGS + 1)
            if expected <= usable and bound(0.05, count - 1 + extra) <= edge
        ),
        None,
    )
    return said if more is None else replace(said, verdict="more_readings", reason="not_enough_yet", more_readings=more)


def _drifts(found: np.ndarray, at: np.ndarray, slope: float, resolution: float, good: float) -> bool:
    """Whether readings move one way, beyond chance and by enough to matter."""
    count = len(found)
    if count < FROM_DRIFT:
        return False
    rest = found - found.mean() - slope * at
    std = math.sqrt(max(float(rest @ rest) / (count - 2), resolution**2 / 12))
    beyond = abs(slope) * math.sqrt(float((at * at).sum())) / std > student_quantile(0.995, count - 2.0)
    return beyond and abs(slope) * (count - 1) > max(good / 2, 1.5 * resolution)


@dataclass(frozen=True, slots=True, kw_only=True)
class TwoState:
    """How often each state was checked, which readings were wrong, and how often it may still miss."""

    verdict: str
    reason: str
    checked_on: int | None = None
    checked_off: int | None = None
    wrong: tuple[int, ...] = ()
    miss_rate_upper_95: float | None = None


NEEDED_CHECKS: Final = 3
"""So often each state is looked at (rules, S)."""


def two_state(expected: Sequence[bool], read: Sequence[bool], *, needed: int = NEEDED_CHECKS) -> TwoState:
    """A switch or sensor checked in both its states. Method: docs/methods/machine-checks.md."""
    if not expected or len(expected) != len(read):
        return TwoState(verdict="refuse", reason="invalid_reading")
    on, count = sum(expected), len(expected)
    off = count - on
    wrong = tuple(place for place, (one, other) in enumerate(zip(expected, read, strict=True)) if one != other)
    found = TwoState(
        verdict="ok", reason="both_states_seen", checked_on=on, checked_off=off, wrong=wrong,
        miss_rate_upper_95=upper_rate(count, len(wrong)),
    )  # fmt: skip
    both = bool(on and off)
    if wrong and both and len(set(read)) == 1:
        return replace(found, verdict="stuck", reason="always_on" if read[0] else "always_off")
    if both and len(wrong) == count:
        return replace(found, verdict="inverted", reason="reads_the_opposite")
    if wrong:
        return replace(found, verdict="unreliable", reason="misses")
    if min(on, off) < needed:
        return replace(found, verdict="more_checks", reason="both_states_three_times")
    return found


LEVEL_TOLERANCE_MM, LEVEL_STD_MM = 0.04, 0.01
"""A screw nearer than this is level, and how well one reads it [mm] (rules, S)."""

DRAG_MM: Final[Mapping[str, float]] = {"free": -0.06, "light": -0.03, "drags": 0.0, "firm": 0.03, "stuck": 0.06}
"""How high the bed stands by how a sheet of paper is held under the nozzle [mm] (E): a word is about 0.03 mm wide."""

DRAG_STD_MM: Final = 0.015
"""How well a hand tells those words apart [mm] (E): half a word."""

PROGRESS: Final = 0.7
"""A round that leaves more than this share of an earlier one's error is no progress (rules, S)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Levelling:
    """Worst screw of each round [mm], and the last round's beside the one before."""

    verdict: str
    reason: str
    worst_mm: tuple[float, ...] = ()
    guard_mm: float | None = None
    ratio: float | None = None


def levelling_rounds(
    rounds_mm: Sequence[Sequence[float]],
    *,
    tolerance_mm: float = LEVEL_TOLERANCE_MM,
    reading_sd_mm: float = LEVEL_STD_MM,
) -> Levelling:
    """Whether turning screws converges: errors at each screw, after each round [mm] (docs/methods/machine-checks.md)."""
    if not rounds_mm or any(len(one) != len(rounds_mm[0]) or len(one) < 3 for one in rounds_mm):
        return Levelling(verdict="refuse", reason="three_points_each_round")
    worst = tuple(max(abs(error - statistics.fmean(one)) for error in one) for one in rounds_mm)
    guard, now = 2 * reading_sd_mm, worst[-1]
    before = worst[-2] if len(worst) > 1 else None
    found = Levelling(
        verdict="go_on", reason="another_round", worst_mm=worst, guard_mm=guard, ratio=now / before if before else None
    )
    if now + guard <= tolerance_mm:
        return replace(found, verdict="converged", reason="within_tolerance")
    if before is not None and now > before + 2 * guard:
        return replace(found, verdict="diverging", reason="check_turning_sense")
    if now <= tolerance_mm or (now <= tolerance_mm + guard and before is not None and now > PROGRESS * before):
        return replace(found, verdict="good_enough", reason="limit_of_reading")
    if len(worst) >= 3 and now > PROGRESS * worst[-3]:
        return replace(found, verdict="stuck", reason="no_progress_in_two_rounds")
    return found


MEASURES: Final[Mapping[str, tuple[float, float]]] = {
    "noise_db": (1.0, 2.0), "time_min": (0.5, 1.0), "mass_g": (0.05, 0.2), "power_w": (2.0, 5.0), "heat_sink_c": (1.0, 3.0),
}  # fmt: skip
"""Usual scatter of a measure, and the smallest change that matters (rules, R; of the heat sink: E)."""

MEASURE_DOF: Final = 4.0
"""Weight of a usual scatter (rules, R)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BeforeAfter:
    """After minus before, in the unit of the measure, with its 95 % half-width."""

    verdict: str
    reason: str
    difference: float | None = None
    std_uncertainty: float | None = None
    dof: float | None = None
    half_width_95: float | None = None


def before_after(
    kind: str, before: Sequence[float], after: Sequence[float], resolution: float, *, smallest: float | None = None
) -> BeforeAfter:
    """Whether a change of the machine changed what was measured: by the same tool, whose own error cancels (rules, R)."""
    if not before or not after or (kind != "noise_db" and min(*before, *after) < 0):
        return BeforeAfter(verdict="refuse", reason="invalid_reading")
    usual, matters = MEASURES[kind]
    matters = matters if smallest is None else smallest
    squares = math.fsum((one - statistics.fmean(rows)) ** 2 for rows in (before, after) for one in rows)
    dof = MEASURE_DOF + len(before) + len(after) - 2
    std = math.sqrt((MEASURE_DOF * usual**2 + squares) / dof)
    difference = statistics.fmean(after) - statistics.fmean(before)
    doubt = std * math.sqrt(1 / len(before) + 1 / len(after))
    total = combine([Component(doubt, dof), Component(resolution / math.sqrt(6))])
    half, guard = (student_quantile(share, total.dof) * total.std for share in (0.975, 0.95))
    found = BeforeAfter(
        verdict="cannot_tell", reason="more_readings", difference=difference, std_uncertainty=total.std, dof=total.dof,
        half_width_95=half,
    )  # fmt: skip
    if abs(difference) > half:
        reason = "real_and_matters" if abs(difference) >= matters else "real_but_small"
        return replace(found, verdict="lower" if difference < 0 else "higher", reason=reason)
    if abs(difference) + guard <= matters:
        return replace(found, verdict="no_real_difference", reason="proven_alike")
    return found
