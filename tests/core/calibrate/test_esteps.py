"""Rule A: what extruded lengths say about the extruder setting."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from tests.strategies import lengths, open_air_samples

from ubrex.core.calibrate import (
    Datasheet,
    EStepsFigures,
    EStepsMethod,
    EStepsReason,
    EStepsResult,
    EStepsSample,
    ExtruderSetting,
    Limiting,
    ReferencePiece,
    SettingForm,
    corrected_setting,
    diameter_ratio,
    evaluate_esteps,
    expected_reading,
    feed_ratio,
    methods_differ,
    pair_apart,
)
from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import Reason, SpreadHistory, Tool, Unit, Verdict

CALLIPER = Tool(resolution=0.01, max_permissible_error=0.03)
RULER = Tool(resolution=0.5, max_permissible_error=0.5)
SCALE = Tool(resolution=0.01, max_permissible_error=0.02)


def open_air(*readings: float, tool: Tool = CALLIPER) -> EStepsSample:
    """Cut lengths of 100 mm commanded."""
    return EStepsSample(method=EStepsMethod.OPEN_AIR, commanded_mm=100.0, readings=readings, tool=tool)


def marked(*remainders: float, tool: Tool = RULER) -> EStepsSample:
    """Remainders to a mark at 120 mm, 100 mm commanded."""
    return EStepsSample(
        method=EStepsMethod.MARKED, commanded_mm=100.0, readings=remainders, tool=tool, mark_at_mm=120.0
    )


def figures(result: EStepsResult) -> EStepsFigures:
    """The numbers of a result that has some."""
    assert result.figures is not None
    return result.figures


def test_three_short_lengths_give_the_correction_worked_out_by_hand() -> None:
    """Mean 98.3667, c = 1.016605; s = 0.251661, s/sqrt3 = 0.145297 mm; tool sqrt(0.0003 + 0.0001/12) = 0.017559 mm.

    u = 1.016605 / 0.983667 x sqrt(0.145297^2 + 0.017559^2) = 0.151254 %; nu = 2.06 cut to 2; U = 4.30265 u.
    """
    result = evaluate_esteps(open_air(98.4, 98.1, 98.6))
    found = figures(result)
    assert found.factor == pytest.approx(1.0166045, rel=1e-6)
    assert found.std_pct == pytest.approx(0.151254, rel=1e-5)
    assert found.half_width_95_pct == pytest.approx(4.302653 * 0.1512545, rel=1e-5)
    assert (result.verdict, result.reason) == (Verdict.APPLY, Reason.OUTSIDE_TOLERANCE)
    assert found.limited_by is Limiting.SCATTER


@pytest.mark.parametrize(
    ("sample", "verdict", "reason"),
    [
        (open_air(99.9, 100.1, 100.0), Verdict.KEEP, Reason.WITHIN_TOLERANCE),
        (open_air(98.62, 98.73, 99.1, 98.72), Verdict.TRY, Reason.PROBABLY_REAL),
        (open_air(99.02, 99.13, 99.4, 99.12), Verdict.KEEP, Reason.TOO_SMALL),
        (open_air(98.0, 98.3, 98.6, 98.9, 99.2), Verdict.REPEAT, EStepsReason.DRIFTING),
        (open_air(99.73, 100.52, 100.68), Verdict.REPEAT, Reason.MORE_REPEATS),
        (open_air(100.3, 101.0, 99.6, 101.1, 100.5, 100.9), Verdict.KEEP, Reason.NO_ERROR_FOUND),
        (marked(19.0, tool=Tool(resolution=1.0, max_permissible_error=2.0)), Verdict.REPEAT, Reason.CHANGE_METHOD),
        (open_air(100.0, 95.0, 103.0), Verdict.REPEAT, EStepsReason.IRREGULAR_FEED),
        (open_air(50.2, 50.1, 49.9), Verdict.REFUSE, EStepsReason.MICROSTEP_OR_GEAR_RATIO),
        (open_air(25.1, 24.9, 25.0), Verdict.REFUSE, EStepsReason.MICROSTEP_OR_GEAR_RATIO),
        (open_air(200.3, 199.8, 200.1), Verdict.REFUSE, EStepsReason.MICROSTEP_OR_GEAR_RATIO),
        (open_air(400.5, 399.7, 400.2), Verdict.REFUSE, EStepsReason.MICROSTEP_OR_GEAR_RATIO),
        (open_air(20.1, 19.9, 20.0), Verdict.REFUSE, Reason.IMPLAUSIBLE),
        (open_air(70.0, 70.1, 69.9), Verdict.REFUSE, Reason.IMPLAUSIBLE),
        (open_air(), Verdict.REFUSE, Reason.INVALID_READING),
        (open_air(98.0, -1.0), Verdict.REFUSE, Reason.INVALID_READING),
        (marked(-0.5, 20.0), Verdict.REFUSE, Reason.INVALID_READING),
        (marked(120.0, 20.0), Verdict.REFUSE, Reason.INVALID_READING),
    ],
)
def test_every_outcome_is_reached(sample: EStepsSample, verdict: Verdict, reason: Reason) -> None:
    """A person must be told to change, try, keep, measure more, or that something is wrong; each has its own reason."""
    result = evaluate_esteps(sample)
    assert (result.verdict, result.reason) == (verdict, reason)


def test_a_marked_filament_reads_the_tool_twice() -> None:
    """The mark is set and its remainder read: two places of the scale, so sqrt 2 times the tool of one reading."""
    through_mark = figures(evaluate_esteps(marked(20.0, 20.0, 20.0, tool=CALLIPER)))
    direct = figures(evaluate_esteps(open_air(100.0, 100.0, 100.0)))
    assert through_mark.fed_mm == direct.fed_mm == 100.0
    assert through_mark.std_pct == pytest.approx(math.sqrt(2) * direct.std_pct)


def test_a_reference_piece_beats_a_datasheet() -> None:
    """Density ± 2 % can never show 1 %; a weighed piece of the same spool nearly can (rules, A)."""
    piece = ReferencePiece(mass_g=2.98, length_mm=1000.0, length_tool=RULER)
    sheet = Datasheet(density_g_cm3=1.24, density_half_width_g_cm3=0.025, diameter_mm=1.75, diameter_std_mm=0.015)
    base = EStepsSample(
        method=EStepsMethod.WEIGHED, commanded_mm=1000.0, readings=(2.95, 2.96, 2.94), tool=SCALE, strand=piece
    )
    with_piece = figures(evaluate_esteps(base))
    with_sheet = figures(evaluate_esteps(replace(base, strand=sheet)))
    assert with_piece.fed_mm == pytest.approx(1000 * 2.95 / 2.98)
    assert with_piece.half_width_95_pct < 1.3 < 3.0 < with_sheet.half_width_95_pct
    assert with_sheet.limited_by is Limiting.TOOL


def test_history_narrows_two_readings_and_never_outvotes_today() -> None:
    """Earlier scatter helps where today is silent; its weight is capped, so a wild today still shows."""
    steady = SpreadHistory(std=0.2, dof=1000.0)
    pair = open_air(99.0, 99.2)
    alone = figures(evaluate_esteps(pair))
    helped = figures(evaluate_esteps(replace(pair, history=steady)))
    assert helped.half_width_95_pct < alone.half_width_95_pct / 2
    wild = figures(evaluate_esteps(replace(open_air(96.0, 100.0, 104.0), history=steady)))
    assert wild.spread_pct > 1.0


@given(open_air_samples(), st.floats(min_value=0.5, max_value=3.0))
def test_scaling_command_and_readings_together_changes_nothing(sample: EStepsSample, scale: float) -> None:
    """Feeding twice as much and measuring with a tool twice as coarse is the same knowledge."""
    tool = Tool(
        resolution=sample.tool.resolution * scale, max_permissible_error=sample.tool.max_permissible_error * scale
    )
    history = SpreadHistory(std=0.3, dof=5)
    larger = replace(
        sample,
        commanded_mm=sample.commanded_mm * scale,
        readings=tuple(reading * scale for reading in sample.readings),
        tool=tool,
        history=SpreadHistory(std=0.3 * scale, dof=5),
    )
    one, other = figures(evaluate_esteps(replace(sample, history=history))), figures(evaluate_esteps(larger))
    # Two readings that leave the history out borrow a usual scatter, which does not scale.
    assume(not (one.history_left_out and one.count < 3))
    assert other.factor == pytest.approx(one.factor)
    assert other.half_width_95_pct == pytest.approx(one.half_width_95_pct)


@given(open_air_samples())
def test_the_order_of_readings_does_not_matter(sample: EStepsSample) -> None:
    """Nobody measures in a special order."""
    backwards = replace(sample, readings=tuple(reversed(sample.readings)))
    one, other = evaluate_esteps(sample), evaluate_esteps(backwards)
    assert (one.verdict, one.reason, one.more_repeats) == (other.verdict, other.reason, other.more_repeats)
    assert figures(other).half_width_95_pct == pytest.approx(figures(one).half_width_95_pct)


@given(open_air_samples())
def test_apply_means_that_the_whole_interval_lies_outside_the_tolerance(sample: EStepsSample) -> None:
    """The one promise behind *apply*: even the near end of the 95 % interval is worth a change."""
    result = evaluate_esteps(sample)
    if result.verdict is Verdict.APPLY:
        found = figures(result)
        assert abs(found.error_pct) - found.half_width_95_pct > 1.0


@given(st.floats(min_value=1.0, max_value=5000.0), st.lists(lengths, min_size=3, max_size=6))
def test_steps_per_mm_and_mm_per_turn_say_the_same(steps: float, readings: list[float]) -> None:
    """Two forms of one setting: their product, the motor's steps per turn, is untouched by a correction."""
    factor = figures(evaluate_esteps(open_air(*readings))).factor
    by_steps = corrected_setting(ExtruderSetting(number=steps, form=SettingForm.STEPS_PER_MM), factor)
    by_turn = corrected_setting(ExtruderSetting(number=3200 / steps, form=SettingForm.MM_PER_TURN), factor)
    assert by_steps.number * by_turn.number == pytest.approx(3200.0)


