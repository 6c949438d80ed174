"""What is counted of a rule in one world: how often it is right, what it costs, and what a careful spreadsheet leaves."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ubrex.core.quantity import Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class Trial:
    """One evening: what was done, and the error left in the unit of the rule, beside that of the spreadsheet.

    ``covered``: whether the interval holds the truth. ``slipped``: a reading was slipped and nothing asked about it.
    ``unsure``: the readings first asked for could not tell; what was advised was done.
    """

    verdict: Verdict
    covered: bool
    left: float
    sheet: float
    readings: int
    prints: int = 1
    slipped: bool = False
    unsure: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One world of one rule at one true error [unit of its tolerance]; shares are of all trials.

    ``on_model``: the world is as the rule assumes. ``settled``: share that ended in keep or apply.
    """

    rule: str
    world: str
    truth: float
    tolerance: float
    on_model: bool
    trials: int
    coverage: float
    applied: float
    tried: float
    kept: float
    cannot_tell: float
    unsure: float
    swallowed: float
    readings: float
    prints: float
    left: float
    sheet: float

    @property
    def right(self) -> bool:
        """Whether nothing is to be changed."""
        return abs(self.truth) <= self.tolerance

    @property
    def ratio(self) -> float:
        """Error left beside that of the spreadsheet."""
        return self.left / self.sheet if self.sheet else math.inf


def row(rule: str, world: str, truth: float, tolerance: float, trials: Sequence[Trial], *, on_model: bool) -> Row:
    """The row of some trials."""
    count = len(trials)

    def share(found: Iterable[bool]) -> float:
        return sum(found) / count

    def rms(found: Iterable[float]) -> float:
        return math.sqrt(math.fsum(one * one for one in found) / count)

    return Row(
        rule=rule,
        world=world,
        truth=truth,
        tolerance=tolerance,
        on_model=on_model,
        trials=count,
        coverage=share(one.covered for one in trials),
        applied=share(one.verdict is Verdict.APPLY for one in trials),
        tried=share(one.verdict is Verdict.TRY for one in trials),
        kept=share(one.verdict is Verdict.KEEP for one in trials),
        cannot_tell=share(one.verdict in {Verdict.REPEAT, Verdict.REFUSE} for one in trials),
        unsure=share(one.unsure for one in trials),
        swallowed=share(one.slipped and abs(one.left) > tolerance for one in trials),
        readings=sum(one.readings for one in trials) / count,
        prints=sum(one.prints for one in trials) / count,
        left=rms(one.left for one in trials),
        sheet=rms(one.sheet for one in trials),
    )


HEADS = (
    "rule", "world", "truth", "covers", "applied", "tried", "kept", "at first not", "cannot tell", "swallowed", "readings",
    "left", "spreadsheet", "ratio",
)  # fmt: skip


def cells(one: Row) -> list[str]:
    """A row as text, without the prints of a loop."""
    shares = (one.coverage, one.applied, one.tried, one.kept, one.unsure, one.cannot_tell, one.swallowed)
    numbers = (f"{one.readings:.1f}", f"{one.left:.2f}", f"{one.sheet:.2f}", f"{one.ratio:.2f}")
    world = one.world if one.on_model else f"{one.world} (off)"
    return [one.rule, world, f"{one.truth:g}", *("0" if share == 0 else f"{share:.3f}" for share in shares), *numbers]


def table(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """Rows as a table in Markdown."""
    return "\n".join(
        "| " + " | ".join(line) + " |" for line in [list(heads), ["---"] * len(heads), *(list(cut) for cut in rows)]
    )
