"""What found things are called."""

from __future__ import annotations

from typing import Final

SETUP: Final = "Setup"
VALUE: Final = "Value"
RUN: Final = "Run"
PRINT: Final = "Print"
NOTE: Final = "Note"
CHANGE: Final = "Change"
SPOOL: Final = "Spool"
CASE: Final = "Case"
CAUSE: Final = "Cause"
GUIDE: Final = "Guide"


def shows_as_said(complaint: str) -> str:
    """How a cause shows."""
    return f"shows as: {complaint.lower()}"


FAULT: Final = "Fault"
OPENS: Final = "open a case"


def run_said(run_id: int, step: str) -> str:
    """A run by its number and step."""
    return f"Run {run_id}, {step}"


def value_said(name: str, number: str, unit: str) -> str:
    """What a value is set to."""
    return f"{name} {number} {unit}".rstrip()


def spool_said(name: str) -> str:
    """A spool by its name."""
    return f"Spool {name}"


def with_note_said(name: str, note: str) -> str:
    """What it is, and what was noted beside it."""
    return f"{name}: {note}" if note else name


def by_said(where: str, person: str, on: str) -> str:
    """On which setup, by whom, and when."""
    return ", ".join(part for part in (where, person, on) if part)