def test_two_lengths_that_cannot_both_be_right_are_named() -> None:
    """2.8 % of their mean is sqrt 2 times the largest scatter a sound feed has; one reading or three are not a pair."""
    assert pair_apart((98.4, 92.1), open_air()) == pytest.approx(100 * 6.3 / 95.25)
    assert pair_apart((98.4, 98.0), open_air()) is None
    assert pair_apart((98.4, 92.1, 98.3), open_air()) is None


def test_a_sample_that_lacks_what_its_method_needs_is_refused_when_made() -> None:
    """A mark nearer than the length commanded goes inside; weighing without a mass per mm says nothing."""
    with pytest.raises(OutOfRange, match="farther away"):
        EStepsSample(method=EStepsMethod.MARKED, commanded_mm=100, readings=(1.0,), tool=CALLIPER, mark_at_mm=100)
    with pytest.raises(OutOfRange, match="mass of 1 mm"):
        EStepsSample(method=EStepsMethod.WEIGHED, commanded_mm=100, readings=(1.0,), tool=SCALE)
    with pytest.raises(OutOfRange, match="above 0"):
        ExtruderSetting(number=0, form=SettingForm.STEPS_PER_MM)


@given(before=st.floats(1, 2000), after=st.floats(1, 2000), unit=st.sampled_from([Unit.STEPS_PER_MM, Unit.MM_PER_TURN]))
def test_a_changed_setting_feeds_more_or_less_and_back_again_as_before(before: float, after: float, unit: Unit) -> None:
    """More steps for each mm feed more, more mm for each turn feed less; there and back is where it began."""
    ratio = feed_ratio(before, after, unit)
    assert ratio * feed_ratio(after, before, unit) == pytest.approx(1)
    assert (ratio > 1) is ((after > before) if unit is Unit.STEPS_PER_MM else (after < before))


