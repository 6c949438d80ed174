"""Size from outer and inner sizes on one piece: what grows with the size, and what is the same on every size."""

from ubrex.core.calibrate import SIZE_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._measured import JAWS
from ubrex.server.calibrations._rules import RULES
from ubrex.server.calibrations.size._run import SizeCase, piece_of
from ubrex.server.calibrations.size._start import offer, read
from ubrex.server.calibrations.size._words import PIECE

SIZE = Calibration(
    method="size",
    step=Step.SIZE,
    kinds=(Kind.SIZE_SCALE, Kind.SIZE_OUTER, Kind.SIZE_INNER),
    rule=SIZE_RULE_VERSION,
    words=PIECE,
    tools=JAWS,
    offer=offer,
    read=read,
    case=SizeCase,
    piece=piece_of,
    calc={name: RULES[name] for name in ("size", "size-axes")},
)

__all__ = ["SIZE"]
