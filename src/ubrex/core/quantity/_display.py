"""How many decimals a value may show: the one rounding rule of screens, prints and sentences."""

from __future__ import annotations

import math
from decimal import ROUND_HALF_EVEN, Decimal
from typing import Final

MOST_PLACES: Final = 6
"""More decimals than this are never shown; exports carry full precision."""


def half_width_places(half_width: float) -> int:
    """Decimals that show a 95 % half-width with one digit, or two when the first is 1.

    >>> half_width_places(0.651), half_width_places(0.132), half_width_places(2.2), half_width_places(14)
    (1, 2, 0, 0)
    """
    if not (math.isfinite(half_width) and half_width > 0):
        return MOST_PLACES
    mantissa, _, exponent = f"{half_width:.0e}".partition("e")
    places = -int(exponent)
    if mantissa == "1":
        # Rounded to one digit it starts with 1; two digits decide whether that 1 is really there (0.096 shows as 0.10).
        places += 1
    return max(0, min(MOST_PLACES, places))


def decimal_text(value: float, places: int) -> str:
    """``value`` in plain decimals, U+2212 for minus, never a lone −0.

    >>> decimal_text(-0.004, 2), decimal_text(98.4, 2), decimal_text(-1.26, 1)
    ('0.00', '98.40', '−1.3')
    """
    rounded = Decimal(repr(value)).quantize(Decimal(1).scaleb(-places), rounding=ROUND_HALF_EVEN)
    return f"{abs(rounded):f}" if rounded >= 0 else f"\N{MINUS SIGN}{abs(rounded):f}"
