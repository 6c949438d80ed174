"""Results too large to write down: every number of them in one fingerprint, which any of them changes."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import fields, is_dataclass
from enum import Enum
from typing import TypeAlias

import numpy as np
import pytest

Fingerprint: TypeAlias = tuple[int, float, float]


def numbers(thing: object) -> Iterator[float]:
    """Every number in something made of dataclasses, in order; names count by their letters, infinity as a million."""
    if isinstance(thing, Enum | str):
        yield float(sum(map(ord, str(thing))))
    elif isinstance(thing, int | float):
        yield float(thing) if math.isfinite(thing) else 1e6
    elif isinstance(thing, tuple | list | frozenset):
        for part in sorted(thing) if isinstance(thing, frozenset) else thing:
            yield from numbers(part)
    elif isinstance(thing, Mapping):
        yield from numbers(list(thing.items()))
    elif isinstance(thing, np.ndarray):
        yield from thing.astype(float).ravel().tolist()
    elif is_dataclass(thing):
        for field in fields(thing):
            yield from numbers(getattr(thing, field.name))


def fingerprint(thing: object) -> Fingerprint:
    """How many numbers, their sum, and their sum weighed by where they stand: nothing moves without moving one of them."""
    found = list(numbers(thing))
    return len(found), math.fsum(found), math.fsum(place * number for place, number in enumerate(found))


def assert_unchanged(thing: object, kept: Fingerprint, *, rel: float = 1e-11) -> None:
    """A result is what it was; ``rel``: what machines may differ by."""
    assert fingerprint(thing) == pytest.approx(kept, rel=rel)
