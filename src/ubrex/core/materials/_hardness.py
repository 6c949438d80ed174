"""How hard a flexible filament is, and what that makes of its stiffness."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from ubrex.core.errors import UnreadableEntry
from ubrex.core.materials._families import Family, Stiffness


class Shore(StrEnum):
    """The two scales a durometer is read on: A for rubber, D for hard plastic. The same number is not the same hardness."""

    A = "A"
    D = "D"


_D_OF: Final = (16.0, 30.0, 40.0, 46.0, 58.0, 75.0)
_A_OF: Final = (65.0, 80.0, 90.0, 95.0, 98.0, 100.0)
"""The two scales side by side, as durometers compare them on soft plastics (E)."""

SEMI_FROM_A: Final = 97.0
"""Flexible filament as hard as this [Shore A] or harder follows a push as half stiff (E)."""

SOFT_BELOW_A: Final = 90.0
"""Flexible filament softer than this [Shore A] is fed slowest of all (E)."""


@dataclass(frozen=True, slots=True)
class Hardness:
    """A Shore hardness: 0 to 100 on its scale."""

    value: float
    scale: Shore

    @property
    def as_a(self) -> float:
        """About the same on scale A."""
        return self.value if self.scale is Shore.A else float(np.interp(self.value, _D_OF, _A_OF))


_TEXT: Final = re.compile(r"(?:shore\s*)?(?P<before>[AD])?\s*(?P<number>\d{1,3}(?:[.,]\d)?)\s*(?P<after>[AD])?", re.I)


def read_hardness(text: str) -> Hardness | None:
    """The hardness in a text like ``95A``, ``Shore 98 A`` or ``D 40``; None if the text is empty.

    Raises
    ------
    UnreadableEntry
        If it is no number of 0 to 100 with one of the two scales.
    """
    if not text.strip():
        return None
    found = _TEXT.fullmatch(text.strip())
    scale = None if found is None else found["before"] or found["after"]
    if found is None or scale is None or (found["before"] and found["after"]):
        raise UnreadableEntry("a Shore hardness is a number and its scale, A or D", text=text)
    value = float(found["number"].replace(",", "."))
    if value > 100:
        raise UnreadableEntry("a Shore hardness is 0 to 100", text=text)
    return Hardness(value, Shore(scale.upper()))


def stiffness_of(filament: Family, hardness: Hardness | None) -> Stiffness:
    """How a strand takes a push; one of no known stiffness is taken for half soft."""
    if filament.stiffness is Stiffness.FLEXIBLE and hardness is not None and hardness.as_a >= SEMI_FROM_A:
        return Stiffness.SEMI
    return filament.stiffness or Stiffness.SEMI
