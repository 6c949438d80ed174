"""One judgement for every number, whatever door it comes in by: the same fact, the same sentence, at each of them."""

from __future__ import annotations

import ast
from pathlib import Path
from typing import Any

import pytest

import ubrex.server
from tests.server.conftest import MACHINE, Person
from tests.server.test_files import check
from tests.server.test_inventory import add, assembly, code_at, edit
from tests.server.test_printed_runs import read_all, sized, start
from tests.server.test_profile import bench, crib, log, problems, rows, type_in
from tests.server.test_wear import log_print

__all__ = ["sized"]
NBSP = "\N{NO-BREAK SPACE}"
SAFE = {"runaway": "tested", "liner": "lined", "note": "as the maker says"}


def labelled(ines: Person) -> Person:
    """A spool whose label says something else than its family does."""
    assert edit(ines, "filament", 1, label="215-235", bed_low_c="40", bed_high_c="50").status_code == 200
    return ines


def card(ines: Person, setup_id: int = 0) -> Any:
    """The card before a print."""
    return ines.get(f"/setups/{setup_id or ines.setup_id}/pre-flight")


def tick(ines: Person, lead: str) -> str:
    """One line of it."""
    text: str = next(row["text"] for row in card(ines)["ticks"] if row["lead"] == lead)
    return text.replace(NBSP, " ")


def good(ines: Person) -> dict[str, str]:
    """What a setup is good enough for, in words."""
    return {row["name"]: row["why"] for row in bench(ines)["good_for"]}


def test_no_door_has_limits_of_its_own() -> None:
    """Nothing in the server compares with a family's window, a label, a cap or a limit of heat: the core is asked."""
    server = Path(ubrex.server.__file__).parent
    asked = {
        "max_c",
        "ceiling_c",
        "nozzle",
        "bed",
        "fan",
        "melt",
        "distance_mm",
        "speed_mm_s",
        "low_c",
        "high_c",
        "bore_mm",
    }
    found = []
    for path in sorted(server.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.Compare) or not any(
                isinstance(op, ast.Lt | ast.LtE | ast.Gt | ast.GtE) for op in node.ops
            ):
                continue
            names = {one.attr for one in ast.walk(node) if isinstance(one, ast.Attribute)}
            if names & asked:
                found.append(f"{path.relative_to(server)}: {ast.unparse(node)}")
    # A piece that goes slower than it was asked to says so; a run knows whether its best lies past its own ends.
    assert [one for one in found if "inputs.speed_mm_s" not in one and "figures" not in one] == []


def test_outside_the_label_is_one_sentence_when_typed_copied_read_from_a_file_printed_and_shown(sized: Person) -> None:
    """210 on a spool of 215 to 235: typing, copying, the form of a piece, its file, tonight's number and the card agree."""
    other = sized.post("/setups", MACHINE | {"filament": "Reed PLA"}).json()["id"]
    assert type_in(sized, {"nozzle": "210"}, on=other).status_code == 201
    labelled(sized)
    clause = f"210{NBSP}°C lies outside the spool’s label, 215–235{NBSP}°C"
    typed = type_in(sized, {"nozzle": "210"})
    assert problems(typed) == {"nozzle": "outside_label"}
    assert clause in typed.json()["fields"][0]["message"]
    lines = sized.post(f"/setups/{sized.setup_id}/copy-previews", {"from_setup_id": other}).json()["lines"]
    assert next(row["asks"] for row in lines if row["kind"] == "nozzle") == clause
    given = {"program": "p", "values": [{"name": "heat", "value": "210", "kind": "nozzle"}]}
    refused = sized.post(f"/setups/{sized.setup_id}/file-values", given)
    assert clause in refused.json()["fields"][0]["message"]
    run = start(sized, "flow", "box", nozzle="210").json()
    (way, *_) = sized.get(f"/setups/{sized.setup_id}/starts/flow")["methods"]
    values = {row["name"]: row["value"] for row in way["fields"]} | {"nozzle": "210"}
    shown = sized.post(f"/setups/{sized.setup_id}/pieces", {"method": "box", "values": values}).json()
    assert any(clause in remark for remark in shown["remarks"])
    text = sized.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    assert any(clause in row["text"] for row in check(sized, text).json()["findings"])
    assert type_in(sized, {"nozzle": "210"}, note="it strings less").status_code == 201
    assert crib(sized)["nozzle"]["remark"] == f"{clause} (“it strings less”)", "and it stays there, with its reason"
    assert any(clause in row for row in card(sized)["holds"])


