"""The judgement: one place per rule, the same findings whatever door asks; examples at the edge, and what holds always."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.core.judge.cases import ASA, PLA, TPU, change, codes, dry, of_parts, printed, shore, spool

from ubrex.core.calibrate import LabelRange
from ubrex.core.chain import KINDS, Kind
from ubrex.core.judge import RULES, Code, Parts, Severity, gravest_first, judge, judge_change, judge_parts, usual_of
from ubrex.core.materials import FAMILIES, Found, HeatLimit, Liner, Shore, Window, family, read_hardness

ROOT = Path(__file__).parents[3]


def row(low: float, high: float, from_mm_s: float = 0.0) -> LabelRange:
    """A row of a label."""
    return LabelRange(low_c=low, high_c=high, from_mm_s=from_mm_s)


LABELLED = replace(PLA, label=(row(215, 225), row(225, 245, 80)), label_bed=Window(low=40, high=50))

numbers = st.dictionaries(st.sampled_from(list(Kind)), st.floats(0.01, 600), max_size=8)
setups = st.builds(
    Parts,
    filament=st.sampled_from(FAMILIES),
    bore_mm=st.sampled_from((0.2, 0.4, 0.6, 1.0)),
    liner=st.sampled_from(Liner),
    hotend_max_c=st.none() | st.floats(180, 400),
    bed_max_c=st.none() | st.floats(40, 150),
    max_speed_mm_s=st.none() | st.floats(50, 600),
    direct=st.booleans(),
    bias_c=st.none() | st.floats(-20, 20),
    label=st.just(()) | st.just((row(200, 220),)),
)


def test_every_code_has_one_rule_and_the_method_page_is_that_table() -> None:
    """Rule, source, severity, who shows it: a code without a line, or a line that says something else, fails."""
    assert set(RULES) == set(Code)
    page = (ROOT / "docs/methods/judgement.md").read_text()
    rows = re.findall(r"^\| `(\w+)` \| (\w+) \| (.+?) \| (.+?) \|$", page, re.MULTILINE)
    assert rows == [(code.value, rule.severity.value, rule.source, rule.shown) for code, rule in RULES.items()]


def test_the_label_wins_over_the_family_at_the_speed_in_use() -> None:
    """At 40 mm/s this spool says 220 to 235, halfway between its rows; at 60 from 222.5 on, which is set as 223."""
    assert Code.OUTSIDE_LABEL in codes(LABELLED, {Kind.NOZZLE: 210})
    assert codes(LABELLED, {Kind.NOZZLE: 225}) == set()
    fast = usual_of(LABELLED, {Kind.SPEED_OUTER: 40}, Kind.NOZZLE)
    faster = usual_of(LABELLED, {Kind.SPEED_OUTER: 60}, Kind.NOZZLE)
    assert fast is not None
    assert faster is not None
    assert (fast.window.low, faster.window.low, faster.window.high) == (220, 223, 240)
    assert codes(LABELLED, {Kind.BED: 45}) == set()
    assert codes(LABELLED, {Kind.BED: 55}) == {Code.OUTSIDE_LABEL}
    assert codes(PLA, {Kind.BED: 45}) == {Code.OUTSIDE_FAMILY}


def test_a_label_is_compared_with_true_heat_where_the_heat_check_is_trusted() -> None:
    """A hotend that shows 4 too much is set to 224 for a true 220; one said to be 12 off moves nothing yet."""
    reads_high = replace(LABELLED, bias_c=4.0)
    assert codes(reads_high, {Kind.NOZZLE: 224}) == set()
    assert Code.OUTSIDE_LABEL in codes(reads_high, {Kind.NOZZLE: 223})
    assert codes(replace(LABELLED, bias_c=12.0), {Kind.NOZZLE: 221}) == set()


def test_limits_are_those_of_what_is_heated_and_printed_parts_limit_the_air_not_the_nozzle() -> None:
    """60 °C of a bracket round the hotend holds the chamber and leaves the nozzle alone."""
    parts = replace(PLA, printed_parts_max_c=60.0, chamber_max_c=80.0)
    assert codes(parts, {Kind.NOZZLE: 210}) == set()
    (hot,) = judge(parts, {Kind.CHAMBER: 70})
    assert (hot.code, hot.high, hot.limit) == (Code.TOO_HOT, 60.0, HeatLimit.PRINTED_PARTS)
    assert Code.PARTS_SOFTEN in of_parts(parts, fan_in_doubt=True)
    assert Code.PARTS_SOFTEN not in of_parts(parts)
    assert Code.CANNOT_PRINT in of_parts(replace(PLA, filament=family("pc"), liner=Liner.LINED))


def test_line_layer_and_speed_make_a_melt_rate_and_the_speed_that_fits_is_said() -> None:
    """600 mm/s of 0.45 by 0.2 is 49 mm³/s; beside a measured 24 it asks, and 293 mm/s would do."""
    values = {Kind.SPEED_OUTER: 600.0, Kind.LINE_WIDTH: 0.45, Kind.LAYER: 0.2, Kind.TOP_FLOW: 24.0}
    (found,) = judge(replace(PLA, max_speed_mm_s=None), values)
    assert (found.code, found.fits) == (Code.MELT_BEYOND, 294.0)
    assert judge(replace(PLA, max_speed_mm_s=None), values | {Kind.SPEED_OUTER: 294.0}) == []
    without: dict[Kind, float] = {kind: number for kind, number in values.items() if kind is not Kind.TOP_FLOW}
    assert codes(PLA, without | {Kind.SPEED_OUTER: 160}) == {Code.MELT_UNUSUAL}


def test_a_new_line_width_answers_for_the_speed_it_makes_wrong_and_not_for_what_was_wrong_before() -> None:
    """100 mm/s were fine at 0.42; at 0.5 by 0.4 they melt too much: that is asked where the width is typed."""
    before = {Kind.SPEED_OUTER: 100.0, Kind.TOP_FLOW: 8.5, Kind.LINE_WIDTH: 0.42, Kind.LAYER: 0.2}
    found = change(PLA, before, {Kind.LAYER: 0.3})
    assert found[Code.MELT_BEYOND, Kind.LAYER].rests >= {Kind.SPEED_OUTER}
    assert change(PLA, before | {Kind.SPEED_OUTER: 150.0}, {Kind.LAYER: 0.19}) == {}


@pytest.mark.parametrize(
    ("parts", "kind", "number", "code"),
    [
        (ASA, Kind.FAN, 100, Code.FAN_FAR),
        (ASA, Kind.FAN_BRIDGE, 100, Code.FAN_FAR),
        (replace(PLA, filament=family("petg")), Kind.FAN, 100, Code.FAN_FAR),
        (PLA, Kind.FAN, 30, Code.FAN_UNUSUAL),
        (TPU, Kind.SPEED_OUTER, 60, Code.FLEXIBLE_TOO_FAST),
        (replace(TPU, hardness=shore(85)), Kind.SPEED_OUTER, 24, Code.FLEXIBLE_TOO_FAST),
        (TPU, Kind.RETRACTION, 4, Code.PULL_TOO_LONG),
        (TPU, Kind.RETRACTION_SPEED, 30, Code.PULL_TOO_FAST),
        (PLA, Kind.TOP_FLOW, 40, Code.MELT_CLAIM),
        (PLA, Kind.LINE_WIDTH, 0.4, Code.LINE_UNUSUAL),
        (PLA, Kind.LINE_WIDTH, 0.55, Code.LINE_FAR),
        (PLA, Kind.LINE_WIDTH, 2.5, Code.LINE_IMPOSSIBLE),
        (PLA, Kind.LAYER, 0.7, Code.LAYER_TOO_HIGH),
        (PLA, Kind.LAYER_FIRST, 0.04, Code.LAYER_TOO_THIN),
        (PLA, Kind.NOZZLE, 236, Code.BEYOND_CEILING),
        (PLA, Kind.SPEED_FILL, 201, Code.TOO_FAST),
    ],
)
def test_a_number_that_does_not_go_with_family_path_or_bore_is_found(
    parts: Parts, kind: Kind, number: float, code: Code
) -> None:
    """One number at a time, on a setup that is right."""
    assert code in codes(parts, {kind: number})


def test_what_is_right_is_left_alone() -> None:
    """A whole profile as practitioners have it: nothing to say."""
    usual = {
        Kind.LINE_WIDTH: 0.44, Kind.LAYER: 0.2, Kind.LAYER_FIRST: 0.24, Kind.NOZZLE: 210, Kind.BED: 55, Kind.FAN: 100,
        Kind.FAN_BRIDGE: 100, Kind.SPEED_OUTER: 50, Kind.SPEED_INNER: 80, Kind.RETRACTION: 0.8,
        Kind.RETRACTION_SPEED: 35, Kind.TOP_FLOW: 11, Kind.Z_OFFSET: -1.35, Kind.E_STEPS: 92.4,
    }  # fmt: skip
    assert judge(PLA, usual) == []
    assert judge_change(PLA, {}, usual, typed=usual) == []
    assert judge_parts(PLA, usual) == []


@pytest.mark.parametrize(
    ("kind", "record", "number", "code", "fits"),
    [
        (Kind.E_STEPS, 92.4, 9240, Code.SLIP, 92.4),
        (Kind.E_STEPS, 92.4, 9.3, Code.SLIP, 93),
        (Kind.E_STEPS, 92.4, 130, Code.FAR_FROM_RECORD, None),
        (Kind.E_STEPS, None, 9240, Code.UNUSUAL, None),
        (Kind.Z_OFFSET, -1.35, 5, Code.FAR_FROM_RECORD, None),
        (Kind.Z_OFFSET, -1.35, 1.35, Code.SIGN, -1.35),
        (Kind.LAYER_FIRST, 0.24, 2.4, Code.SLIP, 0.24),
        (Kind.FAN, None, 0.4, Code.UNUSUAL, 40),
        (Kind.FAN, 50, 0.4, Code.UNUSUAL, 40),
        (Kind.FAN_BRIDGE, 100, 1, Code.SLIP, 100),
        (Kind.FAN_BRIDGE, None, 1, Code.UNUSUAL, 100),
        (Kind.FAN_BRIDGE, None, 4, Code.UNUSUAL, None),
        (Kind.FLOW, 96, 32, Code.UNUSUAL, None),
        (Kind.FLOW_SOLID, None, 150, Code.UNUSUAL, None),
        (Kind.TOP_FLOW, 9, 0.3, Code.UNUSUAL, None),
        (Kind.SPEED_FILL, 60, 3600, Code.UNUSUAL, None),
        (Kind.SPEED_OUTER, None, 0.5, Code.UNUSUAL, None),
        (Kind.RETRACTION, 4.5, 0.08, Code.UNUSUAL, None),
        (Kind.RETRACTION_SPEED, 40, 1.3, Code.UNUSUAL, None),
        (Kind.Z_HOP, 0.4, 0.02, Code.UNUSUAL, None),
        (Kind.SPEED_OUTER, 60, 6, Code.SLIP, 60),
        (Kind.BED, 60, 6, Code.SLIP, 60),
    ],
)
def test_a_slip_is_asked_about_for_every_value(
    kind: Kind, record: float | None, number: float, code: Code, fits: float | None
) -> None:
    """A factor of 10, 100, 1000 or a lost sign, against the record or what is usual; and what was probably meant."""
    found = change(PLA, {} if record is None else {kind: record}, {kind: number})
    assert found[code, kind].fits == (None if fits is None else pytest.approx(fits))


@pytest.mark.parametrize(
    ("kind", "record", "number"),
    [
        (Kind.E_STEPS, 92.4, 95.0),
        (Kind.FAN, 100, 0),
        (Kind.Z_OFFSET, -1.35, -1.3),
        (Kind.RETRACTION, 0.8, 0),
        (Kind.RETRACTION, 4.5, 0.2),
        (Kind.FLOW, 100, 75),
    ],
)
def test_an_ordinary_step_is_no_slip(kind: Kind, record: float, number: float) -> None:
    """What people change on an evening passes without a question."""
    assert {one for one, _ in change(PLA, {kind: record}, {kind: number})} <= {Code.FAN_UNUSUAL}


def test_filament_that_foams_is_commanded_at_a_third() -> None:
    """Which would be a slip of any other."""
    foamed = replace(PLA, flags=frozenset({"foaming"}))
    assert (Code.UNUSUAL, Kind.FLOW) not in change(foamed, {Kind.FLOW: 96}, {Kind.FLOW: 40})
    assert (Code.UNUSUAL, Kind.FLOW) in change(PLA, {Kind.FLOW: 96}, {Kind.FLOW: 40})


def test_hardness_is_read_on_its_scale_and_moves_the_cap() -> None:
    """98 A follows like half-stiff filament, 30 D is softer than 90 A; a number without its scale is no hardness."""
    assert [read_hardness(text) for text in ("98A", "Shore 98 A", "a 98")] == [shore(98)] * 3
    assert read_hardness("") is None
    assert replace(TPU, hardness=shore(98)).cap.distance_mm == 5.0
    assert replace(TPU, hardness=shore(30, Shore.D)).cap.distance_mm == 3.0
    assert shore(30, Shore.D).as_a == 80.0
    for text in ("95", "A 95 D", "120A", "soft"):
        with pytest.raises(ValueError, match="Shore"):
            read_hardness(text)


def test_parts_are_held_against_the_filament() -> None:
    """Fibres through brass, glitter through 0.4, soft filament past a feeder, ABS in the open, a bed nobody set."""
    filled = replace(PLA, flags=frozenset({"filled", "abrasive"}))
    assert {Code.ABRASIVE_NOZZLE, Code.SMALL_BORE} <= of_parts(filled)
    assert of_parts(replace(filled, nozzle_material="hardened", bore_mm=0.6), {Kind.BED: 55}) == set()
    assert Code.SMALL_BORE in of_parts(replace(PLA, flags=frozenset({"glitter"})))
    assert {Code.BYPASS, Code.TUBE_FOR_SOFT} <= of_parts(replace(TPU, bypass_for_soft=True))
    assert Code.OPEN_MACHINE in of_parts(replace(ASA, enclosure="none"))
    assert Code.CLOSED_MACHINE in of_parts(replace(PLA, enclosure="passive"))
    assert Code.DRAUGHT in of_parts(ASA, draught=True)
    assert Code.DRAUGHT not in of_parts(PLA, draught=True)
    assert Code.BED_UNSET in of_parts(PLA)
    assert Code.BED_UNSET not in of_parts(PLA, {Kind.BED_FIRST: 60})


@pytest.mark.parametrize(
    ("key", "entries", "state"),
    [
        ("tpu", (), "untested"),
        ("tpu", ((Found.SILENT, 1),), "never_dried"),
        ("tpu", ((Found.DRIED, 20),), "dry"),
        ("tpu", ((Found.SILENT, 1), (Found.DRIED, 169)), "overdue"),
        ("petg", ((Found.SILENT, 168),), "dry"),
        ("petg", ((Found.SILENT, 169),), "overdue"),
        ("pla", ((Found.SILENT, 720),), "dry"),
        ("pla", ((Found.SILENT, 721),), "overdue"),
        ("petg", ((Found.SILENT, 1), (Found.POPS, 2)), "wet"),
        ("petg", ((Found.POPS, 3), (Found.DRIED, 2)), "dry"),
        ("petg", ((Found.DRIED, 3), (Found.POPS, 2)), "wet"),
    ],
)
def test_filament_counts_as_dry_by_drying_and_not_by_silence_alone(
    key: str, entries: tuple[tuple[Found, float], ...], state: str
) -> None:
    """Pops last until it is dried; flexibles want drying, new and sealed too; after a week thirsty ones are asked again."""
    assert dry(key, *entries) == state


def test_a_spool_is_enough_only_with_its_reserve_and_nothing_is_claimed_of_one_nobody_weighed() -> None:
    """Need and 10 g: 90 of 100 g is enough, 91 is not; an empty one never is."""
    assert spool(100, 90) == set()
    assert spool(100, 91) == {Code.SPOOL_RESERVE}
    assert spool(100, 101) == {Code.SPOOL_SHORT}
    assert spool(0, 0) == spool(0) == {Code.SPOOL_EMPTY}
    assert spool(1000, 5, weighed=False) == {Code.SPOOL_UNWEIGHED}
    assert spool(None, 5) == set()
    assert spool(250, 5, tube=True) == set()
    assert spool(249, 5, tube=True) == {Code.SPOOL_END}
    assert spool(100, 90, reserve_g=0) == set()


def test_a_print_that_cannot_be_true_is_asked_about() -> None:
    """3000 g off a spool of 1000, 2000 g in half an hour."""
    assert printed(10, 100) == set()
    assert printed(40, 1010) == set()
    assert Code.MORE_THAN_SPOOL in printed(40, 1011)
    assert Code.FASTER_THAN_MELT in printed(0.5, 2000)


@given(parts=setups, values=numbers)
def test_the_judgement_answers_anything_and_names_a_value_that_is_there(
    parts: Parts, values: dict[Kind, float]
) -> None:
    """No number and no setup stops it; what it finds is about one of the values, and graver things come first."""
    found = judge(parts, values)
    assert all(one.kind in values for one in found)
    order = [list(Severity).index(one.severity) for one in gravest_first(found)]
    assert order == sorted(order)


@given(parts=setups, values=numbers, hotter=st.floats(0.1, 50))
def test_hotter_is_never_less_refused(parts: Parts, values: dict[Kind, float], hotter: float) -> None:
    """A limit that holds at a temperature holds above it."""
    for kind in values:
        if KINDS[kind].heats is not None and Code.TOO_HOT in codes(parts, {kind: values[kind]}):
            assert Code.TOO_HOT in codes(parts, {kind: values[kind] + hotter})


@given(parts=setups, values=numbers)
def test_the_same_values_are_judged_alike_when_they_are_typed_and_when_they_stand(
    parts: Parts, values: dict[Kind, float]
) -> None:
    """Whatever stands against values on the bench stood against them when they came in, all at once."""
    standing = {(one.code, one.kind) for one in judge(parts, values)}
    coming = {(one.code, one.kind) for one in judge_change(parts, {}, values)}
    assert standing == coming
