"""A support ladder: how each support came off, how the roof looks, and the gap to set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from ubrex.core.calibrate import BEST_RATING, MOST_ANSWER, FitVerdict, SupportResult, TowerReason, support_gap
from ubrex.core.chain import Kind
from ubrex.core.quantity import Verdict, decimal_text
from ubrex.server.calibrations._tower import WITHOUT_SWAP, Tower
from ubrex.server.calibrations._tower_words import gaps_heading
from ubrex.server.calibrations.supports import _words as words
from ubrex.server.calibrations.supports._start import MOST_LOW, SupportInputs
from ubrex.server.profile import NewValue
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.views.runs import ResultOut
from ubrex.server.views.towers import TowerNextOut
from ubrex.server.words.numbers import DASH, NBSP

RELEASE, UNDERSIDE = "release", "underside"
"""What is rated of a bay."""

_VERDICTS: Final = {
    FitVerdict.PICK: (Verdict.APPLY, TowerReason.BEST_BAND),
    FitVerdict.CONFLICT: (Verdict.REPEAT, TowerReason.MUST_NOT_MET),
    FitVerdict.EXTEND_TIGHTER: (Verdict.REPEAT, TowerReason.BEST_BEYOND),
    FitVerdict.EXTEND_WIDER: (Verdict.REPEAT, TowerReason.BEST_BEYOND),
    FitVerdict.CONTRADICTORY: (Verdict.REFUSE, TowerReason.NOT_THE_LEVER),
}


@dataclass(frozen=True)
class SupportCase(Tower[SupportInputs]):
    """A ladder with its answers."""

    inputs_type = SupportInputs
    kind = Kind.SUPPORT_GAP
    score_note = words.SCORE_NOTE
    edits = WITHOUT_SWAP

    @property
    def keys(self) -> tuple[str, ...]:
        """How it comes off, and what it leaves."""
        return (RELEASE, UNDERSIDE)

    def most(self, key: str) -> int:
        """Nothing comes off more easily than what falls off."""
        return MOST_ANSWER if key == RELEASE else BEST_RATING

    @cached_property
    def evaluated(self) -> SupportResult:
        """What the ladder says."""
        released, looked = (self.first_answers(key)[1] for key in self.keys)
        return support_gap(self.inputs.values, released, looked, purpose=self.inputs.wants)

    @property
    def proven(self) -> bool:
        """Whether a gap is named."""
        return self.evaluated.verdict is FitVerdict.PICK

    def method_name(self) -> str:
        """How it is found."""
        return f"{self.calibration.words.short}, {self.count} bays"

    def cells(self) -> list[CellOut]:
        """Gaps, the layer they count in, and what is in use."""
        inputs = self.inputs
        gaps = f"{self.text(0)}{DASH}{self.text(self.count - 1)}{NBSP}mm"
        now = "nothing" if inputs.current is None else f"{decimal_text(inputs.current, 2)} mm"
        return [
            CellOut(label="Gaps", value=gaps, detail=f"layers of {inputs.layer_mm:g} mm"),
            CellOut(label=words.WANTS, value=words.PURPOSES[inputs.wants], detail=""),
            CellOut(label="Set now", value=now, detail=""),
        ]

    def pick(self) -> tuple[frozenset[int], int | None]:
        """The one that is offered."""
        found, gaps = self.evaluated, self.inputs.values
        offered = None if found.gap_mm is None else gaps.index(found.gap_mm)
        return frozenset() if offered is None else frozenset({offered}), offered

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """How sure each comes off as wanted, where surely is a whole bar."""
        shares = self.evaluated.p_releases
        return [None] * self.count if shares is None else [(BEST_RATING * share, 0.0) for share in shares]

    def score_name(self) -> str:
        """What stands over the scores."""
        return words.COMES_OFF

    def score_said(self, score: float) -> str:
        """How sure that is, in percent."""
        return f"{100 * score / BEST_RATING:.0f}{NBSP}%"

    def odd(self) -> frozenset[tuple[int, str, int]]:
        """Answers that the others of the same person contradict."""
        person = self.first_answers(RELEASE)[0]
        return frozenset() if person is None else frozenset((person, RELEASE, band) for band in self.evaluated.odd)

    def waiting(self) -> list[TowerNextOut]:
        """What is not said yet: all supports come off first, widest gap first; then the roofs are looked at."""
        return [
            TowerNextOut(band=band, key=key, last=False)
            for key in self.keys
            for band in reversed(range(self.count))
            if band not in self.out and band not in self.mine.get(key, {})
        ]

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before enough is said of four bays."""
        del early
        found = self.evaluated
        if found.verdict is FitVerdict.REFUSE:
            return None
        verdict, reason = _VERDICTS[found.verdict]
        if found.verdict is FitVerdict.PICK and found.gap_mm == self.inputs.current:
            verdict, reason = Verdict.KEEP, TowerReason.WILL_DO
        touching = self.inputs.layers[0] == 0
        sentence = words.support_said(found, self.inputs.wants, self.pick()[1], touching=touching)
        said = self.answer(
            verdict, reason, sentence=sentence, proposal=found.gap_mm, half=None, limited_by=words.LEVER,
            next_run=self._next(found),
        )  # fmt: skip
        return said.model_copy(update={"title": words.title_said(found, touching=touching)})

    def _next(self, found: SupportResult) -> dict[str, float]:
        """Fields of the ladder that goes on from here."""
        layers = self.inputs.layers
        match found.verdict:
            case FitVerdict.EXTEND_WIDER:
                return {"low": min(MOST_LOW, layers[-1] - 1)}
            case FitVerdict.EXTEND_TIGHTER if layers[0] > 0:
                return {"low": max(0, layers[0] - self.count + 2)}
        return {}

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        found = self.evaluated
        return {
            "count": len(self.readings), "said": found.verdict.value, "wants": self.inputs.wants, "gap_mm": found.gap_mm,
            "layer_mm": self.inputs.layer_mm,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The gap, applied or kept."""
        number = self.evaluated.gap_mm if decision.action == "apply" else self.inputs.current
        if number is None:
            return []
        return [self.new_value(Kind.SUPPORT_GAP, number, None, decision, self.inputs.unit)]

    def heading(self) -> list[tuple[str, str]]:
        """What the head of its file says of its bands."""
        return [gaps_heading(self.inputs.values)]
