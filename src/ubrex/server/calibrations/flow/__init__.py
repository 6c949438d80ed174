"""Flow from the walls of a hollow box."""

from ubrex.core.calibrate import FLOW_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._measured import JAWS
from ubrex.server.calibrations.flow._calc import CALC
from ubrex.server.calibrations.flow._inputs import box_of
from ubrex.server.calibrations.flow._run import FlowCase
from ubrex.server.calibrations.flow._start import offer, read
from ubrex.server.calibrations.flow._words import BOX

FLOW = Calibration(
    method="box",
    step=Step.FLOW,
    kinds=(Kind.FLOW,),
    rule=FLOW_RULE_VERSION,
    words=BOX,
    tools=JAWS,
    offer=offer,
    read=read,
    case=FlowCase,
    piece=box_of,
    calc=CALC,
)

__all__ = ["FLOW"]
