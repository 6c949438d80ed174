"""The rules held against truths of our own: the limits they have to keep, and the table they are read from."""

from __future__ import annotations

import pytest

from tests.simulated.evidence import Evidence, gather

pytestmark = pytest.mark.slow

TRIALS = 2000
NOISE = 0.011
"""Two standard errors of a share of 5 % in so many trials, rounded up."""


@pytest.fixture(scope="module")
def seen() -> Evidence:
    """All rows, printed once."""
    found = gather(TRIALS)
    print(f"\n{found.tables()}")
    return found


def test_intervals_cover_what_they_promise_where_the_world_is_as_assumed(seen: Evidence) -> None:
    """93 of 100 and more; limits of tools are rectangular, so that a few rows cover nearly all."""
    for one in seen.evenings:
        if one.on_model:
            assert one.coverage >= 0.93 - NOISE, one


def test_what_is_right_is_changed_in_one_of_twenty_at_most(seen: Evidence) -> None:
    """By a run in every world, by a tower with every rater; a trial is a reprint, and no change yet."""
    right = [one for one in seen.evenings if one.right]
    assert any(not one.on_model for one in right)
    for one in right:
        # Not a hand that did not do what was asked, nor jaws five times as far off as the check found them; and a hand that
        # cuts worse than it used to is told from its record too seldom to keep an error of just the tolerance.
        known = ("never read softly", "0.05 unseen", *(["a hand of 0.8"] if one.truth else []))
        if not any(world in one.world for world in known):
            assert one.applied <= 0.05 + NOISE, one
    assert {tower.rater for tower in seen.towers} == {"exact", "strict", "mild"}
    for tower in seen.towers:
        assert tower.right_changed <= 0.05 + 1.5 * NOISE, tower


def test_a_slip_of_the_fingers_is_swallowed_in_one_of_a_hundred_at_most(seen: Evidence) -> None:
    """Two digits swapped, in one reading of twenty, with a year of calm readings behind it."""
    slipped = [one for one in seen.evenings if "swapped" in one.world]
    assert slipped
    assert all(one.swallowed <= 0.01 for one in slipped), slipped


def test_no_more_error_is_left_than_a_careful_spreadsheet_leaves(seen: Evidence) -> None:
    """Where a change was due, in every world; and nothing is changed for nothing where it was not."""
    # Where a hand presses walls in the sheet is right by two errors of its own, which cancel: see the next test.
    seeing = [one for one in seen.evenings if "pressed in" not in one.world]
    due = [one for one in (*seeing, *seen.loops) if abs(one.truth) >= 2 * one.tolerance]
    assert len(due) > 40
    for one in due:
        assert one.ratio <= 1.05 + 2 / TRIALS**0.5, one


def test_walls_pressed_in_and_read_softly_leave_hardly_more_than_walls_that_stand(seen: Evidence) -> None:
    """What was asked for before a change takes most of what the hand did away, and the interval covers again."""
    left = {(one.world, one.truth): one for one in seen.evenings if one.rule == "flow"}
    softly = [one for one in left.values() if one.world.endswith("pressed in by 0.015")]
    assert len(softly) == 5
    for one in softly:
        assert one.coverage >= 0.93, one
        assert one.left <= 1.25 * left["one line, zero checked", one.truth].left, one
        assert one.left <= left["one line, pressed in by 0.015, never read softly", one.truth].left, one


def test_four_walls_and_a_checked_calliper_tell(seen: Evidence) -> None:
    """Nine of ten evenings end with the first box."""
    honest = [one for one in seen.evenings if one.rule == "flow" and "checked" in one.world and "not" not in one.world]
    assert len(honest) >= 10
    assert all(one.unsure <= 0.10 for one in honest)


def test_a_loop_settles(seen: Evidence) -> None:
    """Within three feeds or prints on average, four where two corrections are made in turn, and nearly always."""
    for one in seen.loops:
        in_turn = " and " in one.rule
        assert one.kept >= 0.85, one
        assert one.prints <= (4.2 if in_turn else 3.2), one


def test_towers_beat_the_best_rated_band_where_the_rater_goes_by_the_scale(seen: Evidence) -> None:
    """Less score is lost than by taking the band that was rated best."""
    exact = [one for one in seen.towers if one.rater == "exact" and one.rule.startswith("temperature")]
    assert len(exact) == 3
    assert all(one.regret < one.by_hand for one in exact)


def test_the_rest_of_the_chain_keeps_what_it_promises(seen: Evidence) -> None:
    """Its intervals cover, it claims nothing that is not there, and it leaves less than the naive way does."""
    assert len(seen.chain) >= 20
    for one in seen.chain:
        assert one.coverage is None or one.coverage >= 0.93 - 2 * NOISE, one
        # Sixteen checks in a row are sixteen chances of an alarm.
        assert one.false is None or one.false <= (0.09 if one.rule == "drift" else 0.05 + NOISE), one
        assert one.found is None or one.found >= 0.6, one
        # A heat check leaves what it cannot confirm: by design it leaves more than somebody who believes every probe.
        if one.left is not None and one.naive is not None and not one.rule.startswith("heat"):
            assert one.left <= one.naive, one
