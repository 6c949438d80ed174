"""The families of filament and their usual windows. Advice: the spool maker's label wins over every row."""

from __future__ import annotations

import math
from collections.abc import Collection
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

THIRSTY_H: Final = 6.0
"""Filament that is dried for so long or longer is tested wet before a tower is printed of it (E)."""


class Enclosure(StrEnum):
    """What a family wants round the print."""

    OPEN = "open"
    OPTIONAL = "optional"
    HELPS = "helps"
    NEEDED = "needed"
    HEATED = "heated"
    ASK_LABEL = "ask_label"


class Stiffness(StrEnum):
    """How a strand takes a push: what retraction and feed path have to reckon with."""

    RIGID = "rigid"
    SEMI = "semi"
    FLEXIBLE = "flexible"


@dataclass(frozen=True, slots=True, kw_only=True)
class Window:
    """A usual range, both ends in it."""

    low: float
    high: float

    def __contains__(self, value: float) -> bool:
        return self.low <= value <= self.high

    @property
    def whole(self) -> Window:
        """The whole numbers in it, as temperatures are set; itself where it holds none."""
        low, high = math.ceil(round(self.low, 6)), math.floor(round(self.high, 6))
        return Window(low=low, high=high) if low <= high else self


@dataclass(frozen=True, slots=True, kw_only=True)
class Family:
    """One family. Temperatures in °C, fan in %, melt rate in mm3/s for a 0.4 mm nozzle and a plain hotend, density in
    g/cm3, drying in °C and h. None where the family varies too much to say: the label has to.

    ``ceiling_c``: the highest nozzle temperature that any school accepts. ``dry_always``: new and sealed too.
    """

    key: str
    name: str
    nozzle: Window | None
    ceiling_c: float | None
    bed: Window | None
    fan: Window | None
    melt: Window
    dry_c: Window | None
    dry_h: Window | None
    dry_always: bool = False
    enclosure: Enclosure
    density_g_cm3: float | None
    stiffness: Stiffness | None
    notes: str
    source: str = "usual values of the trade (job, section 5)"

    @property
    def nozzle_low_c(self) -> float | None:
        """Coolest usual nozzle temperature."""
        return None if self.nozzle is None else self.nozzle.low

    @property
    def hygroscopic(self) -> bool:
        """Whether it drinks enough from the air that a tower of it may measure the water: it dries for 6 h or more (E)."""
        return self.dry_always or (self.dry_h is not None and self.dry_h.low >= THIRSTY_H)

    @property
    def foaming(self) -> bool:
        """Whether its temperature sets how much it expands."""
        return self.key == "foaming_pla"


def _window(low: float, high: float) -> Window:
    return Window(low=low, high=high)


