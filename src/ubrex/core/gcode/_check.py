"""A file from elsewhere held against a setup: what would do harm, what would fail, and what it says of itself."""

from __future__ import annotations

import math
import re
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from typing import Final, NamedTuple

import numpy as np

from ubrex.core.gcode._commands import HARMFUL_DEEDS, Deed
from ubrex.core.gcode._machine import MachineLimits
from ubrex.core.gcode._moves import CIRCLE
from ubrex.core.gcode._reader import Gcode

MELT_WINDOW: Final = 20
"""Melt rate is judged over so many moves in a row: one fast millimetre melts nothing."""

HIGHEST_FIRST: Final = 1.0
"""A first layer higher than so many bores is printed in air."""

JUMP: Final = 1.0
"""A step up between layers of more than so many bores leaves a gap."""

GAP: Final = 1.5
"""So does one of more than so many times the steps before and after it: a layer is missing."""

EMPTY_HEIGHTS: Final = 2
"""Heights that are walked through after the last line was laid, from which on something is not printed that should be."""

FAN_LATE, FAN_LATE_MM = 0.2, 2.0
"""A fan that comes only above so much of the height, and so many mm, comes in the middle of the part (job, section 8)."""

FAN_ONE_PCT: Final = 100 / 255
"""What the number 1 makes of a fan that counts to 255 [%]: it would not turn, so a file that never asks for more may be one
for a machine that counts to 1 (ours)."""

SPEED_SLACK: Final = 1.02
"""Speeds are written in whole mm/min, and pulled at no faster than that rounds to."""

_PROMISED: Final = re.compile(r"layers?[ _]*(count|total|number)|(count|total|number)[ _]*(of[ _]*)?layers?", re.I)
"""A remark that says how many layers there are, in whatever words."""

_FAN_RULE: Final = re.compile(r"fan\b.*\blayers?\b|\blayers?\b.*\bfan\b", re.I)
"""A remark that says from which layer on the fan turns."""


class Flaw(StrEnum):
    """What can be wrong with a file."""

    NOZZLE_TOO_HOT = "nozzle_too_hot"
    BED_TOO_HOT = "bed_too_hot"
    COLD = "cold"
    NO_HOMING = "no_homing"
    OUTSIDE = "outside"
    IN_AIR = "in_air"
    SUDDEN_Z = "sudden_z"
    RETRACTION = "retraction"
    MELT_RATE = "melt_rate"
    SPEED = "speed"
    CUT_OFF = "cut_off"
    NOT_OFF = "not_off"
    SETS_E_STEPS = Deed.SETS_E_STEPS.value
    SETS_MACHINE = Deed.SETS_MACHINE.value
    HEATS_ITSELF = Deed.HEATS_ITSELF.value
    FORGETS = Deed.FORGETS.value
    UNGUARDS = Deed.UNGUARDS.value
    WAITS = Deed.WAITS.value
    FLOW_OVERRIDE = "flow_override"
    EMPTY = "empty"
    STOPS_LAYING = "stops_laying"
    GAP = "gap"
    FEWER_LAYERS = "fewer_layers"
    FAN_LATE = "fan_late"
    FAN_NEVER = "fan_never"
    FAN_SCALE = "fan_scale"
    PULL_SPEED = "pull_speed"


