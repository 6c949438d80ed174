"""Foaming filament: a tower of single walls, measured band by band, with a veto for what the heat has spoiled."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property
from typing import Any

from ubrex.core.calibrate import (
    FOAMING_RULE_VERSION,
    FoamFigures,
    FoamResult,
    FoamSample,
    FoamVerdict,
    coolest_alike,
    evaluate_foaming,
)
from ubrex.core.chain import Kind, Origin, Standing
from ubrex.core.gcode.pieces import ARMS
from ubrex.core.quantity import (
    FarOff,
    Impossible,
    Reason,
    Slip,
    Unit,
    Verdict,
    check_entry,
    decimal_text,
    half_width_places,
)
from ubrex.server.calibrations import edits, placed
from ubrex.server.calibrations.measured import JAWS
from ubrex.server.calibrations.rated import MISSING, TowerCase, place_of
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import piece_out
from ubrex.server.profile import NewValue
from ubrex.server.store.records import Decision, Reading
from ubrex.server.views.base import CautionOut, CellOut
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.runs import ResultOut, RunEditIn
from ubrex.server.views.towers import TowerNextOut
from ubrex.server.views.values import StripOut, StripReadingOut
from ubrex.server.words import towers as words
from ubrex.server.words.numbers import DASH, NBSP, plain, plus_minus, step_places

FIRST_ARMS = 3
"""Arms of each band that are asked for; the fourth is there for more."""

_REASONS = {
    FoamVerdict.EXTEND_HOTTER: Reason.BEST_BEYOND,
    FoamVerdict.EXTEND_COOLER: Reason.BEST_BEYOND,
    FoamVerdict.NO_RESPONSE: Reason.NO_FOAM,
    FoamVerdict.TOO_FEW_BANDS: Reason.TOO_FEW_BANDS,
    FoamVerdict.NO_BAND_LEFT: Reason.NO_BAND_LEFT,
}


class FoamCase(TowerCase):
    """A foaming run with its widths and vetoes."""

    rule_version = FOAMING_RULE_VERSION
    tools = JAWS
    unit = Unit.MM
    implied = "0."
    score_places = 3
    edits = (*TowerCase.edits, "zero", "skip")
    vetoes = ("drops", "snaps", "smell", "failed", MISSING)

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """What any tower has, a zero, or an arm passed over."""
        edit = super().edited(form) | edits.zero(form)
        return edit | edits.skip(form, self.next_place(), self.inputs.skipped)

    @property
    def keys(self) -> tuple[str, ...]:
        """Nothing is rated: walls are measured."""
        return ()

    def place_text(self, reading: Reading) -> str:
        """The band, and its arm or what is wrong with it."""
        band, _, key = (reading.place or "").partition(":")
        return f"{self.text(int(band))} arm {key}" if key in ARMS else super().place_text(reading)

    @property
    def order(self) -> list[str]:
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

    def next_place(self) -> str | None:
        """The next arm without a reading."""
        return placed.first_open(self.order, (row.place for row in self.measured), self.inputs.skipped)

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        if place is None:
            return "width of a wall"
        band, _, arm = place.partition(":")
        return f"{self.text(int(band))}{NBSP}°C, arm {arm}"

    def widths_of(self, band: int) -> list[float]:
        """Widths of one band [mm], a wrong zero taken off."""
        return [
            row.number - self.inputs.zero_mm
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
            tool=placed.coarsest(self.measured, self.run.instrument),
            vetoed=frozenset(place for place, band in enumerate(bands) if band in self.out),
        )

    @cached_property
    def found(self) -> FoamResult | None:
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
        if inputs.in_use and figures.peak_low_c <= inputs.current <= min(figures.peak_high_c, most):
            return inputs.current
        best = figures.peak_c
        if free.verdict is FoamVerdict.PLATEAU:
            best = coolest_alike(allowed, figures)
        return None if best is None else min(float(round(best)), most)

    @property
    def _figures(self) -> FoamFigures | None:
        return None if self.found is None else self.found.figures

    @property
    def proven(self) -> bool:
        """Whether a change is shown to be worth making."""
        return self._verdict[0] is Verdict.APPLY

    @property
    def _verdict(self) -> tuple[Verdict, Reason]:
        found, figures = self.found, self._figures
        if found is None:
            return Verdict.REPEAT, Reason.MORE_REPEATS
        if found.verdict not in {FoamVerdict.PEAK, FoamVerdict.PLATEAU}:
            refused = figures is None
            return (Verdict.REFUSE if refused else Verdict.REPEAT), _REASONS[found.verdict]
        if (
            self.inputs.in_use
            and figures is not None
            and figures.chosen_c == self.inputs.current
            and self._flow_will_do
        ):
            return Verdict.KEEP, Reason.WILL_DO
        return Verdict.APPLY, Reason.BEST_BAND

    @property
    def _flow_will_do(self) -> bool:
        figures = self._figures
        if figures is None or figures.flow_low is None or figures.flow_high is None:
            return False
        return figures.flow_low <= self.inputs.flow / 100 <= figures.flow_high

    def method_name(self) -> str:
        """How it is found."""
        return f"foaming tower, {self.count} bands"

    def procedure(self) -> list[str]:
        """How it goes."""
        return list(words.FOAM_PROCEDURE)

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
                value=f"{plain(inputs.current)} °C" if inputs.in_use else "nothing yet",
                detail=f"all at {plain(round(self.speed_mm_s, 1))} mm/s",
            ),
        ]

    def cautions(self) -> list[CautionOut]:
        """What can hurt; foam past its peak gives off more."""
        foam = CautionOut(
            lead="Foam.", text="Past its peak it smokes and smells: air the room, stop the print, never sniff it hot."
        )
        return [foam, *super().cautions()]

    def question(self, number: float) -> FieldProblem | None:
        """What to ask about a width before it is taken: it looks like a slip beside the last one, or beside the line."""
        line = self.inputs.line_width_mm
        usual = self.measured[-1].number if self.measured else line
        found = check_entry(number, fed=lambda width: width, commanded=usual, low=line / 5, high=line * 5)
        shown = f"{plain(number)} mm"
        match found:
            case None | FarOff():
                return None
            case Slip(suggested=suggested):
                said = f"{shown} looks like a slipped point. Did you mean {plain(suggested)} mm?"
                return FieldProblem("typed", found.code, said, suggested=plain(suggested), confirmable=number > 0)
            case Impossible():
                said = (
                    "A width is above 0."
                    if number <= 0
                    else f"{shown} cannot be one line, foamed or not. Enter takes it as typed."
                )
                return FieldProblem("typed", found.code, said, confirmable=number > 0)

    def piece(self) -> PieceOut | None:
        """The cross from above; of its arms the one that is next."""
        made, manner = self.made
        here = self.next_place()
        band = 0 if here is None else int(here.partition(":")[0])
        spots = {place_of(band, place.name): place for place in made.plan.places if place.group == str(band)}
        texts = {row.place: decimal_text(row.number, step_places(row.resolution)) for row in self.measured if row.place}
        shown = placed.places_out(
            spots, [place_of(band, arm) for arm in ARMS[:FIRST_ARMS]], texts, here, self.inputs.skipped
        )
        return piece_out(made, self.tuned, manner, shown, [])

    def finding(self) -> str | None:
        """Strings are no fault here, once: nobody has to hear it twice."""
        return None

    def strip(self, shown: ResultOut | None) -> StripOut:  # noqa: ARG002
        """The widths of the band that is measured, on a bare strip."""
        last = next(reversed(self.measured), None)
        places = step_places(placed.coarsest(self.measured, self.run.instrument).resolution)
        band = None if last is None or last.place is None else int(last.place.partition(":")[0])
        rows = [] if band is None else [row for row in self.measured if (row.place or "").startswith(f"{band}:")]
        sentence = "Widths of one band at a time; the strip has no target, foam is swollen on purpose."
        return StripOut(
            unit="mm", places=max(2, places), step=self.run.instrument.resolution, standing=Standing.NEVER,
            readings=[
                StripReadingOut(
                    number=row.number - self.inputs.zero_mm, text=decimal_text(row.number, max(2, places)),
                    newest=row is last,
                )
                for row in rows
            ],
            measured_name="width, mm" if band is None else f"{self.text(band)} °C, mm", sentence=sentence,
        )  # fmt: skip

    def facts(self) -> list[str]:
        """What is to be known beside the bands."""
        return [*super().facts(), "strings are expected of foam: warm air, not retraction"]

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
        return "Width, mm"

    def widths(self, band: int) -> str:
        """Widths measured on a band."""
        places = step_places(self.run.instrument.resolution)
        return "  ".join(decimal_text(width, max(2, places)) for width in self.widths_of(band))

    def waiting(self) -> list[TowerNextOut]:
        """The arms still asked for."""
        done = {row.place for row in self.measured}
        wanted = [place for place in self.order[: self.asked] if place not in done]
        return [TowerNextOut(band=int(place.partition(":")[0]), key=place.partition(":")[2]) for place in wanted]

    def left(self) -> str:
        """How many widths are still asked for."""
        count = len(self.waiting())
        return "Every band is measured." if count == 0 else f"{count} width{'s' if count > 1 else ''} left."

    def result(self, *, early: bool) -> ResultOut | None:  # noqa: ARG002
        """The result as shown; the curve takes every band, so there is none before."""
        found, figures, inputs = self.found, self._figures, self.inputs
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
            remarks.append(
                f"{decimal_text(figures.density_ratio, 2)} times the volume of the coldest band for the same filament."
            )
        if inputs.zero_mm:
            remarks.append(f"A zero of {plain(inputs.zero_mm)} mm is taken off every width.")
        peak_half = None
        if figures is not None and figures.peak_low_c is not None and figures.peak_high_c is not None:
            peak_half = (figures.peak_high_c - figures.peak_low_c) / 2
        answer = self.answer(
            verdict, reason, sentence=sentence, proposal=proposal, half=peak_half,
            limits="The outside of a swollen wall is what must fit. Retraction comes last, and strings stay.",
            remarks=remarks, same=self._flow_will_do,
        )  # fmt: skip
        if not answer.proposal or flow is None:
            return answer
        title = f"{answer.title}, flow {decimal_text(100 * flow, 1)}" if verdict is Verdict.APPLY else answer.title
        return answer.model_copy(
            update={
                "title": title,
                "half_width_text": f"flow {decimal_text(100 * flow, 1)} {plus_minus(half or 0.0)} %",
            }
        )

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures, found = self._figures, self.found
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
        return [
            self.new_value(Kind.NOZZLE, celsius, peak_half, decision),
            NewValue(
                kind=Kind.FLOW, number=flow, unit=Unit.PERCENT, half_width_95=half, origin=Origin.MEASURED,
                run_id=self.run.id, decision_id=decision.id,
            ),
        ]  # fmt: skip
