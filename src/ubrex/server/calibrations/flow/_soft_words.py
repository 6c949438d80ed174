"""What is said of walls that are read softly: whether the hand presses them in."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import Pressed
from ubrex.server.words.numbers import plus_minus, signed

SOFTLY: Final = "The wall, read softly"
SOFT_EMPTY: Final = "Type in what at least one wall reads."


def soft_said(*, change: bool) -> str:
    """Why walls are to be read softly; ``change``: something is about to be changed."""
    return (
        "A hand that presses walls in reads them thin, and no zero check shows it. "
        f"{'Before you change the flow, read' if change else 'Read'} each wall once more with the jaws only just touching."
    )


def other_place_why(usual: str) -> str:
    """Why a place read again cannot be so."""
    return f"the place read last was {usual}, and no hand presses a wall in by a tenth"


def pressed_said(found: Pressed, of: str) -> str:
    """How far the hand presses walls in; ``of``: how many lines they have, where there are others too."""
    said = f"{signed(found.by_mm, 3)} {plus_minus(found.half_width_mm)} mm"
    walls = f"walls of {of}" if of else "walls"
    if found.real:
        return f"Read softly, {walls} are wider: {said}. That is put back; better still, read them all so."
    return f"Read softly, {walls} are the same within what rereading explains: {said}."
