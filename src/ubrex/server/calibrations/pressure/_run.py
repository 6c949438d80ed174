"""A pressure tower: corners and speeding up rated band by band, and where both cross zero."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from ubrex.core.calibrate import PressureResult, PressureVerdict, TowerReason, pressure_tower
from ubrex.core.chain import Kind
from ubrex.core.quantity import Verdict, decimal_text
from ubrex.server.calibrations._tower import Tower
from ubrex.server.calibrations._tower_words import OFFERED
from ubrex.server.calibrations.pressure import _words as words
from ubrex.server.calibrations.pressure._start import PressureInputs
from ubrex.server.profile import NewValue
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.views.runs import CurveMarkOut, CurveOut, CurvePointOut, CurveSeriesOut, ResultOut
from ubrex.server.views.towers import TowerNextOut
from ubrex.server.words.scales import SCALES

RIGHT: Final = 2
"""The figure that means *right* on a scale with a sign."""

_VERDICTS: Final = {
    PressureVerdict.PICK: (Verdict.APPLY, TowerReason.BEST_BAND),
    PressureVerdict.KEEP: (Verdict.KEEP, TowerReason.WILL_DO),
    PressureVerdict.NONE_NEEDED: (Verdict.APPLY, TowerReason.BEST_BAND),
    PressureVerdict.UNCLEAR: (Verdict.REPEAT, TowerReason.FINER),
    PressureVerdict.EXTEND_HIGHER: (Verdict.REPEAT, TowerReason.BEST_BEYOND),
    PressureVerdict.EXTEND_LOWER: (Verdict.REPEAT, TowerReason.BEST_BEYOND),
    PressureVerdict.CRITERIA_DISAGREE: (Verdict.REPEAT, TowerReason.MUST_NOT_MET),
    PressureVerdict.DOES_NOT_RESPOND: (Verdict.REPEAT, TowerReason.NOT_THE_LEVER),
    PressureVerdict.CONTRADICTORY: (Verdict.REFUSE, TowerReason.NOT_THE_LEVER),
    PressureVerdict.REFUSE: (Verdict.REPEAT, TowerReason.NOTHING_RATED),
}


@dataclass(frozen=True)
class PressureCase(Tower[PressureInputs]):
    """A pressure tower with its ratings."""

    inputs_type = PressureInputs
    kind = Kind.PRESSURE

    @property
    def keys(self) -> tuple[str, ...]:
        """What is rated: each criterion apart."""
        return ("slow_down", "speed_up")

    def _row(self, key: str) -> list[int | None]:
        """The words of the first who rated a criterion, with their sign; bands that are out have none."""
        return [None if value is None else value - RIGHT for value in self.first_answers(key)[1]]

    @cached_property
    def evaluated(self) -> PressureResult:
        """What the tower says."""
        corners, starts = self._row("slow_down"), self._row("speed_up")
        enough = sum(word is not None for word in starts) >= self.inputs.asked
        return pressure_tower(
            self.inputs.values, corners, speed_up=starts if enough else None, in_use_s=self.inputs.current
        )

    @property
    def proven(self) -> bool:
        """Whether a change is shown to be worth making."""
        return _VERDICTS[self.evaluated.verdict][0] is Verdict.APPLY

    @property
    def proposal(self) -> float | None:
        """Compensation to set [s]; None where none is named."""
        found = self.evaluated
        return 0.0 if found.verdict is PressureVerdict.NONE_NEEDED else found.band_s

    def method_name(self) -> str:
        """How it is found."""
        return f"{self.calibration.words.short}, {self.count} bands"

    def cells(self) -> list[CellOut]:
        """Values, speeds, and what is in use."""
        inputs = self.inputs
        now = "nothing" if inputs.current is None else f"{decimal_text(inputs.current, 3)} s"
        return [
            CellOut(
                label="Compensation", value=words.bands_said(inputs.values[0], inputs.values[-1], self.count),
                detail=f"{inputs.slow_mm_s:g} and {self.speed_mm_s:g} mm/s",
            ),
            CellOut(label="In use", value=now, detail=inputs.line),
        ]  # fmt: skip

    def pick(self) -> tuple[frozenset[int], int | None]:
        """Bands inside the interval, and the one that is offered."""
        found, values = self.evaluated, self.inputs.values
        if found.low_s is None or found.high_s is None:
            return frozenset(), None
        inside = frozenset(band for band, value in enumerate(values) if found.low_s <= value <= found.high_s)
        offered = values.index(found.band_s) if found.band_s in values else None
        return inside, offered

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """None: a scale with a sign has no best."""
        return [None] * self.count

    def score_name(self) -> str:
        """Nothing: there are no scores."""
        return ""

    def curve(self) -> CurveOut | None:
        """Both looks with their sign, and between which values the answer lies."""
        found = self.evaluated
        series = [
            CurveSeriesOut(
                name=SCALES[key].name,
                points=[
                    CurvePointOut(x=value, y=float(word), spread=0.0, text=f"{self.text(band)}: {word:+d}")
                    for band, (value, word) in enumerate(zip(self.inputs.values, self._row(key), strict=True))
                    if word is not None
                ],
            )
            for key in self.keys
        ]
        marks = [] if found.band_s is None else [CurveMarkOut(x=found.band_s, text=OFFERED, offered=True)]
        return CurveOut(
            x_name=self.band_unit(), y_name=words.SIGNED, series=[one for one in series if one.points], marks=marks,
            low=found.low_s, high=found.high_s, level=0.0, level_text=words.MIDDLE,
        )  # fmt: skip

    def waiting(self) -> list[TowerNextOut]:
        """Cells still asked for: corners from end to end first."""
        return [
            TowerNextOut(band=band, key=key, last=False)
            for key in self.keys
            for band in range(self.count)
            if band not in self.out and band not in self.mine.get(key, {})
        ]

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before enough is rated to say anything."""
        del early
        found = self.evaluated
        if found.verdict is PressureVerdict.REFUSE:
            return None
        verdict, reason = _VERDICTS[found.verdict]
        proposal = self.proposal
        half = None if proposal is None else ((found.high_s or 0.0) - (found.low_s or 0.0)) / 2
        said = self.answer(
            verdict, reason, sentence=words.pressure_said(found, self.inputs.values[-1]), proposal=proposal, half=half,
            limited_by=words.DEPENDS,
        )  # fmt: skip
        return said.model_copy(update={"title": words.title_said(found)})

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        found = self.evaluated
        return {
            "count": len(self.readings), "said": found.verdict.value, "zero_s": found.zero_s, "low_s": found.low_s,
            "high_s": found.high_s, "p_no_response": found.p_no_response, "speed_mm_s": self.speed_mm_s,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The compensation, applied or kept."""
        found, number = self.evaluated, self.inputs.current
        if decision.action == "apply" and self.proposal is not None:
            number = self.proposal
        if number is None:
            return []
        half = None if found.low_s is None or found.high_s is None else (found.high_s - found.low_s) / 2
        return [self.new_value(Kind.PRESSURE, number, half, decision, self.inputs.unit)]