FAMILIES: Final[tuple[Family, ...]] = (
    Family(
        key="pla", name="PLA", nozzle=_window(190, 220), ceiling_c=235, bed=_window(50, 60), fan=_window(80, 100),
        melt=_window(8, 12), dry_c=_window(45, 50), dry_h=_window(4, 6), enclosure=Enclosure.OPEN, density_g_cm3=1.24,
        stiffness=Stiffness.RIGID,
        notes="Fast and silky kinds go to 235. Soft from about 55 °C; damp makes it brittle.",
    ),
    Family(
        key="petg", name="PETG", nozzle=_window(220, 255), ceiling_c=255, bed=_window(65, 85), fan=_window(30, 50),
        melt=_window(6, 10), dry_c=_window(65, 65), dry_h=_window(6, 6), enclosure=Enclosure.OPTIONAL, density_g_cm3=1.27,
        stiffness=Stiffness.RIGID,
        notes="Strings. Sticks too well to bare smooth surfaces: put a release agent between. Bridges want full fan.",
    ),
    Family(
        key="copolyester", name="Copolyester", nozzle=_window(235, 265), ceiling_c=265, bed=_window(75, 90),
        fan=_window(20, 50), melt=_window(6, 10), dry_c=_window(65, 65), dry_h=_window(6, 6),
        enclosure=Enclosure.OPTIONAL, density_g_cm3=1.2, stiffness=Stiffness.RIGID, notes="As PETG, hotter.",
    ),
    Family(
        key="abs", name="ABS", nozzle=_window(235, 255), ceiling_c=255, bed=_window(95, 110), fan=_window(0, 15),
        melt=_window(8, 12), dry_c=_window(75, 80), dry_h=_window(4, 4), enclosure=Enclosure.NEEDED, density_g_cm3=1.04,
        stiffness=Stiffness.RIGID, notes="Shrinks. Its fumes want ventilation.",
    ),
    Family(
        key="asa", name="ASA", nozzle=_window(240, 270), ceiling_c=285, bed=_window(90, 110), fan=_window(0, 10),
        melt=_window(8, 12), dry_c=_window(75, 80), dry_h=_window(4, 4), enclosure=Enclosure.NEEDED, density_g_cm3=1.07,
        stiffness=Stiffness.RIGID, notes="As ABS, and stands the weather. Too hot is safer than too cold.",
    ),
    Family(
        key="tpu", name="TPU, flexible", nozzle=_window(200, 235), ceiling_c=235, bed=_window(40, 70), fan=_window(50, 100),
        melt=_window(2, 4), dry_c=_window(50, 55), dry_h=_window(6, 8), dry_always=True, enclosure=Enclosure.OPEN,
        density_g_cm3=1.21, stiffness=Stiffness.FLEXIBLE,
        notes="Direct feed preferred; bypass feeders. Release agent. Too hot costs spring and gloss.",
    ),
    Family(
        key="pc", name="PC", nozzle=_window(270, 300), ceiling_c=300, bed=_window(85, 120), fan=_window(0, 0),
        melt=_window(4, 8), dry_c=_window(85, 90), dry_h=_window(6, 8), enclosure=Enclosure.HEATED, density_g_cm3=1.20,
        stiffness=Stiffness.RIGID,
        notes="All-metal hotends only. A hot or low first layer welds to a plastic sheet for good.",
    ),
    Family(
        key="nylon", name="Nylon", nozzle=_window(245, 275), ceiling_c=275, bed=_window(70, 100), fan=_window(0, 20),
        melt=_window(5, 8), dry_c=_window(80, 80), dry_h=_window(8, 12), dry_always=True, enclosure=Enclosure.HELPS,
        density_g_cm3=1.12, stiffness=Stiffness.SEMI, notes="The wettest of all. Also used for cold pulls.",
    ),
    Family(
        key="pp", name="PP", nozzle=_window(220, 250), ceiling_c=250, bed=_window(60, 90), fan=_window(20, 50),
        melt=_window(4, 8), dry_c=None, dry_h=None, enclosure=Enclosure.HELPS, density_g_cm3=0.91,
        stiffness=Stiffness.SEMI, notes="Sticks to itself: tape of the same plastic. Warps.",
    ),
    Family(
        key="foaming_pla", name="Foaming PLA", nozzle=_window(200, 250), ceiling_c=250, bed=_window(50, 60),
        fan=_window(0, 50), melt=_window(3, 6), dry_c=_window(45, 50), dry_h=_window(4, 6), enclosure=Enclosure.OPEN,
        density_g_cm3=None, stiffness=Stiffness.RIGID,
        notes="Flow of 30 to 80 % is normal; strings expected. Brittle and smelly past its peak.",
    ),
    Family(
        key="support", name="Support, soluble or breakaway", nozzle=None, ceiling_c=None, bed=None, fan=None,
        melt=_window(3, 6), dry_c=None, dry_h=None, dry_always=True, enclosure=Enclosure.ASK_LABEL, density_g_cm3=None,
        stiffness=None, notes="Dry, with a short storage life. Every number is the label's.",
    ),
    Family(
        key="other", name="Other", nozzle=None, ceiling_c=None, bed=None, fan=None, melt=_window(2, 8), dry_c=None,
        dry_h=None, enclosure=Enclosure.ASK_LABEL, density_g_cm3=None, stiffness=None,
        notes="Start from the nearest family, and from the label.",
    ),
)  # fmt: skip
"""All families, the commonest first."""

_BY_KEY: Final = {row.key: row for row in FAMILIES}


def family(key: str) -> Family:
    """The family with this key.

    Raises
    ------
    KeyError
        If there is none.
    """
    return _BY_KEY[key]


def foams(key: str, flags: Collection[str]) -> bool:
    """Whether filament of a family foams; one of another family may say so of itself by its flags."""
    return family(key).foaming or "foaming" in flags


UNKNOWN_WINDOW: Final = Window(low=200.0, high=230.0)
"""Nozzle temperatures worth a try where neither label nor family says any [°C] (job, section 5: the nearest family)."""

UNKNOWN_DENSITY_G_CM3: Final = 1.24
"""Density where neither spool nor family says one [g/cm3]: the commonest family's (job, section 5)."""


def density_of(key: str, stated_g_cm3: float | None) -> float:
    """Density of filament [g/cm3]: what its spool says, else what is usual for its family."""
    return stated_g_cm3 or family(key).density_g_cm3 or UNKNOWN_DENSITY_G_CM3
