"""What is said where a setup is put together of its parts."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

PURPOSE_MOVES: Final = "Moves tolerances and picks, never values."
OTHER_SPOOL: Final = (
    "Another spool of the same filament: one wet test and one wall tell whether it is the same, not the chain."
)
GONE: Final = "This is no longer in the workshop. Choose another."
SURFACE_ELSEWHERE: Final = "This surface belongs to another machine."
SPOOL_OTHER: Final = "This spool holds another filament."


def on_record_said(revisions: int) -> str:
    """A setup that is there already."""
    if revisions == 0:
        return "On record, empty."
    return f"On record with {revisions} {'revision' if revisions == 1 else 'revisions'}."


def new_setup_said(names: Sequence[str]) -> str:
    """A setup that would be new; ``names``: what its parts bring along."""
    if not names:
        return "A new setup: nothing is known of it yet."
    return f"A new setup. It starts with what belongs to its parts: {', '.join(names)}."


def nozzle_elsewhere_said(where: str | None) -> str:
    """A nozzle that sits in another hotend; None where nobody knows in which."""
    return f"This nozzle sits in {where or 'another machine'}. Take one that goes into this hotend."
