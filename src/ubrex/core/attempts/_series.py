"""Which of several changed settings helped: between two attempts, and over a whole series (rules, section R)."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product
from typing import Final

import numpy as np
from scipy.optimize import brentq
from scipy.special import ndtr, softmax

from ubrex.core.attempts._two import PRINT_STD, RATER_STD, CompareVerdict, compare_two

Setting = float | int | str | bool | None
"""What a setting was in an attempt; None where nobody knows."""

Array = np.ndarray

MOST_CHANGES: Final = 6
"""More changed at once are not split: go back and change fewer (rules, R)."""

EFFECT_STD, MEAN_STD, MEAN_RATING = 0.8, 2.0, 2.0
"""What is believed beforehand of a single effect and of the level (rules, R)."""

EFFECT_STDS, EFFECT_WEIGHTS = (0.5, 1.2, 2.5), (0.3, 0.4, 0.3)
SCATTERS: Final = (0.5, 0.65, 0.8, 1.0, 1.25)
SCATTER_DOF: Final = 8.0
"""Effects and scatters that are mixed, and the weight of the usual scatter (rules, R)."""

LEAST_EFFECT, SURE = 0.1, 0.90
"""An effect that counts, and how surely it must be there (rules, R)."""

SHARED_FROM: Final = 0.8
"""Settings that moved together so closely are never praised alone (rules, R)."""

FEWEST_ATTEMPTS: Final = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Blame:
    """What changed between two attempts, whether the difference is real, who gets the credit, and what to print next."""

    verdict: str
    reason: str
    changed: tuple[str, ...]
    difference: float
    half_width_95: float
    p_better: float
    credited: str | None = None
    try_next: tuple[str, ...] | None = None
    undo_next: tuple[str, ...] | None = None
    information_bits: float | None = None


def blame(
    before: Mapping[str, Setting], after: Mapping[str, Setting], *, rating_before: float, rating_after: float,
    repeat_sd: float | None = None, repeat_dof: float = 0.0,
) -> Blame:  # fmt: skip
    """Who gets the credit for the difference of two attempts; several changes are not split (docs/methods/attempts.md)."""
    changed = tuple(name for name in sorted({*before, *after}) if before.get(name) != after.get(name))
    said = compare_two([rating_before], [rating_after], repeat_sd=repeat_sd, repeat_dof=repeat_dof)
    found = Blame(
        verdict="cannot_be_split", reason=said.verdict.value, changed=changed, difference=said.difference,
        half_width_95=said.half_width_95, p_better=said.p_b_better,
    )  # fmt: skip
    if not changed:
        return replace(found, verdict="nothing_changed", reason="difference_is_scatter")
    if len(changed) == 1:
        real = said.verdict in {CompareVerdict.BETTER, CompareVerdict.WORSE}
        return replace(found, verdict="credited" if real else "not_proven", credited=changed[0] if real else None)
    if len(changed) > MOST_CHANGES:
        return replace(found, reason="too_many_changes")
    keep, bits = _next_attempt(changed, said.sd)
    undo = tuple(name for name in changed if name not in keep)
    return replace(found, try_next=keep, undo_next=undo, information_bits=bits)


def _next_attempt(changed: Sequence[str], std: float) -> tuple[tuple[str, ...], float]:
    """Which changes to keep in the next print, so that it tells most of the single effects; and how much [bits]."""
    count = len(changed)
    prior = np.diag([MEAN_STD**2, *[EFFECT_STD**2] * count])
    rows = np.array([[1.0, *[0.0] * count], [1.0] * (count + 1)])

    def doubt(prints: Array) -> float:
        scatter = prints @ prior @ prints.T + std**2 * np.eye(len(prints))
        left = prior - prior @ prints.T @ np.linalg.solve(scatter, prints @ prior)
        return float(np.linalg.slogdet(left[1:, 1:])[1])

    def order(keep: tuple[int, ...]) -> tuple[float, list[str]]:
        gain = (doubt(rows) - doubt(np.vstack([rows, [1.0, *keep]]))) / 2
        kept = [name for name, stays in zip(changed, keep, strict=True) if stays]
        # Of those that tell as much, which are always as many, the first by the alphabet.
        return -round(gain, 9), kept

    gain, kept = min(order(keep) for keep in product((0, 1), repeat=count) if 0 < sum(keep) < count)
    return tuple(kept), -gain / math.log(2)


@dataclass(frozen=True, slots=True, kw_only=True)
class Factor:
    """What one changed setting did to the rating, with 95 %; ``shared_with``: settings that moved together with it."""

    factor: str
    effect: float
    sd: float
    low: float
    high: float
    p_helped: float
    p_hurt: float
    shared_with: tuple[str, ...]
    verdict: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Series:
    """What each changed setting of a series did, and how much its ratings scatter."""

    verdict: str
    reason: str
    factors: tuple[Factor, ...] = ()
    sd: float | None = None


@dataclass(frozen=True, slots=True)
class _Part:
    """One normal of the mixture: its weight, scatter, mean and covariance of level and effects."""

    weight: float
    scatter: float
    mean: Array
    covariance: Array


def read_series(
    attempts: Sequence[Mapping[str, Setting]], ratings: Sequence[float | None], *, smallest: float = LEAST_EFFECT,
    p_needed: float = SURE,
) -> Series:  # fmt: skip
    """What each changed setting did over a series of attempts, by a linear model. Method: docs/methods/attempts.md.

    Numbers count by their range over the series, words against the first seen; a setting unknown anywhere is left out.
    """
    rated = [place for place, rating in enumerate(ratings) if rating is not None]
    if len(rated) < FEWEST_ATTEMPTS:
        return Series(verdict="refuse", reason="three_attempts_needed")
    names, columns = _coded([attempts[place] for place in rated])
    if not names:
        return Series(verdict="refuse", reason="nothing_changed")
    parts = _mixture(columns, np.array([float(ratings[place] or 0.0) for place in rated]))
    mean = np.sum([part.weight * part.mean for part in parts], axis=0)
    # Doubt of a mixture: that within its parts, and that between their middles.
    off = [part.mean - mean for part in parts]
    spread = np.sum(
        [part.weight * (part.covariance + np.outer(one, one)) for part, one in zip(parts, off, strict=True)], axis=0
    )
    together = np.abs(np.atleast_2d(np.corrcoef(columns, rowvar=False))) >= SHARED_FROM
    factors = []
    for place, name in enumerate(names):
        at = place + 1
        middles = np.array([part.mean[at] for part in parts])
        stds = np.sqrt([part.covariance[at, at] for part in parts])
        weights = np.array([part.weight for part in parts])
        helped = float(weights @ ndtr((middles - smallest) / stds))
        hurt = float(weights @ ndtr((-smallest - middles) / stds))
        verdict = "probably_helped" if helped >= p_needed else "probably_hurt" if hurt >= p_needed else "cannot_tell"
        low, high = (_mixture_quantile(share, weights, middles, stds) for share in (0.025, 0.975))
        # Settings that moved together cannot be told apart: each names the others.
        shared = tuple(other for beside, other in enumerate(names) if beside != place and together[place, beside])
        factors.append(
            Factor(
                factor=name,
                effect=float(mean[at]),
                sd=math.sqrt(spread[at, at]),
                low=low,
                high=high,
                p_helped=helped,
                p_hurt=hurt,
                shared_with=shared,
                verdict=verdict,
            )
        )
    scatter = sum(part.weight * part.scatter for part in parts)
    return Series(verdict="done", reason="series_read", factors=tuple(factors), sd=float(scatter))


def _coded(attempts: Sequence[Mapping[str, Setting]]) -> tuple[list[str], Array]:
    """Settings that changed as columns from 0 to 1: numbers by their range, words against the first seen."""
    names: list[str] = []
    columns: list[list[float]] = []
    for name in sorted({key for attempt in attempts for key in attempt}):
        held = [attempt.get(name) for attempt in attempts]
        if None in held or len(set(map(str, held))) < 2:
            continue
        numbers = [float(one) for one in held if isinstance(one, int | float) and not isinstance(one, bool)]
        if len(numbers) == len(held):
            low, high = min(numbers), max(numbers)
            names.append(name)
            columns.append([(one - low) / (high - low) for one in numbers])
            continue
        others = sorted({str(one) for one in held if str(one) != str(held[0])})
        for word in others:
            names.append(name if len(others) == 1 else f"{name}={word}")
            columns.append([float(str(one) == word) for one in held])
    return names, np.array(columns, float).reshape(len(columns), len(attempts)).T


def _mixture(columns: Array, ratings: Array) -> list[_Part]:
    """Posterior of level and effects, mixed over how much ratings scatter and how large effects are."""
    count, factors = columns.shape
    rows = np.column_stack([np.ones(count), columns])
    usual = RATER_STD**2 + PRINT_STD**2 + 1 / 12
    found, weights = [], []
    for scatter in SCATTERS:
        for tau, share in zip(EFFECT_STDS, EFFECT_WEIGHTS, strict=True):
            prior = np.array([MEAN_STD**2, *[tau**2] * factors])
            seen = (rows * prior) @ rows.T + scatter**2 * np.eye(count)
            off = ratings - MEAN_RATING
            solved = np.linalg.solve(seen, np.column_stack([off, rows * prior]))
            log_weight = (
                math.log(share) - (SCATTER_DOF + 1) * math.log(scatter) - SCATTER_DOF * usual / (2 * scatter**2)
            )
            weights.append(log_weight - (np.linalg.slogdet(seen)[1] + float(off @ solved[:, 0])) / 2)
            mean = np.array([MEAN_RATING, *[0.0] * factors]) + prior * (rows.T @ solved[:, 0])
            covariance = np.diag(prior) - (prior[:, None] * rows.T) @ solved[:, 1:]
            found.append((scatter, mean, covariance))
    return [_Part(float(weight), *part) for weight, part in zip(softmax(weights), found, strict=True)]


def _mixture_quantile(share: float, weights: Array, middles: Array, stds: Array) -> float:
    low, high = float((middles - 6 * stds).min()), float((middles + 6 * stds).max())
    return float(brentq(lambda at: float(weights @ ndtr((at - middles) / stds)) - share, low, high, xtol=1e-12))
