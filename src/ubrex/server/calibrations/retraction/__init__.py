"""Retraction from a tower whose bands are rated: distance, or speed."""

from ubrex.core.calibrate import RETRACTION_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._tower_cautions import tower_cautions
from ubrex.server.calibrations._tower_start import tower_remarks
from ubrex.server.calibrations.retraction._calc import calc_retraction
from ubrex.server.calibrations.retraction._run import RetractionCase
from ubrex.server.calibrations.retraction._start import offer, read, tower_of
from ubrex.server.calibrations.retraction._words import TOWER

RETRACTION = Calibration(
    method="retraction",
    step=Step.RETRACTION,
    kinds=(Kind.RETRACTION, Kind.RETRACTION_SPEED),
    rule=RETRACTION_RULE_VERSION,
    words=TOWER,
    tools=(),
    offer=offer,
    read=read,
    case=RetractionCase,
    piece=tower_of,
    calc={"retraction-tower": calc_retraction},
    remarks=tower_remarks,
    cautions=tower_cautions,
    dry_first=True,
    schools=("flexible_strings",),
)

__all__ = ["RETRACTION"]
