"""Heat check: what a hotend really does against what it shows, by a probe or by pushing filament (rules, section L).

Bias is true minus shown. Nothing is corrected before a second, independent test agrees.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from typing import Final

import numpy as np
from scipy.special import ndtr, softmax

from ubrex.core.quantity import Component, Verdict, combine, decide_plainly, student_quantile

BIAS_TOLERANCE_C: Final = 5.0
"""A display off by less than this is left alone (rules, L)."""

BIAS_TARGET_C: Final = 7.0
"""Half-width that makes a heat check usable (rules, L)."""

MOST_BIAS_C: Final = 40.0
"""A display off by more is a mistake of the test (rules, L)."""

SET_STD_C, SET_DOF = 0.8, 4.0
"""How well a set temperature repeats [°C], and what that is worth (rules, L)."""

WITHIN_STD_C, WITHIN_DOF, OWN_WITHIN_DOF = 0.7, 2.0, 3
"""Usual scatter within a set temperature, its weight, and from how many of them on one's own counts (rules, L)."""

SEAT_STD_C: Final = 1.5
"""From seat to seat of a probe; more readings do not help (rules, L)."""

SLOPE_SPAN_C: Final = 30.0
"""A slope needs set temperatures at least so far apart (rules, L)."""

UNSETTLED_STD_C, UNSETTLED_DRIFT_C = 1.5, 3.0
"""Readings that scatter or move by more are not settled (rules, L)."""

TABLE_SLOPE: Final = 0.03
"""An error that grows by more than this for each °C is that of the sensor's table (rules, L)."""

COLD_OFF_C: Final = 6.0
"""A cold machine that shows the room wrong by more has the wrong table (rules, L)."""

LEAST_CONFIRMED_C: Final = 2.0
"""A confirmed bias is surely larger than this (rules, L)."""

BLUNDERS: Final = 0.02
"""Share of answers of a push test that are plain mistakes (rules, L)."""

FORCE_ZONES_C, KNEE_WIDTHS_C = (5.0, 10.0, 15.0, 20.0), (1.5, 3.0, 5.0)
"""How far below the knee it runs with force, and how sharp the knee is: each as likely (rules, L)."""

REACH_C: Final = 15.0
"""A knee may lie so far outside the temperatures tried (rules, L)."""


class HeatVerdict(StrEnum):
    """What a heat check says."""

    FINE = "fine"
    SUSPECT = "suspect"
    REPEAT = "repeat"
    REFUSE = "refuse"
    SENSOR_TABLE_WRONG = "sensor_table_wrong"
    EXTEND_COOLER = "extend_cooler"
    EXTEND_HOTTER = "extend_hotter"
    KNEE_ONLY = "knee_only"
    NOT_INDEPENDENT = "not_independent"
    CONTRADICTED = "contradicted"
    CONFIRMED = "confirmed"
    NOT_PROVEN = "not_proven"


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatPoint:
    """Readings once both stand still at one set temperature [°C]."""

    shown_c: Sequence[float]
    probe_c: Sequence[float]


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatProbe:
    """What a probe says; ``bias_c`` [°C] at ``at_c``. ``common_std_uncertainty_c``: what one probe errs by each time."""

    verdict: HeatVerdict
    reason: str
    bias_c: float | None = None
    std_uncertainty_c: float | None = None
    dof: float | None = None
    half_width_95_c: float | None = None
    common_std_uncertainty_c: float | None = None
    at_c: float | None = None
    scatter_c: float | None = None
    centre_c: float | None = None
    slope_per_c: float | None = None
    slope_half_width_95: float | None = None


