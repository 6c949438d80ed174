"""A run on the mass of hollow boxes: start form, inputs, and what the masses say."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, partial
from typing import Any, ClassVar, Final

from ubrex.core.calibrate import BoxMassResult, BoxMassSample, evaluate_box_mass
from ubrex.core.chain import Kind
from ubrex.core.quantity import Unit, Verdict, decimal_text
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._case import File
from ubrex.server.calibrations._measured import Answer, Doubt, Gauge, Measured
from ubrex.server.calibrations._reference import Reference, read_reference, reference_fields
from ubrex.server.calibrations.flow import _words as words
from ubrex.server.calibrations.flow._inputs import FlowInputs
from ubrex.server.calibrations.flow._run import box_cells, changed_since, write_box
from ubrex.server.calibrations.flow._start import offer, read
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import number_field
from ubrex.server.profile import NewValue, Tuned
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.views.forms import FieldOut
from ubrex.server.views.runs import Action
from ubrex.server.words.numbers import plus_minus, signed, step_places
from ubrex.server.words.readings import title_said

MOST_BOXES: Final = 9
"""So many boxes lie on a scale together."""

WEIGHINGS: Final = 2
"""Weighings asked for first: a scale that drifts shows it."""

NOT_ASKED: Final = frozenset({"walls", "own", "spacing"})
"""Fields of the start form of a box that a weighing does not ask: it is one line, and written here."""


class WeighedBoxInputs(FlowInputs):
    """What a weighing keeps besides its readings: the box it was printed as, how many, and the reference piece."""

    boxes: int
    reference: Reference


def offer_weighed(tuned: Tuned, sides: Sides) -> list[FieldOut]:
    """What is asked before boxes are printed and weighed."""
    asked = [row for row in offer(tuned, sides) if row.name not in NOT_ASKED]
    boxes = number_field("boxes", words.BOXES, "", 1, words.BOXES_HINT)
    return [boxes, *reference_fields(words.AS_HEAVY), *asked]


def read_weighed(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    boxes = form.fields.number(
        "boxes", form.typed.get("boxes", ""), what=words.BOXES_WHAT, low=1, high=MOST_BOXES, why=words.BOXES_WHY,
        unit=Unit.COUNT,
    )  # fmt: skip
    if boxes is not None and boxes != int(boxes):
        form.fields.add(FieldProblem("boxes", "not_whole", words.WHOLE_BOXES))
    reference, begun = read_reference(form), read(form)
    if boxes is None or reference is None or begun is None or form.fields.any:
        return None
    kept = begun.inputs.model_dump() | {"boxes": int(boxes), "reference": reference, "asked": WEIGHINGS}
    return Begun(inputs=WeighedBoxInputs.model_validate(kept), made_at=begun.made_at)


@dataclass(frozen=True)
class WeighedBoxCase(Measured[WeighedBoxInputs]):
    """A weighing with its readings."""

    inputs_type = WeighedBoxInputs
    implied = ""
    noun = "mass"
    edits: ClassVar[tuple[Action, ...]] = ()

    @property
    def read_in(self) -> Unit:
        """A mass."""
        return Unit.G

    @property
    def commanded_mm(self) -> float:
        """Filament that all boxes together were commanded [mm]."""
        return self.inputs.boxes * self.made[0].filament_mm

    @cached_property
    def evaluated(self) -> BoxMassResult | None:
        """What the masses say; None before there is one."""
        if not self.readings:
            return None
        sample = BoxMassSample(
            masses_g=tuple(row.number for row in self.readings),
            commanded_mm=self.commanded_mm,
            tool=self.tool,
            reference=self.inputs.reference.to_core(),
        )
        return evaluate_box_mass(sample, tolerance_pct=self.inputs.tolerance_pct)

    @property
    def proposal(self) -> float:
        """Flow to apply [%], as it is typed."""
        found = self.evaluated
        return self.inputs.current if found is None else round(self.inputs.current * found.to_set, 1)

    @property
    def half_width(self) -> float | None:
        """95 % half-width of the proposal [% of flow]."""
        found = self.evaluated
        return None if found is None else self.inputs.current * found.figures.half_width_95_pct / 100

    def reads(self) -> str:
        """What is read."""
        return self.calibration.words.reads

    def at(self, reading: Any) -> float:
        """A mass stands where it was read."""
        return float(reading.number)

    def cells(self) -> list[CellOut]:
        """Flow and line it was printed with."""
        return box_cells(self.inputs)

    def doubt(self) -> Doubt:
        """What the boxes should weigh."""
        usual = self.commanded_mm * self.inputs.reference.mass_g / self.inputs.reference.length_mm
        return Doubt(
            noun="mass", usual=usual, low=usual / 5, high=usual * 5, impossible=words.NO_MASS, far=words.mass_far_said,
            keeps_slips=False,
        )  # fmt: skip

    def answer(self) -> Answer | None:
        """The flow at which what is commanded is in the box."""
        found = self.evaluated
        if found is None:
            return None
        proposal, more = decimal_text(self.proposal, 1), found.more_readings
        whole = round(self.inputs.current * found.figures.factor, 1)
        return Answer(
            verdict=found.verdict,
            reason=found.reason,
            title=title_said(found.verdict, found.reason, proposal, more),
            sentence=words.weighed_said(
                found.verdict, found.reason, found.figures, tolerance_pct=self.inputs.tolerance_pct, proposal=proposal,
                more=more,
            ),
            number=self.proposal,
            half_width=self.half_width,
            remarks=[words.shrunk_said(decimal_text(whole, 1))] if whole != self.proposal else [],
            refused=found.verdict is Verdict.REFUSE,
        )  # fmt: skip

    def gauge(self) -> Gauge | None:
        """The masses against what was commanded [g]."""
        found = self.evaluated
        if found is None:
            return None
        figures, tolerance = found.figures, self.inputs.tolerance_pct / 100
        half = figures.half_width_g
        places = max(2, step_places(self.tool.resolution))
        return Gauge(
            target=figures.expected_g,
            low=figures.expected_g / (1 + tolerance),
            high=figures.expected_g / (1 - tolerance),
            mean=figures.mean_g,
            half_width=half,
            step=self.tool.resolution,
            places=places,
            at=self.at,
            taken=self.readings,
            rows=self.rows,
            mean_note=f"mean {decimal_text(figures.mean_g, 3)} {plus_minus(half)}",
            move_note=f"{signed(figures.mean_g - figures.expected_g, 2)} g",
            proposal_name="Flow to set, %",
            measured_name="boxes, g",
            reading_places=places,
            sentence=words.mass_strip_said(len(self.readings), figures.mean_g, half, figures.expected_g),
            unit="g",
        )

    def files(self) -> list[File]:
        """The file that prints the box."""
        return [self.piece_file(partial(write_box, self))]

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        found = self.evaluated
        if found is None:
            return {"count": 0}
        figures = found.figures
        return {
            "count": len(self.readings), "factor": figures.factor, "mean_g": figures.mean_g,
            "expected_g": figures.expected_g, "error_pct": figures.error_pct,
            "half_width_95_pct": figures.half_width_95_pct,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The flow, applied or kept: measured here either way."""
        number = self.proposal if decision.action == "apply" else self.inputs.current
        return [self.new_value(Kind.FLOW, number, self.half_width, decision, Unit.PERCENT)]

    def overtaken(self) -> str:
        """Whether e-steps or diameter were changed since the boxes were printed."""
        return changed_since(self)
