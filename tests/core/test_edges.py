"""Edges that neither the vectors nor the pins reach: where a rule turns, and what stands when there is nothing."""

from __future__ import annotations

import math
import statistics

import numpy as np
import pytest

from tests.core.gcode.test_check import GOOD, flaws
from tests.core.gcode.test_files import LIMITS, job
from ubrex.core.bead import Bead, Layers, time_with_s
from ubrex.core.calibrate import (
    Datasheet,
    EStepsMethod,
    EStepsSample,
    FoamSample,
    WallSample,
    evaluate_flow,
    evaluate_foaming,
    expected_reading,
    temperature_bands,
)
from ubrex.core.calibrate._esteps import mass_per_mm
from ubrex.core.calibrate._flow import half_width_of_width
from ubrex.core.calibrate._rating import contradicting
from ubrex.core.calibrate._reprint import flow_of_two_prints
from ubrex.core.calibrate._walls import flagged_readings
from ubrex.core.chain import Since
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import Dialect, Flaw, Go, Manner, Volume, read_gcode, write_gcode
from ubrex.core.gcode.pieces import BoxOptions, PadOptions, TowerOptions, hollow_box, nine_patches, temperature_tower
from ubrex.core.gcode.pieces._piece import layer_heights
from ubrex.core.materials import HeatLimit, Limit, Window, foams
from ubrex.core.quantity import Component, Tool, Unit, parse_entry, student_quantile

SHARP = Tool(resolution=1e-6, max_permissible_error=0.0)
LINE = Bead(width_mm=0.45, height_mm=0.2)
MANNER = Manner(retraction_mm=0.8, hop_mm=0.2)


def test_what_a_reading_should_be_by_each_method() -> None:
    """Cut: what was commanded; marked: what is left to the mark; weighed: its mass, from density and diameter."""
    marked = EStepsSample(method=EStepsMethod.MARKED, commanded_mm=100, readings=(20.0,), tool=SHARP, mark_at_mm=120.0)
    assert expected_reading(marked) == 20
    strand = Datasheet(density_g_cm3=1.24, density_half_width_g_cm3=0.02, diameter_mm=1.75, diameter_std_mm=0.01)
    assert mass_per_mm(strand) == pytest.approx(1.24e-3 * math.pi / 4 * 1.75**2)
    weighed = EStepsSample(method=EStepsMethod.WEIGHED, commanded_mm=100, readings=(0.3,), tool=SHARP, strand=strand)
    assert expected_reading(weighed) == pytest.approx(0.29826, abs=1e-4)


@pytest.mark.parametrize(
    ("text", "unit", "number"),
    [
        ("212 F", Unit.CELSIUS, 100.0), ("32°F", Unit.CELSIUS, 0.0), ("41 °f", Unit.CELSIUS, 5.0),
        ("2 cm", Unit.MM, 20.0), ('1"', Unit.MM, 25.4), ("250 mg", Unit.G, 0.25), ("0.5kg", Unit.G, 500.0),
        ("1200 mm/min", Unit.MM_PER_S, 20.0), ("45 ms", Unit.SECONDS, 0.045), ("90 min", Unit.HOURS, 1.5),
        ("50%", Unit.PERCENT, 50.0), ("7 mm³/s", Unit.MM3_PER_S, 7.0), ("8 mm3/s", Unit.MM3_PER_S, 8.0),
        ("60 mm/s", Unit.MM_PER_S, 60.0), ("3 s", Unit.SECONDS, 3.0), ("6 h", Unit.HOURS, 6.0), ("3", Unit.RATING, 3.0),
        ("9", Unit.COUNT, 9.0), ("210 C", Unit.CELSIUS, 210.0), ("210°", Unit.CELSIUS, 210.0), ("5 g", Unit.G, 5.0),
    ],
)  # fmt: skip
def test_a_unit_behind_a_number_is_understood(text: str, unit: Unit, number: float) -> None:
    """Each that may be typed, and what it is in the unit kept."""
    assert parse_entry(text, unit) == pytest.approx(number)


