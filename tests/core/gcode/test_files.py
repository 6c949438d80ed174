"""Writer, reader and pieces: what is written keeps every limit, and reads back as what was meant."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from ubrex.core.bead import Bead
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import (
    Breach,
    Dialect,
    Feed,
    Go,
    Heat,
    HeatCap,
    Job,
    MachineLimits,
    Manner,
    Push,
    RefusedFile,
    Remark,
    Volume,
    facts_of,
    printed,
    read_gcode,
    strokes_of,
    write_gcode,
)
from ubrex.core.gcode.pieces import (
    BoxOptions,
    PadOptions,
    Piece,
    TowerOptions,
    embossed,
    feed_test,
    foaming_tower,
    hollow_box,
    live_pad,
    nine_patches,
    retraction_tower,
    temperature_tower,
)

VOLUME = Volume(width_mm=220, depth_mm=220, height_mm=250)
LIMITS = MachineLimits(
    volume=VOLUME,
    nozzle=HeatCap(max_c=240, why="the limit of its liner"),
    bed=HeatCap(max_c=70, why="what the build surface stands"),
    feeds_from_c=170,
    melt_mm3_s=10,
    retraction_mm=6,
)
BOX = BoxOptions(bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2, first_layer_mm=0.24, walls="both")


def job(piece: Piece, manner: Manner, **changes: Any) -> Job:
    """A piece at 210 on 60."""
    given = Job(
        name=piece.name, moves=piece.moves, heat=Heat(nozzle_c=210, bed_c=60), manner=manner, bead=piece.bead,
        head=[("setup", "Heron, 0.4 brass\nG1 X999"), ("revision", "8")], cautions=["Hot."],
    )  # fmt: skip
    return replace(given, **changes)


@st.composite
def jobs(draw: st.DrawFn) -> tuple[Piece, Job, MachineLimits, Dialect]:
    """Every piece, on beds of many sizes, in both dialects."""
    manner = Manner(
        flow=draw(st.floats(0.3, 1.3)),
        retraction_mm=draw(st.sampled_from([0.0, 0.8, 5.5])),
        hop_mm=draw(st.sampled_from([0.0, 0.4])),
        filament_mm=draw(st.sampled_from([1.75, 2.85])),
    )
    volume = Volume(
        width_mm=draw(st.floats(180, 400)),
        depth_mm=draw(st.floats(180, 400)),
        height_mm=draw(st.floats(60, 300)),
        centred=draw(st.booleans()),
    )
    bore = draw(st.sampled_from([0.4, 0.6]))
    width, layer = bore * draw(st.floats(1.06, 1.24)), bore * draw(st.floats(0.3, 0.7))
    pads = PadOptions(bore_mm=bore, line_width_mm=width, layer_mm=layer)
    tower = TowerOptions(
        bore_mm=bore,
        line_width_mm=width,
        layer_mm=layer,
        first_layer_mm=layer,
        fan_pct=30,
        values=draw(st.sampled_from([(230.0, 225.0, 220.0), (200.0, 210.0), (240.0,)])),
    )
    piece = draw(
        st.sampled_from(["pad", "patches", "box", "temperature", "retraction", "foaming"]).map(
            lambda name: {
                "pad": lambda: live_pad(pads, volume, manner),
                "patches": lambda: nine_patches(pads, volume, manner),
                "temperature": lambda: temperature_tower(tower, volume, manner),
                "retraction": lambda: retraction_tower(replace(tower, values=(0.0, 0.8, 5.5)), volume, manner),
                "foaming": lambda: foaming_tower(tower, volume, manner),
                "box": lambda: hollow_box(
                    BoxOptions(
                        bore_mm=bore, line_width_mm=width, layer_mm=layer, first_layer_mm=layer, walls="both", height_mm=6,
                        side_mm=24, fan_pct=80,
                    ),
                    volume,
                    manner,
                ),
            }[name]()
        )
    )  # fmt: skip
    limits = replace(LIMITS, volume=volume, melt_mm3_s=40)
    hottest = max(band.value for band in piece.bands) if piece.bands and "Retraction" not in piece.name else 210
    heat = Heat(
        nozzle_c=hottest,
        bed_c=60,
        first_nozzle_c=draw(st.sampled_from([None, 190.0, 240.0])),
        first_bed_c=draw(st.sampled_from([None, 55.0, 70.0])),
    )
    return piece, job(piece, manner, heat=heat), limits, Dialect(relative_feed=draw(st.booleans()))


@settings(max_examples=25, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])
@given(jobs())
def test_every_file_keeps_its_promises(made: tuple[Piece, Job, MachineLimits, Dialect]) -> None:
    """Inside the volume, never too hot, homed first, never down again, off at the end, and read back as meant."""
    _, given_job, limits, dialect = made
    text = write_gcode(given_job, limits=limits, dialect=dialect)
    assert text == write_gcode(given_job, limits=limits, dialect=dialect)
    lines = text.splitlines(keepends=True)
    found = read_gcode(lines)
    assert not found.unknown
    assert all(limits.volume.holds(x, y, z, slack=1e-3) for x, y, z in found.places())
    for heat in found.heats:
        assert heat.celsius <= (limits.nozzle if heat.what == "nozzle" else limits.bed).max_c
    assert found.homed_at is not None
    assert found.first_move_at is not None
    assert found.homed_at < found.first_move_at
    assert found.nozzle[found.feed != 0].min() >= limits.feeds_from_c
    laid = found.extruding
    said = facts_of(found, limits.acceleration_mm_s2)
    first = given_job.heat.first
    assert (said.nozzle_first_c, said.bed_first_c) == (first.nozzle_c, first.bed_c)
    rest = given_job.heat
    assert (said.nozzle_c, said.bed_c) == ((None, None) if said.layers == 1 else (rest.nozzle_c, rest.bed_c))
    assert (np.diff(found.z[laid].astype(float)) >= -1e-6).all()
    last = found.line[np.flatnonzero(laid)[-1]]
    off = [heat.line for heat in found.heats if heat.celsius == 0]
    assert len(off) == 2
    assert min(off) > last
    assert found.fans[-1].percent == 0
    assert found.ends_off
    pulls = [move.feed_mm for move in given_job.moves if isinstance(move, Push)]
    assert math.fsum(pulls) == pytest.approx(0, abs=1e-9)
    meant = [move for move, _ in printed(given_job.moves)]
    assert laid.sum() == len(meant) + 1
    assert found.feed[laid][1:].sum() == pytest.approx(sum(move.feed_mm for move in meant), rel=1e-3)
    assert np.allclose(found.x[laid][1:], [move.x for move in meant], atol=1e-3)


@settings(max_examples=15)
@given(flow=st.floats(0.3, 1.3), width=st.floats(0.42, 0.5), lines=st.sampled_from(["one", "two"]))
def test_what_is_pushed_is_the_volume_of_the_lines(flow: float, width: float, lines: Any) -> None:
    """Filament times its area = length of line times the bead's area times the flow, to 0.1 %."""
    manner = Manner(flow=flow)
    options = replace(BOX, line_width_mm=width, walls=lines, first_layer_mm=0.2)
    piece = hollow_box(options, VOLUME, manner)
    volume = piece.filament_mm * math.pi / 4 * 1.75**2
    length = sum(length for _, length in printed(piece.moves))
    assert volume == pytest.approx(flow * length * Bead(width_mm=width, height_mm=0.2).area_mm2, rel=1e-3)


