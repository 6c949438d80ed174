"""The guarded decision: change, keep, try, measure more, or say that something is wrong (rules, section 0)."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ubrex.core.quantity._spread import Component, student_quantile


class Verdict(StrEnum):
    """What to do with the difference that was found."""

    APPLY = "apply"
    TRY = "try"
    KEEP = "keep"
    REPEAT = "repeat"
    REFUSE = "refuse"


class Reason(StrEnum):
    """Why a verdict is what it is, whatever was measured; what only one calibration can say stands beside its rule."""

    OUTSIDE_TOLERANCE = "outside_tolerance"
    WITHIN_TOLERANCE = "within_tolerance"
    NO_ERROR_FOUND = "no_error_found"
    PROBABLY_REAL = "probably_real"
    MORE_REPEATS = "more_repeats"
    CHANGE_METHOD = "change_method"
    INVALID_READING = "invalid_reading"
    IMPLAUSIBLE = "implausible"


@dataclass(frozen=True, slots=True, kw_only=True)
class Decision:
    """Verdict with the 95 % half-width and the one-sided 5 % guard it was taken with."""

    verdict: Verdict
    reason: Reason
    half_width_95: float
    guard: float


def decide(error: float, total: Component, *, tolerance: float, target: float, more_helps: bool) -> Decision:
    """Decide on an estimated ``error`` (0 is wanted); all in one unit, normally per cent.

    Parameters
    ----------
    error, total
        The estimate and its combined standard uncertainty.
    tolerance
        Smallest change worth making.
    target
        Half-width that makes the answer usable.
    more_helps
        Whether any sensible number of further repeats would reach ``target``.

    Notes
    -----
    First match wins. *Apply* asks for the whole 95 % interval outside the tolerance, which keeps false changes at or
    below 5 % however coarse the tool is; *keep, within tolerance* is an equivalence test at 5 %.
    """
    half_width = student_quantile(0.975, total.dof) * total.std
    guard = student_quantile(0.95, total.dof) * total.std

    def decision(verdict: Verdict, reason: Reason) -> Decision:
        return Decision(verdict=verdict, reason=reason, half_width_95=half_width, guard=guard)

    if abs(error) + guard <= tolerance:
        return decision(Verdict.KEEP, Reason.WITHIN_TOLERANCE)
    if abs(error) - half_width > tolerance:
        return decision(Verdict.APPLY, Reason.OUTSIDE_TOLERANCE)
    if half_width > target:
        return decision(Verdict.REPEAT, Reason.MORE_REPEATS if more_helps else Reason.CHANGE_METHOD)
    if abs(error) > half_width:
        return decision(Verdict.TRY, Reason.PROBABLY_REAL)
    return decision(Verdict.KEEP, Reason.NO_ERROR_FOUND)
