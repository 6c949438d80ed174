"""A first-layer run: nine patches, and what they say of offset and level."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar, Final

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    OFFSET_TOLERANCE_MM,
    USUAL_SCREW_PITCH_MM,
    FirstLayerFigures,
    FirstLayerResult,
    PatchSample,
    evaluate_first_layer,
)
from ubrex.core.chain import Kind
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import Heat, Manner
from ubrex.core.gcode.pieces import PadOptions, Piece, live_pad, nine_patches
from ubrex.core.quantity import ToolKind, Unit, Verdict, decimal_text
from ubrex.server.calibrations._calibration import RunInputs
from ubrex.server.calibrations._case import File, zero_remarks
from ubrex.server.calibrations._measured import Answer, Doubt, Gauge, Measured
from ubrex.server.calibrations._places import places_out
from ubrex.server.calibrations.first_layer import _words as words
from ubrex.server.printing import PrintedOn, Printing, machine_limits, manner_of, printed_on, write_piece
from ubrex.server.profile import NewValue, Tuned, newest_revision
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.views.pieces import PlaceOut
from ubrex.server.views.runs import Action
from ubrex.server.words.numbers import plain, plus_minus, signed, step_places
from ubrex.server.words.readings import change_said, title_said
from ubrex.server.workshop import screw_places

PATCHES: Final = [str(number) for number in range(1, 10)]


class PatchInputs(RunInputs):
    """What a first-layer run keeps besides its readings; ``current`` is the offset it was printed with [mm]."""

    current: float
    unit: Unit = Unit.MM
    places: int = 3
    asked: int = len(PATCHES)
    line_width_mm: float
    layer_mm: float
    nozzle_c: float
    bed_c: float | None = None
    moved: str = ""

    @property
    def printed_with(self) -> Sequence[tuple[Kind, float]]:
        """Line, layer, heat and bed of the only layer."""
        asked = (
            (Kind.LINE_WIDTH, self.line_width_mm),
            (Kind.LAYER_FIRST, self.layer_mm),
            (Kind.NOZZLE_FIRST, self.nozzle_c),
            (Kind.BED_FIRST, self.bed_c),
        )
        return [(kind, number) for kind, number in asked if number is not None]

    @property
    def bead(self) -> Bead:
        """The line of the patches."""
        return Bead(width_mm=self.line_width_mm, height_mm=self.layer_mm)

    @property
    def printing(self) -> Printing:
        """How the piece is printed."""
        return Printing(heat=Heat(nozzle_c=self.nozzle_c, bed_c=self.bed_c), fan_pct=0.0, flow=1.0)


@dataclass(frozen=True)
class PatchCase(Measured[PatchInputs]):
    """A first-layer run with its readings."""

    inputs_type = PatchInputs
    noun = "patch"
    bare = words.BARE
    edits: ClassVar[tuple[Action, ...]] = ("zero",)

    @cached_property
    def evaluated(self) -> FirstLayerResult | None:
        """What the patches say; None before all nine are in: a plane needs them."""
        by_patch: dict[str, list[float]] = {}
        for reading in self.readings:
            by_patch.setdefault(reading.place or "", []).append(self.at(reading))
        if any(patch not in by_patch for patch in PATCHES):
            return None
        means = [sum(by_patch[patch]) / len(by_patch[patch]) for patch in PATCHES]
        places = self.made[0].plan.places
        machine = self.run.setup.toolhead.machine
        # Patches are numbered row by row: three places give the columns, every third one the rows.
        xs, ys = [place.x for place in places[:3]], [place.y for place in places[::3]]
        return evaluate_first_layer(
            PatchSample(
                x_mm=(xs[0], xs[1], xs[2]),
                y_mm=(ys[0], ys[1], ys[2]),
                thickness=(tuple(means[0:3]), tuple(means[3:6]), tuple(means[6:9])),
                commanded_mm=self.inputs.layer_mm,
                offset_mm=self.inputs.current,
                screws_mm=tuple(screw_places(machine.screws)),
                pitch_mm=machine.screw_pitch_mm or USUAL_SCREW_PITCH_MM,
                tool=self.tool,
            )
        )

    @property
    def _figures(self) -> FirstLayerFigures | None:
        return None if self.evaluated is None else self.evaluated.figures

    @property
    def proposal(self) -> float:
        """Offset to set [mm], no screw turned."""
        figures = self._figures
        return self.inputs.current if figures is None else round(figures.new_offset_unturned_mm, 3)

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        said = self.calibration.words.reads
        return said if place is None else f"{said.removesuffix(' a patch')} patch {place}"

    @property
    def walk(self) -> Sequence[str]:
        """Patches from the front left on."""
        return PATCHES

    def spots(self) -> list[PlaceOut]:
        """Patches, as far as they can be drawn."""
        try:
            drawn = {place.name: place for place in self.made[0].plan.places}
        except OutOfRange:
            return []
        texts = {row.place: decimal_text(row.number, step_places(row.resolution)) for row in self.readings if row.place}
        return places_out(drawn, PATCHES, texts, self.next_place(), ())

    def cells(self) -> list[CellOut]:
        """Offset and layer it was printed with; how high that was meant to be only when nobody can aim for it any more."""
        inputs = self.inputs
        blind = self.run.state == "open" and len(self.readings) < self.asked
        bed = "bed not heated" if inputs.bed_c is None else f"bed {plain(inputs.bed_c)} °C"
        return [
            CellOut(
                label="Printed with offset",
                value=f"{decimal_text(inputs.current, 3)} mm",
                detail=inputs.moved or "more negative is lower",
            ),
            CellOut(
                label="Layer",
                value="one" if blind else f"{plain(inputs.layer_mm)} mm",
                detail=f"nozzle {plain(inputs.nozzle_c)} °C, {bed}",
            ),
        ]

    def doubt(self) -> Doubt:
        """The layer commanded; a patch may be off by much more than a wall before it is odd."""
        layer = self.inputs.layer_mm
        said = words.far_said(layer)
        return Doubt(
            noun="thickness", usual=layer, low=layer / 10, high=layer * 5, impossible=said,
            far=lambda number: f"{plain(number)} mm {said}", of_value=lambda thick: layer + (thick - layer) / 4,
        )  # fmt: skip

    def finding(self) -> str | None:
        """What the screws say."""
        figures = self._figures
        if self.evaluated is None or figures is None:
            return None
        return words.tilt_said(self.evaluated.tilt, figures) or None

    def answer(self) -> Answer | None:
        """The offset at which a layer is as thick as it should be."""
        found, figures = self.evaluated, self._figures
        if found is None:
            return None
        proposal = decimal_text(self.proposal, 3)
        remarks = zero_remarks(self.readings, self.inputs.zero_mm)
        finer = words.finer_said(ToolKind(self.run.instrument.kind), zero_checked=self.zero_checked)
        if figures is not None and figures.coarse:
            remarks.append(words.COARSE)
        return Answer(
            verdict=found.verdict,
            reason=found.reason,
            title=title_said(found.verdict, found.reason, proposal, None),
            sentence=words.offset_said(found.reason, figures, proposal, finer),
            number=self.proposal,
            half_width=None if figures is None else figures.half_width_95_mm,
            limited_by=words.AFTER_TICK,
            remarks=remarks,
            change=change_said(self.inputs.current, self.proposal, 3, "nozzle higher by", "nozzle lower by"),
            refused=found.verdict is Verdict.REFUSE or figures is None,
        )

    def gauge(self) -> Gauge | None:
        """The thicknesses against the layer commanded."""
        figures = self._figures
        if figures is None:
            return None
        places, layer = max(2, step_places(self.tool.resolution)), self.inputs.layer_mm
        half = figures.half_width_95_mm
        return Gauge(
            target=layer,
            low=layer - OFFSET_TOLERANCE_MM,
            high=layer + OFFSET_TOLERANCE_MM,
            mean=figures.mean_mm,
            half_width=half,
            step=self.tool.resolution,
            places=places,
            at=self.at,
            taken=self.readings,
            rows=self.rows,
            mean_note=f"mean {decimal_text(figures.mean_mm, 3)} {plus_minus(half)}",
            move_note=f"{signed(figures.offset_error_mm, 3)} mm",
            proposal_name="Z-offset to set, mm",
            measured_name="patch, mm",
            reading_places=places,
            sentence=words.strip_said(figures, layer, self.finding() or ""),
        )

    def files(self) -> list[File]:
        """The file that prints the patches, and that of the pad which comes before them."""
        pad = File(
            key="pad", label=words.PAD_FILE, ending="gcode", write=self._pad_file, media="text/x-gcode; charset=utf-8"
        )
        return [self.piece_file(self._file), pad]

    def _file(self) -> str:
        made, manner = self.made
        head = [("run", str(self.run.id)), ("offset it is printed with", f"{plain(self.inputs.current)} mm")]
        revision = newest_revision(self.run.setup_id)
        return write_piece(self.tuned, made, self.inputs.printing, manner, head, revision=revision)

    def _pad_file(self) -> str:
        tuned, inputs = self.tuned, self.inputs
        held = machine_limits(tuned)
        manner = manner_of(tuned, inputs.bead, 1.0, held)
        piece = live_pad(_options(printed_on(tuned), inputs), held.volume, manner)
        revision = newest_revision(tuned.setup.id)
        return write_piece(tuned, piece, inputs.printing, manner, [("use", words.PAD_USE)], revision=revision)

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self._figures
        if self.evaluated is None or figures is None:
            return {"count": len(self.readings)}
        return {
            "count": len(self.readings), "mean_mm": figures.mean_mm, "offset_error_mm": figures.offset_error_mm,
            "half_width_95_mm": figures.half_width_95_mm, "warp_range_mm": figures.warp_range_mm,
            "tilt": None if self.evaluated.tilt is None else self.evaluated.tilt.value,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The offset, applied or kept, and how far the bed was out of level."""
        figures = self._figures
        number = self.proposal if decision.action == "apply" else self.inputs.current
        half = None if figures is None else figures.half_width_95_mm
        offset = self.new_value(Kind.Z_OFFSET, number, half, decision, Unit.MM)
        if figures is None:
            return [offset]
        return [offset, self.new_value(Kind.LEVEL, round(figures.plane_range_mm, 3), None, decision, Unit.MM)]

    def overtaken(self) -> str:
        """Whether the offset was changed since the patches were printed."""
        offset = self.tuned.values.get(Kind.Z_OFFSET)
        if offset is None or offset.at_s <= self.run.started_at.timestamp():
            return ""
        return words.OFFSET_CHANGED if round(offset.number - self.inputs.current, 3) else ""


def patches_of(tuned: Tuned, inputs: PatchInputs) -> tuple[Piece, Manner]:
    """The nine patches of a run, and how they are printed.

    Raises
    ------
    OutOfRange
        If line, layer or bed do not go together.
    """
    held = machine_limits(tuned, still=True)
    manner = manner_of(tuned, inputs.bead, 1.0, held)
    on = inputs.on or printed_on(tuned)
    return nine_patches(_options(on, inputs), on.volume, manner), manner


def _options(on: PrintedOn, inputs: PatchInputs) -> PadOptions:
    return PadOptions(bore_mm=on.bore_mm, line_width_mm=inputs.line_width_mm, layer_mm=inputs.layer_mm)
