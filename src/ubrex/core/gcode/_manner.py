"""How a test piece is printed on a machine: with what its profile has, else carefully, and within every limit."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from ubrex.core.bead import Bead
from ubrex.core.gcode._machine import MachineLimits
from ubrex.core.gcode._moves import Manner

MELT_SHARE: Final = 0.7
"""Pieces are printed at this share of the melt rate at most: the melt is not what is measured (rules, B and E)."""

CAREFUL_MM_S: Final = 30.0
"""Speed of a piece where the profile has none [mm/s]."""

FIRST_LAYER_MM_S: Final = 20.0
"""Speed of its first layer at most [mm/s]."""

TRAVEL_MM_S: Final = 120.0
"""Speed between its lines at most [mm/s]."""

USUAL_RETRACTION_MM: Final = {True: 0.8, False: 4.0}
"""Retraction of rigid filament where the profile has none [mm]: direct, through a tube (rules, F: about half its cap)."""

SOFT_RETRACTION_MM: Final = 0.2
"""The same where a strand gives way: hardly any (job, section 6, *strings on flexibles*)."""

USUAL_RETRACTION_MM_S: Final = 30.0
"""Speed of it where the profile has none [mm/s] (rules, F)."""

USUAL_HOP_MM: Final = 0.2
MOST_HOP_MM: Final = 1.0
"""Lift for a travel where the profile has none, and at most [mm] (job, section 6: *Z-hop*)."""

LEAST_FLOW: Final = 0.1
"""Less flow than this lays nothing that could be measured."""


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnManner:
    """What a profile has of speeds [mm/s], retraction [mm] and hop [mm]; None where it has nothing."""

    speed_mm_s: float | None = None
    retraction_mm: float | None = None
    retraction_speed_mm_s: float | None = None
    hop_mm: float | None = None


def careful_manner(
    own: OwnManner,
    limits: MachineLimits,
    *,
    bead: Bead,
    flow: float,
    filament_mm: float,
    direct: bool,
    rigid: bool = True,
) -> Manner:
    """How a piece of such lines is printed: as the profile has it where it has anything, and never beyond a limit.

    Parameters
    ----------
    own, limits
        What the profile has, and what the machine, the filament and the feed path stand.
    bead, flow
        Its line, and the flow it is printed with as a ratio: together with the speed they make the melt rate.
    filament_mm
        Diameter of the filament.
    direct, rigid
        Whether the extruder sits on the hotend, and whether its strand pushes back.
    """
    melts = MELT_SHARE * limits.melt_mm3_s / (bead.area_mm2 * max(flow, LEAST_FLOW))
    fastest = min(limits.speed_mm_s, melts)
    usual = USUAL_RETRACTION_MM[direct] if rigid else SOFT_RETRACTION_MM
    retraction = usual if own.retraction_mm is None else own.retraction_mm
    back = USUAL_RETRACTION_MM_S if own.retraction_speed_mm_s is None else own.retraction_speed_mm_s
    hop = USUAL_HOP_MM if own.hop_mm is None else own.hop_mm
    return Manner(
        filament_mm=filament_mm,
        flow=flow,
        speed_mm_s=min(own.speed_mm_s or CAREFUL_MM_S, fastest),
        first_speed_mm_s=min(FIRST_LAYER_MM_S, fastest),
        travel_mm_s=min(TRAVEL_MM_S, limits.speed_mm_s),
        retraction_mm=min(retraction, limits.retraction_mm),
        retraction_speed_mm_s=min(back, limits.retraction_mm_s),
        hop_mm=min(hop, MOST_HOP_MM),
    )
