"""Standing, what a change does to it, what is next: examples from the job, and what holds whatever happens."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ubrex.core.chain import (
    AGEING,
    BASES,
    CARRIES,
    COSTS,
    EFFECTS,
    FOLLOWS,
    KINDS,
    MAIN_KIND,
    PART_OF,
    ROWS,
    SETTLED,
    SHOWS,
    Against,
    AgeingLimits,
    Belongs,
    Change,
    Danger,
    Done,
    Effect,
    Grade,
    Kind,
    NextReason,
    Origin,
    Part,
    Purpose,
    Since,
    Standing,
    Step,
    StepState,
    against,
    all_asked,
    asked_of,
    dangers,
    missing_for,
    next_step,
    remaining,
    standing,
    temperature_change,
    total,
    unattended,
)

TODAY = 20000.0
HALF_YEAR = AgeingLimits(days=180)
WORSE = [
    Standing.FRESH,
    Standing.AGEING,
    Standing.ASSUMED,
    Standing.CHECK,
    Standing.OUT,
    Standing.RE_ENTER,
    Standing.STALE,
    Standing.HOLD,
]
"""From what may be rested on to what may not."""

done_lists = st.lists(
    st.builds(
        Done,
        st.sampled_from(Change),
        st.integers(0, 400).map(lambda days: TODAY - days),
        st.integers(0, 10**6),
    ),
    max_size=8,
    unique_by=lambda row: row.key,
)
RUNS = frozenset(Step) - {Step.HEAT, Step.PRESSURE}
"""Steps whose calibration exists, in these tests."""

states = st.dictionaries(
    st.sampled_from(Step),
    st.builds(
        StepState,
        standing=st.sampled_from(Standing),
        verified=st.booleans(),
        run_open=st.booleans(),
    ),
)


def days(number: float) -> Since:
    """A while in which nothing was printed."""
    return Since(days=number)


@pytest.mark.parametrize(
    ("origin", "age_days", "found"),
    [
        (None, 0.0, Standing.NEVER),
        (Origin.TYPED, 0.0, Standing.ASSUMED),
        (Origin.COPIED, 0.0, Standing.ASSUMED),
        (Origin.LABEL, 400.0, Standing.ASSUMED),
        (Origin.MEASURED, 180.0, Standing.FRESH),
        (Origin.MEASURED, 180.5, Standing.AGEING),
        (Origin.RESTORED, 3000.0, Standing.AGEING),
    ],
)
def test_age_alone_makes_a_value_ageing_and_never_worse(
    origin: Origin | None, age_days: float, found: Standing
) -> None:
    """A matrix that cries wolf gets switched off."""
    assert standing(origin=origin, since=days(age_days), limits=HALF_YEAR) is found


@pytest.mark.parametrize(
    "since",
    [
        Since(days=3, plain_g=2001),
        Since(days=3, abrasive_g=301),
        Since(days=91),
    ],
)
def test_grams_through_the_nozzle_age_what_rests_on_it(since: Since) -> None:
    """Two kilograms of plain filament, or three hundred grams of abrasive, or three months (job, section 4)."""
    assert standing(origin=Origin.MEASURED, since=since, limits=AGEING[Step.FLOW]) is Standing.AGEING
    assert standing(origin=Origin.MEASURED, since=since, limits=AGEING[Step.E_STEPS]) is Standing.FRESH


@given(
    origin=st.sampled_from([None, *Origin]),
    asked=st.sampled_from([None, *Effect]),
    age=st.floats(0, 4000),
    out=st.booleans(),
)
def test_a_change_never_makes_anything_fresher(
    origin: Origin | None, asked: Effect | None, age: float, out: bool
) -> None:
    """And what was never measured stays so, but for waiting until the filament is dry."""
    before = standing(origin=origin, since=days(age), limits=HALF_YEAR, out=out)
    after = standing(origin=origin, since=days(age), limits=HALF_YEAR, out=out, asked=asked)
    if before is Standing.NEVER:
        assert after is (Standing.HOLD if asked is Effect.HOLD else Standing.NEVER)
    else:
        assert WORSE.index(after) >= WORSE.index(before)


@given(done=done_lists, more=done_lists, step=st.sampled_from(Step), shown=st.integers(0, 400))
def test_logging_one_more_change_never_asks_for_less_unless_it_is_dry_filament(
    done: list[Done], more: list[Done], step: Step, shown: int
) -> None:
    """Only drying, or another spool, takes a demand away."""

    def weight(rows: list[Done]) -> int:
        found = asked_of(step, rows, shown_true_at=TODAY - shown)
        return 99 if found is None else list(Effect).index(EFFECTS[found.change][step])

    drying = {Change.DRIED, Change.SPOOL_SAME, Change.COLOUR_OTHER, Change.FILAMENT_OTHER}
    added = [row for row in more if row.change not in drying]
    assert weight(done + added) <= weight(done)


@given(data=st.data(), done=done_lists, step=st.sampled_from(Step))
def test_the_order_of_logging_does_not_matter(data: st.DataObject, done: list[Done], step: Step) -> None:
    """What happened counts by when it happened, not by when somebody found the time to write it down."""
    shuffled = data.draw(st.permutations(done))
    shown = TODAY - 200
    assert asked_of(step, done, shown_true_at=shown) == asked_of(step, shuffled, shown_true_at=shown)


@given(
    done=done_lists,
    step=st.sampled_from(Step),
    shown=st.none() | st.integers(0, 400),
    read=st.none() | st.integers(0, 400),
)
def test_of_several_changes_of_one_kind_only_the_newest_matters(
    done: list[Done], step: Step, shown: int | None, read: int | None
) -> None:
    """What the facts of a setup rest on: earlier ones need not be fetched."""
    newest = {row.change: row for row in sorted(done, key=lambda row: (row.at_day, row.key))}
    moments = {
        "shown_true_at": None if shown is None else TODAY - shown,
        "read_back_at": None if read is None else TODAY - read,
    }
    assert asked_of(step, done, **moments) == asked_of(step, newest.values(), **moments)


DRIES = {Change.DRIED, Change.SPOOL_SAME, Change.COLOUR_OTHER, Change.FILAMENT_OTHER}
"""What ends a wait for dry filament."""


@given(
    changes=st.sets(st.sampled_from([change for change in Change if change not in DRIES])), step=st.sampled_from(Step)
)
def test_the_gravest_of_several_changes_is_asked(changes: set[Change], step: Step) -> None:
    """Wait, measure anew, put back, rescale, look: the first of these that anything asks for, where nothing was dried."""
    found = asked_of(step, [Done(change, TODAY, key) for key, change in enumerate(changes)], shown_true_at=TODAY - 1)
    asked = {EFFECTS[change][step] for change in changes if step in EFFECTS[change]}
    assert (None if found is None else EFFECTS[found.change][step]) == next(
        (row for row in Effect if row in asked), None
    )


def test_wet_filament_holds_even_what_was_measured_since_until_it_is_dried() -> None:
    """A reading taken from popping filament answers nothing; drying asks only for a look at retraction."""
    wet, dried = Done(Change.WET, TODAY - 5, 1), Done(Change.DRIED, TODAY - 1, 2)
    measured = TODAY - 3
    assert asked_of(Step.TEMPERATURE, [wet], shown_true_at=measured) == wet
    assert asked_of(Step.TEMPERATURE, [wet, dried], shown_true_at=measured) is None
    assert asked_of(Step.RETRACTION, [wet, dried], shown_true_at=measured) == dried
    assert asked_of(Step.E_STEPS, [wet], shown_true_at=None) is None


def test_a_matching_read_back_answers_flashed_firmware_and_nothing_else() -> None:
    """Re-entering is about what is stored; a new gear wants a measurement."""
    flashed, gear = Done(Change.FIRMWARE, TODAY - 4, 1), Done(Change.EXTRUDER, TODAY - 4, 2)
    long_ago, read = TODAY - 90, TODAY - 1
    assert asked_of(Step.E_STEPS, [flashed], shown_true_at=long_ago, read_back_at=read) is None
    assert asked_of(Step.E_STEPS, [flashed, gear], shown_true_at=long_ago, read_back_at=read) == gear


@pytest.mark.parametrize(
    ("change", "asked"),
    [
        (Change.NOZZLE_SAME, {"z_offset": "R", "temperature": "c", "flow": "R", "pressure": "c", "retraction": "c"}),
        (Change.SPOOL_SAME, {"flow": "c"}),
        (Change.FIRMWARE, {"safety": "R", "heat": "e", "e_steps": "e", "level": "e", "z_offset": "e", "pressure": "e"}),
        (Change.ROOM, {"temperature": "c", "bed": "R"}),
        (Change.PLATE_WASHED, {}),
    ],
)
def test_the_matrix_says_what_the_trade_says(change: Change, asked: dict[str, str]) -> None:
    """Rows read aloud from the job; top speed is left out where it is only looked at."""
    letters = {"R": Effect.REDO, "c": Effect.CHECK, "e": Effect.RE_ENTER}
    found = {step: effect for step, effect in EFFECTS[change].items() if step is not Step.TOP_SPEED}
    assert found == {Step(step): letters[letter] for step, letter in asked.items()}


def test_every_table_covers_everything_it_is_asked_for() -> None:
    """A change, a step or a value that is missing from one would fail on the bench, not here."""
    assert set(EFFECTS) == set(Change) == set(PART_OF)
    assert set(AGEING) == set(COSTS) == set(BASES) == set(Step)
    assert [step for row in ROWS for step in row] == [*list(Step)[1:6], Step.BED, *list(Step)[6:-1]]
    assert set(KINDS) == set(Kind)
    assert set(MAIN_KIND) == set(Step) - {Step.SAFETY}
    assert not {change for change in Change if not EFFECTS[change]} - {
        Change.PLATE_WASHED,
        Change.GREASED,
        Change.MECHANICS,
    }
    assert all(PART_OF[change] is Part.SETUP for change in FOLLOWS)


def test_the_chain_has_no_loop_and_rests_only_on_what_comes_before() -> None:
    """The loops of the trade are cut in the order in which they are walked, so that every evening ends."""
    order = list(Step)
    assert all(order.index(base) < order.index(step) for step in Step for base in BASES[step])


@pytest.mark.parametrize("kind", Kind)
def test_a_kind_of_value_has_bounds_a_reason_and_a_home(kind: Kind) -> None:
    """A value without a home would show in every setup, or in none."""
    row = KINDS[kind]
    assert row.low < row.high
    assert row.why
    assert row.name
    assert row.belongs
    assert not (Belongs.TOOLHEAD in row.belongs and Belongs.MACHINE in row.belongs), "a toolhead says its machine"


@given(found=states)
def test_next_never_rests_on_a_stale_value_without_saying_so(found: dict[Step, StepState]) -> None:
    """An open run goes on whatever it rests on, and says on what; all else rests only on what carries it."""
    chosen = next_step(found, can_run=RUNS)
    if chosen.step is None:
        return
    shaky = {base for base in BASES[chosen.step] if base in found and found[base].standing not in CARRIES}
    assert shaky <= set(chosen.rests_on)
    if chosen.reason not in {NextReason.RUN_OPEN, NextReason.OLD}:
        assert not any(state.run_open for state in found.values())
        assert found[chosen.step].standing not in SETTLED or not found[chosen.step].verified
        assert not shaky or all(found[base].standing is Standing.HOLD for base in shaky) or chosen.step not in RUNS


@given(found=states)
def test_next_never_skips_a_base_that_does_not_carry(found: dict[Step, StepState]) -> None:
    """Whatever is proposed for a measurement, nothing below it that is due, or was never measured, was passed over."""
    chosen = next_step(found, can_run=RUNS)
    if chosen.step is None:
        touched = {Standing.STALE, Standing.RE_ENTER, Standing.CHECK, Standing.OUT, Standing.AGEING}
        assert not any(state.standing in touched for state in found.values())
    elif chosen.reason in {NextReason.NEVER_MEASURED, NextReason.ONLY_ASSUMED} and chosen.step in RUNS:
        below = [base for base in BASES[chosen.step] if base in found]
        assert all(found[base].standing in CARRIES or found[base].standing is Standing.HOLD for base in below)
    if chosen.before is not None:
        assert chosen.before in RUNS
        assert found[chosen.step or Step.SAFETY].standing not in CARRIES


@given(found=states)
def test_doing_what_is_next_until_nothing_is_due_ends(found: dict[Step, StepState]) -> None:
    """Each step done is fresh and read back; the chain never asks twice for the same one."""
    seen = []
    while (chosen := next_step(found, can_run=RUNS)).step is not None:
        assert chosen.step not in seen
        seen.append(chosen.step)
        found = found | {chosen.step: StepState(standing=Standing.FRESH)}
    waits = any(state.standing is Standing.HOLD for state in found.values())
    assert chosen.reason is (NextReason.WAITS if waits else NextReason.NOTHING_DUE)


def test_danger_comes_before_an_open_run_and_precision_never_blocks() -> None:
    """Unknown runaway protection or an unknown liner holds whatever heats; *the maker says so* opens it."""
    open_run = {Step.E_STEPS: StepState(standing=Standing.NEVER, run_open=True)}
    held = dangers(runaway=Grade.UNKNOWN, liner_known=False)
    assert held == (Danger.RUNAWAY_UNKNOWN, Danger.LINER_UNKNOWN)
    assert next_step(open_run, can_run=RUNS, held=held).reason is NextReason.DANGER
    assert dangers(runaway=Grade.MAKER_SAYS, liner_known=True) == ()
    assert next_step(open_run, can_run=RUNS).reason is NextReason.RUN_OPEN
    stale = dangers(runaway=Grade.TESTED, liner_known=True, stale=True)
    assert stale == (Danger.SAFETY_STALE,)
    assert next_step(open_run, can_run=RUNS, held=stale).step is Step.SAFETY


def test_a_stale_base_is_proposed_before_what_rests_on_it_and_a_stale_row_by_itself_too() -> None:
    """Screws were turned: level before offset, whatever can be run. Stale pressure without a calibration is named too."""
    stale: dict[Step, StepState] = {
        Step.LEVEL: StepState(standing=Standing.STALE),
        Step.Z_OFFSET: StepState(standing=Standing.STALE),
    }
    chosen = next_step(stale, can_run={Step.Z_OFFSET, Step.FLOW})
    assert (chosen.step, chosen.before) == (Step.LEVEL, Step.Z_OFFSET)
    alone = next_step({Step.PRESSURE: StepState(standing=Standing.STALE)}, can_run={Step.FLOW})
    assert (alone.step, alone.reason) == (Step.PRESSURE, NextReason.CHANGED)


def test_a_purpose_is_never_served_by_typed_numbers_alone_nor_while_something_speaks_against_it() -> None:
    """All typed: no. E-steps measured: yes. Held, blocked twice in a month, two of three prints bad, no foam: no again."""
    typed: dict[Step, StepState] = {step: StepState(standing=Standing.ASSUMED) for step in Step}
    measured = typed | {Step.E_STEPS: StepState(standing=Standing.FRESH)}
    assert missing_for(Purpose.EVERYDAY, typed) == (Step.E_STEPS,)
    assert missing_for(Purpose.EVERYDAY, measured) == ()
    assert missing_for(Purpose.EVERYDAY, measured | {Step.LEVEL: StepState(standing=Standing.STALE)}) == (Step.LEVEL,)
    assert missing_for(Purpose.EVERYDAY, {s: one for s, one in measured.items() if s is not Step.LEVEL}) == ()
    fine: dict[str, Any] = {
        "held": False,
        "last_outcomes": [True, False, True],
        "blocked_days_ago": [3],
        "foams": False,
    }
    assert against(Purpose.EVERYDAY, **fine) is None
    assert against(Purpose.LIGHTNESS, **fine) is Against.DOES_NOT_FOAM
    assert against(Purpose.LIGHTNESS, **(fine | {"foams": True})) is None
    assert against(Purpose.EVERYDAY, **(fine | {"held": True})) is Against.HELD
    assert against(Purpose.EVERYDAY, **(fine | {"last_outcomes": [False, True, False, True]})) is Against.BAD_PRINTS
    assert against(Purpose.EVERYDAY, **(fine | {"last_outcomes": [True, True, False, False]})) is None
    assert against(Purpose.EVERYDAY, **(fine | {"blocked_days_ago": [3, 9]})) is Against.BLOCKAGES


def test_unattended_asks_for_a_tested_protection_a_fan_that_was_looked_at_a_checked_file_and_nothing_held() -> None:
    """Each by itself is enough to say no; the maker's word is not a test."""
    good = {"tested": True, "fan_looked_at": True, "held": False, "file_checked": True}
    assert unattended(**good) == ()
    for name, missing in (("tested", "tested"), ("fan_looked_at", "fan"), ("file_checked", "file")):
        assert [one.value for one in unattended(**(good | {name: False}))] == [missing]
    assert [one.value for one in unattended(**(good | {"held": True}))] == ["free"]


