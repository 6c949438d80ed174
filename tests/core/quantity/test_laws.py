"""Laws that hold for any numbers: of scatter, of adding uncertainties, of the decision, of what may be typed."""

from __future__ import annotations

import math
from contextlib import suppress

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import (
    Component,
    Impossible,
    Reason,
    Slip,
    SpreadHistory,
    Tool,
    Unit,
    Verdict,
    check_entry,
    combine,
    decide,
    decimal_text,
    further_repeats,
    half_width_places,
    parse_entry,
    spread_of,
    student_quantile,
)

stds = st.floats(min_value=1e-4, max_value=10)
dofs = st.one_of(st.integers(1, 60).map(float), st.just(math.inf))
components = st.builds(Component, stds, dofs)
errors = st.floats(min_value=-30, max_value=30)
values = st.lists(st.floats(min_value=50, max_value=150), min_size=1, max_size=9)


@given(parts=st.lists(components, min_size=1, max_size=5), more=components)
def test_another_source_of_error_never_makes_a_result_surer(parts: list[Component], more: Component) -> None:
    """Standard uncertainty only grows; the degrees of freedom stay within those of the parts together."""
    before, after = combine(parts), combine([*parts, more])
    assert after.std >= before.std
    assert after.dof <= sum(part.dof for part in [*parts, more])


@given(parts=st.lists(components, min_size=2, max_size=5), scale=st.floats(min_value=1e-3, max_value=1e3))
def test_neither_order_nor_unit_matters_to_a_sum_of_uncertainties(parts: list[Component], scale: float) -> None:
    """In mm or per cent, tool first or scatter first."""
    found = combine(parts)
    turned = combine([Component(part.std * scale, part.dof) for part in reversed(parts)])
    assert turned.std == pytest.approx(found.std * scale, rel=1e-9)
    assert turned.dof == pytest.approx(found.dof, abs=1)


def test_nothing_uncertain_is_certain_and_only_finite_parts_limit_the_degrees_of_freedom() -> None:
    """0 with any degrees of freedom adds nothing; a tool alone is as sure as the normal distribution says."""
    assert combine([Component(0.0, 2)]) == Component(0.0, math.inf)
    assert combine([Component(0.3), Component(0.4)]) == Component(0.5, math.inf)
    assert student_quantile(0.975, math.inf) == pytest.approx(1.959964, abs=1e-6)
    assert student_quantile(0.975, 2) == pytest.approx(4.302653, abs=1e-6)
    assert student_quantile(0.95, 3) == pytest.approx(2.353363, abs=1e-6)


@given(numbers=values, shift=st.floats(min_value=-40, max_value=40))
def test_scatter_does_not_care_where_the_readings_lie(numbers: list[float], shift: float) -> None:
    """98.4 and 98.6 scatter as 8.4 and 8.6 do."""
    here = spread_of(numbers, history=None, usual_std=0.5)
    there = spread_of([number + shift for number in numbers], history=None, usual_std=0.5)
    assert there.mean == pytest.approx(here.mean + shift)
    assert there.std == pytest.approx(here.std, abs=1e-6)
    assert there.dof == here.dof


@given(numbers=values, std=stds, dof=st.floats(min_value=1, max_value=500))
def test_history_pulls_scatter_towards_itself_and_never_past(numbers: list[float], std: float, dof: float) -> None:
    """Pooled scatter lies between today and before; what is usual counts instead where two readings contradict that."""
    assume(len(numbers) > 1)
    alone = math.sqrt(sum((number - sum(numbers) / len(numbers)) ** 2 for number in numbers) / (len(numbers) - 1))
    pooled = spread_of(numbers, history=SpreadHistory(std=std, dof=dof), usual_std=0.5)
    low, high = sorted((alone, 0.5 if pooled.history_left_out and len(numbers) == 2 else std))
    assert low - 1e-9 <= pooled.std <= high + 1e-9


@given(numbers=values, tool=st.floats(min_value=0, max_value=0.6), target=st.floats(min_value=0.2, max_value=3))
def test_the_repeats_asked_for_are_the_fewest_that_do(numbers: list[float], tool: float, target: float) -> None:
    """One fewer would not reach the target; none at all where none of thirty would."""
    spread = spread_of(numbers, history=None, usual_std=0.5)

    def half_width(extra: int) -> float:
        count = spread.count + extra
        total = combine([Component(spread.std / math.sqrt(count), spread.dof + extra), Component(tool)])
        return student_quantile(0.975, total.dof) * total.std

    found = further_repeats(spread, scale=1.0, tool_std=tool, target=target)
    if found is None:
        assert all(half_width(extra) > target for extra in range(31))
    else:
        assert half_width(found) <= target
        assert all(half_width(extra) > target for extra in range(found))


