"""What to look at next, when to stop looking and mend, and what speaks for a cause (diagnosis, sections 4, 5, 8 and 9)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import product
from typing import Final, Literal

import numpy as np

from ubrex.core.diagnose._base import OTHER, knowledge
from ubrex.core.diagnose._odds import (
    Case,
    Hypothesis,
    Odds,
    answers_under,
    helped_by,
    odds_of,
    remedy_likelihood,
    settled,
    weights_of,
)

HARM_FACTORS: Final = (1.0, 0.75, 0.45, 0.15)
WORTH: Final = 0.04
"""A check has to concern a cause with at least these odds."""

LEAST_BITS: Final = 0.01
SLOW: Final = 0.012
"""Bits a minute below which trying the likeliest cheap remedy is the better check."""

HEATED_MIN: Final = 3.0
"""What a hot check saves where it is hot already [min]."""

OFF_LIST: Final = 0.4
READY: Final = ((15.0, 0.55), (60.0, 0.70), (math.inf, 0.85))
"""Odds at which a remedy of so much effort is tried."""

LONG_MIN, WAITS_MIN, LONGEST_MIN = 120.0, 30.0, 120.0
"""Hours alone in a dryer cost nobody's time."""

STOPS: Final = {
    ("complaint", "c_smell"): "off_at_switch",
    ("complaint", "c_blob"): "heaters_off_do_not_tear",
    ("complaint", "c_above"): "stop_let_cool",
    ("above", "yes"): "stop_let_cool",
    ("touch", "yes"): "off_at_switch",
    ("wire_look", "yes"): "leave_off",
    ("ripple", "jumps"): "heaters_off",
}
"""Signs that stop everything, before any question."""

SPEAKS: Final = 0.3
"""Log2 of a factor below which a finding says nothing either way."""

MOST_REASONS: Final = 3

Verdict = Literal["check", "try", "off_list", "watch"]


@dataclass(frozen=True, slots=True, kw_only=True)
class NextCheck:
    """A check worth doing: what it is expected to tell, in how long."""

    check: str
    bits: float
    minutes: float
    score: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """A case as it stands: causes by their odds, what stops everything, what to look at, what to try.

    ``unsure``: nothing is left to look at that would pay. ``helped``: causes whose remedy helped without ending it.
    """

    causes: tuple[tuple[str, float], ...]
    together: tuple[tuple[Hypothesis, float], ...]
    helped: tuple[str, ...]
    stop: tuple[str, ...]
    ask_first: tuple[str, ...]
    checks: tuple[NextCheck, ...]
    verdict: Verdict
    remedy: str | None = None
    p_remedy: float | None = None
    unsure: bool = False


@dataclass(frozen=True, slots=True)
class Reason:
    """Something that speaks for a cause (factor above 1) or against it: a finding with its answer, or what was tried."""

    what: str
    answer: str
    factor: float


def bits_of(check: str, odds: Odds, seen: frozenset[str]) -> float:
    """What a check is expected to tell of the cause [bits], all that it has not told yet together."""
    tells = [one for one in knowledge().checks[check].tells if one not in seen]
    if not tells:
        return 0.0
    shares = np.array([odds.causes[cause] for cause in knowledge().causes])
    shares = shares / shares.sum()
    total = 0.0
    for answers in product(*(knowledge().findings[one].options for one in tells)):
        under = np.prod([answers_under(one)[answer] for one, answer in zip(tells, answers, strict=True)], axis=0)
        total += float(np.sum(shares * under * np.log2(under / float(shares @ under))))
    return max(0.0, total)


Order = Literal["worth", "cheapest", "most telling"]
"""How checks are ordered: by what they tell for what they cost, or as one school or the other has it."""


def in_order(checks: Sequence[NextCheck], order: Order) -> list[NextCheck]:
    """The same checks as a school goes through them: by harm and minutes, or by bits alone. Odds stay (diagnosis, 4)."""
    base = knowledge()
    by = {
        "worth": lambda one: (-one.score,),
        "cheapest": lambda one: (base.checks[one.check].harm, one.minutes, -one.bits),
        "most telling": lambda one: (-one.bits,),
    }[order]
    return sorted(checks, key=by)


def rank_checks(case: Case, odds: Odds) -> list[NextCheck]:
    """Checks by what they tell in a minute and what they cost, the best first."""
    base, seen, shut = knowledge(), frozenset(case.evidence), {*case.unable, *case.done}
    total = sum(odds.causes.values())
    near = {cause for cause in base.usual if odds.causes[cause] >= WORTH * total}
    hot = case.complaint in base.hot_already if case.hot is None else case.hot
    found = []
    for key, row in base.checks.items():
        if key in shut or key == "k_record" or (row.only_for and case.complaint not in row.only_for):
            continue
        if not any(near & set(base.findings[one].likely) for one in row.tells if one not in seen):
            continue
        bits = bits_of(key, odds, seen)
        if bits < LEAST_BITS:
            continue
        minutes = max(1.0, row.minutes - HEATED_MIN) if hot and row.state == "hot" else row.minutes
        score = bits / (minutes + 1) * HARM_FACTORS[row.harm]
        found.append(NextCheck(check=key, bits=bits, minutes=minutes, score=score))
    return sorted(found, key=lambda one: (-one.score, one.check))


