"""A retraction tower: strings and gaps rated band by band, and the least that is good enough."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from ubrex.core.calibrate import (
    BEST_RATING,
    RetractionResult,
    RetractionSample,
    RetractionVerdict,
    Row,
    TowerReason,
    evaluate_retraction,
)
from ubrex.core.chain import Kind
from ubrex.core.materials import Stiffness, family, foams
from ubrex.core.quantity import Verdict, decimal_text
from ubrex.server.calibrations import _tower_words as tower_words
from ubrex.server.calibrations._tower import FEW_BANDS, MISSING, Tower
from ubrex.server.calibrations.retraction import _words as words
from ubrex.server.calibrations.retraction._start import RetractionInputs
from ubrex.server.profile import NewValue
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.views.runs import ResultOut
from ubrex.server.views.towers import ScaleOut, TowerNextOut
from ubrex.server.words.numbers import DASH, plain, unit_text

NAMED: Final = 3
"""Contradictions that are named at most."""

WORTH_SAYING: Final = 0.005
"""A belief below this shows as 0 %."""

_REASONS: Final = {
    RetractionVerdict.DOES_NOT_RESPOND: TowerReason.NOT_THE_LEVER,
    RetractionVerdict.BEYOND_LIMIT: TowerReason.BEYOND_CAP,
    RetractionVerdict.AT_LIMIT: TowerReason.BEYOND_CAP,
    RetractionVerdict.CONFLICT_GAP: TowerReason.STARVED,
    RetractionVerdict.UNCLEAR: TowerReason.FINER,
    RetractionVerdict.EXTEND_LONGER: TowerReason.LONGER,
    RetractionVerdict.TOO_FEW_BANDS: TowerReason.TOO_FEW_BANDS,
    RetractionVerdict.NOTHING_RATED: TowerReason.NOTHING_RATED,
    RetractionVerdict.NO_BAND_LEFT: TowerReason.NO_BAND_LEFT,
}


@dataclass(frozen=True)
class RetractionCase(Tower[RetractionInputs]):
    """A retraction tower with its ratings."""

    inputs_type = RetractionInputs
    vetoes = ("clicks", "failed", MISSING)
    kind = Kind.RETRACTION

    @property
    def keys(self) -> tuple[str, ...]:
        """What is rated."""
        return ("strings", "gap")

    @cached_property
    def sample(self) -> RetractionSample:
        """The tower as the core judges it: a band that failed was never rated, one that clicked cuts all longer ones."""
        inputs, setup = self.inputs, self.run.setup
        failed = self.said.marked("failed") | self.said.marked(MISSING)

        def rows(key: str) -> tuple[Row, ...]:
            return tuple(
                [None if band in failed else value for band, value in enumerate(row)]
                for _, row in self.said.rows(key, self.count)
            )

        return RetractionSample(
            distances_mm=tuple(inputs.values),
            strings=rows("strings"),
            gaps=rows("gap"),
            crossings=inputs.crossings,
            direct=setup.toolhead.machine.feed_path == "direct",
            stiffness=family(setup.filament.family).stiffness or Stiffness.SEMI,
            vetoed=self.said.marked("clicks"),
            out=failed,
            in_use=inputs.current,
        )

    @property
    def out(self) -> frozenset[int]:
        """Bands that failed or clicked, and all longer than one that clicked."""
        clicked = [self.inputs.values[band] for band in self.said.marked("clicks")]
        beyond = {band for band, value in enumerate(self.inputs.values) if clicked and value >= min(clicked)}
        return self.said.marked("failed") | self.said.marked(MISSING) | frozenset(beyond)

    @cached_property
    def evaluated(self) -> RetractionResult:
        """What the tower says."""
        return evaluate_retraction(self.sample)

    @property
    def proven(self) -> bool:
        """Whether a change is shown to be worth making."""
        return self._verdict[0] is Verdict.APPLY

    @property
    def _verdict(self) -> tuple[Verdict, TowerReason]:
        found = self.evaluated
        if found.verdict not in {RetractionVerdict.PICK, RetractionVerdict.GOOD_EVERYWHERE}:
            refused = found.figures is None or found.verdict is RetractionVerdict.NO_BAND_LEFT
            return (Verdict.REFUSE if refused else Verdict.REPEAT), _REASONS[found.verdict]
        if found.figures is not None and found.figures.in_use_stays:
            return Verdict.KEEP, TowerReason.WILL_DO
        return Verdict.APPLY, TowerReason.BEST_BAND

    @property
    def _step(self) -> float:
        ordered = sorted(self.inputs.values)
        return (ordered[-1] - ordered[0]) / max(1, len(ordered) - 1)

    def most(self, key: str) -> int:
        """Strings that are counted go up to the crossings of a band."""
        return self.inputs.crossings if key == "strings" and self.inputs.crossings is not None else super().most(key)

    def scale(self, key: str) -> ScaleOut:
        """The scale of a key; where strings are counted there are no words to choose from."""
        shown = super().scale(key)
        if shown.most == BEST_RATING:
            return shown
        return shown.model_copy(
            update={
                "look": words.crossings_said(self.inputs.crossings),
                "words": [],
                "sentences": [words.COUNT],
            }
        )

    def method_name(self) -> str:
        """How it is found."""
        return words.method_said(self.count, "distances")

    def cells(self) -> list[CellOut]:
        """Bands printed, and what is in use."""
        inputs, unit = self.inputs, unit_text(self.inputs.unit.value)
        now = inputs.current
        in_use = "nothing yet" if now is None else f"{decimal_text(now, inputs.places)} {unit}"
        return [
            CellOut(
                label="Printed",
                value=f"{self.text(0)}{DASH}{self.text(self.count - 1)} {unit}",
                detail=words.bands_said(self.count, inputs.nozzle_c),
            ),
            CellOut(label="In use", value=in_use, detail=words.most_here_said(self.sample.most, self.inputs.unit)),
        ]

    def facts(self) -> list[str]:
        """The cap and its reason, with what towers always say."""
        cap = self.sample.cap
        return [
            words.most_said(self.sample.most, self.inputs.unit, cap.why),
            *super().facts(),
        ]

    def finding(self) -> str | None:
        """Ratings that contradict the rest."""
        figures = self.evaluated.figures
        if figures is None or not figures.contradictions:
            return None
        named = [tower_words.cell_said("strings", self.text(band), "") for _, band in figures.contradictions[:NAMED]]
        return tower_words.unlikely_said(named)

    def odd(self) -> frozenset[tuple[int, str, int]]:
        """Ratings the others make unlikely."""
        figures = self.evaluated.figures
        people = [person for person, _ in self.said.rows("strings", self.count)]
        if figures is None:
            return frozenset()
        return frozenset((people[rater], "strings", band) for rater, band in figures.contradictions)

    def pick(self) -> tuple[frozenset[int], int | None]:
        """Bands that are good enough, and the least of them."""
        figures = self.evaluated.figures
        if figures is None:
            return frozenset(), None
        good = frozenset(band for band in figures.good if band not in self.out)
        offered = None
        if figures.distance_mm is not None:
            offered = self.inputs.values.index(figures.distance_mm)
        return good, offered

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """Quality of the strings of each band."""
        figures = self.evaluated.figures
        if figures is None:
            return [None] * self.count
        return [
            None if band in self.out else (quality, std)
            for band, (quality, std) in enumerate(zip(figures.quality, figures.quality_std, strict=True))
        ]

    def score_name(self) -> str:
        """What the bars show."""
        return words.ALL_STRINGS

    def waiting(self) -> list[TowerNextOut]:
        """Cells still asked for: strings of both ends and the middle, the rest of them, then the gaps."""
        bands = [band for band in range(self.count) if band not in self.out]
        if not bands:
            return []
        order = dict.fromkeys([bands[0], bands[-1], bands[len(bands) // 2], *bands])
        return [
            TowerNextOut(band=band, key=key, last=False)
            for key in self.keys
            for band in order
            if band not in self.mine.get(key, {})
        ]

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before enough is rated to say anything."""
        found, inputs = self.evaluated, self.inputs
        if found.verdict is RetractionVerdict.NOTHING_RATED or (len(self.readings) < self.asked and not early):
            return None
        verdict, reason = self._verdict
        figures = found.figures
        picked = None if figures is None else figures.distance_mm
        unit, filament = unit_text(inputs.unit.value), self.run.setup.filament
        sentence = words.retraction_said(
            found.verdict,
            distance="" if picked is None else decimal_text(picked, inputs.places),
            cap=plain(self.sample.most),
            why=self.sample.cap.why,
            last=decimal_text(max(inputs.values), inputs.places),
            foaming=foams(filament.family, filament.flags),
            unit=unit,
            in_use=decimal_text(inputs.current, inputs.places) if inputs.current and verdict is Verdict.KEEP else "",
        )
        remarks = [tower_words.few_said(self.count)] if self.count <= FEW_BANDS else []
        if figures is not None and figures.p_no_response >= WORTH_SAYING:
            remarks.append(words.no_response_said(figures.p_no_response))
        ask = (
            words.as_good_said(decimal_text(inputs.current or 0.0, inputs.places), unit)
            if verdict is Verdict.KEEP
            else None
        )
        return self.answer(
            verdict, reason, sentence=sentence, proposal=picked, half=None if picked is None else self._step / 2,
            limited_by=words.ONE_AT_A_TIME, remarks=remarks, ask=ask,
            next_run=self._next_run(),
        )  # fmt: skip

    def _next_run(self) -> dict[str, float]:
        """Ends of the tower that goes on where this one ends, or of a finer one near its end; none beyond the cap."""
        ordered = sorted(self.inputs.values)
        match self.evaluated.verdict:
            case RetractionVerdict.EXTEND_LONGER:
                return {"shortest": ordered[-2], "longest": self.sample.most}
            case RetractionVerdict.UNCLEAR:
                return {"shortest": ordered[-3], "longest": min(ordered[-1], self.sample.most)}
        return {}

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self.evaluated.figures
        kept: dict[str, Any] = {"count": len(self.readings), "said": self.evaluated.verdict.value}
        if figures is not None:
            kept |= {"p_no_response": figures.p_no_response, "picked": figures.distance_mm}
        return kept

    def decided(self, decision: Decision) -> list[NewValue]:
        """The distance, applied or kept."""
        figures = self.evaluated.figures
        number = self.inputs.current
        if decision.action == "apply" and figures is not None and figures.distance_mm is not None:
            number = figures.distance_mm
        if number is None:
            return []
        return [self.new_value(Kind.RETRACTION, number, self._step / 2, decision, self.inputs.unit)]
