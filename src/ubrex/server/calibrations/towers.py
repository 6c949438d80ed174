"""Towers before they are rated: which bands a setup gets and why, the start form, the piece, the file."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final, Literal

from pydantic import BaseModel, ConfigDict

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    FEWEST_FOAM_BANDS,
    SUSPECT_BIAS_C,
    LabelRange,
    TemperatureBands,
    label_at,
    retraction_bands,
    speed_bands,
    temperature_bands,
)
from ubrex.core.chain import Kind, Purpose
from ubrex.core.gcode import Heat, Manner
from ubrex.core.gcode.pieces import (
    MOST_BANDS,
    RETRACTION_BAND_MM,
    Piece,
    TowerOptions,
    foaming_tower,
    retraction_tower,
    temperature_tower,
)
from ubrex.core.materials import Stiffness, Window, family, strictest
from ubrex.core.quantity import Unit
from ubrex.server.desk import FieldProblem, TypedFields
from ubrex.server.printing import (
    Offer,
    PrintedOn,
    Printing,
    StartReader,
    choice,
    field,
    machine_limits,
    manner_of,
    piece_out,
    printed_on,
)
from ubrex.server.profile import Tuned, heat_limits, retraction_cap
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.runs import StartFieldOut
from ubrex.server.words.numbers import DASH, NBSP, plain
from ubrex.server.words.profile import LIMITS, window_said
from ubrex.server.workshop import Side

TEMPERATURE_METHOD: Final = "tower"
PULL_METHOD: Final = "pulls"
FOAM_METHOD: Final = "foam"

Of = Literal["temperature", "retraction", "foaming"]

FEWEST_PRINTED: Final = 3
USUAL_SPEED_MM_S: Final = 40.0

SCHOOLS_OF: Final[Mapping[str, tuple[str, ...]]] = {
    TEMPERATURE_METHOD: ("label", "err_hot"),
    FOAM_METHOD: ("label", "err_hot"),
    PULL_METHOD: ("flexible_strings",),
}
"""Disagreements that move a tower or what it offers."""


class TowerInputs(BaseModel):
    """What a tower run keeps besides its ratings; ``current`` is what is in use, 0 where nothing is. Bands bottom up."""

    model_config = ConfigDict(frozen=True)

    of: Of
    current: float
    in_use: bool
    unit: Unit
    places: int
    asked: int
    values: list[float]
    of_speed: bool = False
    crossings: int | None = None
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
    purpose: Purpose = Purpose.EVERYDAY
    cut: str = ""
    moved: str = ""
    swapped: list[str] = []
    skipped: list[str] = []
    zero_mm: float = 0.0
    err: Side = "usual"
    on: PrintedOn | None = None

    @property
    def bead(self) -> Bead:
        """The line of the tower."""
        return Bead(width_mm=self.line_width_mm, height_mm=self.layer_mm)

    @property
    def printing(self) -> Printing:
        """How it is printed; one that varies the heat is hot as its first band from the foot on."""
        heat = Heat(
            nozzle_c=self.nozzle_c if self.of == "retraction" else self.values[0],
            bed_c=self.bed_c,
            first_nozzle_c=self.first_nozzle_c,
            first_bed_c=self.first_bed_c,
        )
        return Printing(heat=heat, fan_pct=self.fan_pct, flow=self.flow / 100)


@dataclass(frozen=True)
class Proposed:
    """The bands that a setup gets for a temperature or foaming tower, and what moved them."""

    found: Tuned
    sides: Mapping[str, Side]
    typed_mm_s: float | None = None

    @property
    def speed_mm_s(self) -> float:
        """The speed the proposal holds for: the one typed, the setup's own, or a usual one."""
        value = self.found.values.get(Kind.SPEED_OUTER)
        return self.typed_mm_s or (USUAL_SPEED_MM_S if value is None else value.number)

    @cached_property
    def window(self) -> Window:
        """True temperatures worth a try: the label's at that speed, else the family's."""
        filament, row = self.found.setup.filament, family(self.found.setup.filament.family)
        rows = [
            LabelRange(low_c=one["low_c"], high_c=one["high_c"], from_mm_s=one.get("from_mm_s") or 0.0)
            for one in filament.label
        ]
        return label_at(rows, self.speed_mm_s) or row.nozzle or Window(low=200, high=230)

    @property
    def bias_c(self) -> float:
        """What the hotend shows too much; nothing for those who follow the spool."""
        checked = self.found.values.get(Kind.HEAT_BIAS)
        return 0.0 if checked is None or self.sides.get("label") == "one" else checked.number

    def bands(self, *, foaming: bool) -> TemperatureBands:
        """The bands."""
        held = machine_limits(self.found, still=True)
        limit = strictest(heat_limits(self.found.setup, Kind.NOZZLE, self.found.values.get(Kind.HEAT_BIAS)))
        return temperature_bands(
            self.window,
            bias_c=self.bias_c,
            limit=limit,
            coldest_c=held.feeds_from_c,
            fine=foaming,
            **({"fewest": FEWEST_FOAM_BANDS + 1} if foaming else {}),
        )

    def why(self, bands: TemperatureBands) -> str:
        """Where the bands come from, in one or two sentences."""
        filament = self.found.setup.filament
        whose = "the spool's label" if filament.label else f"what is usual for {family(filament.family).name}"
        window = Window(low=round(self.window.low), high=round(self.window.high))
        said = f"From {whose}, {window_said(window, '°C')} at {plain(self.speed_mm_s)}{NBSP}mm/s."
        if self.bias_c and abs(self.bias_c) <= SUSPECT_BIAS_C:
            said += (
                f" This hotend shows {plain(abs(self.bias_c))} too {'much' if self.bias_c > 0 else 'little'}: moved."
            )
        elif self.bias_c:
            said += f" Its heat check of {plain(self.bias_c)} °C is suspect: it moves nothing until it is confirmed."
        if bands.cut is not None:
            said += (
                f" Cut short at {plain(bands.cut.max_c)}{NBSP}°C: {LIMITS[bands.cut.of]}. A better one may lie beyond, and "
                "this hotend may not go there."
            )
        return said