@pytest.mark.parametrize(
    ("change", "limit", "breach"),
    [
        ({"heat": Heat(nozzle_c=241, bed_c=60)}, {}, Breach.NOZZLE_HEAT),
        ({"heat": Heat(nozzle_c=210, bed_c=71)}, {}, Breach.BED_HEAT),
        ({"heat": Heat(nozzle_c=160, bed_c=60)}, {}, Breach.COLD),
        ({}, {"melt_mm3_s": 1.0}, Breach.MELT_RATE),
        ({}, {"speed_mm_s": 100.0}, Breach.SPEED),
        ({}, {"retraction_mm": 0.5}, Breach.RETRACTION),
        ({}, {"volume": replace(VOLUME, height_mm=5)}, Breach.VOLUME),
        ({}, {"safe": False}, Breach.NOT_SAFE),
    ],
)
def test_a_file_beyond_a_limit_is_not_written(change: Any, limit: Any, breach: Breach) -> None:
    """Each limit by itself, and it is named."""
    manner = Manner()
    given_job = job(hollow_box(BOX, VOLUME, manner), manner, **change)
    with pytest.raises(RefusedFile) as refused:
        write_gcode(given_job, limits=replace(LIMITS, **limit), dialect=Dialect())
    assert refused.value.breach is breach


