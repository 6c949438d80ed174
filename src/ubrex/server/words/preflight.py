"""The card before a print: eight ticks, two minutes, the same every time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from ubrex.core.materials import Enclosure, Family, Window
from ubrex.server.words.numbers import DASH, NBSP, ago, plain


@dataclass(frozen=True, slots=True)
class Tick:
    """One thing to see to; ``lead`` is read at a glance."""

    lead: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Scene:
    """What a card depends on."""

    family: Family
    spool: str
    numbers: str
    surface: str
    washed: str
    adhesive: str
    adhesive_purpose: str
    dried: str
    enclosure: str
    left: str


_SOAKS = {Enclosure.NEEDED, Enclosure.HEATED}
_STICKS_TOO_WELL = {"petg", "copolyester", "tpu", "pc"}


def ticks(scene: Scene) -> Sequence[Tick]:
    """The eight ticks of a setup, in the order in which they are done."""
    return (
        Tick("Spool and profile.", f"{scene.spool} is on, and the sliced file says {scene.numbers}."),
        Tick("Plate.", f"{scene.surface}, {scene.washed}. Clean and cold to the eye, no finger marks."),
        Tick("Adhesive.", _adhesive(scene)),
        Tick("Dry.", _dry(scene)),
        Tick("Soak and prime.", _soak(scene)),
        Tick("Fan.", _fan(scene.family)),
        Tick("Brim, door, room.", _door(scene)),
        Tick(
            "Enough, checked, stay.",
            f"{scene.left}; the file was looked through; somebody stays for the first layers. Unattended only where the "
            "machine is known to stop by itself.",
        ),
    )


def _adhesive(scene: Scene) -> str:
    if scene.adhesive and scene.adhesive_purpose != "none":
        return f"{scene.adhesive}, to {scene.adhesive_purpose}."
    if scene.family.key in _STICKS_TOO_WELL:
        return f"{scene.family.name} can weld itself to a bare smooth sheet: put a release agent between."
    return "None in use. A brim or glue if corners lifted last time."


def _dry(scene: Scene) -> str:
    row = scene.family
    if row.dry_c is None or row.dry_h is None:
        return f"{scene.dried}. Feed 50 mm in air: silent and smooth, carry on."
    how = f"{plain(row.dry_c.low)}{NBSP}°C for {plain(row.dry_h.low)}{NBSP}h or as its maker says"
    if row.dry_always:
        return f"{scene.dried}. {row.name} always wants drying, new and sealed too: {how}."
    return f"{scene.dried}. Feed 50 mm in air: pops or steam mean dry it first, {how}."


def _soak(scene: Scene) -> str:
    if scene.family.enclosure in _SOAKS:
        soaked = f"Bed hot, nozzle at 150{NBSP}°C or below, door shut, 20{DASH}30{NBSP}min"
        return f"{soaked}; nozzle up in the last 3 minutes; primed."
    return "Bed at its heat for a few minutes, nozzle up last, a line primed beside the part."


def _fan(row: Family) -> str:
    if row.fan is None:
        return "As the label says; off for the first layers."
    if row.fan.high == 0:
        return "Off, all the way."
    usual = plain(row.fan.low) if row.fan.low == row.fan.high else f"{plain(row.fan.low)}{DASH}{plain(row.fan.high)}"
    return f"Off for the first 1{DASH}3 layers, then {usual}{NBSP}%."


def _door(scene: Scene) -> str:
    match scene.family.enclosure:
        case Enclosure.NEEDED | Enclosure.HEATED:
            lacking = " This machine has no enclosure: expect lifted corners." if scene.enclosure == "none" else ""
            return f"Brim of 10{DASH}15 lines for wide parts, door shut, no draught, room aired outside it.{lacking}"
        case Enclosure.OPEN:
            return "Door open or off: this filament jams in warm air. No draught on the bed."
        case _:
            return "Brim where the foot is small; no draught on the bed."


MECHANICS: Final = (
    "Frame screws tight; belts tensioned alike; wheels and guides without play; hotend not rocking; grub screws on their "
    "flats; gear clean and tensioned; feed path free by hand; nozzle sealed; liner without a gap. Switched off and cold."
)
"""What is looked at before anything is tuned (job, section 3, *before*)."""

WET_TEST: Final = (
    "Feed 50 mm into the air: a smooth, silent strand is dry. Pops, steam or bubbles: dry it until 2 h more take no "
    "more than 1 g off the spool."
)


def mechanics_said(days: float | None) -> str:
    """When the mechanics were gone through."""
    return "Mechanics: not looked at" if days is None else f"Mechanics: gone through {ago(days)}"


def filament_said(kind: str | None, number: float, *, wet: bool) -> str:
    """How dry the filament was found last."""
    if kind == "wet_test":
        return f"Filament: {'silent' if number == 0 else 'pops'}"
    if kind == "dried" and not wet:
        return "Filament: dried"
    return "Filament: wet" if wet else "Filament: not listened to"


def wet_test_said(dry: str) -> str:
    """Why a run opens with the wet test."""
    return (
        "Feed 50 mm into the air, hot, before anything is printed. Smooth and silent: go on. Pops, bubbles or steam: it is "
        f"wet, and a tower of wet filament measures the water. {dry}"
    )


def dry_first_said(celsius: Window | None, hours: Window | None) -> str:
    """How filament is dried before it is tested again."""
    if celsius is None or hours is None:
        return "Dry it as its maker says, then test again."
    return f"Dry it at {plain(celsius.low)} °C for {plain(hours.low)} h, or as its maker says, then test again."
