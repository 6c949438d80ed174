"""What a hotend melts: the same volume fed step by step faster into the open, and weighed."""

from ubrex.core.calibrate import MELT_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.core.materials import Hazard, caution
from ubrex.core.quantity import ToolKind
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._rules import RULES
from ubrex.server.calibrations.top_speed._run import LadderCase
from ubrex.server.calibrations.top_speed._start import offer, read
from ubrex.server.calibrations.top_speed._words import LADDER
from ubrex.server.views.base import CautionOut

MELT_LADDER = Calibration(
    method="melt_ladder",
    step=Step.TOP_SPEED,
    kinds=(Kind.TOP_FLOW,),
    rule=MELT_RULE_VERSION,
    words=LADDER,
    tools=(ToolKind.SCALE,),
    offer=offer,
    read=read,
    case=LadderCase,
    piece=None,
    calc={name: RULES[name] for name in ("top-flow", "speed-limit", "melt-gain", "width-readings")},
    cautions=lambda _tuned: [
        CautionOut(lead=row.lead, text=row.text)
        for row in map(caution, (Hazard.HEAT, Hazard.FIRE, Hazard.FUMES, Hazard.PINCH, Hazard.BLADES))
    ],
    dry_first=True,
)

__all__ = ["MELT_LADDER"]