def test_a_value_cannot_claim_the_label_outside_it(ines: Person) -> None:
    """Whatever the note says."""
    labelled(ines)
    body = {"values": {"nozzle": "210"}, "origin": "label", "note": "because"}
    answer = ines.post(f"/setups/{ines.setup_id}/values", body)
    assert problems(answer) == {"nozzle": "not_of_label"}


def test_forms_begin_where_the_label_does(sized: Person) -> None:
    """Dialogs, prefilled pieces and the heat for feeding say 215, not the family's 190."""
    labelled(sized)
    fields = {row["name"]: row for row in sized.get(f"/setups/{sized.setup_id}/values/temperature")["fields"]}
    assert fields["nozzle"]["usual"] == f"215–235{NBSP}°C on the label"
    assert crib(sized)["nozzle"]["usual"] == f"215–235{NBSP}°C on the label"
    for step in ("flow", "retraction"):
        (way, *_) = sized.get(f"/setups/{sized.setup_id}/starts/{step}")["methods"]
        assert next(row["value"] for row in way["fields"] if row["name"] == "nozzle") == "215"
    (way, *_) = sized.get(f"/setups/{sized.setup_id}/starts/e_steps")["methods"]
    assert f"to 215{NBSP}°C" in " ".join(row["text"] for row in way["cautions"])


def test_a_slip_is_asked_about_for_every_typed_value_and_what_was_meant_is_offered(ines: Person) -> None:
    """E-steps of 9240 beside 92.4 would make the flow 1 %: nothing is written before somebody says why."""
    assert type_in(ines, {"e_steps": "92.4", "flow": "98"}).status_code == 201
    answer = type_in(ines, {"e_steps": "9240"})
    (problem,) = answer.json()["fields"]
    assert (problem["code"], problem["suggested"]) == ("slip", "92.4")
    assert crib(ines)["flow"]["text"] == "98.0"
    assert problems(type_in(ines, {"fan": "0.4"})) == {"fan": "unusual"}
    assert problems(type_in(ines, {"line_width": "2.5"})) == {"line_width": "line_impossible"}
    assert problems(type_in(ines, {"layer": "0.35"})) == {"layer": "layer_too_high"}


def test_numbers_are_held_against_each_other_and_the_speed_that_fits_is_said(ines: Person) -> None:
    """600 mm/s beside a melt rate of 24 on the same list."""
    assert type_in(ines, {"line_width": "0.45", "layer": "0.2", "top_flow": "12"}).status_code == 201
    answer = type_in(ines, {"speed_outer": "600"})
    (problem,) = answer.json()["fields"]
    assert (problem["code"], problem["suggested"]) == ("melt_beyond", "147")
    assert type_in(ines, {"speed_outer": "600"}, note="to see it fail").status_code == 201
    assert f"147{NBSP}mm/s would fit" in crib(ines)["speed_outer"]["remark"]


def test_a_percentage_is_no_length_and_no_speed(ines: Person) -> None:
    """`50%` of a speed is no 50 mm/s; a fan of 0.4 is not 0 %."""
    given = [{"name": "a", "value": "50%", "kind": "speed_outer"}, {"name": "b", "value": "1%", "kind": "seam_gap"}]
    answer = ines.post(f"/setups/{ines.setup_id}/file-values", {"program": "p", "values": given})
    assert problems(answer) == {"values.a": "percent", "values.b": "percent"}
    fan = [{"name": "c", "value": "0.4", "kind": "fan"}]
    assert problems(ines.post(f"/setups/{ines.setup_id}/file-values", {"program": "p", "values": fan})) == {
        "values.c": "unusual"
    }


