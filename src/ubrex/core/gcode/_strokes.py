"""Digits and letters as strokes that a nozzle can draw, on a grid of 4 by 6."""

from __future__ import annotations

from typing import Final

Stroke = tuple[tuple[int, int], ...]

STROKES: Final[dict[str, tuple[Stroke, ...]]] = {
    "0": (((0, 0), (4, 0), (4, 6), (0, 6), (0, 0)),),
    "1": (((1, 5), (2, 6), (2, 0)),),
    "2": (((0, 6), (4, 6), (4, 3), (0, 3), (0, 0), (4, 0)),),
    "3": (((0, 6), (4, 6), (4, 0), (0, 0)), ((1, 3), (4, 3))),
    "4": (((0, 6), (0, 3), (4, 3)), ((4, 6), (4, 0))),
    "5": (((4, 6), (0, 6), (0, 3), (4, 3), (4, 0), (0, 0)),),
    "6": (((4, 6), (0, 6), (0, 0), (4, 0), (4, 3), (0, 3)),),
    "7": (((0, 6), (4, 6), (2, 0)),),
    "8": (((0, 0), (4, 0), (4, 6), (0, 6), (0, 0)), ((0, 3), (4, 3))),
    "9": (((4, 3), (0, 3), (0, 6), (4, 6), (4, 0), (0, 0)),),
    ".": (((1, 0), (2, 0)),),
    "-": (((1, 3), (3, 3)),),
}
"""What can be drawn."""

ADVANCE: Final = 6
"""From one sign to the next, in grid steps."""

TALL: Final = 6
"""Height of a sign, in grid steps."""


def strokes_of(text: str, x: float, y: float, height_mm: float) -> list[list[tuple[float, float]]]:
    """Lines [mm] that write ``text`` with its lower left corner at a place.

    Raises
    ------
    KeyError
        If a sign has no strokes.
    """
    step = height_mm / TALL
    return [
        [(x + step * (ADVANCE * place + across), y + step * up) for across, up in stroke]
        for place, sign in enumerate(text)
        for stroke in STROKES[sign]
    ]


def width_of(text: str, height_mm: float) -> float:
    """How wide a text is drawn [mm]."""
    return height_mm / TALL * (ADVANCE * len(text) - 2)
