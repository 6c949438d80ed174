"""The usual nozzle windows of the families. Advice: the spool maker's label wins over every row."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True, slots=True, kw_only=True)
class Family:
    """One family. Temperatures in °C, density in g/cm3; None where the family varies too much to say."""

    key: str
    name: str
    nozzle_low_c: float | None
    nozzle_high_c: float | None
    density_g_cm3: float | None
    source: str


_USUAL: Final = "usual value of the trade, job section 5"

FAMILIES: Final[tuple[Family, ...]] = (
    Family(key="pla", name="PLA", nozzle_low_c=190, nozzle_high_c=220, density_g_cm3=1.24, source=_USUAL),
    Family(key="petg", name="PETG", nozzle_low_c=220, nozzle_high_c=255, density_g_cm3=1.27, source=_USUAL),
    Family(
        key="copolyester", name="Copolyester", nozzle_low_c=235, nozzle_high_c=265, density_g_cm3=1.2, source=_USUAL
    ),
    Family(key="abs", name="ABS", nozzle_low_c=235, nozzle_high_c=255, density_g_cm3=1.04, source=_USUAL),
    Family(key="asa", name="ASA", nozzle_low_c=240, nozzle_high_c=270, density_g_cm3=1.07, source=_USUAL),
    Family(key="tpu", name="TPU, flexible", nozzle_low_c=200, nozzle_high_c=235, density_g_cm3=1.21, source=_USUAL),
    Family(key="pc", name="PC", nozzle_low_c=270, nozzle_high_c=300, density_g_cm3=1.20, source=_USUAL),
    Family(key="nylon", name="Nylon", nozzle_low_c=245, nozzle_high_c=275, density_g_cm3=1.12, source=_USUAL),
    Family(key="pp", name="PP", nozzle_low_c=220, nozzle_high_c=250, density_g_cm3=0.91, source=_USUAL),
    Family(
        key="foaming_pla", name="Foaming PLA", nozzle_low_c=200, nozzle_high_c=250, density_g_cm3=None, source=_USUAL
    ),
    Family(key="other", name="Other", nozzle_low_c=None, nozzle_high_c=None, density_g_cm3=None, source=_USUAL),
)
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
