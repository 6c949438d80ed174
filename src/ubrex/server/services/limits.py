"""What must not be exceeded on a setup: the limits of everything that is heated, and of what stands round it."""

from __future__ import annotations

from ubrex.core.chain import KINDS, Heats, Kind
from ubrex.core.materials import HeatLimit, Limit, Liner, bed_limits, nozzle_limits
from ubrex.server.services.views.profiles import ProfileValue
from ubrex.server.store.facts import ValueRow
from ubrex.server.store.records import Setup, TunedValue


def of_nozzle(setup: Setup, checked: ValueRow | TunedValue | ProfileValue | None) -> list[Limit]:
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


def of_kind(setup: Setup, kind: Kind, checked: ValueRow | TunedValue | None) -> list[Limit]:
    """Limits of a temperature of this kind, with the hotend's heat check; none for a value that is no temperature."""
    machine, surface = setup.toolhead.machine, setup.surface
    match KINDS[kind].heats:
        case Heats.NOZZLE:
            return of_nozzle(setup, checked)
        case Heats.BED:
            return bed_limits(bed_max_c=machine.bed_max_c, surface_max_c=None if surface is None else surface.max_c)
        case Heats.CHAMBER if machine.chamber_max_c is not None:
            return [Limit(max_c=machine.chamber_max_c, of=HeatLimit.ENCLOSURE)]
    return []
