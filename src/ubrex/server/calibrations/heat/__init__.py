"""Heat check: what a hotend really does against what it shows, with a probe; confirmed by a second, independent test."""

from ubrex.core.chain import Kind, Step
from ubrex.core.materials import Hazard, caution
from ubrex.core.quantity import ToolKind
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._rules import RULES
from ubrex.server.calibrations.heat import _push
from ubrex.server.calibrations.heat._push import PushCase
from ubrex.server.calibrations.heat._run import HEAT_RULE_VERSION, HeatCase
from ubrex.server.calibrations.heat._start import offer, read
from ubrex.server.calibrations.heat._words import PROBE, PUSH
from ubrex.server.profile import Tuned
from ubrex.server.views.base import CautionOut


def _cautions(_tuned: Tuned) -> list[CautionOut]:
    """Heat, fire, mains and the liner's limit."""
    hazards = (Hazard.HEAT, Hazard.FIRE, Hazard.MAINS, Hazard.LINER)
    return [CautionOut(lead=row.lead, text=row.text) for row in map(caution, hazards)]


HEAT_PROBE = Calibration(
    method="heat_probe",
    step=Step.HEAT,
    kinds=(Kind.HEAT_BIAS,),
    rule=HEAT_RULE_VERSION,
    words=PROBE,
    tools=(ToolKind.THERMOMETER,),
    offer=offer,
    read=read,
    case=HeatCase,
    piece=None,
    calc={name: RULES[name] for name in ("heat-probe", "heat-confirm", "heat-use")},
    cautions=_cautions,
    drawing="probe",
)

HEAT_PUSH = Calibration(
    method="heat_push",
    step=Step.HEAT,
    kinds=(Kind.HEAT_BIAS,),
    rule=HEAT_RULE_VERSION,
    words=PUSH,
    tools=(),
    offer=_push.offer,
    read=_push.read,
    case=PushCase,
    piece=None,
    calc={"heat-push": RULES["heat-push"]},
    cautions=_cautions,
)

__all__ = ["HEAT_PROBE", "HEAT_PUSH"]
