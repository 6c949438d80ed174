"""The start form of a first-layer run."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import offset_for_surface
from ubrex.core.chain import Kind
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations.first_layer import _words as words
from ubrex.server.calibrations.first_layer._run import PatchInputs
from ubrex.server.desk import all_of
from ubrex.server.printing import Offer, StartReader, number_field, printed_on
from ubrex.server.profile import Tuned, other_stack
from ubrex.server.views.forms import FieldOut
from ubrex.server.words.numbers import plain

MOST_DIFFERENCE_MM: Final = 5.0
"""By how much two sheets differ at most."""


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before patches are printed, filled in with what the setup has.

    A machine that measures its offset itself has measured the sheet with it: it is not asked for its difference.
    """
    filled, itself = Offer(tuned), tuned.setup.toolhead.machine.measures_offset
    own = filled.tuned.values.get(Kind.Z_OFFSET)
    offset: float | str = "" if own is None else own.number
    thinner, hint = "", words.OTHER_SHEET
    known = None if itself or Kind.Z_OFFSET in tuned.values else other_stack(tuned.setup)
    if known is not None:
        offset, thinner, hint = known.offset_mm, plain(round(known.thinner_mm, 3)), words.stacks_said(known.name)
    return [
        number_field("current", words.CURRENT, "mm", offset, words.CURRENT_ITSELF if itself else words.CURRENT_HINT),
        filled.line_width(),
        filled.first_layer("layer"),
        filled.nozzle(Kind.NOZZLE_FIRST, Kind.NOZZLE),
        filled.bed(Kind.BED_FIRST, Kind.BED),
        *([] if itself else [number_field("thinner", words.THINNER, "mm", thinner, hint)]),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    reader = StartReader(form.tuned, form.typed, form.fields)
    given = all_of(
        reader.value("current", "The offset", Kind.Z_OFFSET),
        reader.line_width(),
        reader.layer("layer", "The layer"),
        reader.nozzle("nozzle", "The nozzle"),
        reader.bed(),
    )
    thinner = None
    if form.typed.get("thinner", "").strip() and not form.tuned.setup.toolhead.machine.measures_offset:
        most = MOST_DIFFERENCE_MM
        thinner = reader.number("thinner", "The difference", -most, most, words.THINNER_WHY)
    if given is None or form.fields.any:
        return None
    current, width, layer, nozzle, bed = given
    moved = ""
    if thinner is not None:
        moved = words.moved_for_sheet_said(current)
        current = offset_for_surface(current, thinner_mm=thinner)
    return Begun(
        inputs=PatchInputs(
            current=current,
            line_width_mm=width,
            layer_mm=layer,
            nozzle_c=nozzle,
            bed_c=bed or None,
            moved=moved,
            on=printed_on(form.tuned),
        )
    )