@pytest.mark.parametrize("kind", ["firmware", "heat_sink_fan", "heater_sensor", "crash", "toolhead"])
def test_work_that_safety_rests_on_holds_everything_that_heats_until_the_card_is_gone_through(
    sized: Person, kind: str
) -> None:
    """The card is next, *good enough* says held for all, runs are refused, file and card say it first; then all goes on."""
    assert sized.post(f"/setups/{sized.setup_id}/safety-checks", SAFE).status_code == 201
    run = start(sized, "flow", "box").json()
    text = sized.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    log(sized, kind)
    shown = bench(sized)
    assert (shown["next"]["step"], shown["next"]["reason"]) == ("safety", "danger")
    assert set(good(sized).values()) == {"held: go through the card “Safe to tune” first"}
    assert not any(row["good"] for row in shown["good_for"])
    assert start(sized, "z_offset", "patches").json()["code"] == "not_safe"
    assert sized.start("400")["code"] == "not_safe"
    found = check(sized, text).json()
    assert (found["findings"][0]["lead"], found["verdict"]) == ("Hold.", "Do not print this here")
    assert card(sized)["holds"][0].startswith("Hold. ")
    assert sized.client.get(f"/api/v1/runs/{run['id']}/files/piece").status_code == 409
    assert sized.post(f"/setups/{sized.setup_id}/safety-checks", SAFE).status_code == 201
    assert bench(sized)["next"]["step"] != "safety"
    assert any("this is the first job after. Stay for all of it." in row for row in card(sized)["holds"])
    log_print(sized)
    assert not any("first job" in row for row in card(sized)["holds"])


def test_an_unknown_liner_makes_nothing_good_enough(ines: Person) -> None:
    """Two holds, and above them no green word."""
    other = ines.post("/setups", MACHINE | {"machine": "Wren", "liner": "unknown", "runaway": "unknown"}).json()["id"]
    ines.setup_id = other
    assert not any(row["good"] for row in bench(ines)["good_for"])
    assert tick(ines, "Enough, checked, stay.").count("something holds what heats") == 1


def test_unattended_only_with_a_test_a_fan_that_was_looked_at_and_this_very_file(sized: Person) -> None:
    """The maker's word is no test; the card by itself has seen no file."""
    assert type_in(sized, {"nozzle": "205", "fan": "80", "layer": "0.2", "layer_first": "0.2"}).status_code == 201
    run = start(sized, "flow", "box", fan="80").json()
    text = sized.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    said = {"runaway": "maker_says", "liner": "lined", "note": "page 12"}
    assert sized.post(f"/setups/{sized.setup_id}/safety-checks", said).status_code == 201

    def alone() -> str:
        said: str = next(row for row in check(sized, text).json()["remarks"] if row.startswith("unattended"))
        return said

    assert "nobody tested" in alone()
    assert sized.post(f"/setups/{sized.setup_id}/safety-checks", SAFE).status_code == 201
    assert alone().startswith("unattended: possible")
    assert "checked here and found harmless" in tick(sized, "Enough, checked, stay.")
    log(sized, "heat_sink_fan")
    assert alone().startswith("unattended: no")


def test_good_enough_is_never_yes_on_typed_numbers_alone(ines: Person) -> None:
    """E-steps typed: no for everything; measured: everyday parts; brackets want a rated temperature, shells want foam."""
    ines.setup_id = ines.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    assert type_in(ines, {"e_steps": "400", "z_offset": "-1.2", "nozzle": "205", "flow": "98"}).status_code == 201
    assert set(good(ines).values()) >= {"not yet: E-steps only assumed"}
    assert "light shells" not in good(ines)
    ines.applied("98.4", "98.1", "98.6", current="400")
    assert good(ines)["everyday parts"] == "yes"
    assert good(ines)["brackets"].startswith("not yet: ")
    log_print(ines, outcome="bad")
    log_print(ines, outcome="bad", what="owl head")
    assert good(ines)["everyday parts"] == "not yet: 2 of the last 3 prints failed"


