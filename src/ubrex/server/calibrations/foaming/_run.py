"""A foaming run: single walls measured band by band, with a mark for what the heat has spoiled."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, ClassVar, Final

from ubrex.core.calibrate import (
    FoamFigures,
    FoamResult,
    FoamSample,
    FoamVerdict,
    TowerReason,
    coolest_alike,
    evaluate_foaming,
)
from ubrex.core.chain import Kind
from ubrex.core.gcode.pieces import ARMS
from ubrex.core.quantity import Unit, Verdict, decimal_text, half_width_places
from ubrex.server.calibrations._case import Entry, coarsest, without_zero, zero_remarks
from ubrex.server.calibrations._edits import read_skip, read_zero
from ubrex.server.calibrations._measured import Doubt, question_of
from ubrex.server.calibrations._places import places_out
from ubrex.server.calibrations._tower import MISSING, Tower, place_of
from ubrex.server.calibrations._tower_start import HeatTowerInputs
from ubrex.server.calibrations.foaming import _words as words
from ubrex.server.calibrations.foaming._start import FIRST_ARMS
from ubrex.server.desk import FieldProblem
from ubrex.server.profile import NewValue
from ubrex.server.store.records import Decision, Reading
from ubrex.server.views.base import CellOut
from ubrex.server.views.pieces import PlaceOut
from ubrex.server.views.runs import Action, ResultOut, RunEditIn
from ubrex.server.views.towers import TowerNextOut
from ubrex.server.words.numbers import DASH, NBSP, plain, step_places

_REASONS: Final = {
    FoamVerdict.EXTEND_HOTTER: TowerReason.BEST_BEYOND,
    FoamVerdict.EXTEND_COOLER: TowerReason.BEST_BEYOND,
    FoamVerdict.NO_RESPONSE: TowerReason.NO_FOAM,
    FoamVerdict.TOO_FEW_BANDS: TowerReason.TOO_FEW_BANDS,
    FoamVerdict.NO_BAND_LEFT: TowerReason.NO_BAND_LEFT,
}


@dataclass(frozen=True)
class FoamCase(Tower[HeatTowerInputs]):
    """A foaming run with its widths, and the marks on its bands."""

    inputs_type = HeatTowerInputs
    score_places: ClassVar[int] = 3
    edits: ClassVar[tuple[Action, ...]] = ("band_out", "swap", "photos", "zero", "skip")
    vetoes: ClassVar[tuple[str, ...]] = ("drops", "snaps", "smell", "failed", MISSING)

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """What any tower has, a zero, or an arm passed over."""
        edit = super().edited(form) | read_zero(form)
        return edit | read_skip(form, self.next_place(), self.inputs.skipped)

    def allows(self, edit: Action) -> bool:
        """An arm can be passed over while one is next."""
        return edit != "skip" or self.next_place() is not None

    @property
    def unit(self) -> Unit:
        """Widths stand in its list of readings."""
        return Unit.MM

    @property
    def entry(self) -> Entry:
        """How the next width is read in."""
        place = self.next_place()
        return Entry(
            reads=self.reads(), unit=Unit.MM, asked=self.asked, question=self.question, implied="0.", place=place,
            ahead=self.ahead(), full=place is None, spots=self._spots,
        )  # fmt: skip

    @property
    def keys(self) -> tuple[str, ...]:
        """Nothing is rated: walls are measured."""
        return ()

    def place_label(self, place: str) -> str:
        """The band, and its arm or what is wrong with it."""
        band, _, key = place.partition(":")
        return f"{self.text(int(band))} arm {key}" if key in ARMS else super().place_label(place)

    @property
    def walk(self) -> Sequence[str]:
        """Places in walking order: three arms of each band from the bottom, then the fourth of each."""
        missing = self.said.marked(MISSING)
        bands = [band for band in range(self.count) if band not in missing]
        first = [place_of(band, arm) for band in bands for arm in ARMS[:FIRST_ARMS]]
        return first + [place_of(band, arm) for band in bands for arm in ARMS[FIRST_ARMS:]]

    @property
    def asked(self) -> int:
        """Readings before a result is shown: three of each band that was printed."""
        return FIRST_ARMS * (self.count - len(self.said.marked(MISSING)))

    @property
    def measured(self) -> list[Reading]:
        """Widths; what takes a band out is not among them."""
        return [row for row in self.readings if row.unit == Unit.MM.value]

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        if place is None:
            return self.calibration.words.reads
        band, _, arm = place.partition(":")
        return f"{self.text(int(band))}{NBSP}°C, arm {arm}"

    def widths_of(self, band: int) -> list[float]:
        """Widths of one band [mm], a wrong zero taken off."""
        return [
            without_zero(row, self.inputs.zero_mm)
            for row in self.measured
            if row.place is not None and row.place.startswith(f"{band}:")
        ]

    @property
    def out(self) -> frozenset[int]:
        """Bands that heat has spoiled, all hotter ones, and what failed or was not printed."""
        spoiled = [self.inputs.values[band] for key in ("drops", "snaps", "smell") for band in self.said.marked(key)]
        hotter = {band for band, value in enumerate(self.inputs.values) if spoiled and value >= min(spoiled)}
        return self.said.marked("failed") | self.said.marked(MISSING) | frozenset(hotter)

    @cached_property
    def sample(self) -> FoamSample | None:
        """The tower as the core judges it, coldest first; None while a band has no reading."""
        left_out = self.said.marked("failed") | self.said.marked(MISSING)
        bands = sorted(
            (band for band in range(self.count) if band not in left_out), key=lambda band: self.inputs.values[band]
        )
        widths = tuple(tuple(self.widths_of(band)) for band in bands)
        if not all(widths):
            return None
        return FoamSample(
            temperatures_c=tuple(self.inputs.values[band] for band in bands),
            widths_mm=widths,
            bead=self.inputs.bead,
            flow=self.inputs.flow / 100,
            tool=coarsest(self.measured, self.run),
            vetoed=frozenset(place for place, band in enumerate(bands) if band in self.out),
        )

    @cached_property
    def evaluated(self) -> FoamResult | None:
        """What the tower says, at the temperature in use where that will do, else at its best."""
        if self.sample is None:
            return None
        free = evaluate_foaming(self.sample)
        chosen = self._chosen(free)
        return free if chosen is None else evaluate_foaming(replace(self.sample, chosen_c=chosen))

    def _chosen(self, free: FoamResult) -> float | None:
        """The temperature in use inside the interval; else the coolest of a plateau, or the peak to a whole degree."""
        figures, sample = free.figures, self.sample
        if figures is None or sample is None or figures.peak_low_c is None or figures.peak_high_c is None:
            return None
        allowed = [value for place, value in enumerate(sample.temperatures_c) if place not in sample.vetoed]
        most = max(allowed, default=sample.temperatures_c[0])
        inputs = self.inputs
        if inputs.current is not None and figures.peak_low_c <= inputs.current <= min(figures.peak_high_c, most):
            return inputs.current
        best = figures.peak_c
        if free.verdict is FoamVerdict.PLATEAU:
            best = coolest_alike(allowed, figures)
        return None if best is None else min(float(round(best)), most)

    @property
    def _figures(self) -> FoamFigures | None:
        return None if self.evaluated is None else self.evaluated.figures

    @property
    def proven(self) -> bool:
        """Whether a change is shown to be worth making."""
        return self._verdict[0] is Verdict.APPLY

    @property
    def _verdict(self) -> tuple[Verdict, TowerReason]:
        found, figures = self.evaluated, self._figures
        if found is None:
            return Verdict.REPEAT, TowerReason.NOTHING_RATED
        if found.verdict not in {FoamVerdict.PEAK, FoamVerdict.PLATEAU}:
            refused = figures is None
            return (Verdict.REFUSE if refused else Verdict.REPEAT), _REASONS[found.verdict]
        if (
            figures is not None
            and figures.chosen_c is not None
            and figures.chosen_c == self.inputs.current
            and self._flow_will_do
        ):
            return Verdict.KEEP, TowerReason.WILL_DO
        return Verdict.APPLY, TowerReason.BEST_BAND

    @property
    def _flow_will_do(self) -> bool:
        figures = self._figures
        if figures is None or figures.flow_low is None or figures.flow_high is None:
            return False
        return figures.flow_low <= self.inputs.flow / 100 <= figures.flow_high

    def method_name(self) -> str:
        """How it is found."""
        return words.method_said(self.count)

    def cells(self) -> list[CellOut]:
        """Bands printed and the flow of all of them."""
        inputs = self.inputs
        return [
            CellOut(
                label="Printed",
                value=f"{plain(min(inputs.values))}{DASH}{plain(max(inputs.values))} °C",
                detail=f"{self.count} bands, flow {plain(inputs.flow)} %",
            ),
            CellOut(
                label="In use",
                value="nothing yet" if inputs.current is None else f"{plain(inputs.current)} °C",
                detail=f"all at {plain(round(self.speed_mm_s, 1))} mm/s",
            ),
        ]

    def question(self, number: float) -> FieldProblem | None:
        """What to ask about a width before it is taken: it looks like a slip beside the last one, or beside the line."""
        line = self.inputs.line_width_mm
        usual = self.measured[-1].number if self.measured else line
        doubt = Doubt(noun="width", usual=usual, low=line / 5, high=line * 5, impossible=words.NO_LINE, far=None)
        return question_of(number, doubt, Unit.MM)

    def _spots(self) -> list[PlaceOut]:
        """Where to measure: of the arms those of the band that is next."""
        here = self.next_place()
        band = 0 if here is None else int(here.partition(":")[0])
        spots = {place_of(band, place.name): place for place in self.made[0].plan.places if place.group == str(band)}
        texts = {row.place: decimal_text(row.number, step_places(row.resolution)) for row in self.measured if row.place}
        first = [place_of(band, arm) for arm in ARMS[:FIRST_ARMS]]
        return places_out(spots, first, texts, here, self.inputs.skipped)

    def facts(self) -> list[str]:
        """What is to be known beside the bands."""
        return [*super().facts(), words.STRINGS_EXPECTED]

    def pick(self) -> tuple[frozenset[int], int | None]:
        """Bands inside the interval of the peak, and the one nearest to what is offered."""
        figures = self._figures
        if figures is None or figures.peak_low_c is None or figures.peak_high_c is None:
            return frozenset(), None
        low, high = figures.peak_low_c, figures.peak_high_c
        inside = frozenset(
            band for band, value in enumerate(self.inputs.values) if low <= value <= high and band not in self.out
        )
        chosen = figures.chosen_c
        left = [band for band in range(self.count) if band not in self.out]
        if chosen is None or not left:
            return inside, None
        return inside, min(left, key=lambda band: abs(self.inputs.values[band] - chosen))

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """Mean width of each band [mm], and how well it repeats."""
        spread = 0.0 if self._figures is None else self._figures.band.std
        rows = [self.widths_of(band) for band in range(self.count)]
        return [(sum(row) / len(row), spread) if row else None for row in rows]

    def score_name(self) -> str:
        """What the bars show."""
        return words.WIDTH

    def widths(self, band: int) -> str:
        """Widths measured on a band."""
        places = step_places(self.run.instrument.resolution)
        return "  ".join(decimal_text(width, max(2, places)) for width in self.widths_of(band))

    def waiting(self) -> list[TowerNextOut]:
        """The arms still asked for."""
        done = {row.place for row in self.measured}
        wanted = [place for place in self.walk[: self.asked] if place not in done]
        return [
            TowerNextOut(band=int(place.partition(":")[0]), key=place.partition(":")[2], last=False) for place in wanted
        ]

    def left(self) -> str:
        """How many widths are still asked for."""
        return words.left_said(len(self.waiting()))

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; the curve takes every band, so there is none before."""
        del early
        found, figures, inputs = self.evaluated, self._figures, self.inputs
        if found is None or (self.waiting() and found.figures is None):
            return None
        verdict, reason = self._verdict
        flow = None if figures is None else figures.flow
        settled = found.verdict in {FoamVerdict.PEAK, FoamVerdict.PLATEAU}
        proposal = figures.chosen_c if figures is not None and settled and flow is not None else None
        half = None
        if figures is not None and figures.flow_low is not None and flow is not None:
            half = 100 * (flow - figures.flow_low)
        shown_half = "" if half is None else decimal_text(half, half_width_places(half))
        sentence = words.foam_said(
            found.verdict,
            chosen="" if figures is None or figures.chosen_c is None else plain(figures.chosen_c),
            low="" if figures is None or figures.peak_low_c is None else plain(round(figures.peak_low_c)),
            high="" if figures is None or figures.peak_high_c is None else plain(round(figures.peak_high_c)),
            flow="" if flow is None else decimal_text(100 * flow, 1),
            half=shown_half,
            ends=(plain(min(inputs.values)), plain(max(inputs.values))),
        )
        remarks = []
        if figures is not None and figures.density_ratio is not None and settled:
            remarks.append(words.volume_said(figures.density_ratio))
        remarks += zero_remarks(self.measured, inputs.zero_mm)
        peak_half = None
        if figures is not None and figures.peak_low_c is not None and figures.peak_high_c is not None:
            peak_half = (figures.peak_high_c - figures.peak_low_c) / 2
        answer = self.answer(
            verdict, reason, sentence=sentence, proposal=proposal, half=peak_half,
            limited_by=words.OUTSIDE_FITS,
            remarks=remarks, same=self._flow_will_do,
        )  # fmt: skip
        if not answer.proposal or flow is None:
            return answer
        title = words.with_flow_said(answer.title, 100 * flow) if verdict is Verdict.APPLY else answer.title
        return answer.model_copy(update={"title": title, "half_width_text": words.flow_said(100 * flow, half or 0.0)})

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures, found = self._figures, self.evaluated
        if figures is None or found is None:
            return {"count": len(self.measured)}
        return {
            "count": len(self.measured), "said": found.verdict.value, "peak_c": figures.peak_c,
            "chosen_c": figures.chosen_c, "width_mm": figures.width_mm, "flow": figures.flow,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The temperature and its flow, applied; or those that are in use, kept."""
        figures, inputs = self._figures, self.inputs
        celsius, flow, half = inputs.current, inputs.flow, None
        if figures is not None and figures.flow is not None and figures.flow_low is not None:
            half = 100 * (figures.flow - figures.flow_low)
            if decision.action == "apply" and figures.chosen_c is not None:
                celsius, flow = figures.chosen_c, round(100 * figures.flow, 1)
        peak_half = None
        if figures is not None and figures.peak_low_c is not None and figures.peak_high_c is not None:
            peak_half = (figures.peak_high_c - figures.peak_low_c) / 2
        made = [self.new_value(Kind.FLOW, flow, half, decision, Unit.PERCENT)]
        if celsius is not None:
            made.insert(0, self.new_value(Kind.NOZZLE, celsius, peak_half, decision, Unit.CELSIUS))
        return made
