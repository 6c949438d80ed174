"""How many decimals a value may show: the one rounding rule of screens, prints and sentences."""

from __future__ import annotations

import math
from decimal import ROUND_HALF_EVEN, Decimal
from functools import lru_cache
from typing import Final

JUST_OVER_HALF: Final = 0.51
"""Half a step of the last decimal, and a little for numbers that no binary fraction hits."""

MOST_PLACES: Final = 6
"""More decimals than this are never shown; exports carry full precision."""


def half_width_places(half_width: float) -> int:
    """Decimals that show a 95 % half-width with one digit, or two when the first is 1.

    >>> half_width_places(0.651), half_width_places(0.132), half_width_places(1.73), half_width_places(14)
    (1, 2, 1, 0)
    """
    if not (math.isfinite(half_width) and half_width > 0):
        return MOST_PLACES
    # Rounding to one digit may carry (0.096 to 0.1): the first digit that is shown decides, so both forms are looked at.
    exact, rounded = f"{half_width:.5e}", f"{half_width:.0e}"
    starts_with_one = exact.startswith("1") or rounded.startswith("1")
    shown = exact if exact.startswith("1") else rounded
    places = int(starts_with_one) - int(shown.partition("e")[2])
    return max(0, min(MOST_PLACES, places))


@lru_cache(maxsize=4096)
def decimal_text(value: float, places: int) -> str:
    """``value`` in plain decimals, U+2212 for minus, never a lone −0.

    >>> decimal_text(-0.004, 2), decimal_text(98.4, 2), decimal_text(-1.26, 1)
    ('0.00', '98.40', '−1.3')
    """
    rounded = Decimal(repr(value)).quantize(Decimal(1).scaleb(-places), rounding=ROUND_HALF_EVEN)
    return f"{abs(rounded):f}" if rounded >= 0 else f"\N{MINUS SIGN}{abs(rounded):f}"


def same_setting(left: float, right: float, places: int) -> bool:
    """Whether two numbers are the same to a machine that keeps so many decimals."""
    return math.isclose(left, right, abs_tol=JUST_OVER_HALF * 10**-places, rel_tol=0)