def test_repeated_blockages_weigh_in(ines: Person) -> None:
    """Twice in a month; a third of them long ago does not count."""
    ines.setup_id = ines.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    assert type_in(ines, {"z_offset": "-1.2", "nozzle": "205"}).status_code == 201
    log(ines, "blockage")
    ines.clock.wait(days=40)
    log(ines, "blockage")
    ines.applied("98.4", "98.1", "98.6", current="400")
    assert type_in(ines, {"nozzle": "206"}).status_code == 201
    assert good(ines)["everyday parts"] == "yes"
    ines.clock.wait(days=2)
    log(ines, "blockage")
    assert "blocked more than once" in good(ines)["everyday parts"]


@pytest.mark.parametrize("kind", ["moved", "probe"])
def test_a_stale_level_is_proposed_before_the_offset_and_all_causes_are_named(ines: Person, kind: str) -> None:
    """Screws turned or the probe moved: not *nothing to measure*, not flow over a stale offset."""
    ines.setup_id = ines.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    assert type_in(ines, {"level": "0.05", "z_offset": "-1.2"}).status_code == 201
    ines.decide(ines.measured("99.9", "100.1", "100.0", current="400"), "keep")
    log(ines, kind)
    shown = bench(ines)["next"]
    assert (shown["step"], shown["row"], shown["reason"]) == ("level", "z_offset", "changed")
    assert rows(ines)["z_offset"]["reason"] == shown["sentence"]
    log(ines, "frame")
    assert "the machine was moved" in rows(ines)["z_offset"]["cause"] or kind == "probe"
    assert "frame, wheels or rails were adjusted" in rows(ines)["z_offset"]["cause"]
    log(ines, "levelled_by_hand")
    assert bench(ines)["next"]["step"] == "z_offset", "levelled, the offset comes next"
    assert rows(ines)["z_offset"]["level"].startswith("Level: fresh, seen to today")
    log(ines, "level_unsettled")
    assert rows(ines)["z_offset"]["level"].startswith("Level: stale")