@given(before=st.floats(1, 4), after=st.floats(1, 4))
def test_a_thicker_strand_entered_feeds_less_by_its_area(before: float, after: float) -> None:
    """The machine pushes the same volume with fewer mm; there and back is where it began."""
    ratio = diameter_ratio(before, after)
    assert ratio * after**2 == pytest.approx(before**2)
    assert ratio * diameter_ratio(after, before) == pytest.approx(1)


@pytest.mark.parametrize(
    ("method", "expected"),
    [(EStepsMethod.OPEN_AIR, 100.0), (EStepsMethod.MARKED, 20.0), (EStepsMethod.WEIGHED, 0.298)],
)
def test_what_a_tool_shows_when_the_feed_is_right(method: EStepsMethod, expected: float) -> None:
    """The length itself, what is left to the mark, or the mass of the length."""
    strand = ReferencePiece(mass_g=2.98, length_mm=1000.0, length_tool=Tool(resolution=0.5, max_permissible_error=0.5))
    sample = EStepsSample(
        method=method, commanded_mm=100.0, readings=(1.0,), tool=Tool(resolution=0.01, max_permissible_error=0.03),
        mark_at_mm=120.0, strand=strand,
    )  # fmt: skip
    assert expected_reading(sample) == pytest.approx(expected)


