"""The guarded decision: change, keep, try, measure more, or say that something is wrong (rules, section 0)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

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
    TOO_SMALL = "too_small"
    PROBABLY_REAL = "probably_real"
    BEST_GUESS = "best_guess"
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


def decide(
    error: float, total: Component, *, tolerance: float, target: float, more_helps: bool, cheap: bool = False
) -> Decision:
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
    cheap
        Whether those cost less than a trial: they are asked for first.

    Notes
    -----
    First match wins. *Apply* asks for the whole 95 % interval outside the tolerance, which keeps false changes at or
    below 5 % however coarse the tool is; *keep, within tolerance* is an equivalence test at 5 %. Where neither is proven
    the best guess decides what is worth a reprint: it is tried where it is beyond the tolerance and either not 0 for sure,
    or known as well as was asked; it is kept where it is not worth a change (docs/decisions/0018-best-guess.md).
    """
    half_width = student_quantile(0.975, total.dof) * total.std
    guard = student_quantile(0.95, total.dof) * total.std

    def decision(verdict: Verdict, reason: Reason) -> Decision:
        return Decision(verdict=verdict, reason=reason, half_width_95=half_width, guard=guard)

    size, real = abs(error), abs(error) > half_width
    if size + guard <= tolerance:
        return decision(Verdict.KEEP, Reason.WITHIN_TOLERANCE)
    if size - half_width > tolerance:
        return decision(Verdict.APPLY, Reason.OUTSIDE_TOLERANCE)
    # Surely an error, perhaps one smaller than the tolerance: where readings are dear, a trial tells more.
    if size > tolerance and real and (half_width <= target or not (more_helps and cheap)):
        return decision(Verdict.TRY, Reason.PROBABLY_REAL)
    if half_width > target:
        return decision(Verdict.REPEAT, Reason.MORE_REPEATS if more_helps else Reason.CHANGE_METHOD)
    if size > tolerance:
        return decision(Verdict.TRY, Reason.BEST_GUESS)
    return decision(Verdict.KEEP, Reason.TOO_SMALL if real else Reason.NO_ERROR_FOUND)


def decide_plainly(
    error: float, total: Component, *, tolerance: float, target: float, tool_std: float = 0.0
) -> Decision:
    """Decide where nothing is tried by printing once more: a real difference is *try* however small (rules, section 0).

    ``tool_std``: what more readings cannot take away; where that alone is beyond the target, another method is needed.
    """
    half_width = student_quantile(0.975, total.dof) * total.std
    guard = student_quantile(0.95, total.dof) * total.std
    if abs(error) + guard <= tolerance:
        verdict, reason = Verdict.KEEP, Reason.WITHIN_TOLERANCE
    elif abs(error) - half_width > tolerance:
        verdict, reason = Verdict.APPLY, Reason.OUTSIDE_TOLERANCE
    elif half_width > target:
        coarse = student_quantile(0.975, math.inf) * tool_std > target
        verdict, reason = Verdict.REPEAT, Reason.CHANGE_METHOD if coarse else Reason.MORE_REPEATS
    elif abs(error) > half_width:
        verdict, reason = Verdict.TRY, Reason.PROBABLY_REAL
    else:
        verdict, reason = Verdict.KEEP, Reason.NO_ERROR_FOUND
    return Decision(verdict=verdict, reason=reason, half_width_95=half_width, guard=guard)


USUAL_ERROR_PCT: Final = 5.0
"""How far a value usually is from right before it is measured, one standard deviation [%] (evidence.md)."""


def shrunk(factor: float, std_pct: float) -> float:
    """The part of a correction that leaves least error when its doubt is as large as what is usually wrong.

    The posterior mean of the logarithm, for a usual error of ``USUAL_ERROR_PCT`` around none and a measured one with
    ``std_pct`` [%] (normal prior and likelihood: precision-weighted mean).
    """
    weight = USUAL_ERROR_PCT**2 / (USUAL_ERROR_PCT**2 + std_pct**2)
    return float(factor**weight)