def test_a_first_start_without_a_heat_check_says_what_comes_before_temperature(sized: Person) -> None:
    """E-steps and first layer are done: the heat check is next, since temperature rests on it; without a probe one key."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    sized.decide(sized.measured("99.9", "100.1", "100.0", current="400"), "keep")
    assert type_in(sized, {"z_offset": "-1.2"}).status_code == 201
    run = start(sized, "z_offset", "patches", current="-1.2").json()
    run = read_all(sized, run, *["0.20"] * 9)
    sized.decide(run, "keep")
    shown = bench(sized)["next"]
    assert (shown["step"], shown["row"]) == ("heat", "heat")
    assert rows(sized)["heat"]["can_run"]
    assert rows(sized)["heat"]["assume"] is not None


def test_a_look_that_is_asked_for_leaves_its_mark_on_typed_and_copied_values(ines: Person) -> None:
    """Most workshops begin with typed values: a blockage asks them for a look as well, and typing them again answers."""
    assert type_in(ines, {"nozzle": "205", "flow": "98", "retraction": "5"}).status_code == 201
    log(ines, "blockage")
    asked = {step for step, row in rows(ines).items() if row["standing"] == "check"}
    assert asked == {"temperature", "flow", "retraction"}
    assert type_in(ines, {"nozzle": "205"}).status_code == 201
    assert rows(ines)["temperature"]["standing"] == "assumed"


def test_a_row_is_judged_by_its_own_value_and_a_typed_number_is_never_called_unmeasured(ines: Person) -> None:
    """A typed seam gap does not make a retraction assumed; a typed speed is assumed, not *never measured*."""
    assert type_in(ines, {"retraction": "5", "seam_gap": "0.1", "speed_outer": "40"}).status_code == 201
    assert rows(ines)["retraction"]["standing"] == "assumed"
    assert crib(ines)["speed_outer"]["standing_word"] == "Assumed"


def test_a_machine_that_says_another_number_after_a_flash_shows_both_and_how_the_recorded_one_is_written_back(
    ines: Person,
) -> None:
    """93.0 read for 92.4, also of a value that was kept; and the same for the offset."""
    ines.setup_id = ines.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    ines.decide(ines.measured("99.9", "100.1", "100.0", current="92.4"), "keep")
    assert type_in(ines, {"z_offset": "-1.35"}).status_code == 201
    log(ines, "firmware")
    found = {row["value"]["kind"]: row for row in bench(ines)["read_backs"]}
    assert set(found) == {"e_steps", "z_offset"}
    value = found["e_steps"]["value"]
    assert ines.post(f"/setups/{ines.setup_id}/values/{value['id']}/read-backs", {"typed": "93.0"}).status_code == 201
    (row,) = [row for row in bench(ines)["read_backs"] if row["value"]["kind"] == "e_steps"]
    assert (row["value"]["setting"], row["machine_says"], row["value"]["read_back"]["state"]) == (
        "92.40",
        "93.0",
        "differs",
    )
    assert "M92 E92.40" in [one["send"] for one in row["instructions"]]
    assert [one["wait_s"] for one in row["instructions"]] == [0, 0, 300, 10, 0]
    for kind, typed in (("e_steps", "92.4"), ("z_offset", "-1.35")):
        key = found[kind]["value"]["id"]
        assert ines.post(f"/setups/{ines.setup_id}/values/{key}/read-backs", {"typed": typed}).status_code == 201
    assert bench(ines)["read_backs"] == []


def test_what_is_kept_on_readings_that_cannot_tell_is_not_fresh(sized: Person) -> None:
    """The row says so, and a run is still asked for."""
    run = read_all(sized, start(sized, "flow", "box").json(), "0.44", "0.45", "0.50", "0.49")
    assert run["result"]["title"]
    assert sized.decide(run, "keep").status_code == 201
    row = rows(sized)["flow"]
    assert (row["standing"], row["cause"]) == ("check", "kept, though the readings could not tell")
    assert row["reason"].startswith("The readings it rests on could not tell.")


def test_copying_warns_of_family_bore_hardness_and_feed_and_takes_nothing_past_a_limit(ines: Person) -> None:
    """Each difference is named; what is refused is left with its reason, what asks waits for a note."""
    assert type_in(ines, {"nozzle": "205", "fan": "100", "retraction": "5"}).status_code == 201
    form = MACHINE | {
        "machine": "Kestrel",
        "feed_path": "direct",
        "filament": "Cinder ASA",
        "family": "asa",
        "bore": "0.6",
    }
    other = ines.post("/setups", form).json()["id"]
    found = ines.post(f"/setups/{other}/copy-previews", {"from_setup_id": ines.setup_id}).json()
    assert "It was tuned on PLA, and this setup holds ASA." in found["warning"]
    assert "0.4 nozzle, and this one has 0.6" in found["warning"]
    assert "Bowden feed" in found["warning"]
    asks = {row["kind"] for row in found["lines"] if row["asks"]}
    assert (found["asks"], asks) == (True, {"nozzle", "fan", "retraction"})
    assert problems(ines.post(f"/setups/{other}/copies", {"from_setup_id": ines.setup_id})) == {"note": "outside_usual"}


def test_a_new_sealed_flexible_is_not_dry_because_it_is_silent(ines: Person) -> None:
    """One Enter does not make it dry for a week; drying does, and the hours since are told."""
    assert edit(ines, "filament", 1, family="tpu", label="").status_code == 200
    spool = add(ines, "spool", 1, name="1").json()["id"]
    assert assembly(ines, spool_id=spool).status_code == 201
    ines.post(f"/spools/{spool}/entries", {"kind": "wet_test", "number": "0"})
    test = ines.get(f"/setups/{ines.setup_id}/starts/temperature")["wet_test"]
    assert "silent is not dry" in test["sentence"]
    before = {row["key"]: row for row in bench(ines)["before"]}["filament"]
    assert (before["said"], before["good"]) == ("Filament: silent, and not dried", False)
    ines.post(f"/spools/{spool}/entries", {"kind": "dried", "number": "6", "second": "50"})
    ines.clock.wait(hours=20)
    assert ines.get(f"/setups/{ines.setup_id}/starts/temperature")["wet_test"] is None
    assert {row["key"]: row for row in bench(ines)["before"]}["filament"][
        "said"
    ] == f"Filament: dry, dried 20{NBSP}h ago"
    assert tick(ines, "Dry.").startswith("Dried 20 h ago")


def test_pops_are_not_taken_back_by_a_silent_strand(ines: Person) -> None:
    """*Filament: silent* beside *Hold: got wet* was both at once."""
    assert edit(ines, "filament", 1, family="petg", label="").status_code == 200
    spool = add(ines, "spool", 1, name="1").json()["id"]
    assert assembly(ines, spool_id=spool).status_code == 201
    for pops in ("3", "0"):
        ines.post(f"/spools/{spool}/entries", {"kind": "wet_test", "number": pops})
    assert {row["key"]: row for row in bench(ines)["before"]}["filament"]["said"] == "Filament: wet"
    assert tick(ines, "Dry.").startswith("Wet: ")


def test_the_card_reads_nothing_out_as_good_that_is_not(ines: Person) -> None:
    """Too hot for a liner, a bed nobody set, a fan of its own, a room in a draught, a crash today, an empty spool."""
    assert edit(ines, "hotend", 1, liner="all_metal", max_c="280").status_code == 200
    assert type_in(ines, {"nozzle": "270", "fan": "20"}, note="a try").status_code == 201
    assert edit(ines, "hotend", 1, liner="lined", max_c="240").status_code == 200
    ines.setup_id = ines.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    assert type_in(ines, {"nozzle": "238"}, note="a try").status_code == 201
    spool = add(ines, "spool", 1, name="1").json()["id"]
    assert assembly(ines, spool_id=spool).status_code == 201
    ines.post(f"/spools/{spool}/entries", {"kind": "weighed", "number": "4"})
    ines.post("/room", {"temperature": "69 F", "humidity": "40", "draught": True})
    log(ines, "crash")
    shown = card(ines)
    assert any("it crashed" in row or "crash" in row for row in shown["holds"])
    assert any("Nobody set a bed temperature for this surface" in row for row in shown["holds"])
    assert "bed nothing, since none is set here" in tick(ines, "Spool and profile.")
    assert "4 g are on the spool: not even the reserve of 10 g" in tick(ines, "Enough, checked, stay.")
    assert "shut it out first" in tick(ines, "Brim, door, room.")
    assert "20.6 °C (69.0 °F)" in tick(ines, "Brim, door, room.")
    old = next(row["id"] for row in ines.get("/setups") if row["surface"] == "not said")
    assert any("270" in row and "too hot" in row for row in card(ines, old)["holds"])


def test_a_lined_hotend_is_not_sold_for_more_and_a_correction_stands_in_the_record(ines: Person) -> None:
    """250 for a liner that stands 240 is refused at the first form too; what is corrected renames it and leaves a note."""
    form = MACHINE | {"machine": "Wren", "hotend_max": "250"}
    assert code_at(ines.post("/setups", form), "hotend_max") == "above_liner"
    other = ines.post("/setups", MACHINE | {"machine": "Wren", "liner": "all_metal", "hotend_max": "280"}).json()
    hotend = next(row for row in ines.get("/machines") if row["name"] == "Wren")["hotends"][0]
    assert edit(ines, "hotend", hotend["id"], liner="lined", max_c="230").status_code == 200
    shown = bench(ines, other["id"])
    assert (shown["setup"]["hotend"], shown["setup"]["hotend_detail"]) == ("Lined hotend", "never above 230 °C")
    assert shown["notes"][0]["text"] == (
        "Hotend: “Where its liner ends” was There is none: all metal, is In the hot zone. "
        "Hotend: “Maker's limit” was 280, is 230."
    )


def test_a_print_that_cannot_be_true_is_asked_about_once(ines: Person) -> None:
    """2000 g in half an hour; sent again as it is, it is taken."""
    form = {"what": "owl", "hours": "0.5", "grams": "2000", "outcome": "good"}
    assert code_at(ines.post(f"/setups/{ines.setup_id}/prints", form), "grams") == "faster_than_melt"
    again = ines.post(f"/setups/{ines.setup_id}/prints", form | {"as_typed": ["grams"]})
    assert again.status_code == 201


def test_what_no_hotend_of_a_setup_can_print_is_said_and_not_offered_from_0_to_0(sized: Person) -> None:
    """PC on a lined hotend."""
    sized.setup_id = sized.post("/setups", MACHINE | {"filament": "Slate PC", "family": "pc"}).json()["id"]
    (way, *_) = sized.get(f"/setups/{sized.setup_id}/starts/temperature")["methods"]
    assert way["missing"].startswith("This hotend cannot print it: this family begins at 270")
    assert {row["name"]: row["value"] for row in way["fields"]}["coldest"] == ""
    assert any("cannot print it" in row for row in bench(sized)["minds"])


def test_an_offset_for_another_sheet_comes_from_both_stacks(sized: Person) -> None:
    """The old one 1.2 mm thick at -1.35, the new one 1.5: the nozzle has to go up by 0.3."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    assert type_in(sized, {"z_offset": "-1.35"}).status_code == 201
    other = sized.post("/setups", MACHINE | {"surface": "Rough"}).json()["id"]
    for surface, stack in ((1, "1.2"), (2, "1.5")):
        assert edit(sized, "surface", surface, stack_mm=stack).status_code == 200
    (way,) = sized.get(f"/setups/{other}/starts/z_offset")["methods"]
    fields = {row["name"]: row["value"] for row in way["fields"]}
    assert (fields["current"], fields["thinner"]) == ("-1.35", "-0.3")


