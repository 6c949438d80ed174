"""Pressure compensation from a tower of lines and corners, rated on a scale with a sign (rules, section M).

Too little compensation is positive on both criteria: corners bulge where the line slows down, and it is thin where it speeds
up. The right value is where the rating crosses zero.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from itertools import pairwise
from typing import Final

import numpy as np
from scipy.special import logsumexp

from ubrex.core.calibrate._rating import Array, Row, normalised, rating_likelihood

PRESSURE_RULE_VERSION: Final = "pressure/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

FEWEST_VALUES, FEWEST_WORDS = 5, 4
"""So many different values, and words, a tower needs (rules, M)."""

MOST_SIGNED: Final = 2
"""Ratings go from minus this to this."""

CROSSINGS: Final = 81
"""Places where the rating may cross zero, over the tower and half its span on each side (rules, M)."""

WIDTHS, SWINGS, OWN_ZEROS = (0.08, 0.2, 0.4, 0.8, 1.6), (1.2, 2.0, 2.6), (-0.3, 0.0, 0.3)
"""How sharply it crosses [spans], how far it swings, and what a rater calls zero (rules, M)."""

FLAT_SHARE: Final = 0.3
"""How much is believed beforehand in nothing changing at all (rules, M)."""

SHARED: Final = 0.8
"""Two criteria rated by one person on one print are worth this power of independent ones (rules, M)."""

ODD_BELOW: Final = 0.02
"""A word less likely than this, judged by all others, is odd; two of them contradict (rules, M)."""

SWAPPED_BY: Final = 4.0
"""Words that fit so much better with their signs turned were given the wrong way round [log evidence] (rules, M)."""

FLAT_FROM, DISAGREE, SURE_OF_BOTH = 0.5, 0.03, 0.3
"""From when on nothing responds; how sure two criteria disagree; how sure both must respond for that (rules, M)."""

TOO_WIDE: Final = 0.7
"""An interval of this share of the span names no band (rules, M)."""


class PressureVerdict(StrEnum):
    """What a pressure tower says."""

    PICK = "pick"
    KEEP = "keep"
    UNCLEAR = "unclear"
    EXTEND_HIGHER = "extend_higher"
    EXTEND_LOWER = "extend_lower"
    NONE_NEEDED = "none_needed"
    CRITERIA_DISAGREE = "criteria_disagree"
    DOES_NOT_RESPOND = "does_not_respond"
    CONTRADICTORY = "contradictory"
    REFUSE = "refuse"


@dataclass(frozen=True, slots=True, kw_only=True)
class PressureResult:
    """Where the rating crosses zero [s] with its 95 % interval, and the printed value that lies nearest.

    ``odd``: criterion and band of words that the others contradict.
    """

    verdict: PressureVerdict
    reason: str
    zero_s: float | None = None
    low_s: float | None = None
    high_s: float | None = None
    p_no_response: float | None = None
    p_lower: float | None = None
    p_higher: float | None = None
    odd: tuple[tuple[str, int], ...] = ()
    band_s: float | None = None
    p_slow_down_lower: float | None = None


@dataclass(frozen=True, slots=True)
class _Curves:
    """Curves over the values, what each is believed beforehand (log), and log-likelihoods of the words."""

    zero: Array
    count: int
    prior: Array
    likely: Mapping[int, Array]


@lru_cache(maxsize=32)
def _curves(values_s: tuple[float, ...]) -> _Curves:
    values = np.array(values_s)
    span = values[-1] - values[0]
    zero = np.linspace(values[0] - span / 2, values[-1] + span / 2, CROSSINGS)
    axes = np.meshgrid(zero, span * np.array(WIDTHS), SWINGS, SWINGS, OWN_ZEROS, indexing="ij")
    crossing, width, up, down, own = (axis.ravel()[:, None] for axis in axes)
    x = (crossing - values) / width
    curves = np.tanh(x) * np.where(x > 0, up, down) + own
    flat = np.repeat(np.arange(-2, 2.01, 0.25)[:, None], len(values), axis=1)
    weight = np.where(own[:, 0] == 0, 0.5, 0.25)
    prior = np.r_[(1 - FLAT_SHARE) * weight / weight.sum(), np.full(len(flat), FLAT_SHARE / len(flat))]
    every = np.vstack([curves, flat])
    words = range(-MOST_SIGNED, MOST_SIGNED + 1)
    likely = {word: np.log(rating_likelihood(every, word, worst=-MOST_SIGNED, best=MOST_SIGNED)) for word in words}
    return _Curves(zero=zero, count=len(curves), prior=np.log(prior), likely=likely)


@dataclass(frozen=True, slots=True)
class _Said:
    """What the words of one criterion say: where the zero lies, if anything responds; and that nothing does."""

    grid: Array
    none: float
    evidence: float
    odd: tuple[int, ...]


def _said(curves: _Curves, words: Row) -> _Said:
    rated = [(band, word) for band, word in enumerate(words) if word is not None]
    terms = [curves.likely[word][:, band] for band, word in rated]
    total = curves.prior + np.sum(terms, axis=0)
    weights = normalised(total)
    evidence = float(logsumexp(total))
    responds = weights[: curves.count].reshape(CROSSINGS, -1).sum(axis=1)
    odd = tuple(
        band
        for (band, _), term in zip(rated, terms, strict=True)
        if float(normalised(total - term) @ np.exp(term)) < ODD_BELOW
    )
    return _Said(responds / responds.sum(), float(weights[curves.count :].sum()), evidence, odd)


def pressure_tower(
    compensation_s: Sequence[float], slow_down: Row, *, speed_up: Row | None = None, in_use_s: float | None = None
) -> PressureResult:
    """The compensation at which neither corners bulge nor fast starts thin. Method: docs/methods/pressure.md.

    Parameters
    ----------
    compensation_s
        Values of the bands [s], rising; a second tower is appended, sorted.
    slow_down, speed_up
        One word a band: 2 far too little, 0 right, -2 far too much; None where a band was not looked at.
    in_use_s
        What is set now.
    """
    values = tuple(float(value) for value in compensation_s)
    words = {"slow_down": slow_down} | ({} if speed_up is None else {"speed_up": speed_up})
    if len(set(values)) < FEWEST_VALUES or values[0] < 0 or any(after < before for before, after in pairwise(values)):
        return PressureResult(verdict=PressureVerdict.REFUSE, reason="five_rising_bands_needed")
    if any(len(row) != len(values) or sum(word is not None for word in row) < FEWEST_WORDS for row in words.values()):
        return PressureResult(verdict=PressureVerdict.REFUSE, reason="nothing_rated")
    if any(word is not None and abs(word) > MOST_SIGNED for row in words.values() for word in row):
        return PressureResult(verdict=PressureVerdict.REFUSE, reason="invalid_rating")
    curves = _curves(values)
    said = {name: _said(curves, row) for name, row in words.items()}
    # Both ends of a change of speed speak of one zero: their beliefs are multiplied.
    grid, none = _together(list(said.values()))
    zero = curves.zero
    middle, low, high = (_quantile(zero, grid, share) for share in (0.5, 0.025, 0.975))
    found = PressureResult(
        verdict=PressureVerdict.PICK, reason="zero_found", zero_s=middle, low_s=low, high_s=high, p_no_response=none,
        p_lower=float(grid[zero < values[0]].sum()), p_higher=float(grid[zero > values[-1]].sum()),
        odd=tuple((name, band) for name, one in said.items() for band in one.odd),
        p_slow_down_lower=_lower(said["slow_down"].grid, said["speed_up"].grid) if len(said) > 1 else None,
    )  # fmt: skip
    # Words said the wrong way round: turned about they fit far better.
    swapped = any(
        _said(curves, [None if word is None else -word for word in row]).evidence - said[name].evidence > SWAPPED_BY
        for name, row in words.items()
    )
    nearest = min(values, key=lambda value: (float(grid @ np.abs(zero - value)), value))
    return _judge(
        found, values, nearest, in_use_s, swapped=swapped, respond=all(one.none < SURE_OF_BOTH for one in said.values())
    )


def _judge(
    found: PressureResult, values: tuple[float, ...], nearest: float, in_use_s: float | None, *, swapped: bool, respond: bool
) -> PressureResult:  # fmt: skip
    """The first verdict that holds, in the order of the rule."""
    low, high, lower = found.low_s or 0.0, found.high_s or 0.0, found.p_slow_down_lower

    def says(verdict: PressureVerdict, reason: str, band_s: float | None = None) -> PressureResult:
        return replace(found, verdict=verdict, reason=reason, band_s=band_s)

    if swapped:
        return says(PressureVerdict.CONTRADICTORY, "signs_swapped")
    if len(found.odd) >= 2:
        return says(PressureVerdict.CONTRADICTORY, "ratings_do_not_fit")
    if (found.p_no_response or 0.0) >= FLAT_FROM:
        return says(PressureVerdict.DOES_NOT_RESPOND, "ratings_do_not_change")
    if lower is not None and respond and not DISAGREE <= lower <= 1 - DISAGREE:
        return says(PressureVerdict.CRITERIA_DISAGREE, "slow_down_lower" if lower > 0.5 else "speed_up_lower")
    if (found.p_higher or 0.0) >= 0.5:
        return says(PressureVerdict.EXTEND_HIGHER, "still_too_little")
    if (found.p_lower or 0.0) >= 0.5:
        verdict = PressureVerdict.EXTEND_LOWER if values[0] > 0 else PressureVerdict.NONE_NEEDED
        return says(verdict, "already_too_much")
    if high - low >= TOO_WIDE * (values[-1] - values[0]):
        return says(PressureVerdict.UNCLEAR, "interval_too_wide", nearest)
    if in_use_s is not None and low <= in_use_s <= high:
        return says(PressureVerdict.KEEP, "in_use_is_as_good", in_use_s)
    return says(PressureVerdict.PICK, "zero_found", nearest)


def _together(said: Sequence[_Said]) -> tuple[Array, float]:
    """Where the zero lies by all criteria, and that nothing responds; one that may not respond says little of the zero."""
    if len(said) == 1:
        return said[0].grid, said[0].none
    mixed = [one.none / CROSSINGS + (1 - one.none) * one.grid for one in said]
    grid = np.prod(mixed, axis=0) ** SHARED
    return grid / grid.sum(), float(np.prod([one.none for one in said]) ** (1 / len(said)))


def _quantile(values: Array, weights: Array, share: float) -> float:
    """The smallest value whose cumulated weight reaches a share."""
    place = int(np.searchsorted(np.cumsum(weights), share - 1e-12))
    return float(values[min(place, len(values) - 1)])


def _lower(one: Array, other: Array) -> float:
    """Probability that the zero of one criterion lies below that of the other."""
    above = other.sum() - np.cumsum(other)
    return float(one @ (above + other / 2))
