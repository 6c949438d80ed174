"""Setups: what is taken out of use is kept, and what is typed is never ignored."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import CALLIPER, MACHINE, Person


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"keeps_setting": "menu"}, "machine"),
        ({"feed_path": "direct"}, "machine"),
        ({"setting_places": "4"}, "machine"),
        ({"family": "petg"}, "filament"),
    ],
)
def test_a_second_setup_that_contradicts_what_is_known_is_refused_not_ignored(
    ines: Person, typed: dict[str, Any], field: str
) -> None:
    """Its machine is the one already there: what was typed about it would be dropped in silence."""
    answer = ines.post("/setups", MACHINE | {"bore": "0.6"} | typed)
    assert answer.status_code == 422
    assert [row["field"] for row in answer.json()["fields"]] == [field]


def test_the_same_setup_again_is_the_one_already_there(ines: Person) -> None:
    """Also when it was taken out of use: then it is back, with its history."""
    again = ines.post("/setups", MACHINE).json()
    assert again["id"] == ines.setup_id
    assert ines.post(f"/setups/{ines.setup_id}/removal", version=1).json()["removed"] is True
    assert ines.get("/workshop")["empty"] is True
    back = ines.post("/setups", MACHINE).json()
    assert (back["id"], back["removed"]) == (ines.setup_id, False)


def test_another_hotend_on_the_same_machine_is_another_toolhead_with_its_own_value(ines: Person) -> None:
    """E-steps belong to the toolhead that feeds: a value of one is not claimed of the other."""
    ines.applied("98.4", "98.1", "98.6")
    metal = ines.post("/setups", MACHINE | {"liner": "all_metal", "hotend_max": "285"}).json()
    assert metal["hotend_detail"] == "never above 285 °C"
    step = ines.get(f"/setups/{metal['id']}/bench")["steps"][1]
    assert step["value"] is None
    assert step["standing"] == "never"


@pytest.mark.parametrize(
    ("typed", "field", "said"),
    [
        ({"machine": " "}, "machine", "empty"),
        ({"filament": ""}, "filament", "empty"),
        ({"bore": "4"}, "bore", "0.1 to 2 mm"),
        ({"bore": "wide"}, "bore", "number"),
        ({"bore": ""}, "bore", "empty"),
        ({"bore": "-0.4"}, "bore", "above 0"),
        ({"hotend_max": "2400"}, "hotend_max", "150 to 600"),
        ({"family": "cheese"}, "family", "list"),
    ],
)
def test_a_setup_form_says_what_is_wrong_at_the_field(
    ines: Person, typed: dict[str, Any], field: str, said: str
) -> None:
    """In words, and nothing is written."""
    answer = ines.post("/setups", MACHINE | {"machine": "Wren", "filament": "Reed PLA"} | typed)
    assert answer.status_code == 422
    (row,) = answer.json()["fields"]
    assert row["field"] == field
    assert said in row["message"]
    assert len(ines.get("/setups")) == 1


def test_a_comma_is_a_decimal_mark_everywhere(ines: Person) -> None:
    """0,4 is 0.4."""
    made = ines.post("/setups", MACHINE | {"machine": "Wren", "bore": "0,6", "hotend_max": "240,0"}).json()
    assert made["nozzle"] == "0.6 brass"
    assert made["hotend_detail"] == "never above 240 °C"


def test_the_first_form_writes_all_or_nothing(nobody: Person) -> None:
    """One mistake anywhere, and the workshop is still empty; the form comes again."""
    form = {"workshop": "", "setup": MACHINE, "instrument": CALLIPER | {"resolution": "x"}, "person": {"name": "Ines"}}
    answer = nobody.post("/first-setup", form)
    assert [row["field"] for row in answer.json()["fields"]] == ["instrument.resolution"]
    assert nobody.get("/workshop")["empty"] is True
    assert nobody.get("/workshop")["people"] == []
    assert nobody.get("/setups") == []


def test_a_removed_setup_leaves_the_bench_and_keeps_its_record(ines: Person) -> None:
    """Nothing new is measured on it; what was measured can still be read."""
    run = ines.applied("98.4", "98.1", "98.6")
    setup = ines.get(f"/setups/{ines.setup_id}")
    stale = ines.post(f"/setups/{ines.setup_id}/removal", version=setup["version"] + 1)
    assert stale.status_code == 412
    assert ines.post(f"/setups/{ines.setup_id}/removal", version=setup["version"]).status_code == 201
    assert ines.start()["code"] == "setup_removed"
    assert ines.get(f"/runs/{run['id']}")["setup"]["removed"] is True
    assert ines.get(f"/setups/{ines.setup_id}/history")["revisions"]


def test_families_come_commonest_first_and_each_can_be_chosen(ines: Person) -> None:
    """Every family in the list makes a setup, and its heat for feeding keeps the liner's limit."""
    form = ines.get("/first-setup")["setup"]
    families = [row["value"] for row in next(row for row in form if row["name"] == "family")["options"]]
    assert families[0] == "pla"
    for key in families:
        made = ines.post("/setups", MACHINE | {"filament": f"Fallow {key}", "family": key}).json()
        cautions = ines.get(f"/setups/{made['id']}/starts/e_steps")["methods"][0]["cautions"]
        heat = next(line for line in cautions if line["lead"] == "Heat")
        assert "Never above 240" in heat["text"]


def test_all_setups_stand_side_by_side(ines: Person) -> None:
    """Each with what its own bench says, a hold among what waits, and the print that counted last."""
    printed = {"what": "Owl head", "hours": "3:12", "grams": "20", "outcome": "good"}
    ines.post(f"/setups/{ines.setup_id}/prints", printed)
    other = ines.post("/setups", MACHINE | {"filament": "Reed", "liner": "unknown"}).json()["id"]
    rows = {row["id"]: row for row in ines.get("/standings")}
    assert set(rows) == {ines.setup_id, other}
    for setup_id, row in rows.items():
        bench = ines.get(f"/setups/{setup_id}/bench")
        assert row["next_why"] == bench["next"]["sentence"]
        assert row["good_for"] == [one["name"] for one in bench["good_for"] if one["good"]]
        assert [danger["sentence"] for danger in bench["dangers"]] == row["waits"][: len(bench["dangers"])]
    assert rows[ines.setup_id]["last_print"].startswith("Owl head, works, ")
    assert rows[other]["last_print"] == ""
