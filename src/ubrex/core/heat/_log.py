"""A log of a hotend's temperature: how long it takes, how much it swings, whether its heater suffices (rules, section L)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from typing import Final

import numpy as np

FEWEST_POINTS: Final = 30
BAND_C: Final = 2.0
"""Settled is inside this of the target until the end (rules, L)."""

SETTLED_S, STEADY_S, LAST_S, PROVEN_S, PATIENT_S = 60.0, 180.0, 60.0, 120.0, 300.0
"""Seconds: to be settled, over which ripple is taken, the last minute, settled for sure, when it should be (rules, L)."""

SPIKE_C, SPIKES = 8.0, 3
"""A point this far from its neighbours is a spike; so many are a loose wire (rules, L)."""

SWING_C, UNSETTLED_SWING_C, SMALL_SWING_C = 4.0, 3.0, 2.0
"""Ripple beyond which control is to be tuned, settled and not; below the last it is steady (rules, L)."""

OVERSHOOT_C: Final = 8.0
FULL_DUTY: Final = 0.97
RISING_C_MIN: Final = 2.0
"""Full power, and still rising (rules, L)."""


class HeatLogVerdict(StrEnum):
    """What a log says."""

    FINE = "fine"
    REPEAT = "repeat"
    REFUSE = "refuse"
    RETUNE_CONTROL = "retune_control"
    HEATER_AT_ITS_LIMIT = "heater_at_its_limit"
    CHECK_WIRING = "check_wiring"


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatLog:
    """Settling [s], ripple and overshoot [°C], spikes, and the mean of the last minute [°C]."""

    verdict: HeatLogVerdict
    reason: str
    settling_s: float | None = None
    ripple_c: float | None = None
    overshoot_c: float | None = None
    spikes: int | None = None
    last_minute_mean_c: float | None = None


def heat_log(
    times_s: Sequence[float], shown_c: Sequence[float], *, target_c: float, duty: Sequence[float] | None = None,
    band_c: float = BAND_C,
) -> HeatLog:  # fmt: skip
    """How a hotend came to its target and stayed there. Method: docs/methods/heat.md.

    Parameters
    ----------
    times_s, shown_c
        From cold to steady [s, °C]; single outliers are removed by a running median of three.
    target_c, band_c
        What was wanted, and how near to it is settled [°C].
    duty
        Power, 0 to 1, at each time, if known.
    """
    count = len(times_s)
    if count < FEWEST_POINTS or len(shown_c) != count or any(after <= one for one, after in pairwise(times_s)):
        return HeatLog(verdict=HeatLogVerdict.REFUSE, reason="log_too_short")
    times, raw = np.asarray(times_s, float), np.asarray(shown_c, float)
    # A median of three takes lone outliers away and leaves a rise as it is.
    padded = np.concatenate([raw[:1], raw, raw[-1:]])
    shown = np.median(np.stack([padded[:-2], padded[1:-1], padded[2:]]), axis=0)
    spikes = int(np.sum(np.abs(raw - shown) > SPIKE_C))
    outside = np.flatnonzero(np.abs(shown - target_c) > band_c)
    start = int(outside[-1]) + 1 if len(outside) else 0
    settled = start < count and times[-1] - times[start] >= SETTLED_S
    last = times >= times[-1] - LAST_S
    tail, tail_times = shown[last], times[last] - times[-1]
    slope, end = np.polyfit(tail_times, tail, 1) if last.sum() >= 3 else (0.0, float(tail[-1]))
    steady = times >= max(times[min(start, count - 1)], times[-1] - STEADY_S)
    # A slow climb is not a swing: before it has settled its line is taken off.
    part = shown[steady] if settled else tail - (slope * tail_times + end)
    ripple = float(np.quantile(part, 0.975) - np.quantile(part, 0.025))
    reached = np.flatnonzero(shown >= target_c - 1)
    mean, rise = float(tail.mean()), float(slope * 60)
    found = HeatLog(
        verdict=HeatLogVerdict.FINE, reason="small_ripple" if ripple > SMALL_SWING_C else "steady",
        settling_s=float(times[start] - times[0]) if settled else None, ripple_c=ripple,
        overshoot_c=float(max(0.0, shown[reached[0] :].max() - target_c)) if len(reached) else 0.0,
        spikes=spikes, last_minute_mean_c=mean,
    )  # fmt: skip
    full = duty is not None and float(np.mean(np.asarray(duty, float)[last])) >= FULL_DUTY
    patient = float(times[-1] - times[0]) > PATIENT_S
    off = abs(mean - target_c) > band_c
    verdict = _judge(
        found, settled=settled, low=mean < target_c - band_c, weak=full or (duty is None and rise < RISING_C_MIN),
        rising=rise > RISING_C_MIN, off=off, patient=patient, proven=settled and times[-1] - times[start] >= PROVEN_S,
    )  # fmt: skip
    return found if verdict is None else replace(found, verdict=verdict[0], reason=verdict[1])


def _judge(
    found: HeatLog, *, settled: bool, low: bool, weak: bool, rising: bool, off: bool, patient: bool, proven: bool
) -> tuple[HeatLogVerdict, str] | None:
    """The first that holds, in the order of the rule; None where it is fine."""
    ripple = found.ripple_c or 0.0
    if (found.spikes or 0) >= SPIKES:
        return HeatLogVerdict.CHECK_WIRING, "jumps_of_the_sensor"
    if not settled and low and ripple < SWING_C and weak:
        return HeatLogVerdict.HEATER_AT_ITS_LIMIT, "target_not_reached"
    if not settled and rising and low:
        return HeatLogVerdict.REPEAT, "log_too_short"
    if ripple > SWING_C or (not settled and not off and patient and ripple > UNSETTLED_SWING_C):
        return HeatLogVerdict.RETUNE_CONTROL, "swings"
    if not settled and off and patient:
        return HeatLogVerdict.RETUNE_CONTROL, "steady_but_off_target"
    if not proven:
        return HeatLogVerdict.REPEAT, "log_too_short"
    if (found.overshoot_c or 0.0) > OVERSHOOT_C:
        return HeatLogVerdict.RETUNE_CONTROL, "overshoot"
    return None