@pytest.mark.parametrize(
    ("block", "breach"),
    [
        (("G1 X900 F600",), Breach.BLOCK),
        (("G91", "G1 Z-5"), Breach.BLOCK),
        (("G1 X900 F600 X5",), Breach.BLOCK),
        (("n3 g1 z-5z5",), Breach.BLOCK),
        (("M104 S300",), Breach.NOZZLE_HEAT),
        (("M190 S{nozzle_c}",), Breach.BED_HEAT),
        (("M104 S{tempratur}",), Breach.BLOCK),
        (("G1 X5\x1b[2J",), Breach.BLOCK),
        (("M303 E0 S300",), Breach.BLOCK),
        (("n5 m0303 s300 (tune)",), Breach.BLOCK),
        (("M92 E900",), Breach.BLOCK),
        (("M851 Z-3",), Breach.BLOCK),
        (("M302 P1",), Breach.BLOCK),
        (("G1 Z5 F600", "G92 Z0.1"), Breach.BLOCK),
        (("M211 S0",), Breach.BLOCK),
        (("N5M104S300",), Breach.NOZZLE_HEAT),
        (("M0104 S300",), Breach.NOZZLE_HEAT),
        (("M104 S300 (S200)",), Breach.NOZZLE_HEAT),
        (("M109 R300 S200",), Breach.NOZZLE_HEAT),
        (("M104 S300 S200",), Breach.NOZZLE_HEAT),
        (("M104 S3e2",), Breach.BLOCK),
        (("M109 S0x12C",), Breach.BLOCK),
        (("M140 S1..2",), Breach.BLOCK),
        (("G28 M104 S300",), Breach.BLOCK),
        (("G28M104S300",), Breach.BLOCK),
    ],
)
def test_an_owners_block_is_held_to_the_same_limits(block: tuple[str, ...], breach: Breach) -> None:
    """A start block that leaves the volume or heats too far; a good one stands in the file with its numbers filled in."""
    manner = Manner()
    given_job = job(hollow_box(BOX, VOLUME, manner), manner)
    with pytest.raises(RefusedFile) as refused:
        write_gcode(given_job, limits=LIMITS, dialect=Dialect(start=block))
    assert refused.value.breach is breach
    text = write_gcode(
        given_job,
        limits=LIMITS,
        dialect=Dialect(start=("G1 Z5 F600", "M117 G1 M2", "N4 m140s55*71", "M104 T0 S{nozzle_c}")),
    )
    assert "M104 T0 S210\n" in text


