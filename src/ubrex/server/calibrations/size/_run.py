"""A run on a size piece: outer and inner sizes of one axis, and what they say of scale and contours."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

from ubrex.core.bead import Bead
from ubrex.core.calibrate import SizeResult, evaluate_size
from ubrex.core.chain import Kind
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import Heat, Manner
from ubrex.core.gcode.pieces import Piece, SizeOptions, size_piece, size_places
from ubrex.core.quantity import Reason, Unit, Verdict, decimal_text
from ubrex.server.calibrations._calibration import RunInputs
from ubrex.server.calibrations._case import File, zero_remarks
from ubrex.server.calibrations._measured import Answer, Doubt, Gauge, Measured
from ubrex.server.calibrations._places import places_out
from ubrex.server.calibrations.size import _words as words
from ubrex.server.printing import Printing, machine_limits, manner_of, printed_on, write_piece
from ubrex.server.profile import NewValue, Tuned, newest_revision
from ubrex.server.store.records import Decision, Reading
from ubrex.server.views.base import CellOut
from ubrex.server.views.pieces import PlaceOut
from ubrex.server.words.numbers import plain, plus_minus, step_places
from ubrex.server.words.readings import CANNOT_TELL


class SizeInputs(RunInputs):
    """What a size run keeps besides its readings; ``current`` is the scale it was printed with [%]."""

    current: float
    unit: Unit = Unit.PERCENT
    places: int = 2
    asked: int
    axis: Literal["x", "y"]
    outer_now_mm: float
    inner_now_mm: float
    line_width_mm: float
    layer_mm: float
    first_layer_mm: float
    flow: float
    nozzle_c: float
    first_nozzle_c: float | None = None
    bed_c: float | None = None
    first_bed_c: float | None = None
    fan_pct: float = 0.0

    @property
    def bead(self) -> Bead:
        """The line of the piece."""
        return Bead(width_mm=self.line_width_mm, height_mm=self.layer_mm)

    @property
    def printed_with(self) -> Sequence[tuple[Kind, float]]:
        """Line, layers, heat, bed and fan."""
        asked = (
            (Kind.LINE_WIDTH, self.line_width_mm), (Kind.LAYER, self.layer_mm), (Kind.LAYER_FIRST, self.first_layer_mm),
            (Kind.NOZZLE_FIRST, self.first_nozzle_c or self.nozzle_c), (Kind.NOZZLE, self.nozzle_c), (Kind.BED, self.bed_c),
            (Kind.BED_FIRST, self.first_bed_c or self.bed_c), (Kind.FAN, self.fan_pct),
        )  # fmt: skip
        return [(kind, number) for kind, number in asked if number is not None]

    @property
    def printing(self) -> Printing:
        """How the piece is printed."""
        heat = Heat(
            nozzle_c=self.nozzle_c, bed_c=self.bed_c, first_nozzle_c=self.first_nozzle_c, first_bed_c=self.first_bed_c
        )
        return Printing(heat=heat, fan_pct=self.fan_pct, flow=self.flow / 100)


def piece_of(tuned: Tuned, inputs: SizeInputs) -> tuple[Piece, Manner]:
    """The piece of a run, and how it is printed; raises ``OutOfRange`` where it cannot be.

    It is drawn as long as it is meant: scale and contours are the slicing program's, and this file has none.
    """
    on, held = inputs.on or printed_on(tuned), machine_limits(tuned, still=True)
    manner = manner_of(tuned, inputs.bead, inputs.flow / 100, held)
    options = SizeOptions(
        bore_mm=on.bore_mm, line_width_mm=inputs.line_width_mm, layer_mm=inputs.layer_mm,
        first_layer_mm=inputs.first_layer_mm, axis=inputs.axis, fan_pct=inputs.fan_pct,
    )  # fmt: skip
    return size_piece(options, on.volume, manner), manner


@dataclass(frozen=True)
class SizeCase(Measured[SizeInputs]):
    """A size run with its readings."""

    inputs_type = SizeInputs
    noun = "size"

    @property
    def implied(self) -> str:
        """Sizes are typed with their point."""
        return ""

    @property
    def walk(self) -> Sequence[str]:
        """Outer sizes, the longest first, then the windows."""
        return size_places()

    def place_label(self, place: str) -> str:
        """Outer or inner, and its nominal size."""
        return words.label_said(place) if place else ""

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        return self.calibration.words.reads if place is None else words.place_said(place)

    def at(self, reading: Reading) -> float:
        """How much a size is off [mm]."""
        return super().at(reading) - float((reading.place or "o0")[1:])

    @cached_property
    def evaluated(self) -> SizeResult | None:
        """What the readings say; None where they are too few."""
        pairs: dict[str, list[tuple[float, float]]] = {"o": [], "i": []}
        for row in self.readings:
            if row.place:
                nominal = float(row.place[1:])
                pairs[row.place[0]].append((nominal, nominal + self.at(row)))
        tool = self.tool
        return evaluate_size(
            pairs["o"], pairs["i"], resolution_mm=tool.resolution, max_permissible_error_outer_mm=tool.max_permissible_error,
            max_permissible_error_inner_mm=max(tool.max_permissible_error, 0.03),
        )  # fmt: skip

    @property
    def proposal(self) -> float:
        """Scale to set [%]: what the piece lacks. The file has none, so what is found is what is set."""
        found = self.evaluated
        return self.inputs.current if found is None else round(100 * found.scale_factor, 2)

    def _contours(self) -> list[tuple[Kind, str, float, float]]:
        """Contours that are proven to be off: kind, name, what to type a side, and its 95 % half-width [mm]."""
        found = self.evaluated
        if found is None:
            return []
        rows = ((Kind.SIZE_OUTER, words.OUTSIDE, found.outer), (Kind.SIZE_INNER, words.INSIDE, found.inner))
        return [
            (kind, name, round(one.per_side_mm, 3), one.half_width_95_mm / 2)
            for kind, name, one in rows
            if one is not None and one.verdict is Verdict.APPLY
        ]

    def spots(self) -> list[PlaceOut]:
        """Where to measure, as far as the piece can be drawn."""
        try:
            drawn = {f"{place.group[0]}{place.name}": place for place in self.made[0].plan.places}
        except OutOfRange:
            return []
        texts = {row.place: decimal_text(row.number, step_places(row.resolution)) for row in self.readings if row.place}
        return places_out(drawn, list(self.walk), texts, self.next_place(), self.inputs.skipped)

    def cells(self) -> list[CellOut]:
        """The axis, and what is set now."""
        inputs = self.inputs
        return [
            CellOut(label="Along", value=inputs.axis, detail=words.AXES[inputs.axis]),
            CellOut(
                label="Scale now", value=f"{decimal_text(inputs.current, 2)} %",
                detail=f"contours {plain(inputs.outer_now_mm)} and {plain(inputs.inner_now_mm)} mm",
            ),
        ]  # fmt: skip

    def doubt(self) -> Doubt:
        """The nominal size."""
        nominal = float((self.next_place() or self.walk[-1])[1:])
        return Doubt(
            noun="size", usual=nominal, low=nominal * 0.9, high=nominal * 1.1 + 1, impossible=words.IMPOSSIBLE,
            far=lambda number: f"{plain(number)} mm {words.IMPOSSIBLE}", keeps_slips=False,
        )  # fmt: skip

    def answer(self) -> Answer | None:
        """Scale and contours to set."""
        found, contours = self.evaluated, self._contours()
        if not self.readings:
            return None
        if found is None:
            return Answer(
                verdict=Verdict.REPEAT, reason=Reason.MORE_REPEATS, title=CANNOT_TELL, sentence=words.TOO_FEW,
                number=self.inputs.current, half_width=None, refused=True,
            )  # fmt: skip
        proposal = decimal_text(self.proposal, 2)
        scaled = found.scale_verdict is Verdict.APPLY
        rows = ((words.OUTSIDE, found.outer), (words.INSIDE, found.inner))
        remarks = [words.contour_said(name, one, one.per_side_mm) for name, one in rows if one is not None]
        if found.line_part_mm is not None and found.hole_part_mm is not None and contours:
            remarks.append(words.parts_said(found.line_part_mm, found.hole_part_mm))
        verdict = Verdict.APPLY if contours and found.scale_verdict is not Verdict.REFUSE else found.scale_verdict
        return Answer(
            verdict=verdict, reason=_REASON.get(verdict, Reason.NO_ERROR_FOUND),
            title=words.title_said(found, f"{proposal} %", changed=bool(contours)), sentence=words.size_said(found),
            number=self.proposal if scaled else self.inputs.current, half_width=found.scale_half_width_95_pct,
            limited_by=words.LIMIT, remarks=[*remarks, *zero_remarks(self.readings, self.inputs.zero_mm)],
            refused=found.scale_verdict is Verdict.REFUSE,
        )  # fmt: skip

    def gauge(self) -> Gauge | None:
        """How much each size is off."""
        found = self.evaluated
        if found is None:
            return None
        off = [self.at(row) for row in self.readings]
        mean = sum(off) / len(off)
        half = found.outer.half_width_95_mm if found.outer is not None else 0.05
        places = step_places(self.tool.resolution)
        return Gauge(
            target=0.0, low=-0.05, high=0.05, mean=mean, half_width=half, step=self.tool.resolution, places=2, at=self.at,
            taken=self.readings, rows=self.rows, mean_note=f"mean {decimal_text(mean, 2)} {plus_minus(half)}", move_note="",
            proposal_name="Scale to set, %", measured_name="measured less nominal, mm", reading_places=places,
            sentence=words.strip_said(len(self.readings), found),
        )  # fmt: skip

    def files(self) -> list[File]:
        """The file that prints the piece."""
        return [self.piece_file(self._file)]

    def _file(self) -> str:
        made, manner = self.made
        head, revision = [("run", str(self.run.id)), ("axis", self.inputs.axis)], newest_revision(self.run.setup_id)
        return write_piece(self.tuned, made, self.inputs.printing, manner, head, revision=revision)

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        found = self.evaluated
        if found is None:
            return {"count": len(self.readings)}
        return {
            "count": len(self.readings), "axis": self.inputs.axis, "scale_pct": found.scale_pct,
            "scale_half_width_95_pct": found.scale_half_width_95_pct,
            "outer_offset_mm": None if found.outer is None else found.outer.offset_mm,
            "outer_half_width_95_mm": None if found.outer is None else found.outer.half_width_95_mm,
            "inner_offset_mm": None if found.inner is None else found.inner.offset_mm,
            "inner_half_width_95_mm": None if found.inner is None else found.inner.half_width_95_mm,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """Scale, applied or kept, and the contours that are proven to be off."""
        found, applied = self.evaluated, decision.action == "apply"
        scaled = found is not None and found.scale_verdict is Verdict.APPLY and applied
        half = None if found is None else found.scale_half_width_95_pct
        number = self.proposal if scaled else self.inputs.current
        made = [self.new_value(Kind.SIZE_SCALE, number, half, decision, Unit.PERCENT)]
        if applied:
            made += [
                self.new_value(kind, value, width, decision, Unit.MM) for kind, _, value, width in self._contours()
            ]
        return made


_REASON = {
    Verdict.APPLY: Reason.OUTSIDE_TOLERANCE,
    Verdict.KEEP: Reason.WITHIN_TOLERANCE,
    Verdict.TRY: Reason.PROBABLY_REAL,
}
