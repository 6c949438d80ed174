"""A handful of settings in four or eight attempts (rules, section K)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations, product
from typing import Final

import numpy as np

from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import student_quantile

Array = np.ndarray

_ALL_EIGHT: Final = np.array([[-1 if place >> bit & 1 == 0 else 1 for bit in range(3)] for place in range(8)])


def _columns(name: str) -> Array:
    """Low and high, -1 and 1, of each setting in each attempt."""
    a, b, c = _ALL_EIGHT.T
    designs: dict[str, Array] = {
        "3in4": np.array([[-1, -1, 1], [1, -1, -1], [-1, 1, -1], [1, 1, 1]]),
        "3in8": _ALL_EIGHT,
        "4in8": np.c_[_ALL_EIGHT, a * b * c],
        "7in8": np.c_[_ALL_EIGHT, a * b, a * c, b * c, a * b * c],
    }
    if name not in designs:
        raise OutOfRange(f"there is {', '.join(designs)}", name="design", value=name)
    return designs[name]


DESIGNS: Final = {name: tuple(tuple(int(one) for one in row) for row in _columns(name)) for name in ("3in4", "3in8")}
"""Low and high, -1 and 1, of three settings in each print."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DesignEffects:
    """Mean of the results, effect of each setting (high minus low), its 95 % half-width, and whether it is real."""

    mean: float
    effects: tuple[float, ...]
    std_error: float | None = None
    half_width_95: float | None = None
    real: tuple[bool, ...] | None = None


def design_effects(
    design: str, results: Sequence[float], *, repeat_sd: float | None = None, repeat_dof: float | None = None
) -> DesignEffects:
    """Effects of the settings of a design (rules, K): by the scatter of repeats, else by Lenth's of the seven contrasts."""
    columns, found = _columns(design), np.asarray(results, float)
    _fits(columns, found)
    count = len(found)
    effects = 2 * columns.T @ found / count
    std: float | None = None
    half: float | None = None
    if repeat_sd is not None:
        std = 2 * repeat_sd / math.sqrt(count)
        half = student_quantile(0.975, math.inf if repeat_dof is None else repeat_dof) * std
    elif count == 8:
        sizes = np.abs(2 * _columns("7in8").T @ found / count)
        rough = 1.5 * float(np.median(sizes))
        small = sizes[sizes < 2.5 * rough]
        std = 1.5 * float(np.median(small)) if len(small) else rough
        half = student_quantile(0.975, len(sizes) / 3) * std
    return DesignEffects(
        mean=float(found.mean()), effects=tuple(float(effect) for effect in effects), std_error=std, half_width_95=half,
        real=None if half is None else tuple(bool(abs(effect) > half) for effect in effects),
    )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class DesignBest:
    """The corner with the highest predicted result: -1 or 1 for each setting."""

    setting: tuple[int, ...]
    predicted: float


def design_best(design: str, results: Sequence[float], *, repeat_sd: float | None = None) -> DesignBest:
    """Best corner of a design: settings alone, and pairs beyond twice their error in the full one (rules, K)."""
    columns, found = _columns(design), np.asarray(results, float)
    _fits(columns, found)
    count, settings = columns.shape
    half = columns.T @ found / count
    pairs = {}
    if design == "3in8" and repeat_sd is not None:
        for one, other in combinations(range(settings), 2):
            effect = float((columns[:, one] * columns[:, other]) @ found / count)
            if abs(effect) > 2 * repeat_sd / math.sqrt(count):
                pairs[one, other] = effect

    def predicted(corner: tuple[int, ...]) -> float:
        together = sum(effect * corner[one] * corner[other] for (one, other), effect in pairs.items())
        return float(found.mean() + half @ np.array(corner)) + together

    # Of alike corners the one with most settings low, the first of them first.
    corners = [corner[::-1] for corner in product((-1, 1), repeat=settings)]
    best = max(corners, key=lambda corner: round(predicted(corner), 12))
    return DesignBest(setting=best, predicted=predicted(best))


def _fits(columns: Array, results: Array) -> None:
    if len(results) != len(columns):
        raise OutOfRange(f"{len(columns)} results", name="results", value=len(results))
