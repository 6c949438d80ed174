"""Attempts on real parts: two compared, who gets the credit, a series, small designs, and what clean prints prove."""

from ubrex.core.attempts._design import DESIGNS, DesignBest, DesignEffects, design_best, design_effects
from ubrex.core.attempts._qualified import Qualified, qualified
from ubrex.core.attempts._series import Blame, Factor, Series, Setting, blame, read_series
from ubrex.core.attempts._two import CompareResult, CompareVerdict, compare_counts, compare_two

__all__ = [
    "DESIGNS",
    "Blame",
    "CompareResult",
    "CompareVerdict",
    "DesignBest",
    "DesignEffects",
    "Factor",
    "Qualified",
    "Series",
    "Setting",
    "blame",
    "compare_counts",
    "compare_two",
    "design_best",
    "design_effects",
    "qualified",
    "read_series",
]