def test_what_an_owners_block_leaves_behind_does_not_reach_the_piece() -> None:
    """Shares of speed and flow are put back after it; an end block that heats would leave it hot."""
    manner = Manner()
    given_job = job(hollow_box(BOX, VOLUME, manner), manner)
    plain = read_gcode(write_gcode(given_job, limits=LIMITS, dialect=Dialect()).splitlines(keepends=True))
    driven = Dialect(start=("M220 S300", "M221 S180", "G91", "G20"))
    found = read_gcode(write_gcode(given_job, limits=LIMITS, dialect=driven).splitlines(keepends=True))
    assert (found.fed_pct, found.speed.max(), found.feed.sum()) == (100, plain.speed.max(), plain.feed.sum())
    assert found.override_pct == 100, "no move was driven at it"
    with pytest.raises(RefusedFile, match="left hot"):
        write_gcode(given_job, limits=LIMITS, dialect=Dialect(end=("M104 S180",)))


def test_the_head_of_a_file_stays_in_its_remarks() -> None:
    """A name with a line break in it moves nothing."""
    manner = Manner()
    text = write_gcode(job(hollow_box(BOX, VOLUME, manner), manner), limits=LIMITS, dialect=Dialect())
    assert "; setup: Heron, 0.4 brass G1 X999\n" in text
    assert "\nG1 X999" not in text


def test_a_feed_test_only_feeds() -> None:
    """100 mm, once, and nothing moves but filament."""
    given_job = Job(
        name="Feed test", moves=feed_test(100), heat=Heat(nozzle_c=190), manner=Manner(), still=True,
    )  # fmt: skip
    found = read_gcode(write_gcode(given_job, limits=LIMITS, dialect=Dialect()).splitlines(keepends=True))
    assert found.feed.sum() == pytest.approx(100)
    assert (found.homed_at, found.first_move_at) == (None, None)
    assert found.ends_off


def test_a_box_has_places_on_every_wall_and_its_walls_can_be_told_apart() -> None:
    """Mid-span of the four walls first; one to four notches; two boxes where both are asked for."""
    piece = hollow_box(BOX, VOLUME, Manner())
    names = [place.name for place in piece.plan.places if place.group == "one line"]
    assert names[:4] == ["A1", "B1", "C1", "D1"]
    assert len(names) == 12
    assert {place.group for place in piece.plan.places} == {"one line", "two lines"}
    corners = [len(outline.points) for outline in piece.plan.outlines if outline.bold]
    assert corners == [6 + 3 * (1 + 2 + 3 + 4)] * 2
    assert piece.spacing_mm == pytest.approx(piece.bead.solid_mm)
    assert 0.5 < piece.grams(1.75, 1.24) < 20
    assert 1 < piece.minutes(1000) < 60
    with pytest.raises(OutOfRange, match="lays lines"):
        hollow_box(replace(BOX, line_width_mm=0.6), VOLUME, Manner())
    with pytest.raises(OutOfRange, match="the bed has"):
        hollow_box(BOX, replace(VOLUME, width_mm=60), Manner())


def test_numbers_are_drawn_inside_their_height() -> None:
    """Every stroke within the box of its sign."""
    for stroke in strokes_of("1234567890.-", 10, 20, 6):
        assert all(9.99 <= x <= 10 + 12 * 6 and 19.99 <= y <= 26.01 for x, y in stroke)


def moves_of(*lines: str) -> list[tuple[float, ...]]:
    """Places and filament of what was read."""
    found = read_gcode(line + "\n" for line in lines)
    return [tuple(round(float(v), 3) for v in row) for row in zip(found.x, found.y, found.z, found.feed, strict=True)]