@pytest.mark.parametrize(
    ("low", "high", "limit", "values", "cut"),
    [
        (200, 245, None, tuple(range(200, 250, 5)), False),
        (200, 245.1, None, (200, 210, 220, 230, 240), False),
        (200, 220, 220, (200, 205, 210, 215, 220), False),
        (200, 220, 219, (195, 200, 205, 210, 215), True),
        (200, 205, None, (190, 195, 200, 205, 210, 215), False),
        (160, 180, None, (165, 170, 175, 180), False),
    ],
)
def test_bands_over_a_range_are_as_wide_as_it_takes_and_never_beyond_a_limit(
    low: float, high: float, limit: float | None, values: tuple[float, ...], cut: bool
) -> None:
    """Up to 45 °C in small steps; a limit at the last band cuts nothing, one just below it does and more are set below."""
    held = None if limit is None else Limit(max_c=limit, of=HeatLimit.HOTEND)
    found = temperature_bands(Window(low=low, high=high), bias_c=0.0, limit=held, coldest_c=165.0)
    assert (found.temperatures_c, found.cut is not None) == (values, cut)


def test_a_wall_of_about_twice_the_width_is_another_number_of_lines_up_to_eight_per_cent() -> None:
    """At 2.16 of 0.45 mm the plain doubt holds; at 2.15 it is two lines, and so at half."""

    def reason(ratio: float) -> str:
        sample = WallSample(readings=((0.45 * ratio,),) * 4, bead=LINE, tool=SHARP, envelope_mm=0.0)
        return evaluate_flow(sample).reason.value

    assert [reason(ratio) for ratio in (1.85, 2.15, 0.53, 0.465)] == ["wrong_number_of_lines"] * 4
    assert [reason(ratio) for ratio in (1.83, 2.17, 0.455)] == ["implausible"] * 3


@pytest.mark.parametrize(
    ("count", "cut"), [(5, 19.0), (6, 10.8), (8, 8.2), (10, 7.0), (12, 6.4), (16, 5.6), (20, 5.2), (30, 4.8)]
)
def test_a_reading_is_flagged_by_the_cut_of_its_number(count: int, cut: float) -> None:
    """From so many readings on, a reading beyond so many deviations of its wall is flagged, and not one just within."""

    def flagged(readings: int, deviations: float) -> bool:
        wall = [0.450 + 0.001 * (index % 3 - 1) for index in range(readings - 1)]
        far = 0.450 + deviations * 1.4826 * 0.001
        return flagged_readings([*wall, far], 0.001) == (readings - 1,)

    assert flagged(count, cut + 0.05)
    assert not flagged(count, cut - 0.05)
    assert not flagged(count - 1, cut + 0.05)


def test_no_reading_is_flagged_where_walls_are_that_coarse() -> None:
    """The tool's own step is the least scatter there is, and four readings are too few to say."""
    assert flagged_readings([0.45, 0.451, 0.449, 9.0], 0.001) == ()


def test_a_line_may_be_as_wide_as_its_layer_is_high() -> None:
    """A round strand is the narrowest there is."""
    assert Bead(width_mm=0.3, height_mm=0.3).deficit_mm == pytest.approx(0.3 * (1 - math.pi / 4))
    with pytest.raises(OutOfRange, match="as wide as"):
        Bead(width_mm=0.299, height_mm=0.3)


def test_a_spool_foams_by_its_family_or_by_what_it_says_of_itself() -> None:
    """Either is enough."""
    assert [foams("foaming_pla", ()), foams("pla", ("foaming",)), foams("pla", ("silk",))] == [True, True, False]


def test_walls_that_differ_weigh_by_their_number() -> None:
    """Four walls, told apart: three degrees of freedom, and the half-width of the width is that of the factor scaled."""
    walls = ((0.43, 0.431), (0.45, 0.451), (0.47, 0.471), (0.44, 0.441))
    sample = WallSample(readings=walls, bead=LINE, tool=SHARP, envelope_mm=0.0)
    figures = evaluate_flow(sample).figures
    assert figures is not None
    means = [statistics.fmean(wall) for wall in walls]
    std = statistics.stdev(means) / 2
    assert half_width_of_width(figures, sample) == pytest.approx(student_quantile(0.975, 3.0) * std, rel=0.01)


