"""Slips of the fingers: a number that is ten, a hundred or a thousand times what is on record, or has lost its sign."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Final

from ubrex.core.chain import Kind
from ubrex.core.judge._findings import Code, Finding
from ubrex.core.judge._parts import Parts
from ubrex.core.judge._values import Values, judge
from ubrex.core.materials import foams

SLIP_WITHIN: Final = 0.06
"""How near the logarithm of a ratio lies to a whole one for a slipped decimal point: within 15 % (E)."""

SIGN_WITHIN: Final = 0.2
"""How near (relative) a number lies to the one on record with the other sign (E)."""

SETTING_NEAR: Final = 0.20
"""E-steps farther (relative) than this from the record are asked about (job, chain row 2)."""

OFFSET_NEAR_MM: Final = 0.5
"""So is an offset that moves farther than this [mm]: more than a layer is another fault (job, chain row 3; E)."""

USUAL: Final[Mapping[Kind, tuple[float, float]]] = {
    Kind.E_STEPS: (3.0, 2000.0),
    Kind.Z_OFFSET: (-6.0, 2.0),
    Kind.FLOW: (74.0, 134.0),
    Kind.FLOW_THIN: (74.0, 134.0),
    Kind.FLOW_SOLID: (74.0, 134.0),
    Kind.FAN: (5.0, 100.0),
    Kind.FAN_BRIDGE: (5.0, 100.0),
    Kind.TOP_FLOW: (1.0, 100.0),
    Kind.SPEED_OUTER: (3.0, 1000.0),
    Kind.SPEED_INNER: (3.0, 1000.0),
    Kind.SPEED_FILL: (3.0, 1000.0),
    Kind.RETRACTION: (0.1, 10.0),
    Kind.RETRACTION_SPEED: (5.0, 100.0),
    Kind.SEAM_GAP: (-0.2, 0.5),
    Kind.UN_RETRACT_EXTRA: (-0.3, 0.3),
    Kind.Z_HOP: (0.03, 2.0),
    Kind.PRESSURE: (0.0, 1.5),
}
"""What such a number usually is where nothing else says so, in its unit (E); 0 is always itself.

Far from either end: it tells mm/min from mm/s and a share from a percentage, and has no opinion. Flow: what walls can tell
of it (rules, B), but of filament that foams.
"""

_FLOWS: Final = frozenset({Kind.FLOW, Kind.FLOW_THIN, Kind.FLOW_SOLID})


def slip(kind: Kind, number: float, record: float | None, *, foaming: bool = False) -> Finding | None:
    """What looks slipped about a number that is typed, copied or read; ``record``: what is set now, if anything is."""
    low, high = (-math.inf, math.inf) if foaming and kind in _FLOWS else USUAL.get(kind, (-math.inf, math.inf))
    if record is not None and number != record:
        if number * record < 0 and abs(number + record) <= SIGN_WITHIN * abs(record):
            return Finding(code=Code.SIGN, kind=kind, value=number, low=record, fits=-number)
        slipped = slip_from(number, record)
        if slipped is not None:
            return replace(slipped, kind=kind)
        far = kind is Kind.E_STEPS and abs(number / record - 1) > SETTING_NEAR
        if far or (kind is Kind.Z_OFFSET and abs(number - record) > OFFSET_NEAR_MM):
            return Finding(code=Code.FAR_FROM_RECORD, kind=kind, value=number, low=record)
    if number != 0 and not low <= number <= high and (record is None or low <= record <= high):
        fits = 100 * number if kind in {Kind.FAN, Kind.FAN_BRIDGE} and number <= 1 else None
        return Finding(code=Code.UNUSUAL, kind=kind, value=number, low=low, high=high, fits=fits)
    return None


def slip_from(number: float, record: float) -> Finding | None:
    """A number that is a power of ten off from what stood there before."""
    times = _times(number, record)
    return Finding(code=Code.SLIP, value=number, low=record, fits=number / 10**times) if times else None


def _times(number: float, record: float) -> int:
    """By which power of ten a number is off; 0 if it is not."""
    if number * record <= 0:
        return 0
    power = math.log10(number / record)
    whole = round(power)
    return whole if 1 <= abs(whole) <= 3 and abs(power - whole) <= SLIP_WITHIN else 0


def judge_change(parts: Parts, before: Values, new: Values, *, typed: Iterable[Kind] = ()) -> list[Finding]:
    """What is to be said against values that are about to be written beside those that are there.

    Each finding is one of the new values, or of one there that they make wrong and that was right before; then ``kind`` is
    the new value, since that is what a person has in hand. ``typed``: kinds that went through fingers.
    """
    after = {**before, **new}
    stood = {(one.code, one.kind) for one in judge(parts, before)}
    found = []
    for one in judge(parts, after):
        if one.kind in new:
            found.append(one)
        elif (one.code, one.kind) not in stood:
            found += [_told_at(one, kind) for kind in new if kind in one.rests][:1]
    foaming = foams(parts.filament.key, parts.flags)
    slips = (slip(kind, new[kind], before.get(kind), foaming=foaming) for kind in typed if kind in new)
    return found + [one for one in slips if one is not None]


def _told_at(one: Finding, kind: Kind) -> Finding:
    """The same finding, said at another value; what it is about stays in ``about`` and ``rests``."""
    rests = one.rests | frozenset[Kind](() if one.kind is None else (one.kind,))
    return replace(one, kind=kind, rests=rests, about=one.kind)
