"""The start form of a size piece."""

from __future__ import annotations

from ubrex.core.chain import Kind
from ubrex.core.gcode.pieces import size_places
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations.size import _words as words
from ubrex.server.calibrations.size._run import SizeInputs
from ubrex.server.desk import all_of
from ubrex.server.printing import Offer, StartReader, choice_field, number_field, printed_on
from ubrex.server.profile import Tuned
from ubrex.server.views.forms import FieldOut
from ubrex.server.words import pieces


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before the piece is printed."""
    filled = Offer(tuned)
    return [
        choice_field("axis", words.AXIS, words.AXES, "x"),
        number_field("current", words.CURRENT, "%", filled.own(Kind.SIZE_SCALE, usual=100.0), words.CURRENT_HINT),
        number_field("outer", words.OUTSIDE, "mm", filled.own(Kind.SIZE_OUTER, usual=0.0), words.CONTOUR_HINT),
        number_field("inner", words.INSIDE, "mm", filled.own(Kind.SIZE_INNER, usual=0.0)),
        filled.line_width(),
        filled.layer(),
        filled.first_layer(),
        number_field("flow", "Flow", "%", filled.flow()),
        *filled.nozzles(),
        *filled.beds(),
        filled.fan(pieces.FAN_AS_PART),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    reader = StartReader(form.tuned, form.typed, form.fields)
    given = all_of(
        reader.value("current", words.CURRENT, Kind.SIZE_SCALE),
        reader.value("outer", words.OUTSIDE, Kind.SIZE_OUTER),
        reader.value("inner", words.INSIDE, Kind.SIZE_INNER),
        reader.line_width(),
        reader.layer("layer", pieces.THE_LAYER),
        reader.layer("first_layer", pieces.THE_FIRST_LAYER),
        reader.value("flow", "Flow", Kind.FLOW),
        reader.nozzle("nozzle", "The nozzle"),
        reader.bed(),
        reader.fan(),
    )
    first_nozzle, first_bed = reader.first_nozzle(), reader.first_bed()
    if given is None or form.fields.any:
        return None
    current, outer, inner, width, layer, first, flow, nozzle, bed, fan = given
    inputs = SizeInputs(
        current=current, outer_now_mm=outer, inner_now_mm=inner, axis="y" if form.typed.get("axis") == "y" else "x",
        asked=len(size_places()), line_width_mm=width, layer_mm=layer, first_layer_mm=first, flow=flow, nozzle_c=nozzle,
        first_nozzle_c=first_nozzle, bed_c=bed or None, first_bed_c=first_bed, fan_pct=fan, on=printed_on(form.tuned),
    )  # fmt: skip
    return Begun(inputs=inputs)
