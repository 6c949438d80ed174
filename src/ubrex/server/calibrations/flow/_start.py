"""The start form of a flow run: which walls, how they are printed, and when that was."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ubrex.core.calibrate import FLOW_TOLERANCES_PCT, feed_ratio
from ubrex.core.chain import Kind, Purpose
from ubrex.core.gcode.pieces import WALLS
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._moments import read_moment
from ubrex.server.calibrations.flow import _words as words
from ubrex.server.calibrations.flow._inputs import GROUPS, FlowInputs
from ubrex.server.desk import FieldProblem, all_of
from ubrex.server.printing import Offer, StartReader, choice_field, moment_field, number_field, printed_on
from ubrex.server.profile import Tuned, esteps_at, old_setting_of
from ubrex.server.views.forms import FieldOut, WhenOut
from ubrex.server.words.numbers import unit_text

FIRST_A_WALL = 1
"""Readings first asked for on each wall (rules, B)."""

NARROWEST_SPACING, WIDEST_SPACING = 0.5, 2.0
"""How far apart lines of a wall may lie, in bores."""


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before a box is printed, filled in with what the setup has."""
    filled = Offer(tuned)
    return [
        choice_field(
            "walls", "Walls", words.WALLS, "one",
            words.WALLS_HINT,
        ),
        choice_field("own", words.OWN, words.WRITTEN_BY, "yes"),
        number_field("current", words.CURRENT, "%", filled.flow(), words.CURRENT_HINT),
        filled.line_width(),
        filled.layer(),
        filled.first_layer(),
        number_field(
            "spacing", words.SPACING, "mm", "", words.SPACING_HINT,
            WhenOut(field="own", value="no"),
        ),
        *filled.nozzles(),
        *filled.beds(),
        filled.fan(),
        moment_field("printed_at", words.PRINTED_AT, words.PRINTED_AT_HINT),
        choice_field(
            "rescale", words.RESCALE, words.IF_CHANGED, "no", when=WhenOut(field="printed_at")
        ),
    ]  # fmt: skip


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    walls: Literal["one", "two", "both"] = "one"
    match form.typed.get("walls"):
        case "two":
            walls = "two"
        case "both":
            walls = "both"
        case _:
            pass
    own = form.typed.get("own", "yes") != "no"
    reader = StartReader(form.tuned, form.typed, form.fields, still=not own)
    given = all_of(
        reader.value("current", "Flow", Kind.FLOW),
        reader.line_width(),
        reader.layer("layer", "The layer"),
        reader.layer("first_layer", "The first layer"),
        reader.nozzle("nozzle", "The nozzle"),
        reader.bed(),
        reader.fan(),
    )
    spacing = None
    if not own and walls != "one":
        bore = reader.bore_mm
        why = words.SPACING_WHY
        spacing = reader.number("spacing", "The spacing", NARROWEST_SPACING * bore, WIDEST_SPACING * bore, why)
    first_nozzle, first_bed = reader.first_nozzle(), reader.first_bed()
    printed_at = read_moment(form, "printed_at", words.IN_FUTURE)
    if given is None:
        return None
    current, width, layer, first, nozzle, bed, fan = given
    rescaled = ""
    if printed_at is not None:
        current, rescaled = _at_e_steps_of_now(form, current, printed_at)
    if form.fields.any:
        return None
    return Begun(
        inputs=FlowInputs(
            current=current,
            asked=len(WALLS) * len(GROUPS[walls]) * FIRST_A_WALL,
            walls=walls,
            own=own,
            line_width_mm=width,
            layer_mm=layer,
            first_layer_mm=first,
            spacing_mm=spacing,
            nozzle_c=nozzle,
            bed_c=bed or None,
            first_nozzle_c=first_nozzle,
            first_bed_c=first_bed,
            fan_pct=fan,
            rescaled=rescaled,
            tolerance_pct=FLOW_TOLERANCES_PCT[Purpose(form.tuned.setup.purpose)],
            on=printed_on(form.tuned),
        )
    )


def _at_e_steps_of_now(form: Filled, current: float, printed_at: datetime) -> tuple[float, str]:
    """Flow of a piece that was printed before, as it would be at the e-steps of now; and the arithmetic."""
    now = form.tuned.values.get(Kind.E_STEPS)
    if now is None or printed_at.timestamp() >= now.at_s:
        return current, ""
    earlier = esteps_at(form.tuned.setup, printed_at)
    # Before the first value on record the machine held what the first run found in it.
    before = old_setting_of(now) if earlier is None else earlier.number if earlier.unit == now.unit else None
    if before is None:
        form.fields.add(FieldProblem("printed_at", "sample_too_old", words.CHANGED_FROM_UNKNOWN))
        return current, ""
    rescaled = round(current / feed_ratio(before, now.number, Unit(now.unit)), 2)
    said = words.rescaled_said(current, before, rescaled, now.number, unit_text(now.unit))
    if form.typed.get("rescale") != "yes":
        form.fields.add(FieldProblem("printed_at", "sample_too_old", words.too_old_said(said)))
        return current, ""
    return rescaled, f"rescaled: {said}"
