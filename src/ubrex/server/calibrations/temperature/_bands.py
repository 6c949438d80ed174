"""Which bands a setup gets for a tower whose bands differ in heat, and the form that asks for them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from ubrex.core.calibrate import FEWEST_FOAM_BANDS, TemperatureBands, temperature_bands
from ubrex.core.chain import Heats, Kind
from ubrex.core.gcode.pieces import MOST_BANDS
from ubrex.core.judge import SUSPECT_BIAS_C
from ubrex.core.materials import UNKNOWN_WINDOW, Window, family
from ubrex.server.calibrations._calibration import Filled, Sides
from ubrex.server.calibrations._tower_start import FEWEST_PRINTED, USUAL_SPEED_MM_S, line_fields, read_line
from ubrex.server.calibrations.temperature import _words as words
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import StartReader, choice_field, machine_limits, number_field
from ubrex.server.profile import Tuned, off_said_on
from ubrex.server.views.forms import FieldOut
from ubrex.server.words.judgement import LIMITS
from ubrex.server.words.numbers import plain
from ubrex.server.words.profile import window_said
from ubrex.server.workshop import Side

STEPS_C: Final = {"5": 5.0, "10": 10.0}
"""Steps from band to band that can be chosen [°C]."""


@dataclass(frozen=True)
class Proposed:
    """The bands that a setup gets, and what moved them."""

    tuned: Tuned
    sides: Mapping[str, Side]
    typed_mm_s: float | None = None

    @property
    def speed_mm_s(self) -> float:
        """The speed the proposal holds for: the one typed, the setup's own, or a usual one."""
        value = self.tuned.values.get(Kind.SPEED_OUTER)
        return self.typed_mm_s or (USUAL_SPEED_MM_S if value is None else value.number)

    @cached_property
    def window(self) -> Window:
        """True temperatures worth a try: the label's at that speed, else the family's."""
        usual = self.tuned.parts.heat_usual(Heats.NOZZLE, self.speed_mm_s)
        return UNKNOWN_WINDOW if usual is None else usual.window

    @property
    def bias_c(self) -> float:
        """What the hotend shows too much; nothing for those who follow the spool."""
        checked = self.tuned.values.get(Kind.HEAT_BIAS)
        return 0.0 if checked is None or self.sides.get("label") == "one" else checked.number

    def bands(self, *, foaming: bool) -> TemperatureBands:
        """The bands."""
        held = machine_limits(self.tuned, still=True)
        limit = self.tuned.parts.limit_of(Heats.NOZZLE)
        return temperature_bands(
            self.window,
            bias_c=self.tuned.parts.trusted_bias_c if self.bias_c else 0.0,
            limit=limit,
            coldest_c=held.feeds_from_c,
            fine=foaming,
            **({"fewest": FEWEST_FOAM_BANDS + 1, "most": MOST_BANDS} if foaming else {}),
        )

    def why(self, bands: TemperatureBands) -> str:
        """Where the bands come from, in one or two sentences."""
        filament = self.tuned.setup.filament
        whose = words.whose_said("" if filament.label else family(filament.family).name)
        window = window_said(self.window.whole, "°C")
        said = [words.from_said(whose, window, self.speed_mm_s)]
        if self.bias_c:
            suspect = abs(self.bias_c) > SUSPECT_BIAS_C and not self.tuned.parts.bias_confirmed
            said.append(words.suspect_said(self.bias_c) if suspect else words.moved_said(self.bias_c))
        if bands.cut is not None:
            said.append(words.cut_said(bands.cut.max_c, LIMITS[bands.cut.of]))
        return " ".join(said)


def heat_fields(tuned: Tuned, sides: Sides, *, foaming: bool) -> list[FieldOut]:
    """What is asked before a tower of heats is printed."""
    proposed = Proposed(tuned, sides)
    bands = proposed.bands(foaming=foaming)
    shown: tuple[float | str, ...] = bands.temperatures_c or ("",)
    fields = [
        number_field("coldest", "Coldest band", "°C", shown[0], off_said_on(tuned)),
        number_field("hottest", "Hottest band", "°C", shown[-1]),
        choice_field("step", "Step", {step: f"{step} °C" for step in STEPS_C}, plain(bands.step_c)),
        number_field(
            "speed", "Speed", "mm/s", proposed.speed_mm_s, words.ONE_SPEED_HINT if foaming else words.SPEED_HINT
        ),
        *line_fields(tuned),
    ]
    if not foaming:
        fields.append(choice_field("order", "From the foot up", words.ORDERS, "below", words.ORDER_HINT))
    return fields


def read_heats(form: Filled, *, foaming: bool) -> dict[str, Any] | None:
    """What both towers of heats keep, bands coldest first; None where a field needs another look."""
    tuned, fields = form.tuned, form.fields
    reader = StartReader(tuned, form.typed, fields)
    coldest, hottest = reader.nozzle("coldest", "The coldest band"), reader.nozzle("hottest", "The hottest band")
    step = STEPS_C.get(form.typed.get("step", ""), STEPS_C["5"])
    line = read_line(tuned, reader)
    if coldest is None or hottest is None:
        return None
    count = int((hottest - coldest) / step + 1e-9) + 1
    fewest = FEWEST_FOAM_BANDS if foaming else FEWEST_PRINTED
    if hottest <= coldest:
        fields.add(FieldProblem("hottest", "upside_down", words.UPSIDE_DOWN))
    elif count < fewest:
        fields.add(FieldProblem("hottest", "too_few", words.too_few_said(count, fewest)))
    elif count > MOST_BANDS:
        fields.add(FieldProblem("hottest", "too_many", words.too_many_said(count, MOST_BANDS)))
    if line is None or fields.any:
        return None
    proposed = Proposed(tuned, form.sides, line["speed_mm_s"])
    bands = proposed.bands(foaming=foaming)
    moved = proposed.why(bands)
    ends = bands.temperatures_c[:1] + bands.temperatures_c[-1:]
    if ends and ends != (coldest, hottest):
        moved += f" {words.own_ends_said(ends[0], ends[1])}"
    return line | {"values": [coldest + step * place for place in range(count)], "nozzle_c": hottest, "moved": moved}
