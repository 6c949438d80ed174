"""A run on the diameter of filament: two readings at each of several places along it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from ubrex.core.calibrate import DIAMETER_TOLERANCE_PCT, DiameterResult, DiameterSample, evaluate_diameter
from ubrex.core.chain import KINDS, Kind
from ubrex.core.quantity import ToolKind, Unit, Verdict, decimal_text
from ubrex.server.calibrations._calibration import Begun, Filled, RunInputs, Sides
from ubrex.server.calibrations._case import BEST_KNOWN, best_known, left_out_remarks, zero_remarks
from ubrex.server.calibrations._measured import Answer, Doubt, Gauge, Measured
from ubrex.server.calibrations.diameter import _words as words
from ubrex.server.printing import number_field
from ubrex.server.profile import NewValue, Tuned, diameter_of
from ubrex.server.store.records import Decision, Reading
from ubrex.server.views.base import CellOut
from ubrex.server.views.forms import FieldOut
from ubrex.server.words.numbers import plain, plus_minus, step_places
from ubrex.server.words.readings import title_said

FIRST_PLACES: Final = 3
"""Places along the filament that are asked for first (rules, C)."""

MOST_PLACES: Final = 10

WAYS: Final = ("w", "a")
"""At each place: widest, then across."""


class DiameterInputs(RunInputs):
    """What a diameter run keeps besides its readings; ``current`` is what the slicing program holds [mm]."""

    current: float
    unit: Unit = Unit.MM
    places: int = 3
    asked: int = len(WAYS) * FIRST_PLACES


@dataclass(frozen=True)
class DiameterCase(Measured[DiameterInputs]):
    """A diameter run with its readings: widest and across by turns."""

    inputs_type = DiameterInputs
    noun = "diameter"

    def place_label(self, place: str) -> str:
        """The place, and which way the jaws closed there."""
        return f"{place[:-1]} {'widest' if place.endswith('w') else 'across'}" if place else ""

    @cached_property
    def counted(self) -> Sequence[Reading]:
        """As many as are first asked for are enough, if their zero was known better than that of the others."""
        if self.inputs.edition < BEST_KNOWN:
            return self.readings
        return best_known(self.readings, lambda rows: len(rows) >= self.asked)

    @cached_property
    def pairs(self) -> list[tuple[float, float]]:
        """Places with both readings."""
        by_place = {reading.place: self.at(reading) for reading in self.counted}
        return [
            (by_place[f"{place}w"], by_place[f"{place}a"])
            for place in range(1, MOST_PLACES + 1)
            if f"{place}w" in by_place and f"{place}a" in by_place
        ]

    @cached_property
    def evaluated(self) -> DiameterResult:
        """What the readings say."""
        return evaluate_diameter(
            DiameterSample(
                widest=tuple(pair[0] for pair in self.pairs),
                across=tuple(pair[1] for pair in self.pairs),
                nominal_mm=self.inputs.current,
                tool=self.tool,
            )
        )

    @property
    def proposal(self) -> float:
        """Diameter to enter [mm]."""
        figures = self.evaluated.figures
        return self.inputs.current if figures is None else round(figures.diameter_mm, 3)

    @property
    def walk(self) -> Sequence[str]:
        """Widest, then across, place after place."""
        return [f"{place}{way}" for place in range(1, MOST_PLACES + 1) for way in WAYS]

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        return self.calibration.words.reads if place is None else words.place_said(place)

    @property
    def implied(self) -> str:
        """Digits without a point: 175 is 1.75, 1748 is 1.748."""
        return f"{int(self.inputs.current)}."

    def cells(self) -> list[CellOut]:
        """What the slicing program holds."""
        text = f"{decimal_text(self.inputs.current, 3)} mm"
        return [CellOut(label="Entered now", value=text, detail="in the slicing program")]

    def doubt(self) -> Doubt:
        """The diameter that is entered."""
        nominal = self.inputs.current
        said = words.no_filament_said(nominal)
        return Doubt(
            noun="diameter", usual=nominal, low=nominal / 5, high=nominal * 5, impossible=said,
            far=lambda number: f"{plain(number)} mm {said}",
        )  # fmt: skip

    def finding(self) -> str | None:
        """Whether it is oval."""
        figures = self.evaluated.figures
        return (words.oval_said(figures) or None) if figures is not None and len(self.readings) >= self.asked else None

    def answer(self) -> Answer | None:
        """The diameter to enter."""
        if not self.pairs:
            return None
        found, figures = self.evaluated, self.evaluated.figures
        proposal = decimal_text(self.proposal, 3)
        more = found.more_repeats if len(self.pairs) + (found.more_repeats or 0) <= MOST_PLACES else None
        finer = words.finer_said(ToolKind(self.run.instrument.kind), zero_checked=self.zero_checked)
        return Answer(
            verdict=found.verdict,
            reason=found.reason,
            title=title_said(found.verdict, found.reason, proposal, more),
            sentence=words.diameter_said(found.reason, figures, proposal, plain(self.inputs.current), more, finer),
            number=self.proposal,
            half_width=None if figures is None else figures.diameter_half_width_mm,
            limited_by=words.FIRST_METRES,
            remarks=[
                *zero_remarks(self.counted, self.inputs.zero_mm),
                *left_out_remarks(len(self.readings) - len(self.counted)),
            ],
            refused=found.verdict is Verdict.REFUSE or figures is None,
        )

    def gauge(self) -> Gauge | None:
        """The diameters against the one entered."""
        figures, entered = self.evaluated.figures, self.inputs.current
        if figures is None:
            return None
        places, share = step_places(self.tool.resolution), DIAMETER_TOLERANCE_PCT / 200
        half = figures.diameter_half_width_mm
        return Gauge(
            target=entered,
            low=entered * (1 - share),
            high=entered * (1 + share),
            mean=figures.diameter_mm,
            half_width=half,
            step=self.tool.resolution,
            places=places,
            at=self.at,
            taken=self.readings,
            rows=self.rows,
            mean_note=f"{decimal_text(figures.diameter_mm, 3)} {plus_minus(half)}",
            move_note="",
            proposal_name="Diameter to enter, mm",
            measured_name="diameter, mm",
            reading_places=places,
            sentence=words.strip_said(figures.count, figures.diameter_mm, half, entered),
        )

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self.evaluated.figures
        if figures is None:
            return {"count": len(self.readings)}
        return {
            "count": figures.count, "diameter_mm": figures.diameter_mm, "factor": figures.factor,
            "error_pct": figures.error_pct, "half_width_95_pct": figures.half_width_95_pct, "ovality_mm": figures.ovality_mm,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The diameter, applied or kept."""
        figures = self.evaluated.figures
        number = self.proposal if decision.action == "apply" else self.inputs.current
        half = None if figures is None else figures.diameter_half_width_mm
        return [self.new_value(Kind.DIAMETER, number, half, decision, Unit.MM)]


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before filament is measured."""
    number = diameter_of(tuned.setup, tuned.values.get(Kind.DIAMETER))
    hint = "What stands in the slicing program: usually 1.75 or 2.85."
    return [number_field("current", "Entered now", "mm", number, hint)]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    kind = KINDS[Kind.DIAMETER]
    typed = form.typed.get("current", "")
    current = form.fields.number("current", typed, what=kind.name, low=kind.low, high=kind.high, why=kind.why)
    return None if current is None else Begun(inputs=DiameterInputs(current=current))
