"""Readings, spreads, decisions and how numbers are shown."""

from __future__ import annotations

import math
import pickle

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ubrex.core.errors import OutOfRange, UnreadableEntry
from ubrex.core.quantity import (
    Component,
    FarOff,
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
    half_width_places,
    parse_entry,
    pooled_history,
    spread_of,
)


@pytest.mark.parametrize(
    ("typed", "number"),
    [
        ("98.4", 98.4),
        ("98,4", 98.4),
        (".85", 0.85),
        ("0,85 mm", 0.85),
        ("9.84cm", 98.4),
        ("3.874 in", 98.3996),
        ('3.874"', 98.3996),
        ("−0.5", -0.5),
    ],
)
def test_a_length_is_read_however_it_is_typed(typed: str, number: float) -> None:
    """A comma is a decimal mark, and a display switched to inches happens."""
    assert parse_entry(typed, Unit.MM) == pytest.approx(number)


@pytest.mark.parametrize("typed", ["", "   ", "abc", "98.4.1", "1e3", "98 4", "98.4 kg", "--3"])
def test_text_that_is_no_length_is_refused_with_what_was_typed(typed: str) -> None:
    """Nothing typed is lost: the error carries it back to the field."""
    with pytest.raises(UnreadableEntry) as caught:
        parse_entry(typed, Unit.MM)
    assert caught.value.details["text"] == typed


@given(st.floats(min_value=0, max_value=9999, allow_nan=False).map(lambda value: round(value, 3)))
def test_a_number_typed_as_it_is_shown_reads_back(value: float) -> None:
    """What the screen shows, the field takes."""
    assert parse_entry(decimal_text(value, 3), Unit.MM) == pytest.approx(value, abs=1e-9)


def _asked(value: float) -> object:
    return check_entry(value, fed=lambda reading: reading, commanded=100.0, low=20.0, high=500.0)


def test_questions_at_entry_come_in_their_order() -> None:
    """A slip is asked about first, because its answer is one key; then what cannot be; then what is far off."""
    assert _asked(98.4) is None
    assert _asked(984.0) == Slip(suggested=98.4)
    assert _asked(9.84) == Slip(suggested=98.4)
    assert _asked(98400.0) == Slip(suggested=98.4)
    assert _asked(3.0) == Impossible(low=20.0, high=500.0)
    assert _asked(-98.4) == Impossible(low=20.0, high=500.0)
    assert _asked(50.0) == FarOff(error=-0.5)


def test_a_wrong_microstep_setting_is_not_taken_for_a_slip() -> None:
    """Half, double and four times the length are real machines; only powers of ten are typing."""
    for length in (25.0, 50.0, 200.0, 400.0):
        assert isinstance(_asked(length), FarOff)


def test_usual_scatter_stands_in_for_two_readings_and_own_scatter_for_three() -> None:
    """(2 x 0.5^2 + 0.02) / 3 = 0.17333; three readings of sd 0.1 need nobody's help."""
    pair = spread_of([99.9, 100.1], history=None, usual_std=0.5)
    assert [pair.std, pair.dof] == pytest.approx([math.sqrt(0.52 / 3), 3])
    three = spread_of([99.9, 100.0, 100.1], history=None, usual_std=0.5)
    assert [three.std, three.dof] == pytest.approx([0.1, 2])


def test_an_old_history_is_capped_at_twenty_degrees_of_freedom() -> None:
    """Otherwise a year of calm would hide a bad evening."""
    found = spread_of([99.9, 100.1], history=SpreadHistory(std=0.1, dof=500), usual_std=0.5)
    assert found.dof == 21
    assert found.std == pytest.approx(math.sqrt((20 * 0.01 + 0.02) / 21))


def test_an_earlier_scatter_is_left_out_where_today_scatters_more() -> None:
    """Else a year of calm would hide a bad evening, and a wrong reading with it."""
    found = spread_of([98.4, 93.4, 98.6], history=SpreadHistory(std=0.3, dof=6), usual_std=0.5)
    assert (found.history_left_out, found.dof) == (True, 2)
    assert found.std == found.own_std == pytest.approx(2.947, abs=1e-3)
    two = spread_of([98.4, 93.4], history=SpreadHistory(std=0.3, dof=6), usual_std=0.5)
    assert (two.history_left_out, two.dof) == (True, 3)


def test_history_pools_within_groups_and_ignores_their_levels() -> None:
    """Settings changed between runs: only the scatter inside each run is history."""
    found = pooled_history([[99.9, 100.1], [50.0, 50.2], [70.0]])
    assert found is not None
    assert [found.std, found.dof] == pytest.approx([math.sqrt(0.02), 2])
    assert pooled_history([[98.0], []]) is None


def test_degrees_of_freedom_are_cut_down_never_up() -> None:
    """GUM G.4.1 gives 3.1 here: 3, so that the interval is never kinder than it should be."""
    found = combine([Component(1.0, 2.0), Component(0.5)])
    assert found.dof == 3
    assert combine([Component(1.0), Component(1.0)]) == Component(math.sqrt(2))


@given(
    st.floats(min_value=-10, max_value=10),
    st.floats(min_value=0.01, max_value=5),
    st.integers(min_value=1, max_value=30),
)
def test_the_sign_of_an_error_never_changes_the_verdict(error: float, std: float, dof: int) -> None:
    """Too much and too little are judged alike."""
    plus, minus = (
        decide(sign * error, Component(std, dof), tolerance=1.0, target=1.0, more_helps=True) for sign in (1, -1)
    )
    assert plus == minus


def test_keep_needs_proof_or_a_usable_interval() -> None:
    """A coarse tool that sees nothing must not say that all is well."""
    coarse = decide(0.0, Component(2.0), tolerance=1.0, target=1.0, more_helps=False)
    assert (coarse.verdict, coarse.reason) == (Verdict.REPEAT, Reason.CHANGE_METHOD)


@pytest.mark.parametrize(
    ("half_width", "places"),
    [(0.651, 1), (0.132, 2), (0.096, 2), (0.19, 2), (1.73, 1), (1.96, 1), (2.2, 0), (14.0, 0), (0.012, 3)],
)
def test_a_half_width_shows_one_digit_or_two_when_the_first_is_one(half_width: float, places: int) -> None:
    """Interface section 6. 0.096 carries to 0.10."""
    assert half_width_places(half_width) == places


def test_a_tool_without_a_step_is_refused() -> None:
    """A resolution of 0 would claim a certainty nobody has."""
    with pytest.raises(OutOfRange):
        Tool(resolution=0, max_permissible_error=0.03)


def test_errors_survive_a_process_border() -> None:
    """Their details must still be there after pickling."""
    error = pickle.loads(pickle.dumps(OutOfRange("too small", name="resolution", value=0.0)))
    assert (str(error), error.details) == ("too small", {"name": "resolution", "value": 0.0})
