"""Results too large to write down: all of them in one fingerprint, which anything that moves changes."""

from __future__ import annotations

import math
import zlib
from collections.abc import Iterator, Mapping
from dataclasses import fields, is_dataclass
from enum import Enum
from typing import TypeAlias

import numpy as np
import pytest

Fingerprint: TypeAlias = tuple[int, int, float, float]
"""How many parts; a checksum of words and counts; length of all measures taken together; the sum of them, each by a weight
of its own between -1 and 1."""


def parts(thing: object) -> Iterator[float | str]:
    """Every number and word in something made of dataclasses, in order; what is not measured counts by its letters."""
    if isinstance(thing, np.ndarray):
        yield from thing.astype(float).ravel().tolist()
    elif isinstance(thing, float) and math.isfinite(thing):
        yield float(thing)
    elif isinstance(thing, Enum | str | int | float | np.integer | np.bool_):
        yield str(thing)
    elif isinstance(thing, tuple | list | frozenset):
        for part in sorted(thing) if isinstance(thing, frozenset) else thing:
            yield from parts(part)
    elif isinstance(thing, Mapping):
        yield from parts(list(thing.items()))
    elif is_dataclass(thing):
        for field in fields(thing):
            yield from parts(getattr(thing, field.name))


def fingerprint(thing: object) -> Fingerprint:
    """Small numbers count as much as large ones, and the last as much as the first: none of them moves unseen."""
    found = list(parts(thing))
    words = "\0".join(part for part in found if isinstance(part, str))
    measures = np.arcsinh([1000 * part for part in found if isinstance(part, float)]).tolist()
    # Knuth's multiplicative hash of the place: weights that no order and no pattern of the results goes along with.
    weighed = math.fsum(((place * 2654435761 % 2**32) / 2**31 - 1) * one for place, one in enumerate(measures, 1))
    return len(found), zlib.crc32(words.encode()), math.hypot(*measures), weighed


def assert_unchanged(thing: object, kept: Fingerprint, *, rel: float = 1e-11) -> None:
    """A result is what it was; ``rel``: what machines may differ by."""
    many, words, length, weighed = fingerprint(thing)
    assert (many, words) == kept[:2]
    assert length == pytest.approx(kept[2], rel=rel)
    assert weighed == pytest.approx(kept[3], abs=rel * length)
