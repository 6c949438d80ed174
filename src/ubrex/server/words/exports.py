"""What is said about profiles that are taken along or brought in."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from ubrex.core.chain import Change, Kind
from ubrex.core.materials import family
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.machine import Keeping
from ubrex.server.words.numbers import plain, unit_text

HOLDS_FOR: Final = {
    Kind.E_STEPS: "the extruder it was measured on",
    Kind.HEAT_BIAS: "the hotend it was looked up on",
    Kind.LEVEL: "the bed it was measured on",
    Kind.Z_OFFSET: "the nozzle and the sheet it was measured on",
    Kind.DIAMETER: "the filament it was measured on",
}
"""What a value of these kinds holds for alone."""

SPOOL: Final = "Spool"
DRYING: Final = "Drying"
FEED_PATH: Final = "Feed"
FEED_CHANGED: Final = "Feed path changed"
ROOM: Final = "Room"
VERIFIED: Final = "Verified for"
"""What the card of a spool names."""

NOTHING_TO_TAKE: Final = "Nothing in it differs from what is here, or may be taken."
FEEDS_AS_BEFORE: Final = "it feeds as much as before"
NO_SURFACE: Final = "this setup does not say what it prints on"
NESTED: Final = "This file is nested deeper than any profile."
FOREIGN: Final = "This is not a profile of Ubrex: it lacks the line that says so."
TWICE: Final = "A value stands in this file twice: which one counts?"


def holds_only_for_said(kind: Kind) -> str:
    """A value that was measured on parts which are not here."""
    return f"it holds only for {HOLDS_FOR[kind]}; measure it here"


def asks_note_said(names: Sequence[str]) -> str:
    """Values outside what is usual come in with a reason."""
    lie = "lies" if len(names) == 1 else "lie"
    return f"{' and '.join(names)} {lie} outside what is usual here. That is allowed: say why in the note."


def not_offered_said(machine: str) -> str:
    """A value that a machine does not have."""
    return f"{machine} does not offer it"


def kept_in_said(machine: str, unit: Unit) -> str:
    """A value in a form that a machine does not keep."""
    return f"{machine} keeps it in {unit_text(unit.value)}"


def other_family_said(there: str, here: str) -> str:
    """Values of another family."""
    return f"It was tuned on {_family(there)}, and this setup holds {_family(here)}."


def _family(key: str) -> str:
    try:
        return family(key).name
    except KeyError:
        return key


def other_bore_said(there_mm: float, here_mm: float) -> str:
    """Values of another bore."""
    return f"It was tuned on a {plain(there_mm)} nozzle, and this one has {plain(here_mm)}."


def other_hardness_said(there: str, here: str) -> str:
    """Values of a softer or harder filament."""
    return f"It was tuned on {there}, and this filament is {here}: retraction and speed do not carry over."


def other_feed_said(there: str, here: str) -> str:
    """Values of another feed path."""
    return f"It was tuned on {there}, and this machine has {here}: retraction and pressure do not carry over."


def from_file_said(machine: str, filament: str) -> str:
    """Where a value from a file came from."""
    return f"from a file of {machine}, {filament}"


def from_setup_said(title: str) -> str:
    """Where a copied value came from."""
    return f"from {title}"


def too_large_said(characters: int) -> str:
    """A file that cannot be a profile."""
    return f"This file has {characters} characters; a profile has a few thousand."


def cut_off_said(line: int, column: int, why: str) -> str:
    """A file that is no JSON."""
    return f"Line {line}, column {column}: {why}. The file is cut off or is no JSON."


def newer_said(version: int, known: int) -> str:
    """A file from a later Ubrex."""
    return f"This profile is of version {version}, and this Ubrex reads up to {known}. Update first."


def wrong_at_said(where: str, why: str) -> str:
    """What does not fit in a file."""
    return f"At {where}: {why}."


def written_said(title: str, on: str) -> str:
    """The head of the lines for a machine."""
    return f"; {title}\n; written by Ubrex from values of {on}"


def steps_line(command: str, setting: str) -> str:
    """E-steps as a command."""
    return f"{command} ; extruder: {setting} steps feed 1 mm"


def offset_line(command: str, far: str) -> str:
    """An offset as a command."""
    return f"{command} ; the nozzle is {far} mm from where the probe finds the bed"


def pressure_line(command: str, seconds: str) -> str:
    """Pressure compensation as a command."""
    return f"{command} ; pressure compensation: {seconds} s"


def saved_line(save: str) -> str:
    """How long such lines hold."""
    return f"; {save} would store them for good; without it they hold until the machine is switched off"


def no_commands_line(machine: str, keeping: Keeping) -> str:
    """Where a machine keeps what is no command on it."""
    where = "its configuration file" if keeping is Keeping.TURN_IN_FILE else "its own menu"
    return f"; {machine} keeps these in {where}; they are no commands:"


def on_day_said(what: str, on: str) -> str:
    """Something, and when."""
    return f"{what}, {on}"


def change_line(change: Change, on: str, note: str) -> str:
    """A change in one line."""
    return f"{on}: {CHANGES[change].name}{f' ({note})' if note else ''}"


def room_line(celsius: float, humidity_pct: float | None, *, draught: bool, on: str) -> str:
    """The air in one line, in both units."""
    damp = "" if humidity_pct is None else f", {decimal_text(humidity_pct, 0)} % damp"
    return f"{both_units(celsius)}{damp}{', in a draught' if draught else ''}; {on}"


def both_units(celsius: float) -> str:
    """A temperature in both units, to a tenth.

    >>> both_units(20.555556)
    '20.6 °C (69.0 °F)'
    """
    return f"{decimal_text(celsius, 1)} °C ({decimal_text(celsius * 9 / 5 + 32, 1)} °F)"


def attempt_line(what: str, when: str, seen: Sequence[str], tried: Sequence[str], note: str) -> str:
    """An attempt in one line: what and when, what was seen, what was another than in the profile, what was noted."""
    with_ = f"; with {', '.join(tried)}" if tried else ""
    return f"{what}, {when}: {', '.join(seen)}{with_}" + (f"; {note}" if note else "")
