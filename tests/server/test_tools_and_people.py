"""Measuring tools and names: what a maker says wins, what nobody says gets a usual number, and nothing is there twice."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tests.server.conftest import Person


@pytest.mark.parametrize(
    ("typed", "detail"),
    [
        ({"kind": "calliper", "resolution": "0.01"}, "0.01 mm step, ± 0.03"),
        ({"kind": "ruler", "resolution": "0.5"}, "0.5 mm step, ± 0.5"),
        ({"kind": "scale", "resolution": "0,01"}, "0.01 g step, ± 0.02"),
        ({"kind": "calliper", "resolution": "0.01", "max_permissible_error": "0.02"}, "0.01 mm step, ± 0.02"),
    ],
)
def test_a_tool_without_a_stated_error_gets_the_usual_one_of_its_kind(
    ines: Person, typed: dict[str, Any], detail: str
) -> None:
    """Three steps, one step, two steps; an unknown error is never 0."""
    made = ines.post("/instruments", {"values": {"name": "Drawer tool"} | typed}).json()
    assert made["detail"].replace("\N{NO-BREAK SPACE}", " ") == detail
    assert made["zero_checked"] == ("zero not checked yet" if typed["kind"] == "calliper" else "")


def test_a_tool_by_a_name_already_there_or_with_an_absurd_step_is_refused(ines: Person) -> None:
    """At its field."""
    for typed, field in (
        ({"name": "Calliper 2", "resolution": "0.01"}, "name"),
        ({"name": "", "resolution": "0.01"}, "name"),
        ({"name": "Tape", "resolution": "100"}, "resolution"),
        ({"name": "Tape", "resolution": "0"}, "resolution"),
        ({"name": "Tape", "resolution": "1", "max_permissible_error": "-1"}, "max_permissible_error"),
        ({"name": "Probe", "kind": "thermometer", "resolution": "1"}, "max_permissible_error"),
        ({"name": "Kitchen scale", "kind": "scale", "resolution": "9"}, "max_permissible_error"),
    ):
        answer = ines.post("/instruments", {"values": {"kind": "ruler"} | typed})
        assert answer.status_code == 422, typed
        assert [row["field"] for row in answer.json()["fields"]] == [field], typed


def test_a_tool_that_does_not_look_like_its_kind_is_asked_about(ines: Person) -> None:
    """A calliper with the step of a micrometer would make every result look surer than it is."""
    for typed, field in (
        ({"kind": "calliper", "resolution": "0.001"}, "resolution"),
        ({"kind": "calliper", "resolution": "0.01", "max_permissible_error": "0.002"}, "max_permissible_error"),
        ({"kind": "scale", "resolution": "0.0001"}, "resolution"),
    ):
        values = {"name": f"Drawer {typed['kind']} {field}"} | typed
        answer = ines.post("/instruments", {"values": values})
        assert [(row["field"], row["confirmable"]) for row in answer.json()["fields"]] == [(field, True)], typed
        assert ines.post("/instruments", {"values": values, "as_typed": [field]}).status_code == 201


def test_a_zero_check_is_remembered_with_its_day(ines: Person) -> None:
    """It ages in words, and says what it found."""
    assert ines.post("/instruments/1/zero-checks", {"read": "0.00"}).json()["zero_checked"] == "zero checked today"
    off = ines.post("/instruments/1/zero-checks", {"known": "3", "read": "3.02"}).json()["zero_checked"]
    assert off == "zero checked today, +0.020 mm off"
    ines.clock.now += timedelta(days=3)
    (tool,) = ines.get("/instruments")
    assert tool["zero_checked"] == "zero checked 3\N{NO-BREAK SPACE}days ago, +0.020 mm off"
    assert ines.post("/instruments/99/zero-checks", {"read": "0"}).status_code == 404


def test_a_name_typed_twice_is_one_person(ines: Person) -> None:
    """Trimmed; empty is refused."""
    bo = ines.post("/people", {"name": " Bo "}).json()
    assert ines.post("/people", {"name": "Bo"}).json() == bo
    assert [row["name"] for row in ines.get("/workshop")["people"]] == ["Bo", "Ines"]
    assert ines.post("/people", {"name": "  "}).status_code == 422


def test_the_tool_of_a_run_may_change_between_readings_and_the_coarser_one_judges(ines: Person) -> None:
    """Each reading keeps the tool it was read with."""
    ruler = ines.post("/instruments", {"values": {"name": "Steel rule", "kind": "ruler", "resolution": "0.5"}}).json()
    scale = ines.post(
        "/instruments", {"values": {"name": "Glue-pot scale", "kind": "scale", "resolution": "0.01"}}
    ).json()
    run = ines.measured("98.4", "98.1")
    path = f"/api/v1/runs/{run['id']}"
    wrong = ines.client.patch(path, json={"instrument_id": scale["id"]}, headers=ines.headers(run["version"]))
    assert wrong.status_code == 422
    changed = ines.client.patch(path, json={"instrument_id": ruler["id"]}, headers=ines.headers(run["version"]))
    assert changed.status_code == 200
    fine = ines.measured  # the calliper alone, for comparison below
    run = ines.read(run["id"], "98.5").json()
    assert [row["instrument"] for row in run["readings"]] == ["Calliper 2", "Calliper 2", "Steel rule"]
    assert "Readings of different tools: judged by the coarser one." in run["result"]["remarks"]
    ines.post(f"/runs/{run['id']}/leave", version=run["version"])
    alone = fine("98.4", "98.1", "98.5")
    assert float(run["result"]["half_width_text"].split()[-1]) > float(alone["result"]["half_width_text"].split()[-1])


def test_the_start_form_offers_what_there_are_tools_for_and_the_way_used_last(ines: Person) -> None:
    """Weighing needs a scale; the last way chosen comes first the next time, for the same person."""
    start = ines.get(f"/setups/{ines.setup_id}/starts/e_steps")
    weighed = next(row for row in start["methods"] if row["method"] == "weighed")
    assert (start["method"], weighed["instruments"]) == ("open_air", [])
    assert "Needs a scale" in weighed["missing"]
    assert start["open_run_id"] is None
    run = ines.start(method="marked", mark="120")
    again = ines.client.get(f"/api/v1/setups/{ines.setup_id}/starts/e_steps", headers=ines.headers()).json()
    assert (again["method"], again["open_run_id"]) == ("marked", run["id"])
