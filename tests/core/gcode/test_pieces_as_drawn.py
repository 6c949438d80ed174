"""Pieces stay as they were drawn: whoever measured one last year measures the same one today.

A piece that is meant to change gets new numbers here, in the same change.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import fields, is_dataclass
from enum import Enum
from typing import Any

import numpy as np
import pytest

from ubrex.core.gcode import Manner, Volume
from ubrex.core.gcode.pieces import (
    BoxOptions,
    PadOptions,
    Piece,
    TowerOptions,
    box_bodies,
    foaming_tower,
    hollow_box,
    live_pad,
    nine_patches,
    retraction_tower,
    temperature_tower,
)

VOLUME = Volume(width_mm=220, depth_mm=210, height_mm=250)
MANNER = Manner(
    filament_mm=1.75, flow=0.95, speed_mm_s=30, first_speed_mm_s=20, travel_mm_s=120, retraction_mm=4,
    retraction_speed_mm_s=30, hop_mm=0.2,
)  # fmt: skip
LINE: dict[str, Any] = {"bore_mm": 0.4, "line_width_mm": 0.44, "layer_mm": 0.2}
BOX = BoxOptions(**LINE, first_layer_mm=0.24)
BOTH = BoxOptions(**LINE, first_layer_mm=0.24, walls="both")


def tower(*values: float) -> TowerOptions:
    """A tower of these bands."""
    return TowerOptions(**LINE, first_layer_mm=0.24, values=values, fan_pct=60.0)


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


def fingerprint(thing: object) -> tuple[int, float, float]:
    """How many numbers, their sum, and their sum weighed by where they stand: nothing moves without moving one of them."""
    found = list(numbers(thing))
    return len(found), math.fsum(found), math.fsum(place * number for place, number in enumerate(found))


PIECES: dict[str, Callable[[], Piece]] = {
    "pad": lambda: live_pad(PadOptions(**LINE), VOLUME, MANNER),
    "patches": lambda: nine_patches(PadOptions(**LINE), VOLUME, MANNER),
    "box": lambda: hollow_box(BOX, VOLUME, MANNER),
    "boxes": lambda: hollow_box(BOTH, VOLUME, MANNER),
    "temperature": lambda: temperature_tower(tower(230.0, 220.0, 210.0), VOLUME, MANNER),
    "retraction": lambda: retraction_tower(tower(0.2, 2.0, 4.0), VOLUME, MANNER),
    "speed": lambda: retraction_tower(tower(20.0, 40.0), VOLUME, MANNER, of_speed=True),
    "foaming": lambda: foaming_tower(tower(230.0, 220.0, 210.0), VOLUME, MANNER),
}

DRAWN: dict[str, tuple[int, float, float]] = {
    "pad": (1530, 203494.2163060315, 154849795.22081316),
    "patches": (5887, 792933.5067422657, 2412715506.718599),
    "box": (4149, 602238.3074259753, 1273631181.9285645),
    "boxes": (10685, 1541880.69170676, 8377158514.652438),
    "temperature": (42236, 6224172.931578034, 132932394005.7552),
    "retraction": (22786, 3235793.75117865, 36841688310.400444),
    "speed": (15491, 2195748.1980543663, 16953392522.938694),
    "foaming": (18852, 2894381.040541212, 27461469153.05315),
}


@pytest.mark.parametrize("name", PIECES)
def test_a_piece_is_as_it_was_drawn(name: str) -> None:
    """Every line, band, place and outline."""
    count, plain, weighed = fingerprint(PIECES[name]())
    assert (count, plain, weighed) == pytest.approx(DRAWN[name], rel=1e-9)


def test_the_body_of_a_box_is_as_it_was_drawn() -> None:
    """What goes along as a body for another program."""
    assert fingerprint(box_bodies(BOX)) == pytest.approx(BODY, rel=1e-9)


BODY: tuple[int, float, float] = (121, 1822.1599999999999, 105718.62)
