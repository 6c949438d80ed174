"""Level and Z-offset from nine patches: the piece, its readings by patch, and what they say."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from pydantic import BaseModel, ConfigDict

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    FIRST_LAYER_RULE_VERSION,
    LIVE_WAIT_S,
    OFFSET_TOLERANCE_MM,
    FirstLayerResult,
    PatchSample,
    evaluate_first_layer,
    offset_for_surface,
)
from ubrex.core.chain import Kind, Origin, Standing
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import Heat
from ubrex.core.gcode.pieces import PadOptions, Piece, live_pad, nine_patches
from ubrex.core.quantity import (
    FarOff,
    Impossible,
    Reason,
    Slip,
    Unit,
    Verdict,
    check_entry,
    decimal_text,
)
from ubrex.server.calibrations import placed
from ubrex.server.calibrations.measured import MeasuredCase
from ubrex.server.desk import FieldProblem, TypedFields
from ubrex.server.printing import (
    Offer,
    PrintedOn,
    Printing,
    StartReader,
    field,
    machine_limits,
    manner_of,
    no_piece,
    piece_out,
    printed_on,
    printing_cautions,
    write_piece,
)
from ubrex.server.profile import NewValue, Tuned, newest_revision, newest_value, tuned_of
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CautionOut, CellOut
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.runs import ResultOut, StartFieldOut
from ubrex.server.views.values import PlateOut, StripOut, StripReadingOut
from ubrex.server.words import walls as words
from ubrex.server.words.numbers import plain, plus_minus, signed, step_places, unit_text
from ubrex.server.workshop import screw_places

METHOD: Final = "patches"
PATCHES: Final = [str(number) for number in range(1, 10)]


class PatchInputs(BaseModel):
    """What a first-layer run keeps besides its readings; ``current`` is the offset it was printed with [mm]."""

    model_config = ConfigDict(frozen=True)

    current: float
    unit: Unit = Unit.MM
    places: int = 3
    asked: int = 9
    line_width_mm: float
    layer_mm: float
    nozzle_c: float
    bed_c: float | None = None
    moved: str = ""
    zero_mm: float = 0.0
    skipped: list[str] = []
    on: PrintedOn | None = None

    @property
    def bead(self) -> Bead:
        """The line of the patches."""
        return Bead(width_mm=self.line_width_mm, height_mm=self.layer_mm)

    @property
    def printing(self) -> Printing:
        """How the piece is printed."""
        return Printing(heat=Heat(nozzle_c=self.nozzle_c, bed_c=self.bed_c), fan_pct=0.0, flow=1.0)


@dataclass(frozen=True)
class PatchCase(MeasuredCase[PatchInputs]):
    """A first-layer run with its readings."""

    rule_version = FIRST_LAYER_RULE_VERSION
    inputs_kind = PatchInputs

    @property
    def asked(self) -> int:
        """Readings asked for before a result is shown: all nine, a plane needs them."""
        return self.inputs.asked

    @cached_property
    def tuned(self) -> Tuned:
        """The setup with its values."""
        return tuned_of(self.run.setup)

    @cached_property
    def made(self) -> tuple[Piece, Any]:
        """The piece and how it is printed."""
        return patches_of(self.tuned, self.inputs)

    @cached_property
    def found(self) -> FirstLayerResult | None:
        """What the patches say; None before all nine are in."""
        by_patch: dict[str, list[float]] = {}
        for reading in self.readings:
            by_patch.setdefault(reading.place or "", []).append(reading.number - self.inputs.zero_mm)
        if any(patch not in by_patch for patch in PATCHES):
            return None
        means = [sum(by_patch[patch]) / len(by_patch[patch]) for patch in PATCHES]
        places = self.made[0].plan.places
        machine = self.run.setup.toolhead.machine
        xs, ys = [place.x for place in places[:3]], [place.y for place in places[::3]]
        return evaluate_first_layer(
            PatchSample(
                x_mm=(xs[0], xs[1], xs[2]),
                y_mm=(ys[0], ys[1], ys[2]),
                thickness=(tuple(means[0:3]), tuple(means[3:6]), tuple(means[6:9])),
                commanded_mm=self.inputs.layer_mm,
                offset_mm=self.inputs.current,
                screws_mm=tuple(screw_places(machine.screws)),
                pitch_mm=machine.screw_pitch_mm or 0.7,
                tool=self.tool,
            )
        )

    @property
    def proposal(self) -> float:
        """Offset to set [mm], no screw turned."""
        figures = None if self.found is None else self.found.figures
        return self.inputs.current if figures is None else round(figures.new_offset_unturned_mm, 3)

    @property
    def proven(self) -> bool:
        """Whether a change is proven to be worth making."""
        return self.found is not None and self.found.verdict is Verdict.APPLY

    def method_name(self) -> str:
        """How it is measured."""
        return "nine patches of one layer"

    def procedure(self) -> list[str]:
        """How it goes."""
        return list(words.PATCH_PROCEDURE)

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        return "thickness of a patch" if place is None else f"thickness of patch {place}"

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

    def cautions(self) -> list[CautionOut]:
        """What can hurt, and the nozzle that can dig into the plate."""
        crash = CautionOut(
            lead="Crash.",
            text="A wrong sign drives the nozzle into the plate. First move with a hand on the power switch.",
        )
        return [crash, *printing_cautions(self.run.setup)]

    def question(self, number: float) -> FieldProblem | None:
        """What to ask about a thickness before it is taken."""
        layer = self.inputs.layer_mm
        found = check_entry(
            number, fed=lambda thick: layer + (thick - layer) / 4, commanded=layer, low=layer / 10, high=layer * 5
        )
        shown = f"{plain(number)} mm"
        match found:
            case None:
                return None
            case Slip(suggested=suggested):
                said = f"{shown} looks like a slipped point. Did you mean {plain(suggested)} mm?"
                return FieldProblem("typed", found.code, said, suggested=plain(suggested), confirmable=number > 0)
            case Impossible() | FarOff():
                if number <= 0:
                    return FieldProblem("typed", found.code, "A thickness is above 0.")
                said = f"{shown} is far from one layer of {plain(layer)} mm. Look again; Enter takes it as typed."
                return FieldProblem("typed", found.code, said, confirmable=True)

    def finding(self) -> str | None:
        """What the screws say."""
        figures = None if self.found is None else self.found.figures
        if self.found is None or figures is None:
            return None
        return words.tilt_said(self.found.tilt, figures) or None

    def result(self, *, early: bool) -> ResultOut | None:  # noqa: ARG002
        """The result as shown; a plane needs all nine, so there is none earlier."""
        found = self.found
        if found is None:
            return None
        figures = found.figures
        refused = found.verdict is Verdict.REFUSE or figures is None
        proposal = decimal_text(self.proposal, 3)
        change = self.proposal - self.inputs.current
        remarks = []
        if self.inputs.zero_mm:
            remarks.append(words.zero_said(self.inputs.zero_mm))
        if figures is not None and figures.coarse:
            remarks.append("So far off the squeeze is not in proportion: correct, print again, measure again.")
        return ResultOut(
            verdict=found.verdict,
            reason=found.reason,
            title=words.title_said(found.verdict, found.reason, proposal, None),
            sentence=words.REFUSALS[Reason.INVALID_READING]
            if figures is None
            else words.offset_said(found.reason, figures, proposal),
            limits=f"After a tick, wait {LIVE_WAIT_S:.0f} s before you look. Check the sign with the nozzle high.",
            remarks=remarks,
            so_far=found.reason is Reason.MORE_REPEATS,
            blue=found.verdict is Verdict.APPLY,
            proposal=proposal,
            half_width_text="" if figures is None else plus_minus(figures.half_width_95_mm),
            change=f"was {decimal_text(self.inputs.current, 3)}, nozzle {'higher' if change > 0 else 'lower'} by "
            f"{decimal_text(abs(change), 3)}",
            unit_text=unit_text(Unit.MM.value),
            can_apply=not refused,
            can_keep=not refused,
            ask_before=words.before_proof_said(found.verdict, proposal),
            keep_text=decimal_text(self.inputs.current, 3),
        )

    def strip(self, shown: ResultOut | None) -> StripOut:
        """The strip of the thicknesses against the layer commanded."""
        places = step_places(self.tool.resolution)
        figures = None if self.found is None else self.found.figures
        if shown is None or figures is None:
            return StripOut(
                unit="mm", places=places, step=self.tool.resolution,
                sentence="The strip stays bare until all nine patches are in.", standing=Standing.NEVER,
                measured_name="patch, mm",
            )  # fmt: skip
        layer, newest = self.inputs.layer_mm, self.readings[-1]
        return StripOut(
            unit="mm",
            places=max(2, places),
            step=self.tool.resolution,
            target=layer,
            low=layer - OFFSET_TOLERANCE_MM,
            high=layer + OFFSET_TOLERANCE_MM,
            readings=[
                StripReadingOut(
                    number=row.number - self.inputs.zero_mm,
                    text=decimal_text(row.number, max(2, places)),
                    newest=row is newest,
                )
                for row in self.readings
            ],
            mean=figures.mean_mm,
            half_width=figures.half_width_95_mm,
            mean_note=f"mean {decimal_text(figures.mean_mm, 3)} {plus_minus(figures.half_width_95_mm)}",
            move_to=layer if shown.blue else None,
            move_note=f"{signed(figures.offset_error_mm, 3)} mm" if shown.blue else "",
            plate=PlateOut(text=shown.proposal, beside=shown.change) if shown.can_apply else None,
            proposal_name="Z-offset to set, mm",
            measured_name="patch, mm",
            standing=Standing.FRESH,
            sentence=(
                f"Nine patches, mean {decimal_text(figures.mean_mm, 3)} {plus_minus(figures.half_width_95_mm)} mm of "
                f"{plain(layer)} commanded. {shown.title}. {self.finding() or ''}"
            ),
        )

    def next_place(self) -> str | None:
        """The next patch without a reading."""
        return placed.first_open(PATCHES, (row.place for row in self.readings), self.inputs.skipped)

    def piece(self) -> PieceOut | None:
        """The patches on the bed."""
        try:
            made, manner = self.made
        except OutOfRange as error:
            return no_piece("Nine patches", str(error), "line_width")
        spots = {place.name: place for place in made.plan.places}
        texts = {row.place: decimal_text(row.number, step_places(row.resolution)) for row in self.readings if row.place}
        return piece_out(made, self.tuned, manner, placed.places_out(spots, PATCHES, texts, self.next_place(), []), [])

    def file(self) -> str:
        """Text of the file that prints the patches."""
        made, manner = self.made
        head = [("run", str(self.run.id)), ("offset it is printed with", f"{plain(self.inputs.current)} mm")]
        revision = newest_revision(self.run.setup_id)
        return write_piece(self.tuned, made, self.inputs.printing, manner, head, revision=revision)

    def pad_file(self) -> str:
        """Text of the file of the wide pad, to move the offset on while it prints."""
        found, inputs = self.tuned, self.inputs
        held = machine_limits(found)
        manner = manner_of(found, inputs.bead, 1.0, held)
        piece = live_pad(_options(printed_on(found), inputs), held.volume, manner)
        use = [("use", f"move the offset by small steps while it prints, {LIVE_WAIT_S:.0f} s from one to the next")]
        revision = newest_revision(found.setup.id)
        return write_piece(found, piece, inputs.printing, manner, use, revision=revision)

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = None if self.found is None else self.found.figures
        if self.found is None or figures is None:
            return {"count": len(self.readings)}
        return {
            "count": len(self.readings), "mean_mm": figures.mean_mm, "offset_error_mm": figures.offset_error_mm,
            "half_width_95_mm": figures.half_width_95_mm, "warp_range_mm": figures.warp_range_mm,
            "tilt": None if self.found.tilt is None else self.found.tilt.value,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The offset, applied or kept, and how far the bed was out of level."""
        figures = None if self.found is None else self.found.figures
        offset = NewValue(
            kind=Kind.Z_OFFSET,
            number=self.proposal if decision.action == "apply" else self.inputs.current,
            unit=Unit.MM,
            half_width_95=None if figures is None else figures.half_width_95_mm,
            origin=Origin.MEASURED,
            run_id=self.run.id,
            decision_id=decision.id,
        )
        if figures is None:
            return [offset]
        level = NewValue(
            kind=Kind.LEVEL,
            number=round(figures.plane_range_mm, 3),
            unit=Unit.MM,
            origin=Origin.MEASURED,
            run_id=self.run.id,
            decision_id=decision.id,
        )
        return [offset, level]

    def overtaken(self) -> str:
        """Whether the offset was changed since the patches were printed."""
        newest = newest_value(Kind.Z_OFFSET, self.run.setup)
        if newest is None or newest.at <= self.run.started_at:
            return ""
        return "The offset was changed after these patches were printed: leave this run and print new ones."


