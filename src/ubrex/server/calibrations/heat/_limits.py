"""How hot a heat check may set a hotend."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import Heats
from ubrex.server.profile import Tuned

UNKNOWN_LIMIT_C: Final = 240.0
NEAREST_LIMIT_C: Final = 10.0
"""A check stays so far below a limit that it shows itself."""


def hottest_c(tuned: Tuned) -> float:
    """The hottest that a check may set."""
    limit = tuned.parts.limit_of(Heats.NOZZLE)
    return UNKNOWN_LIMIT_C if limit is None else limit.max_c
