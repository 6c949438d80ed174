"""What towers share before they are rated: their inputs, the line they are printed with, the preview."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Final

from ubrex.core.bead import Bead
from ubrex.core.chain import Kind
from ubrex.core.gcode import Heat, Manner
from ubrex.core.gcode.pieces import TowerOptions
from ubrex.core.quantity import Unit
from ubrex.server.calibrations import _tower_words as words
from ubrex.server.calibrations._calibration import RunInputs
from ubrex.server.desk import all_of
from ubrex.server.printing import Offer, Printing, StartReader, machine_limits, manner_of, number_field, printed_on
from ubrex.server.profile import Tuned
from ubrex.server.views.forms import FieldOut
from ubrex.server.words import pieces

FEWEST_PRINTED: Final = 3
"""Bands from which anything can be told (rules, E and F)."""

USUAL_SPEED_MM_S: Final = 40.0
"""Speed of a tower where the setup has none."""

SLOWEST_MM_S: Final = 5.0
LEAST_FLOW_PCT, MOST_FLOW_PCT = 25.0, 200.0


class BandInputs(RunInputs):
    """What a run with bands keeps besides its ratings; ``current`` is what is in use. Bands bottom up."""

    values: list[float]
    moved: str = ""
    swapped: list[str] = []  # noqa: RUF012


class TowerInputs(BandInputs):
    """What a printed tower keeps besides: line, layers, heat, fan, flow and speed."""

    line_width_mm: float
    layer_mm: float
    first_layer_mm: float
    nozzle_c: float
    bed_c: float | None = None
    first_nozzle_c: float | None = None
    first_bed_c: float | None = None
    fan_pct: float = 0.0
    flow: float = 100.0
    speed_mm_s: float = USUAL_SPEED_MM_S

    @property
    def bead(self) -> Bead:
        """The line of the tower."""
        return Bead(width_mm=self.line_width_mm, height_mm=self.layer_mm)

    @property
    def starts_c(self) -> float:
        """How hot it is from the foot on."""
        return self.nozzle_c

    @property
    def heats_c(self) -> Sequence[float]:
        """How hot it is anywhere, coldest first."""
        return (self.nozzle_c,)

    @property
    def printed_with(self) -> Sequence[tuple[Kind, float]]:
        """Line, layers, the ends of its heat, bed and fan."""
        asked = (
            (Kind.LINE_WIDTH, self.line_width_mm),
            (Kind.LAYER, self.layer_mm),
            (Kind.LAYER_FIRST, self.first_layer_mm),
            (Kind.NOZZLE_FIRST, self.first_nozzle_c or self.starts_c),
            *((Kind.NOZZLE, celsius) for celsius in dict.fromkeys((self.heats_c[0], self.heats_c[-1]))),
            (Kind.BED, self.bed_c),
            (Kind.BED_FIRST, self.first_bed_c or self.bed_c),
            (Kind.FAN, self.fan_pct),
        )
        return [(kind, number) for kind, number in asked if number is not None]

    @property
    def printing(self) -> Printing:
        """How it is printed."""
        heat = Heat(
            nozzle_c=self.starts_c,
            bed_c=self.bed_c,
            first_nozzle_c=self.first_nozzle_c,
            first_bed_c=self.first_bed_c,
        )
        return Printing(heat=heat, fan_pct=self.fan_pct, flow=self.flow / 100)


class HeatTowerInputs(TowerInputs):
    """Inputs of a tower whose bands differ in heat; it is hot as its first band from the foot on."""

    @property
    def starts_c(self) -> float:
        """As hot as its first band."""
        return self.values[0]

    @property
    def heats_c(self) -> Sequence[float]:
        """The heats of its bands."""
        return sorted(self.values)


def line_fields(tuned: Tuned) -> list[FieldOut]:
    """What is asked of line, layers, bed, fan and flow."""
    filled = Offer(tuned)
    return [
        filled.line_width(),
        filled.layer(),
        filled.first_layer(),
        number_field("flow", "Flow", "%", filled.flow()),
        *filled.beds(),
        filled.fan(pieces.FAN_AS_PART),
    ]


def read_line(tuned: Tuned, reader: StartReader) -> dict[str, Any] | None:
    """Line, layers, bed, fan, flow and speed of a tower, and what it is printed on; None where a field is refused."""
    fastest = reader.held.speed_mm_s
    why = pieces.held_to_said(fastest)
    given = all_of(
        reader.line_width(),
        reader.layer("layer", pieces.THE_LAYER),
        reader.layer("first_layer", pieces.THE_FIRST_LAYER),
        reader.bed(),
        reader.fan(),
        reader.number("flow", "Flow", LEAST_FLOW_PCT, MOST_FLOW_PCT, pieces.FLOW_WHY, Unit.PERCENT),
        reader.number("speed", pieces.THE_SPEED, SLOWEST_MM_S, fastest, why, Unit.MM_PER_S),
    )
    first_bed = reader.first_bed()
    if given is None:
        return None
    width, layer, first, bed, fan, flow, speed = given
    return {
        "line_width_mm": width,
        "layer_mm": layer,
        "first_layer_mm": first,
        "bed_c": bed or None,
        "first_bed_c": first_bed,
        "fan_pct": fan,
        "flow": flow,
        "on": printed_on(tuned),
        "speed_mm_s": speed,
    }


def options_of(tuned: Tuned, inputs: TowerInputs) -> tuple[TowerOptions, Manner]:
    """The tower of a run before its shape is known, and how it is printed."""
    held, on = machine_limits(tuned, still=True), inputs.on or printed_on(tuned)
    manner = manner_of(tuned, inputs.bead, inputs.flow / 100, held, speed_mm_s=inputs.speed_mm_s)
    options = TowerOptions(
        bore_mm=on.bore_mm,
        line_width_mm=inputs.line_width_mm,
        layer_mm=inputs.layer_mm,
        first_layer_mm=inputs.first_layer_mm,
        values=tuple(inputs.values),
        fan_pct=inputs.fan_pct,
    )
    return options, manner


def tower_remarks(tuned: Tuned, inputs: TowerInputs) -> list[str]:
    """What is said of a tower before it is printed: why these bands, what it holds for."""
    _, manner = options_of(tuned, inputs)
    rate = manner.speed_mm_s * inputs.bead.area_mm2 * inputs.flow / 100
    remarks = [inputs.moved, words.holds_for_said(manner.speed_mm_s, rate)]
    if manner.speed_mm_s < inputs.speed_mm_s - 0.05:
        remarks.append(words.slower_said(inputs.speed_mm_s))
    return [remark for remark in remarks if remark]


def in_use(tuned: Tuned, kind: Kind) -> float | None:
    """The value in use; None where there is none."""
    value = tuned.values.get(kind)
    return None if value is None else value.number
