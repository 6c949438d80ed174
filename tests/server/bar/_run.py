"""A run on a bar."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from tests.server.bar import _words as words
from tests.server.bar._piece import bar
from tests.server.bar._rule import SCALE_TOLERANCE_PCT, BarResult, evaluate_bar
from ubrex.core.bead import Bead
from ubrex.core.chain import Kind
from ubrex.core.gcode import Heat, Manner
from ubrex.core.gcode.pieces import Piece
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.calibrations import Answer, Doubt, File, Gauge, Measured, RunInputs
from ubrex.server.printing import Printing, machine_limits, manner_of, printed_on, write_piece
from ubrex.server.profile import NewValue, Tuned, newest_revision
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.words.numbers import plain, plus_minus
from ubrex.server.words.readings import title_said


class BarInputs(RunInputs):
    """What a run on a bar keeps besides its readings; ``current`` is the scale it was printed with [%]."""

    current: float
    unit: Unit = Unit.PERCENT
    places: int = 2
    asked: int = 3
    drawn_mm: float
    line_width_mm: float
    layer_mm: float
    nozzle_c: float
    bed_c: float | None = None

    @property
    def printing(self) -> Printing:
        """How the bar is printed."""
        return Printing(heat=Heat(nozzle_c=self.nozzle_c, bed_c=self.bed_c), fan_pct=0.0, flow=1.0)


def bar_of(tuned: Tuned, inputs: BarInputs) -> tuple[Piece, Manner]:
    """The bar of a run, and how it is printed."""
    on, held = inputs.on or printed_on(tuned), machine_limits(tuned)
    bead = Bead(width_mm=inputs.line_width_mm, height_mm=inputs.layer_mm)
    manner = manner_of(tuned, bead, 1.0, held)
    return bar(inputs.drawn_mm, on.bore_mm, inputs.line_width_mm, inputs.layer_mm, held.volume, manner), manner


@dataclass(frozen=True)
class BarCase(Measured[BarInputs]):
    """A run on a bar with its readings."""

    inputs_type = BarInputs
    implied = ""

    @cached_property
    def evaluated(self) -> BarResult | None:
        """What the readings say."""
        lengths = tuple(self.at(row) for row in self.readings)
        inputs = self.inputs
        if not lengths:
            return None
        return evaluate_bar(lengths, drawn_mm=inputs.drawn_mm, scale_pct=inputs.current, tool=self.tool)

    def reads(self) -> str:
        """What is read next."""
        return self.calibration.words.reads

    def doubt(self) -> Doubt:
        """The length it was drawn with."""
        drawn = self.inputs.drawn_mm
        return Doubt(
            noun="length", usual=drawn, low=drawn / 2, high=drawn * 2, impossible=words.IMPOSSIBLE,
            far=lambda number: f"{plain(number)} mm {words.IMPOSSIBLE}",
        )  # fmt: skip

    def cells(self) -> list[CellOut]:
        """What it was printed with."""
        return [
            CellOut(label="Scale", value=f"{decimal_text(self.inputs.current, 2)} %", detail="in the slicing program")
        ]

    def answer(self) -> Answer | None:
        """The scale to set."""
        found = self.evaluated
        if found is None:
            return None
        proposal = decimal_text(found.scale_pct, self.inputs.places)
        return Answer(
            verdict=found.verdict,
            reason=found.reason,
            title=title_said(found.verdict, found.reason, proposal, found.more_repeats),
            sentence=words.scale_said(found.verdict, found.mean_mm, self.inputs.drawn_mm),
            number=found.scale_pct,
            half_width=found.half_width_95_pct,
            limited_by=words.LIMIT,
        )

    def gauge(self) -> Gauge | None:
        """The lengths against the one drawn."""
        found, drawn = self.evaluated, self.inputs.drawn_mm
        if found is None:
            return None
        half, off = drawn * found.half_width_95_pct / 100, drawn * SCALE_TOLERANCE_PCT / 100
        return Gauge(
            target=drawn, low=drawn - off, high=drawn + off, mean=found.mean_mm, half_width=half,
            step=self.tool.resolution, places=2, at=self.at, taken=self.readings, rows=self.rows,
            mean_note=f"mean {decimal_text(found.mean_mm, 2)} {plus_minus(half)}", move_note="",
            proposal_name="Scale to set, %", measured_name="bar, mm", reading_places=2,
            sentence=words.scale_said(found.verdict, found.mean_mm, drawn),
        )  # fmt: skip

    def files(self) -> list[File]:
        """The file that prints the bar."""
        return [self.piece_file(self._file)]

    def _file(self) -> str:
        made, manner = self.made
        head, revision = [("run", str(self.run.id))], newest_revision(self.run.setup_id)
        return write_piece(self.tuned, made, self.inputs.printing, manner, head, revision=revision)

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        return {"count": len(self.readings), "mean_mm": None if self.evaluated is None else self.evaluated.mean_mm}

    def decided(self, decision: Decision) -> list[NewValue]:
        """The scale, applied or kept."""
        found = self.evaluated
        applied = found is not None and decision.action == "apply"
        number = round(found.scale_pct, 2) if found is not None and applied else self.inputs.current
        half = None if found is None else found.half_width_95_pct
        return [self.new_value(Kind.SIZE_SCALE, number, half, decision, Unit.PERCENT)]