@pytest.mark.parametrize(
    ("widths", "verdict"),
    [
        ((0.45, 0.50, 0.55, 0.60, 0.65, 0.70), "extend_hotter"),
        ((0.45, 0.50, 0.55, 0.60, 0.65, 0.648), "extend_hotter"),
        ((0.45, 0.50, 0.55, 0.60, 0.55, 0.50), "peak"),
        ((0.70, 0.65, 0.60, 0.55, 0.50, 0.45), "extend_cooler"),
        ((0.648, 0.65, 0.60, 0.55, 0.50, 0.45), "extend_cooler"),
        ((0.40, 0.50, 0.60, 0.65, 0.648, 0.647), "peak"),
        ((0.646, 0.648, 0.65, 0.60, 0.50, 0.40), "peak"),
    ],
)  # fmt: skip
def test_where_a_foam_tower_has_to_go_on(widths: tuple[float, ...], verdict: str) -> None:
    """Widest at an end, or beside it with no fall to be seen: the best may lie beyond; further in it is not asked."""
    readings = tuple((width - 0.004, width, width + 0.004, width) for width in widths)
    found = evaluate_foaming(
        FoamSample(temperatures_c=(200, 210, 220, 230, 240, 250), widths_mm=readings, bead=LINE, flow=1.0, tool=SHARP)
    )
    assert found.verdict.value == verdict


def test_inches_reach_places_set_by_hand_and_arcs_climb_evenly() -> None:
    """G92 in inches is a place in inches; a helix rises with its turn."""
    inches = read_gcode(["G20\n", "G92 X1 Y2 Z0.1\n", "G1 X2 E1 F10\n"])
    assert (inches.x[-1], inches.y[-1], inches.z[-1]) == pytest.approx((50.8, 50.8, 2.54))
    helix = read_gcode(["G28\n", "M83\n", "G1 X10 Y0 Z1\n", "G3 X-10 Y0 Z3 I-10 J0 E2 F600\n"])
    turn = [row for row in range(helix.count) if helix.line[row] == 4]
    heights = [float(helix.z[row]) for row in turn]
    assert len(turn) > 4
    assert heights == pytest.approx([1 + 2 * (place + 1) / len(turn) for place in range(len(turn))])


def test_two_prints_of_one_wall_make_a_line_only_where_it_responds() -> None:
    """Between two flows the wanted width is found by the line; a wall that does not grow says nothing."""
    scatter = Component(0.004, 6.0)
    common = Component(0.005)
    found = flow_of_two_prints((0.9, scatter), (1.0, scatter), widths_mm=(0.40, 0.45), expected_mm=0.44, common=common)
    assert found is not None
    assert found.flow == pytest.approx(0.98)
    flat = flow_of_two_prints((0.9, scatter), (1.0, scatter), widths_mm=(0.45, 0.40), expected_mm=0.44, common=common)
    assert flat is None
    weak = Component(0.0118, 6.0)
    assert flow_of_two_prints((0.9, weak), (1.0, weak), widths_mm=(0.40, 0.45), expected_mm=0.44, common=common) is None


def test_nothing_happened_since_is_nothing() -> None:
    """A value shown today with nothing printed since has seen nothing."""
    since = Since(days=0)
    assert (since.hours, since.prints, since.plain_g, since.abrasive_g) == (0, 0, 0, 0)


def test_patches_need_a_bed_that_holds_nine_of_them() -> None:
    """Two patches with their numbers, and the third, inside the inset on both sides."""
    options = PadOptions(bore_mm=0.4, line_width_mm=0.44, layer_mm=0.2)

    def fits(width: float, depth: float) -> bool:
        try:
            nine_patches(options, Volume(width_mm=width, depth_mm=depth, height_mm=100), MANNER)
        except OutOfRange:
            return False
        return True

    least = next(size for size in range(60, 300) if fits(size, 300))
    assert least == next(size for size in range(60, 300) if fits(300, size))
    piece = nine_patches(options, Volume(width_mm=least, depth_mm=least, height_mm=100), MANNER)
    inside = [move for move in piece.moves if isinstance(move, Go)]
    assert all(0 <= move.x <= least and 0 <= move.y <= least for move in inside)
    assert least < 130


