"""Pressure compensation from a tower of lines and corners, rated on a scale with a sign."""

from ubrex.core.calibrate import PRESSURE_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._rules import RULES
from ubrex.server.calibrations._tower_cautions import tower_cautions
from ubrex.server.calibrations._tower_start import tower_remarks
from ubrex.server.calibrations.pressure._run import PressureCase
from ubrex.server.calibrations.pressure._start import offer, read, tower_of
from ubrex.server.calibrations.pressure._words import TOWER

PRESSURE = Calibration(
    method="pressure",
    step=Step.PRESSURE,
    kinds=(Kind.PRESSURE,),
    rule=PRESSURE_RULE_VERSION,
    words=TOWER,
    tools=(),
    offer=offer,
    read=read,
    case=PressureCase,
    piece=tower_of,
    calc={"pressure-tower": RULES["pressure-tower"]},
    remarks=tower_remarks,
    cautions=tower_cautions,
    dry_first=True,
)

__all__ = ["PRESSURE"]
