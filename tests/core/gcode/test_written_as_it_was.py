"""What is written, and what is found in a file, stays as it was: every line, every flaw with its place, every plan.

A rule that is meant to give something else gets new numbers here, in the same change.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial
from itertools import product

import pytest
from tests.core.gcode.test_check import GOOD, swap, without_feed_above, without_layers
from tests.core.gcode.test_files import BOX, LIMITS, VOLUME, job
from tests.core.gcode.test_pieces_as_drawn import MANNER, tower
from tests.fingerprints import Fingerprint, assert_unchanged

from ubrex.core.bead import Bead
from ubrex.core.calibrate import retraction_bands, speed_bands, temperature_bands
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import (
    Dialect,
    Heat,
    HeatCap,
    OwnManner,
    Volume,
    careful_manner,
    check_file,
    facts_of,
    read_gcode,
    write_gcode,
)
from ubrex.core.gcode.pieces import PadOptions, feed_test, hollow_box, line_for, nine_patches, placed, temperature_tower
from ubrex.core.materials import HeatLimit, Limit, Window

PADS = PadOptions(bore_mm=0.4, line_width_mm=0.44, layer_mm=0.2)
BLOCK = ("G28 ; home", "M190 S{bed_c}", "M109 S{nozzle_c}")
WARMER = replace(LIMITS, nozzle=HeatCap(max_c=260, why="the stated maximum"))


def files() -> Iterator[list[str]]:
    """Pieces in either dialect, with the owner's blocks and without, and with another heat for the first layer."""
    heats = (Heat(nozzle_c=210), Heat(nozzle_c=205, bed_c=55, first_nozzle_c=215, first_bed_c=60))
    pieces = (hollow_box(BOX, VOLUME, MANNER), nine_patches(PADS, VOLUME, MANNER))
    for piece, heat, relative in product(pieces, heats, (True, False)):
        dialect = Dialect(relative_feed=relative)
        yield write_gcode(job(piece, MANNER, heat=heat), limits=LIMITS, dialect=dialect).splitlines()
    own = Dialect(start=BLOCK, end=("M84",))
    yield write_gcode(job(pieces[0], MANNER), limits=LIMITS, dialect=own).splitlines()
    bands = temperature_tower(tower(230.0, 220.0, 210.0), VOLUME, MANNER)
    yield write_gcode(job(bands, MANNER), limits=WARMER, dialect=Dialect()).splitlines()
    yield write_gcode(
        job(pieces[0], MANNER, moves=feed_test(100.0), bead=None, still=True), limits=LIMITS, dialect=Dialect()
    ).splitlines()


SPOILT: tuple[Callable[[list[str]], list[str]], ...] = (
    lambda lines: lines,
    without_layers,
    lambda lines: without_feed_above(lines, 2.5),
    lambda lines: [line for line in lines if "Z2.040" not in line],
    lambda lines: [*lines[: len(lines) // 2], "G1 X11"],
    lambda lines: ["; layer count = 50\n", *lines],
    lambda lines: ["; layer count = 51\n", *lines],
    lambda lines: ["; fan full at layer = 50\n", *lines],
    lambda lines: ["; fan full at layer = 51\n", *lines],
    lambda lines: [line.replace("E-0.80000", "E-9.00000") for line in lines],
    lambda lines: [line.replace("F1800", "F6000") if "E-" in line else line for line in lines],
    lambda lines: [line.replace("F1800", "F9000") for line in lines],
    lambda lines: [line.replace("X", "X3", 1) for line in lines],
    lambda lines: ["M106 S1\n" if "M106" in line else line for line in lines],
    lambda lines: [*lines[:60], "M104 S207\n", "M106 S128\n", "M900 K0.05\n", *lines[60:]],
    lambda lines: ["M92 E93\n", "M302 P1\n", "M221 S108\n", *lines, "M0502\n"],
    swap("M104 S0", "; nothing"),
    swap("G28", "; nothing"),
    swap("M109", "M109 S255"),
    swap("M221", "M221 S150"),
    swap("M220", "M220 S400"),
)


def checks() -> Iterator[object]:
    """Good files and spoilt ones: what is wrong with them, and what they say."""
    narrow = replace(LIMITS, volume=Volume(width_mm=120, depth_mm=120, height_mm=6), retraction_mm=0.5, melt_mm3_s=2)
    for spoil, limits in product(SPOILT, (LIMITS, narrow)):
        found = read_gcode(spoil(GOOD))
        yield facts_of(found, 1000)
        yield check_file(found, limits, bore_mm=0.4, filament_mm=1.75)
        yield [found.lines, found.layers(), found.pulls, dict(found.unknown), found.first_move_at]


def plans() -> Iterator[object]:
    """Bands of towers, and how a piece is printed with what a profile has."""
    limits = (None, Limit(max_c=230, of=HeatLimit.LINER), Limit(max_c=204, of=HeatLimit.LINER))
    for low, width, bias, limit, fine in product((188, 203), (4, 22, 45), (0.0, -6.4), limits, (False, True)):
        window = Window(low=low, high=low + width)
        yield temperature_bands(window, bias_c=bias, limit=limit, coldest_c=185, fine=fine)
    yield [retraction_bands(cap, from_zero=soft) for cap, soft in product((1.5, 6.0), (True, False))]
    yield [speed_bands(cap) for cap in (25.0, 60.0)]
    owns = (OwnManner(), OwnManner(speed_mm_s=90, retraction_mm=8, retraction_speed_mm_s=90, hop_mm=2))
    for own, direct, rigid, melts in product(owns, (True, False), (True, False), (1.5, 10.0, 30.0)):
        stands = replace(LIMITS, melt_mm3_s=melts)
        bead = Bead(width_mm=0.45, height_mm=0.2)
        yield careful_manner(own, stands, bead=bead, flow=0.95, filament_mm=1.75, direct=direct, rigid=rigid)


def bounds() -> Iterator[str]:
    """Lines that a bore lays and some that it does not; pieces that a bed has room for and some that it has not."""
    tries: list[Callable[[], object]] = [
        partial(line_for, bore, bore * width, bore * height)
        for bore, width, height in product((0.4, 0.6), (0.89, 0.9, 1.1, 1.25, 1.26), (0.14, 0.15, 0.5, 0.8, 0.81))
    ]
    tries += [partial(placed, VOLUME, size, 60.0) for size in (20.0, 190.0, 219.0, 230.0)]
    for one in tries:
        try:
            yield str(one())
        except OutOfRange as refused:
            yield str(refused)


WERE: dict[str, Fingerprint] = {
    "files": (20700, 2331628683, 0.0, 0.0),
    "checks": (9138, 3141977964, 596.0617850924227, -103.52955493435965),
    "plans": (720, 4058533453, 293.31421843856566, 44.939105563355696),
    "bounds": (54, 1798446293, 0.0, 0.0),
}


@pytest.mark.parametrize("what", [files, checks, plans, bounds])
def test_what_is_made_and_found_is_as_it_was(what: Callable[[], Iterator[object]]) -> None:
    """To the last digit."""
    assert_unchanged(list(what()), WERE[what.__name__])