def test_a_mark_set_with_a_ruler_is_doubted_as_a_ruler_is() -> None:
    """However finely what is left is read."""
    ruler = Tool(resolution=0.5, max_permissible_error=0.5)
    fine = marked(20.0, 20.0, 20.0, tool=CALLIPER)
    rough = figures(evaluate_esteps(replace(fine, mark_tool=ruler)))
    assert rough.tool_half_width_pct == pytest.approx(1.96 * math.hypot(ruler.std, CALLIPER.std))
    assert rough.tool_half_width_pct > 5 * figures(evaluate_esteps(fine)).tool_half_width_pct


def test_a_weighed_metre_beside_a_weighed_reference_gives_an_answer() -> None:
    """The limit of the scale is in both, and cancels: half a per cent, where it would be more than one."""
    scale = Tool(resolution=0.01, max_permissible_error=0.02)
    strand = ReferencePiece(mass_g=2.98, length_mm=1000.0, length_tool=Tool(resolution=0.5, max_permissible_error=0.5))
    sample = EStepsSample(
        method=EStepsMethod.WEIGHED, commanded_mm=1000.0, readings=(2.98, 2.98, 2.98), tool=scale, strand=strand
    )
    result = evaluate_esteps(sample)
    assert figures(result).half_width_95_pct == pytest.approx(0.38, abs=0.02)
    assert result.verdict is Verdict.KEEP
    lighter = evaluate_esteps(replace(sample, strand=replace(strand, mass_g=0.3, length_mm=100.0)))
    assert figures(lighter).half_width_95_pct > 3


def test_a_coarse_scale_is_no_slipping_feed() -> None:
    """Scatter of a step or two of the scale is the scale's; the same of a fine one is the feed's."""
    strand = ReferencePiece(mass_g=1.5, length_mm=500.0, length_tool=CALLIPER)
    readings = (1.5, 1.4, 1.5)
    reasons = [
        evaluate_esteps(
            EStepsSample(
                method=EStepsMethod.WEIGHED, commanded_mm=500.0, readings=readings, strand=strand,
                tool=Tool(resolution=step, max_permissible_error=0.1),
            )
        ).reason
        for step in (0.1, 0.001)
    ]  # fmt: skip
    assert reasons[0] is not EStepsReason.IRREGULAR_FEED
    assert reasons[1] is EStepsReason.IRREGULAR_FEED


def test_a_wrong_reading_is_seen_whatever_earlier_ones_scattered() -> None:
    """98.4, 93.4 for 98.4, 98.6: a year of calm readings does not hide it."""
    calm = SpreadHistory(std=0.2, dof=20)
    result = evaluate_esteps(replace(open_air(98.4, 93.4, 98.6), history=calm))
    assert (result.verdict, result.reason) == (Verdict.REPEAT, EStepsReason.IRREGULAR_FEED)
    assert figures(result).history_left_out


def test_methods_differ_where_the_difference_is_more_than_both_doubts() -> None:
    """Root of the sum of squares of their half-widths."""
    found = figures(evaluate_esteps(open_air(98.4, 98.1, 98.6)))
    edge = math.sqrt(found.error_pct**2 - found.half_width_95_pct**2)
    assert methods_differ(found, edge - 1e-6)
    assert not methods_differ(found, edge + 1e-6)