HARMFUL: Final = frozenset(
    {Flaw.NOZZLE_TOO_HOT, Flaw.BED_TOO_HOT, Flaw.NO_HOMING, Flaw.OUTSIDE, Flaw.COLD, Flaw.NOT_OFF}
) | {Flaw(deed.value) for deed in HARMFUL_DEEDS}
"""What can hurt a machine or a person; the rest spoils a print."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FileFinding:
    """One flaw: the first line it is on and the height there [mm], what was found and what is allowed, in its unit.

    ``command``: what does it, where that is one command.
    """

    flaw: Flaw
    command: str = ""
    line: int = 0
    z_mm: float = 0.0
    found: float = 0.0
    allowed: float = 0.0

    @property
    def harmful(self) -> bool:
        """Whether it can hurt a machine or a person."""
        return self.flaw in HARMFUL


@dataclass(frozen=True, slots=True, kw_only=True)
class FileFacts:
    """What a file says by its commands: temperatures [°C] of the first layer and the rest, fan [%], from which height [mm]
    and at most [%], retraction [mm], layers [mm], pressure compensation [s], height [mm], filament [mm], time [s]. None
    where it does not say.

    A fan that is never turned on is one of 0 %, but in a file of a few layers, which says nothing of it; nor does one of a
    single layer say anything of the others. ``fan_unclear``: its fan may count to 1, and then to 255.
    """

    nozzle_first_c: float | None
    nozzle_c: float | None
    bed_first_c: float | None
    bed_c: float | None
    fan_pct: float | None
    fan_from_mm: float | None
    fan_most_pct: float | None
    fan_unclear: bool
    retraction_mm: float | None
    first_layer_mm: float | None
    layer_mm: float | None
    pressure_s: float | None
    layers: int
    height_mm: float
    filament_mm: float
    seconds: float


FAN_OFF_LAYERS: Final = 3
"""So many first layers are laid without a fan, whatever the filament (job, section 5)."""

ROUNDED: Final = 0.005
"""Numbers that differ by no more than this (relative) are the same: files round them (E)."""


def is_same(in_file: float, set_here: float, places: int) -> bool:
    """Whether a number of a file is the one that is set here, of as many ``places``."""
    return math.isclose(in_file, set_here, rel_tol=ROUNDED, abs_tol=0.51 * 10**-places)


def facts_of(found: Gcode, acceleration_mm_s2: float) -> FileFacts:
    """What a file says by its commands alone: nothing here is guessed from remarks."""
    layers = found.layers()
    tops = [z for z, _, _ in layers]
    second = found.line[layers[1][1]] if len(layers) > 1 else None

    def heat(what: str, *, first: bool) -> float | None:
        begin = found.line[layers[0][1]] if layers else 0
        asked = [row for row in found.heats if row.what == what and row.celsius > 0]
        before = [row for row in asked if row.line <= begin]
        if first:
            return before[-1].celsius if before else None
        if second is None:
            return None
        since = [row for row in asked if row.line <= second + 2 * (second - begin)]
        return since[-1].celsius if since else None

    fan, steps, unclear = _part_fan(found), np.diff(tops), _counts_to_one(found)
    still = 0.0 if len(set(tops)) > FAN_OFF_LAYERS and not unclear else None
    return FileFacts(
        nozzle_first_c=heat("nozzle", first=True),
        nozzle_c=heat("nozzle", first=False),
        bed_first_c=heat("bed", first=True),
        bed_c=heat("bed", first=False),
        fan_pct=still if fan is None else fan.percent,
        fan_from_mm=None if fan is None else fan.z_mm,
        fan_most_pct=None if fan is None else fan.most_pct,
        fan_unclear=unclear,
        retraction_mm=_usual_pull(found),
        first_layer_mm=tops[0] if tops else None,
        layer_mm=float(np.median(steps)) if len(steps) else None,
        pressure_s=_pressure(found),
        layers=len(set(tops)),
        height_mm=max(tops, default=0.0),
        filament_mm=float(found.feed.sum(dtype=float)),
        seconds=found.seconds(acceleration_mm_s2),
    )


def _usual_pull(found: Gcode) -> float | None:
    """The usual retraction [mm]: all of it, where a wipe pulls it back in pieces."""
    return float(np.median(found.pulls)) if len(found.pulls) else None


class _PartFan(NamedTuple):
    """What the part's fan usually blows [%], from where on, and the most it blows [%] while something is laid."""

    percent: float
    most_pct: float
    line: int
    z_mm: float


def _laid_under(found: Gcode, lines: Sequence[int]) -> np.ndarray:
    """Filament that is laid [mm] from each of these lines to the next."""
    set_by = np.searchsorted(lines, found.line, side="right")
    laid_mm = np.bincount(set_by, weights=np.where(found.extruding, found.feed, 0.0), minlength=len(lines) + 1)
    return laid_mm[1:]


def _pressure(found: Gcode) -> float | None:
    """The pressure compensation under which most is laid [s]."""
    laid: defaultdict[float, float] = defaultdict(float)
    for row, mm in zip(found.pressures, _laid_under(found, [row.line for row in found.pressures]), strict=True):
        laid[row.seconds] += float(mm)
    return max(laid, key=lambda seconds: laid[seconds], default=None)


def _part_fan(found: Gcode) -> _PartFan | None:
    """The fan of the part; None if nothing is laid under one, or nobody can tell how fast it is to turn.

    Usual is the middle of what is laid under a fan, by filament: bridges that are blown at harder do not count for the part.
    """
    laid_mm = _laid_under(found, [row.line for row in found.fans])
    blown = [(row, mm) for row, mm in zip(found.fans, laid_mm, strict=True) if row.percent > 0 and mm > 0]
    if not blown or _counts_to_one(found):
        return None
    rising = sorted(blown, key=lambda one: one[0].percent)
    reached = np.cumsum([mm for _, mm in rising])
    usual = rising[int(np.searchsorted(reached, reached[-1] / 2))][0].percent
    first = next(row for row, _ in blown if row.percent >= usual)
    return _PartFan(usual, rising[-1][0].percent, first.line, first.z_mm)


def _counts_to_one(found: Gcode) -> bool:
    """Whether its fan turns, if at all, only where 1 is all of it."""
    return 0 < max((row.percent for row in found.fans), default=0.0) <= FAN_ONE_PCT + 1e-9


