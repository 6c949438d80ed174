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
    "pad": (1530, 376203271, 311.0026884538803, -12.905223287713042),
    "patches": (5887, 1741577835, 599.5471838188778, -13.344041984692996),
    "box": (4149, 3592195805, 513.5193242032848, 1.6360961734844328),
    "boxes": (10685, 57063664, 831.8380456210089, -55.59650751693614),
    "pressure": (13165, 1810468147, 947.2917543690668, -131.3098232318226),
    "sizes": (15951, 3063072665, 999.3716251076764, -61.80675283523437),
    "temperature": (42236, 2358487931, 1680.8220064660788, -88.02182684266681),
    "retraction": (22786, 4069303587, 1236.7682112899217, 140.94445099499828),
    "speed": (15491, 2167115174, 1017.861320710955, -106.0223027019367),
    "foaming": (18852, 2212461063, 1082.2480913303548, -135.3908048442475),
    "pad on a small bed": (1530, 376203271, 289.855237916244, -13.896534950952248),
    "pad on a tiny bed": (990, 3383263555, 223.64888867694165, -41.86833652268001),
    "fits": (148256, 574099967, 3084.604082927815, -30.71218940523694),
    "fits without a peg": (123371, 1536248732, 2817.5508184998007, -11.059555276110995),
    "supports": (19175, 1720674642, 1091.6305361923728, -93.39527991677762),
    "hops": (12234, 386049859, 888.1863213864232, -26.804016262333853),
    "seams": (57856, 2117452633, 1955.401415923832, -57.420281571197464),
    "cooling": (7489, 664995717, 751.9761620149559, -49.30979052769315),
    "detours": (9950, 563961360, 788.5748369416619, -1.7109590247070894),
}


@pytest.mark.parametrize("name", PIECES)
def test_a_piece_is_as_it_was_drawn(name: str) -> None:
    """Every line, band, place and outline."""
    assert_unchanged(PIECES[name](), DRAWN[name])


TIMED = ("pad", "boxes", "retraction", "supports", "hops", "detours")
TOOK: Fingerprint = (12, 0, 35.09664537763847, 4.079811244588955)


def test_a_piece_takes_as_long_as_it_took() -> None:
    """Slow machines and quick ones; up, along, round corners and back."""
    took = [PIECES[name]().minutes(speed_up) for name in sorted(TIMED) for speed_up in (300.0, 5000.0)]
    assert_unchanged(took, TOOK)


OTHERS: dict[str, Callable[[], object]] = {
    "body of a box": lambda: box_bodies(BOX),
    "bodies of a fit ladder": lambda: fit_bodies(GAPS),
    "feed of 100 mm": lambda: feed_test(100.0),
    "feed of a melt ladder": lambda: feed_ladder((2.0, 6.0, 11.0), 400.0, 1.75),
}

MADE: dict[str, Fingerprint] = {
    "body of a box": (121, 0, 104.27094107825778, 65.87559750398577),
    "bodies of a fit ladder": (2378, 0, 497.0633199779928, -19.740745896891138),
    "feed of 100 mm": (5, 16684878, 18.27939642761826, 1.824237417544576),
    "feed of a melt ladder": (19, 2358027009, 33.96477413774262, -4.351692910766925),
}


@pytest.mark.parametrize("name", OTHERS)
def test_what_goes_along_is_as_it_was_made(name: str) -> None:
    """Bodies for another program, and what is fed into the air."""
    assert_unchanged(OTHERS[name](), MADE[name])
