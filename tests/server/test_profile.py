"""The values of a setup: typed within every limit, kept at the level they belong to, and what a change makes of them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person
from tests.server.test_inventory import add, edit

NBSP = "\N{NO-BREAK SPACE}"
FULL = {
    "line_width": "0.42", "layer": "0,2", "nozzle": "210", "flow": "98.5", "retraction": "5.5", "fan": "100",
    "pressure": "0.3", "top_flow": "9", "size_scale": "100.2",
}  # fmt: skip


def type_in(ines: Person, typed: dict[str, str], *, on: int = 0, note: str = "") -> Any:
    """The response to values typed."""
    rows = typed
    body = {"values": rows, "note": note}
    return ines.post(f"/setups/{on or ines.setup_id}/values", body)


def bench(ines: Person, setup_id: int = 0) -> Any:
    """The bench."""
    return ines.get(f"/setups/{setup_id or ines.setup_id}/bench")


def rows(ines: Person, setup_id: int = 0) -> dict[str, Any]:
    """The nine rows by their step."""
    return {row["step"]: row for row in bench(ines, setup_id)["steps"]}


def crib(ines: Person, setup_id: int = 0) -> dict[str, Any]:
    """Tonight's numbers by their kind."""
    return {row["kind"]: row for row in bench(ines, setup_id)["tonight"]}


def log(ines: Person, kind: str, setup_id: int = 0) -> None:
    """Log a change."""
    assert ines.post(f"/setups/{setup_id or ines.setup_id}/changes", {"kind": kind}).status_code == 201


def problems(answer: Any) -> dict[str, str]:
    """Codes of what was refused, by field."""
    assert answer.status_code == 422, answer.text
    return {row["field"]: row["code"] for row in answer.json()["fields"]}


def test_an_empty_setup_shows_nine_rows_and_what_is_usual(ines: Person) -> None:
    """Nobody stares at an empty list: the first open row says what to do, the crib what the family usually takes."""
    shown = bench(ines)
    assert [row["standing"] for row in shown["steps"]] == ["never"] * 9
    assert [row["number"] for row in shown["steps"]] == list(range(1, 10))
    assert (shown["next"]["step"], shown["next"]["reason"]) == ("e_steps", "never_measured")
    usual = {row["kind"]: row["usual"] for row in shown["tonight"]}
    assert usual["nozzle"] == f"190–220{NBSP}°C usual for PLA"
    assert not any(row["good"] for row in shown["good_for"])


def test_typed_values_stand_in_the_crib_as_assumed_and_one_revision_holds_them_all(ines: Person) -> None:
    """A typed number may be rested on and says so; it never reads fresh."""
    assert type_in(ines, FULL).status_code == 201
    found = crib(ines)
    assert {kind: found[kind]["text"] for kind in ("nozzle", "layer", "flow")} == {
        "nozzle": "210",
        "layer": "0.20",
        "flow": "98.5",
    }
    assert {rows(ines)[step]["standing"] for step in ("temperature", "flow", "retraction", "size")} == {"assumed"}
    history = ines.get(f"/setups/{ines.setup_id}/history")
    assert [row["cause"] for row in history["revisions"]] == ["Typed"]
    assert len(history["differences"]) == len(FULL)
    assert bench(ines)["next"]["step"] == "e_steps"


def test_a_value_shows_in_every_setup_it_belongs_to_and_in_no_other(ines: Person) -> None:
    """Level is the machine's, heat the hotend's, temperature the filament's on this very nozzle."""
    petg = ines.post("/setups", MACHINE | {"filament": "Tarn PETG smoke", "family": "petg"}).json()["id"]
    type_in(ines, {"level": "0.05", "nozzle": "210", "line_width": "0.42"})
    assert crib(ines, petg)["line_width"]["text"] == "0.42"
    assert crib(ines, petg)["nozzle"]["value"] is None
    assert rows(ines, petg)["z_offset"]["standing"] == "never"
    heat = {"values": {"heat_bias": "205", "heat_bias_true": "198"}}
    assert ines.post(f"/setups/{petg}/values", heat).status_code == 201
    for setup_id in (ines.setup_id, petg):
        assert rows(ines, setup_id)["heat"]["value"]["text"] == "shows 205, really 198: suspect"
    assert len(ines.get(f"/setups/{petg}/history")["revisions"]) == 2