def _line_fields(found: Tuned) -> list[StartFieldOut]:
    offer = Offer(found)
    return [
        offer.line_width(),
        offer.layer(),
        offer.first_layer(),
        field("flow", "Flow", "%", offer.flow()),
        *offer.beds(),
        offer.fan("as the part will have it"),
    ]


def heat_fields(found: Tuned, sides: Mapping[str, Side], *, foaming: bool) -> list[StartFieldOut]:
    """What is asked before a temperature or foaming tower is printed."""
    proposed = Proposed(found, sides)
    bands = proposed.bands(foaming=foaming)
    shown = bands.temperatures_c or (0.0,)
    fields = [
        field("coldest", "Coldest band", "°C", shown[0]),
        field("hottest", "Hottest band", "°C", shown[-1]),
        choice("step", "Step", {"5": "5 °C", "10": "10 °C"}, plain(bands.step_c)),
        field(
            "speed", "Speed", "mm/s", proposed.speed_mm_s,
            "What you want to print at: a faster line wants it hotter." if not foaming else "The same in all bands.",
        ),
    ]  # fmt: skip
    fields += _line_fields(found)
    if not foaming:
        fields.append(
            choice(
                "order", "From the foot up", {"below": "hottest first", "above": "coldest first"}, "below",
                "Hottest first: the nozzle only ever cools, and a cold band that fails takes no good one with it. "
                "Coldest first, if the hottest may sag.",
            )
        )  # fmt: skip
    return fields


def pull_fields(found: Tuned, sides: Mapping[str, Side]) -> list[StartFieldOut]:
    """What is asked before a retraction tower is printed."""
    offer, cap = Offer(found), retraction_cap(found.setup)
    bands = pull_values(found, sides)
    soft = offer.row.stiffness is Stiffness.FLEXIBLE
    said = "Step up from none, and stop at the first click." if soft else ""
    return [
        choice("vary", "Bands differ in", {"distance": "distance", "speed": "speed"}, "distance"),
        field("shortest", "Shortest", "mm", bands[0], said, when="vary=distance"),
        field("longest", "Longest", "mm", bands[-1], f"At most {plain(cap.distance_mm)} here.", when="vary=distance"),
        field("slowest", "Slowest", "mm/s", speed_bands(cap.speed_mm_s)[0], when="vary=speed"),
        field("fastest", "Fastest", "mm/s", cap.speed_mm_s, f"At most {plain(cap.speed_mm_s)}.", when="vary=speed"),
        field("count", "Bands", "", str(len(bands))),
        choice(
            "strings", "Strings", {"rated": "rated 0 to 4", "counted": "counted"}, "rated",
            "Counting says more, and takes longer: one side of each band, layer by layer.",
        ),
        field("speed", "Speed", "mm/s", offer.own(Kind.SPEED_OUTER, usual=USUAL_SPEED_MM_S)),
        *offer.nozzles(),
        *_line_fields(found),
    ]  # fmt: skip