def patches_of(found: Tuned, inputs: PatchInputs) -> tuple[Piece, Any]:
    """The nine patches of a run, and how they are printed.

    Raises
    ------
    OutOfRange
        If line, layer or bed do not go together.
    """
    held = machine_limits(found, still=True)
    manner = manner_of(found, inputs.bead, 1.0, held)
    on = inputs.on or printed_on(found)
    return nine_patches(_options(on, inputs), on.volume, manner), manner


def _options(on: PrintedOn, inputs: PatchInputs) -> PadOptions:
    return PadOptions(bore_mm=on.bore_mm, line_width_mm=inputs.line_width_mm, layer_mm=inputs.layer_mm)


def start_fields(found: Tuned) -> list[StartFieldOut]:
    """What is asked before patches are printed, filled in with what the setup has."""
    offer = Offer(found)
    offset = offer.own(Kind.Z_OFFSET, usual=0.0)
    return [
        field("current", "Offset it is printed with", "mm", offset, "As the machine has it now."),
        offer.line_width(),
        offer.first_layer("layer"),
        offer.nozzle(Kind.NOZZLE_FIRST, Kind.NOZZLE),
        offer.bed(Kind.BED_FIRST, Kind.BED),
        field(
            "thinner", "Another sheet, thinner by", "mm", "",
            "Empty: the same sheet. Thicker: with a minus. Leave it on a machine that measures its offset itself.",
        ),
    ]  # fmt: skip


