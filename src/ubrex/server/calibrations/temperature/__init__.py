"""Temperature from a tower whose bands are rated for a purpose."""

from ubrex.core.calibrate import TEMPERATURE_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._tower_cautions import tower_cautions
from ubrex.server.calibrations.temperature._bands import heat_fields, read_heats
from ubrex.server.calibrations.temperature._calc import calc_temperature
from ubrex.server.calibrations.temperature._run import TemperatureCase
from ubrex.server.calibrations.temperature._start import offer, read, remarks, tower_of
from ubrex.server.calibrations.temperature._words import TOWER, WAITS

TEMPERATURE = Calibration(
    method="temperature",
    step=Step.TEMPERATURE,
    kinds=(Kind.NOZZLE,),
    rule=TEMPERATURE_RULE_VERSION,
    words=TOWER,
    tools=(),
    offer=offer,
    read=read,
    case=TemperatureCase,
    piece=tower_of,
    calc={"temperature-tower": calc_temperature},
    remarks=remarks,
    cautions=tower_cautions,
    dry_first=True,
    schools=("label", "err_hot"),
)

__all__ = ["TEMPERATURE", "WAITS", "heat_fields", "read_heats"]
