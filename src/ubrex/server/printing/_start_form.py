"""What the start forms of printed pieces share: fields filled in with what a setup has, and read within every limit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from ubrex.core.bead import NARROWEST, THICKEST, THINNEST, WIDEST, usual_layer_mm
from ubrex.core.chain import KINDS, Kind
from ubrex.core.gcode import MachineLimits
from ubrex.core.materials import UNKNOWN_WINDOW, Family, family
from ubrex.core.quantity import Unit
from ubrex.server.desk import TypedFields
from ubrex.server.printing._pieces import machine_limits
from ubrex.server.profile import Tuned, limit_on, off_said_on, usual_on
from ubrex.server.views.forms import FieldOut, FormOptionOut, WhenOut
from ubrex.server.words import pieces as words
from ubrex.server.words.numbers import plain

PIECE_LINE: Final = 1.1
"""Width of a piece's line where the setup has none, in bores: in the middle of what it lays best (job, chain row 5)."""


def number_field(
    name: str, label: str, unit: str, value: float | str, hint: str = "", when: WhenOut | None = None
) -> FieldOut:
    """A field to type a number into."""
    shown = value if isinstance(value, str) else plain(round(value, 3))
    return FieldOut(name=name, label=label, kind="number", unit=unit, value=shown, hint=hint, when=when)


def choice_field(
    name: str, label: str, options: Mapping[str, str], value: str, hint: str = "", when: WhenOut | None = None
) -> FieldOut:
    """A choice among a few."""
    shown = [FormOptionOut(value=key, text=text) for key, text in options.items()]
    return FieldOut(name=name, label=label, kind="choice", value=value, hint=hint, options=shown, when=when)


def moment_field(name: str, label: str, hint: str = "") -> FieldOut:
    """A day and a time; empty for now."""
    return FieldOut(name=name, label=label, kind="moment", value="", hint=hint)


@dataclass(frozen=True)
class Offer:
    """Fields filled in with what a setup has, or else with what is usual."""

    tuned: Tuned

    @property
    def row(self) -> Family:
        """The family of its filament."""
        return family(self.tuned.setup.filament.family)

    @property
    def bore_mm(self) -> float:
        """Bore of its nozzle."""
        return self.tuned.setup.nozzle.bore_mm

    def own(self, *kinds: Kind, usual: float) -> float:
        """The first of these values that the setup has, or what is usual."""
        return next((self.tuned.values[kind].number for kind in kinds if kind in self.tuned.values), usual)

    def line_width(self) -> FieldOut:
        """Width of the line."""
        bore = self.bore_mm
        width = self.own(Kind.LINE_WIDTH, usual=round(bore * PIECE_LINE, 2))
        hint = words.lines_said(NARROWEST * bore, WIDEST * bore)
        return number_field("line_width", words.LINE_WIDTH, "mm", width, hint)

    def layer(self) -> FieldOut:
        """Height of all layers but the first."""
        return number_field("layer", words.LAYER, "mm", self.own(Kind.LAYER, usual=usual_layer_mm(self.bore_mm)))

    def first_layer(self, name: str = "first_layer") -> FieldOut:
        """Height of the first layer."""
        height = self.own(Kind.LAYER_FIRST, Kind.LAYER, usual=usual_layer_mm(self.bore_mm))
        return number_field(name, words.FIRST_LAYER, "mm", height)

    def nozzle(self, *kinds: Kind, name: str = "nozzle", label: str = words.NOZZLE) -> FieldOut:
        """Temperature of the nozzle."""
        shown = self.own(*kinds, usual=self._usual_low(Kind.NOZZLE, UNKNOWN_WINDOW.low))
        return number_field(name, label, "°C", shown, off_said_on(self.tuned))

    def bed(self, *kinds: Kind, name: str = "bed", label: str = words.BED) -> FieldOut:
        """Temperature of the bed."""
        return number_field(name, label, "°C", self.own(*kinds, usual=self._usual_low(Kind.BED, 0.0)), words.NOT_HEATED)

    def _usual_low(self, kind: Kind, otherwise: float) -> float:
        """Where the label begins, else the family [°C]; never beyond a limit."""
        usual, limit = (
            usual_on(self.tuned, kind),
            limit_on(self.tuned, kind),
        )
        low = otherwise if usual is None else usual.window.low
        return low if limit is None else min(low, limit.max_c)

    def nozzles(self) -> list[FieldOut]:
        """Temperatures of the nozzle: for the first layer, and for the others."""
        first = self.nozzle(Kind.NOZZLE_FIRST, Kind.NOZZLE, name="first_nozzle", label=words.NOZZLE_FIRST)
        return [first, self.nozzle(Kind.NOZZLE)]

    def beds(self) -> list[FieldOut]:
        """Temperatures of the bed: for the first layer, and for the others."""
        first = self.bed(Kind.BED_FIRST, Kind.BED, name="first_bed", label=words.BED_FIRST)
        return [first, self.bed(Kind.BED, Kind.BED_FIRST)]

    def fan(self, hint: str = "") -> FieldOut:
        """The fan."""
        return number_field(
            "fan", words.FAN, "%", self.own(Kind.FAN, usual=self.row.fan.low if self.row.fan else 0), hint
        )

    def flow(self) -> float:
        """Flow [%]: foam begins at half."""
        return round(self.own(Kind.FLOW, usual=50.0 if self.row.foaming else 100.0), 1)


