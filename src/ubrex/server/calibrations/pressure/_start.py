"""The start form of a pressure tower."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

from ubrex.core.chain import KINDS, Kind
from ubrex.core.gcode import Manner, RefusedFile, check_pressure_line
from ubrex.core.gcode.pieces import MOST_BANDS, Piece, pressure_tower
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._tower_start import (
    USUAL_SPEED_MM_S,
    TowerInputs,
    in_use,
    line_fields,
    options_of,
    read_line,
)
from ubrex.server.calibrations.pressure import _words as words
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import Offer, Printing, StartReader, number_field, printed_on
from ubrex.server.profile import Tuned
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Run, Setup, Toolhead
from ubrex.server.views.forms import FieldOut
from ubrex.server.words.machine import Keeping, command_for

USUAL_TOP_S: Final = {True: 0.10, False: 1.0}
"""Usual highest compensation [s], direct and through a tube (rules, M)."""

USUAL_BANDS: Final = 11
FEWEST_VALUES: Final = 5
SLOW_SHARE: Final = 0.25
FAST_OVER_SLOW: Final = 2.0
SLOWEST_MM_S: Final = 5.0
LONGEST_LINE: Final = 80

_LAST: Final[Prepared[Run]] = Prepared(
    lambda machine_id: (
        Run.select(Run)
        .join(Setup)
        .join(Toolhead)
        .where(Toolhead.machine == machine_id, Run.method == "pressure")
        .order_by(Run.id.desc())
        .limit(1)
    )
)


class PressureInputs(TowerInputs):
    """What a pressure tower keeps besides its ratings: values [s], the slow speed, and the line the machine takes it by."""

    slow_mm_s: float
    line: str

    @property
    def printing(self) -> Printing:
        """How it is printed, with the line the machine takes the value by."""
        return replace(super().printing, pressure=self.line)


def line_of(tuned: Tuned) -> str:
    """The line by which the machine took the value last, or usually takes it; empty where nobody knows."""
    machine = tuned.setup.toolhead.machine
    last = _LAST.first(machine.id)
    if last is not None:
        return str(last.inputs.get("line", ""))
    return command_for(Kind.PRESSURE, "{value}") if machine.keeps_setting == Keeping.COMMAND_PAIR.value else ""


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before the tower is printed."""
    filled, direct = Offer(tuned), tuned.parts.direct
    fast = float(filled.own(Kind.SPEED_OUTER, usual=USUAL_SPEED_MM_S) or USUAL_SPEED_MM_S)
    return [
        FieldOut(name="line", label=words.LINE, kind="text", value=line_of(tuned), hint=words.LINE_HINT, needed=True),
        number_field("low", words.LOW, "s", 0.0, words.TYPICAL[direct]),
        number_field("high", words.HIGH, "s", USUAL_TOP_S[direct]),
        number_field("count", words.COUNT, "", str(USUAL_BANDS)),
        number_field("speed", words.FAST, "mm/s", fast),
        number_field("slow", words.SLOW, "mm/s", round(max(SLOWEST_MM_S, SLOW_SHARE * fast), 1), words.SLOW_HINT),
        *filled.nozzles(),
        *line_fields(tuned),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    tuned, fields = form.tuned, form.fields
    reader, kind = StartReader(tuned, form.typed, fields), KINDS[Kind.PRESSURE]
    low = reader.number("low", words.LOW, kind.low, kind.high, kind.why, Unit.SECONDS)
    high = reader.number("high", words.HIGH, kind.low, kind.high, kind.why, Unit.SECONDS)
    many = reader.number("count", "The number of bands", 1, MOST_BANDS, f"1 to {MOST_BANDS} bands", Unit.COUNT)
    slow = reader.number("slow", words.SLOW, SLOWEST_MM_S, reader.held.speed_mm_s, "slow lines are slow", Unit.MM_PER_S)
    nozzle, first_nozzle = reader.nozzle("nozzle", "The nozzle"), reader.first_nozzle()
    rest = read_line(tuned, reader)
    line = form.typed.get("line", "").strip()
    if not line or len(line) > LONGEST_LINE:
        fields.add(FieldProblem("line", "empty", words.LINE_NEEDED))
    else:
        try:
            check_pressure_line(line, reader.held)
        except RefusedFile as error:
            fields.add(FieldProblem("line", "no_such_line", f"{str(error)[:1].upper()}{str(error)[1:]}."))
    if low is None or high is None or many is None or slow is None or rest is None or nozzle is None:
        return None
    count = round(many)
    values = [round(low + (high - low) * place / max(1, count - 1), 3) for place in range(count)]
    if high <= low:
        fields.add(FieldProblem("high", "upside_down", words.UPSIDE_DOWN))
    elif count < FEWEST_VALUES:
        fields.add(FieldProblem("count", "too_few", words.TOO_FEW))
    elif len(set(values)) < count:
        fields.add(FieldProblem("count", "too_many", words.TOO_CLOSE))
    if rest["speed_mm_s"] < FAST_OVER_SLOW * slow:
        fields.add(FieldProblem("slow", "too_near", words.TOO_SLOW))
    if fields.any:
        return None
    inputs = PressureInputs(
        current=in_use(tuned, Kind.PRESSURE), unit=Unit.SECONDS, places=3, asked=4, values=values, nozzle_c=nozzle,
        first_nozzle_c=first_nozzle, slow_mm_s=slow, line=line, moved=words.TYPICAL[tuned.parts.direct], **rest,
    )  # fmt: skip
    return Begun(inputs=inputs)


def tower_of(tuned: Tuned, inputs: PressureInputs) -> tuple[Piece, Manner]:
    """The tower of a run, and how it is printed; raises ``OutOfRange`` where it cannot be."""
    options, manner = options_of(tuned, inputs)
    volume = (inputs.on or printed_on(tuned)).volume
    slow = min(inputs.slow_mm_s, manner.speed_mm_s)
    return pressure_tower(options, volume, manner, slow_mm_s=slow, after_s=inputs.current), manner
