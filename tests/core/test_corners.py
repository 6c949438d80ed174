"""Corners of the core that nothing else walks into: what cannot be is refused at its field, and small answers are exact."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from itertools import product
from typing import Any

import pytest

from tests.core.gcode.test_files import BOX, LIMITS, VOLUME
from ubrex.core.attempts import blame, compare_counts, design_best
from ubrex.core.bead import Bead, bead_or_none
from ubrex.core.calibrate import (
    EStepsMethod,
    EStepsSample,
    ExtruderSetting,
    SettingForm,
    expected_reading,
    moved_offset,
    pair_apart,
    width_readings,
)
from ubrex.core.chain import SHOWN_HERE, AgeingLimits, Effect, Held, Origin, Since, Standing, machine_holds, standing
from ubrex.core.diagnose import Case, diagnose
from ubrex.core.diagnose._sheet import in_order
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import (
    Breach,
    Dialect,
    Feed,
    Go,
    Heat,
    Job,
    Manner,
    Move,
    Push,
    RefusedFile,
    Set,
    SetWhat,
    check_pressure_line,
    read_gcode,
    write_gcode,
)
from ubrex.core.gcode.pieces import TowerOptions, cooling_tower, detour_tower, hollow_box, temperature_tower
from ubrex.core.judge import Code, judge_dryness
from ubrex.core.materials import Dryness, density_of
from ubrex.core.quantity import Tool, ToolKind, Unit, same_setting, zero_error

TOOL = Tool(resolution=0.01, max_permissible_error=0.03)
CUT = EStepsSample(method=EStepsMethod.OPEN_AIR, commanded_mm=100.0, readings=(98.0, 99.0), tool=TOOL)
TOWER = TowerOptions(bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2, first_layer_mm=0.24, values=(10.0, 80.0))


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: Bead(width_mm=0.0, height_mm=0.2), "width_mm"),
        (lambda: Bead(width_mm=0.45, height_mm=float("inf")), "height_mm"),
        (lambda: Bead(width_mm=0.2, height_mm=0.21), "width_mm"),
        (lambda: Tool(resolution=0.0, max_permissible_error=0.0), "resolution"),
        (lambda: Tool(resolution=0.01, max_permissible_error=-0.001), "max_permissible_error"),
        (lambda: ExtruderSetting(number=0.0, form=SettingForm.STEPS_PER_MM), "number"),
        (lambda: expected_reading(replace(CUT, method=EStepsMethod.MARKED)), "mark_at_mm"),
        (lambda: expected_reading(replace(CUT, method=EStepsMethod.WEIGHED)), "strand"),
        (lambda: design_best("5in8", [1.0] * 8), "design"),
        (lambda: design_best("3in4", [1.0] * 5), "results"),
        (lambda: hollow_box(replace(BOX, side_mm=150.1), VOLUME, Manner()), "side_mm"),
        (lambda: hollow_box(replace(BOX, height_mm=5.9), VOLUME, Manner()), "height_mm"),
        (lambda: hollow_box(replace(BOX, height_mm=60.1), VOLUME, Manner()), "height_mm"),
        (lambda: temperature_tower(replace(TOWER, values=()), VOLUME, Manner()), "bands"),
        (lambda: detour_tower(replace(TOWER, values=(70.0, 80.0)), VOLUME, Manner()), "detour_b"),
        (lambda: cooling_tower(replace(TOWER, values=(0.5, 0.9)), VOLUME, Manner()), "layer_time_b"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_at_its_field(make: Callable[[], object], field: str) -> None:
    """The name of the field is what a form shows the sentence at."""
    with pytest.raises(OutOfRange) as refused:
        make()
    assert refused.value.details["name"] == field


def test_small_answers_are_exact() -> None:
    """What a screen shows of them has no other test."""
    assert bead_or_none(0.45, None) is None
    assert bead_or_none(0.2, 0.3) is None
    assert bead_or_none(0.45, 0.2) == Bead(width_mm=0.45, height_mm=0.2)
    assert moved_offset(-1.42, [0.02, -0.06]) == pytest.approx(-1.46)
    assert pair_apart((98.0,), CUT) is None
    assert pair_apart((98.0, 98.5), CUT) is None
    assert pair_apart((90.0, 110.0), CUT) == pytest.approx(20.0)
    assert pair_apart((-1.0, 1.0), CUT) is None
    assert [compare_counts(*pair) for pair in ((0, 0), (5, 5), (0, 5), (0, 6), (3, 12), (3, 13))] == [
        False, False, False, True, True, True,
    ]  # fmt: skip
    assert [kind.unit for kind in ToolKind] == [Unit.MM, Unit.MM, Unit.MM, Unit.G, Unit.CELSIUS, Unit.RATING]
    assert [density_of(*given) for given in (("pla", 1.3), ("pla", None), ("asa", None))] == [1.3, 1.24, 1.07]
    assert [same_setting(410.45, other, 2) for other in (410.454, 410.456)] == [True, False]
    assert len(temperature_tower(replace(TOWER, values=(210.0,)), VOLUME, Manner()).bands) == 1
    # A tool that is not named reads in hundredths.
    assert [width_readings(*line).readings for line in ((0.45, 0.2), (0.6, 0.3), (0.4, 0.2))] == [8, 4, None]
    assert zero_error(0.0, TOOL) == 0.01
    assert zero_error(0.0, replace(TOOL, max_permissible_error=0.004)) == 0.004


def test_dry_filament_is_silent_and_what_drinks_little_need_only_not_be_wet() -> None:
    """A family that wants drying is told whatever nobody knows of it."""
    told = {
        (state, thirsty): judge_dryness(state, thirsty=thirsty) for state, thirsty in product(Dryness, (True, False))
    }
    codes = {key: [(one.code, one.why) for one in found] for key, found in told.items() if found}
    assert codes == {
        (Dryness.WET, True): [(Code.WET, "wet")],
        (Dryness.WET, False): [(Code.WET, "wet")],
        (Dryness.UNTESTED, True): [(Code.NOT_DRY, "untested")],
        (Dryness.OVERDUE, True): [(Code.NOT_DRY, "overdue")],
        (Dryness.NEVER_DRIED, True): [(Code.NOT_DRY, "never_dried")],
    }


def test_a_machine_holds_what_was_read_back_after_all_that_may_have_lost_it() -> None:
    """Every combination: only a loss, or an applied value that nobody read back, is open; a read-back decides."""
    for origin, kept, confirmed, matches in product(Origin, (True, False), (True, False), (None, True, False)):
        known: dict[str, Any] = {"kept_in_place": kept, "confirmed": confirmed, "read_back_matches": matches}
        assert machine_holds(origin, lost=True, **known) is (Held.LOST if matches is None else Held.DIFFERS)
        open_ = origin in SHOWN_HERE and not kept and not confirmed
        read = {None: Held.UNVERIFIED, True: Held.VERIFIED, False: Held.DIFFERS}[matches]
        assert machine_holds(origin, lost=False, **known) is (read if open_ else Held.VERIFIED)


def test_the_gravest_standing_speaks() -> None:
    """Taking one reason away after the other, the next one says its word."""
    limits = AgeingLimits(days=10.0)
    reasons: dict[str, Any] = {"on_machine": False, "beyond_limit": True, "asked": Effect.HOLD, "other_form": True}
    words = [Standing.NOT_ON_MACHINE, Standing.OUT, Standing.HOLD, Standing.STALE]
    for place, word in enumerate(words):
        left = dict(list(reasons.items())[place:])
        assert standing(origin=Origin.MEASURED, since=Since(days=1.0), limits=limits, **left) is word
    asked = {Effect.REDO: Standing.STALE, Effect.RE_ENTER: Standing.RE_ENTER}
    for effect, word in asked.items():
        assert standing(origin=Origin.MEASURED, since=Since(days=1.0), limits=limits, asked=effect, out=True) is word
    assert standing(origin=None, since=Since(days=1.0), limits=limits, out=True) is Standing.NEVER
    assert standing(origin=Origin.MEASURED, since=Since(days=1.0), limits=limits, out=True, untold=True) is Standing.OUT
    assert standing(origin=Origin.MEASURED, since=Since(days=1.0), limits=limits, untold=True) is Standing.CHECK


def test_a_school_goes_through_the_same_looks_in_its_own_order() -> None:
    """By what they are worth, by harm and minutes, by what they tell: none is lost, and odds stay as they are."""
    looks = diagnose(Case(complaint="c_stopped")).checks
    assert [one.score for one in in_order(looks, "worth")] == sorted((one.score for one in looks), reverse=True)
    assert [one.bits for one in in_order(looks, "most telling")] == sorted((one.bits for one in looks), reverse=True)
    cheapest = in_order(looks, "cheapest")
    assert sorted(one.check for one in cheapest) == sorted(one.check for one in looks)
    harmless = [one.minutes for one in cheapest[:3]]
    assert harmless == sorted(harmless)
    assert cheapest != in_order(looks, "most telling")


HOT = Set(what=SetWhat.NOZZLE, number=210)
MELTS = LIMITS.melt_mm3_s


def printing(*moves: Move) -> Job:
    """These moves on a warm bed, without a prime line."""
    return Job(name="corner", moves=moves, heat=Heat(nozzle_c=210, bed_c=60), manner=Manner(), bead=None)


@pytest.mark.parametrize(
    ("moves", "breach"),
    [
        ((HOT, Push(feed_mm=-6.01, speed_mm_s=20, why=Feed.RETRACT)), Breach.RETRACTION),
        ((HOT, Push(feed_mm=-5.9, speed_mm_s=LIMITS.retraction_mm_s + 0.1, why=Feed.RETRACT)), Breach.RETRACTION),
        ((HOT, Push(feed_mm=5.0, speed_mm_s=MELTS / 2.405 + 0.1, why=Feed.PRINT)), Breach.MELT_RATE),
        ((HOT, Go(10, 10, 0.2, 20.0), Go(10, 10, 0.2, 20.0, 0.1)), Breach.VOLUME),
        ((HOT, Set(what=SetWhat.PRESSURE, number=2.1)), Breach.BLOCK),
        ((HOT, Set(what=SetWhat.PRESSURE, number=-0.01)), Breach.BLOCK),
    ],
)
def test_nothing_beyond_a_limit_is_written(moves: tuple[Move, ...], breach: Breach) -> None:
    """Pulls, pushes, lines without a length, and a compensation that is none."""
    with pytest.raises(RefusedFile) as refused:
        write_gcode(printing(*moves), limits=LIMITS, dialect=Dialect(pressure="M900 K{value}"))
    assert refused.value.breach is breach


@pytest.mark.parametrize(
    "line", ["M900", "M900 K{value} L{value}", "M900 K{value}\nG28", "G1 X{value}", "M104 S{value}"]
)
def test_the_line_that_takes_a_compensation_does_nothing_else(line: str) -> None:
    """The value once, in one line that neither moves nor heats."""
    with pytest.raises(RefusedFile) as refused:
        check_pressure_line(line, LIMITS)
    assert refused.value.breach is Breach.BLOCK


def test_odd_but_readable_lines_are_read_and_the_rest_is_counted() -> None:
    """Line numbers and checksums, no spaces, small letters, brackets; what makes no sense is said, and moves nothing."""
    lines = [
        "N10 G21", "N11", "G90", "M83", "N12 G1 X10 Y5 F600*71", "G1X20E0.5", "g1 x30 (aside) e0.5", "(G1 X99)",
        "G1 Xten Y6", "G1 X1e9", "HELLO WORLD", "G1 X40 E0.5*12",
    ]  # fmt: skip
    read = read_gcode([line + "\n" for line in lines])
    assert read.x.tolist() == [10, 20, 30, 30, 40]
    assert read.y.tolist() == [5, 5, 5, 6, 6]
    assert read.feed.tolist() == pytest.approx([0, 0.5, 0.5, 0, 0.5])
    assert dict(read.unknown) == {"HELLO": 1, "unreadable word": 2}


def test_a_fan_is_the_part_s_and_heat_without_a_number_is_no_command() -> None:
    """The lowest that blows is the part's; what others do is not understood. More than all of it is all of it."""
    lines = ["M104 S210", "M109", "M107", "M106 P2 S200", "M106 P1 S51", "M106 P1 S900", "M107 P3"]
    read = read_gcode([line + "\n" for line in lines])
    assert [row.percent for row in read.fans] == pytest.approx([20, 100])
    assert dict(read.unknown) == {"M106 P2": 1}
    assert [(row.what, row.celsius) for row in read.heats] == [("nozzle", 210)]
    plain = read_gcode(["M106\n", "M106 P2 S200\n", "M107\n"])
    assert [row.percent for row in plain.fans] == [100, 0]
    assert dict(plain.unknown) == {"M106 P2": 1}


def test_of_several_changes_about_half_are_kept_in_the_next_attempt() -> None:
    """Those that tell most, forward or back; of those that tell as much the first by the alphabet."""
    before, after = {"fan": 50, "nozzle": 205, "speed": 40}, {"fan": 70, "nozzle": 215, "speed": 60}
    for ratings in ((1.0, 3.0), (3.0, 1.0)):
        found = blame(before, after, rating_before=ratings[0], rating_after=ratings[1])
        assert (found.try_next, found.undo_next) == (("fan", "nozzle"), ("speed",))
    four = blame({**before, "bed": 60}, {**after, "bed": 70}, rating_before=1.0, rating_after=3.0)
    assert four.try_next == ("bed", "fan")
