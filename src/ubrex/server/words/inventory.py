"""What is said about machines, filaments and spools."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from ubrex.core.materials import Drying, DryingFault
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.words.numbers import DASH, plain
from ubrex.server.words.profile import window_said


def machine_said(
    kinematics: str, enclosure: str, feed_path: str, tube_mm: float | None, bed_max_c: float | None
) -> str:
    """A machine in one line."""
    moves = {"moving_bed": "moving bed", "still_bed": "still bed", "other": "other kinematics"}[kinematics]
    round_it = {"none": "open", "passive": "enclosed", "heated": "heated chamber"}[enclosure]
    tube = "" if tube_mm is None else f" of {plain(tube_mm)} mm"
    feed = "direct feed" if feed_path == "direct" else f"feed through a tube{tube}"
    bed = "" if bed_max_c is None else f", bed never above {plain(bed_max_c)} °C"
    return f"{round_it}, {moves}, {feed}{bed}"


def label_said(label: Sequence[Mapping[str, float]]) -> str:
    """A label's nozzle ranges in one line; empty if it says none."""
    return "; ".join(
        f"{plain(row['low_c'])}{DASH}{plain(row['high_c'])} °C"
        + (f" from {plain(row['from_mm_s'])} mm/s" if row.get("from_mm_s") else "")
        for row in label
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class EntryWords:
    """A kind of entry in a spool's log: what its numbers are, and how far they may lie."""

    name: str
    number: str
    low: float
    high: float
    why: str
    unit: Unit
    second: str = ""
    second_low: float = 0.0
    second_high: float = 0.0
    second_why: str = ""
    second_unit: Unit = Unit.MM


ENTRIES: Final[dict[str, EntryWords]] = {
    "weighed": EntryWords(
        name="Weighed", number="Filament left", low=0, high=20000, why="spools hold up to 20 kg", unit=Unit.G
    ),
    "drying": EntryWords(
        name="Into the dryer", number="Hours", low=0.1, high=72, why="three days dry anything", unit=Unit.HOURS,
        second="Temperature", second_low=30, second_high=120, second_why="dryers hold 30 to 120 °C",
        second_unit=Unit.CELSIUS,
    ),
    "dried": EntryWords(
        name="Dried", number="Hours", low=0.1, high=72, why="three days dry anything", unit=Unit.HOURS,
        second="Temperature", second_low=30, second_high=120, second_why="dryers hold 30 to 120 °C",
        second_unit=Unit.CELSIUS,
    ),
    "diameter": EntryWords(
        name="Diameter", number="One way", low=1.2, high=3.3, why="filament is 1.75 or 2.85 mm thick", unit=Unit.MM,
        second="Across it", second_low=1.2, second_high=3.3, second_why="filament is 1.75 or 2.85 mm thick",
    ),
    "wet_test": EntryWords(
        name="Wet test", number="Pops in 50 mm fed in air", low=0, high=999, why="count them, or type 0", unit=Unit.MM
    ),
}  # fmt: skip
"""What can be found on a spool."""


def entry_said(kind: str, number: float, second: float | None, *, counts: bool = True) -> str:
    """An entry of a spool's log in one line; ``counts``: a drying that dries."""
    match kind:
        case "weighed":
            return f"{decimal_text(number, 0)} g left"
        case "drying":
            return f"put into the dryer for {plain(number)} h at {plain(second or 0)} °C"
        case "dried":
            said = f"dried {plain(number)} h at {plain(second or 0)} °C"
            return said if counts else f"{said}: too short or too cool to count"
        case "diameter":
            return f"{decimal_text(number, 2)} by {decimal_text(second or 0, 2)} mm thick"
    return "silent and smooth when fed in air" if number == 0 else f"{plain(number)} pops when fed in air: dry it first"


def drying_doubted_said(fault: DryingFault, hours: float, celsius: float, asked: Drying, filament: str) -> str:
    """Why a drying is asked about, and what becomes of it."""
    how = f"{window_said(asked.hours, 'h')} at {window_said(asked.celsius, '°C')}"
    if fault is DryingFault.TOO_HOT:
        return (
            f"{plain(celsius)} °C softens {filament}: the turns on its spool stick to each other. Dry it for {how}. "
            "If it is so, say why in the note."
        )
    typed = f"{plain(hours)} h" if fault is DryingFault.TOO_SHORT else f"{plain(celsius)} °C"
    said = f"{typed} does not dry {filament}: that takes {how}."
    return f"{said} If it is so, say why in the note; it does not count as dried."


def left_said(left_g: float, printed_g: float) -> str:
    """What should be left on a spool: as it was weighed, or about, when something was printed from it since.

    >>> left_said(612, 0), left_said(480, 132)
    ('612 g', 'about 480 g')
    """
    return f"{decimal_text(left_g, 0)} g" if printed_g == 0 else f"about {decimal_text(left_g, 0)} g"


def drying_said(spool: str, hours: float, celsius: float, *, over: bool) -> str:
    """A spool in the dryer; ``over``: the hours it was put in for have passed."""
    what = f"Spool {spool} is drying at {plain(celsius)} °C for {plain(hours)} h"
    return f"{what}, which are over. Weigh it, and write it down as dried." if over else f"{what}."


_CAME_OUT: Final = {"good": "works", "bad": "does not work", "stopped": "stopped early"}


def print_line(what: str, outcome: str, on: str) -> str:
    """A print in a line: what, how it came out, when."""
    return f"{what}, {_CAME_OUT[outcome]}, {on}"
