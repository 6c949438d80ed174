"""Scatter of repeats, and how independent parts of an uncertainty add up (JCGM 100:2008, "GUM")."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from scipy.special import fdtri, ndtri, stdtrit

HISTORY_DOF_CAP: Final = 20.0
"""Most degrees of freedom an old scatter may bring: it can never outvote today's data (rules, section 0)."""

USUAL_SPREAD_DOF: Final = 2.0
"""Weight of a usual scatter where there is no history: known to about ± 50 % (GUM, G.4.2)."""

FEWEST_FOR_OWN_SPREAD: Final = 3
"""Fewest repeats whose own scatter is believed without a history."""

SAME_SCATTER_QUANTILE: Final = 0.99
"""An earlier scatter counts while today's variance over it is not above this quantile of F (evidence.md)."""

NORMAL_DOF: Final = 1e6
"""Above this many degrees of freedom Student's distribution is taken as normal."""

EXTRA_REPEATS_CAP: Final = 30
"""More repeats than this are not a plan: then the method is the limit."""


def student_quantile(probability: float, dof: float) -> float:
    """Quantile [1] of Student's distribution; ``dof`` > 0, real-valued, infinite = normal."""
    if dof > NORMAL_DOF:
        return float(ndtri(probability))
    return float(stdtrit(dof, probability))


@dataclass(frozen=True, slots=True)
class Component:
    """One independent part of an uncertainty: standard uncertainty and its degrees of freedom."""

    std: float
    dof: float = math.inf


def combine(parts: Iterable[Component]) -> Component:
    """Root sum of squares with Welch-Satterthwaite degrees of freedom (GUM, G.2b), cut DOWN to an integer >= 1."""
    known = [part for part in parts if part.std > 0]
    variance = sum(part.std**2 for part in known)
    weight = sum(part.std**4 / part.dof for part in known if math.isfinite(part.dof))
    if weight <= 0:
        return Component(math.sqrt(variance))
    dof = variance**2 / weight
    if dof > NORMAL_DOF:
        return Component(math.sqrt(variance))
    return Component(math.sqrt(variance), max(1.0, float(math.floor(dof + 1e-6))))


@dataclass(frozen=True, slots=True, kw_only=True)
class SpreadHistory:
    """Scatter of earlier repeats with the same method and tool; ``dof`` = sum of their n - 1."""

    std: float
    dof: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """Mean of ``count`` repeats, the standard deviation of one, and the degrees of freedom behind it.

    ``own_std``: what these repeats show alone; None of one. ``history_left_out``: they scatter more than earlier ones did,
    so that those say nothing of today.
    """

    count: int
    mean: float
    std: float
    dof: float
    own_std: float | None = None
    history_left_out: bool = False


def spread_of(values: Sequence[float], *, history: SpreadHistory | None, usual_std: float) -> Spread:
    """Mean and scatter of repeats, an earlier scatter pooled in (GUM, 4.2.4).

    Parameters
    ----------
    values
        At least one repeat, any unit.
    history
        Earlier scatter in the same unit; its weight is capped at ``HISTORY_DOF_CAP``.
    usual_std
        Usual standard deviation, used for one or two repeats without a history.

    Raises
    ------
    ValueError
        If there are no values.
    """
    if not values:
        raise ValueError("spread_of needs at least one value")
    count = len(values)
    mean = math.fsum(values) / count
    squares = math.fsum((value - mean) ** 2 for value in values)
    own = math.sqrt(squares / (count - 1)) if count > 1 else None
    prior_std, prior_dof, left_out = 0.0, 0.0, False
    if history is not None and history.dof > 0:
        prior_std, prior_dof = history.std, min(history.dof, HISTORY_DOF_CAP)
        left_out = own is not None and not _alike(own, count - 1, prior_std, prior_dof)
    if left_out or prior_dof == 0:
        usual = count < FEWEST_FOR_OWN_SPREAD
        prior_std, prior_dof = (usual_std, USUAL_SPREAD_DOF) if usual else (0.0, 0.0)
    dof = prior_dof + count - 1
    return Spread(
        count=count,
        mean=mean,
        std=math.sqrt((prior_dof * prior_std**2 + squares) / dof),
        dof=dof,
        own_std=own,
        history_left_out=left_out,
    )


def _alike(own_std: float, own_dof: float, earlier_std: float, earlier_dof: float) -> bool:
    """Whether today's scatter may be the earlier one: a one-sided F test at 1 %."""
    return own_std**2 <= float(fdtri(own_dof, earlier_dof, SAME_SCATTER_QUANTILE)) * earlier_std**2


def pooled_history(groups: Iterable[Sequence[float]]) -> SpreadHistory | None:
    """Scatter within earlier groups of repeats, pooled by their degrees of freedom; None without two repeats anywhere."""
    squares, dof = 0.0, 0
    for values in groups:
        if len(values) > 1:
            mean = math.fsum(values) / len(values)
            squares += math.fsum((value - mean) ** 2 for value in values)
            dof += len(values) - 1
    return SpreadHistory(std=math.sqrt(squares / dof), dof=float(dof)) if dof else None


def further_repeats(spread: Spread, *, scale: float, tool_std: float, target: float) -> int | None:
    """Fewest further repeats that bring the 95 % half-width to ``target``; None if no 30 can.

    ``scale`` turns the unit of the repeats into that of ``tool_std`` and ``target`` (for example mm into %).
    """
    for extra in range(EXTRA_REPEATS_CAP + 1):
        count = spread.count + extra
        total = combine(
            [Component(scale * spread.std / math.sqrt(count), spread.dof + extra), Component(tool_std)],
        )
        if student_quantile(0.975, total.dof) * total.std <= target:
            return extra
    return None
