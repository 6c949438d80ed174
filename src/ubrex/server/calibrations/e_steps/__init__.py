"""E-steps: three ways to find how much filament the extruder really feeds."""

from functools import partial

from ubrex.core.calibrate import ESTEPS_RULE_VERSION, EStepsMethod
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations.e_steps._calc import calc_esteps
from ubrex.server.calibrations.e_steps._feed import feed_cautions
from ubrex.server.calibrations.e_steps._run import TOOLS, EStepsCase, recorded_strip
from ubrex.server.calibrations.e_steps._start import offer, read
from ubrex.server.calibrations.e_steps._words import METHODS


def _way(method: EStepsMethod) -> Calibration:
    return Calibration(
        method=method.value,
        step=Step.E_STEPS,
        kinds=(Kind.E_STEPS,),
        rule=ESTEPS_RULE_VERSION,
        words=METHODS[method],
        tools=TOOLS[method],
        offer=lambda tuned, _sides: offer(tuned, method),
        read=read,
        case=EStepsCase,
        piece=None,
        calc={"e-steps": calc_esteps},
        cautions=partial(feed_cautions, method=method),
        recorded=recorded_strip,
        drawing=method.value,
        suits=lambda setup: method is not EStepsMethod.OPEN_AIR or setup.toolhead.machine.feed_path == "bowden",
    )


E_STEPS = tuple(_way(method) for method in EStepsMethod)

__all__ = ["E_STEPS"]
