"""Faults with a known cause, looked for as the sheet proposes: answers come as often as the cause shows them."""

from __future__ import annotations

import random
from dataclasses import dataclass

from ubrex.core.diagnose import Case, Sheet, diagnose, knowledge
from ubrex.core.diagnose._odds import answers_under

MOST_LOOKS = 15


@dataclass(frozen=True)
class Search:
    """How a search went: the true cause, minutes of each look, and the sheet it ended with."""

    cause: str
    minutes: list[float]
    sheet: Sheet

    @property
    def is_mended(self) -> bool:
        """Whether what is tried mends the true cause."""
        remedy = self.sheet.remedy
        return remedy is not None and self.cause in knowledge().remedies[remedy].cures


def search(rng: random.Random) -> Search:
    """One fault: a complaint, one of its causes as often as it is usual, looks until the sheet says to mend."""
    base = knowledge()
    complaint = rng.choice(sorted(base.complaints))
    causes = base.complaints[complaint]
    (cause,) = rng.choices(list(causes), [base.usual[one] * base.levels[level] for one, level in causes.items()])
    evidence: dict[str, str] = {}
    minutes: list[float] = []
    sheet = diagnose(Case(complaint=complaint))
    while sheet.verdict == "check" and len(minutes) < MOST_LOOKS:
        look = base.checks[sheet.checks[0].check]
        evidence |= {one: _answer(rng, one, cause) for one in look.tells if one not in evidence}
        minutes.append(look.minutes)
        sheet = diagnose(Case(complaint=complaint, evidence=evidence))
    return Search(cause, minutes, sheet)


def _answer(rng: random.Random, finding: str, cause: str) -> str:
    """What is seen under a cause, wrong answers among it."""
    base = knowledge()
    under = {answer: float(shares[base.causes.index(cause)]) for answer, shares in answers_under(finding).items()}
    (found,) = rng.choices(list(under), list(under.values()))
    return found