@pytest.mark.parametrize(
    ("typed", "field", "code"),
    [
        ({"nozzle": "255"}, "nozzle", "too_hot"),
        ({"nozzle": "230"}, "nozzle", "outside_family"),
        ({"retraction": "9"}, "retraction", "pull_too_long"),
        ({"retraction_speed": "80"}, "retraction_speed", "pull_too_fast"),
        ({"nozzle": "21"}, "nozzle", "out_of_range"),
        ({"nozzle": "hot"}, "nozzle", "not_a_number"),
        ({"flow": "9.85"}, "flow", "out_of_range"),
        ({"z_offset": "-1.25"}, "z_offset", "no_surface"),
        ({"heat_bias": "205"}, "heat_bias_true", "empty"),
        ({}, "values", "empty"),
    ],
)
def test_a_value_that_cannot_be_is_refused_at_its_field(
    ines: Person, typed: dict[str, str], field: str, code: str
) -> None:
    """The liner's limit holds whatever is typed; outside the family's window a note is asked for."""
    assert problems(type_in(ines, typed))[field] == code
    assert crib(ines)["nozzle"]["value"] is None


def test_a_pull_or_a_speed_that_the_parts_do_not_stand_is_said_wherever_it_comes_up(ines: Person) -> None:
    """5.5 mm through a tube jams a direct feed: on the crib, when it is typed, and when it would be copied."""
    assert type_in(ines, {"retraction": "5.5"}).status_code == 201
    assert type_in(ines, {"speed_outer": "400"}, note="to see").status_code == 201
    assert crib(ines)["retraction"]["remark"] == ""
    direct = ines.post("/setups", MACHINE | {"machine": "Wren", "feed_path": "direct"}).json()["id"]
    assert problems(type_in(ines, {"retraction": "5.5"}, on=direct))["retraction"] == "pull_too_long"
    machine = ines.get(f"/setups/{direct}/bench")["setup"]["machine"]
    number = next(row["id"] for row in ines.get("/machines") if row["name"] == machine)
    assert edit(ines, "machine", number, max_speed_mm_s="300").status_code == 200
    assert problems(type_in(ines, {"speed_outer": "400"}, on=direct))["speed_outer"] == "too_fast"
    lines = ines.post(f"/setups/{direct}/copy-previews", {"from_setup_id": ines.setup_id}).json()["lines"]
    left = {line["kind"]: line["why"] for line in lines if line["action"] == "leave"}
    asks = {line["kind"]: line["asks"] for line in lines}
    assert asks["retraction"].startswith("more than 2\N{NO-BREAK SPACE}mm here: past about 2 mm melt is drawn")
    assert left["speed_outer"].startswith("400\N{NO-BREAK SPACE}mm/s cannot be: this machine moves at 300")
    refused = ines.post(f"/setups/{direct}/copies", {"from_setup_id": ines.setup_id})
    assert problems(refused) == {"note": "outside_usual"}
    taken = ines.post(f"/setups/{direct}/copies", {"from_setup_id": ines.setup_id, "note": "to try it"})
    assert taken.status_code == 201
    assert crib(ines, direct)["retraction"]["remark"].endswith("to try it”)"), (
        "the reason stays where the number stands"
    )
    assert edit(ines, "machine", 1, feed_path="direct").status_code == 200
    assert crib(ines)["retraction"]["remark"].startswith("more than 2\N{NO-BREAK SPACE}mm here")


