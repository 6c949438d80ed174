"""Ratings of 0 to 4: how likely one is for a quality, and what several people's ratings say together (rules, E and F).

A rating is the quality plus a mood of 0.6, rounded and kept within 0 to 4; two in a hundred are blunders.
"""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from typing import Final, TypeAlias

import numpy as np
from scipy.special import logsumexp, ndtr, softmax

BEST_RATING: Final = 4
"""Ratings go from 0 to this; the best is always the highest."""

RATING_STD: Final = 0.6
"""How far a rating strays from the quality it is for (rules, E)."""

BLUNDERS: Final = 0.02
"""Share of ratings that say nothing: a wrong key, a wrong band (rules, E)."""

ANOTHER_RATER: Final = 0.5
"""How much of each further rater's word is the same word again (rules, E, *edges*)."""

CONTRADICTS_BELOW: Final = 0.02
"""A rating less likely than this, judged by all others, contradicts them (rules, E, *edges*)."""


class TowerReason(StrEnum):
    """Why a tower says what it says."""

    BEST_BAND = "best_band"
    WILL_DO = "will_do"
    ALL_ALIKE = "all_alike"
    BEST_BEYOND = "best_beyond"
    MUST_NOT_MET = "must_not_met"
    TOO_FEW_BANDS = "too_few_bands"
    NOTHING_RATED = "nothing_rated"
    NO_BAND_LEFT = "no_band_left"
    NOT_THE_LEVER = "not_the_lever"
    BEYOND_CAP = "beyond_cap"
    STARVED = "starved"
    FINER = "finer"
    LONGER = "longer"
    NO_FOAM = "no_foam"
    LOOK_AT_BREAK = "look_at_break"


Row: TypeAlias = Sequence[int | None]
"""Ratings of one thing by one person, by band; None where a band was not rated."""

Array: TypeAlias = np.ndarray


def rating_likelihood(quality: Array, rating: int, *, worst: int = 0, best: int = BEST_RATING) -> Array:
    """Probability of a rating for each quality: a rounded normal, clipped to the scale, with a few blunders (rules, E)."""
    low = -np.inf if rating <= worst else rating - 0.5
    high = np.inf if rating >= best else rating + 0.5
    likely = ndtr((high - quality) / RATING_STD) - ndtr((low - quality) / RATING_STD)
    return np.asarray((1 - BLUNDERS) * likely + BLUNDERS / (best - worst + 1))


def log_table(curves: Array) -> Array:
    """Log-likelihood of each rating, curve and band: shape (5, curves, bands)."""
    return np.array([np.log(rating_likelihood(curves, rating)) for rating in range(BEST_RATING + 1)])


def rater_weight(raters: int) -> float:
    """What each of so many people's word counts: two who look at one tower see the same tower (rules, E, *edges*)."""
    return 1 / (1 + ANOTHER_RATER * (raters - 1))


def log_likelihood(table: Array, rows: Sequence[Row]) -> Array:
    """Log-likelihood of each curve given the rows of all raters; each cell is weighed by how many people rated that cell."""
    said = [(rating, band) for row in rows for band, rating in enumerate(row) if rating is not None]
    if not said:
        return np.zeros(table.shape[1])
    ratings, bands = zip(*said, strict=True)
    weights = np.array([cell_weight(rows, band) for band in bands])
    return np.asarray(weights @ table[list(ratings), :, list(bands)])


def cell_weight(rows: Sequence[Row], band: int) -> float:
    """What the word of each person who rated a band counts."""
    return rater_weight(max(1, sum(row[band] is not None for row in rows)))


STRICTNESS: Final = (-1.0, -0.5, 0.0, 0.5, 1.0)
"""How much a rater may be stricter or milder than the words of the scale, each as likely [ratings] (evidence.md)."""


def strict_or_mild(tables: Sequence[Array], rows: Sequence[Row]) -> Array:
    """Log-likelihood of each curve where nobody knows how strict its raters are; ``tables``: one for each ``STRICTNESS``."""
    said = [log_likelihood(table, rows) for table in tables]
    return np.asarray(logsumexp(said, axis=0) - np.log(len(said)))


def normalised(log_weights: Array) -> Array:
    """Weights that add up to 1."""
    return np.asarray(softmax(log_weights))


def contradicting(table: Array, rows: Sequence[Row], log_prior: Array) -> list[tuple[int, int]]:
    """Rater and band of each rating that the posterior without it finds less likely than one in fifty."""
    found = []
    total = log_prior + log_likelihood(table, rows)
    for rater, row in enumerate(rows):
        rated = [(band, rating) for band, rating in enumerate(row) if rating is not None]
        if not rated or len(rated) + sum(_said(other) for other in rows) < MOST_ALONE:
            continue
        bands, ratings = zip(*rated, strict=True)
        own = table[list(ratings), :, list(bands)]
        weights = np.array([[cell_weight(rows, band)] for band in bands])
        without = softmax(total - weights * own, axis=1)
        likely = (without * np.exp(own)).sum(axis=1)
        found += [(rater, band) for band, share in zip(bands, likely, strict=True) if share < CONTRADICTS_BELOW]
    return found


MOST_ALONE: Final = 4
"""With fewer ratings than this there is nothing to contradict."""


def _said(row: Row) -> bool:
    return any(rating is not None for rating in row)