def pull_values(found: Tuned, sides: Mapping[str, Side]) -> tuple[float, ...]:
    """Distances that are proposed: up to the cap; to half of it for those who retract almost nothing on flexibles."""
    cap = retraction_cap(found.setup)
    soft = family(found.setup.filament.family).stiffness is Stiffness.FLEXIBLE
    little = soft and sides.get("flexible_strings") == "one"
    return retraction_bands(cap.distance_mm, from_zero=soft, share=0.5 if little else 1.0)


def _line(found: Tuned, reader: StartReader) -> dict[str, Any]:
    """Line, layers, bed, fan, flow and speed of a tower, and what it is printed on."""
    fastest = reader.held.speed_mm_s
    why = f"this machine is held to {plain(fastest)} mm/s"
    return {
        "line_width_mm": reader.line_width(),
        "layer_mm": reader.layer("layer", "The layer"),
        "first_layer_mm": reader.layer("first_layer", "The first layer"),
        "bed_c": reader.bed(),
        "first_bed_c": reader.first_bed(),
        "fan_pct": reader.fan(),
        "flow": reader.number("flow", "Flow", 25, 200, "walls take 25 to 200 %", Unit.PERCENT),
        "on": printed_on(found),
        "speed_mm_s": reader.number("speed", "The speed", 5, fastest, why, Unit.MM_PER_S),
    }


_FIELDS: Final = (
    "coldest", "hottest", "step", "shortest", "longest", "slowest", "fastest", "count", "nozzle", "line_width", "layer",
    "first_layer", "first_nozzle", "first_bed", "bed", "fan", "flow", "speed",
)  # fmt: skip


def read_heat(
    found: Tuned, typed: Mapping[str, str], fields: TypedFields, sides: Mapping[str, Side], *, foaming: bool
) -> TowerInputs | None:
    """Inputs of a temperature or foaming run from its start form; None where a field needs another look."""
    reader = StartReader(found, typed, fields)
    coldest, hottest = reader.nozzle("coldest", "The coldest band"), reader.nozzle("hottest", "The hottest band")
    step = 10.0 if typed.get("step") == "10" else 5.0
    line = _line(found, reader)
    fewest = FEWEST_FOAM_BANDS if foaming else FEWEST_PRINTED
    count = int((hottest - coldest) / step + 1e-9) + 1
    if not (fields.has("coldest") or fields.has("hottest")):
        if hottest <= coldest:
            fields.add(FieldProblem("hottest", "upside_down", "The hottest band has to be hotter than the coldest."))
        elif count < fewest:
            many = f"{count} band{'s' if count > 1 else ''}"
            said = f"That makes {many}: nothing can be told from fewer than {fewest}. Widen it."
            fields.add(FieldProblem("hottest", "too_few", said))
        elif count > MOST_BANDS:
            said = f"That makes {count} bands; a tower has {MOST_BANDS} at most."
            fields.add(FieldProblem("hottest", "too_many", said))
    if reader.wrong(*_FIELDS):
        return None
    values = [coldest + step * place for place in range(count)]
    proposed = Proposed(found, sides, line["speed_mm_s"])
    bands = proposed.bands(foaming=foaming)
    moved = proposed.why(bands)
    ends = bands.temperatures_c[:1] + bands.temperatures_c[-1:]
    if ends and ends != (coldest, hottest):
        moved += f" That would be {plain(ends[0])}{DASH}{plain(ends[1])}{NBSP}°C; you chose the ends yourself."
    now = found.values.get(Kind.NOZZLE)
    upwards = foaming or typed.get("order") == "above"
    return TowerInputs(
        of="foaming" if foaming else "temperature",
        current=0.0 if now is None else now.number,
        in_use=now is not None,
        unit=Unit.CELSIUS,
        places=0,
        asked=3 * count if foaming else 3,
        values=values if upwards else values[::-1],
        nozzle_c=hottest,
        purpose=_purpose(found),
        moved=moved,
        err=sides.get("err_hot", "usual"),
        **line,
    )


