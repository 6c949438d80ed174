"""A file from elsewhere held against a setup: each flaw is found with its line, and none in a good file."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import replace

import pytest
from tests.core.gcode.test_files import BOX, LIMITS, VOLUME, job

from ubrex.core.gcode import Dialect, Flaw, Manner, check_file, compare_settings, facts_of, read_gcode, write_gcode
from ubrex.core.gcode.pieces import hollow_box

MANNER = Manner(retraction_mm=0.8, hop_mm=0.2)
PIECE = hollow_box(replace(BOX, walls="one", fan_pct=80), VOLUME, MANNER)
GOOD = write_gcode(job(PIECE, MANNER), limits=LIMITS, dialect=Dialect()).splitlines(keepends=True)


def flaws(lines: list[str]) -> dict[Flaw, int]:
    """Flaws with the line each is on."""
    found = check_file(read_gcode(lines), LIMITS, bore_mm=0.4, filament_mm=1.75)
    return {one.flaw: one.line for one in found}


def test_nothing_is_wrong_with_a_file_of_our_own() -> None:
    """Whatever we write passes our own check, and says what it was written with."""
    assert flaws(GOOD) == {}
    facts = facts_of(read_gcode(GOOD), 1000)
    assert (facts.nozzle_c, facts.bed_c, round(facts.fan_pct or 0)) == (210, 60, 80)
    assert facts.first_layer_mm == pytest.approx(0.24, abs=1e-3)
    assert facts.layer_mm == pytest.approx(0.2, abs=1e-3)
    assert facts.retraction_mm == pytest.approx(0.8, abs=1e-3)
    assert facts.fan_from_mm is not None
    assert facts.fan_from_mm < 1
    assert facts.seconds > 60


def swap(old: str, new: str) -> Callable[[list[str]], list[str]]:
    """A file with every line that begins so replaced."""
    return lambda lines: [new + "\n" if line.startswith(old) else line for line in lines]


def without_feed_above(lines: list[str], height_mm: float) -> list[str]:
    """A file that walks its upper part and lays nothing there."""
    found, z = [], 0.0
    for line in lines:
        at = re.search(r"Z([\d.]+)", line)
        z = float(at[1]) if at else z
        found.append(re.sub(r" E-?[\d.]+", "", line) if z > height_mm and line.startswith("G1 X") else line)
    return found


def without_layers(lines: list[str]) -> list[str]:
    """A file some layers of which are missing."""
    return [line for line in lines if not any(f"Z{z:.3f}" in line for z in (2.04, 2.24, 2.44, 2.64, 2.84))]


@pytest.mark.parametrize(
    ("spoil", "flaw"),
    [
        (swap("M109", "M109 S255"), Flaw.NOZZLE_TOO_HOT),
        (swap("M190", "M190 S90"), Flaw.BED_TOO_HOT),
        (swap("M109", "M109 S150"), Flaw.COLD),
        (swap("G28", "; nothing"), Flaw.NO_HOMING),
        (swap("M104 S0", "; nothing"), Flaw.NOT_OFF),
        (lambda lines: [line.replace("X", "X3", 1) for line in lines], Flaw.OUTSIDE),
        (lambda lines: [line.replace("Z0.240", "Z0.700") for line in lines], Flaw.IN_AIR),
        (without_layers, Flaw.SUDDEN_Z),
        (lambda lines: [line.replace("E-0.80000", "E-9.00000") for line in lines], Flaw.RETRACTION),
        (lambda lines: [line.replace("F1800", "F60000") for line in lines], Flaw.SPEED),
        (lambda lines: [line.replace("F1800", "F9000") for line in lines], Flaw.MELT_RATE),
        (lambda lines: [*lines[: len(lines) // 2], "G1 X11"], Flaw.CUT_OFF),
        (lambda lines: [*lines, "M92 E93\n"], Flaw.SETS_E_STEPS),
        (lambda lines: [*lines, "M92 X80.2\n"], Flaw.SETS_MACHINE),
        (lambda lines: [*lines, "N7 m851 z-1.35 ; lower\n"], Flaw.SETS_MACHINE),
        (lambda lines: [*lines, "M206 Z-0.1\n"], Flaw.SETS_MACHINE),
        (lambda lines: [*lines[:60], "G92 Z2\n", *lines[60:]], Flaw.SETS_MACHINE),
        (lambda lines: [*lines, "M 303 E0 S200\n"], Flaw.HEATS_ITSELF),
        (lambda lines: [*lines, "M0502\n"], Flaw.FORGETS),
        (lambda lines: ["M302 P1\n", *lines], Flaw.UNGUARDS),
        (lambda lines: ["M211 S0\n", *lines], Flaw.UNGUARDS),
        (lambda lines: [*lines[:60], "M600\n", *lines[60:]], Flaw.WAITS),
        (swap("M221", "M221 S108"), Flaw.FLOW_OVERRIDE),
        (lambda lines: ["N5M104S255\n", *lines], Flaw.NOZZLE_TOO_HOT),
        (lambda lines: ["M104 S255 (S200)\n", *lines], Flaw.NOZZLE_TOO_HOT),
        (lambda lines: ["M104 S255 S200\n", *lines], Flaw.NOZZLE_TOO_HOT),
        (lambda lines: [line.replace("F1800", "F6000") if "E-" in line else line for line in lines], Flaw.PULL_SPEED),
        (lambda lines: without_feed_above(lines, 2.5), Flaw.STOPS_LAYING),
        (lambda lines: [line for line in lines if "Z2.040" not in line], Flaw.GAP),
        (lambda lines: ["; layer count = 90\n", *lines], Flaw.FEWER_LAYERS),
        (lambda lines: ["; fan full at layer = 200\n", *lines], Flaw.FAN_NEVER),
        (lambda lines: ["M106 S1\n" if "M106" in line else line for line in lines], Flaw.FAN_SCALE),
        (lambda lines: ["M106 S0.4\n" if "M106" in line else line for line in lines], Flaw.FAN_SCALE),
        (swap("M220", "M220 S400"), Flaw.SPEED),
        (lambda _: ["hello\n", "world\n"], Flaw.EMPTY),
    ],
)
def test_each_flaw_is_found(spoil: Callable[[list[str]], list[str]], flaw: Flaw) -> None:
    """One thing made wrong at a time, in a file that was right; each with its line, but for what is in no line."""
    found = flaws(spoil(GOOD))
    assert flaw in found
    assert (found[flaw] == 0) is (flaw in {Flaw.EMPTY, Flaw.FLOW_OVERRIDE, Flaw.FEWER_LAYERS, Flaw.FAN_NEVER})


@pytest.mark.parametrize(
    "line",
    ["M851 X-40", "M206 X1", "M302", "M302 P0", "M211 S1", "M221 S100", "M92", "M420 S1", "M204 P500", "G29", "T0"],
)
def test_what_changes_nothing_is_no_flaw_and_is_understood(line: str) -> None:
    """A probe's place across the bed, a question, a guard that is put back, limits of motion."""
    lines = [f"{line}\n", *GOOD]
    assert flaws(lines) == {}
    assert not read_gcode(lines).unknown


