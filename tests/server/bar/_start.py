"""The start form of a bar."""

from __future__ import annotations

from tests.server.bar._run import BarInputs
from ubrex.core.chain import Kind
from ubrex.server.calibrations import Begun, Filled, Sides
from ubrex.server.desk import all_of
from ubrex.server.printing import Offer, StartReader, number_field, printed_on
from ubrex.server.profile import Tuned
from ubrex.server.views.forms import FieldOut


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before a bar is printed."""
    filled = Offer(tuned)
    return [
        number_field("current", "Scale now", "%", filled.own(Kind.SIZE_SCALE, usual=100.0)),
        number_field("drawn", "Length", "mm", 60.0),
        filled.line_width(),
        filled.first_layer("layer"),
        filled.nozzle(Kind.NOZZLE_FIRST, Kind.NOZZLE),
        filled.bed(Kind.BED_FIRST, Kind.BED),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    reader = StartReader(form.tuned, form.typed, form.fields)
    given = all_of(
        reader.value("current", "The scale", Kind.SIZE_SCALE),
        reader.number("drawn", "The length", 20.0, 150.0, "a calliper closes on 150 mm"),
        reader.line_width(),
        reader.layer("layer", "The layer"),
        reader.nozzle("nozzle", "The nozzle"),
        reader.bed(),
    )
    if given is None:
        return None
    current, drawn, width, layer, nozzle, bed = given
    inputs = BarInputs(
        current=current, drawn_mm=drawn, line_width_mm=width, layer_mm=layer, nozzle_c=nozzle, bed_c=bed or None,
        on=printed_on(form.tuned),
    )  # fmt: skip
    return Begun(inputs=inputs)