def test_what_is_usual_for_the_family_is_offered_and_counts_as_such_until_it_is_typed_over(ines: Person) -> None:
    """190 to 220 begins at 205; a lined hotend or a label would say otherwise. 207 is somebody's own number.

    A bed without its surface could not be set.
    """
    fields = {row["name"]: row for row in ines.get(f"/setups/{ines.setup_id}/values/temperature")["fields"]}
    assert {kind: fields[kind]["offer"] for kind in ("nozzle", "bed")} == {"nozzle": "205", "bed": ""}
    values = {"nozzle": "205", "nozzle_first": "207"}
    answer = ines.post(f"/setups/{ines.setup_id}/values", {"values": values, "origin": "family"})
    assert answer.status_code == 201
    origins = {kind: crib(ines)[kind]["value"]["provenance"]["origin"] for kind in ("nozzle", "nozzle_first")}
    assert origins == {"nozzle": "family", "nozzle_first": "typed"}
    assert rows(ines)["temperature"]["cause"] == "usual for the family"


def test_each_of_tonights_numbers_that_is_not_set_can_be_taken_as_it_is_usual(ines: Person) -> None:
    """By one press: what is offered is what may be set. What belongs to the bore is no word of the family."""
    offers = {kind: row["offer"] for kind, row in crib(ines).items() if row["value"] is None}
    assert offers == {"line_width": "0.42", "layer": "0.20", "nozzle": "205", "bed": "", "flow": "100.0", "fan": "90"}
    for kind, offer in offers.items():
        if offer:
            body = {"values": {kind: offer}, "origin": "family"}
            assert ines.post(f"/setups/{ines.setup_id}/values", body).status_code == 201
    shown = {kind: (row["text"], row["offer"]) for kind, row in crib(ines).items()}
    assert shown == {kind: (offer, "") for kind, offer in offers.items()}
    origins = {kind: row["value"]["provenance"]["origin"] for kind, row in crib(ines).items() if row["value"]}
    assert origins == {"line_width": "typed", "layer": "typed", "nozzle": "family", "flow": "family", "fan": "family"}


def test_what_is_usual_never_begins_beyond_a_limit_nor_beside_a_label(ines: Person) -> None:
    """ABS begins at 245, a liner ends at 240; what a spool says of itself is not overruled by its family."""

    def begins(name: str, family: str, label: str = "") -> Any:
        made = add(ines, "filament", name=name, family=family, label=label).json()
        (now,) = [row for row in ines.get(f"/setups/{ines.setup_id}/picks/purpose") if row["now"]]
        form = now["form"] | {"filament_id": made["id"], "spool_id": None}
        setup = ines.post("/assemblies", form).json()
        fields = ines.get(f"/setups/{setup['id']}/values/temperature")["fields"]
        return next(row["offer"] for row in fields if row["name"] == "nozzle")

    assert begins("Beetle ABS", "abs") == "240"
    assert begins("Moss PLA", "pla", "200-215") == ""


def test_fahrenheit_may_be_typed_and_a_note_opens_what_is_outside_the_usual_but_never_a_limit(ines: Person) -> None:
    """446 °F are 230 °C: hotter than PLA usually takes, and cooler than the liner's limit."""
    assert type_in(ines, {"nozzle": "446 F"}, note="silky kind").status_code == 201
    assert crib(ines)["nozzle"]["text"] == "230"
    assert problems(type_in(ines, {"nozzle": "260"}, note="I want it so"))["nozzle"] == "too_hot"


def test_a_hotend_that_is_hotter_than_it_shows_is_limited_by_what_is_real(ines: Person) -> None:
    """It shows 205 and is 215: with a liner, 230 shown is 240 real, and 231 is refused."""
    heat = {"values": {"heat_bias": "205", "heat_bias_true": "215"}}
    assert ines.post(f"/setups/{ines.setup_id}/values", heat).status_code == 201
    assert type_in(ines, {"nozzle": "230"}, note="hot").status_code == 201
    assert problems(type_in(ines, {"nozzle": "231"}, note="hot"))["nozzle"] == "too_hot"


