"""Every code has its sentence, and the sample workshop tells a story that obeys the rules."""

from __future__ import annotations

from datetime import datetime
from itertools import pairwise
from pathlib import Path

import pytest
from tools.sample_run import RUN, sample_of

from tests.server.conftest import Person
from ubrex.core.calibrate import EStepsFigures, EStepsMethod, EStepsReason, EStepsResult, Limiting, TowerReason
from ubrex.core.chain import Change, Effect, Kind, NextReason, Standing, Step
from ubrex.core.materials import FeedHeat, HeatLimit
from ubrex.core.quantity import Reason, Verdict
from ubrex.server import bench, runs
from ubrex.server.calibrations import _tower_words as towers
from ubrex.server.calibrations.e_steps import _words as esteps
from ubrex.server.desk import Desk
from ubrex.server.profile import show_history
from ubrex.server.views.bench import BenchOut, StepOut
from ubrex.server.words import changes, machine, numbers, standing
from ubrex.server.words.glossary import WORDS_OF_FIELDS
from ubrex.server.workshop import list_setups, show_first_setup, show_workshop

FIGURES = EStepsFigures(
    count=3, mean_reading=98.4, fed_mm=98.4, spread_pct=0.3, factor=1.0163, error_pct=1.63, std_pct=0.15, dof=2,
    half_width_95_pct=0.65, guard_pct=0.4, tool_half_width_pct=0.1, limited_by=Limiting.SCATTER,
)  # fmt: skip


@pytest.mark.parametrize("reason", TowerReason)
def test_every_reason_of_a_tower_has_a_title_of_its_own(reason: TowerReason) -> None:
    """None of them falls through to the words for an empty tower, but that of an empty tower."""
    title = towers.tower_title(Verdict.KEEP, reason, "210")
    assert (title == "Nothing rated yet") == (reason is TowerReason.NOTHING_RATED)


@pytest.mark.parametrize("reason", [*Reason, *EStepsReason])
@pytest.mark.parametrize("figures", [FIGURES, None])
def test_every_reason_has_a_title_and_a_sentence(reason: Reason | EStepsReason, figures: EStepsFigures | None) -> None:
    """A new reason without words would show a person an empty verdict."""
    result = EStepsResult(verdict=Verdict.APPLY, reason=reason, figures=figures, more_repeats=2)
    said = esteps.verdict(result, proposal="419.45", low="416.8", high="422.1", unit="steps/mm", commanded_mm=100)
    assert said.title
    assert said.sentence.endswith(".")


@pytest.mark.parametrize("reason", NextReason)
def test_every_reason_for_a_next_step_has_a_sentence(reason: NextReason) -> None:
    """The bench always says why."""
    said = standing.next_said(reason, step=Step.FLOW, days=200, measured_at=datetime(2026, 5, 1), touched="Measure.")
    assert said.endswith(".")


def test_every_method_standing_limit_and_way_of_keeping_has_words() -> None:
    """Closed lists in the core, complete words beside them."""
    assert set(esteps.METHODS) == set(EStepsMethod)
    assert all(standing.standing_word(row) for row in Standing)
    assert set(changes.CHANGES) == set(Change)
    for kind in Change:
        for effect in Effect:
            assert changes.touched(Step.FLOW, effect, kind).startswith("Flow: ")
        assert changes.consequence(kind).endswith(".")
        assert changes.change_said(kind, 6).endswith("ago")
    assert all(esteps.heat_limit(FeedHeat(target_c=None, limit_c=240.0, limit=row)) for row in HeatLimit)
    for keeping in machine.Keeping:
        assert machine.how_to_read(keeping)
        for matches, is_old in ((True, False), (False, True), (False, False)):
            assert machine.read_back_said(setting="1", typed="2", matches=matches, is_old=is_old, keeping=keeping)


@pytest.mark.parametrize(
    ("half_width", "shown"), [(1.46, "± 1.5"), (1.73, "± 1.7"), (2.4, "± 2"), (0.0132, "± 0.013"), (0.095, "± 0.10")]
)
def test_a_half_width_is_shown_with_the_digits_it_is_known_to(half_width: float, shown: str) -> None:
    """One, two where the first is 1; the value beside it is the one that is set, on every screen the same."""
    assert numbers.plus_minus(half_width).replace("\N{NO-BREAK SPACE}", " ") == shown


