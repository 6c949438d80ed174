"""How likely each cause, and each pair of them, is by what was seen, found and tried (diagnosis, section 3)."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from itertools import combinations
from typing import Final, Literal

import numpy as np

from ubrex.core.diagnose._base import OTHER, Finding, Knowledge, knowledge
from ubrex.core.errors import OutOfRange

Array = np.ndarray
Result = Literal["no change", "better", "gone"]

MOST_NAMED, MOST_SEVERAL = 0.98, 0.90
"""A cause that may show in several ways may also show in none of them."""

UNWRITTEN: Final = 0.5
"""Share of changes by hand that nobody wrote down (E)."""

WRITTEN_BY_HAND: Final = frozenset({
    "r_nozzle", "r_tube", "r_gear", "r_plate", "r_wash", "r_firmware", "r_program", "r_spool", "r_speed", "r_moved",
    "r_room", "r_dry", "r_wear", "r_hours", "r_residue", "r_filled", "r_jams", "waited_hot",
})  # fmt: skip
"""Findings of the record that rest on what people wrote down."""

ALSO_UNLISTED, ALSO_SEEN, ALSO_ANYWAY, ALSO_WEIGHT = 0.08, 0.9, 0.05, 0.7
"""A second complaint: how often with a cause that does not name it, noticed, for another reason; its weight (E)."""

SECOND_LOOK: Final = 0.6
"""What a second look at the same thing is worth of a first one (E)."""

UNSURE: Final = 0.5
MOST_USUAL_HERE: Final = 2.0
IN_PAIRS: Final = 12
"""So many of the likeliest causes are tried in pairs."""

NOT_A_SIGN: Final = frozenset({"trial"})
FOLLOWS: Final = "f_follows"


@dataclass(frozen=True, slots=True, kw_only=True)
class Case:
    """What is known of a fault: the machine, what is seen, what was found, and what was tried.

    ``also``: further complaints, and ones that are *not* there. ``unable``: checks that cannot be done here, ``done``: ones
    that told nothing. ``unsure``: findings somebody was not sure of. ``usual_here``: causes confirmed here before.
    """

    complaint: str
    context: Sequence[str] = ()
    also: Mapping[str, bool] = field(default_factory=dict)
    evidence: Mapping[str, str] = field(default_factory=dict)
    remedies: Mapping[str, Result] = field(default_factory=dict)
    unable: Sequence[str] = ()
    done: Sequence[str] = ()
    unsure: Sequence[str] = ()
    usual_here: Mapping[str, float] = field(default_factory=dict)
    hot: bool | None = None

    def __post_init__(self) -> None:
        base = knowledge()
        named = (
            ("complaint", [self.complaint, *self.also], base.complaints),
            ("finding", [*self.evidence, *self.unsure], base.findings),
            ("remedy", list(self.remedies), base.remedies),
            ("check", [*self.unable, *self.done], base.checks),
            ("cause", list(self.usual_here), base.usual),
        )
        for what, used, there in named:
            for one in used:
                if one not in there:
                    raise OutOfRange(f"no {what} is called {one}", name=what, value=0)
        for finding, answer in self.evidence.items():
            if answer not in base.findings[finding].background:
                raise OutOfRange(f"{finding} has no answer {answer}", name="evidence", value=0)


Hypothesis = tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Odds:
    """Of each cause, and of each hypothesis: one cause, or two at once. Together 1."""

    causes: Mapping[str, float]
    hypotheses: Mapping[Hypothesis, float]


@cache
def answers_under(finding: str) -> Mapping[str, Array]:
    """How likely each answer of a finding is under every cause, wrong answers and unwritten changes allowed for."""
    base = knowledge()
    row = base.findings[finding]
    columns = [_answers(base, finding, row, cause) for cause in base.causes]
    return {answer: np.array([column[answer] for column in columns]) for answer in row.options}


def _answers(base: Knowledge, finding: str, row: Finding, cause: str) -> dict[str, float]:
    given = {answer: base.levels[level] for answer, level in row.likely.get(cause, {}).items()}
    most = MOST_NAMED if len(given) < 2 else MOST_SEVERAL
    total = sum(given.values())
    if total > most:
        given = {answer: share * most / total for answer, share in given.items()}
        total = most
    rest = sum(share for answer, share in row.background.items() if answer not in given)
    found = {
        answer: given[answer] if answer in given else (1 - total) * share / rest
        for answer, share in row.background.items()
    }
    if finding in WRITTEN_BY_HAND:
        sound = row.options[0]
        found = {answer: share * (1 - UNWRITTEN) for answer, share in found.items()}
        found[sound] = 1 - sum(share for answer, share in found.items() if answer != sound)
    wrong = base.wrong_answer[row.kind]
    return {answer: (1 - wrong) * share + wrong / len(found) for answer, share in found.items()}


@cache
def _places() -> Mapping[str, int]:
    return {cause: place for place, cause in enumerate(knowledge().causes)}


def _prior(case: Case) -> dict[str, float]:
    """How usual a cause is on such a machine, times how often it shows as this complaint; nothing is ever impossible."""
    base, tags = knowledge(), set(case.context)
    listed = base.complaints[case.complaint]
    found = {}
    for cause, usual in base.usual.items():
        weight = usual * min(MOST_USUAL_HERE, case.usual_here.get(cause, 1.0))
        for tag, factor in base.context[cause].items():
            if (tag[1:] not in tags) if tag.startswith("!") else (tag in tags):
                weight *= factor
        found[cause] = weight * (base.levels[listed[cause]] if cause in listed else 1.0)
    sums = [sum(weight for cause, weight in found.items() if (cause in listed) is here) for here in (True, False)]
    shares = (base.shares["listed"], base.shares["unlisted"])
    prior = {cause: weight * shares[cause not in listed] / sums[cause not in listed] for cause, weight in found.items()}
    return prior | {OTHER: base.shares["off_list"]}


def weights_of(case: Case) -> dict[str, float]:
    """What each finding counts: looks at the same thing less, an unsure one half."""
    groups = [knowledge().findings[one].group for one in case.evidence]
    found = {}
    for one in case.evidence:
        group = knowledge().findings[one].group
        count = groups.count(group) if group else 1
        found[one] = (1 + SECOND_LOOK * (count - 1)) / count * (UNSURE if one in case.unsure else 1.0)
    return found


def remedy_likelihood(remedy: str, result: Result, causes: Hypothesis) -> float:
    """How likely a remedy has this result under one cause or two; a little luck is allowed for."""
    row = knowledge().remedies[remedy]
    hit, works = sum(cause in row.cures for cause in causes), knowledge().levels[row.works]
    if hit == 0:
        return {"no change": 0.80, "better": 0.12, "gone": 0.08}[result]
    if hit == len(causes):
        return {"no change": (1 - works) * 0.7 + 0.03, "better": 0.17, "gone": max(0.05, 0.8 * works)}[result]
    return {"no change": 0.25, "better": 0.6, "gone": 0.15}[result]


def _pair_likelihood(finding: str, answer: str, pair: Hypothesis) -> float:
    """An answer under two causes at once: what is sound needs both to spare it; trials average the two."""
    row, under = knowledge().findings[finding], answers_under(finding)
    at = [_places()[cause] for cause in pair]
    if row.kind in NOT_A_SIGN or finding == FOLLOWS:
        return float(sum(under[answer][place] for place in at)) / len(pair)
    sound = row.options[0]
    both = [float(under[sound][place]) for place in at]
    spared = min(*both, both[0] * both[1] / float(under[sound][_places()[OTHER]]))
    if answer == sound:
        return spared
    bad = sum(float(under[other][place]) for place in at for other in row.options if other != sound)
    share = sum(float(under[answer][place]) for place in at) / max(1e-9, bad)
    return (1 - spared) * share


def _beside(case: Case, causes: Hypothesis) -> float:
    """Log likelihood of further complaints and of what was tried."""
    base, found = knowledge(), 0.0
    for complaint, there in case.also.items():
        listed = base.complaints[complaint]
        spared = math.prod(1 - (base.levels[listed[c]] if c in listed else ALSO_UNLISTED) for c in causes)
        share = ALSO_SEEN * (1 - spared) + ALSO_ANYWAY
        found += ALSO_WEIGHT * math.log(share if there else 1 - share)
    for remedy, result in case.remedies.items():
        found += math.log(remedy_likelihood(remedy, result, causes))
    return found


def helped_by(case: Case) -> frozenset[str]:
    """Causes whose remedy helped without ending the fault: something else must be there as well."""
    helped = [knowledge().remedies[one].cures for one, result in case.remedies.items() if result == "better"]
    return frozenset(cause for cures in helped for cause in cures)


def odds_of(case: Case) -> Odds:
    """The odds of every cause, alone or with one of the others. Method: docs/methods/faults.md."""
    base, prior, weights = knowledge(), _prior(case), weights_of(case)
    logs = np.array([math.log(prior[cause]) + _beside(case, (cause,)) for cause in base.causes])
    for finding, answer in case.evidence.items():
        logs += weights[finding] * np.log(answers_under(finding)[answer])
    found: dict[Hypothesis, float] = {(cause,): float(log) for cause, log in zip(base.causes, logs, strict=True)}
    top = sorted((one for one in base.causes if one != OTHER), key=lambda one: (-found[one,], (one,)))[:IN_PAIRS]
    helped = sorted(helped_by(case), key=lambda one: -found[one,])[:2]
    pairs = {tuple(sorted(pair)) for pair in combinations(top, 2)}
    pairs |= {tuple(sorted((one, other))) for one in helped for other in base.usual if one != other}
    for pair in sorted(pairs):
        log = math.log(base.shares["pair"] * prior[pair[0]] * prior[pair[1]]) + _beside(case, pair)
        for finding, answer in case.evidence.items():
            log += weights[finding] * math.log(_pair_likelihood(finding, answer, pair))
        found[pair] = log
    return settled({one: math.exp(log - max(found.values())) for one, log in found.items()})


def settled(hypotheses: Mapping[Hypothesis, float]) -> Odds:
    """Weights of hypotheses as odds."""
    total = sum(hypotheses.values())
    shares = {one: weight / total for one, weight in hypotheses.items()}
    causes = dict.fromkeys(knowledge().causes, 0.0)
    for one, share in shares.items():
        for cause in one:
            causes[cause] += share
    return Odds(causes, shares)
