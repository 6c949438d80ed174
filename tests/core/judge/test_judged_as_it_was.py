"""The judgement gives what it gave, over every family on crooked setups: whoever changes a rule sees how far it reaches."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import product

import pytest
from tests.fingerprints import Fingerprint, assert_unchanged

from ubrex.core.calibrate import LabelRange
from ubrex.core.chain import Kind
from ubrex.core.judge import Finding, Parts, judge, judge_change, judge_parts, judge_print, judge_spool, slip
from ubrex.core.materials import FAMILIES, Hardness, Liner, Shore, Window, family

PLAIN = Parts(filament=family("pla"), bore_mm=0.4)
LABEL = (LabelRange(low_c=200, high_c=220), LabelRange(low_c=225, high_c=245, from_mm_s=120))
SETUPS = (
    PLAIN,
    replace(PLAIN, liner=Liner.LINED, hotend_max_c=300, bed_max_c=60, bias_c=-6.5, has_surface=False),
    replace(PLAIN, hotend_max_c=250, direct=False, bypass_for_soft=True, enclosure="passive", surface_max_c=70),
    replace(PLAIN, bore_mm=0.25, flags=frozenset({"glitter", "filled"}), bias_c=11.0, printed_parts_max_c=50),
    replace(PLAIN, bore_mm=0.6, flags=frozenset({"silky"}), bias_c=11.0, bias_confirmed=True, max_speed_mm_s=90),
    replace(PLAIN, label=LABEL, label_bed=Window(low=50, high=60), hardness=Hardness(30, Shore.D), direct=False),
    replace(PLAIN, hardness=Hardness(82, Shore.A), enclosure="heated", chamber_max_c=60, max_speed_mm_s=300),
)
NUMBERS: tuple[dict[Kind, float], ...] = (
    {},
    {Kind.NOZZLE: 205, Kind.NOZZLE_FIRST: 215, Kind.BED: 60, Kind.FAN: 100, Kind.SPEED_OUTER: 40, Kind.LAYER: 0.2},
    {Kind.NOZZLE: 262, Kind.BED: 105, Kind.BED_FIRST: 110, Kind.CHAMBER: 55, Kind.FAN: 0, Kind.FAN_BRIDGE: 30},
    {
        Kind.LINE_WIDTH: 0.5, Kind.LAYER: 0.28, Kind.LAYER_FIRST: 0.34, Kind.SPEED_OUTER: 60, Kind.SPEED_INNER: 130,
        Kind.SPEED_FILL: 210, Kind.NOZZLE: 232,
    },
    {Kind.LINE_WIDTH: 0.3, Kind.LAYER: 0.06, Kind.RETRACTION: 4.2, Kind.RETRACTION_SPEED: 55, Kind.TOP_FLOW: 17},
    {Kind.RETRACTION: 0.9, Kind.RETRACTION_SPEED: 22, Kind.TOP_FLOW: 5, Kind.SPEED_FILL: 80, Kind.LAYER: 0.24},
)  # fmt: skip


def setups() -> Iterator[Parts]:
    """Every family on every setup."""
    for kind, parts in product(FAMILIES, SETUPS):
        yield replace(parts, filament=kind)


def judged() -> Iterator[list[Finding]]:
    """Numbers, and what they mean beside others."""
    for parts, numbers in product(setups(), NUMBERS):
        yield judge(parts, numbers)
        yield judge_change(parts, {Kind.NOZZLE: 210, Kind.LAYER: 0.2, Kind.FAN: 50}, numbers, typed=numbers)


def of_parts() -> Iterator[list[Finding]]:
    """What parts and filament say together, in a room nobody looked at and in a damp and draughty one."""
    for parts, numbers in product(setups(), NUMBERS[:3]):
        yield judge_parts(parts, numbers)
        yield judge_parts(parts, numbers, draught=True, humidity_pct=61, fan_in_doubt=True)


def slips() -> Iterator[Finding | None]:
    """A factor of 10, 100, 1000, a lost sign, and honest neighbours, for every kind."""
    for kind, times in product(Kind, (0.001, 0.0101, 0.1, 0.45, 1.02, 2.2, 9.7, 100, 1000, -1)):
        yield slip(kind, 3.7 * times, 3.7)
        yield slip(kind, 41.0 * times, None)


def spools() -> Iterator[list[Finding]]:
    """What is left against what is needed; prints that cannot have been."""
    lefts, needs = (None, 0.0, 9.0, 60.0, 260.0), (None, 0.5, 55.0, 251.0)
    for left, need, weighed, fed in product(lefts, needs, (True, False), (True, False)):
        yield judge_spool(left_g=left, need_g=need, weighed=weighed, full_g=1000.0, tube=fed)
    for hours, grams, full in product((0.2, 3.0), (12.0, 140.0, 1300.0), (None, 1000.0)):
        yield judge_print(hours=hours, grams=grams, density_g_cm3=1.24, full_g=full)


WERE: dict[str, Fingerprint] = {
    "judged": (20144, 1793201300, 523.4407132414929, -143.1451795885902),
    "of_parts": (3912, 3088439168, 241.13259934541048, -96.6797142311041),
    "slips": (2823, 137972543, 342.7818974680694, -162.28497169319715),
    "spools": (308, 876519888, 110.42846460689532, 89.38132687858382),
}


@pytest.mark.parametrize("what", [judged, of_parts, slips, spools])
def test_the_judgement_gives_what_it_gave(what: Callable[[], Iterator[object]]) -> None:
    """Codes, limits, what fits and why, to the last digit."""
    assert_unchanged(list(what()), WERE[what.__name__])