def read(found: Tuned, typed: Mapping[str, str], fields: TypedFields) -> PatchInputs | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    reader = StartReader(found, typed, fields)
    current = reader.value("current", "The offset", Kind.Z_OFFSET)
    width, layer = reader.line_width(), reader.layer("layer", "The layer")
    nozzle, bed = reader.nozzle("nozzle", "The nozzle"), reader.bed()
    moved = ""
    if typed.get("thinner", "").strip():
        thinner = reader.number("thinner", "The difference", -5, 5, "sheets differ by a few mm")
        before, current = current, offset_for_surface(current, thinner_mm=thinner)
        moved = f"moved from {decimal_text(before, 3)} for the sheet: check the sign, a hand on the switch"
    if reader.wrong("current", "line_width", "layer", "nozzle", "bed", "thinner"):
        return None
    return PatchInputs(
        current=current,
        line_width_mm=width,
        layer_mm=layer,
        nozzle_c=nozzle,
        bed_c=bed,
        moved=moved,
        on=printed_on(found),
    )


def preview(found: Tuned, inputs: PatchInputs) -> PieceOut:
    """The patches before they are printed."""
    piece, manner = patches_of(found, inputs)
    spots = {place.name: place for place in piece.plan.places}
    return piece_out(piece, found, manner, placed.places_out(spots, PATCHES, {}, "1", []), [])
