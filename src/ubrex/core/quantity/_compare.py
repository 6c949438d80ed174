"""Whether two measured values differ, or only their readings do."""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Comparison:
    """How far two values lie apart. ``times``: their difference over what chance alone makes of it, None if unknown."""

    change: float
    times: float | None

    @property
    def real(self) -> bool | None:
        """Whether they really differ, at 95 %; None where one of them has no interval."""
        return None if self.times is None else self.times > 1


def compare(before: float, before_half: float | None, after: float, after_half: float | None) -> Comparison:
    """Two independent values with their 95 % half-widths.

    The half-width of their difference is the root of the sum of squares (JCGM 100:2008, GUM, 5.1.2).
    """
    change = after - before
    if before_half is None or after_half is None:
        return Comparison(change=change, times=None)
    spread = math.hypot(before_half, after_half)
    return Comparison(change=change, times=abs(change) / spread if spread > 0 else math.inf if change else 0.0)