@given(error=errors, total=components, helps=st.booleans(), target=st.sampled_from([1.0, 2.0]))
def test_every_decision_can_be_defended_from_its_own_numbers(
    error: float, total: Component, helps: bool, target: float
) -> None:
    """Each verdict implies what it claims about the interval; no number is left without a verdict."""
    found = decide(error, total, tolerance=1.0, target=target, more_helps=helps, cheap=helps)
    size, reach, guard = abs(error), found.half_width_95, found.guard
    assert guard < reach
    claims = {
        (Verdict.KEEP, Reason.WITHIN_TOLERANCE): size + guard <= 1.0,
        (Verdict.APPLY, Reason.OUTSIDE_TOLERANCE): size - reach > 1.0,
        (Verdict.REPEAT, Reason.MORE_REPEATS): reach > target and helps,
        (Verdict.REPEAT, Reason.CHANGE_METHOD): reach > target and reach >= size and not helps,
        (Verdict.TRY, Reason.PROBABLY_REAL): size > reach and size > 1.0 and (reach <= target or not helps),
        (Verdict.TRY, Reason.BEST_GUESS): reach >= size > 1.0 and reach <= target,
        (Verdict.KEEP, Reason.TOO_SMALL): reach < size <= 1.0,
        (Verdict.KEEP, Reason.NO_ERROR_FOUND): size <= min(1.0, reach) and reach <= target,
    }
    assert claims[found.verdict, found.reason]


@given(error=errors, total=components)
def test_less_scatter_never_takes_an_apply_away(error: float, total: Component) -> None:
    """Whoever measures better keeps what was proven."""
    found = decide(error, total, tolerance=1.0, target=1.0, more_helps=False)
    better = decide(error, Component(total.std / 2, total.dof), tolerance=1.0, target=1.0, more_helps=False)
    if found.verdict is Verdict.APPLY:
        assert better.verdict is Verdict.APPLY


@given(value=st.floats(min_value=-1e6, max_value=1e6), half_width=st.floats(min_value=1e-6, max_value=1e4))
def test_what_is_shown_is_never_farther_off_than_half_its_last_digit(value: float, half_width: float) -> None:
    """And a half-width never vanishes when it is shown."""
    places = half_width_places(half_width)
    shown = float(decimal_text(value, places).replace("\N{MINUS SIGN}", "-"))
    assert abs(shown - value) <= 0.5 * 10**-places + 1e-9
    assert float(decimal_text(half_width, places)) > 0
    assert not decimal_text(value, places).startswith("\N{MINUS SIGN}0.0" + "0" * places)


@given(text=st.text(max_size=40), unit=st.sampled_from([Unit.MM, Unit.G, Unit.STEPS_PER_MM]))
def test_whatever_is_typed_is_a_number_or_an_entry_that_says_so(text: str, unit: Unit) -> None:
    """No keyboard, paste or autocorrection gets anything else out of it."""
    with suppress(UnreadableEntry):
        assert isinstance(parse_entry(text, unit), float)


@given(value=st.floats(allow_nan=False, allow_infinity=True), commanded=st.floats(min_value=10, max_value=2000))
def test_a_slip_is_offered_only_where_the_shifted_number_looks_right(value: float, commanded: float) -> None:
    """What is suggested can be true, comes near what was commanded, and holds the same digits."""
    low, high = commanded / 5, commanded * 5
    found = check_entry(value, fed=lambda reading: reading, commanded=commanded, low=low, high=high)
    match found:
        case None:
            assert abs(value / commanded - 1) <= 0.2
        case Slip(suggested=suggested):
            assert abs(suggested / commanded - 1) <= 0.1
            assert math.log10(suggested / value) == pytest.approx(round(math.log10(suggested / value)), abs=1e-6)
        case Impossible():
            assert not low <= value < high
        case _:
            assert low <= value < high


@given(step=st.floats(min_value=1e-3, max_value=1), limit=st.floats(min_value=0, max_value=1))
def test_a_difference_of_two_readings_is_between_one_reading_and_two(step: float, limit: float) -> None:
    """The limit is the same at both places, the digit is not."""
    tool = Tool(resolution=step, max_permissible_error=limit)
    assert tool.std <= tool.std_of_difference <= math.sqrt(2) * tool.std * (1 + 1e-12)
