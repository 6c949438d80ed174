"""The start form of a support ladder."""

from __future__ import annotations

from typing import Final, Literal

from ubrex.core.chain import Kind, Purpose
from ubrex.core.gcode import Manner
from ubrex.core.gcode.pieces import Piece, SupportOptions, support_piece
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._tower_start import USUAL_SPEED_MM_S, TowerInputs, in_use, line_fields, read_line
from ubrex.server.calibrations.supports import _words as words
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import (
    Offer,
    StartReader,
    choice_field,
    machine_limits,
    manner_of,
    number_field,
    printed_on,
)
from ubrex.server.profile import Tuned
from ubrex.server.views.forms import FieldOut

USUAL_LOW, USUAL_BAYS = 1, "5"
MOST_LOW, MOST_BAYS, FEWEST_BAYS = 8, 10, 4


class SupportInputs(TowerInputs):
    """What a ladder keeps besides its answers: gaps [mm], each a number of ``layers``, and what supports are wanted."""

    wants: Literal["easy", "clean", "hidden"]
    layers: list[int]


_WANTS: Final[dict[str, Literal["easy", "clean", "hidden"]]] = {"easy": "easy", "clean": "clean", "hidden": "hidden"}


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before the ladder is printed."""
    filled = Offer(tuned)
    return [
        choice_field(
            "wants",
            words.WANTS,
            words.PURPOSES,
            "clean" if tuned.setup.purpose == Purpose.LOOKS else "easy",
            words.WANTS_HINT,
        ),
        number_field("low", words.LOW, "layers", USUAL_LOW, words.LOW_HINT),
        number_field("count", words.COUNT, "", USUAL_BAYS),
        number_field("speed", words.SPEED, "mm/s", filled.own(Kind.SPEED_OUTER, usual=USUAL_SPEED_MM_S)),
        *filled.nozzles(),
        *line_fields(tuned),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    tuned, fields, typed = form.tuned, form.fields, form.typed
    reader = StartReader(tuned, typed, fields)
    low = reader.number("low", words.LOW, 0, MOST_LOW, words.layers_why(MOST_LOW), Unit.COUNT)
    many = reader.number("count", words.COUNT, 1, MOST_BAYS, f"1 to {MOST_BAYS} bays", Unit.COUNT)
    nozzle, first_nozzle = reader.nozzle("nozzle", "The nozzle"), reader.first_nozzle()
    rest = read_line(tuned, reader)
    if low is None or many is None or rest is None or nozzle is None:
        return None
    if low != round(low):
        fields.add(FieldProblem("low", "not_whole", words.WHOLE))
    if many < FEWEST_BAYS:
        fields.add(FieldProblem("count", "too_few", words.TOO_FEW))
    if fields.any:
        return None
    layers = [round(low) + place for place in range(round(many))]
    inputs = SupportInputs(
        current=in_use(tuned, Kind.SUPPORT_GAP), unit=Unit.MM, places=2, asked=FEWEST_BAYS,
        values=[round(below * rest["layer_mm"], 3) for below in layers], layers=layers, nozzle_c=nozzle,
        first_nozzle_c=first_nozzle, wants=_WANTS.get(typed.get("wants", ""), "easy"), **rest,
    )  # fmt: skip
    return Begun(inputs=inputs)


def ladder_of(tuned: Tuned, inputs: SupportInputs) -> tuple[Piece, Manner]:
    """The ladder of a run, and how it is printed; raises ``OutOfRange`` where it cannot be."""
    on, held = inputs.on or printed_on(tuned), machine_limits(tuned, still=True)
    manner = manner_of(tuned, inputs.bead, inputs.flow / 100, held, speed_mm_s=inputs.speed_mm_s)
    options = SupportOptions(
        bore_mm=on.bore_mm, line_width_mm=inputs.line_width_mm, layer_mm=inputs.layer_mm,
        first_layer_mm=inputs.first_layer_mm, layers=tuple(inputs.layers), fan_pct=inputs.fan_pct,
    )  # fmt: skip
    return support_piece(options, on.volume, manner), manner