def test_what_was_kept_on_readings_that_could_not_tell_is_to_be_checked_and_all_causes_are_named() -> None:
    """*Keep* is no proof by itself; and of three changes that ask as much, none is forgotten."""
    facts: dict[str, Any] = {"origin": Origin.MEASURED, "since": days(1), "limits": HALF_YEAR}
    assert standing(**facts, untold=True) is Standing.CHECK
    assert standing(origin=Origin.TYPED, since=days(1), limits=HALF_YEAR, asked=Effect.CHECK) is Standing.CHECK
    done = [
        Done(Change.MOVED, TODAY - 3, 1), Done(Change.PROBE, TODAY - 2, 2), Done(Change.CRASH, TODAY - 1, 3),
        Done(Change.PLATE_TWIN, TODAY, 4), Done(Change.MOVED, TODAY - 5, 5),
    ]  # fmt: skip
    found = all_asked(Step.Z_OFFSET, done, shown_true_at=TODAY - 9)
    assert [one.key for one in found] == [3, 2, 1]


def test_levelling_shows_the_level_and_never_the_offset() -> None:
    """By hand the screws move the bed, so the offset is measured anew; the machine's own levelling does not set it."""
    assert set(SHOWS.values()) == {Step.LEVEL}
    assert EFFECTS[Change.LEVELLED_BY_HAND] == {Step.Z_OFFSET: Effect.REDO}
    assert EFFECTS[Change.LEVELLED_BY_MACHINE] == {Step.Z_OFFSET: Effect.CHECK}
    assert EFFECTS[Change.LEVEL_UNSETTLED] == {Step.LEVEL: Effect.REDO}
    assert EFFECTS[Change.TOOLHEAD_SWAPPED][Step.Z_OFFSET] is Effect.RE_ENTER


