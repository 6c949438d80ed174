"""The start form of a flow run: which walls, how they are printed, and when that was."""

from __future__ import annotations

import math
from datetime import datetime
from typing import Literal

from ubrex.core.bead import Bead
from ubrex.core.calibrate import FLOW_TOLERANCES_PCT, WallSample, diameter_ratio, evaluate_flow, feed_ratio
from ubrex.core.chain import Kind, Purpose
from ubrex.core.gcode.pieces import WALLS
from ubrex.core.quantity import Tool, Unit, decimal_text
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._moments import read_moment
from ubrex.server.calibrations.flow import _words as words
from ubrex.server.calibrations.flow._inputs import GROUPS, FlowInputs
from ubrex.server.desk import FieldProblem, all_of
from ubrex.server.printing import Offer, StartReader, choice_field, moment_field, number_field, printed_on
from ubrex.server.profile import Tuned, diameter_of, old_setting_of, value_at
from ubrex.server.store.records import Instrument
from ubrex.server.views.forms import FieldOut, WhenOut
from ubrex.server.words.numbers import unit_text
from ubrex.server.workshop import zero_at

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


def sees(tuned: Tuned, tool: Instrument, now: datetime) -> str:
    """What four walls of one line tell with a tool, and what a checked zero would make of it."""
    filled = Offer(tuned)
    line = float(filled.line_width().value)
    bead = Bead(width_mm=line, height_mm=float(filled.layer().value))

    def half_width_pct(error_mm: float) -> float:
        reads = Tool(resolution=tool.resolution, max_permissible_error=error_mm)
        box = WallSample(readings=((line,),) * len(WALLS), bead=bead, tool=reads, boxes=True)
        figures = evaluate_flow(box).figures
        return math.inf if figures is None else figures.half_width_95_pct

    known = zero_at(tool, now).get("zero_error_mm")
    error = tool.max_permissible_error if known is None else min(tool.max_permissible_error, known)
    checked = min(tool.max_permissible_error, tool.resolution)
    return words.sees_said(half_width_pct(error), half_width_pct(checked) if known is None else None)


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
    # A box of somebody's own making is printed already: nobody needs to know whether it fits on the bed.
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
    # Lines of our own box lie as far apart as we lay them; how far those of another do has to be said.
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
    rescaled: str | None = ""
    # A box of another day speaks of the values of that day: what was changed since is taken into account.
    if printed_at is not None:
        if _ask_which_flow(form, current, printed_at):
            return None
        current, rescaled = as_of_now(form.tuned, current, printed_at)
        if rescaled is None:
            form.fields.add(FieldProblem("printed_at", "sample_too_old", words.CHANGED_FROM_UNKNOWN))
        elif rescaled and form.typed.get("rescale") != "yes":
            form.fields.add(FieldProblem("printed_at", "sample_too_old", words.too_old_said(rescaled)))
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
            rescaled=words.rescaled_by_said(rescaled or ""),
            tolerance_pct=FLOW_TOLERANCES_PCT[Purpose(form.tuned.setup.purpose)],
            on=printed_on(form.tuned),
        )
    )


SAME_FLOW_PCT = 0.05
"""Flows nearer than this are the same number as it is typed [%]."""


def _ask_which_flow(form: Filled, current: float, printed_at: datetime) -> bool:
    """Ask where the flow typed is that of now, and another was on record when the piece was printed; whether it is asked."""
    then, now = value_at(Kind.FLOW, form.tuned.setup, printed_at), form.tuned.values.get(Kind.FLOW)
    if then is None or now is None or "current" in form.as_typed:
        return False
    asked = abs(current - now.number) < SAME_FLOW_PCT <= abs(current - then.number)
    if asked:
        said = words.flow_then_said(then.number, now.number)
        form.fields.add(
            FieldProblem("current", "flow_of_now", said, suggested=decimal_text(then.number, 1), confirmable=True)
        )
    return asked


def as_of_now(tuned: Tuned, flow: float, printed_at: datetime) -> tuple[float, str | None]:
    """Flow [%] of a piece that was printed before, as it would be with the e-steps and the diameter of now.

    With it the arithmetic, "" where nothing changed since, None where it is not known from what.
    """
    found, changes = flow, []
    steps = tuned.values.get(Kind.E_STEPS)
    if steps is not None and printed_at.timestamp() < steps.at_s:
        earlier = value_at(Kind.E_STEPS, tuned.setup, printed_at)
        # Before the first value on record the machine held what the first run found in it.
        before = old_setting_of(steps) if earlier is None else earlier.number if earlier.unit == steps.unit else None
        if before is None:
            return flow, None
        found /= feed_ratio(before, steps.number, Unit(steps.unit))
        changes.append((before, steps.number, unit_text(steps.unit)))
    thick = tuned.values.get(Kind.DIAMETER)
    if thick is not None and printed_at.timestamp() < thick.at_s:
        earlier = value_at(Kind.DIAMETER, tuned.setup, printed_at)
        entered = diameter_of(tuned.setup, None) if earlier is None else earlier.number
        found /= diameter_ratio(entered, thick.number)
        changes.append((entered, thick.number, "mm"))
    found = round(found, 2)
    if not changes or abs(found - flow) < SAME_FLOW_PCT:
        return flow, ""
    return found, words.rescaled_said(flow, found, changes)