def test_a_notch_marks_the_box_up_to_its_height_and_no_higher() -> None:
    """The first wall is notched from the second layer to 2 mm: where to begin counting stays readable."""
    box = hollow_box(
        BoxOptions(bore_mm=0.4, line_width_mm=0.44, layer_mm=0.2, first_layer_mm=0.2),
        Volume(width_mm=200, depth_mm=200, height_mm=99),
        MANNER,
    )
    points: dict[float, list[tuple[float, float]]] = {}
    for move in box.moves:
        if isinstance(move, Go) and move.feed_mm:
            points.setdefault(round(move.z, 3), []).append((move.x, move.y))
    counts = {z: len(found) for z, found in points.items()}
    notched = [z for z in sorted(counts) if counts[z] > counts[max(counts)]]
    assert notched[-1] == pytest.approx(2.0)


def test_heat_that_rises_takes_longer_to_settle_than_heat_that_falls_and_none_takes_none() -> None:
    """Bands of the same heat are settled from their first layer on."""

    def settled(*values: float) -> list[float]:
        options = TowerOptions(bore_mm=0.4, line_width_mm=0.44, layer_mm=0.2, first_layer_mm=0.2, values=values)
        volume = Volume(width_mm=200, depth_mm=200, height_mm=200)
        piece = temperature_tower(options, volume, Manner(speed_mm_s=150, travel_mm_s=300, first_speed_mm_s=60))
        return [round(band.settled_mm - band.from_mm, 3) for band in piece.bands]

    assert settled(200, 200) == [0, 0]
    rising, falling = settled(180, 240)[1], settled(240, 180)[1]
    assert falling >= rising >= 0
    assert falling > 0


def test_the_prime_line_is_no_longer_than_half_a_small_bed() -> None:
    """On 50 mm of width it ends 25 mm after it began; on a large one it has its own length."""
    for width, most in ((100.0, 50.0), (220.0, 110.0)):
        volume = Volume(width_mm=width, depth_mm=220, height_mm=100)
        piece = hollow_box(
            BoxOptions(bore_mm=0.4, line_width_mm=0.44, layer_mm=0.2, first_layer_mm=0.2, side_mm=24), volume, MANNER
        )
        limits = LIMITS.__class__(
            **{name: getattr(LIMITS, name) for name in LIMITS.__dataclass_fields__} | {"volume": volume}
        )
        text = write_gcode(job(piece, MANNER), limits=limits, dialect=Dialect())
        found = read_gcode(text.splitlines(keepends=True))
        first = next(row for row in range(found.count) if found.extruding[row])
        length = float(found.x[first] - found.x[first - 1])
        assert length == pytest.approx(min(most, 60.0), abs=0.01)


def test_a_move_before_homing_is_no_homing_and_one_in_the_same_breath_is_none() -> None:
    """Only a move that comes before it counts."""
    late = [line for line in GOOD if not line.startswith("G28")]
    place = next(index for index, line in enumerate(late) if line.startswith(("G0", "G1 X")))
    assert Flaw.NO_HOMING in flaws([*late[: place + 1], "G28\n", *late[place + 1 :]])
    assert Flaw.NO_HOMING not in flaws([*late[:place], "G28\n", *late[place:]])


def test_the_place_of_a_long_retraction_is_its_first_line() -> None:
    """Where it is pulled back, not where it is fed."""
    lines = [line.replace("E-0.80000", "E-9.00000") for line in GOOD]
    pulled = next(index for index, line in enumerate(lines, 1) if "E-9.0" in line)
    assert flaws(lines)[Flaw.RETRACTION] == pulled


