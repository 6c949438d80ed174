"""Sliced files held against a setup, through the API."""

from __future__ import annotations

import re
from typing import Any

import pytest

from tests.server.conftest import Person
from tests.server.test_inventory import add, assembly, edit
from tests.server.test_printed_runs import sized, start
from tests.server.test_wear import log_print

__all__ = ["sized"]


def check(person: Person, text: str) -> Any:
    """The response to a file."""
    return person.client.post(
        f"/api/v1/setups/{person.setup_id}/file-checks",
        content=text,
        headers=person.headers() | {"content-type": "text/plain"},
    )


@pytest.fixture
def written(sized: Person) -> str:
    """A box written for the setup itself."""
    run = start(sized, "flow", "box").json()
    text: str = sized.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    return text


def test_a_file_is_told_what_is_wrong_with_it_and_whether_it_matches_tonights_numbers(
    sized: Person, written: str
) -> None:
    """Our own passes; made too hot it is held; its numbers stand beside tonight's."""
    typed = {"values": {"nozzle": "205", "fan": "80"}}
    assert sized.post(f"/setups/{sized.setup_id}/values", typed).status_code == 201
    found = check(sized, written).json()
    assert (found["findings"], found["harmful"]) == ([], False)
    assert (found["end"], found["verdict"]) == ("look", "It does not match tonight’s numbers: Fan")
    same = {row["kind"]: row["same"] for row in found["matches"]}
    assert (same["nozzle"], same["fan"]) == (True, False)
    assert len(found["view"]["layers"]) == 50
    hot = check(sized, written.replace("M109 S205", "M109 S260")).json()
    (finding,) = hot["findings"]
    assert finding["code"] == "nozzle_too_hot"
    assert "never above 240" in finding["text"]
    assert "the limit of its liner" in finding["text"]
    assert finding["where"].startswith("line ")


def test_a_fan_that_may_count_to_1_is_held_against_nothing(sized: Person, written: str) -> None:
    """Neither the numbers of tonight nor the filament: it is said, and the file is not called fine."""
    assert sized.post(f"/setups/{sized.setup_id}/values", {"values": {"fan": "100"}}).status_code == 201
    found = check(sized, re.sub("M106 S255", "M106 S1", written)).json()
    assert [row["code"] for row in found["findings"]] == ["fan_scale"]
    assert found["findings"][0]["text"].startswith("Its fan is asked for 1 at most")
    assert found["end"] == "look"
    (fan,) = [row for row in found["matches"] if row["kind"] == "fan"]
    assert (fan["known"], fan["file"]) == (False, "not clear")
    assert [one for one in found["remarks"] if one.startswith(("fan", "no fan"))] == ["fan not clear"]
    two = {"left": written, "right": re.sub("M106 S255", "M106 S1", written)}
    rows = sized.post(f"/setups/{sized.setup_id}/file-comparisons", two).json()
    assert [(row["left"], row["right"]) for row in rows if row["name"] == "Fan"] == [("100", "not clear")]


def test_a_fan_that_blows_harder_for_a_bridge_matches_all_the_same(sized: Person, written: str) -> None:
    """The harder blow is told; what is set beside tonight's number is the fan of the part."""
    assert sized.post(f"/setups/{sized.setup_id}/values", {"values": {"fan": "40"}}).status_code == 201
    assert "M106 S255" in written
    lines = written.replace("M106 S255", "M106 S102").splitlines(keepends=True)
    at = next(place for place, line in enumerate(lines) if "Z4." in line)
    file = "".join([*lines[:at], "M106 S204\n", *lines[at : at + 20], "M106 S102\n", *lines[at + 20 :]])
    found = check(sized, file).json()
    assert found["findings"] == []
    assert {row["kind"]: row["same"] for row in found["matches"]}["fan"] is True
    assert next(said for said in found["remarks"] if said.startswith("fan")).endswith(", in places 80 %")


def test_what_a_file_does_not_say_is_not_called_right(sized: Person, written: str) -> None:
    """A file without a retraction, held against one; one of a single layer says nothing of the others."""
    assert (
        sized.post(f"/setups/{sized.setup_id}/values", {"values": {"retraction": "5", "fan": "100"}}).status_code == 201
    )
    found = check(sized, re.sub(r"(?m)^(G1(?! X).*?) E-?[\d.]+", r"\1", written)).json()
    rows = {row["kind"]: (row["file"], row["known"]) for row in found["matches"]}
    assert rows["retraction"] == ("not in the file", False)
    assert (found["findings"], found["end"]) == ([], "untold")
    assert found["verdict"].endswith(", and not in the file: Retraction")
    flat = written[: written.index(" Z0.4")].rsplit("\n", 1)[0] + "\nM104 S0\nM140 S0\n"
    assert {row["kind"] for row in check(sized, flat).json()["matches"]}.isdisjoint({"nozzle", "bed", "fan", "layer"})