def read_pulls(found: Tuned, typed: Mapping[str, str], fields: TypedFields) -> TowerInputs | None:
    """Inputs of a retraction run from its start form; None where a field needs another look."""
    reader = StartReader(found, typed, fields)
    cap = retraction_cap(found.setup)
    of_speed = typed.get("vary") == "speed"
    low_name, high_name = ("slowest", "fastest") if of_speed else ("shortest", "longest")
    most, unit = (cap.speed_mm_s, Unit.MM_PER_S) if of_speed else (cap.distance_mm, Unit.MM)
    why = f"at most {plain(most)} {unit.value} here: {cap.why}"
    low = reader.number(low_name, "The least", 1.0 if of_speed else 0.0, most, why, unit)
    high = reader.number(high_name, "The most", 1.0 if of_speed else 0.0, most, why, unit)
    count = round(reader.number("count", "The number of bands", 1, MOST_BANDS, f"1 to {MOST_BANDS} bands", Unit.COUNT))
    nozzle, first_nozzle = reader.nozzle("nozzle", "The nozzle"), reader.first_nozzle()
    line = _line(found, reader)
    places = 0 if of_speed else 1
    if not any(fields.has(name) for name in (low_name, high_name, "count")):
        values = [round(low + (high - low) * place / max(1, count - 1), places) for place in range(count)]
        if high <= low:
            fields.add(FieldProblem(high_name, "upside_down", "The most has to be more than the least."))
        elif len(set(values)) < FEWEST_PRINTED:
            said = f"That makes {len(set(values))}: nothing can be told from fewer than {FEWEST_PRINTED} bands."
            fields.add(FieldProblem("count", "too_few", said))
        elif len(set(values)) < count:
            fields.add(FieldProblem("count", "too_many", "Bands that close cannot be told apart: fewer, or farther."))
    if reader.wrong(*_FIELDS):
        return None
    now = found.values.get(Kind.RETRACTION_SPEED if of_speed else Kind.RETRACTION)
    layer = line["layer_mm"] or reader.bore_mm / 2
    return TowerInputs(
        of="retraction",
        current=0.0 if now is None else now.number,
        in_use=now is not None,
        unit=unit,
        places=places,
        asked=3,
        values=values,
        of_speed=of_speed,
        crossings=round(RETRACTION_BAND_MM / layer) if typed.get("strings") == "counted" else None,
        nozzle_c=nozzle,
        first_nozzle_c=first_nozzle,
        moved=f"Up to {plain(most)} {unit.value}: {cap.why}.",
        **line,
    )


def _purpose(found: Tuned) -> Purpose:
    chosen = Purpose(found.setup.purpose)
    return Purpose.EVERYDAY if chosen is Purpose.LIGHTNESS else chosen


def tower_of(found: Tuned, inputs: TowerInputs) -> tuple[Piece, Manner]:
    """The tower of a run, and how it is printed.

    Raises
    ------
    OutOfRange
        If line, layer, bands or size do not go with the bore or the machine.
    """
    held, on = machine_limits(found, still=True), inputs.on or printed_on(found)
    manner = manner_of(found, inputs.bead, inputs.flow / 100, held, speed_mm_s=inputs.speed_mm_s)
    options = TowerOptions(
        bore_mm=on.bore_mm,
        line_width_mm=inputs.line_width_mm,
        layer_mm=inputs.layer_mm,
        first_layer_mm=inputs.first_layer_mm,
        values=tuple(inputs.values),
        fan_pct=inputs.fan_pct,
    )
    match inputs.of:
        case "temperature":
            return temperature_tower(options, on.volume, manner), manner
        case "foaming":
            return foaming_tower(options, on.volume, manner), manner
    return retraction_tower(options, on.volume, manner, of_speed=inputs.of_speed), manner


def preview(found: Tuned, inputs: TowerInputs) -> PieceOut:
    """The tower before it is printed."""
    piece, manner = tower_of(found, inputs)
    rate = manner.speed_mm_s * inputs.bead.area_mm2 * inputs.flow / 100
    remarks = [
        inputs.moved,
        f"It holds for {plain(round(manner.speed_mm_s, 1))}{NBSP}mm/s, {plain(round(rate, 1))}{NBSP}mm³/s.",
    ]
    if manner.speed_mm_s < inputs.speed_mm_s - 0.05:
        remarks.append(
            f"{plain(inputs.speed_mm_s)}{NBSP}mm/s would melt more than is known to be safe here: printed slower."
        )
    if inputs.of != "retraction":
        remarks.append(f"At each border the nozzle waits 10{NBSP}s beside the tower for its new temperature.")
    return piece_out(piece, found, manner, [], [remark for remark in remarks if remark])


def heading(piece: Piece, inputs: TowerInputs) -> list[tuple[str, str]]:
    """What the head of a file says of a tower."""
    unit = inputs.unit.value
    return [
        ("bands", f"{len(piece.bands)}, {plain(piece.bands[0].value)} {unit} at the bottom"),
        *(
            (
                f"band {place}",
                f"{plain(band.value)} {unit}, {band.from_mm:.2f}{DASH}{band.to_mm:.2f} mm, settled from "
                f"{band.settled_mm:.2f} mm",
            )
            for place, band in enumerate(piece.bands, 1)
        ),
        ("why these", inputs.moved),
    ]
