"""What must not be exceeded on a setup: heat and what stands it, speeds, how far filament is pulled."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import RETRACTION_CAPS, RetractionCap
from ubrex.core.chain import KINDS, Heats, Kind
from ubrex.core.materials import HeatLimit, Limit, Liner, Stiffness, bed_limits, family, nozzle_limits
from ubrex.server.store.facts import ValueRow
from ubrex.server.store.records import Setup, TunedValue
from ubrex.server.views.profiles import ProfileValue
from ubrex.server.words.numbers import plain


def nozzle_limits_of(setup: Setup, checked: ValueRow | TunedValue | ProfileValue | None) -> list[Limit]:
    """Limits of what the hotend may be set to, allowing for a sensor that its heat check ``checked`` found to read low.

    The family's ceiling is advice, and not among them.
    """
    hotend = setup.toolhead.hotend
    return nozzle_limits(
        liner=Liner(hotend.liner),
        hotend_max_c=hotend.max_c,
        printed_parts_max_c=hotend.printed_parts_max_c,
        reads_low_by_c=0.0 if checked is None else -checked.number,
    )


def heat_limits(setup: Setup, kind: Kind, checked: ValueRow | TunedValue | None) -> list[Limit]:
    """Limits of a temperature of this kind, with the hotend's heat check; none for a value that is no temperature."""
    machine, surface = setup.toolhead.machine, setup.surface
    match KINDS[kind].heats:
        case Heats.NOZZLE:
            return nozzle_limits_of(setup, checked)
        case Heats.BED:
            return bed_limits(bed_max_c=machine.bed_max_c, surface_max_c=None if surface is None else surface.max_c)
        case Heats.CHAMBER if machine.chamber_max_c is not None:
            return [Limit(max_c=machine.chamber_max_c, of=HeatLimit.ENCLOSURE)]
    return []


_SPEEDS: Final = frozenset({Kind.SPEED_OUTER, Kind.SPEED_INNER, Kind.SPEED_FILL})


def too_fast(setup: Setup, kind: Kind, mm_s: float) -> str:
    """Why a speed cannot be set on a setup; empty if it can, or if nobody entered how fast its machine moves."""
    machine = setup.toolhead.machine
    if kind not in _SPEEDS or machine.max_speed_mm_s is None or mm_s <= machine.max_speed_mm_s:
        return ""
    return f"{machine.name} moves at {plain(machine.max_speed_mm_s)} mm/s at most"


def retraction_cap(setup: Setup) -> RetractionCap:
    """Longest and fastest retraction on a setup; filament of no known stiffness is taken for half soft."""
    stiffness = family(setup.filament.family).stiffness or Stiffness.SEMI
    return RETRACTION_CAPS[setup.toolhead.machine.feed_path == "direct", stiffness]


def beyond_retraction_cap(setup: Setup, kind: Kind, number: float) -> str:
    """Why a retraction is longer [mm] or faster [mm/s] than a setup stands; empty if it is not."""
    if kind not in {Kind.RETRACTION, Kind.RETRACTION_SPEED}:
        return ""
    cap = retraction_cap(setup)
    most = cap.distance_mm if kind is Kind.RETRACTION else cap.speed_mm_s
    if number <= most:
        return ""
    return f"More than {plain(most)} {KINDS[kind].unit.value} here: {cap.why}"
