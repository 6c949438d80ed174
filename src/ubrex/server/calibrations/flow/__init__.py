"""Flow from a hollow box: from its walls, or from its mass."""

from ubrex.core.calibrate import BOX_MASS_RULE_VERSION, FINEST_NEEDED_G, FLOW_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.core.quantity import ToolKind
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._measured import JAWS
from ubrex.server.calibrations.flow._calc import CALC, calc_flow_weighed
from ubrex.server.calibrations.flow._inputs import box_of
from ubrex.server.calibrations.flow._run import FlowCase
from ubrex.server.calibrations.flow._start import offer, read, sees
from ubrex.server.calibrations.flow._weighed import WeighedBoxCase, offer_weighed, read_weighed
from ubrex.server.calibrations.flow._words import BOX, WEIGHED
from ubrex.server.store.records import Setup
from ubrex.server.workshop import scale_on_record

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
    sees=sees,
)


def _has_scale(_setup: Setup) -> bool:
    return scale_on_record(FINEST_NEEDED_G)


WEIGHED_BOX = Calibration(
    method="weighed_box",
    step=Step.FLOW,
    kinds=(Kind.FLOW,),
    rule=BOX_MASS_RULE_VERSION,
    words=WEIGHED,
    tools=(ToolKind.SCALE,),
    offer=offer_weighed,
    read=read_weighed,
    case=WeighedBoxCase,
    piece=box_of,
    calc={"flow-weighed": calc_flow_weighed},
    fits=_has_scale,
)

__all__ = ["FLOW", "WEIGHED_BOX"]