def heat_probe(
    points: Sequence[HeatPoint], *, probe_accuracy_c: float, resolution_c: float = 0.1, contact_pct: float = 4.0,
    room_c: float = 22.0, at_c: float | None = None, cold_shown_c: float | None = None,
    tolerance_c: float = BIAS_TOLERANCE_C, target_c: float = BIAS_TARGET_C,
) -> HeatProbe:  # fmt: skip
    """True minus shown, from pairs of readings at set temperatures. Method: docs/methods/heat.md.

    Parameters
    ----------
    points
        Two or more pairs at each set temperature [°C].
    probe_accuracy_c, resolution_c
        Limit of error and step of the probe [°C].
    contact_pct
        A probe touches something cooler than the melt: it reads low by 0 to so much of what it is above the room [%].
    room_c, cold_shown_c
        The room, and what the cold machine shows [°C].
    at_c
        Where the bias is wanted [°C]; the middle of the set temperatures if not given.
    tolerance_c, target_c
        Smallest bias worth a second test, and the half-width that is usable [°C].
    """
    if not points or any(len(one.shown_c) != len(one.probe_c) or len(one.shown_c) < 2 for one in points):
        return HeatProbe(verdict=HeatVerdict.REFUSE, reason="two_readings_per_temperature_needed")
    every = [value for one in points for value in (*one.shown_c, *one.probe_c)]
    if min(every) < -20 or max(value for one in points for value in one.shown_c) > 500:
        return HeatProbe(verdict=HeatVerdict.REFUSE, reason="invalid_reading")
    shown = np.array([np.mean(one.shown_c) for one in points])
    probe = np.array([np.mean(one.probe_c) for one in points])
    # A probe that is set to Fahrenheit reads so wherever it is held.
    if np.all(np.abs(probe - (1.8 * shown + 32)) < 0.05 * probe):
        return HeatProbe(verdict=HeatVerdict.REFUSE, reason="probe_in_fahrenheit")
    cool = contact_pct / 100
    # Half of the most that contact can take away is given back; the rest of it is doubt.
    off = probe - shown + cool / 2 * (shown - room_c)
    within, drift = _within(points)
    count, readings = len(points), sum(len(one.shown_c) for one in points)
    centre, span = float(shown.mean()), float(np.ptp(shown))
    squares = float(((shown - centre) ** 2).sum())
    sloped = count >= 2 and span >= SLOPE_SPAN_C
    slope = float(((shown - centre) * (off - off.mean())).sum() / squares) if sloped else 0.0
    rest = float(((off - off.mean() - slope * (shown - centre)) ** 2).sum())
    dof = SET_DOF + count - (2 if sloped else 1)
    # What is left of the line weighs with the usual scatter between settings, and is never less than that within one.
    variance = max((SET_DOF * SET_STD_C**2 + rest) / dof, within**2 * count / readings)
    at = centre if at_c is None else at_c
    bias = float(off.mean()) + slope * (at - centre)
    # Both ends of a slope are read by the same probe, each wrong within its limit.
    gain = math.sqrt(2) / 2 * probe_accuracy_c / math.sqrt(3) / span if sloped else 0.0
    by_readings = math.sqrt(variance * (1 / count + ((at - centre) ** 2 / squares if sloped else 0.0)))
    # What two seats of the same probe share; a second test with another probe does not.
    common = math.sqrt(probe_accuracy_c**2 / 3 + (gain * (at - centre)) ** 2 + (cool * (at - room_c)) ** 2 / 12)
    by_tool = math.hypot(common, resolution_c / math.sqrt(12), SEAT_STD_C)
    total = combine([Component(by_readings, dof), Component(by_tool)])
    decision = decide_plainly(bias, total, tolerance=tolerance_c, target=target_c, tool_std=by_tool)
    slope_half = None
    if sloped:
        doubt = combine(
            [Component(math.sqrt(variance / squares), dof), Component(gain), Component(cool / math.sqrt(12))]
        )
        slope_half = student_quantile(0.975, doubt.dof) * doubt.std
    found = HeatProbe(
        verdict=_AS_HEAT[decision.verdict], reason=decision.reason.value, bias_c=bias, std_uncertainty_c=total.std,
        dof=total.dof, half_width_95_c=decision.half_width_95, common_std_uncertainty_c=common, at_c=at, scatter_c=within,
        centre_c=centre, slope_per_c=slope if sloped else None, slope_half_width_95=slope_half,
    )  # fmt: skip
    if abs(bias) > MOST_BIAS_C:
        return replace(found, verdict=HeatVerdict.REFUSE, reason="implausible")
    if within > UNSETTLED_STD_C or drift > UNSETTLED_DRIFT_C:
        return replace(found, verdict=HeatVerdict.REPEAT, reason="not_settled")
    if slope_half is not None and abs(slope) - slope_half > TABLE_SLOPE:
        return replace(found, verdict=HeatVerdict.SENSOR_TABLE_WRONG, reason="bias_grows_with_temperature")
    if cold_shown_c is not None and abs(room_c - cold_shown_c) > COLD_OFF_C:
        return replace(found, verdict=HeatVerdict.SENSOR_TABLE_WRONG, reason="wrong_when_cold")
    return found


_AS_HEAT: Final = {
    Verdict.KEEP: HeatVerdict.FINE,
    Verdict.APPLY: HeatVerdict.SUSPECT,
    Verdict.TRY: HeatVerdict.SUSPECT,
    Verdict.REPEAT: HeatVerdict.REPEAT,
}