def test_a_command_that_does_more_than_it_shows_is_harm_and_one_nobody_knows_is_not_fine(
    sized: Person, written: str
) -> None:
    """It is named where it stands. A pressure compensation is held against tonight's, and missed by nobody."""
    unheated = re.sub(r"(?m)^M1[49]0 S[1-9].*\n", "", written)
    said = {row["kind"]: row["file"].split()[0] for row in check(sized, unheated).json()["matches"]}
    typed = {"values": said | {"pressure": "0.05"}}
    answer = sized.post(f"/setups/{sized.setup_id}/values", typed)
    assert answer.status_code == 201, answer.text
    fine = check(sized, unheated).json()
    assert fine["end"] == "fine", fine["verdict"]
    for line, code in (("M851 Z-3", "sets_machine"), ("M303 E0 S200", "heats_itself"), ("M502", "forgets")):
        found = check(sized, f"{unheated}{line}\n").json()
        assert [one["code"] for one in found["findings"]] == [code]
        assert (found["end"], found["findings"][0]["text"].startswith(line.split()[0])) == ("harm", True)
    waits = check(sized, f"{unheated}M600\n").json()
    assert (waits["end"], waits["harmful"]) == ("look", False)
    assert any("unattended: no" in said for said in waits["remarks"])
    other = check(sized, unheated.replace("G28\n", "G28\nM900 K0.3\n", 1)).json()
    assert other["verdict"] == "It does not match tonight’s numbers: Pressure compensation"
    untold = check(sized, f"{unheated}M4242\n").json()
    assert (untold["end"], untold["findings"]) == ("untold", [])
    assert untold["verdict"].endswith("not understood, so not judged: M4242")
    assert any("unattended: no" in said for said in untold["remarks"])
    assert "1 command was not understood: M4242" in untold["remarks"]


def test_a_spool_is_short_by_what_was_printed_from_it_too(sized: Person, written: str) -> None:
    """1000 g by the scale; 999.8 written down as printed since: the box takes more than that leaves."""
    spool = add(sized, "spool", 1, name="14").json()["id"]
    assert assembly(sized, spool_id=spool).status_code == 201
    sized.post(f"/spools/{spool}/entries", {"kind": "weighed", "number": "1000"})
    sized.clock.wait(hours=1)
    assert check(sized, written).json()["findings"] == []
    assert log_print(sized, grams="999.8").status_code == 201
    (finding,) = check(sized, written).json()["findings"]
    assert (finding["code"], finding["lead"]) == ("spool_short", "Spool short.")
    assert "0.2\N{NO-BREAK SPACE}g are on the spool" in finding["text"]


@pytest.mark.parametrize(("text", "said"), [("", "Nothing printed."), ("G1 X1\n" * 3, "Nothing printed.")])
def test_a_file_that_prints_nothing_is_said_to(sized: Person, text: str, said: str) -> None:
    """Empty, or no lines that lay anything down."""
    assert check(sized, text).json()["findings"][0]["lead"] == said


def test_a_picture_is_no_file_for_a_printer(sized: Person) -> None:
    """Bytes that are no text get a reason."""
    answer = check(sized, "\x89PNG\x00\x00")
    assert answer.status_code == 422
    assert answer.json()["fields"][0]["code"] == "no_text"


def test_two_files_are_set_side_by_side(sized: Person, written: str) -> None:
    """What their commands say differs, and what their remarks say."""
    other = written.replace("M109 S205", "M109 S215").replace("; flow: 100 %", "; flow: 95 %")
    rows = sized.post(f"/setups/{sized.setup_id}/file-comparisons", {"left": written, "right": other}).json()
    assert {"name": "Nozzle, rest", "left": "205", "right": "215", "by": "commands"} in rows
    assert {"name": "flow", "left": "100 %", "right": "95 %", "by": "remarks"} in rows


def test_a_setting_is_given_its_meaning_once_and_its_value_is_read_from_a_file(sized: Person, written: str) -> None:
    """Said for one file, remembered for the next of that program; never as measured, and never beyond a limit."""
    found = check(sized, written).json()
    flow = next(row for row in found["settings"] if row["name"] == "flow")
    assert (flow["is_number"], flow["kind"]) == (True, None)
    form = {"program": found["program"], "values": [{"name": "flow", "value": flow["value"], "kind": "flow"}]}
    assert sized.post(f"/setups/{sized.setup_id}/file-values", form).status_code == 201
    line = next(row for row in sized.get(f"/setups/{sized.setup_id}/bench")["tonight"] if row["kind"] == "flow")
    assert (line["text"], line["standing"], line["value"]["provenance"]["origin"]) == (
        "100.0",
        "assumed",
        "read_from_file",
    )
    again = check(sized, written.replace("revision: 1", "revision: 7")).json()
    assert next(row for row in again["settings"] if row["name"] == "flow")["kind"] == "flow"
    hot = {"program": "", "values": [{"name": "melt", "value": "260 C", "kind": "nozzle"}]}
    answer = sized.post(f"/setups/{sized.setup_id}/file-values", hot)
    assert answer.json()["fields"][0]["code"] == "too_hot"
    none = {"program": "", "values": [{"name": "melt", "value": "hot", "kind": "nozzle"}]}
    assert sized.post(f"/setups/{sized.setup_id}/file-values", none).json()["fields"][0]["code"] == "not_a_number"
    assert edit(sized, "machine", 1, lacks="pressure").status_code == 200
    push = {"program": "", "values": [{"name": "push", "value": "0.04", "kind": "pressure"}]}
    assert sized.post(f"/setups/{sized.setup_id}/file-values", push).json()["fields"][0]["code"] == "not_on_machine"
