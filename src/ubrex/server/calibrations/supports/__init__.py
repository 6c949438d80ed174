"""How far below a roof its support ends, from a ladder whose supports are taken off by hand."""

from ubrex.core.calibrate import FIT_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._rules import RULES
from ubrex.server.calibrations.supports._run import SupportCase
from ubrex.server.calibrations.supports._start import ladder_of, offer, read
from ubrex.server.calibrations.supports._words import LADDER, cautions

SUPPORTS = Calibration(
    method="supports",
    step=Step.SIZE,
    kinds=(Kind.SUPPORT_GAP,),
    rule=FIT_RULE_VERSION,
    words=LADDER,
    tools=(),
    offer=offer,
    read=read,
    case=SupportCase,
    piece=ladder_of,
    calc={"support-gap": RULES["support-gap"]},
    cautions=cautions,
)

__all__ = ["SUPPORTS"]