@pytest.mark.parametrize(
    ("lines", "expected"),
    [
        (["G1 X10 Y5 E2", "G1 X20 E3"], [(10, 5, 0, 2), (20, 5, 0, 1)]),
        (["M83", "G1 X10 E2", "G1 X20 E3"], [(10, 0, 0, 2), (20, 0, 0, 3)]),
        (["G91", "G1 X10 E1", "G1 X10 E1"], [(10, 0, 0, 1), (20, 0, 0, 1)]),
        (["G20", "G1 X1", "G21", "G1 X1"], [(25.4, 0, 0, 0), (1, 0, 0, 0)]),
        (["M83", "G20", "G1 X1 E1", "G21", "G1 X1 E1"], [(25.4, 0, 0, 25.4), (1, 0, 0, 1)]),
        (["N7 G1 X3 Y4*85"], [(3, 4, 0, 0)]),
        (["g1 x3 y4\r"], [(3, 4, 0, 0)]),
        (["G1X3Y4E1"], [(3, 4, 0, 1)]),
        (["G92 X5 E7", "G1 X6 E8"], [(6, 0, 0, 1)]),
        (["G1 X1 ; go there", "; G1 X9", "", "(note)"], [(1, 0, 0, 0)]),
        (["G0 F3000"], []),
    ],
)
def test_modes_units_and_remarks_are_understood(lines: list[str], expected: list[tuple[float, ...]]) -> None:
    """Absolute, relative, inches, numbered lines with checksums, small letters, Windows ends, no spaces."""
    assert moves_of(*lines) == expected


@pytest.mark.parametrize("arc", ["G2 X10 Y0 I5 J0 E4", "G3 X10 Y0 I5 J0 E4", "G2 X10 Y0 R5 E4"])
def test_an_arc_is_as_long_as_its_half_circle(arc: str) -> None:
    """Chords add up to the arc within a per cent, end where it ends, and share its filament."""
    found = read_gcode(["G1 X0 Y0\n", arc + "\n"])
    assert found.lengths[1:].sum() == pytest.approx(math.pi * 5, rel=0.01)
    assert (float(found.x[-1]), float(found.y[-1])) == pytest.approx((10, 0), abs=1e-4)
    assert found.feed.sum() == pytest.approx(4, rel=1e-5)
    up = found.y[1:-1].mean() > 0
    assert up == arc.startswith("G2")


def test_settings_heat_fans_and_what_is_not_known_are_kept() -> None:
    """Remarks of the form name = value or name: value; commands nobody knows are counted; a cut-off end is said."""
    found = read_gcode(
        ["; wall width = 0.45\n", "; first layer: 0.24 mm\n", "; just talk\n", "M104 S215\n", "G1 Z0.2\n", "M106 S127.5\n",
         "M999 P3\n", "M999\n", "M92 E410.5\n", "G1 X1 Y"]
    )  # fmt: skip
    assert found.settings == {"wall width": "0.45", "first layer": "0.24 mm"}
    assert [(heat.what, heat.celsius, heat.line) for heat in found.heats] == [("nozzle", 215.0, 4)]
    assert found.fans[0].percent == pytest.approx(50)
    assert found.unknown["M999"] == 2
    assert [(act.name, act.number, act.line) for act in found.acts] == [("M92", 410.5, 9)]
    assert found.cut_off
    assert not found.ends_off


@given(st.lists(st.text(max_size=40), max_size=30))
def test_no_text_stops_the_reader(lines: list[str]) -> None:
    """Whatever is dropped on the page: it is read to its end."""
    assert read_gcode(lines).lines == len(lines)


@st.composite
def printed_lines(draw: st.DrawFn) -> list[str]:
    """Long stretches of lines laid down, among travels, pulls, odd words and other modes; Windows ends or not."""
    lines = ["G28\n", draw(st.sampled_from(["M82\n", "M83\n"])), "G1 X1 Y1 Z0.2 F3000\n"]
    breaks = [
        "G1 X5 Y6 F7200\n",
        "G1 E-1.5\n",
        "G1 X9 Y9 E-0.2\n",
        "G0 Z0.6 F600\n",
        "G1 F1800\n",
        "G1 F1200 Y.5 X-4. E1\n",
        "G1 X1 X2\n",
        "G1 X 4\n",
        "G1 X- Y3\n",
        "G1 X1..2 Y3 E0.1\n",
        "G92 E0\n",
        "G91\n",
        "G90\n",
        "G20\n",
    ]
    fed = 0.0
    for _ in range(draw(st.integers(1, 6))):
        height = draw(st.sampled_from(["", " Z0.4"]))
        end = draw(st.sampled_from(["\n", "\r\n"]))
        for step in range(draw(st.integers(1, 40))):
            fed += 0.05
            lines.append(f"G1 X{step}.5 Y{draw(st.integers(-9, 99))}{height} E{fed:.3f}{end}")
        lines.append(draw(st.sampled_from(breaks)))
    return lines


