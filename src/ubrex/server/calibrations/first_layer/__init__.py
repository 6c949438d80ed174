"""Level and Z-offset from nine patches, and the pad on which the offset is moved by eye."""

from ubrex.core.calibrate import FIRST_LAYER_RULE_VERSION, LIVE_STEPS_MM, LIVE_WAIT_S, USUAL_LIVE_STEP_MM
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration, LiveSteps
from ubrex.server.calibrations._measured import JAWS
from ubrex.server.calibrations.first_layer import _words as words
from ubrex.server.calibrations.first_layer._calc import calc_first_layer
from ubrex.server.calibrations.first_layer._run import PatchCase, patches_of
from ubrex.server.calibrations.first_layer._start import offer, read
from ubrex.server.printing import printing_cautions
from ubrex.server.profile import Tuned
from ubrex.server.views.base import CautionOut


def _cautions(tuned: Tuned) -> list[CautionOut]:
    """What can hurt, and the nozzle that can dig into the plate."""
    lead, text = words.CRASH
    return [CautionOut(lead=lead, text=text), *printing_cautions(tuned.setup)]


FIRST_LAYER = Calibration(
    method="patches",
    step=Step.Z_OFFSET,
    kinds=(Kind.Z_OFFSET, Kind.LEVEL),
    rule=FIRST_LAYER_RULE_VERSION,
    words=words.PATCHES,
    tools=JAWS,
    offer=offer,
    read=read,
    case=PatchCase,
    piece=patches_of,
    calc={"first-layer": calc_first_layer},
    cautions=_cautions,
    live=LiveSteps(steps_mm=LIVE_STEPS_MM, usual_mm=USUAL_LIVE_STEP_MM, wait_s=LIVE_WAIT_S),
)

__all__ = ["FIRST_LAYER"]
