"""Pieces stay as they were drawn: whoever measured one last year measures the same one today.

A piece that is meant to change gets new numbers here, in the same change.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest
from tests.fingerprints import Fingerprint, assert_unchanged

from ubrex.core.gcode import Manner, Volume
from ubrex.core.gcode.pieces import (
    BoxOptions,
    LadderOptions,
    PadOptions,
    Piece,
    SizeOptions,
    SupportOptions,
    TowerOptions,
    box_bodies,
    cooling_tower,
    detour_tower,
    feed_ladder,
    feed_test,
    fit_bodies,
    fit_piece,
    foaming_tower,
    hollow_box,
    hop_tower,
    live_pad,
    nine_patches,
    pressure_tower,
    retraction_tower,
    seam_tower,
    size_piece,
    support_piece,
    temperature_tower,
)

VOLUME = Volume(width_mm=220, depth_mm=210, height_mm=250)
SMALL = Volume(width_mm=100, depth_mm=90, height_mm=100)
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


GAPS = LadderOptions(**LINE, first_layer_mm=0.24, peg_mm=6.0, gaps_mm=(0.1, 0.15, 0.2, 0.3, 0.4))
BAYS = SupportOptions(**LINE, first_layer_mm=0.24, layers=(1, 2, 3))

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
    "pad on a small bed": lambda: live_pad(PadOptions(**LINE), SMALL, MANNER),
    "pad on a tiny bed": lambda: live_pad(PadOptions(**LINE), replace(SMALL, width_mm=56, depth_mm=52), MANNER),
    "fits": lambda: fit_piece(GAPS, VOLUME, MANNER),
    "fits without a peg": lambda: fit_piece(replace(GAPS, own_peg=False), VOLUME, MANNER),
    "supports": lambda: support_piece(BAYS, VOLUME, MANNER),
    "hops": lambda: hop_tower(tower(0.2, 0.6), VOLUME, MANNER),
    "seams": lambda: seam_tower(tower(0.1, -0.1), VOLUME, MANNER),
    "cooling": lambda: cooling_tower(tower(6.0, 12.0), VOLUME, MANNER),
    "detours": lambda: detour_tower(tower(10.0, 80.0), VOLUME, MANNER),
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
    "pad on a small bed": (1530, 172695.80020542748, 131048650.07164986),
    "pad on a tiny bed": (990, 105192.91964905389, 50711752.68021042),
    "fits": (148256, 20432070.678393457, 1514625299271.954),
    "fits without a peg": (123371, 17050384.324621014, 1051630227021.098),
    "supports": (19175, 2819896.64162501, 26769370941.014675),
    "hops": (12234, 1772653.1320802837, 10849882842.729692),
    "seams": (57856, 7836892.131304695, 227037238086.75772),
    "cooling": (7489, 1059335.0152249811, 3955456663.322754),
    "detours": (9950, 1487176.0488188853, 7432349827.098237),
}


@pytest.mark.parametrize("name", PIECES)
def test_a_piece_is_as_it_was_drawn(name: str) -> None:
    """Every line, band, place and outline."""
    assert_unchanged(PIECES[name](), DRAWN[name])


OTHERS: dict[str, Callable[[], object]] = {
    "body of a box": lambda: box_bodies(BOX),
    "bodies of a fit ladder": lambda: fit_bodies(GAPS),
    "feed of 100 mm": lambda: feed_test(100.0),
    "feed of a melt ladder": lambda: feed_ladder((2.0, 6.0, 11.0), 400.0, 1.75),
}

MADE: dict[str, Fingerprint] = {
    "body of a box": (121, 1822.1599999999999, 105718.62),
    "bodies of a fit ladder": (2378, 44531.46666666667, 60706447.13859136),
    "feed of 100 mm": (5, 4597.5, 2026.5),
    "feed of a melt ladder": (19, 14307.801307765605, 132113.76033535445),
}


@pytest.mark.parametrize("name", OTHERS)
def test_what_goes_along_is_as_it_was_made(name: str) -> None:
    """Bodies for another program, and what is fed into the air."""
    assert_unchanged(OTHERS[name](), MADE[name])