def test_layers_are_counted_from_the_first_which_has_its_own_height() -> None:
    """0.24 and then 0.2 each: 12 mm lie in layer 60; a piece of 12.05 mm was stopped nearest to layer 60 too."""
    layers = Layers(first_mm=0.24, each_mm=0.2)
    assert layers.top_mm(60) == pytest.approx(12.04)
    assert (layers.reaching(0.1), layers.reaching(0.24), layers.reaching(12.04), layers.reaching(12.05)) == (
        1,
        1,
        60,
        61,
    )
    assert (layers.nearest(12.05), layers.nearest(0.01)) == (60, 1)


def test_time_goes_with_the_area_of_the_line_until_the_hotend_is_at_its_end() -> None:
    """Twice as wide and high takes a quarter; what is beyond the cap takes as long as the cap allows."""
    was = Bead(width_mm=0.42, height_mm=0.2)
    double = Bead(width_mm=0.84, height_mm=0.4)
    assert time_with_s(3600, was, double, speed_mm_s=60, cap_mm3_s=None) == pytest.approx(900)
    asked, cap = was.area_mm2 * 60, 2 * was.area_mm2 * 60
    assert time_with_s(3600, was, double, speed_mm_s=60, cap_mm3_s=cap) == pytest.approx(3600 * asked / cap)
    assert time_with_s(3600, double, was, speed_mm_s=60, cap_mm3_s=asked) == pytest.approx(3600)
    for seconds, speed, most in ((0.0, 60.0, 9.0), (60.0, 0.0, 9.0), (60.0, 60.0, -1.0)):
        with pytest.raises(OutOfRange):
            time_with_s(seconds, was, was, speed_mm_s=speed, cap_mm3_s=most)


def test_a_place_lies_inside_as_far_as_the_slack_on_every_side_and_no_farther() -> None:
    """A bed of 220 by 210, 250 high, its corner at 0: half a millimetre of slack counts on all six sides."""
    volume = Volume(width_mm=220, depth_mm=210, height_mm=250)
    inside = (110.0, 105.0, 100.0)
    for axis, (low, high) in enumerate(((0.0, 220.0), (0.0, 210.0), (0.0, 250.0))):
        for edge, out in ((low, -1), (high, 1)):
            for off, holds in ((0.4, True), (0.6, False)):
                place = [*inside]
                place[axis] = edge + out * off
                assert volume.holds(place[0], place[1], place[2], slack=0.5) is holds


def test_a_rating_is_contradicted_only_where_there_is_enough_beside_it() -> None:
    """Two curves, one good and one bad in all of four bands: a lone 0 among three 4s is odd; beside too few nothing is."""
    low, high = np.log([0.96, 0.01, 0.01, 0.01, 0.01]), np.log([0.01, 0.01, 0.01, 0.01, 0.96])
    table = np.stack([np.tile(low[:, None], 4), np.tile(high[:, None], 4)], axis=1)
    prior = np.log([0.5, 0.5])
    assert contradicting(table, [(4, 4, 4, 0)], prior) == [(0, 3)]
    assert contradicting(table, [(4, 0, None, None)], prior) == []
    assert contradicting(table, [(None, None, None, None), (4, 4, 4, 0)], prior) == [(1, 3)]


def test_a_dial_without_a_number_leaves_the_speed_as_it_was_dialled() -> None:
    """M220 alone asks what it is: 50 % before stays 50 %, and never more than 100 % was asked for."""
    lines = ["M83\n", "M220 S50\n", "M220\n", "G1 X10 E1 F1200\n", "G1 X20 E1\n"]
    found = read_gcode(lines)
    assert found.override_pct == 100
    assert list(found.speed[found.feed > 0]) == pytest.approx([10.0, 10.0])


def test_tops_of_layers_are_whole_ten_thousandths() -> None:
    """As many digits as a file holds, and the first as high as it is squeezed."""
    tops = layer_heights(0.24, 0.12345, 0.7)
    assert tops == [0.24, 0.3634, 0.4869, 0.6103, 0.7338]
