"""The gap between hole and peg at which parts go snug or run free, from a ladder that is tried by hand."""

from ubrex.core.calibrate import FIT_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._rules import RULES
from ubrex.server.calibrations._tower_cautions import tower_cautions
from ubrex.server.calibrations.fit._run import FitCase
from ubrex.server.calibrations.fit._start import ladder_of, offer, read
from ubrex.server.calibrations.fit._words import LADDER

FIT = Calibration(
    method="fit",
    step=Step.SIZE,
    kinds=(Kind.FIT_SNUG, Kind.FIT_FREE),
    rule=FIT_RULE_VERSION,
    words=LADDER,
    tools=(),
    offer=offer,
    read=read,
    case=FitCase,
    piece=ladder_of,
    calc={name: RULES[name] for name in ("fit-ladder", "fit-combine")},
    cautions=tower_cautions,
)

__all__ = ["FIT"]
