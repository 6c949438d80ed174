"""What a change would do is said before it is saved: on every setup of the sample workshop, for every kind of change."""

from __future__ import annotations

import json
import re
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from itertools import permutations, product

import pytest

from ubrex.core.chain import Kind, Standing, Step
from ubrex.server.desk import Desk, Work
from ubrex.server.profile import (
    FLOWS,
    HOLDS_FOR,
    copy_profile,
    export_profile,
    import_profile,
    list_change_kinds,
    log_change,
    preview_change,
    preview_copy,
    preview_import,
    restore_revision,
    show_history,
    standings_of,
    tuned_of,
    withdraw_change,
)
from ubrex.server.store import database as store
from ubrex.server.store.records import Revision, RevisionValue, TunedValue
from ubrex.server.views.bench import ChangeIn
from ubrex.server.views.profiles import CopyIn, ImportIn, RestoreIn
from ubrex.server.words.changes import LOGGABLE
from ubrex.server.words.standing import standing_word
from ubrex.server.workshop import get_setup, owners, setups_in_use

Everything = dict[tuple[int, Step], Standing]


def all_standings(work: Work) -> Everything:
    """Where every step of every setup stands."""
    found = standings_of(setups_in_use(), work.now)
    return {(one.setup.id, step): facts.standing for one in found for step, facts in one.steps.items()}


@pytest.mark.parametrize("days_ago", [0, 40])
def test_what_a_change_will_make_of_every_setup_is_what_it_makes_and_taking_it_back_undoes_it(
    sample: Desk, days_ago: int
) -> None:
    """No step moves that was not named, none that was named stays; nothing of it is left once the entry is taken back."""

    def tried(work: Work) -> int:
        before = all_standings(work)
        just_now, later = (Work(work.now + timedelta(seconds=s), work.person_id) for s in (1, 2))
        happened_at = work.now - timedelta(days=days_ago) if days_ago else None
        logged = 0
        for setup in setups_in_use()[:: 3 if days_ago else 1]:
            for row in list_change_kinds(work, setup.id):
                said = preview_change(work, setup.id, row.kind, happened_at)
                moves = {
                    (one.setup_id, move.step): (move.was, move.becomes) for one in said.setups for move in one.moves
                }
                entry = log_change(just_now, setup.id, ChangeIn(kind=row.kind, happened_at=happened_at, note="tried"))
                after = all_standings(later)
                moved = {
                    place: (standing_word(was), standing_word(after[place]))
                    for place, was in before.items()
                    if after[place] is not was
                }
                assert moves == moved, (setup.id, row.kind)
                withdraw_change(work, entry.id)
                logged += 1
        assert all_standings(later) == before
        return logged

    assert sample.do(tried, 1) >= len(LOGGABLE)


def values_of(setup_id: int) -> dict[Kind, float]:
    """Numbers of a setup by kind, as the database has them now."""
    return {kind: row.number for kind, row in tuned_of(get_setup(setup_id)).values.items()}


def values_then(setup_id: int, number: int) -> dict[Kind, float]:
    """Numbers that a revision of a setup holds."""
    rows = (
        TunedValue.select(TunedValue.kind, TunedValue.number)
        .join(RevisionValue, on=(RevisionValue.value == TunedValue.id))
        .join(Revision, on=(RevisionValue.revision == Revision.id))
        .where(Revision.setup == setup_id, Revision.number == number)
    )
    return {Kind(row.kind): row.number for row in rows}


@contextmanager
def undone() -> Iterator[None]:
    """What is written inside is gone afterwards."""
    with store.database.atomic() as tried:
        yield
        tried.rollback()


def others_named(why: str) -> int:
    """For how many other setups a number will hold, as the preview says."""
    if "another setup" in why:
        return 1
    found = re.search(r"for (\d+) other setups", why)
    return int(found[1]) if found else 0


