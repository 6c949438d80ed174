"""Two ways against each other, printed by turns and rated blind: seam gap, Z-hop, travels, least layer time."""

from ubrex.core.chain import Kind, Step
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._rules import RULES
from ubrex.server.calibrations._tower_cautions import tower_cautions
from ubrex.server.calibrations.two_ways._run import TWO_WAYS_RULE_VERSION, TwoWaysCase
from ubrex.server.calibrations.two_ways._start import offer, read, tower_of
from ubrex.server.calibrations.two_ways._words import TOWER

TWO_WAYS = Calibration(
    method="two_ways",
    step=Step.RETRACTION,
    kinds=(Kind.SEAM_GAP, Kind.Z_HOP, Kind.DETOUR, Kind.LAYER_TIME),
    rule=TWO_WAYS_RULE_VERSION,
    words=TOWER,
    tools=(),
    offer=offer,
    read=read,
    case=TwoWaysCase,
    piece=tower_of,
    calc={"compare-two": RULES["compare-two"]},
    cautions=tower_cautions,
    dry_first=True,
)

__all__ = ["TWO_WAYS"]