def test_next_passes_over_what_is_held_fresh_or_cannot_be_measured_yet() -> None:
    """The first in order that is due, whose bases carry it and whose calibration exists."""
    found = {
        Step.HEAT: StepState(standing=Standing.NEVER),
        Step.E_STEPS: StepState(standing=Standing.FRESH),
        Step.TEMPERATURE: StepState(standing=Standing.HOLD),
        Step.FLOW: StepState(standing=Standing.STALE),
        Step.SIZE: StepState(standing=Standing.NEVER),
    }
    assert (next_step(found, can_run=RUNS).step, next_step(found, can_run=RUNS).before) == (Step.HEAT, Step.FLOW)
    without: dict[Step, StepState] = {
        step: state for step, state in found.items() if step not in {Step.HEAT, Step.SIZE, Step.FLOW}
    }
    assert next_step(without, can_run=RUNS).reason is NextReason.WAITS
    chosen = next_step(found | {Step.TEMPERATURE: StepState(standing=Standing.ASSUMED)}, can_run={Step.FLOW})
    assert (chosen.step, chosen.reason, chosen.rests_on) == (Step.FLOW, NextReason.CHANGED, (Step.TEMPERATURE,))


def test_a_value_not_read_back_is_due_and_an_old_one_only_when_nothing_else_is() -> None:
    """A value that the machine may have lost is not fresh enough to rest on; age alone can wait."""
    ageing = {Step.E_STEPS: StepState(standing=Standing.AGEING)}
    assert next_step(ageing, can_run=RUNS).reason is NextReason.OLD
    lost = {Step.FLOW: StepState(standing=Standing.FRESH, verified=False)}
    assert next_step(ageing | lost, can_run=RUNS).reason is NextReason.NOT_READ_BACK
    assert next_step(ageing | {Step.FLOW: StepState(standing=Standing.OUT)}, can_run=RUNS).reason is NextReason.OUT


@given(found=states)
def test_the_remaining_plan_holds_every_step_that_asks_for_something_and_adds_up(found: dict[Step, StepState]) -> None:
    """What waits for dry filament is still to be done; what the machine lacks is not."""
    plan = remaining(found)
    assert {step for step, _ in plan} == {
        step
        for step, state in found.items()
        if state.standing not in {Standing.FRESH, Standing.AGEING, Standing.NOT_ON_MACHINE}
    }
    assert total(cost for _, cost in plan).minutes == sum(COSTS[step].minutes for step, _ in plan)


@pytest.mark.parametrize(
    ("before", "after", "foaming", "change"),
    [
        (210, 214, False, None),
        (210, 205, False, Change.TEMPERATURE_MOVED),
        (210, 220, False, Change.TEMPERATURE_MOVED_FAR),
        (210, 216, True, Change.FOAM_TEMPERATURE_MOVED),
    ],
)
def test_a_moved_temperature_is_a_change_from_five_degrees_on(
    before: float, after: float, foaming: bool, change: Change | None
) -> None:
    """Foam is always remeasured: its temperature sets how much it expands."""
    assert temperature_change(before, after, foaming=foaming) is change