def test_a_share_of_what_a_file_says_is_what_is_fed() -> None:
    """From where it is said on, retractions with it; what a share of nothing would be is not believed."""
    whole, more = read_gcode(GOOD), read_gcode(swap("M221", "M221 S150")(GOOD))
    assert more.feed.sum() == pytest.approx(1.5 * whole.feed.sum(), rel=1e-4)
    assert more.longest_retraction_mm == pytest.approx(1.5 * whole.longest_retraction_mm)
    assert more.fed_pct == pytest.approx(150)
    assert read_gcode(swap("M221", "M221 S0")(GOOD)).fed_pct == 100


def test_the_pressure_compensation_of_a_file_is_that_of_most_of_it() -> None:
    """A line laid with another, before or after, does not count for the part."""
    place = next(index for index, line in enumerate(GOOD) if "Z0.440" in line)
    lines = ["M900 K0.6\n", *GOOD[:place], "M900 K0.04\n", *GOOD[place:], "M900 K0\n"]
    assert facts_of(read_gcode(lines), 1000).pressure_s == 0.04
    assert facts_of(read_gcode(GOOD), 1000).pressure_s is None


def test_a_speed_that_nobody_stated_is_not_called_the_machines() -> None:
    """And an override is in the speeds, with how high it was."""
    fast = [line.replace("F1800", "F60000") for line in GOOD]
    unstated = replace(LIMITS, speed_stated=False, melt_mm3_s=1e9, retraction_mm_s=1e9)
    assert check_file(read_gcode(fast), unstated, bore_mm=0.4, filament_mm=1.75) == []
    driven = read_gcode(["M220 S166\n", "G1 X1 Y1 F27000\n", "G1 X9 Y9\n", "M220 S100\n", "G1 X1 Y1\n"])
    assert driven.override_pct == 166
    assert driven.speed.tolist() == pytest.approx([747, 747, 450])


def test_the_usual_retraction_is_all_of_it_where_a_wipe_pulls_in_pieces() -> None:
    """Three pieces of 0.2 mm are one retraction of 0.6; the last one of the file was never fed again."""
    lines = ["M83\n"]
    for _ in range(4):
        lines += ["G1 X5 Y5 E1 F1200\n", "G1 X6 E-0.2 F2400\n", "G1 X7 E-0.2\n", "G1 E-0.2\n", "G1 E0.6\n"]
    found = read_gcode([*lines, "G1 E-5\n"])
    assert found.pulls.tolist() == pytest.approx([0.6] * 4)
    assert facts_of(found, 1000).retraction_mm == pytest.approx(0.6)
    assert found.fastest_pull_mm_s == 40