def _within(points: Sequence[HeatPoint]) -> tuple[float, float]:
    """Scatter of the difference within a set temperature, and the farthest a probe moved while it was read [°C]."""
    squares, dof = 0.0, 0
    for one in points:
        off = np.subtract(one.probe_c, one.shown_c)
        squares += float(((off - off.mean()) ** 2).sum())
        dof += len(off) - 1
    drift = max(abs(one.probe_c[-1] - one.probe_c[0]) for one in points)
    if dof >= OWN_WITHIN_DOF:
        return math.sqrt(squares / dof), drift
    return math.sqrt((WITHIN_DOF * WITHIN_STD_C**2 + squares) / (WITHIN_DOF + dof)), drift


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatPush:
    """What pushing filament says; ``knee_c``: from where on it runs freely [°C]."""

    verdict: HeatVerdict
    reason: str
    knee_c: float | None = None
    knee_std_uncertainty_c: float | None = None
    bias_c: float | None = None
    std_uncertainty_c: float | None = None
    half_width_95_c: float | None = None


def heat_push(
    temperatures_c: Sequence[float], answers: Sequence[int], *, reference_knee_c: float | None = None,
    reference_std_uncertainty_c: float = 3.0, same_nozzle: bool = True, hand_sd_c: float = 4.0,
) -> HeatPush:  # fmt: skip
    """From where on filament runs freely, against the same filament and nozzle on a hotend that is trusted.

    ``answers``: 0 does not run, 1 runs with force, 2 runs freely, from cool to hot. Method: docs/methods/heat.md.
    """
    count = len(temperatures_c)
    if count < 4 or len(answers) != count or any(after <= before for before, after in pairwise(temperatures_c)):
        return HeatPush(verdict=HeatVerdict.REFUSE, reason="four_rising_temperatures_needed")
    if not same_nozzle:
        return HeatPush(verdict=HeatVerdict.REFUSE, reason="same_nozzle_needed")
    if any(cool - hot >= 2 for place, cool in enumerate(answers) for hot in answers[place + 1 :]):
        return HeatPush(verdict=HeatVerdict.REPEAT, reason="contradictory")
    if 2 not in answers:
        return HeatPush(verdict=HeatVerdict.EXTEND_HOTTER, reason="never_free")
    if answers[0] == 2:
        return HeatPush(verdict=HeatVerdict.EXTEND_COOLER, reason="free_from_the_start")
    knee, std = _knee(temperatures_c, answers)
    found = HeatPush(verdict=HeatVerdict.KNEE_ONLY, reason="no_reference", knee_c=knee, knee_std_uncertainty_c=std)
    if reference_knee_c is None:
        return found
    bias = reference_knee_c - knee
    # The hand that pushes, here and on the other hotend.
    total = math.hypot(std, reference_std_uncertainty_c, math.sqrt(2) * hand_sd_c)
    half = student_quantile(0.975, math.inf) * total
    found = replace(found, bias_c=bias, std_uncertainty_c=total, half_width_95_c=half)
    if abs(bias) > MOST_BIAS_C:
        return replace(found, verdict=HeatVerdict.REFUSE, reason="implausible")
    if abs(bias) > half:
        return replace(found, verdict=HeatVerdict.SUSPECT, reason="probably_real")
    return replace(found, verdict=HeatVerdict.FINE, reason="no_error_found")


def _knee(temperatures_c: Sequence[float], answers: Sequence[int]) -> tuple[float, float]:
    """Mean and standard deviation of the knee [°C] over all knees, zones of force and widths."""
    grid = np.arange(temperatures_c[0] - REACH_C, temperatures_c[-1] + REACH_C + 0.5, 1.0)
    knees, zones, widths = (axis.ravel() for axis in np.meshgrid(grid, FORCE_ZONES_C, KNEE_WIDTHS_C, indexing="ij"))
    weights = np.zeros(len(knees))
    for celsius, answer in zip(temperatures_c, answers, strict=True):
        free, at_all = ndtr((celsius - knees) / widths), ndtr((celsius - knees + zones) / widths)
        likely = (1 - at_all, at_all - free, free)[answer]
        weights += np.log((1 - BLUNDERS) * likely + BLUNDERS / 3)
    share = softmax(weights)
    mean = float(share @ knees)
    return mean, math.sqrt(float(share @ (knees - mean) ** 2))


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatTest:
    """One test of a hotend as the second is held against it; ``dof`` None: infinite."""

    method: str
    bias_c: float
    std_uncertainty_c: float
    dof: float | None = None
    common_std_uncertainty_c: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatConfirm:
    """What two tests say together."""

    verdict: HeatVerdict
    reason: str
    bias_c: float | None = None
    std_uncertainty_c: float | None = None
    half_width_95_c: float | None = None
    weight_of_first: float | None = None
    difference_c: float | None = None