def test_a_temperature_that_a_heat_check_finds_too_hot_is_said_to_be(ines: Person) -> None:
    """235 was within the liner's 240 until the hotend was found 10 hotter than it shows: row and number both say so."""
    assert type_in(ines, {"nozzle": "235"}, note="silky kind").status_code == 201
    assert rows(ines)["temperature"]["standing"] == "assumed"
    heat = {"values": {"heat_bias": "205", "heat_bias_true": "215"}}
    assert ines.post(f"/setups/{ines.setup_id}/values", heat).status_code == 201
    row, line = rows(ines)["temperature"], crib(ines)["nozzle"]
    assert (row["standing"], line["standing"], line["standing_word"]) == ("out", "out", "Too hot")
    assert "never above 230\N{NO-BREAK SPACE}°C" in row["cause"]
    assert "never above 230\N{NO-BREAK SPACE}°C" in line["remark"]
    assert not any(part["good"] for part in bench(ines)["good_for"])
    assert type_in(ines, {"nozzle": "228"}, note="silky kind").status_code == 201
    assert rows(ines)["temperature"]["standing"] == "assumed"


def test_one_bad_value_keeps_all_of_them_out(ines: Person) -> None:
    """All at once or none: nobody has to find out which half was written."""
    assert set(problems(type_in(ines, {"nozzle": "210", "flow": "1000", "fan": "-4"}))) == {"flow", "fan"}
    assert ines.get(f"/setups/{ines.setup_id}/history")["revisions"] == []


def test_a_change_of_e_steps_rescales_flow_at_once_and_never_makes_a_guess_fresher(ines: Person) -> None:
    """Two per cent more steps, two per cent less flow: the same plastic comes out as before."""
    ines.applied("98.4", "98.1", "98.6")
    type_in(ines, {"flow": "98.5", "nozzle": "210"})
    value = ines.applied("97.9", "98.0", "98.1", current="419.45")["decision"]["values"][0]
    ratio = 419.45 / float(value["setting"])
    flow = rows(ines)["flow"]
    assert flow["value"]["number"] == pytest.approx(98.5 * ratio)
    assert (flow["standing"], "e-steps went from" in flow["value"]["provenance"]["note"]) == ("assumed", True)


def test_a_bias_on_purpose_is_a_number_of_its_own(ines: Person) -> None:
    """What is typed into the slicing program is their product; both stay on record."""
    type_in(ines, {"flow": "98.5", "flow_bias": "97"})
    line = crib(ines)["flow"]
    assert (line["text"], line["remark"]) == ("95.5", "calibrated 98.5, 97 % of it on purpose")
    assert "flow_bias" not in crib(ines)


def test_wet_filament_holds_its_rows_until_it_is_dried(ines: Person) -> None:
    """And the bench says how to dry it."""
    type_in(ines, FULL)
    log(ines, "wet")
    held = {step for step, row in rows(ines).items() if row["standing"] == "hold"}
    assert held == {"temperature", "flow", "retraction"}
    (waiting,) = bench(ines)["waiting"]
    assert "at 45 °C for 4 h or more" in waiting["sentence"]
    log(ines, "dried")
    assert {step for step, row in rows(ines).items() if row["standing"] == "check"} == {"retraction"}
    assert {row["standing"] for row in rows(ines).values()} == {"never", "assumed", "check"}
    assert bench(ines)["waiting"] == []


def test_a_new_nozzle_touches_the_setups_with_that_very_nozzle(ines: Person) -> None:
    """Twin setups on another nozzle keep what they have; the preview says so before anything is written."""
    type_in(ines, FULL)
    other = ines.post("/setups", MACHINE | {"bore": "0.6"}).json()["id"]
    type_in(ines, {"flow": "97"}, on=other)
    preview = ines.get(f"/setups/{ines.setup_id}/change-preview?kind=nozzle_same")
    assert [row["setup_id"] for row in preview["setups"]] == [ines.setup_id]
    becomes = {row["name"]: row["becomes"] for row in preview["setups"][0]["moves"]}
    looked_at = dict.fromkeys(("Temperature", "Pressure compensation", "Retraction", "Top speed"), "Check")
    assert becomes == {"Flow": "Stale"} | looked_at, "what wants a look wants it of typed values too"
    log(ines, "nozzle_same")
    assert rows(ines)["flow"]["standing"] == "stale"
    assert rows(ines, other)["flow"]["standing"] == "assumed"
    type_in(ines, {"flow": "99"})
    assert rows(ines)["flow"]["standing"] == "assumed"


