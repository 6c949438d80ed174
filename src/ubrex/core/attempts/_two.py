"""Two settings compared by rated prints: better, alike, or not to be told (rules, sections N and R)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

from scipy.special import bdtr, stdtr

from ubrex.core.quantity import student_quantile

RATER_STD, PRINT_STD = 0.6, 0.5
"""Usual scatter of a rating, and from print to print (rules, N)."""

USUAL_DOF, OWN_DOF_CAP = 6.0, 20.0
"""Weight of the usual scatter, and the most that a person's own repeats weigh (rules, N)."""

LEAST_STD: Final = 0.45
"""Ratings of whole words never scatter by less (rules, N)."""

ALIKE_WITHIN: Final = 0.5
"""A difference surely below this does not matter (rules, N)."""

PROBABLY: Final = 0.9
MOST_MORE: Final = 8
"""So sure it is *probably*; and so many more prints of each are looked ahead (rules, N)."""


class CompareVerdict(StrEnum):
    """What two sets of ratings say of B against A."""

    BETTER = "better"
    WORSE = "worse"
    NO_REAL_DIFFERENCE = "no_real_difference"
    PROBABLY_BETTER = "probably_better"
    PROBABLY_WORSE = "probably_worse"
    CANNOT_TELL = "cannot_tell"
    REFUSE = "refuse"


@dataclass(frozen=True, slots=True, kw_only=True)
class CompareResult:
    """B minus A with its 95 % half-width, how sure B is better, which to choose, and how many more prints settle it."""

    verdict: CompareVerdict
    reason: str
    difference: float = 0.0
    sd: float = 0.0
    dof: float = 0.0
    half_width_95: float = 0.0
    p_b_better: float = 0.5
    p_a_better: float = 0.5
    more_prints_each: int | None = None
    choose: str | None = None


def compare_two(
    a: Sequence[float], b: Sequence[float], *, rater_sd: float = RATER_STD, print_sd: float = PRINT_STD,
    repeat_sd: float | None = None, repeat_dof: float = 0.0, same: float = ALIKE_WITHIN, cheaper: str | None = None,
) -> CompareResult:  # fmt: skip
    """Ratings 0 to 4 of prints made with A and with B, one a print. Method: docs/methods/attempts.md.

    ``repeat_sd``, ``repeat_dof``: a person's own scatter; ``cheaper``: a or b, taken where it makes no difference.
    """
    if not a or not b or min(*a, *b) < 0 or max(*a, *b) > 4:
        return CompareResult(verdict=CompareVerdict.REFUSE, reason="invalid_rating")
    usual, weight = math.sqrt(rater_sd**2 + print_sd**2 + 1 / 12), USUAL_DOF
    if repeat_sd is not None and repeat_dof > 0:
        usual, weight = repeat_sd, min(repeat_dof, OWN_DOF_CAP)
    squares = math.fsum((one - math.fsum(rows) / len(rows)) ** 2 for rows in (a, b) for one in rows)
    dof = weight + len(a) + len(b) - 2
    std = max(math.sqrt((weight * usual**2 + squares) / dof), LEAST_STD)
    difference = math.fsum(b) / len(b) - math.fsum(a) / len(a)
    doubt = std * math.sqrt(1 / len(a) + 1 / len(b))
    half, guard = student_quantile(0.975, dof) * doubt, student_quantile(0.95, dof) * doubt
    better = float(stdtr(dof, difference / doubt))
    found = CompareResult(
        verdict=CompareVerdict.CANNOT_TELL, reason="not_proven", difference=difference, sd=std, dof=dof, half_width_95=half,
        p_b_better=better, p_a_better=1 - better,
    )  # fmt: skip
    if difference > half:
        return replace(found, verdict=CompareVerdict.BETTER, reason="real", choose="b")
    if difference < -half:
        return replace(found, verdict=CompareVerdict.WORSE, reason="real", choose="a")
    more = _more(len(a), len(b), dof, std, abs(difference))
    if abs(difference) + guard <= same:
        return replace(found, verdict=CompareVerdict.NO_REAL_DIFFERENCE, reason="proven_alike", choose=cheaper)
    if better >= PROBABLY:
        return replace(found, verdict=CompareVerdict.PROBABLY_BETTER, choose="b", more_prints_each=more)
    if better <= 1 - PROBABLY:
        return replace(found, verdict=CompareVerdict.PROBABLY_WORSE, choose="a", more_prints_each=more)
    return replace(found, choose=cheaper, more_prints_each=more)


SURE_OF_COUNTS: Final = 0.05


def compare_counts(before: float, after: float) -> bool:
    """Whether two counts differ by more than chance: of as many in all, each as likely in one as in the other.

    Exact two-sided binomial test at 5 % of two Poisson counts (Przyborowski and Wilenski 1940).
    """
    fewer, total = min(round(before), round(after)), round(before) + round(after)
    return total > 0 and 2 * float(bdtr(fewer, total, 0.5)) <= SURE_OF_COUNTS


def _more(count_a: int, count_b: int, dof: float, std: float, size: float) -> int | None:
    """How many more prints of each would settle a difference of this size; None where eight would not."""
    for more in range(1, MOST_MORE + 1):
        doubt = std * math.sqrt(1 / (count_a + more) + 1 / (count_b + more))
        if student_quantile(0.975, dof + 2 * more) * doubt < size:
            return more
    return None
