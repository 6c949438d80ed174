"""A profile taken along and brought in again: exact, safe, shown first, all or nothing."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person
from tests.server.test_inventory import add, assembly, code_at
from tests.server.test_profile import FULL, crib, rows, type_in
from tests.server.test_wear import log_print


@pytest.fixture
def tuned(ines: Person) -> Person:
    """Somebody whose setup has measured and typed values."""
    ines.applied("98.4", "98.1", "98.6")
    assert type_in(ines, FULL).status_code == 201
    return ines


def exported(ines: Person, shape: str = "json") -> str:
    """A profile as text."""
    text: str = ines.get(f"/setups/{ines.setup_id}/exports/{shape}")["text"]
    return text


def exported_as(ines: Person, machine: str) -> str:
    """The same, as a machine of this name would have written it on another computer."""
    return exported(ines).replace('"machine": "Heron"', f'"machine": "{machine}"')


def another(ines: Person, **typed: str) -> int:
    """A second setup on the same machine."""
    form = MACHINE | {"filament": "Reed PLA"} | typed
    made: int = ines.post("/setups", form).json()["id"]
    return made


def test_a_profile_comes_in_again_exactly_and_says_that_it_was_copied(tuned: Person) -> None:
    """Twelve digits out, twelve digits in; a copied number never reads fresh."""
    text = exported_as(tuned, "Egret")
    other = another(tuned, machine="Egret")
    preview = tuned.post(f"/setups/{other}/import-previews", {"text": text}).json()
    assert {line["action"] for line in preview["lines"]} == {"add"}
    assert crib(tuned, other)["nozzle"]["value"] is None, "a preview writes nothing"
    assert tuned.post(f"/setups/{other}/imports", {"text": text}).status_code == 201
    kept = {row["kind"]: row["number"] for row in json.loads(text)["values"]}
    for row in rows(tuned, other).values():
        if row["value"] is not None:
            assert row["value"]["number"] == kept[row["value"]["kind"]]
            assert row["value"]["provenance"]["sentence"].startswith("copied, not measured")
            assert row["standing"] == "assumed"
    again = tuned.post(f"/setups/{other}/import-previews", {"text": text}).json()
    assert {line["action"] for line in again["lines"]} == {"same"}
    assert code_at(tuned.post(f"/setups/{other}/imports", {"text": text}), "text") == "nothing_to_do"


@pytest.mark.parametrize(
    ("broken", "code", "said"),
    [
        (lambda text: text[: len(text) // 2], "broken", "Line "),
        (lambda _: "", "broken", "Line 1, column 1"),
        (lambda _: "[1, 2]", "foreign", "not a profile of Ubrex"),
        (lambda text: text.replace("ubrex-profile", "other-profile"), "foreign", "not a profile of Ubrex"),
        (lambda text: text.replace('"version": 3', '"version": 4'), "newer", "version 4"),
        (lambda text: text.replace('"number": 210.0', '"number": "hot"'), "broken", "At values / "),
        (lambda text: text.replace('"number": 210.0', '"number": NaN'), "broken", "At values / "),
        (lambda text: text.replace('"kind": "layer"', '"kind": "sorcery"'), "broken", "At values / "),
        (lambda text: text.replace('"kind": "fan"', '"kind": "nozzle"'), "twice", "stands in this file twice"),
        (lambda text: text.replace('"values"', '"run": "rm -rf", "values"'), "broken", "At run"),
        (lambda _: "[" * 100_000, "broken", "nested deeper"),
        (lambda _: " " * 300_001, "too_large", "300001 characters"),
    ],
)
def test_a_bad_file_gets_a_reason_with_the_place_and_changes_nothing(
    tuned: Person, broken: Any, code: str, said: str
) -> None:
    """Broken, foreign, newer, cut off, huge or meant to harm."""
    text = broken(exported(tuned))
    other = another(tuned)
    for path in ("import-previews", "imports"):
        answer = tuned.post(f"/setups/{other}/{path}", {"text": text})
        assert code_at(answer, "text") == code
        assert said in answer.json()["fields"][0]["message"]
    assert crib(tuned, other)["nozzle"]["value"] is None


def test_what_is_too_hot_or_kept_otherwise_is_left_with_its_reason(tuned: Person) -> None:
    """The limits of this very hotend hold for a file as for a person."""
    text = exported_as(tuned, "Egret").replace('"number": 210.0', '"number": 280.0')
    other = another(tuned, machine="Egret", keeps_setting="turn_in_file")
    lines = {row["kind"]: row for row in tuned.post(f"/setups/{other}/import-previews", {"text": text}).json()["lines"]}
    assert (lines["nozzle"]["action"], lines["e_steps"]["action"]) == ("leave", "leave")
    assert "limit of its liner" in lines["nozzle"]["why"]
    assert lines["e_steps"]["why"] == "Egret keeps it in mm per turn"
    assert tuned.post(f"/setups/{other}/imports", {"text": text}).status_code == 201
    assert crib(tuned, other)["nozzle"]["value"] is None


@pytest.mark.parametrize("number", ["-5.0", "0.0", "41945000.0"])
def test_e_steps_that_cannot_be_are_left_out_of_a_file(tuned: Person, number: str) -> None:
    """A sign or a slipped point in a file is no setting for a motor; the rest of the file still comes in."""
    text = exported_as(tuned, "Egret").replace('"number": 419.45', f'"number": {number}')
    other = another(tuned, machine="Egret")
    lines = {row["kind"]: row for row in tuned.post(f"/setups/{other}/import-previews", {"text": text}).json()["lines"]}
    assert (lines["e_steps"]["action"], lines["e_steps"]["why"]) == (
        "leave",
        "motors and gears give 5 to 20000 steps per mm",
    )
    assert tuned.post(f"/setups/{other}/imports", {"text": text}).status_code == 201
    assert rows(tuned, other)["e_steps"]["value"] is None
    assert crib(tuned, other)["nozzle"]["text"] == "210"


def test_a_heat_check_in_a_file_limits_the_temperature_beside_it(tuned: Person) -> None:
    """Shown 205 and really 240: 210 shown would be 245 in a hotend whose liner stands 240."""
    heat = {"values": {"heat_bias": "205", "heat_bias_true": "240"}}
    assert tuned.post(f"/setups/{tuned.setup_id}/values", heat).status_code == 201
    other = another(tuned, machine="Egret")
    lines = {
        row["kind"]: row
        for row in tuned.post(f"/setups/{other}/import-previews", {"text": exported_as(tuned, "Egret")}).json()["lines"]
    }
    assert (lines["heat_bias"]["action"], lines["nozzle"]["action"]) == ("add", "leave")
    assert "never above 205" in lines["nozzle"]["why"]


def test_what_holds_for_parts_alone_goes_only_where_they_are(tuned: Person) -> None:
    """E-steps and level of another machine say nothing here, however well its filament was tuned."""
    assert type_in(tuned, {"level": "0.05"}).status_code == 201
    other = another(tuned, machine="Egret", hotend_max="235")
    for path, form in (
        ("import-previews", {"text": exported(tuned)}),
        ("copy-previews", {"from_setup_id": tuned.setup_id}),
    ):
        lines = {row["kind"]: row for row in tuned.post(f"/setups/{other}/{path}", form).json()["lines"]}
        assert {kind for kind, row in lines.items() if row["action"] == "leave"} == {"e_steps", "level"}
        assert lines["level"]["why"] == "it holds only for the bed it was measured on; measure it here"
        assert (lines["nozzle"]["action"], lines["flow"]["action"]) == ("add", "add")
    assert tuned.post(f"/setups/{other}/copies", {"from_setup_id": tuned.setup_id}).status_code == 201
    assert rows(tuned, other)["e_steps"]["value"] is None


def test_a_file_of_another_family_is_warned_about(tuned: Person) -> None:
    """It may still be taken: a start from the nearest is better than none."""
    other = another(tuned, filament="Tarn PETG", family="petg")
    preview = tuned.post(f"/setups/{other}/import-previews", {"text": exported(tuned)}).json()
    assert preview["warning"] == "It was tuned on PLA, and this setup holds PETG."


def test_a_profile_is_copied_to_another_setup_and_e_steps_stay_what_they_are(tuned: Person) -> None:
    """What belongs to the machine is the same already; the rest is copied, not measured."""
    other = another(tuned)
    preview = tuned.post(f"/setups/{other}/copy-previews", {"from_setup_id": tuned.setup_id}).json()
    actions = {line["kind"]: line["action"] for line in preview["lines"]}
    assert (actions["e_steps"], actions["nozzle"]) == ("same", "add")
    assert tuned.post(f"/setups/{other}/copies", {"from_setup_id": tuned.setup_id}).status_code == 201
    assert crib(tuned, other)["nozzle"]["value"]["provenance"]["origin"] == "copied"
    assert rows(tuned, other)["e_steps"]["value"]["provenance"]["origin"] == "measured"


def test_csv_can_be_read_by_any_program_and_runs_in_none(tuned: Person) -> None:
    """RFC 4180; a note that begins like a formula is text."""
    note = '=cmd("calc"), and more\nin two lines'
    type_in(tuned, {"nozzle": "215"}, note=note)
    text = exported(tuned, "csv")
    table = list(csv.reader(io.StringIO(text, newline="")))
    assert all(len(row) == len(table[0]) for row in table)
    assert "\r\n" in text
    nozzle = next(row for row in table if row[0] == "Nozzle, rest")
    assert (nozzle[1], nozzle[7]) == ("215.0", f"'{note}")


def test_the_lines_for_the_machine_say_what_they_do_and_heat_nothing(tuned: Person) -> None:
    """Only what this machine keeps in firmware, with an ASCII minus."""
    text = exported(tuned, "commands")
    assert "M92 E419.45 ; extruder: 419.45 steps feed 1 mm" in text
    assert "M900 K0.3 ; pressure compensation: 0.3 s" in text
    assert all(" ; " in line or line.startswith(";") for line in text.splitlines())
    assert not [line for line in text.splitlines() if line.startswith(("M104", "M109", "M140", "M190"))]


def test_a_machine_that_keeps_its_values_in_a_file_gets_no_commands(ines: Person) -> None:
    """They would do nothing, or harm."""
    form = MACHINE | {"machine": "Kestrel", "keeps_setting": "turn_in_file", "setting_places": "3"}
    ines.setup_id = ines.post("/setups", form).json()["id"]
    ines.applied("98.4", "98.1", "98.6", current="4.6")
    text = exported(ines, "commands")
    assert all(line.startswith(";") for line in text.splitlines())
    assert "; E-steps: 4.525 mm per turn" in text


def test_two_setups_stand_side_by_side(tuned: Person) -> None:
    """What belongs to both is one value; what differs says by how much, and whether that is real."""
    other = another(tuned)
    type_in(tuned, {"nozzle": "215", "z_hop": "0.4"}, on=other)
    shown = tuned.get(f"/setups/{tuned.setup_id}/beside/{other}")
    said = {row["kind"]: row["said"] for row in shown["rows"]}
    assert said["e_steps"] == "the same value: it belongs to both"
    assert said["nozzle"] == "+5 there"
    assert (said["flow"], said["z_hop"]) == ("only here", "only there")
    far = another(tuned, machine="Egret")
    tuned.setup_id, here = far, tuned.setup_id
    tuned.applied("97.8", "97.9", "97.7", current="400")
    rows_beside = tuned.get(f"/setups/{here}/beside/{far}")["rows"]
    assert "Real: " in next(row["said"] for row in rows_beside if row["kind"] == "e_steps")


def test_the_file_and_the_card_name_what_the_numbers_were_found_with(tuned: Person) -> None:
    """Spool, drying, feed path and what was done to it, room in both units, and what it was verified for."""
    spool = add(tuned, "spool", 1, name="11").json()["id"]
    assert assembly(tuned, spool_id=spool).status_code == 201
    tuned.post(f"/spools/{spool}/entries", {"kind": "dried", "number": "6", "second": "50"})
    tuned.post(f"/setups/{tuned.setup_id}/changes", {"kind": "gear_tension", "note": "half a turn"})
    tuned.client.post(
        "/api/v1/room", json={"temperature": "69 F", "humidity": "40", "draught": False}, headers=tuned.headers()
    )
    tried = [{"kind": "nozzle", "typed": "200"}]
    log_print(tuned, what="elbow joint", outcome="good", signs={"stringing": 3}, trials=tried, note="cooler")
    file = json.loads(exported(tuned))
    assert (file["version"], file["spool"], file["verified_for"]) == (3, "11", "elbow joint")
    (line,) = file["attempts"]
    assert line.endswith(": works, Strings 3, hairs; with Nozzle, rest 200 °C; cooler")
    assert file["drying"].startswith("dried 6 h at 50 °C")
    assert "half a turn" in file["feed_changes"][0]
    assert file["room"].startswith("20.6 °C (69.0 °F), 40 % damp")
    about = tuned.get(f"/setups/{tuned.setup_id}/history")["about"]
    assert [line.split(":")[0] for line in about] == [
        "Spool",
        "Drying",
        "Feed",
        "Feed path changed",
        "Room",
        "Verified for",
    ]
    older = {
        key: value for key, value in file.items() if key not in {"spool", "drying", "feed_path", "feed_changes", "room"}
    }
    preview = tuned.post(f"/setups/{another(tuned)}/import-previews", {"text": json.dumps(older | {"version": 1})})
    assert preview.status_code == 200, "files of version 1 still come in"
