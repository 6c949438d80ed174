"""How far a value may be off before it is worth a change: one answer for the bench, the history and the rules."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from ubrex.core.calibrate._diameter import DIAMETER_TOLERANCE_PCT
from ubrex.core.calibrate._esteps import ESTEPS_TOLERANCE_PCT
from ubrex.core.calibrate._first_layer import OFFSET_TOLERANCE_MM, TILT_TOLERANCE_MM
from ubrex.core.calibrate._flow import FLOW_TOLERANCES_PCT
from ubrex.core.calibrate._size import OFFSET_TOLERANCE_MM as SIZE_TOLERANCE_MM
from ubrex.core.calibrate._size import SCALE_TOLERANCE_PCT
from ubrex.core.chain import Kind, Purpose
from ubrex.core.heat import BIAS_TOLERANCE_C

_SHARES_PCT: Final[Mapping[Kind, float]] = {
    Kind.E_STEPS: ESTEPS_TOLERANCE_PCT,
    Kind.DIAMETER: DIAMETER_TOLERANCE_PCT,
    Kind.SIZE_SCALE: SCALE_TOLERANCE_PCT,
}

_AMOUNTS: Final[Mapping[Kind, float]] = {
    Kind.Z_OFFSET: OFFSET_TOLERANCE_MM,
    Kind.LEVEL: TILT_TOLERANCE_MM,
    Kind.SIZE_OUTER: SIZE_TOLERANCE_MM,
    Kind.SIZE_INNER: SIZE_TOLERANCE_MM,
    Kind.HEAT_BIAS: BIAS_TOLERANCE_C,
}

LESS_KNOWN: Final = 1.5
"""From this many times its half width a value is replaced by one that is less well known (ours: two runs done alike differ
by less, mostly)."""

_FLOWS: Final = frozenset({Kind.FLOW, Kind.FLOW_THIN, Kind.FLOW_SOLID})


@dataclass(frozen=True, slots=True)
class LeastChange:
    """Smallest change of a value that is worth making.

    ``amount``: in the unit of the value. ``share_pct``: the same as a share of it [%], where the rule gives one.
    """

    amount: float
    share_pct: float | None = None


def least_change(kind: Kind, number: float, purpose: Purpose) -> LeastChange | None:
    """Smallest change worth making at a value, as its own rule has it; None for kinds that no rule judges so."""
    if kind in _AMOUNTS:
        return LeastChange(_AMOUNTS[kind])
    share = FLOW_TOLERANCES_PCT[purpose] if kind in _FLOWS else _SHARES_PCT.get(kind)
    return None if share is None else LeastChange(abs(number) * share / 100, share)


def is_less_known(half_width: float | None, recorded: float | None) -> bool:
    """Whether a half width is clearly wider than that of the value on record, in the same unit; not where one is unknown."""
    return half_width is not None and recorded is not None and half_width > LESS_KNOWN * recorded
