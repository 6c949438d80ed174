"""Pieces stay as they were drawn: whoever measured one last year measures the same one today.

A piece that is meant to change gets new numbers here, in the same change.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from tests.fingerprints import Fingerprint, assert_unchanged

from ubrex.core.gcode import Manner, Volume
from ubrex.core.gcode.pieces import (
    BoxOptions,
    PadOptions,
    Piece,
    SizeOptions,
    TowerOptions,
    box_bodies,
    foaming_tower,
    hollow_box,
    live_pad,
    nine_patches,
    pressure_tower,
    retraction_tower,
    size_piece,
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


PIECES: dict[str, Callable[[], Piece]] = {
    "pad": lambda: live_pad(PadOptions(**LINE), VOLUME, MANNER),
    "patches": lambda: nine_patches(PadOptions(**LINE), VOLUME, MANNER),
    "box": lambda: hollow_box(BOX, VOLUME, MANNER),
    "boxes": lambda: hollow_box(BOTH, VOLUME, MANNER),
    "sizes": lambda: size_piece(SizeOptions(**LINE, first_layer_mm=0.24, axis="y"), VOLUME, MANNER),
    "temperature": lambda: temperature_tower(tower(230.0, 220.0, 210.0), VOLUME, MANNER),
    "retraction": lambda: retraction_tower(tower(0.2, 2.0, 4.0), VOLUME, MANNER),
    "speed": lambda: retraction_tower(tower(20.0, 40.0), VOLUME, MANNER, of_speed=True),
    "pressure": lambda: pressure_tower(tower(0.0, 0.05, 0.1), VOLUME, MANNER, slow_mm_s=10.0),
    "foaming": lambda: foaming_tower(tower(230.0, 220.0, 210.0), VOLUME, MANNER),
}

DRAWN: dict[str, Fingerprint] = {
    "pad": (1530, 203494.2163060315, 154849795.22081316),
    "patches": (5887, 792933.5067422657, 2412715506.718599),
    "box": (4149, 602238.3074259753, 1273631181.9285645),
    "boxes": (10685, 1541880.69170676, 8377158514.652438),
    "pressure": (13165, 1825337.9013914168, 11976161208.950974),
    "sizes": (15951, 2432967.3464655615, 19393267002.199337),
    "temperature": (42236, 6224172.931578034, 132932394005.7552),
    "retraction": (22786, 3235793.75117865, 36841688310.400444),
    "speed": (15491, 2195748.1980543663, 16953392522.938694),
    "foaming": (18852, 2894381.040541212, 27461469153.05315),
}


@pytest.mark.parametrize("name", PIECES)
def test_a_piece_is_as_it_was_drawn(name: str) -> None:
    """Every line, band, place and outline."""
    assert_unchanged(PIECES[name](), DRAWN[name])


def test_the_body_of_a_box_is_as_it_was_drawn() -> None:
    """What goes along as a body for another program."""
    assert_unchanged(box_bodies(BOX), BODY)


BODY: Fingerprint = (121, 1822.1599999999999, 105718.62)