@given(printed_lines())
def test_lines_read_together_say_what_they_say_one_by_one(lines: list[str]) -> None:
    """A remark behind each makes the reader take them singly."""
    together = read_gcode(lines)
    singly = read_gcode(line.rstrip() + " ; on its own\n" for line in lines)
    for column in ("line", "x", "y", "z", "feed", "speed", "known"):
        np.testing.assert_allclose(getattr(together, column), getattr(singly, column), atol=1e-5, err_msg=column)
    pulls = (together.longest_retraction_mm, together.taken_back)
    assert pulls == pytest.approx((singly.longest_retraction_mm, singly.taken_back))
    assert (together.unknown, together.lines) == (singly.unknown, singly.lines)


def test_time_is_that_of_a_trapezoid() -> None:
    """100 mm at 50 mm/s and 1000 mm/s²: 2 s of way and 0.05 s of ramps; a move too short to get there is a triangle."""
    found = read_gcode(["G1 X0 F3000\n", "G1 X100\n"])
    assert found.seconds(1000) == pytest.approx(2.05, abs=0.01)
    short = read_gcode(["G1 X0 F3000\n", "G1 X1\n"])
    assert short.seconds(1000) == pytest.approx(2 * math.sqrt(1 / 1000), abs=0.01)


def test_layers_are_the_heights_at_which_it_prints() -> None:
    """Hops are not layers."""
    piece = hollow_box(replace(BOX, walls="one"), VOLUME, Manner(hop_mm=0.4))
    found = read_gcode(write_gcode(job(piece, Manner()), limits=LIMITS, dialect=Dialect()).splitlines(keepends=True))
    heights = [z for z, _, _ in found.layers()]
    assert heights == sorted(heights)
    assert heights[0] == pytest.approx(0.2, abs=0.05)
    assert heights[-1] == pytest.approx(piece.plan.height_mm, abs=1e-3)
    assert any(isinstance(move, Go) and move.why is Feed.PRINT for move in piece.moves)


TOWER = TowerOptions(
    bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2, first_layer_mm=0.2, values=(240.0, 230.0, 220.0, 210.0), fan_pct=30
)


@pytest.mark.parametrize("make", [temperature_tower, foaming_tower])
def test_each_band_is_printed_at_its_own_heat(make: Any) -> None:
    """Between its borders nothing is laid down at the heat of another band; a big step has not settled at once."""
    piece = make(TOWER, VOLUME, Manner())
    text = write_gcode(job(piece, Manner(), heat=Heat(nozzle_c=240, bed_c=60)), limits=LIMITS, dialect=Dialect())
    found = read_gcode(text.splitlines(keepends=True))
    assert [band.value for band in piece.bands] == list(TOWER.values)
    for band in piece.bands:
        rows = found.extruding & (found.z > band.from_mm + 0.01) & (found.z <= band.to_mm + 0.01)
        assert rows.sum() > 50
        assert set(found.nozzle[rows].tolist()) == {band.value}
    assert piece.bands[0].settled_mm == piece.bands[0].from_mm
    assert piece.bands[1].from_mm < piece.bands[1].settled_mm < piece.bands[1].to_mm, "10 °C take longer than the wait"
    gentle = make(replace(TOWER, values=(240.0, 235.0)), VOLUME, Manner())
    assert gentle.bands[1].settled_mm == gentle.bands[1].from_mm, "5 °C do not"


