"""Parts against what is printed on them: what no value can mend."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from ubrex.core.chain import Heats, Kind
from ubrex.core.judge._findings import Code, Finding
from ubrex.core.judge._parts import Parts, speed_of
from ubrex.core.judge._values import Values
from ubrex.core.materials import Dryness, Enclosure, Stiffness

SOFT_NOZZLES: Final = frozenset({"brass", "plated"})
"""What abrasive filament opens within a spool."""

GLITTER_BORE_MM: Final = 0.6
"""Glitter and wood block anything finer (job, section 5)."""

FIBRE_BORE_MM: Final = 0.4
"""Fibres want a bore larger than this (job, section 5)."""

DAMP_PCT: Final = 50.0
"""From this humidity on thirsty filament drinks while it prints [%] (job, section 2; E)."""

_FEARS_DRAUGHT: Final = frozenset({Enclosure.NEEDED, Enclosure.HEATED, Enclosure.HELPS})

_DRYNESS: Final = {
    Dryness.WET: Code.WET,
    Dryness.UNTESTED: Code.NOT_DRY,
    Dryness.OVERDUE: Code.NOT_DRY,
    Dryness.NEVER_DRIED: Code.NOT_DRY,
}


def judge_parts(
    parts: Parts,
    values: Values,
    *,
    draught: bool = False,
    humidity_pct: float | None = None,
    room_days_ago: float = 0.0,
    fan_in_doubt: bool = False,
) -> list[Finding]:
    """What is to be said of the parts of a setup and its filament together.

    ``draught`` and ``humidity_pct``: as the room was read, ``room_days_ago``. ``fan_in_doubt``: nobody looked at the
    heat-sink fan since something was done to it.
    """
    return [
        *_heat(parts, values),
        *_nozzle(parts),
        *_feed(parts),
        *_air(parts, draught, humidity_pct, room_days_ago),
        *_bed(parts, values),
        *_printed_parts(parts, fan_in_doubt=fan_in_doubt),
    ]


def _heat(parts: Parts, values: Values) -> Iterator[Finding]:
    limit = parts.limit_of(Heats.NOZZLE)
    usual = parts.heat_usual(Heats.NOZZLE, speed_of(values))
    if limit is None or usual is None:
        return
    coolest = usual.window.low + parts.trusted_bias_c
    if not limit.allows(coolest):
        yield Finding(code=Code.CANNOT_PRINT, value=coolest, high=limit.max_c, limit=limit.of, whose=usual.whose)


def _nozzle(parts: Parts) -> Iterator[Finding]:
    if {"filled", "abrasive", "glitter"} & parts.flags and parts.nozzle_material in SOFT_NOZZLES:
        yield Finding(code=Code.ABRASIVE_NOZZLE, why=parts.nozzle_material)
    if "glitter" in parts.flags and parts.bore_mm < GLITTER_BORE_MM:
        yield Finding(code=Code.SMALL_BORE, value=parts.bore_mm, low=GLITTER_BORE_MM)
    elif "filled" in parts.flags and parts.bore_mm <= FIBRE_BORE_MM:
        yield Finding(code=Code.SMALL_BORE, value=parts.bore_mm, high=FIBRE_BORE_MM)


def _feed(parts: Parts) -> Iterator[Finding]:
    if parts.stiffness is not Stiffness.FLEXIBLE:
        return
    if parts.bypass_for_soft:
        yield Finding(code=Code.BYPASS)
    if not parts.direct:
        yield Finding(code=Code.TUBE_FOR_SOFT)


def _air(parts: Parts, draught: bool, humidity_pct: float | None, days_ago: float) -> Iterator[Finding]:
    wants = parts.filament.enclosure
    if wants in {Enclosure.NEEDED, Enclosure.HEATED} and parts.enclosure == "none":
        yield Finding(code=Code.OPEN_MACHINE)
    if wants is Enclosure.OPEN and parts.enclosure != "none":
        yield Finding(code=Code.CLOSED_MACHINE)
    if draught and wants in _FEARS_DRAUGHT:
        yield Finding(code=Code.DRAUGHT, days_ago=days_ago)
    if (
        humidity_pct is not None
        and humidity_pct >= DAMP_PCT
        and (parts.filament.hygroscopic or parts.filament.dry_always)
    ):
        yield Finding(code=Code.DAMP, value=humidity_pct, low=DAMP_PCT, days_ago=days_ago)


def _bed(parts: Parts, values: Values) -> Iterator[Finding]:
    wanted = parts.label_bed or parts.filament.bed
    if parts.has_surface and wanted is not None and not {Kind.BED, Kind.BED_FIRST} & values.keys():
        yield Finding(code=Code.BED_UNSET, low=wanted.low, high=wanted.high)


def _printed_parts(parts: Parts, *, fan_in_doubt: bool) -> Iterator[Finding]:
    if fan_in_doubt and parts.printed_parts_max_c is not None:
        yield Finding(code=Code.PARTS_SOFTEN, high=parts.printed_parts_max_c)


def judge_dryness(state: Dryness, *, thirsty: bool) -> list[Finding]:
    """What is to be said of how dry filament is; of one that drinks little only that it was found wet."""
    code = _DRYNESS.get(state)
    if code is None or (code is Code.NOT_DRY and not thirsty):
        return []
    return [Finding(code=code, why=state.value)]
