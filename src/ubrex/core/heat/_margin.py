"""How much of a heater's power is left at the top of the range (rules, section L)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np

from ubrex.core.quantity import student_quantile

NEEDED_MARGIN: Final = 0.15
"""Share of the power that should be left at the top (rules, L)."""

FEW_DUTY_STD: Final = 0.03
"""Usual doubt of the mean of one or two readings of duty (rules, L)."""

BLOCKS: Final = 8
"""Equal blocks that a heat-up is cut into (rules, L)."""

REACHES: Final = 0.6
"""A heat-up that ends below this share of the way says nothing of the top (rules, L)."""


class MarginVerdict(StrEnum):
    """Whether a heater has enough in hand."""

    FINE = "fine"
    HEATER_AT_ITS_LIMIT = "heater_at_its_limit"
    REPEAT = "repeat"
    REFUSE = "refuse"


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatMargin:
    """Share of power left at the top and its lower bound; where full power would end [°C]; below what to stay [°C]."""

    verdict: MarginVerdict
    reason: str
    margin: float | None = None
    margin_low: float | None = None
    end_c: float | None = None
    stay_below_c: float | None = None
    method: str | None = None


def heat_margin(
    top_c: float, *, room_c: float = 22.0, duty_at_c: float | None = None, duty: Sequence[float] | None = None,
    times_s: Sequence[float] | None = None, shown_c: Sequence[float] | None = None, needed: float = NEEDED_MARGIN,
) -> HeatMargin:  # fmt: skip
    """What is left at ``top_c``: from the duty that holds ``duty_at_c``, or from a heat-up at full power.

    The rate of a heat-up falls with the temperature, rate = a + b T; full power ends where it is 0 (Fieller for its lower
    bound, one side 95 %). Method: docs/methods/heat.md.
    """
    if duty:
        if min(duty) < 0 or max(duty) > 1.0001:
            return HeatMargin(verdict=MarginVerdict.REFUSE, reason="duty_outside_0_1")
        end, end_low = _by_duty(duty, room_c, top_c if duty_at_c is None else duty_at_c)
        method = "duty"
    else:
        times = np.asarray(times_s if times_s is not None else [], float)
        shown = np.asarray(shown_c if shown_c is not None else [], float)
        # A heat-up starts late and is throttled at its end: neither shows full power.
        use = (shown > room_c + 40) & (shown < top_c - 10)
        times, shown = times[use], shown[use]
        if len(shown) < 4 * BLOCKS:
            return HeatMargin(verdict=MarginVerdict.REFUSE, reason="heat_up_log_too_short")
        # Rates in blocks: from one reading to the next they are mostly the sensor's step.
        parts = np.array_split(np.arange(len(shown)), BLOCKS)
        rates = np.array([np.polyfit(times[part] - times[part].mean(), shown[part], 1)[0] for part in parts])
        middles = np.array([shown[part].mean() for part in parts])
        if middles.max() < room_c + REACHES * (top_c - room_c):
            return HeatMargin(verdict=MarginVerdict.REFUSE, reason="heat_up_stops_too_low")
        end, end_low = _by_rates(middles, rates)
        method = "rate_of_rise"

    def left(end_c: float) -> float:
        return 1.0 if math.isinf(end_c) else 1 - (top_c - room_c) / (end_c - room_c)

    # Rounded down: what is promised is never more than what is proven.
    stay = top_c if math.isinf(end_low) else min(float(math.floor(room_c + (1 - needed) * (end_low - room_c))), top_c)
    found = HeatMargin(
        verdict=MarginVerdict.REPEAT, reason="margin_not_proven", margin=left(end), margin_low=left(end_low), end_c=end,
        stay_below_c=stay, method=method,
    )  # fmt: skip
    if left(end_low) >= needed:
        return replace(found, verdict=MarginVerdict.FINE, reason="margin_left")
    if left(end) < needed:
        return replace(found, verdict=MarginVerdict.HEATER_AT_ITS_LIMIT, reason="margin_too_small")
    return found


def _by_duty(duty: Sequence[float], room_c: float, held_c: float) -> tuple[float, float]:
    """Where full power would end, and the lower bound of that [°C]."""
    count, mean = len(duty), float(np.mean(duty))
    known = count >= 3
    std = float(np.std(duty, ddof=1)) / math.sqrt(count) if known else FEW_DUTY_STD
    upper = min(1.0, mean + (student_quantile(0.95, count - 1.0) if known else 1.645) * std)

    def end(share: float) -> float:
        return room_c + (held_c - room_c) / share if share > 0 else math.inf

    return end(mean), end(upper)


def _by_rates(middles_c: np.ndarray, rates: np.ndarray) -> tuple[float, float]:
    """Where the line through the rates of rise crosses zero, and the lower bound of that [°C]."""
    centre, squares = float(middles_c.mean()), float(((middles_c - middles_c.mean()) ** 2).sum())
    slope = float(((middles_c - centre) * (rates - rates.mean())).sum() / squares)
    rate = float(rates.mean())
    variance = max(float(((rates - rate - slope * (middles_c - centre)) ** 2).sum()) / (BLOCKS - 2), 1e-12)
    reach = student_quantile(0.95, BLOCKS - 2.0)
    of_slope = math.sqrt(variance / squares)
    if slope >= 0 or -slope / of_slope < reach:
        # The fall of the rate is not proven: full power may end anywhere above.
        steepest = -slope + reach * of_slope
        return math.inf, centre + rate / steepest if steepest > 0 else math.inf
    square = slope**2 - reach**2 * variance / squares
    linear = 2 * rate * slope
    rest = rate**2 - reach**2 * variance / BLOCKS
    root = math.sqrt(max(0.0, linear**2 - 4 * square * rest))
    return centre + rate / -slope, centre + (-linear - root) / (2 * square)
