"""Durations of things done by turns, and the one line that a figure is printed as."""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Final

WARM_UP: Final = 30


@dataclass(frozen=True, slots=True)
class Times:
    """Durations [ms] of one thing done many times."""

    name: str
    ms: list[float]

    def at(self, share: float) -> float:
        """Duration that ``share`` of the repeats stayed under."""
        return sorted(self.ms)[min(len(self.ms) - 1, math.ceil(share * len(self.ms)) - 1)]


def alternate(
    things: Sequence[tuple[str, Callable[[], Any]]],
    repeats: int,
    every: tuple[int, Callable[[], None]] | None = None,
    warm_up: int = WARM_UP,
) -> dict[str, Times]:
    """Times of things done by turns, so that a busy moment of the machine falls on all of them."""
    found = {name: Times(name, []) for name, _ in things}
    for index in range(warm_up + repeats):
        if every is not None and index and index % every[0] == 0:
            every[1]()
        for name, act in things:
            started = time.perf_counter()
            act()
            if index >= warm_up:
                found[name].ms.append(1000 * (time.perf_counter() - started))
    return found


def figure_line(name: str, ours: float, floor: float) -> str:
    """A figure beside its floor."""
    return f"{name}: {ours:.3g} ms / {floor:.3g} ms = {ours / floor:.2f}"
