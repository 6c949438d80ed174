"""A fit ladder: how each hole goes, and the gap to design."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from ubrex.core.calibrate import BEST_RATING, MOST_ANSWER, FitResult, FitVerdict, TowerReason, fit_combine, fit_ladder
from ubrex.core.chain import Kind
from ubrex.core.gcode.pieces import fit_bodies
from ubrex.core.quantity import Verdict, decimal_text
from ubrex.server.calibrations._bodies import body_files, written
from ubrex.server.calibrations._case import File
from ubrex.server.calibrations._tower import WITHOUT_SWAP, Tower
from ubrex.server.calibrations._tower_words import gaps_heading
from ubrex.server.calibrations.fit import _words as words
from ubrex.server.calibrations.fit._start import KINDS_OF, FitInputs, options_of
from ubrex.server.profile import NewValue
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Decision, Run
from ubrex.server.views.base import CellOut
from ubrex.server.views.runs import ResultOut
from ubrex.server.views.towers import TowerNextOut
from ubrex.server.words.numbers import DASH, NBSP

GOES: Final = "fit"
"""What is rated of a hole."""

_VERDICTS: Final = {
    FitVerdict.PICK: (Verdict.APPLY, TowerReason.BEST_BAND),
    FitVerdict.FINER_STEPS: (Verdict.REPEAT, TowerReason.FINER),
    FitVerdict.EXTEND_TIGHTER: (Verdict.REPEAT, TowerReason.BEST_BEYOND),
    FitVerdict.EXTEND_WIDER: (Verdict.REPEAT, TowerReason.BEST_BEYOND),
    FitVerdict.DOES_NOT_DISCRIMINATE: (Verdict.REPEAT, TowerReason.NOT_THE_LEVER),
    FitVerdict.CONTRADICTORY: (Verdict.REFUSE, TowerReason.NOT_THE_LEVER),
    FitVerdict.REFUSE: (Verdict.REPEAT, TowerReason.NOTHING_RATED),
}

_SIZES: Final[Prepared[Decision]] = Prepared(
    lambda setup_id: (
        Decision.select(Decision, Run)
        .join(Run)
        .where(Run.setup == setup_id, Run.method == "size")
        .order_by(Decision.id.desc())
        .limit(1)
    )
)


@dataclass(frozen=True)
class FitCase(Tower[FitInputs]):
    """A ladder with its answers."""

    inputs_type = FitInputs
    kind = Kind.FIT_SNUG
    score_note = words.SCORE_NOTE
    edits = WITHOUT_SWAP

    @property
    def keys(self) -> tuple[str, ...]:
        """How it goes, and nothing else."""
        return (GOES,)

    def most(self, key: str) -> int:  # noqa: ARG002
        """Nothing is freer than free."""
        return MOST_ANSWER

    @property
    def _free(self) -> bool:
        return self.inputs.wants == "free"

    def _found(self, wants: str) -> FitResult:
        """What the ladder says for a purpose: each person's try is a copy of its own."""
        rows = [row for _, row in self.said.rows(GOES, self.count)]
        answers = [[row[band] for row in rows if band not in self.out] for band in range(self.count)]
        return fit_ladder(self.inputs.values, answers, purpose=wants)

    @cached_property
    def evaluated(self) -> FitResult:
        """What the ladder says."""
        return self._found(self.inputs.wants)

    @property
    def proven(self) -> bool:
        """Whether a gap is named."""
        return self.evaluated.gap_mm is not None

    def method_name(self) -> str:
        """How it is found."""
        return f"{self.calibration.words.short}, {self.count} holes"

    def cells(self) -> list[CellOut]:
        """Gaps, what goes in, and what is in use."""
        inputs = self.inputs
        mate, thick = words.mate_said(inputs.peg_mm, inputs.mate)
        gaps = f"{self.text(0)}{DASH}{self.text(self.count - 1)}{NBSP}mm"
        now = "nothing" if inputs.current is None else f"{decimal_text(inputs.current, 2)} mm"
        return [
            CellOut(label="Gaps", value=gaps, detail=words.PURPOSES[inputs.wants]),
            CellOut(label="Goes in", value=mate, detail=thick),
            CellOut(label="Designed now", value=now, detail=""),
        ]

    def pick(self) -> tuple[frozenset[int], int | None]:
        """Holes inside the interval, and the one that is offered."""
        found, gaps = self.evaluated, self.inputs.values
        if found.snug_low_mm is None or found.snug_high_mm is None or found.free_low_mm is None:
            return frozenset(), None
        low, high = (found.free_low_mm, gaps[-1]) if self._free else (found.snug_low_mm, found.snug_high_mm)
        inside = frozenset(band for band, gap in enumerate(gaps) if low <= gap <= high)
        return inside, gaps.index(found.gap_mm) if found.gap_mm in gaps else None

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """How sure each hole goes as wanted, where surely is a whole bar."""
        shares = self.evaluated.p_free if self._free else self.evaluated.p_snug
        return [None] * self.count if shares is None else [(BEST_RATING * share, 0.0) for share in shares]

    def score_name(self) -> str:
        """What stands over the scores."""
        return "Runs free" if self._free else "Snug"

    def score_said(self, score: float) -> str:
        """How sure that is, in percent."""
        return f"{100 * score / BEST_RATING:.0f}{NBSP}%"

    def odd(self) -> frozenset[tuple[int, str, int]]:
        """Answers that the others contradict."""
        return frozenset((person, GOES, band) for band in self.evaluated.odd for person in self.said.by_person)

    def waiting(self) -> list[TowerNextOut]:
        """Holes nobody tried, tightest first."""
        mine = self.mine.get(GOES, {})
        return [
            TowerNextOut(band=band, key=GOES, last=False)
            for band in range(self.count)
            if band not in self.out and band not in mine
        ]

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before four holes were tried."""
        del early
        found = self.evaluated
        if found.verdict is FitVerdict.REFUSE:
            return None
        verdict, reason = _VERDICTS[found.verdict]
        if found.gap_mm is not None and found.gap_mm == self.inputs.current:
            verdict, reason = Verdict.KEEP, TowerReason.WILL_DO
        said = self.answer(
            verdict, reason, sentence=words.fit_said(found), proposal=found.gap_mm, half=self._half(found, free=self._free),
            limited_by=words.BY_HAND, remarks=self._remarks(found), next_run=self._next(found),
        )  # fmt: skip
        return said.model_copy(update={"title": words.title_said(found, free=self._free)})

    def _half(self, found: FitResult, *, free: bool) -> float | None:
        low, high = (found.free_low_mm, found.free_high_mm) if free else (found.snug_low_mm, found.snug_high_mm)
        return None if low is None or high is None or found.gap_mm is None else (high - low) / 2

    def _next(self, found: FitResult) -> dict[str, float]:
        """Fields of the ladder that goes on from here."""
        gaps = self.inputs.values
        span = gaps[-1] - gaps[0]
        match found.verdict:
            case FitVerdict.EXTEND_WIDER:
                return {"low": gaps[-2], "high": gaps[-2] + span}
            case FitVerdict.EXTEND_TIGHTER if found.gap_mm is None:
                return {"low": gaps[1] - span, "high": gaps[1]}
            case FitVerdict.FINER_STEPS if found.snug_gap_mm is not None:
                return {"low": found.snug_gap_mm - span / 4, "high": found.snug_gap_mm + span / 4}
        return {}

    def _remarks(self, found: FitResult) -> list[str]:
        """What contours of a size piece would take of the gap; nothing where none was measured or no peg was printed."""
        decided = _SIZES.first(self.run.setup_id)
        half = self._half(found, free=self._free)
        if decided is None or half is None or found.gap_mm is None or self.inputs.mate:
            return []
        figures = decided.figures
        offsets = [figures.get(f"{side}_offset_mm") for side in ("outer", "inner")]
        halves = [figures.get(f"{side}_half_width_95_mm") for side in ("outer", "inner")]
        if None in offsets or None in halves:
            return []
        return [words.combined_said(fit_combine(found.gap_mm, half, *offsets, *halves), decided.run_id)]

    def files(self) -> list[File]:
        """The file that prints it, and the ladder as a body for a person's own slicing program."""
        return [*super().files(), *body_files(self._body, words.SLICED_ELSEWHERE)]

    def _body(self, form: str) -> bytes:
        slab, bodies = fit_bodies(options_of(self.inputs, self.run.setup.nozzle.bore_mm))
        return written(bodies, form, slab)

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        found = self.evaluated
        return {
            "count": len(self.readings), "said": found.verdict.value, "wants": self.inputs.wants, "gap_mm": found.gap_mm,
            "snug_gap_mm": found.snug_gap_mm, "free_gap_mm": found.free_gap_mm,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The gap asked for, applied or kept; and the other one too where the ladder names it."""
        current, made = self.inputs.current, []
        for wants, kind in KINDS_OF.items():
            found, asked = self._found(wants), wants == self.inputs.wants
            number = found.gap_mm if decision.action == "apply" else (current if asked else None)
            if number is not None:
                made.append(
                    self.new_value(kind, number, self._half(found, free=wants == "free"), decision, self.inputs.unit)
                )
        return made

    def heading(self) -> list[tuple[str, str]]:
        """What the head of its file says of its bands."""
        return [gaps_heading(self.inputs.values)]