def heat_confirm(
    first: HeatTest, second: HeatTest, *, same_probe: bool = True, reseated: bool = True,
    tolerance_c: float = BIAS_TOLERANCE_C, smallest_c: float = LEAST_CONFIRMED_C,
) -> HeatConfirm:  # fmt: skip
    """Whether a second, independent test agrees, and the bias that both say. Method: docs/methods/heat.md.

    What the same probe errs by each time cancels in the difference and stays in the mean.
    """
    methods = {first.method, second.method}
    if methods == {"push"}:
        return HeatConfirm(verdict=HeatVerdict.NOT_INDEPENDENT, reason="push_twice")
    if methods == {"probe"} and not reseated:
        return HeatConfirm(verdict=HeatVerdict.NOT_INDEPENDENT, reason="probe_not_reseated")
    shared = 0.0
    if same_probe and methods == {"probe"}:
        shared = min(first.common_std_uncertainty_c, second.common_std_uncertainty_c)
    one, other = first.std_uncertainty_c**2, second.std_uncertainty_c**2
    of_difference = one + other - 2 * shared**2
    dof = min(math.inf if test.dof is None else test.dof for test in (first, second))
    weight = min(1.0, max(0.0, (other - shared**2) / of_difference))
    bias = weight * first.bias_c + (1 - weight) * second.bias_c
    std = math.sqrt(weight**2 * one + (1 - weight) ** 2 * other + 2 * weight * (1 - weight) * shared**2)
    half, guard = student_quantile(0.975, dof) * std, student_quantile(0.95, dof) * std
    found = HeatConfirm(
        verdict=HeatVerdict.NOT_PROVEN, reason="too_uncertain", bias_c=bias, std_uncertainty_c=std, half_width_95_c=half,
        weight_of_first=weight, difference_c=first.bias_c - second.bias_c,
    )  # fmt: skip
    if abs(first.bias_c - second.bias_c) > student_quantile(0.975, dof) * math.sqrt(of_difference):
        return replace(found, verdict=HeatVerdict.CONTRADICTED, reason="the_two_disagree", bias_c=None)
    if abs(bias) - half > smallest_c:
        return replace(found, verdict=HeatVerdict.CONFIRMED, reason="outside_tolerance")
    if abs(bias) + guard <= tolerance_c:
        return replace(found, verdict=HeatVerdict.FINE, reason="within_tolerance")
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatUse:
    """What to set for a wanted heat [°C], and where that lies."""

    verdict: str
    reason: str
    set_c: float
    true_c: float
    hotter_c: float
    label_place: str | None


LABEL_GRACE_C: Final = 0.5
"""A set temperature is a whole number: so much outside a label's window is inside (rules, L)."""


def heat_use(
    wanted_true_c: float, *, bias_c: float = 0.0, slope_per_c: float = 0.0, at_c: float | None = None,
    confirmed: bool = False, limit_c: float | None = None, label_low_c: float | None = None,
    label_high_c: float | None = None,
) -> HeatUse:  # fmt: skip
    """What to set so that the hotend really is at a temperature (rules, L).

    Only a confirmed bias moves what is set; limits see the hotter of shown and true with the bias known so far, confirmed
    or not; a label's window sees the true heat once the bias is confirmed, else what is set.
    """
    at = wanted_true_c if at_c is None else at_c
    exact = (wanted_true_c - bias_c + slope_per_c * at) / (1 + slope_per_c) if confirmed else wanted_true_c
    set_c = float(math.floor(exact + 0.5))
    true_c = set_c + bias_c + slope_per_c * (set_c - at)
    held, hotter = true_c if confirmed else set_c, max(set_c, true_c)
    place = None
    if label_low_c is not None and label_high_c is not None:
        below, above = held < label_low_c - LABEL_GRACE_C, held > label_high_c + LABEL_GRACE_C
        place = "below" if below else "above" if above else "inside"
    return HeatUse(
        verdict="over_limit" if limit_c is not None and hotter > limit_c else "ok",
        reason="confirmed_bias_used" if confirmed else "bias_not_used",
        set_c=set_c, true_c=true_c, hotter_c=hotter, label_place=place,
    )  # fmt: skip
