"""What is known of faults: causes, what they show, what tells them apart and what mends them; data, checked when read.

Source: faults by evidence (diagnosis, knowledge base). Numbers are estimates (E); words stand with the interface.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any, Final, Literal

from ubrex.core.diagnose._facts import FACTS
from ubrex.core.errors import OutOfRange

OTHER: Final = "other"
"""The cause that is not on the list: it always keeps a share."""

Kind = Literal["asked", "looked", "measured", "trial", "record"]
State = Literal["as_it_stands", "cold", "hot", "prints", "dry", "record"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """Something that can be found: its answers, the first of them what a sound machine shows.

    ``background``: how often each answer comes without a cause that names it. ``likely``: level of an answer under a
    cause. ``group``: findings that look at one thing, which are not independent.
    """

    kind: Kind
    group: str | None
    background: Mapping[str, float]
    likely: Mapping[str, Mapping[str, str]]

    @property
    def options(self) -> tuple[str, ...]:
        """Its answers."""
        return tuple(self.background)


@dataclass(frozen=True, slots=True, kw_only=True)
class Check:
    """A look: minutes, harm (0 none, 1 filament or wear, 2 takes apart, 3 could hurt), and the findings it tells."""

    minutes: float
    harm: int
    state: State
    needs: tuple[str, ...]
    cautions: tuple[str, ...]
    tells: tuple[str, ...]
    only_for: tuple[str, ...] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Remedy:
    """What mends causes: minutes, harm, what it buys, and how often it works."""

    cures: tuple[str, ...]
    minutes: float
    harm: int
    buys: str | None
    works: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Knowledge:
    """The whole of it. ``usual`` and ``context``: how usual a cause is, and on what kind of machine more or less so."""

    levels: Mapping[str, float]
    wrong_answer: Mapping[str, float]
    shares: Mapping[str, float]
    first: tuple[str, ...]
    hot_already: frozenset[str]
    usual: Mapping[str, float]
    context: Mapping[str, Mapping[str, float]]
    complaints: Mapping[str, Mapping[str, str]]
    findings: Mapping[str, Finding]
    checks: Mapping[str, Check]
    remedies: Mapping[str, Remedy]

    @property
    def causes(self) -> tuple[str, ...]:
        """Every cause, that which is not on the list last."""
        return (*self.usual, OTHER)


@cache
def knowledge() -> Knowledge:
    """What is known of faults, read once."""
    return read_knowledge(FACTS)


def read_knowledge(held: Mapping[str, Any]) -> Knowledge:
    """What is known of faults from its data.

    Raises
    ------
    OutOfRange
        If something in it names what is not there.
    """
    found = Knowledge(
        levels=held["levels"],
        wrong_answer=held["wrong_answer"],
        shares=held["shares"],
        first=tuple(held["first"]),
        hot_already=frozenset(held["hot_already"]),
        usual={key: row["usual"] for key, row in held["causes"].items()},
        context={key: row["context"] for key, row in held["causes"].items()},
        complaints=held["complaints"],
        findings={key: Finding(**row) for key, row in held["findings"].items()},
        checks={key: Check(**_tuples(row)) for key, row in held["checks"].items()},
        remedies={key: Remedy(**_tuples(row)) for key, row in held["remedies"].items()},
    )
    _refuse_unknown(found)
    return found


def _tuples(row: Mapping[str, Any]) -> dict[str, Any]:
    return {key: tuple(value) if isinstance(value, list) else value for key, value in row.items()}


def _refuse_unknown(found: Knowledge) -> None:
    named = {
        "cause": (
            {cause for row in found.complaints.values() for cause in row}
            | {cause for row in found.findings.values() for cause in row.likely}
            | {cause for row in found.remedies.values() for cause in row.cures},
            set(found.usual),
        ),
        "finding": ({one for row in found.checks.values() for one in row.tells}, set(found.findings)),
        "complaint": (
            {one for row in found.checks.values() for one in row.only_for or ()} | found.hot_already,
            set(found.complaints),
        ),
        "check": (set(found.first), set(found.checks)),
        "level": (
            {level for row in found.complaints.values() for level in row.values()}
            | {level for row in found.findings.values() for said in row.likely.values() for level in said.values()}
            | {row.works for row in found.remedies.values()},
            set(found.levels),
        ),
        "answer": (
            {answer for row in found.findings.values() for said in row.likely.values() for answer in said},
            {answer for row in found.findings.values() for answer in row.background},
        ),
    }
    for what, (used, there) in named.items():
        if not used <= there:
            raise OutOfRange(f"no such {what}: {', '.join(sorted(used - there))}", name=what, value=0)