def check_file(found: Gcode, limits: MachineLimits, *, bore_mm: float, filament_mm: float) -> list[FileFinding]:
    """Everything that is wrong with a file for a setup, what does harm first, then in the order of its lines."""
    laid = np.flatnonzero(found.extruding)
    if not len(laid):
        return [FileFinding(flaw=Flaw.EMPTY)]
    flaws = [
        *_act_flaws(found),
        *_heat_flaws(found, limits),
        *_place_flaws(found, limits, laid),
        *_layer_flaws(found, bore_mm),
        *_missing_flaws(found, laid),
        *_fan_flaws(found),
        *_feed_flaws(found, limits, laid, filament_mm),
    ]
    if found.cut_off:
        flaws.append(FileFinding(flaw=Flaw.CUT_OFF, line=found.lines, z_mm=float(found.z[laid[-1]])))
    if not found.ends_off:
        flaws.append(FileFinding(flaw=Flaw.NOT_OFF, line=found.lines))
    return sorted(flaws, key=lambda one: (not one.harmful, one.line))


def _act_flaws(found: Gcode) -> Iterator[FileFinding]:
    """What commands do beyond moves, heat and feed: the first of each that does it."""
    for act in {(one.deed, one.name): one for one in reversed(found.acts)}.values():
        yield FileFinding(flaw=Flaw(act.deed.value), command=act.name, line=act.line, z_mm=act.z_mm, found=act.number)
    if found.fed_pct != 100:
        yield FileFinding(flaw=Flaw.FLOW_OVERRIDE, found=found.fed_pct, allowed=100.0)


def _heat_flaws(found: Gcode, limits: MachineLimits) -> Iterator[FileFinding]:
    for what, cap, flaw in (
        ("nozzle", limits.nozzle, Flaw.NOZZLE_TOO_HOT),
        ("bed", limits.bed, Flaw.BED_TOO_HOT),
    ):
        hot = next((row for row in found.heats if row.what == what and not cap.allows(row.celsius)), None)
        if hot is not None:
            yield FileFinding(flaw=flaw, line=hot.line, z_mm=hot.z_mm, found=hot.celsius, allowed=cap.max_c)
    cold = np.flatnonzero((found.feed > 0) & (found.nozzle < limits.feeds_from_c))
    if len(cold):
        yield _at(found, int(cold[0]), Flaw.COLD, float(found.nozzle[cold[0]]), limits.feeds_from_c)


def _place_flaws(found: Gcode, limits: MachineLimits, laid: np.ndarray) -> Iterator[FileFinding]:
    if found.homed_at is None or (found.first_move_at is not None and found.homed_at > found.first_move_at):
        yield FileFinding(flaw=Flaw.NO_HOMING, line=found.first_move_at or 0)
    x, y, z = (column[laid] for column in (found.x, found.y, found.z))
    left, right, front, back, low, high = limits.volume.reach(slack=0.01)
    rows = np.flatnonzero((x < left) | (x > right) | (y < front) | (y > back) | (z < low) | (z > high))
    if len(rows):
        yield _at(found, int(laid[rows[0]]), Flaw.OUTSIDE, float(np.abs((x[rows[0]], y[rows[0]])).max()), 0.0)
    fast = np.flatnonzero(limits.speed_stated & (found.speed > limits.speed_mm_s + 0.01))
    if len(fast):
        yield _at(found, int(fast[0]), Flaw.SPEED, float(found.speed[fast].max()), limits.speed_mm_s)


def _layer_flaws(found: Gcode, bore_mm: float) -> Iterator[FileFinding]:
    layers = found.layers()
    first, row, _ = layers[0]
    if first > HIGHEST_FIRST * bore_mm + 1e-6:
        yield _at(found, row, Flaw.IN_AIR, first, HIGHEST_FIRST * bore_mm)
    rising = [(first, row)]
    for z, begin, _ in layers[1:]:
        if z > rising[-1][0] + 1e-6:
            rising.append((z, begin))
    tops = [0.0, *(z for z, _ in rising)]
    steps = [after - before for before, after in pairwise(tops)]
    for place in range(1, len(steps)):
        step, begin = steps[place], rising[place][1]
        if step > JUMP * bore_mm + 1e-6:
            yield _at(found, begin, Flaw.SUDDEN_Z, step, JUMP * bore_mm)
            return
        # A step is judged by its neighbours: layers may grow and shrink along a part, but not for one layer only.
        beside = max(steps[place - 1], steps[place + 1] if place + 1 < len(steps) else 0.0)
        if step > GAP * beside + 1e-6:
            yield _at(found, begin, Flaw.GAP, step, beside)
            return


