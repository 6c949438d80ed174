"""The start form of a foaming tower."""

from __future__ import annotations

from ubrex.core.chain import Kind
from ubrex.core.gcode import Manner
from ubrex.core.gcode.pieces import Piece, foaming_tower
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._tower_start import HeatTowerInputs, in_use, options_of, tower_remarks
from ubrex.server.calibrations.temperature import WAITS, heat_fields, read_heats
from ubrex.server.printing import printed_on
from ubrex.server.profile import Tuned
from ubrex.server.views.forms import FieldOut

FIRST_ARMS = 3
"""Arms of each band that are asked for; the fourth is there for more (rules, G)."""


def offer(tuned: Tuned, sides: Sides) -> list[FieldOut]:
    """What is asked before the tower is printed."""
    return heat_fields(tuned, sides, foaming=True)


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form, coldest band below; None where a field needs another look."""
    heats = read_heats(form, foaming=True)
    if heats is None:
        return None
    inputs = HeatTowerInputs(
        current=in_use(form.tuned, Kind.NOZZLE),
        unit=Unit.CELSIUS,
        places=0,
        asked=FIRST_ARMS * len(heats["values"]),
        **heats,
    )
    return Begun(inputs=inputs)


def tower_of(tuned: Tuned, inputs: HeatTowerInputs) -> tuple[Piece, Manner]:
    """The tower of a run, and how it is printed; raises ``OutOfRange`` where it cannot be."""
    options, manner = options_of(tuned, inputs)
    return foaming_tower(options, (inputs.on or printed_on(tuned)).volume, manner), manner


def remarks(tuned: Tuned, inputs: HeatTowerInputs) -> list[str]:
    """What is said of the tower before it is printed."""
    return [*tower_remarks(tuned, inputs), WAITS]
