"""Retraction from towers whose bands are rated: its distance, then its speed."""

from ubrex.core.calibrate import RETRACTION_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._rules import RULES
from ubrex.server.calibrations._tower_cautions import tower_cautions
from ubrex.server.calibrations._tower_start import tower_remarks
from ubrex.server.calibrations.retraction._calc import calc_retraction
from ubrex.server.calibrations.retraction._run import RetractionCase
from ubrex.server.calibrations.retraction._speed import PULL_SPEED_RULE_VERSION, SpeedCase
from ubrex.server.calibrations.retraction._start import offer, offer_speeds, read, read_speeds, speed_tower_of, tower_of
from ubrex.server.calibrations.retraction._words import SPEED_TOWER, TOWER

RETRACTION = Calibration(
    method="retraction",
    step=Step.RETRACTION,
    kinds=(Kind.RETRACTION,),
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

PULL_SPEED = Calibration(
    method="retraction_speed",
    step=Step.RETRACTION,
    kinds=(Kind.RETRACTION_SPEED,),
    rule=PULL_SPEED_RULE_VERSION,
    words=SPEED_TOWER,
    tools=(),
    offer=offer_speeds,
    read=read_speeds,
    case=SpeedCase,
    piece=speed_tower_of,
    calc={"retraction-speed": RULES["retraction-speed"]},
    remarks=tower_remarks,
    cautions=tower_cautions,
    dry_first=True,
)

__all__ = ["PULL_SPEED", "RETRACTION"]
