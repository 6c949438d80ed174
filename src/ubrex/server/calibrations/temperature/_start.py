"""The start form of a temperature tower."""

from __future__ import annotations

from ubrex.core.chain import Kind, Purpose
from ubrex.core.gcode import Manner
from ubrex.core.gcode.pieces import Piece, temperature_tower
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._tower_start import FEWEST_PRINTED, HeatTowerInputs, in_use, options_of, tower_remarks
from ubrex.server.calibrations.temperature import _words as words
from ubrex.server.calibrations.temperature._bands import heat_fields, read_heats
from ubrex.server.printing import printed_on
from ubrex.server.profile import Tuned
from ubrex.server.views.forms import FieldOut
from ubrex.server.workshop import Side


class TemperatureInputs(HeatTowerInputs):
    """What a temperature run keeps besides its ratings; ``err``: the side a person takes where two will do."""

    purpose: Purpose = Purpose.EVERYDAY
    err: Side = "usual"


def offer(tuned: Tuned, sides: Sides) -> list[FieldOut]:
    """What is asked before the tower is printed."""
    return heat_fields(tuned, sides, foaming=False)


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    heats = read_heats(form, foaming=False)
    if heats is None:
        return None
    chosen = Purpose(form.tuned.setup.purpose)
    if form.typed.get("order") != "above":
        heats["values"] = heats["values"][::-1]
    inputs = TemperatureInputs(
        current=in_use(form.tuned, Kind.NOZZLE),
        unit=Unit.CELSIUS,
        places=0,
        asked=FEWEST_PRINTED,
        purpose=Purpose.EVERYDAY if chosen is Purpose.LIGHTNESS else chosen,
        err=form.sides.get("err_hot", "usual"),
        **heats,
    )
    return Begun(inputs=inputs)


def tower_of(tuned: Tuned, inputs: TemperatureInputs) -> tuple[Piece, Manner]:
    """The tower of a run, and how it is printed; raises ``OutOfRange`` where it cannot be."""
    options, manner = options_of(tuned, inputs)
    return temperature_tower(options, (inputs.on or printed_on(tuned)).volume, manner), manner


def remarks(tuned: Tuned, inputs: TemperatureInputs) -> list[str]:
    """What is said of the tower before it is printed."""
    return [*tower_remarks(tuned, inputs), words.WAITS]