def test_a_copied_profile_writes_what_its_preview_said_and_nothing_else(sample: Desk) -> None:
    """From every setup to every other: added and changed numbers are those of the source, what is left stays."""

    def tried(work: Work) -> set[str]:
        seen: set[str] = set()
        left: set[Kind] = set()
        ids = [setup.id for setup in setups_in_use()]
        for source, target in permutations(ids, 2):
            before, given = values_of(target), values_of(source)
            said = preview_copy(work, target, CopyIn(from_setup_id=source))
            changed = {line.kind: line.becomes for line in said.lines if line.action in {"add", "change"}}
            assert said.count == len(changed)
            written = {kind: given[kind] for kind in changed}
            assert all(line.why for line in said.lines if line.action == "leave")
            assert not changed.keys() & HOLDS_FOR.keys(), "what was measured on other parts stays there"
            left |= {line.kind for line in said.lines if line.action == "leave"}
            assert values_of(target) == before, "a preview writes nothing"
            seen |= {line.action for line in said.lines}
            with undone():
                if written:
                    copy_profile(work, target, CopyIn(from_setup_id=source, note="as it is there"))
                    assert {kind: number for kind, number in values_of(target).items() if kind in written} == written
                    for kind, number in values_of(target).items():
                        assert kind in changed or number == before[kind], (source, target, kind)
        assert left >= {Kind.E_STEPS, Kind.Z_OFFSET}
        return seen

    assert sample.do(tried, 1) == {"add", "change", "same", "leave"}


def test_a_file_says_what_it_does_to_other_setups_and_does_no_more(sample: Desk) -> None:
    """Every setup's own profile with each number moved by 2 %, as its machine would have written it elsewhere."""

    def tried(work: Work) -> Counter[str]:
        seen: Counter[str] = Counter()
        ids = [setup.id for setup in setups_in_use()]
        for target, kind in product(ids, (Kind.E_STEPS, Kind.DIAMETER, Kind.FLOW, Kind.LINE_WIDTH)):
            before = {one: values_of(one) for one in ids}
            if kind not in before[target]:
                continue
            file = json.loads(export_profile(work, target, "json").text)
            file["values"] = [row | {"number": row["number"] * 1.02} for row in file["values"] if row["kind"] == kind]
            form = ImportIn(text=json.dumps(file))
            told = {line.kind: line for line in preview_import(work, target, form).lines}
            assert told[kind].action == "change"
            with undone():
                import_profile(work, target, form)
                for flow in {*told} & {*FLOWS}:
                    assert told[flow].becomes == f"{values_of(target)[flow]:.1f} %", "a flow becomes what was said"
                moved = {
                    one: {k for k, number in values_of(one).items() if number != before[one].get(k)} for one in ids
                }
            assert moved.pop(target) == {*told}
            assert sum(kind in kinds for kinds in moved.values()) == others_named(told[kind].why), (target, kind)
            own = owners(Kind.FLOW, get_setup(target))
            follow = {one: kinds - {kind} for one, kinds in moved.items() if owners(Kind.FLOW, get_setup(one)) != own}
            assert any(follow.values()) == ("flow then feeds" in told[kind].why)
            assert all(kinds <= {*FLOWS} for kinds in follow.values())
            seen[kind] += sum(map(len, follow.values()))
        return seen

    seen = sample.do(tried, 1)
    assert {*seen} >= {Kind.E_STEPS, Kind.FLOW, Kind.LINE_WIDTH}
    assert seen[Kind.E_STEPS] > 0


def test_going_back_to_any_revision_gives_the_numbers_it_had(sample: Desk) -> None:
    """Of a year of history of every setup, as a new revision."""

    def tried(work: Work) -> int:
        gone_back = 0
        for setup in setups_in_use():
            shown = show_history(work, setup.id, None, None)
            newest = max((row.number for row in shown.revisions), default=0)
            for row in shown.revisions:
                had = values_then(setup.id, row.number)
                before = values_of(setup.id)
                told = show_history(work, setup.id, row.number, newest).go_back
                if values_of(setup.id) | had == values_of(setup.id):
                    continue
                with undone():
                    after = restore_revision(work, setup.id, newest, RestoreIn(number=row.number))
                    assert max(one.number for one in after.revisions) == newest + 1
                    assert values_of(setup.id) | had == values_of(setup.id), (setup.id, row.number)
                    changed = {kind for kind, number in values_of(setup.id).items() if number != before.get(kind)}
                    assert changed == {line.kind for line in told}, "what was shown before is what was written"
                gone_back += 1
        return gone_back

    assert sample.do(tried, 1) > 10