def test_a_machine_that_measures_its_offset_is_not_moved_for_the_sheet_once_more(sized: Person) -> None:
    """It has measured the new sheet with its nozzle: neither asked for, nor taken from the stacks, nor taken if sent."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    assert edit(sized, "machine", 1, measures_offset="yes").status_code == 200
    (way,) = sized.get(f"/setups/{sized.setup_id}/starts/z_offset")["methods"]
    fields = {row["name"]: row["hint"] for row in way["fields"]}
    assert "thinner" not in fields
    assert "measures with its nozzle" in fields["current"]
    run = start(sized, "z_offset", "patches", thinner="0.5").json()
    assert (run["cells"][0]["value"], run["cells"][0]["detail"]) == ("\N{MINUS SIGN}1.420 mm", "more negative is lower")


def test_walls_older_than_the_first_run_are_rescaled_from_what_that_run_found(sized: Person) -> None:
    """The first run of a workshop read 400 and made it 407: a box of last week was printed with 400."""
    last_week = sized.clock.now.isoformat()
    sized.clock.wait(days=7)
    sized.applied("98.4", "98.1", "98.6", current="400")
    answer = start(sized, "flow", "box", printed_at=last_week)
    (problem,) = answer.json()["fields"]
    assert (problem["field"], "400" in problem["message"]) == ("printed_at", True)
    assert start(sized, "flow", "box", printed_at=last_week, rescale="yes").status_code == 201