def test_each_band_of_a_retraction_tower_pulls_its_own_distance() -> None:
    """What is pulled back in a band is what stands on its wall."""
    piece = retraction_tower(replace(TOWER, values=(0.4, 0.8, 1.2)), VOLUME, Manner(retraction_mm=3.0))
    band = -1
    pulled: dict[int, set[float]] = {}
    for move in piece.moves:
        if isinstance(move, Remark):
            band += 1
        elif isinstance(move, Push) and move.feed_mm < 0 and band >= 0:
            pulled.setdefault(band, set()).add(-move.feed_mm)
    assert pulled == {0: {0.4}, 1: {0.8}, 2: {1.2}}


def test_signs_that_stand_out_of_a_wall_can_be_told_apart() -> None:
    """Seen from the front, every figure has a shape of its own, as high as a wall band allows."""
    heights = [0.6 + 0.2 * step for step in range(22)]
    shapes = {sign: tuple(tuple(embossed(sign, height)) for height in heights) for sign in "0123456789"}
    assert len(set(shapes.values())) == 10
    assert all(any(spans for spans in shape) for shape in shapes.values())
    three = embossed("205", 2.6)
    assert len(three) >= 3
    assert max(end for _, end in three) <= 14, "three figures fit on the post"


@pytest.mark.parametrize("values", [(), (210.0,) * 21, (210.0,) * 20])
def test_a_tower_that_does_not_fit_is_refused(values: tuple[float, ...]) -> None:
    """No band, too many, or taller than the machine."""
    low = replace(VOLUME, height_mm=100)
    with pytest.raises(OutOfRange):
        temperature_tower(replace(TOWER, values=values), low, Manner())


@given(
    wide=st.floats(100, 400), deep=st.floats(100, 400), high=st.floats(100, 400),
    x=st.floats(-500, 500), y=st.floats(-500, 500), z=st.floats(-50, 500), slack=st.floats(0, 1),
)  # fmt: skip
def test_a_place_is_inside_wherever_the_origin_lies(
    wide: float, deep: float, high: float, x: float, y: float, z: float, slack: float
) -> None:
    """Half a bed to the side of a corner is where the middle is; outside is what is beyond any of the six faces."""
    corner = Volume(width_mm=wide, depth_mm=deep, height_mm=high)
    middle = Volume(width_mm=wide, depth_mm=deep, height_mm=high, centred=True)
    left, right, front, back, low, high_end = middle.reach(slack)
    near = min(abs(edge) for edge in (x - left, x - right, y - front, y - back, z - low, z - high_end))
    assume(near > 1e-9)
    inside = left < x < right and front < y < back and low < z < high_end
    assert middle.holds(x, y, z, slack) is inside
    assert corner.holds(x + wide / 2, y + deep / 2, z, slack) is inside


def test_a_tower_from_the_front_is_what_its_lines_build() -> None:
    """Two posts on a foot, each one part; overhangs step out band by band; no line lies outside, and nothing overlaps."""
    values = (0.2, 1.4, 2.6, 3.8)
    options = TowerOptions(bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2, first_layer_mm=0.24, values=values)
    posts = retraction_tower(options, VOLUME, Manner()).front
    foot = [part for part in posts if part.bottom == 0.0]
    assert len(foot) == 1
    standing = [part for part in posts if part.top - part.bottom > 10]
    assert [round(part.right - part.left, 1) for part in standing] == [14.4, 14.4]
    assert round(standing[1].left - standing[0].right, 1) == 29.6

    degrees = replace(options, values=(220.0, 215.0, 210.0))
    tower = temperature_tower(degrees, VOLUME, Manner())
    parts = tower.front
    assert max(part.top for part in parts) == tower.plan.height_mm
    reach = {part.top: part.left for part in reversed(parts)}
    assert len(set(reach.values())) > 20
    left = min(move.x for move, _ in printed(tower.moves)) - tower.bead.width_mm / 2
    for move, _ in printed(tower.moves):
        x, z = move.x - left, move.z - 0.01
        at = [one for one in parts if one.left - 0.1 <= x <= one.right + 0.1 and one.bottom <= z <= one.top]
        assert len(at) == 1, (x, z)
