"""What stands on the page of a case that is shown to somebody elsewhere."""

from __future__ import annotations

from typing import Final

SEEN: Final = "What is seen"
SETUP: Final = "The machine and what is in it"
CAUSES: Final = "What it may be"
LOOKED: Final = "Looked at"
TRIED: Final = "Tried"
RECORD: Final = "What the record says"
VALUES: Final = "What is set, and where it comes from"
FILES: Final = "What the sliced files say"
CHANGES: Final = "What was done, newest first"
MACHINE, HOTEND, NOZZLE, SURFACE, FILAMENT = "Machine", "Hotend", "Nozzle", "Surface", "Filament"
SAME: Final = "say the same"
NOT_THERE: Final = "not in it"


def title_said(complaint: str, machine: str, when: str) -> str:
    """Head of the page."""
    return f"{machine}: {complaint.lower()}, {when}"


def attempt_said(what: str, came_out: str) -> str:
    """The attempt it came with."""
    return f"At {what}: {came_out}"


def answered_said(text: str, when: str, person: str) -> str:
    """A look or a remedy, with when and who."""
    return f"{text} ({when}, {person})"


def between_said(one: str, here: str, other: str, there: str) -> str:
    """A number of two files."""
    return f"{here} in {one}, {there} in {other}"


def both_said(one: str, other: str) -> str:
    """Two files."""
    return f"{one} and {other}"


def change_said(name: str, when: str, person: str, note: str) -> str:
    """Work that was logged."""
    return f"{when}: {name}, {person}{f' ({note})' if note else ''}"


def began_said(when: str) -> str:
    """Where the fault stands among what was done."""
    return f"{when}: here it began"


def photo_said(note: str, when: str, person: str) -> str:
    """A photograph."""
    return ", ".join(part for part in (note, when, person) if part)


def missing_said(*, photos: bool, looked: bool) -> str:
    """What somebody elsewhere will ask for."""
    missing = [
        what for what, there in (("a photo of what is seen", photos), ("a look at the machine", looked)) if not there
    ]
    return f"Missing still: {' and '.join(missing)}." if missing else ""