def effort_of(remedy: str) -> float:
    """What a remedy costs: minutes, harm, and what has to be bought."""
    row = knowledge().remedies[remedy]
    minutes = min(row.minutes, WAITS_MIN if row.minutes > LONG_MIN else LONGEST_MIN)
    return minutes + 10 * row.harm**2 + (20 if row.buys else 0)


def ready_from(remedy: str) -> float:
    """Odds of its causes at which a remedy is worth trying."""
    effort = effort_of(remedy)
    return next(odds for most, odds in READY if effort <= most)


def diagnose(case: Case) -> Sheet:
    """A case as it stands. Method: docs/methods/faults.md."""
    base, odds, helped = knowledge(), odds_of(case), helped_by(case)
    together = tuple(
        (one, p) for one, p in sorted(odds.hypotheses.items(), key=lambda row: -row[1])[:3] if len(one) == 2
    )
    if helped:
        odds = _without(odds, helped)
    order = sorted(base.causes, key=lambda cause: (-odds.causes[cause], cause))
    checks = rank_checks(case, odds)
    signs = [("complaint", case.complaint), *case.evidence.items()]
    asked = set(case.evidence)
    found = Sheet(
        causes=tuple((cause, odds.causes[cause]) for cause in order),
        together=together,
        helped=tuple(sorted(helped)),
        stop=tuple(sorted({STOPS[sign] for sign in signs if sign in STOPS})),
        ask_first=tuple(one for one in base.first if one not in case.done and not asked & set(base.checks[one].tells)),
        checks=tuple(checks),
        verdict="check",
    )
    return _judged(case, odds, found, order[0])


def _without(odds: Odds, helped: frozenset[str]) -> Odds:
    """What is left after something helped: only hypotheses with a cause that was not mended."""
    left = settled({one: p for one, p in odds.hypotheses.items() if not helped.issuperset(one)})
    return Odds({cause: 0.0 if cause in helped else p for cause, p in left.causes.items()}, left.hypotheses)


def _judged(case: Case, odds: Odds, found: Sheet, leads: str) -> Sheet:
    if "gone" in case.remedies.values():
        return replace(found, verdict="watch")
    if leads == OTHER and odds.causes[OTHER] >= OFF_LIST:
        return replace(found, verdict="off_list")
    remedies = sorted(
        (
            (sum(p for one, p in odds.hypotheses.items() if not set(row.cures).isdisjoint(one)), -effort_of(key), key)
            for key, row in knowledge().remedies.items()
            if key not in case.remedies
        ),
        reverse=True,
    )
    ready = [one for one in remedies if one[0] >= ready_from(one[2])]
    if ready:
        p, _, key = max(ready, key=lambda one: (one[0] + one[1] / 1000, one[2]))
        return replace(found, verdict="try", remedy=key, p_remedy=p)
    if found.checks and found.checks[0].score >= SLOW:
        return found
    if remedies and remedies[0][0] >= (0.10 if found.checks else 0.03):
        p, _, key = max((one for one in remedies if one[0] >= 0.03), key=lambda one: (one[0] / (10 - one[1]), one[2]))
        return replace(found, verdict="try", remedy=key, p_remedy=p, unsure=True)
    return found if found.checks else replace(found, verdict="off_list")


def reasons_for(case: Case, cause: str, odds: Odds | None = None) -> tuple[list[Reason], list[Reason]]:
    """What speaks for a cause and what against it, the strongest first, three each."""
    shares = (odds or odds_of(case)).causes
    weights, place = weights_of(case), knowledge().causes.index(cause)
    others = np.array([0.0 if one == cause else shares[one] for one in knowledge().causes])
    others = others / max(1e-9, others.sum())
    found = []
    for finding, answer in case.evidence.items():
        under = answers_under(finding)[answer]
        log = weights[finding] * math.log2(float(under[place]) / float(others @ under))
        found.append(Reason(finding, answer, 2**log))
    for remedy, result in case.remedies.items():
        under = np.array([remedy_likelihood(remedy, result, (one,)) for one in knowledge().causes])
        found.append(Reason(remedy, result, float(under[place]) / float(others @ under)))
    pro = sorted((one for one in found if math.log2(one.factor) > SPEAKS), key=lambda one: -one.factor)
    con = sorted((one for one in found if math.log2(one.factor) < -SPEAKS), key=lambda one: one.factor)
    return pro[:MOST_REASONS], con[:MOST_REASONS]
