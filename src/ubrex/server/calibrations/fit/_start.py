"""The start form of a fit ladder."""

from __future__ import annotations

from typing import Final, Literal

from ubrex.core.chain import Kind, Purpose
from ubrex.core.gcode import Manner
from ubrex.core.gcode.pieces import MOST_BANDS, LadderOptions, Piece, fit_piece
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._tower_start import USUAL_SPEED_MM_S, TowerInputs, in_use, line_fields, read_line
from ubrex.server.calibrations.fit import _words as words
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

KINDS_OF: Final = {"snug": Kind.FIT_SNUG, "free": Kind.FIT_FREE}
"""Which value a ladder finds for what it is for."""

USUAL_LOW_MM, USUAL_HIGH_MM, USUAL_HOLES, USUAL_PEG_MM = 0.1, 0.5, "9", 8.0
TIGHTEST_MM, WIDEST_MM = -0.2, 1.5
THINNEST_PEG_MM, THICKEST_PEG_MM = 2.0, 40.0
FEWEST_HOLES: Final = 4
"""Gaps from which anything can be told (rules, O)."""

LONGEST_NAME: Final = 60


class FitInputs(TowerInputs):
    """What a ladder keeps besides its answers: gaps [mm], what it is for, the peg, and what goes in where it is no peg."""

    wants: Literal["snug", "free"]
    peg_mm: float
    mate: str = ""


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before the ladder is printed."""
    filled = Offer(tuned)
    return [
        choice_field("wants", words.WANTS, words.PURPOSES, "snug" if tuned.setup.purpose == Purpose.FIT else "free"),
        FieldOut(name="mate", label=words.MATE, kind="text", value="", hint=words.MATE_HINT),
        number_field("peg", words.PEG, "mm", USUAL_PEG_MM, words.PEG_HINT),
        number_field("low", words.LOW, "mm", USUAL_LOW_MM, words.GAP_HINT),
        number_field("high", words.HIGH, "mm", USUAL_HIGH_MM),
        number_field("count", words.COUNT, "", USUAL_HOLES),
        number_field("speed", words.SPEED, "mm/s", filled.own(Kind.SPEED_OUTER, usual=USUAL_SPEED_MM_S)),
        *filled.nozzles(),
        *line_fields(tuned),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    tuned, fields, typed = form.tuned, form.fields, form.typed
    reader = StartReader(tuned, typed, fields)
    low = reader.number("low", words.LOW, TIGHTEST_MM, WIDEST_MM, words.GAP_WHY, Unit.MM)
    high = reader.number("high", words.HIGH, TIGHTEST_MM, WIDEST_MM, words.GAP_WHY, Unit.MM)
    peg = reader.number("peg", words.PEG, THINNEST_PEG_MM, THICKEST_PEG_MM, words.PEG_WHY, Unit.MM)
    many = reader.number("count", words.COUNT, 1, MOST_BANDS, f"1 to {MOST_BANDS} holes", Unit.COUNT)
    nozzle, first_nozzle = reader.nozzle("nozzle", "The nozzle"), reader.first_nozzle()
    rest = read_line(tuned, reader)
    wants: Literal["snug", "free"] = "free" if typed.get("wants") == "free" else "snug"
    mate = typed.get("mate", "").strip()
    if len(mate) > LONGEST_NAME:
        fields.add(FieldProblem("mate", "too_long", words.LONG_NAME))
    if low is None or high is None or peg is None or many is None or rest is None or nozzle is None:
        return None
    count = round(many)
    gaps = [round(low + (high - low) * place / max(1, count - 1), 2) for place in range(count)]
    if high <= low:
        fields.add(FieldProblem("high", "upside_down", words.UPSIDE_DOWN))
    elif count < FEWEST_HOLES:
        fields.add(FieldProblem("count", "too_few", words.TOO_FEW))
    elif len(set(gaps)) < count:
        fields.add(FieldProblem("count", "too_many", words.TOO_CLOSE))
    if fields.any:
        return None
    inputs = FitInputs(
        current=in_use(tuned, KINDS_OF[wants]), unit=Unit.MM, places=2, asked=FEWEST_HOLES, values=gaps, nozzle_c=nozzle,
        first_nozzle_c=first_nozzle, wants=wants, peg_mm=peg, mate=mate, **rest,
    )  # fmt: skip
    return Begun(inputs=inputs)


def ladder_of(tuned: Tuned, inputs: FitInputs) -> tuple[Piece, Manner]:
    """The ladder of a run, and how it is printed; raises ``OutOfRange`` where it cannot be."""
    on, held = inputs.on or printed_on(tuned), machine_limits(tuned, still=True)
    manner = manner_of(tuned, inputs.bead, inputs.flow / 100, held, speed_mm_s=inputs.speed_mm_s)
    return fit_piece(options_of(inputs, on.bore_mm), on.volume, manner), manner


def options_of(inputs: FitInputs, bore_mm: float) -> LadderOptions:
    """The shape of a ladder."""
    return LadderOptions(
        bore_mm=bore_mm, line_width_mm=inputs.line_width_mm, layer_mm=inputs.layer_mm,
        first_layer_mm=inputs.first_layer_mm, peg_mm=inputs.peg_mm, gaps_mm=tuple(inputs.values),
        own_peg=not inputs.mate, fan_pct=inputs.fan_pct,
    )  # fmt: skip