def test_what_follows_from_a_value_cannot_be_logged_by_hand(ines: Person) -> None:
    """It would count twice."""
    kinds = {row["kind"] for row in ines.get(f"/setups/{ines.setup_id}/change-kinds")}
    assert "e_steps_changed" not in kinds
    assert "plate_washed" not in kinds, "this setup does not say what it prints on"
    answer = ines.post(f"/setups/{ines.setup_id}/changes", {"kind": "e_steps_changed"})
    assert problems(answer) == {"kind": "follows"}


def test_what_is_good_enough_grows_with_what_was_measured(ines: Person) -> None:
    """Brackets need e-steps that were measured; joints need a flow that was."""
    type_in(ines, FULL)
    ines.applied("98.4", "98.1", "98.6")
    good = {row["purpose"]: row for row in bench(ines)["good_for"]}
    assert not good["everyday"]["good"]
    assert good["everyday"]["why"] == "not yet: Z-offset never measured"
    assert good["fit"]["why"].startswith("not yet: Z-offset never measured and 1 more")


def test_a_number_is_ticked_as_typed_in_until_it_changes(ines: Person) -> None:
    """A new value is a number that is not in the slicing program yet."""
    type_in(ines, {"nozzle": "210"})
    line = crib(ines)["nozzle"]
    assert line["typed_in"] is False
    for ticked in (True, False, True):
        ines.post(f"/values/{line['value']['id']}/ticks", {"ticked": ticked})
        assert crib(ines)["nozzle"]["typed_in"] is ticked
    type_in(ines, {"nozzle": "215"})
    assert crib(ines)["nozzle"]["typed_in"] is False


@pytest.mark.parametrize(("runaway", "liner"), [("unknown", "lined"), ("tested", "unknown"), ("unknown", "unknown")])
def test_nothing_that_heats_is_offered_until_somebody_says_it_is_safe(ines: Person, runaway: str, liner: str) -> None:
    """The card comes first; *the maker says so* opens it with a note, and only with one."""
    wren = ines.post("/setups", MACHINE | {"machine": "Wren", "runaway": runaway, "liner": liner}).json()["id"]
    shown = bench(ines, wren)
    assert (shown["next"]["reason"], shown["next"]["step"]) == ("danger", "safety")
    assert len(shown["dangers"]) == (runaway == "unknown") + (liner == "unknown")
    assert ines.start(setup_id=wren)["code"] == "not_safe"
    card = {"runaway": "maker_says", "liner": "lined"}
    assert problems(ines.post(f"/setups/{wren}/safety-checks", card)) == {"note": "empty"}
    assert ines.post(f"/setups/{wren}/safety-checks", card | {"note": "page 12"}).status_code == 201
    assert bench(ines, wren)["dangers"] == []
    assert ines.start(setup_id=wren)["state"] == "open"


def test_a_card_with_an_answer_that_nobody_knows_is_not_gone_through(ines: Person) -> None:
    """What is known is kept, what holds is said; nor does it stand for the look that is due after work on the machine."""
    wren = ines.post("/setups", MACHINE | {"machine": "Wren", "runaway": "unknown", "liner": "unknown"}).json()["id"]
    path = f"/setups/{wren}/safety-checks"
    holds = ines.post(path, {"runaway": "unknown", "liner": "all_metal"}).json()["holds"]
    assert [text[:34] for text in holds] == ["Nobody has said whether this machi"]
    shown = bench(ines, wren)
    assert [row["danger"] for row in shown["dangers"]] == ["runaway_unknown"]
    assert shown["safety"]["standing_word"] == "Not gone through"
    tested = {"runaway": "tested", "liner": "all_metal"}
    assert ines.post(path, tested).json() == {"holds": []}
    assert bench(ines, wren)["safety"]["standing_word"] == "Fresh"
    ines.clock.wait(days=1)
    assert ines.post(f"/setups/{wren}/changes", {"kind": "firmware"}).status_code == 201
    ines.clock.wait(days=1)
    assert len(ines.post(path, {"runaway": "unknown", "liner": "all_metal"}).json()["holds"]) == 1
    assert {row["danger"] for row in bench(ines, wren)["dangers"]} == {"runaway_unknown", "safety_stale"}
    assert ines.post(path, tested).json() == {"holds": []}
    assert bench(ines, wren)["dangers"] == []


