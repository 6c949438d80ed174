"""Foaming filament: a tower of single walls that are measured; the heat at which it swells most, and its flow."""

from ubrex.core.calibrate import FOAMING_RULE_VERSION
from ubrex.core.chain import Kind, Step
from ubrex.core.materials import foams
from ubrex.server.calibrations._calibration import Calibration
from ubrex.server.calibrations._measured import JAWS
from ubrex.server.calibrations._tower_cautions import tower_cautions
from ubrex.server.calibrations.foaming._calc import calc_foaming
from ubrex.server.calibrations.foaming._run import FoamCase
from ubrex.server.calibrations.foaming._start import offer, read, remarks, tower_of
from ubrex.server.calibrations.foaming._words import FOAM_CAUTION, TOWER
from ubrex.server.profile import Tuned
from ubrex.server.views.base import CautionOut


def _cautions(tuned: Tuned) -> list[CautionOut]:
    """What any tower can do; foam past its peak gives off more."""
    lead, text = FOAM_CAUTION
    return [CautionOut(lead=lead, text=text), *tower_cautions(tuned)]


FOAMING = Calibration(
    method="foaming",
    step=Step.TEMPERATURE,
    kinds=(Kind.NOZZLE, Kind.FLOW),
    rule=FOAMING_RULE_VERSION,
    words=TOWER,
    tools=JAWS,
    offer=offer,
    read=read,
    case=FoamCase,
    piece=tower_of,
    calc={"foaming": calc_foaming},
    remarks=remarks,
    cautions=_cautions,
    dry_first=True,
    schools=("label", "err_hot"),
    fits=lambda setup: foams(setup.filament.family, setup.filament.flags),
)

__all__ = ["FOAMING"]