def test_layers_that_grow_and_shrink_on_purpose_are_no_gap() -> None:
    """0.1 to 0.3 mm along a part; only a step that stands out from both its neighbours is a missing layer."""
    lines = ["G28\n", "M83\n", "M109 S210\n"]
    z = 0.0
    for layer in range(60):
        z += 0.2 + 0.1 * math.sin(layer / 8)
        lines += [f"G1 X10 Y10 Z{z:.3f} F1800\n", f"G1 X60 Y10 Z{z:.3f} E1\n"]
    assert flaws([*lines, "M104 S0\n"]) == {}


def test_what_does_harm_comes_first() -> None:
    """A hot nozzle before a spool that is short, whatever their lines."""
    spoiled = without_layers(swap("M109", "M109 S255")(GOOD))
    assert next(iter(flaws(spoiled))) is Flaw.NOZZLE_TOO_HOT


def test_two_files_are_compared_by_what_their_remarks_say() -> None:
    """Differing, missing on one side; what agrees is left out."""
    left = read_gcode(["; wall width = 0.44\n", "; fan: 80\n", "; only here = 1\n"])
    right = read_gcode(["; wall width = 0.44\n", "; fan: 60\n", "; only there = 2\n"])
    rows = [(one.name, one.left, one.right) for one in compare_settings(left, right)]
    assert rows == [("fan", "80", "60"), ("only here", "1", None), ("only there", None, "2")]


@pytest.mark.parametrize(("from_mm", "late"), [(1.0, False), (6.0, True)])
def test_a_fan_that_comes_in_the_middle_of_a_part_is_said_however_little_it_blows(from_mm: float, late: bool) -> None:
    """Its first breath stands where it came from: a height that was meant as layers, most likely."""
    still = [line for line in GOOD if not line.startswith(("M106", "M107"))]
    heights = [(at, float(found[1])) for at, line in enumerate(still) if (found := re.search(r" Z([\d.]+)", line))]
    at = next(at for at, height in heights if height >= from_mm)
    blown = [*still[: at + 1], "M106 S2\n", *still[at + 1 :]]
    assert (Flaw.FAN_LATE in flaws(blown)) is late


@pytest.mark.parametrize("number", ["1", "0.4"])
def test_a_fan_that_may_count_to_1_is_neither_off_nor_on(number: str) -> None:
    """Nobody can tell from the file: it says nothing that a value could be held against."""
    spoilt = [f"M106 S{number}\n" if line.startswith("M106") else line for line in GOOD]
    facts = facts_of(read_gcode(spoilt), 1000)
    assert (facts.fan_pct, facts.fan_from_mm, facts.fan_most_pct) == (None, None, None)
    assert facts.fan_unclear
    assert not facts_of(read_gcode(GOOD), 1000).fan_unclear


def test_no_fan_of_our_own_is_one_that_may_count_to_1() -> None:
    """However little it is to blow."""
    for percent in (0.1, 0.3, 0.39, 0.4, 0.6, 0.8, 1.0):
        piece = hollow_box(replace(BOX, fan_pct=percent), VOLUME, MANNER)
        lines = write_gcode(job(piece, MANNER), limits=LIMITS, dialect=Dialect()).splitlines(keepends=True)
        found = facts_of(read_gcode(lines), 1000)
        assert found.fan_pct == pytest.approx(percent, abs=0.5)


def with_fan(*rows: tuple[float, int]) -> list[str]:
    """The good file with other fan lines, each [%] from a height [mm] on."""
    lines = [line for line in GOOD if not line.startswith(("M106", "M107"))]
    for from_mm, percent in rows:
        at = next(n for n, line in enumerate(lines) if (z := re.search(r" Z([\d.]+)", line)) and float(z[1]) >= from_mm)
        lines.insert(at + 1, f"M106 S{round(percent * 2.55)}\n")
    return lines


@pytest.mark.parametrize(
    ("rows", "usual", "from_mm", "late"),
    [
        (((0.4, 40),), 40, 0.4, False),
        (((0.4, 40), (6.0, 80), (6.4, 40)), 40, 0.4, False),
        (((0.4, 10), (4.0, 100)), 100, 4.0, True),
        (((0.4, 80), (7.0, 20)), 80, 0.4, False),
    ],
)
def test_a_bridge_that_is_blown_at_harder_is_not_the_fan_of_the_part(
    rows: tuple[tuple[float, int], ...], usual: float, from_mm: float, late: bool
) -> None:
    """What is usual is what most is laid under; a rule that reaches it in the middle of the part is still found."""
    lines = with_fan(*rows)
    facts = facts_of(read_gcode(lines), 1000)
    assert facts.fan_pct == pytest.approx(usual, abs=0.3)
    assert facts.fan_from_mm == pytest.approx(from_mm, abs=0.25)
    assert facts.fan_most_pct == pytest.approx(max(percent for _, percent in rows), abs=0.3)
    assert (Flaw.FAN_LATE in flaws(lines)) is late
    # What blows before and after, with nothing laid under it, is not the fan of the part either.
    around = facts_of(read_gcode(["M106 S255\n", "M107\n", *lines, "M106 S255\n"]), 1000)
    assert around == facts
