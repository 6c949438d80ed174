"""A whole calibration in one folder, as small as one can be: the frame is told of it by one line, and of nothing else."""

from tests.server.bar import _words as words
from tests.server.bar._calc import calc_bar
from tests.server.bar._rule import BAR_RULE_VERSION
from tests.server.bar._run import BarCase, bar_of
from tests.server.bar._start import offer, read
from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations import JAWS, Calibration

BAR = Calibration(
    method="bar",
    step=Step.SIZE,
    kinds=(Kind.SIZE_SCALE,),
    rule=BAR_RULE_VERSION,
    words=words.BAR,
    tools=JAWS,
    offer=offer,
    read=read,
    case=BarCase,
    piece=bar_of,
    calc={"bar": calc_bar},
)

__all__ = ["BAR"]