def test_the_form_of_a_row_shows_what_is_set_what_is_usual_and_what_must_not_be_passed(ines: Person) -> None:
    """Level and offset share one form, and so do nozzle and bed."""
    type_in(ines, {"nozzle": "210"})
    form = ines.get(f"/setups/{ines.setup_id}/values/temperature")
    fields = {row["name"]: row for row in form["fields"]}
    assert fields["nozzle"]["value"] == "210"
    assert fields["nozzle"]["hint"] == f"never above 240{NBSP}°C: the limit of its liner"
    assert fields["bed"]["usual"] == f"50–60{NBSP}°C usual for PLA"
    assert [row["name"] for row in ines.get(f"/setups/{ines.setup_id}/values/z_offset")["fields"]] == [
        "layer_first",
        "level",
        "z_offset",
    ]


def test_going_back_brings_every_value_of_that_revision_back(ines: Person) -> None:
    """What was typed comes back as typed, not as measured."""
    type_in(ines, {"nozzle": "210", "flow": "98"})
    type_in(ines, {"nozzle": "215", "flow": "96"})
    answer = ines.post(f"/setups/{ines.setup_id}/restorations", {"number": 1}, version=2)
    assert answer.status_code == 201
    assert {crib(ines)[kind]["text"] for kind in ("nozzle", "flow")} == {"210", "98.0"}
    assert rows(ines)["flow"]["value"]["provenance"]["origin"] == "typed"


def test_going_back_to_other_e_steps_leaves_a_flow_that_is_right_already(ines: Person) -> None:
    """New e-steps rescale a flow, but not the one that the revision gone back to has beside them."""
    type_in(ines, {"e_steps": "400", "flow": "98"})
    type_in(ines, {"e_steps": "410"})
    assert crib(ines)["flow"]["text"] == "95.6"
    type_in(ines, {"flow": "98"})
    assert ines.post(f"/setups/{ines.setup_id}/restorations", {"number": 1}, version=3).status_code == 201
    assert rows(ines)["e_steps"]["value"]["number"] == 400
    assert crib(ines)["flow"]["text"] == "98.0"


def test_filament_in_the_dryer_waits_until_a_clock_time_and_a_note_stands_beside_the_chain(ines: Person) -> None:
    """Put in for 6 h now: until then it waits; written down as dried it no longer does. Notes are kept, newest first."""
    spool = add(ines, "spool", 1, name="14").json()["id"]
    entry = {"kind": "drying", "number": "6", "second": "50"}
    assert ines.post(f"/spools/{spool}/entries", entry).status_code == 201
    (waiting,) = bench(ines)["waiting"]
    hours = (datetime.fromisoformat(waiting["until"]) - ines.clock.now).total_seconds() / 3600
    assert 5.9 < hours < 6.01
    assert ines.post(f"/spools/{spool}/entries", entry | {"kind": "dried"}).status_code == 201
    assert bench(ines)["waiting"] == []
    notes = f"/setups/{ines.setup_id}/notes"
    assert problems(ines.post(notes, {"text": "  "})) == {"text": "empty"}
    for text in ("Fan squeaks.", "It was the duct."):
        assert ines.post(notes, {"text": text}).status_code == 201
    assert [note["text"] for note in bench(ines)["notes"]] == ["It was the duct.", "Fan squeaks."]


def test_a_display_that_nobody_can_check_is_taken_as_true_by_one_key(ines: Person) -> None:
    """± 10 °C, assumed and said so; the chain goes on, and the key is gone."""

    def heat() -> Any:
        return ines.get(f"/setups/{ines.setup_id}/bench")["steps"][0]

    offered = heat()["assume"]
    assert "take the display as true" in offered["label"]
    body = {"origin": "typed", "values": offered["values"]}
    assert ines.post(f"/setups/{ines.setup_id}/values", body).status_code == 201
    assert (heat()["standing"], heat()["value"]["text"], heat()["assume"]) == ("assumed", "as shown", None)
    assert heat()["value"]["half_width_95"] == 10
    assert "there is no probe here" in heat()["value"]["provenance"]["note"]
