"""Values against parts, against what is usual, and against each other."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from typing import Final, TypeAlias

from ubrex.core.bead import (
    LEAST_LINE,
    MOST_LINE,
    NARROWEST,
    THICKEST,
    THINNEST,
    USUAL_NARROWEST,
    WIDEST,
    Bead,
)
from ubrex.core.chain import KINDS, Heats, Kind
from ubrex.core.judge._findings import Code, Finding, Whose
from ubrex.core.judge._parts import Parts, line_of, usual_of
from ubrex.core.materials import SOFT_BELOW_A, Enclosure, Stiffness

Values: TypeAlias = Mapping[Kind, float]

SPEEDS: Final = (Kind.SPEED_OUTER, Kind.SPEED_INNER, Kind.SPEED_FILL)

FAN_FAR: Final = 10.0
"""Points beyond the family's fan from which a note is asked for (E)."""

SOFT_TUBE_MM_S, SOFTEST_TUBE_MM_S = 25.0, 20.0
"""Fastest that flexible filament is printed through a tube [mm/s]; softer than 90 A (job, section 5; E)."""

HIGH_FLOW: Final = 2.0
"""A high-flow hotend melts about so many times what a plain one does (job, section 5)."""

MELT_SLACK: Final = 1.02
"""A melt rate is passed from this share on: less is rounding."""

_SMALL: Final = 1e-9

_WELDED: Final = frozenset({Enclosure.NEEDED, Enclosure.HEATED})


def _heat(parts: Parts, values: Values, kind: Kind) -> Iterator[Finding]:
    """A temperature against every limit, then against label, ceiling and family."""
    heats, number = KINDS[kind].heats, values[kind]
    if heats is None:
        return
    limit = parts.limit_of(heats)
    if limit is not None and not limit.allows(number):
        yield Finding(code=Code.TOO_HOT, kind=kind, value=number, high=limit.max_c, limit=limit.of)
        return
    usual = usual_of(parts, values, kind)
    rests = frozenset({Kind.SPEED_OUTER}) if heats is Heats.NOZZLE and len(parts.label) > 1 else frozenset[Kind]()
    if usual is not None and not usual.window.low - _SMALL <= number <= usual.window.high + _SMALL:
        code = Code.OUTSIDE_LABEL if usual.whose is Whose.LABEL else Code.OUTSIDE_FAMILY
        window = usual.window
        yield Finding(
            code=code, kind=kind, value=number, low=window.low, high=window.high, whose=usual.whose,
            at_mm_s=usual.at_mm_s, rests=rests,
        )  # fmt: skip
    ceiling = parts.filament.ceiling_c
    if heats is Heats.NOZZLE and ceiling is not None and number - parts.trusted_bias_c > ceiling + _SMALL:
        yield Finding(code=Code.BEYOND_CEILING, kind=kind, value=number, high=ceiling + parts.trusted_bias_c)
    holds = values.get(Kind.HEATER_HOLDS)
    if heats is Heats.NOZZLE and holds is not None and number > holds + _SMALL:
        rests = frozenset({Kind.HEATER_HOLDS})
        yield Finding(code=Code.HEATER_WEAK, kind=kind, value=number, high=holds, rests=rests)


def _speed(parts: Parts, values: Values, kind: Kind) -> Iterator[Finding]:
    """A speed against the machine, the stiffness of the strand, and what melts."""
    number = values[kind]
    if parts.max_speed_mm_s is not None and number > parts.max_speed_mm_s + _SMALL:
        yield Finding(code=Code.TOO_FAST, kind=kind, value=number, high=parts.max_speed_mm_s)
    if parts.stiffness is Stiffness.FLEXIBLE and not parts.direct:
        soft = parts.hardness is not None and parts.hardness.as_a < SOFT_BELOW_A
        most = SOFTEST_TUBE_MM_S if soft else SOFT_TUBE_MM_S
        if number > most + _SMALL:
            yield Finding(code=Code.FLEXIBLE_TOO_FAST, kind=kind, value=number, high=most)
    yield from _melt(parts, values, kind)


def _melt(parts: Parts, values: Values, kind: Kind) -> Iterator[Finding]:
    """Line width, layer height and speed make a melt rate: ``low`` is that rate, ``high`` what melts, ``fits`` the speed."""
    width, height = line_of(parts, values)
    if width < height:
        return
    area = Bead(width_mm=width, height_mm=height).area_mm2 * values.get(Kind.FLOW, 100.0) / 100
    rate, known = values[kind] * area, values.get(Kind.TOP_FLOW)
    most = parts.filament.melt.high if known is None else known
    if rate <= most * MELT_SLACK:
        return
    beyond = known is not None or rate > HIGH_FLOW * most * MELT_SLACK
    yield Finding(
        code=Code.MELT_BEYOND if beyond else Code.MELT_UNUSUAL,
        kind=kind,
        value=values[kind],
        low=rate,
        high=most,
        fits=float(max(1, math.floor(most / area))),
        whose=Whose.FAMILY if known is None else None,
        rests=frozenset({Kind.LINE_WIDTH, Kind.LAYER, Kind.TOP_FLOW, Kind.FLOW}),
    )


