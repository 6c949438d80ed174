"""Checks of the machine: touches that repeat, switches, screws turned, before and after; and drift of a correction."""

from ubrex.core.checks._checks import (
    DRAG_MM,
    DRAG_STD_MM,
    GOOD_MM,
    LEVEL_STD_MM,
    USABLE_MM,
    BeforeAfter,
    Levelling,
    Repeatability,
    TwoState,
    before_after,
    levelling_rounds,
    repeatability,
    two_state,
)
from ubrex.core.checks._drift import Drift, drift, same_way
from ubrex.core.checks._mesh import MeshShape, mesh_shape

__all__ = [
    "DRAG_MM",
    "DRAG_STD_MM",
    "GOOD_MM",
    "LEVEL_STD_MM",
    "USABLE_MM",
    "BeforeAfter",
    "Drift",
    "Levelling",
    "MeshShape",
    "Repeatability",
    "TwoState",
    "before_after",
    "drift",
    "levelling_rounds",
    "mesh_shape",
    "repeatability",
    "same_way",
    "two_state",
]
