"""Drift of one correction for one nozzle, without knowing its mean or scatter beforehand (rules, section J)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Final

from scipy.special import ndtri, stdtr

ALLOWANCE, LIMIT, MOST_SCORE = 0.5, 4.0, 4.0
"""Of the sum of scores: what is let pass, what raises the alarm, and how much one value counts at most (rules, J)."""

FEWEST_TO_JUDGE: Final = 8
"""With fewer checks no drift can be seen (rules, J)."""

SAME_WAY: Final = 3
"""So many corrections one after the other in the same direction are worth a word (rules, J)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Drift:
    """Scores of the values, sums upwards and downwards, and where the alarm is raised.

    ``since``: the value from which on it has moved, the last before which the sum was 0. ``same_way``: so many of the last
    corrections went the same way, where that is worth a word.
    """

    verdict: str
    scores: tuple[float | None, ...]
    sums: tuple[tuple[float, float], ...]
    alarm_at: int | None = None
    side: str | None = None
    since: int | None = None
    same_way: int | None = None


def drift(values: Sequence[float], *, allowance: float = ALLOWANCE, limit: float = LIMIT) -> Drift:
    """Whether the values of a correction have moved, in their order in time. Method: docs/methods/drift.md.

    Self-starting scores (Hawkins): each value against the mean and scatter of all before it, exactly normal while nothing
    moves; and a two-sided sum of them. The first two values give none.
    """
    scores: list[float | None] = []
    mean, squares = 0.0, 0.0
    for count, value in enumerate(values):
        if count >= 2:
            std = math.sqrt(squares / (count - 1)) or 1e-9
            share = float(stdtr(count - 1, math.sqrt(count / (count + 1)) * (value - mean) / std))
            scores.append(float(ndtri(min(max(share, 1e-12), 1 - 1e-12))))
        else:
            scores.append(None)
        off = value - mean
        mean += off / (count + 1)
        squares += off * (value - mean)
    up = down = 0.0
    sums: list[tuple[float, float]] = []
    alarm: int | None = None
    for place, score in enumerate(scores):
        if score is not None:
            held = min(max(score, -MOST_SCORE), MOST_SCORE)
            up, down = max(0.0, up + held - allowance), max(0.0, down - held - allowance)
            if alarm is None and max(up, down) > limit:
                alarm = place
        sums.append((up, down))
    run = same_way(values)
    found = Drift(
        verdict="quiet" if len(values) >= FEWEST_TO_JUDGE else "too_few_checks", scores=tuple(scores), sums=tuple(sums),
        same_way=run if run >= SAME_WAY else None,
    )  # fmt: skip
    if alarm is None:
        return found
    side = 0 if sums[alarm][0] > sums[alarm][1] else 1
    since = next((place for place in range(alarm, -1, -1) if sums[place][side] == 0), 0)
    return replace(found, verdict="alarm", alarm_at=alarm, side=("up", "down")[side], since=since)


def same_way(values: Sequence[float]) -> int:
    """How many of the last corrections went the same way: 0 up to two values, else the length of the last run of steps."""
    steps = [after - before for before, after in pairwise(values) if after != before]
    if not steps:
        return 0
    run = 1
    while run < len(steps) and (steps[-run - 1] > 0) == (steps[-1] > 0):
        run += 1
    return run