class StartReader:
    """Numbers of a start form, judged against what a setup allows; ``still``: its size does not matter."""

    def __init__(self, tuned: Tuned, typed: Mapping[str, str], fields: TypedFields, *, still: bool = False) -> None:
        self.typed, self.fields = typed, fields
        self.held: MachineLimits = machine_limits(tuned, still=still)
        self.bore_mm = tuned.setup.nozzle.bore_mm

    def number(self, name: str, what: str, low: float, high: float, why: str, unit: Unit = Unit.MM) -> float | None:
        """A number between two bounds."""
        return self.fields.number(name, self.typed.get(name, ""), what=what, low=low, high=high, why=why, unit=unit)

    def value(self, name: str, what: str, kind: Kind) -> float | None:
        """A value of a kind, within what is possible for it at all."""
        row = KINDS[kind]
        return self.number(name, what, row.low, row.high, row.why, row.unit)

    def line_width(self) -> float | None:
        """Width of the line [mm]."""
        low, high = round(NARROWEST * self.bore_mm, 4), round(WIDEST * self.bore_mm, 4)
        why = words.lays_said(self.bore_mm, "lines", low, high)
        return self.number("line_width", words.LINE_WIDTH, low, high, why)

    def layer(self, name: str, what: str) -> float | None:
        """Height of a layer [mm]."""
        low, high = round(THINNEST * self.bore_mm, 4), round(THICKEST * self.bore_mm, 4)
        why = words.lays_said(self.bore_mm, "layers", low, high)
        return self.number(name, what, low, high, why)

    def nozzle(self, name: str, what: str) -> float | None:
        """A temperature that the nozzle may have [°C]."""
        cap = self.held.nozzle
        why = words.fed_from_said(self.held.feeds_from_c, cap.max_c, cap.why)
        return self.number(name, what, self.held.feeds_from_c, cap.max_c, why, Unit.CELSIUS)

    def first_nozzle(self) -> float | None:
        """Temperature that the nozzle has in the first layer [°C]; None where nobody was asked for one of its own."""
        return self.nozzle("first_nozzle", words.THE_NOZZLE_FIRST) if "first_nozzle" in self.typed else None

    def bed(self, name: str = "bed", what: str = words.THE_BED) -> float | None:
        """Temperature of the bed [°C]; 0 where it is not heated."""
        cap = self.held.bed
        why = words.never_above_said(cap.max_c, cap.why)
        return self.number(name, what, 0, cap.max_c, why, Unit.CELSIUS)

    def first_bed(self) -> float | None:
        """Temperature of the bed in the first layer [°C]; None where nobody was asked for one of its own."""
        return self.bed("first_bed", words.THE_BED_FIRST) if "first_bed" in self.typed else None

    def fan(self) -> float | None:
        """The fan [%]."""
        return self.number("fan", words.THE_FAN, 0, 100, words.FAN_WHY, Unit.PERCENT)

    def wrong(self, *names: str) -> bool:
        """Whether any of these fields needs another look."""
        return any(self.fields.has(name) for name in names)
