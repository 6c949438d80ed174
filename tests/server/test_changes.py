"""Work on a machine: what it will make stale is said before it is saved, and holds until it is answered."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person


def step_of(ines: Person, setup_id: int = 0) -> Any:
    """The e-steps row of a bench."""
    return ines.get(f"/setups/{setup_id or ines.setup_id}/bench")["steps"][1]


def log(ines: Person, kind: str, **more: Any) -> Any:
    """The response to a change logged."""
    ines.clock.wait(days=1)
    return ines.post(f"/setups/{ines.setup_id}/changes", {"kind": kind} | more)


def verified(ines: Person) -> Any:
    """A value applied and read back; its row is fresh."""
    value = ines.applied("98.4", "98.1", "98.6")["decision"]["values"][0]
    ines.post(f"/setups/{ines.setup_id}/values/{value['id']}/read-backs", {"typed": value["setting"]})
    assert step_of(ines)["standing"] == "fresh"
    return value


@pytest.mark.parametrize(
    ("kind", "standing", "word", "cause"),
    [
        ("extruder", "stale", "Stale", "the extruder, its gear or motor was replaced 6\N{NO-BREAK SPACE}days ago"),
        ("toolhead", "stale", "Stale", "the toolhead was replaced 6\N{NO-BREAK SPACE}days ago"),
        ("gear_tension", "check", "Check", "the gear was cleaned or its tension changed 6\N{NO-BREAK SPACE}days ago"),
        (
            "firmware",
            "re_enter",
            "Re-enter",
            "the firmware was flashed or its settings reset 6\N{NO-BREAK SPACE}days ago",
        ),
    ],
)
def test_a_change_makes_its_step_what_the_list_said_it_would(
    ines: Person, kind: str, standing: str, word: str, cause: str
) -> None:
    """The sentence before saving is the sentence on the bench after it; the step is next, with its cause."""
    verified(ines)
    preview = ines.get(f"/setups/{ines.setup_id}/change-preview?kind={kind}")
    (said,) = preview["setups"]
    assert said["setup"] == "Heron, lined hotend, 0.4 brass, Fallow PLA oat"
    move = next(row for row in said["moves"] if row["step"] == "e_steps")
    assert (move["was"], move["becomes"]) == ("Fresh", word)
    assert log(ines, kind).status_code == 201
    ines.clock.wait(days=6)
    step = step_of(ines)
    assert (step["standing"], step["standing_word"], step["cause"]) == (standing, word, cause)
    assert step["reason"] == move["why"]
    on_bench = ines.get(f"/setups/{ines.setup_id}/bench")["next"]
    if kind in {"toolhead", "firmware"}:
        assert (on_bench["reason"], on_bench["step"]) == ("danger", "safety"), "the card comes before anything heats"
        card = {"runaway": "tested", "liner": "lined", "note": "as the maker says"}
        assert ines.post(f"/setups/{ines.setup_id}/safety-checks", card).status_code == 201
    assert step_of(ines)["is_next"]
    on_bench = ines.get(f"/setups/{ines.setup_id}/bench")["next"]
    assert (on_bench["reason"], on_bench["step"]) == ("changed", "e_steps")


def test_it_touches_every_setup_of_the_machine_and_no_other(ines: Person) -> None:
    """Another filament on Heron shares its e-steps; Wren does not."""
    verified(ines)
    other = ines.post("/setups", MACHINE | {"filament": "Tarn PETG smoke", "family": "petg"}).json()
    wren = ines.post("/setups", MACHINE | {"machine": "Wren"}).json()
    log(ines, "extruder")
    assert step_of(ines, other["id"])["standing"] == "stale"
    assert step_of(ines, wren["id"])["standing"] == "never"


def test_measuring_answers_a_change_and_an_older_one_asks_for_nothing(ines: Person) -> None:
    """A change logged after the fact counts from the day it was done."""
    verified(ines)
    measured = ines.clock.now
    log(ines, "extruder", happened_at=(measured - timedelta(days=3)).isoformat())
    assert step_of(ines)["standing"] == "fresh"
    log(ines, "gear_tension")
    assert step_of(ines)["standing"] == "check"
    run = ines.measured("100.1", "100", "99.9", current="419.45")
    ines.decide(run, "keep")
    assert step_of(ines)["standing"] == "fresh"


def test_the_gravest_of_several_changes_counts_in_whatever_order_they_were_logged(ines: Person) -> None:
    """A check after a replacement does not make it lighter."""
    verified(ines)
    before = ines.clock.now
    log(ines, "gear_tension")
    log(ines, "firmware")
    log(ines, "extruder", happened_at=(before + timedelta(hours=2)).isoformat())
    assert step_of(ines)["standing"] == "stale"


def test_a_flashed_firmware_is_answered_by_reading_the_value_back(ines: Person) -> None:
    """Until then it is unverified again; what was measured is not lost."""
    value = verified(ines)
    log(ines, "firmware")
    step = step_of(ines)
    assert (step["standing"], step["unverified"], step["value"]["read_back"]["state"]) == (
        "re_enter",
        True,
        "unverified",
    )
    ines.post(f"/setups/{ines.setup_id}/values/{value['id']}/read-backs", {"typed": "93"})
    assert step_of(ines)["standing"] == "re_enter"
    ines.post(f"/setups/{ines.setup_id}/values/{value['id']}/read-backs", {"typed": value["setting"]})
    step = step_of(ines)
    assert (step["standing"], step["unverified"]) == ("fresh", False)


def test_a_flashed_firmware_says_nothing_of_a_value_that_was_replaced_before(ines: Person) -> None:
    """The machine held it when it was read back; what it lost since is the newest one."""
    old = verified(ines)
    ines.applied("98.2", "98.3", "98.1", current="419.45")
    log(ines, "firmware")
    left = ines.get(f"/setups/{ines.setup_id}/history")["differences"][0]["left"]
    assert (left["setting"], left["read_back"]["state"]) == (old["setting"], "verified")
    run = ines.get("/runs")["ended"][0]
    assert ines.get(f"/runs/{run['id']}")["decision"]["values"][0]["read_back"]["sentence"].startswith(
        "The machine may have"
    )


def test_an_entry_made_by_mistake_is_taken_back_and_stays_on_record(ines: Person) -> None:
    """It counts for nothing from then on; taking it back twice is told."""
    verified(ines)
    made = log(ines, "extruder", note="wrong machine").json()
    assert ines.post(f"/changes/{made['id']}/withdrawal").json()["withdrawn"] is True
    assert step_of(ines)["standing"] == "fresh"
    (kept,) = ines.get(f"/setups/{ines.setup_id}/bench")["changes"]
    assert (kept["note"], kept["withdrawn"]) == ("wrong machine", True)
    assert ines.post(f"/changes/{made['id']}/withdrawal").status_code == 409
    assert ines.post("/changes/99/withdrawal").status_code == 404


def test_the_newest_entry_that_was_not_taken_back_counts_in_whatever_order_they_were_logged(ines: Person) -> None:
    """A later entry may tell of an earlier day, and the one that counted may be taken back."""
    verified(ines)
    three_days_ago = log(ines, "extruder").json()
    ines.clock.wait(days=3)
    earlier = ines.clock.now - timedelta(days=300)
    assert log(ines, "extruder", happened_at=earlier.isoformat()).status_code == 201
    assert step_of(ines)["cause"].endswith("replaced 4\N{NO-BREAK SPACE}days ago")
    ines.post(f"/changes/{three_days_ago['id']}/withdrawal")
    assert step_of(ines)["standing"] == "fresh"


def test_a_change_in_the_future_or_logged_twice_is_refused_at_its_field(ines: Person) -> None:
    """The same on the same day needs a word on what was different."""
    later = (ines.clock.now + timedelta(days=9)).isoformat()
    assert log(ines, "extruder", happened_at=later).json()["fields"][0]["field"] == "happened_at"
    moment = ines.clock.now.isoformat()
    assert log(ines, "extruder", happened_at=moment).status_code == 201
    twice = log(ines, "extruder", happened_at=moment)
    assert (twice.status_code, twice.json()["fields"][0]["field"]) == (422, "kind")
    assert log(ines, "extruder", happened_at=moment, note="and its motor").status_code == 201
