"""What a value is judged against: the parts of a setup and what is printed on them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from ubrex.core.bead import usual_layer_mm, usual_line_mm
from ubrex.core.calibrate import RETRACTION_CAPS, LabelRange, RetractionCap, label_at
from ubrex.core.chain import KINDS, Heats, Kind
from ubrex.core.judge._findings import Whose
from ubrex.core.materials import (
    Family,
    Hardness,
    Limit,
    Liner,
    Stiffness,
    Window,
    bed_limits,
    chamber_limits,
    nozzle_limits,
    stiffness_of,
    strictest,
)

USUAL_SPEED_MM_S: Final = 40.0
"""Speed at which a label is read where the setup has none [mm/s] (rules, E)."""

FAST_CEILING_C: Final = 235.0
"""Fast and silky PLA is usual up to here [°C] (job, section 5)."""


SUSPECT_BIAS_C: Final = 5.0
"""A hotend that is said to be off by more is checked again first; no proposal follows it (job, section 3, row 1)."""


@dataclass(frozen=True, slots=True)
class Usual:
    """What is usual for a value, both ends in it, whose word that is, and at which speed, where a label depends on it."""

    window: Window
    whose: Whose
    at_mm_s: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Parts:
    """A setup as far as it limits a value; temperatures in °C, lengths in mm. None: nobody said.

    ``bias_c``: what the hotend shows too much, by its heat check; ``bias_confirmed``: two independent tests agreed.
    ``label``: nozzle ranges of the spool by speed.
    """

    filament: Family
    bore_mm: float
    nozzle_material: str = "brass"
    liner: Liner = Liner.ALL_METAL
    hotend_max_c: float | None = None
    printed_parts_max_c: float | None = None
    bed_max_c: float | None = None
    surface_max_c: float | None = None
    has_surface: bool = True
    chamber_max_c: float | None = None
    enclosure: str = "none"
    max_speed_mm_s: float | None = None
    direct: bool = True
    bypass_for_soft: bool = False
    flags: frozenset[str] = frozenset()
    label: tuple[LabelRange, ...] = ()
    label_bed: Window | None = None
    hardness: Hardness | None = None
    bias_c: float | None = None
    bias_confirmed: bool = False

    @property
    def stiffness(self) -> Stiffness:
        """How a strand of it takes a push."""
        return stiffness_of(self.filament, self.hardness)

    @property
    def cap(self) -> RetractionCap:
        """Longest and fastest retraction."""
        return RETRACTION_CAPS[self.direct, self.stiffness]

    @property
    def trusted_bias_c(self) -> float:
        """What the hotend shows too much [°C], as far as that moves anything: a suspect one does not (job, chain row 1)."""
        if self.bias_c is None or (abs(self.bias_c) > SUSPECT_BIAS_C and not self.bias_confirmed):
            return 0.0
        return self.bias_c

    def limits_of(self, heats: Heats | None) -> list[Limit]:
        """All limits of a temperature [°C], as it is set."""
        match heats:
            case Heats.NOZZLE:
                low = 0.0 if self.bias_c is None else -self.bias_c
                return nozzle_limits(liner=self.liner, hotend_max_c=self.hotend_max_c, reads_low_by_c=low)
            case Heats.BED:
                return bed_limits(bed_max_c=self.bed_max_c, surface_max_c=self.surface_max_c)
            case Heats.CHAMBER:
                return chamber_limits(chamber_max_c=self.chamber_max_c, printed_parts_max_c=self.printed_parts_max_c)
        return []

    def limit_of(self, heats: Heats | None) -> Limit | None:
        """The strictest of them."""
        return strictest(self.limits_of(heats))

    @property
    def nozzle_window(self) -> Window | None:
        """What is usual for its family [°C]: fast and silky kinds are printed hotter."""
        usual = self.filament.nozzle
        if usual is None or self.filament.key != "pla" or not {"fast", "silky"} & self.flags:
            return usual
        return Window(low=usual.low, high=FAST_CEILING_C)

    def heat_usual(self, heats: Heats | None, speed_mm_s: float) -> Usual | None:
        """What is usual for a temperature, true [°C]: the label's at that speed, else the family's; None if neither says."""
        if heats is Heats.NOZZLE:
            window = label_at(self.label, speed_mm_s)
            family = self.nozzle_window
        elif heats is Heats.BED:
            window, family = self.label_bed, self.filament.bed
        else:
            return None
        if window is not None:
            return Usual(window, Whose.LABEL, speed_mm_s if heats is Heats.NOZZLE and len(self.label) > 1 else None)
        return None if family is None else Usual(family, Whose.FAMILY)


def speed_of(values: Mapping[Kind, float]) -> float:
    """The speed that a profile prints at [mm/s]: of its outer walls, else a usual one."""
    return values.get(Kind.SPEED_OUTER, USUAL_SPEED_MM_S)


def usual_of(parts: Parts, values: Mapping[Kind, float], kind: Kind) -> Usual | None:
    """What is usual for a value beside the others, as it is set, heat in whole degrees; None where nothing is."""
    row, heats = parts.filament, KINDS[kind].heats
    if heats is not None:
        usual = parts.heat_usual(heats, speed_of(values))
        if usual is None:
            return None
        by = parts.trusted_bias_c if heats is Heats.NOZZLE else 0.0
        moved = Window(low=usual.window.low + by, high=usual.window.high + by)
        return Usual(moved.whole, usual.whose, usual.at_mm_s)
    window = {Kind.FAN: row.fan, Kind.TOP_FLOW: row.melt, Kind.DRYING: row.dry_h}.get(kind)
    return None if window is None else Usual(window, Whose.FAMILY)


def line_of(parts: Parts, values: Mapping[Kind, float]) -> tuple[float, float]:
    """Line width and layer height [mm] in use: those of the profile, else what is usual for the bore."""
    return (
        values.get(Kind.LINE_WIDTH, usual_line_mm(parts.bore_mm)),
        values.get(Kind.LAYER, usual_layer_mm(parts.bore_mm)),
    )
