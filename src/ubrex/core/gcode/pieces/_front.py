"""A piece as it stands before a person who has not printed it yet: from the front, as its own moves build it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from typing import Final, NamedTuple

from ubrex.core.gcode._moves import Feed, Go, Move

DRAWN_MM: Final = 0.1
"""What is nearer than this is drawn as one [mm]."""


class FrontPart(NamedTuple):
    """Part of a piece from the front [mm], from its left end and the plate: what several layers cover alike."""

    left: float
    right: float
    bottom: float
    top: float


def from_front(moves: Sequence[Move], line_mm: float) -> list[FrontPart]:
    """What lines so wide cover, seen along y; bridges and overhangs hang where nothing is below them."""
    layers: dict[float, list[tuple[float, float]]] = defaultdict(list)
    half = line_mm / 2
    for low, high, top in _lines(moves):
        layers[top].append((low - half, high + half))
    start = min((low for rows in layers.values() for low, _ in rows), default=0.0)
    parts: list[FrontPart] = []
    standing: dict[tuple[float, float], float] = {}
    below = 0.0
    for top in sorted(layers):
        here = {(round(low - start, 1), round(high - start, 1)) for low, high in _joined(layers[top])}
        # What goes on as it was is one part; what ends was there up to the layer below.
        for span in standing.keys() - here:
            parts.append(FrontPart(*span, standing.pop(span), below))
        standing |= dict.fromkeys(here - standing.keys(), below)
        below = top
    return sorted([*parts, *(FrontPart(*span, bottom, below) for span, bottom in standing.items())])


def _lines(moves: Sequence[Move]) -> Iterator[tuple[float, float, float]]:
    """From where to where each printed line runs along x, and the height of its layer."""
    x = 0.0
    for move in moves:
        if isinstance(move, Go):
            if move.feed_mm > 0 and move.why is Feed.PRINT:
                yield min(x, move.x), max(x, move.x), move.z
            x = move.x


def _joined(spans: list[tuple[float, float]]) -> Iterator[tuple[float, float]]:
    """Spans without overlap, those that all but touch joined."""
    left, right = min(spans)
    for low, high in sorted(spans):
        if low > right + DRAWN_MM:
            yield left, right
            left = low
        right = max(right, high)
    yield left, right
