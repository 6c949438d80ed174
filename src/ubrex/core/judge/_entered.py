"""Numbers that are entered of machines, parts, filament and the room: what looks slipped is asked about, as anywhere."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from enum import StrEnum
from typing import Final

from ubrex.core.judge._findings import Code, Finding
from ubrex.core.judge._slips import slip_from
from ubrex.core.materials import COOLER_C, HOTTER_C, Family, Window
from ubrex.core.quantity import ToolKind, usual_error


class Entry(StrEnum):
    """What is entered: the kind of record, and its field."""

    WIDTH = "machine.width_mm"
    DEPTH = "machine.depth_mm"
    HEIGHT = "machine.height_mm"
    BED_MAX = "machine.bed_max_c"
    CHAMBER_MAX = "machine.chamber_max_c"
    TUBE = "machine.tube_mm"
    MAX_SPEED = "machine.max_speed_mm_s"
    ACCELERATION = "machine.acceleration_mm_s2"
    SCREW_PITCH = "machine.screw_pitch_mm"
    HOTEND_MAX = "hotend.max_c"
    PRINTED_PARTS_MAX = "hotend.printed_parts_max_c"
    HEATER = "hotend.heater_w"
    BORE = "nozzle.bore_mm"
    SURFACE_MAX = "surface.max_c"
    STACK = "surface.stack_mm"
    DENSITY = "filament.density_g_cm3"
    BED_LOW = "filament.bed_low_c"
    BED_HIGH = "filament.bed_high_c"
    DRY_CELSIUS = "filament.dry_c"
    DRY_HOURS = "filament.dry_h"
    FULL = "spool.full_g"
    ROOM = "room.temperature"
    HUMIDITY = "room.humidity"


USUAL_ENTRIES: Final[Mapping[Entry, tuple[float, float]]] = {
    Entry.WIDTH: (80.0, 1000.0),
    Entry.DEPTH: (80.0, 1000.0),
    Entry.HEIGHT: (80.0, 1500.0),
    Entry.BED_MAX: (50.0, 150.0),
    Entry.CHAMBER_MAX: (35.0, 100.0),
    Entry.TUBE: (80.0, 2000.0),
    Entry.MAX_SPEED: (40.0, 1000.0),
    Entry.ACCELERATION: (100.0, 50000.0),
    Entry.HOTEND_MAX: (200.0, 500.0),
    Entry.PRINTED_PARTS_MAX: (45.0, 150.0),
    Entry.HEATER: (15.0, 150.0),
    Entry.BORE: (0.15, 1.5),
    Entry.SURFACE_MAX: (45.0, 160.0),
    Entry.STACK: (0.2, 12.0),
    Entry.DENSITY: (0.7, 4.0),
    Entry.BED_LOW: (20.0, 130.0),
    Entry.BED_HIGH: (25.0, 150.0),
    Entry.DRY_HOURS: (1.0, 48.0),
    Entry.FULL: (50.0, 12000.0),
    Entry.ROOM: (5.0, 45.0),
    Entry.HUMIDITY: (8.0, 99.0),
}
"""What such a number usually is, in the unit of its form (E); far from either end, so that only slips lie beyond."""

FAR_FROM_FAMILY_C: Final = 20.0
"""A label farther [°C] than this from all that its family is printed with is asked about: another family, or a slip (E)."""

DENSITY_FAR: Final = 0.35
"""So is a density that differs by this share from that of its family, where nothing is filled in (E)."""


def judge_entered(entry: Entry, number: float, record: float | None) -> Finding | None:
    """What looks slipped about a number that is entered; ``record``: what stood there before, if anything did."""
    if record is not None and number == record:
        return None
    slipped = None if record is None else slip_from(number, record)
    if slipped is not None:
        return slipped
    low, high = USUAL_ENTRIES.get(entry, (-math.inf, math.inf))
    return None if low <= number <= high else Finding(code=Code.UNUSUAL, value=number, low=low, high=high)


def judge_label(
    filament: Family,
    *,
    nozzle: Iterable[Window] = (),
    bed: Window | None = None,
    dry_c: float | None = None,
    density_g_cm3: float | None = None,
    filled: bool = False,
) -> dict[str, Finding]:
    """What does not look like its family about what a label says, by the field it is entered in.

    ``nozzle``, ``bed``: ranges [°C]; ``dry_c``: drying [°C]; ``filled``: fibres, metal or wood are in it, so that its
    density says nothing.
    """
    found = {}
    if filament.nozzle is not None:
        usual = Window(low=filament.nozzle.low, high=filament.ceiling_c or filament.nozzle.high)
        far = [one for one in nozzle if _apart(one, usual) > FAR_FROM_FAMILY_C]
        if far:
            found["label"] = _outside(far[0].low, usual)
    if filament.bed is not None and bed is not None and _apart(bed, filament.bed) > FAR_FROM_FAMILY_C:
        found["bed_low_c"] = _outside(bed.low, filament.bed)
    if filament.dry_c is not None and dry_c is not None:
        usual = Window(low=filament.dry_c.low - COOLER_C, high=filament.dry_c.high + HOTTER_C)
        if not usual.low <= dry_c <= usual.high:
            found["dry_c"] = _outside(dry_c, filament.dry_c)
    own = filament.density_g_cm3
    if own is not None and density_g_cm3 is not None and not filled and abs(density_g_cm3 / own - 1) > DENSITY_FAR:
        found["density_g_cm3"] = _outside(density_g_cm3, Window(low=own, high=own))
    return found


def _apart(one: Window, other: Window) -> float:
    """How far apart two ranges are; 0 where they share anything."""
    return max(0.0, one.low - other.high, other.low - one.high)


def _outside(value: float, usual: Window) -> Finding:
    return Finding(code=Code.OUTSIDE_FAMILY, value=value, low=usual.low, high=usual.high)


USUAL_STEPS: Final[Mapping[ToolKind, tuple[float, float]]] = {
    ToolKind.CALLIPER: (0.01, 0.1),
    ToolKind.MICROMETER: (0.001, 0.01),
    ToolKind.RULER: (0.5, 1.0),
    ToolKind.SCALE: (0.001, 1.0),
    ToolKind.THERMOMETER: (0.1, 1.0),
}
"""Steps that tools of a kind have, in its unit: one that is finer would make every result look surer than it is (E)."""

USUAL_ERRORS: Final[Mapping[ToolKind, tuple[float, float]]] = {
    ToolKind.CALLIPER: (0.01, 0.2),
    ToolKind.MICROMETER: (0.001, 0.02),
    ToolKind.RULER: (0.05, 2.0),
    ToolKind.SCALE: (0.001, 5.0),
    ToolKind.THERMOMETER: (0.1, 10.0),
}
"""Permissible errors that makers state of them, in its unit (E)."""


def judge_tool(kind: ToolKind, resolution: float, error: float | None) -> dict[str, Finding]:
    """What does not look like a tool of its kind, by the field it is entered in; ``error``: as its maker states it.

    The usual error of so coarse or fine a step is nobody's word: there the step is asked about alone.
    """
    found = {}
    error = None if error == usual_error(kind, resolution) else error
    given = {"resolution": (resolution, USUAL_STEPS), "max_permissible_error": (error, USUAL_ERRORS)}
    for field, (number, usual) in given.items():
        low, high = usual.get(kind, (0.0, math.inf))
        if number is not None and not low <= number <= high:
            found[field] = Finding(code=Code.UNUSUAL, value=number, low=low, high=high)
    return found