def test_the_sample_workshop_has_a_step_that_is_due_and_a_history_to_compare(sample: Desk) -> None:
    """Heron's e-steps are old and its temperature only assumed; on Kestrel the gear was cleaned since it was measured."""
    found = {row.machine: row.id for row in reversed(sample.do(list_setups, None))}

    def shown(machine: str) -> tuple[BenchOut, StepOut]:
        on_bench = sample.do(bench.show_bench, None, found[machine])
        return on_bench, next(row for row in on_bench.steps if row.step is Step.E_STEPS)

    heron, esteps_row = shown("Heron")
    assert (esteps_row.standing, heron.next.reason, esteps_row.unverified) == (
        Standing.AGEING,
        NextReason.ONLY_ASSUMED,
        False,
    )
    assert esteps_row.strip is not None
    assert len(esteps_row.strip.readings) == 3
    kestrel, esteps_row = shown("Kestrel")
    assert (esteps_row.standing, esteps_row.value.unit if esteps_row.value else "") == (Standing.CHECK, "mm/turn")
    assert (kestrel.next.reason, kestrel.next.step, esteps_row.unverified) == (NextReason.CHANGED, Step.E_STEPS, False)
    wren, _ = shown("Wren")
    assert (wren.next.reason, wren.next.step) == (NextReason.DANGER, Step.SAFETY)
    revisions = sample.do(show_history, None, found["Heron"], None, None).revisions
    last = max(row.number for row in revisions if row.note.startswith("Gear tension"))
    difference = sample.do(show_history, None, found["Heron"], last - 1, last).differences[0]
    assert (difference.real, difference.visible) == (True, True)


def test_a_measured_value_has_a_strip_on_the_bench_and_two_of_them_one_in_the_history(sample: Desk) -> None:
    """What is known of it against what is worth a change; a typed one has no ± to draw."""
    oat = next(row.id for row in sample.do(list_setups, None) if "oat" in row.filament and "lined" in row.title)
    rows = {row.step: row for row in sample.do(bench.show_bench, None, oat).steps}
    drawn = {step: row.strip for step, row in rows.items() if row.strip is not None}
    assert set(drawn) == {Step.E_STEPS, Step.Z_OFFSET, Step.FLOW}
    flow = drawn[Step.FLOW]
    assert (flow.mean, flow.target, flow.readings, flow.title) == (90.8, 90.8, [], "Flow, walls, %")
    assert (flow.low, flow.high) == pytest.approx((90.8 * 0.98, 90.8 * 1.02))
    assert flow.half_width == pytest.approx(3.4, abs=0.5)
    history = sample.do(show_history, None, oat, 12, 13)
    found = next(row for row in history.differences if row.kind is Kind.FLOW)
    assert found.strip is not None
    assert found.strip.before_mean == pytest.approx(98.5, abs=0.05)
    assert (found.strip.mean, found.visible) == (90.8, True)
    assert found.visible_sentence == "You could see it: 7.8\N{NO-BREAK SPACE}%, and 2\N{NO-BREAK SPACE}% shows."


def test_every_standing_occurs_in_the_sample_workshop(sample: Desk) -> None:
    """Somebody who looks round sees each of them once, with its cause."""
    seen = {
        row.standing
        for setup in sample.do(list_setups, None)
        for row in sample.do(bench.show_bench, None, setup.id).steps
    }
    assert seen == set(Standing)


def test_an_empty_workshop_shows_a_run_as_the_sample_workshop_has_it(sample: Desk) -> None:
    """What is kept of it is what is computed now; otherwise ``tools/sample_run.py`` was forgotten."""
    shown = sample.do(show_first_setup, None).sample
    assert shown == sample_of(sample.do(runs.show_run, None, RUN))
    assert [reading.text for reading in shown.readings if reading.struck] == ["97.20"]


def test_the_sample_workshop_chains_its_settings(sample: Desk) -> None:
    """Each run starts from what the one before left on the machine."""
    first = sample.do(show_workshop, None).first_setup_id
    ended = [
        row
        for row in reversed(sample.do(runs.list_runs, None).ended)
        if row.setup_id == first and row.step is Step.E_STEPS and "Applied" in row.outcome
    ]
    for before, after in pairwise(ended):
        assert after.outcome.partition("was ")[2].split()[0] == before.outcome.split()[1].rstrip(",")


def test_every_step_and_standing_can_be_pressed_for_what_it_means(ines: Person) -> None:
    """Two or three sentences each, every drawing named is drawn, and what fields ask about is there."""
    words = {row["key"]: row for row in ines.get("/words")}
    assert {step.value for step in Step} | {standing.value for standing in Standing} <= set(words)
    assert set(WORDS_OF_FIELDS.values()) <= set(words)
    assert all(1 <= row["text"].count(". ") + 1 <= 3 for row in words.values())
    drawn = (Path(__file__).parents[2] / "web" / "src" / "instrument" / "WordDrawing.tsx").read_text()
    assert all(f"  {row['drawing']}: {{" in drawn for row in words.values() if row["drawing"])
