"""Diameter of filament, measured with jaws: nothing is printed, nothing is hot."""

from ubrex.core.calibrate import DIAMETER_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.core.materials import Hazard, caution
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._measured import JAWS
from ubrex.server.calibrations.diameter._calc import calc_diameter
from ubrex.server.calibrations.diameter._run import DiameterCase, offer, read
from ubrex.server.calibrations.diameter._words import DIAMETER as WORDS
from ubrex.server.views.base import CautionOut

DIAMETER = Calibration(
    method="diameter",
    step=Step.FLOW,
    kinds=(Kind.DIAMETER,),
    rule=DIAMETER_RULE_VERSION,
    words=WORDS,
    tools=JAWS,
    offer=offer,
    read=read,
    case=DiameterCase,
    piece=None,
    calc={"filament-diameter": calc_diameter},
    cautions=lambda _tuned: [CautionOut(lead=row.lead, text=row.text) for row in [caution(Hazard.BLADES)]],
    heats=False,
)

__all__ = ["DIAMETER"]