def _line(parts: Parts, values: Values, kind: Kind) -> Iterator[Finding]:
    """A line width against the bore and the layer."""
    number, bore = values[kind], parts.bore_mm
    low, high = LEAST_LINE * bore, MOST_LINE * bore
    if not low - _SMALL <= number <= high + _SMALL:
        yield Finding(code=Code.LINE_IMPOSSIBLE, kind=kind, value=number, low=low, high=high)
        return
    for layer in (Kind.LAYER, Kind.LAYER_FIRST):
        if number < values.get(layer, 0.0) - _SMALL:
            yield Finding(
                code=Code.LINE_BELOW_LAYER, kind=kind, value=number, low=values[layer], rests=frozenset({layer})
            )
            return
    low, high = NARROWEST * bore, WIDEST * bore
    if not low - _SMALL <= number <= high + _SMALL:
        yield Finding(code=Code.LINE_FAR, kind=kind, value=number, low=low, high=high)
    elif number < USUAL_NARROWEST * bore - _SMALL:
        yield Finding(code=Code.LINE_UNUSUAL, kind=kind, value=number, low=USUAL_NARROWEST * bore, high=high)


def _layer(parts: Parts, values: Values, kind: Kind) -> Iterator[Finding]:
    """A layer against the bore."""
    number, low, high = values[kind], THINNEST * parts.bore_mm, THICKEST * parts.bore_mm
    if number > high + _SMALL:
        yield Finding(code=Code.LAYER_TOO_HIGH, kind=kind, value=number, low=low, high=high)
    elif number < low - _SMALL:
        yield Finding(code=Code.LAYER_TOO_THIN, kind=kind, value=number, low=low, high=high)


def _fan(parts: Parts, values: Values, kind: Kind) -> Iterator[Finding]:
    """A fan against what the family stands: bridges may have all of it, but not where air splits layers."""
    window, number = parts.filament.fan, values[kind]
    if window is None or (kind is Kind.FAN_BRIDGE and parts.filament.enclosure not in _WELDED):
        return
    if number > window.high + FAN_FAR + _SMALL:
        yield Finding(code=Code.FAN_FAR, kind=kind, value=number, low=window.low, high=window.high)
    elif not window.low - _SMALL <= number <= window.high + _SMALL:
        yield Finding(code=Code.FAN_UNUSUAL, kind=kind, value=number, low=window.low, high=window.high)


def _pull(parts: Parts, values: Values, kind: Kind) -> Iterator[Finding]:
    """A retraction against feed path and stiffness."""
    cap = parts.cap
    most, code = (
        (cap.distance_mm, Code.PULL_TOO_LONG) if kind is Kind.RETRACTION else (cap.speed_mm_s, Code.PULL_TOO_FAST)
    )
    if values[kind] > most + _SMALL:
        yield Finding(code=code, kind=kind, value=values[kind], high=most, why=cap.why)


def _melt_rate(parts: Parts, values: Values, kind: Kind) -> Iterator[Finding]:
    """A melt rate against what hotends melt of the family."""
    most = HIGH_FLOW * parts.filament.melt.high
    if values[kind] > most + _SMALL:
        yield Finding(code=Code.MELT_CLAIM, kind=kind, value=values[kind], high=most)


_Judge: TypeAlias = Callable[[Parts, Values, Kind], Iterator[Finding]]

_JUDGES: Final[Mapping[Kind, _Judge]] = {
    **{kind: _heat for kind, row in KINDS.items() if row.heats is not None},
    **dict.fromkeys(SPEEDS, _speed),
    Kind.LINE_WIDTH: _line,
    Kind.LAYER: _layer,
    Kind.LAYER_FIRST: _layer,
    Kind.FAN: _fan,
    Kind.FAN_BRIDGE: _fan,
    Kind.RETRACTION: _pull,
    Kind.RETRACTION_SPEED: _pull,
    Kind.TOP_FLOW: _melt_rate,
}


def judge(parts: Parts, values: Values) -> list[Finding]:
    """Everything that is to be said against these values together on these parts, in the order of the values."""
    return [found for kind in values if kind in _JUDGES for found in _JUDGES[kind](parts, values, kind)]


def judge_one(parts: Parts, values: Values, kind: Kind, number: float) -> list[Finding]:
    """What is to be said against one number, were it set beside the others."""
    return list(_JUDGES[kind](parts, {**values, kind: number}, kind)) if kind in _JUDGES else []


def speed_at(asked_mm_s: float, override_pct: float, cap_mm_s: float) -> tuple[float, float]:
    """What a speed comes to at an override [mm/s]: what is asked for, and what a machine with this cap does.

    >>> speed_at(450, 166, 600)
    (747.0, 600)
    """
    driven = asked_mm_s * override_pct / 100
    return driven, min(driven, cap_mm_s)
