"""A file from elsewhere held against a setup: each flaw is found with its line, and none in a good file."""

from __future__ import annotations

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
        (lambda _: ["hello\n", "world\n"], Flaw.EMPTY),
    ],
)
def test_each_flaw_is_found(spoil: Callable[[list[str]], list[str]], flaw: Flaw) -> None:
    """One thing made wrong at a time, in a file that was right."""
    assert flaw in flaws(spoil(GOOD))


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
