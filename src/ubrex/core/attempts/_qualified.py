"""How often something may still fail after so many clean prints (rules, section R)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from scipy.special import betaincinv

ACCEPTED: Final = 0.26
"""Failing no more often than this counts as qualified: ten clean prints (rules, R)."""

MOST_MORE: Final = 400


@dataclass(frozen=True, slots=True, kw_only=True)
class Qualified:
    """Upper 95 % bound of the failure rate, its two-sided interval, and clean prints still needed."""

    verdict: str
    reason: str
    upper_95: float | None = None
    low: float | None = None
    high: float | None = None
    share: float | None = None
    clean_prints_needed: int | None = None


def qualified(prints: int, failures: int = 0, *, accept: float = ACCEPTED) -> Qualified:
    """Whether a part is qualified on a setup (Clopper and Pearson). Method: docs/methods/attempts.md."""
    if prints < 1 or not 0 <= failures <= prints:
        return Qualified(verdict="refuse", reason="invalid_count")
    upper = upper_rate(prints, failures)
    low = 0.0 if failures == 0 else float(betaincinv(failures, prints - failures + 1, 0.025))
    high = 1.0 if failures == prints else float(betaincinv(failures + 1, prints - failures, 0.975))
    more = next((more for more in range(MOST_MORE) if upper_rate(prints + more, failures) <= accept), None)
    verdict, reason = "not_yet", "more_clean_prints_needed"
    if upper <= accept:
        verdict, reason = "qualified", "bound_low_enough"
    elif low > accept:
        verdict, reason = "failing", "too_many_failures"
    return Qualified(
        verdict=verdict, reason=reason, upper_95=upper, low=low, high=high, share=failures / prints,
        clean_prints_needed=more,
    )  # fmt: skip


def upper_rate(tried: int, failed: int) -> float:
    """One-sided 95 % bound of a failure rate (Clopper and Pearson)."""
    return 1.0 if failed == tried else float(betaincinv(failed + 1, tried - failed, 0.95))