def _missing_flaws(found: Gcode, laid: np.ndarray) -> Iterator[FileFinding]:
    """What should be printed and is not: nothing laid while it climbs on, fewer layers than its remarks promise."""
    after = int(laid[-1]) + 1
    top = float(found.z[laid].max())
    walked = found.lengths[after:] > 1e-6
    flat = np.diff(found.z[max(0, after - 1) :].astype(float)) == 0
    heights = np.unique(np.round(found.z[after:][walked & flat & (found.z[after:] > top + 1e-3)].astype(float), 3))
    if len(heights) >= EMPTY_HEIGHTS:
        yield FileFinding(
            flaw=Flaw.STOPS_LAYING, line=int(found.line[laid[-1]]), z_mm=top, found=float(heights.max()), allowed=top
        )
    count = len({z for z, _, _ in found.layers()})
    promised = max((number for name, number in _numbers(found) if _PROMISED.search(name)), default=0.0)
    if promised > count:
        yield FileFinding(flaw=Flaw.FEWER_LAYERS, found=float(count), allowed=promised)


def _fan_flaws(found: Gcode) -> Iterator[FileFinding]:
    """Numbers of another scale; a rule by layers as a height: a fan that comes in the middle of the part, or never."""
    if _counts_to_one(found):
        first = next(row for row in found.fans if row.percent > 0)
        most = max(row.percent for row in found.fans) / FAN_ONE_PCT
        yield FileFinding(flaw=Flaw.FAN_SCALE, line=first.line, z_mm=first.z_mm, found=most)
    layers = sorted({z for z, _, _ in found.layers()})
    rule = max((number for name, number in _numbers(found) if _FAN_RULE.search(name)), default=0.0)
    if rule > len(layers):
        yield FileFinding(flaw=Flaw.FAN_NEVER, found=rule, allowed=float(len(layers)), z_mm=layers[-1])
        return
    fan = _part_fan(found)
    if fan is not None and fan.z_mm > max(FAN_LATE_MM, FAN_LATE * layers[-1]):
        yield FileFinding(flaw=Flaw.FAN_LATE, line=fan.line, z_mm=fan.z_mm, found=fan.z_mm, allowed=layers[-1])


def _numbers(found: Gcode) -> Iterator[tuple[str, float]]:
    """Settings of remarks that are plain numbers."""
    for name, value in found.settings.items():
        try:
            yield name, float(value)
        except ValueError:
            continue


def _feed_flaws(found: Gcode, limits: MachineLimits, laid: np.ndarray, filament_mm: float) -> Iterator[FileFinding]:
    if found.longest_retraction_mm > limits.retraction_mm + 1e-6:
        rows = np.flatnonzero(found.feed < 0)
        yield _at(found, int(rows[0]), Flaw.RETRACTION, found.longest_retraction_mm, limits.retraction_mm)
    if found.fastest_pull_mm_s > limits.retraction_mm_s * SPEED_SLACK:
        row = int(np.flatnonzero((found.feed < 0) & (found.speed >= found.fastest_pull_mm_s * (1 - 1e-5)))[0])
        yield _at(found, row, Flaw.PULL_SPEED, found.fastest_pull_mm_s, limits.retraction_mm_s)
    lengths = found.lengths[laid]
    seconds = lengths / np.where(found.speed[laid] > 0, found.speed[laid], 1.0)
    volume = found.feed[laid].astype(float) * CIRCLE * filament_mm**2
    if len(laid) < MELT_WINDOW:
        return
    window = np.ones(MELT_WINDOW)
    rate = np.convolve(volume, window, "valid") / np.maximum(np.convolve(seconds, window, "valid"), 1e-9)
    worst = int(np.argmax(rate))
    if rate[worst] > limits.melt_mm3_s * 1.02:
        over = int(np.flatnonzero(rate > limits.melt_mm3_s * 1.02)[0])
        yield _at(found, int(laid[over]), Flaw.MELT_RATE, float(rate[worst]), limits.melt_mm3_s)


def _at(found: Gcode, row: int, flaw: Flaw, amount: float, allowed: float) -> FileFinding:
    if not math.isfinite(amount):
        amount = 0.0
    return FileFinding(flaw=flaw, line=int(found.line[row]), z_mm=float(found.z[row]), found=amount, allowed=allowed)


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingChange:
    """A setting that two files do not agree on; None: not in that file."""

    name: str
    left: str | None
    right: str | None


def compare_settings(left: Gcode, right: Gcode) -> list[SettingChange]:
    """Settings of remarks that differ, in the order of the first file."""
    names = list(dict.fromkeys([*left.settings, *right.settings]))
    return [
        SettingChange(name=name, left=left.settings.get(name), right=right.settings.get(name))
        for name in names
        if left.settings.get(name) != right.settings.get(name)
    ]
