"""What can hurt, said before the step. The maker's instructions, local codes and licensed practice win where stricter."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class Hazard(StrEnum):
    """What a piece of work exposes a person to."""

    HEAT = "heat"
    FIRE = "fire"
    FUMES = "fumes"
    LINER = "liner"
    COOLING_DOWN = "cooling_down"
    BLADES = "blades"
    COLD_PULL = "cold_pull"
    PINCH = "pinch"
    MAINS = "mains"
    FIBRE_DUST = "fibre_dust"
    GLASS = "glass"
    SOLVENTS = "solvents"
    USE = "use"


@dataclass(frozen=True, slots=True, kw_only=True)
class Caution:
    """One caution: ``lead`` is the word that is read at a glance."""

    hazard: Hazard
    lead: str
    text: str
    source: str = "cautions of the trade (job, section 9)"


CAUTIONS: Final[tuple[Caution, ...]] = (
    Caution(
        hazard=Hazard.HEAT, lead="Hot.",
        text="Nozzles burn at 180 to 300 °C, beds up to 120. Tools, not fingers; face back when pushing by hand.",
    ),
    Caution(
        hazard=Hazard.FIRE, lead="Fire.",
        text="Stay for the first layers of every print, and for the whole first print after work on heater, sensor or "
        "firmware. A smoke alarm overhead, nothing that burns near.",
    ),
    Caution(
        hazard=Hazard.FUMES, lead="Air.",
        text="Ventilate, most of all for ABS, ASA, PC and foam, and whenever it smells sharp. Never sniff a hot part.",
    ),
    Caution(
        hazard=Hazard.LINER, lead="Liner.",
        text="A liner in the hot zone never above 240 °C for long, 250 at all. Its fumes kill birds.",
    ),
    Caution(
        hazard=Hazard.COOLING_DOWN, lead="Cool down.",
        text="Never cut the power to a hot hotend: its fan keeps heat from climbing. Wait until it is below 50 °C.",
    ),
    Caution(
        hazard=Hazard.BLADES, lead="Blades.",
        text="Cut and scrape away from the body, with eye protection. No scraper on a textured plate.",
    ),
    Caution(
        hazard=Hazard.COLD_PULL, lead="Cold pull.",
        text="On a lined hotend gently, and see that the liner sits without a gap afterwards.",
    ),
    Caution(hazard=Hazard.PINCH, lead="Moving.", text="Keep fingers, children and pets away from axes and gears."),
    Caution(
        hazard=Hazard.MAINS, lead="Mains.",
        text="Unplug before any wiring. Work on the power supply belongs to somebody licensed where local codes say so.",
    ),
    Caution(
        hazard=Hazard.FIBRE_DUST, lead="Dust.", text="Filled filament: wear a mask, sand wet, and use a hardened nozzle.",
    ),
    Caution(hazard=Hazard.GLASS, lead="Glass.", text="Let a glass bed cool before anything is pulled off it."),
    Caution(
        hazard=Hazard.SOLVENTS, lead="Solvents.",
        text="Sprays and alcohol only on a cold bed, away from the machine, with a window open.",
    ),
    Caution(
        hazard=Hazard.USE, lead="Use.",
        text="Food, toys for small children, load-bearing and safety parts are outside what Ubrex can vouch for.",
    ),
)  # fmt: skip
"""One caution for each hazard."""

_BY_HAZARD: Final = {row.hazard: row for row in CAUTIONS}


def caution(hazard: Hazard) -> Caution:
    """The caution for a hazard."""
    return _BY_HAZARD[hazard]
