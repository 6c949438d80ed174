"""Runs that print a piece or measure filament: start, file, readings by place, verdict, decision, reprint."""

from __future__ import annotations

import io
from typing import Any

import pytest
import trimesh

from tests.server.conftest import MACHINE, Person
from tests.server.test_inventory import edit

BOX = {
    "walls": "one", "own": "yes", "current": "100", "line_width": "0.45", "layer": "0.2", "first_layer": "0.2",
    "spacing": "", "nozzle": "205", "bed": "60", "fan": "100", "printed_at": "", "rescale": "no",
}  # fmt: skip
CALLIPER, MICROMETER = 1, 2
PATCHES = {"current": "-1.42", "line_width": "0.45", "layer": "0.2", "nozzle": "210", "bed": "60"}


@pytest.fixture
def sized(ines: Person) -> Person:
    """A machine whose size is entered, on a surface, with a micrometer beside the calliper."""
    answer = edit(
        ines,
        "machine",
        1,
        width_mm="220",
        depth_mm="220",
        height_mm="250",
        bed_max_c="80",
        screws="30 30; 190 30; 110 190",
    )
    assert answer.status_code == 200, answer.text
    tool = {"name": "Micrometer", "kind": "micrometer", "resolution": "0.001", "max_permissible_error": "0.003"}
    assert ines.post("/instruments", {"values": tool}).status_code == 201
    return ines


def start(person: Person, step: str, method: str, **typed: str) -> Any:
    """The response to a run started."""
    usual = {"box": BOX, "patches": PATCHES, "diameter": {"current": "1.75"}}[method]
    body = {
        "setup_id": person.setup_id,
        "step": step,
        "method": method,
        "instrument_id": MICROMETER,
        "values": usual | typed,
    }
    return person.post("/runs", body)


def start_box(person: Person, tool: int, **typed: str) -> Any:
    """A flow run read with another tool."""
    run = start(person, "flow", "box", **typed).json()
    return person.patch(f"/runs/{run['id']}", {"instrument_id": tool}, version=run["version"]).json()


def read_all(person: Person, run: Any, *typed: str) -> Any:
    """The run with these readings taken."""
    for text in typed:
        answer = person.read(run["id"], text)
        assert answer.status_code == 201, answer.text
        run = answer.json()
    return run


def codes(answer: Any) -> dict[str, str]:
    """Codes of the problems at their fields."""
    assert answer.status_code == 422, answer.text
    return {row["field"]: row["code"] for row in answer.json()["fields"]}


def test_what_a_setup_prints_says_how_small_a_change_is_worth_making(sized: Person) -> None:
    """The same four walls are left alone for brackets and corrected for joints; a run keeps what held when it began."""
    walls = ("0.4340", "0.4338", "0.4342", "0.4340")
    setup = sized.setup_id
    fit = next(row for row in sized.get(f"/setups/{setup}/picks/purpose") if row["text"] == "joints")
    assert fit["beside"] == "a flow 2 % off is worth a change"
    everyday = read_all(sized, start(sized, "flow", "box").json(), *walls)
    assert everyday["result"]["verdict"] == "try"
    assert everyday["result"]["remarks"][0].startswith("The walls alone say 106.8")
    assert sized.post("/assemblies", fit["form"]).json()["purpose"] == "fit"
    assert sized.get(f"/runs/{everyday['id']}")["result"]["verdict"] == "try"
    assert sized.post(f"/runs/{everyday['id']}/leave", version=everyday["version"]).status_code == 201
    joint = read_all(sized, start(sized, "flow", "box").json(), *walls)
    assert joint["result"]["verdict"] == "apply"
    (said,) = joint["result"]["remarks"]
    assert said.startswith("For what this setup prints, 2 % is worth a change; of these readings 4.4")


def test_a_box_is_seen_written_measured_and_applied(sized: Person) -> None:
    """Four walls at 0.49 instead of 0.45: blind until the fourth, then a flow that feeds less; it stands in the crib."""
    form = sized.get(f"/setups/{sized.setup_id}/starts/flow")
    assert [way["method"] for way in form["methods"]] == ["box", "diameter"]
    piece = sized.post(f"/setups/{sized.setup_id}/pieces", {"method": "box", "values": BOX}).json()
    assert (piece["refused"], piece["height_mm"]) == ("", 10.0)
    run = start(sized, "flow", "box").json()
    assert (run["entry"]["place"], run["entry"]["asked"], run["entry"]["reads"]) == ("1A1", 4, "wall A, in the middle")
    assert [place["state"] for place in run["entry"]["spots"]].count("asked") == 3
    text = sized.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    assert "nozzle: 205 °C, limit 240 °C: the limit of its liner" in text
    assert "; flow: 100 %" in text
    layers = sized.get(f"/runs/{run['id']}/layers")["layers"]
    assert len(layers) == 50
    assert all(len(layer["lines"]) % 4 == 0 for layer in layers)
    run = read_all(sized, run, "0.492", ".490", "0,491")
    assert run["result"] is None
    assert (run["cells"][1]["label"], run["body"]["strip"]["target"]) == ("Layer", None)
    run = read_all(sized, run, "491")
    assert run["cells"][1]["value"] == "0.45 x 0.2 mm"
    assert [row["place"] for row in run["readings"]] == ["A1", "B1", "C1", "D1"]
    assert run["readings"][3]["number"] == pytest.approx(0.491)
    assert run["result"]["verdict"] == "apply"
    assert run["result"]["proposal"] == "92.9"
    answer = sized.decide(run, "apply")
    assert answer.status_code == 201, answer.text
    bench = sized.get(f"/setups/{sized.setup_id}/bench")
    flow = next(line for line in bench["tonight"] if line["kind"] == "flow")
    assert (flow["text"], flow["standing"]) == ("92.9", "fresh")
    again = answer.json()["reprint"]
    assert again["label"] == "Print again at 92.9 %"
    assert "confirmed" in again["sentence"]


@pytest.mark.parametrize(
    ("method", "typed", "code", "words"),
    [
        ("box", "4.6", "unit_slip", "Did you mean 0.46 mm?"),
        ("box", "0", "impossible", "A width is above 0"),
        ("box", "2.9", "impossible", "cannot be a wall of this box"),
        ("box", "0.86", "far_off", "nearer to two lines than to one line"),
        ("box", "0.3", "far_off", "far from what any flow would make"),
        ("patches", "2.04", "unit_slip", "Did you mean 0.204 mm?"),
        ("patches", "0", "impossible", "A thickness is above 0"),
        ("patches", "0.5", "far_off", "far from one layer of 0.2 mm"),
        ("diameter", "17.4", "unit_slip", "Did you mean 1.74 mm?"),
        ("diameter", "-1.75", "impossible", "A diameter is above 0"),
        ("diameter", "1.2", "far_off", "no filament of 1.75 mm"),
    ],
)
def test_an_odd_reading_is_asked_about_in_the_words_of_its_piece(
    sized: Person, method: str, typed: str, code: str, words: str
) -> None:
    """It is not taken before; what is confirmed stands as odd, what was meant as usual, and nothing below 0 ever."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    run = start(sized, "z_offset" if method == "patches" else "flow", method).json()
    (problem,) = sized.read(run["id"], typed).json()["fields"]
    assert (problem["code"], words in problem["message"]) == (code, True), problem
    assert sized.get(f"/runs/{run['id']}")["readings"] == []
    meant = problem["suggested"]
    assert (meant is not None) == (code == "unit_slip")
    taken = sized.read(run["id"], meant) if meant else sized.read(run["id"], typed, as_typed=code)
    possible = float(typed) > 0
    assert taken.status_code == (201 if possible else 422)
    assert [row["odd"] for row in sized.get(f"/runs/{run['id']}")["readings"]] == [meant is None] * possible


def test_a_wall_far_from_the_rest_is_named_by_its_place(sized: Person) -> None:
    """A seam under the jaws: nothing is dropped for that, a person looks; a calliper that never moves is asked about too."""
    walls = ("0.490", "0.491", "0.490", "0.489", "0.490", "0.491", "0.540", "0.490")
    run = read_all(sized, start(sized, "flow", "box").json(), *walls)
    assert run["finding"].startswith("C2 is 0.04 above the rest: seam, blob or corner?"), run["finding"]
    assert sized.post(f"/runs/{run['id']}/leave", version=run["version"]).status_code == 201
    stuck = read_all(sized, start(sized, "flow", "box").json(), *["0.490"] * 8)
    assert stuck["finding"] == "All 8 read 0.49: is the calliper stuck, or locked?"


@pytest.mark.parametrize(
    ("widths", "said"),
    [
        (("0.460", "0.461", "0.460", "0.459"), "Confirmed"),
        (("0.470", "0.471", "0.470", "0.471"), "Consistent"),
    ],
)
def test_a_reprint_says_whether_the_new_flow_is_right(sized: Person, widths: tuple[str, ...], said: str) -> None:
    """Walls that moved as they should, as sure as can be or nearly."""
    run = read_all(sized, start(sized, "flow", "box").json(), "0.492", "0.490", "0.491", "0.491")
    assert sized.decide(run, "apply").status_code == 201
    again = sized.post(f"/runs/{run['id']}/reprints").json()
    assert again["method_name"].startswith(f"reprint of run {run['id']}")
    assert "; flow: 92.9 %" in sized.client.get(f"/api/v1/runs/{again['id']}/files/piece").text
    again = read_all(sized, again, *widths)
    assert again["result"]["remarks"][0].startswith(said)


def test_walls_that_did_not_move_are_asked_about_and_never_corrected_again(sized: Person) -> None:
    """The old box under the calliper is judged at its own flow; a new one that did not answer proposes nothing."""
    walls = ("0.492", "0.490", "0.491", "0.491")
    first = read_all(sized, start(sized, "flow", "box").json(), *walls)
    flow = first["result"]["proposal"]
    assert sized.decide(first, "apply").status_code == 201
    again = read_all(sized, start(sized, "flow", "box", current=flow).json(), *walls)
    shown = again["result"]
    assert shown["title"] == f"Is this the box of run {first['id']}?"
    assert (shown["can_apply"], shown["can_keep"]) == (False, False)
    assert {"old_box", "new_box"} <= set(again["actions"])
    old = sized.patch(f"/runs/{again['id']}", {"box": "old"}, version=again["version"]).json()
    assert old["result"]["proposal"] == flow
    assert any("is on record already" in said for said in old["result"]["remarks"])
    assert sized.post(f"/runs/{again['id']}/leave", version=old["version"]).status_code == 201

    reprint = read_all(sized, sized.post(f"/runs/{first['id']}/reprints").json(), *walls)
    assert reprint["result"]["reason"] == "same_box"
    told = sized.patch(f"/runs/{reprint['id']}", {"box": "new"}, version=reprint["version"]).json()
    assert (told["result"]["verdict"], told["result"]["reason"]) == ("refuse", "contradicted")
    assert not told["result"]["can_apply"]
    assert "old_box" not in told["actions"]


def test_boxes_of_one_flow_and_evening_are_judged_together(sized: Person) -> None:
    """A second box is for what the first could not tell; not one of another day, nor beside one that could."""
    scattered, alike = ("0.500", "0.470", "0.420", "0.460"), ("0.460", "0.461", "0.460", "0.459")

    def together(*walls: str) -> list[str]:
        run = read_all(sized, start(sized, "flow", "box").json(), *walls)
        assert sized.post(f"/runs/{run['id']}/leave", version=run["version"]).status_code == 201
        return [said for said in run["result"]["remarks"] if "Judged together" in said]

    assert together(*scattered) == []
    (said,) = together(*alike)
    assert "the walls of run 1, printed the same evening at the same flow" in said
    sized.clock.wait(hours=20)
    assert together(*alike) == []
    assert together(*alike) == []


def test_walls_that_differ_by_axis_are_mechanics(sized: Person) -> None:
    """Opposite walls alike, and the two pairs apart: named, and no scatter."""
    run = read_all(sized, start(sized, "flow", "box").json(), "0.480", "0.430", "0.481", "0.431")
    (said,) = [one for one in run["result"]["remarks"] if "mechanics" in one]
    assert said.startswith("Walls A and C are 0.05 mm wider than B and D")


def test_a_zero_check_before_the_walls_counts_and_one_after_does_not(sized: Person) -> None:
    """What it found is taken off; what was read stays as it was read."""
    walls = ("0.480", "0.480", "0.481", "0.479")
    before = read_all(sized, start(sized, "flow", "box").json(), *walls)
    checked = sized.post("/instruments/2/zero-checks", {"known": "3", "read": "3.03"})
    assert checked.status_code == 201
    shown = sized.get(f"/runs/{before['id']}")["result"]
    assert (shown["proposal"], shown["half_width_text"]) == (
        before["result"]["proposal"], before["result"]["half_width_text"],
    )  # fmt: skip
    assert sized.post(f"/runs/{before['id']}/leave", version=before["version"]).status_code == 201
    after = read_all(sized, start(sized, "flow", "box").json(), *walls)
    assert any("+0.030" in said for said in after["result"]["remarks"])
    assert float(after["result"]["proposal"]) > float(before["result"]["proposal"])
    assert after["readings"][0]["text"] == "0.480"
    for typed, field in (({"read": ""}, "read"), ({"read": "0.5"}, "read"), ({"known": "x", "read": "0"}, "known")):
        refused = sized.post("/instruments/2/zero-checks", typed)
        assert [row["field"] for row in refused.json()["fields"]] == [field]


ZERO = {"known": "3", "read": "3.00"}


def reach(run: Any) -> float:
    """The ± of a result, as it is said."""
    return float(run["result"]["half_width_text"].removeprefix("±").strip())


def test_a_zero_that_is_checked_half_way_counts_once_all_walls_were_read_with_it(sized: Person) -> None:
    """What was asked for helps: readings of before are left out, said so, and come back where the others are not enough."""
    run = read_all(sized, start_box(sized, CALLIPER), "0.48", "0.48", "0.47", "0.48")
    assert "its zero checked" in run["result"]["sentence"]
    assert sized.post(f"/instruments/{CALLIPER}/zero-checks", ZERO).status_code == 201
    three = read_all(sized, run, "0.48", "0.48", "0.47")
    assert "its zero checked" in three["result"]["sentence"]
    assert any(
        said.startswith("4 readings whose zero") and "strike them" in said for said in three["result"]["remarks"]
    )
    four = read_all(sized, three, "0.48")
    assert "its zero checked" not in four["result"]["sentence"]
    assert reach(four) < 0.7 * reach(three)
    assert [said for said in four["result"]["remarks"] if said.startswith("4 readings do not count")]
    assert len(four["readings"]) == 8
    assert not any("strike them" in said for said in four["result"]["remarks"])
    struck = sized.post(f"/runs/{run['id']}/taken-back").json()
    assert reach(struck) == reach(three)


def test_a_box_whose_zero_was_not_checked_takes_nothing_from_one_whose_zero_was(sized: Person) -> None:
    """The second box is read as was asked, and judged by itself; the micrometer's before it would add to what it tells."""
    walls = ("0.48", "0.48", "0.47", "0.48")
    first = read_all(sized, start_box(sized, CALLIPER), *walls)
    assert first["result"]["verdict"] == "repeat"
    assert sized.post(f"/runs/{first['id']}/leave", version=first["version"]).status_code == 201
    assert sized.post(f"/instruments/{CALLIPER}/zero-checks", ZERO).status_code == 201
    second = read_all(sized, start_box(sized, CALLIPER), *walls)
    assert not any("Judged together" in said for said in second["result"]["remarks"])
    assert reach(second) < 0.7 * reach(first)


def test_a_diameter_counts_what_was_read_after_its_zero_was_checked(sized: Person) -> None:
    """Six readings are enough by themselves."""
    run = start(sized, "flow", "diameter").json()
    run = sized.patch(f"/runs/{run['id']}", {"instrument_id": CALLIPER}, version=run["version"]).json()
    before = read_all(sized, run, *["1.72", "1.71"] * 3)
    assert sized.post(f"/instruments/{CALLIPER}/zero-checks", ZERO).status_code == 201
    five = read_all(sized, before, *["1.72", "1.71"] * 2, "1.72")
    assert reach(five) == reach(before)
    six = read_all(sized, five, "1.71")
    assert reach(six) < 0.7 * reach(before)
    assert [said for said in six["result"]["remarks"] if said.startswith("6 readings do not count")]


@pytest.mark.parametrize(
    ("typed", "field", "code"),
    [
        ({"line_width": "0.9"}, "line_width", "out_of_range"),
        ({"layer": "0.4"}, "layer", "out_of_range"),
        ({"nozzle": "250"}, "nozzle", "out_of_range"),
        ({"nozzle": "120"}, "nozzle", "out_of_range"),
        ({"bed": "90"}, "bed", "out_of_range"),
        ({"current": "9.8"}, "current", "out_of_range"),
        ({"walls": "two", "own": "no"}, "spacing", "empty"),
        ({"printed_at": "2030-01-01T10:00"}, "printed_at", "in_future"),
        ({"printed_at": "yesterday"}, "printed_at", "not_a_date"),
    ],
)
def test_a_box_that_cannot_be_is_refused_at_its_field(
    sized: Person, typed: dict[str, str], field: str, code: str
) -> None:
    """Line and layer by the bore, heat by the strictest limit; two lines need their spacing."""
    assert codes(start(sized, "flow", "box", **typed))[field] == code


def test_how_large_a_machine_prints_is_asked_where_it_is_needed_and_kept_with_it(ines: Person) -> None:
    """Three fields above the others, until somebody has said it; a look at the piece keeps nothing."""
    (way,) = [one for one in ines.get(f"/setups/{ines.setup_id}/starts/flow")["methods"] if one["method"] == "box"]
    size = {"width_mm": "220", "depth_mm": "220", "height_mm": "250"}
    assert [row["name"] for row in way["fields"]][:3] == list(size)
    answer = ines.post(f"/setups/{ines.setup_id}/pieces", {"method": "box", "values": BOX})
    assert codes(answer) == dict.fromkeys(size, "empty")
    small = ines.post(f"/setups/{ines.setup_id}/pieces", {"method": "box", "values": BOX | size | {"width_mm": "5"}})
    assert codes(small) == {"width_mm": "out_of_range"}
    looked = ines.post(f"/setups/{ines.setup_id}/pieces", {"method": "box", "values": BOX | size})
    assert looked.status_code == 200, looked.text
    assert codes(ines.post(f"/setups/{ines.setup_id}/pieces", {"method": "box", "values": BOX}))
    begun = ines.post("/runs", {
        "setup_id": ines.setup_id, "step": "flow", "method": "box", "instrument_id": 1, "values": BOX | size,
    })  # fmt: skip
    assert begun.status_code == 201, begun.text
    written = ines.client.get(f"/api/v1/runs/{begun.json()['id']}/files/piece")
    assert written.status_code == 200, written.text
    (way,) = [one for one in ines.get(f"/setups/{ines.setup_id}/starts/flow")["methods"] if one["method"] == "box"]
    assert "width_mm" not in [row["name"] for row in way["fields"]]


def test_the_tool_that_sees_most_stands_first_and_says_what_it_can_tell(sized: Person) -> None:
    """Before anything is printed; and a checked zero is said to be worth it where it is."""
    (way,) = [one for one in sized.get(f"/setups/{sized.setup_id}/starts/flow")["methods"] if one["method"] == "box"]
    assert [tool["name"] for tool in way["instruments"]] == ["Micrometer", "Calliper 2"]
    fine, coarse = (tool["sees"].replace("\N{NO-BREAK SPACE}", " ") for tool in way["instruments"])
    told = [int(said.split("± ")[1].split(" %")[0]) for said in (fine, coarse)]
    assert told[0] < told[1]
    assert "With its zero checked" in coarse


def test_e_steps_are_marked_where_the_tube_cannot_come_off(ines: Person) -> None:
    """The usual way of a machine whose extruder sits on its hotend; what somebody did last comes before that."""
    assert ines.get(f"/setups/{ines.setup_id}/starts/e_steps")["method"] == "open_air"
    direct = ines.post("/setups", MACHINE | {"machine": "Kestrel", "feed_path": "direct"}).json()["id"]
    assert ines.get(f"/setups/{direct}/starts/e_steps")["method"] == "marked"
    ines.start()
    assert ines.get(f"/setups/{direct}/starts/e_steps")["method"] == "open_air"


def test_what_is_read_at_the_wrong_place_is_asked_about(sized: Person) -> None:
    """A wall of one line where two were printed; a slip; nothing; and the same number twelve times."""
    run = start(sized, "flow", "box", walls="both").json()
    assert run["entry"]["asked"] == 8
    run = read_all(sized, run, "0.46", "0.46", "0.46", "0.46")
    assert run["entry"]["reads"] == "wall A, in the middle, two lines"
    answer = sized.read(run["id"], "0.46")
    assert codes(answer)["typed"] == "far_off"
    assert "nearer to one line" in answer.json()["fields"][0]["message"]
    assert codes(sized.read(run["id"], "8.6"))["typed"] == "unit_slip"
    run = read_all(sized, run, "0.867", "0.868", "0.867", "0.866")
    assert run["result"] is not None
    assert any("One line alone says" in remark for remark in run["result"]["remarks"])


def test_a_place_can_be_passed_over_and_a_struck_one_comes_round_again(sized: Person) -> None:
    """Skip B1: three walls are enough; strike A1: it is asked for again."""
    run = read_all(sized, start(sized, "flow", "box").json(), "0.46")
    skip = sized.client.patch(f"/api/v1/runs/{run['id']}", json={"skip": "1B1"}, headers=sized.headers(run["version"]))
    assert skip.status_code == 200, skip.text
    run = skip.json()
    assert (run["entry"]["place"], run["entry"]["asked"]) == ("1C1", 3)
    run = read_all(sized, run, "0.461", "0.46")
    assert run["result"] is not None
    first = run["readings"][0]["id"]
    struck = sized.post(f"/runs/{run['id']}/readings/{first}/strike", {"reason": "On the seam."})
    assert struck.status_code == 201, struck.text
    assert struck.json()["entry"]["place"] == "1A1"


def test_walls_of_before_the_last_e_steps_are_refused_or_rescaled_with_the_sum_shown(sized: Person) -> None:
    """Printed at 400 steps with 100 %: at 412.6 the same feed is 96.95 %."""
    heat = {"values": {"e_steps": "400"}}
    assert sized.post(f"/setups/{sized.setup_id}/values", heat).status_code == 201
    printed = sized.clock.now.isoformat()
    sized.clock.wait(hours=2)
    heat = {"values": {"e_steps": "412.6"}}
    assert sized.post(f"/setups/{sized.setup_id}/values", heat).status_code == 201
    answer = start(sized, "flow", "box", printed_at=printed)
    assert codes(answer)["printed_at"] == "sample_too_old"
    assert "100 % at 400 steps/mm feeds as much as 96.95 % at 412.6 steps/mm" in answer.json()["fields"][0]["message"]
    run = start(sized, "flow", "box", printed_at=printed, rescale="yes").json()
    assert run["cells"][0]["value"] == "97.0 %"
    assert run["cells"][0]["detail"].startswith("rescaled")


def test_a_flow_of_now_for_a_box_of_before_is_asked_about_alone(sized: Person) -> None:
    """Diameter or e-steps moved the flow on record after the box was printed: rescaling that one would correct twice."""
    assert sized.post(f"/setups/{sized.setup_id}/values", {"values": {"flow": "98"}}).status_code == 201
    sized.clock.wait(hours=1)
    printed = sized.clock.now.isoformat()[:16]
    sized.clock.wait(hours=1)
    run = read_all(sized, start(sized, "flow", "diameter").json(), *["1.700"] * 6)
    assert sized.decide(run, "apply").status_code == 201
    asked = start(sized, "flow", "box", current="92.5", printed_at=printed, rescale="yes")
    assert codes(asked) == {"current": "flow_of_now"}
    (field,) = asked.json()["fields"]
    assert field["message"] == "When it was printed the record said 98.0 %; 92.5 came after. Was it printed with 98.0?"
    assert field["suggested"] == "98.0"
    right = start(sized, "flow", "box", current="98", printed_at=printed, rescale="yes")
    assert right.json()["cells"][0]["value"] == "92.5 %"


def test_walls_printed_before_the_e_steps_changed_meanwhile_are_not_decided_on(sized: Person) -> None:
    """Somebody else applies new e-steps while the walls are measured."""
    run = read_all(sized, start(sized, "flow", "box").json(), "0.492", "0.490", "0.491", "0.491")
    heat = {"values": {"e_steps": "412.6"}}
    assert sized.post(f"/setups/{sized.setup_id}/values", heat).status_code == 201
    answer = sized.decide(run, "apply")
    assert (answer.status_code, answer.json()["code"]) == (409, "sample_too_old")


def test_filament_is_measured_two_ways_and_a_new_diameter_leaves_what_comes_out_as_it_is(sized: Person) -> None:
    """1.70 entered as 1.75: the diameter is written, and a flow of 98 becomes 92.5, which feeds as much as before."""
    assert sized.post(f"/setups/{sized.setup_id}/values", {"values": {"flow": "98"}}).status_code == 201
    run = start(sized, "flow", "diameter").json()
    method = sized.get(f"/runs/{run['id']}/method")
    assert (method["piece"], method["files"], run["entry"]["reads"]) == (None, [], "place 1, widest")
    run = read_all(sized, run, "1.700", "1.701", "1702", "1.700", "1.699", "1.700")
    assert run["readings"][2]["number"] == pytest.approx(1.702)
    assert run["result"]["verdict"] == "apply"
    assert sized.decide(run, "apply").status_code == 201
    crib = {line["kind"]: line["text"] for line in sized.get(f"/setups/{sized.setup_id}/bench")["tonight"]}
    assert crib["diameter"] == "1.700"
    assert crib["flow"] == "92.5"


def test_nine_patches_give_the_offset_and_say_what_the_screws_have_to_do(sized: Person) -> None:
    """0.32 on the left, 0.20 on the right of 0.2 commanded: lower, and tilted; the surface has to be known."""
    assert codes(start(sized, "z_offset", "patches"))["current"] == "no_surface"
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    run = start(sized, "z_offset", "patches").json()
    assert run["entry"]["asked"] == 9
    assert "; offset it is printed with: -1.42 mm" in sized.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    skip = sized.client.patch(f"/api/v1/runs/{run['id']}", json={"skip": "1"}, headers=sized.headers(run["version"]))
    assert (skip.status_code, skip.json()["code"]) == (409, "all_needed")
    run = read_all(sized, run, *["0.320", "0.260", "0.200"] * 2, "0.320", "260")
    assert run["result"] is None
    run = read_all(sized, run, "0.200")
    assert (run["result"]["verdict"], run["result"]["proposal"]) == ("apply", "\N{MINUS SIGN}1.480")
    assert "screw 1 up 1/16 turn, screw 2 down 1/16 turn" in run["finding"]
    assert sized.decide(run, "apply").status_code == 201
    rows = {row["step"]: row for row in sized.get(f"/setups/{sized.setup_id}/bench")["steps"]}
    assert (rows["z_offset"]["standing"], rows["z_offset"]["value"]["setting"]) == ("fresh", "\N{MINUS SIGN}1.480")


def test_patches_printed_before_the_offset_was_changed_decide_nothing(sized: Person) -> None:
    """The same error would be corrected twice: leave the run, print new ones."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    run = read_all(sized, start(sized, "z_offset", "patches").json(), *["0.260"] * 8)
    sized.clock.wait(hours=1)
    typed = {"values": {"z_offset": "-1.45"}, "note": ""}
    assert sized.post(f"/setups/{sized.setup_id}/values", typed).status_code == 201
    last = sized.read(run["id"], "0.260")
    assert last.status_code == 409
    assert "leave this run and print new ones" in last.json()["detail"]
    assert sized.post(f"/runs/{run['id']}/leave", version=run["version"]).status_code == 201


@pytest.mark.parametrize(
    ("block", "said"),
    [("G1 X900", "leaves its volume"), ("M140 S200", "heats to 200"), ("G1 X{widht_mm}", "no placeholder")],
)
def test_a_start_block_that_would_do_harm_is_refused_at_its_field(sized: Person, block: str, said: str) -> None:
    """Before it stands in any file."""
    answer = edit(sized, "machine", 1, start_block=block)
    assert "start_block" in codes(answer)
    assert said in answer.json()["fields"][0]["message"]


def test_a_feed_is_written_as_a_file_that_heats_feeds_once_and_switches_off(ines: Person) -> None:
    """As hot as PLA needs and no hotter, whether the size of the machine is known or not; unknown family: by hand."""
    text = ines.client.get(f"/api/v1/runs/{ines.start()['id']}/files/piece").text
    assert "\nM109 S190\n" in text
    assert text.count("E100.00000") == 1
    assert "G28" not in text
    assert text.index("E100.00000") < text.index("M104 S0")
    other = ines.post("/setups", MACHINE | {"filament": "Reed", "family": "other"}).json()["id"]
    run = ines.start(setup_id=other)
    answer = ines.client.get(f"/api/v1/runs/{run['id']}/files/piece")
    assert (answer.status_code, answer.json()["code"]) == (409, "no_heat")


def test_the_pad_comes_before_the_patches(sized: Person) -> None:
    """Long lines in one layer, and what to do while they are printed."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    run = start(sized, "z_offset", "patches").json()
    text = sized.client.get(f"/api/v1/runs/{run['id']}/files/pad").text
    assert "; use: move the offset by small steps while it prints, 12 s from one to the next" in text
    assert {line.split("Z")[1].split()[0] for line in text.splitlines() if " E" in line and "Z" in line} == {"0.200"}


def test_the_offset_found_on_the_pad_is_what_the_patches_are_printed_with(sized: Person) -> None:
    """Three steps lower by eye become a typed value and the offset of the run; patches once read keep the one before."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    run = start(sized, "z_offset", "patches", current="-1.400").json()
    over = f"/runs/{run['id']}/offsets-by-eye"
    assert sized.post(over).json()["code"] == "nothing_moved"
    for _ in range(3):
        sized.post(f"/runs/{run['id']}/ticks", {"by": "-0.02"})
    run = sized.post(over).json()
    assert run["cells"][0]["value"] == "\N{MINUS SIGN}1.460 mm"
    assert sized.get(f"/runs/{run['id']}/method")["live"]["moved"] == 0
    value = next(row for row in sized.get(f"/setups/{sized.setup_id}/bench")["steps"] if row["step"] == "z_offset")[
        "value"
    ]
    assert (value["number"], value["provenance"]["origin"], value["provenance"]["note"]) == (
        -1.46, "typed", f"By eye on the pad of run {run['id']}.",
    )  # fmt: skip
    run = read_all(sized, run, *["0.200"] * 9)
    assert run["result"]["verdict"] == "keep"
    sized.post(f"/runs/{run['id']}/ticks", {"by": "-0.02"})
    assert sized.post(over).json()["code"] == "patches_read"


def test_walls_that_a_strong_hand_presses_in_are_found_by_reading_them_softly(sized: Person) -> None:
    """A calliper asks for it before a change; what is found is put back, a slip is refused, the last of a place counts."""
    assert sized.post(f"/instruments/{CALLIPER}/zero-checks", {"known": "3", "read": "3.00"}).status_code == 201
    run = start_box(sized, CALLIPER)
    assert "soft" not in run["actions"]
    run = read_all(sized, run, "0.40", "0.40", "0.39", "0.40")

    def softly(**typed: str) -> Any:
        now = sized.get(f"/runs/{run['id']}")
        return sized.patch(f"/runs/{run['id']}", {"soft": typed}, version=now["version"])

    assert (run["result"]["verdict"], run["result"]["first"]) == ("apply", "soft")
    assert "jaws only just touching" in run["result"]["remarks"][0]
    assert [row["label"][:6] for row in run["body"]["softly"]] == ["wall D", "wall C", "wall B", "wall A"]
    assert codes(softly(**{"1A1": "0.60", "1B1": ""})) == {"1A1": "out_of_range"}
    assert codes(softly(**{"1A1": " "})) == {"1A1": "empty"}
    assert softly(**{"1A3": "0.49"}).status_code == 409
    three = softly(**{"1A1": "0.35", "1B1": "0.41", "1C1": "0.41"}).json()
    assert three["result"]["first"] == "soft"
    assert [row["soft"] for row in three["body"]["softly"]] == ["", "0.41", "0.41", "0.35"]
    found = softly(**{"1A1": "0.42", "1D1": "0.42"}).json()
    assert any("+0.017" in remark and "put back" in remark for remark in found["result"]["remarks"])
    assert "0.415" in found["body"]["strip"]["mean_note"]
    assert found["result"]["first"] is None


def test_one_line_gives_way_more_than_two_and_each_is_asked_for_itself(sized: Person) -> None:
    """What one line was pressed in by is put back to one line only; a struck reading takes its soft one along."""
    assert sized.post(f"/instruments/{CALLIPER}/zero-checks", {"known": "3", "read": "3.00"}).status_code == 201
    run = start_box(sized, CALLIPER, walls="both")
    run = read_all(sized, run, *["0.40"] * 4, *["0.82"] * 4)
    assert (run["result"]["reason"], run["result"]["first"]) == ("rests_on_zero", "soft")
    assert "read each wall once more" in run["result"]["remarks"][0]

    def softly(**typed: str) -> Any:
        now = sized.get(f"/runs/{run['id']}")
        return sized.patch(f"/runs/{run['id']}", {"soft": typed}, version=now["version"]).json()

    one = softly(**dict.fromkeys(("1A1", "1B1", "1C1", "1D1"), "0.43"))
    told = [remark for remark in one["result"]["remarks"] if remark.startswith("Read softly")]
    assert ["walls of one line are wider: +0.030" in remark for remark in told] == [True]
    assert one["result"]["first"] == "soft"
    both = softly(**dict.fromkeys(("2A1", "2B1", "2C1", "2D1"), "0.82"))
    assert any("walls of two lines are the same" in remark for remark in both["result"]["remarks"])
    assert both["result"]["first"] is None
    struck = sized.post(f"/runs/{run['id']}/readings/{run['readings'][0]['id']}/strike", {"reason": "Slipped."}).json()
    assert "1A1" not in [row["place"] for row in struck["body"]["softly"]]


def test_walls_are_read_softly_only_where_a_hand_closes_the_jaws_and_a_change_is_made(sized: Person) -> None:
    """A micrometer has its ratchet, and a flow that stays needs no more readings."""
    run = read_all(sized, start(sized, "flow", "box").json(), "0.400", "0.401", "0.399", "0.400")
    assert (run["result"]["verdict"], run["result"]["first"]) == ("apply", None)
    assert sized.post(f"/runs/{run['id']}/leave", version=run["version"]).status_code == 201
    right = [f"{run['body']['strip']['target']:.2f}"] * 4
    run = read_all(sized, start_box(sized, CALLIPER), *right)
    assert (run["result"]["can_keep"], run["result"]["first"]) == (True, None)


@pytest.mark.parametrize(
    "text",
    [
        "0.46\n0.461\n0.46\n0.459\n",
        "wall;width\nA;0,46\nB;0,461\n\nC;0,46\nD;0,459",
        "place,mm\nA1,0.46\nB1,0.461\nC1,0.46\nD1,0.459",
        "Width\t\n0,46\n0,461\n0,46\n0,459 mm",
    ],
)
def test_readings_come_from_a_list_in_one_go(sized: Person, text: str) -> None:
    """A column, a CSV with a heading, decimal commas, blank rows, units."""
    run = start(sized, "flow", "box").json()
    body = {"text": text, "taken_at": sized.clock.now.isoformat()}
    answer = sized.post(f"/runs/{run['id']}/reading-lists", body)
    assert answer.status_code == 201, answer.text
    assert [row["number"] for row in answer.json()["readings"]] == [0.46, 0.461, 0.46, 0.459]
    assert [row["place"] for row in answer.json()["readings"]] == ["A1", "B1", "C1", "D1"]


@pytest.mark.parametrize(
    ("text", "code", "said"),
    [
        ("0.46\nnothing here\n0.46", "not_a_number", "Line 2"),
        ("0.46\n0.46\n9.2\n0.46", "impossible", "Line 3"),
        ("", "empty", "no number"),
        ("owl\n" * 500, "too_large", "500 lines"),
        ("\n".join(["0.46"] * 80), "too_large", "80 readings"),
    ],
)
def test_a_list_that_is_none_takes_nothing_and_names_its_line(sized: Person, text: str, code: str, said: str) -> None:
    """All or none."""
    run = start(sized, "flow", "box").json()
    answer = sized.post(f"/runs/{run['id']}/reading-lists", {"text": text, "taken_at": sized.clock.now.isoformat()})
    assert codes(answer)["text"] == code
    assert said in answer.json()["fields"][0]["message"]
    assert sized.get(f"/runs/{run['id']}")["readings"] == []


def test_another_sheet_moves_the_offset_it_is_printed_with_and_asks_for_a_look_at_the_sign(sized: Person) -> None:
    """Half a millimetre thinner lets the nozzle down by as much; a metre is a slip."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    assert codes(start(sized, "z_offset", "patches", thinner="1000"))["thinner"] == "out_of_range"
    run = start(sized, "z_offset", "patches", thinner="0.5").json()
    assert run["cells"][0]["value"] == "\N{MINUS SIGN}1.920 mm"
    assert "check the sign" in run["cells"][0]["detail"]
    assert sized.get(f"/runs/{run['id']}/method")["cautions"][0]["lead"] == "Crash."


def test_a_wrong_zero_found_afterwards_is_taken_off_and_the_readings_stay(sized: Person) -> None:
    """Four walls at 0.491; closed, the tool reads 0.030: they were 0.461, and nothing is to be changed."""
    run = read_all(sized, start(sized, "flow", "box").json(), "0.492", "0.490", "0.491", "0.491")
    assert run["result"]["verdict"] == "apply"

    def off(zero: str) -> Any:
        path = f"/api/v1/runs/{run['id']}"
        return sized.client.patch(path, json={"zero": zero}, headers=sized.headers(run["version"]))

    assert codes(off("3"))["zero"] == "out_of_range"
    mended = off("0.030").json()
    assert mended["result"]["verdict"] == "keep"
    assert [row["number"] for row in mended["readings"]] == [0.492, 0.49, 0.491, 0.491]
    assert "taken off every reading" in mended["result"]["remarks"][0]


def test_walls_measured_in_another_order_are_put_where_they_were_read(sized: Person) -> None:
    """Begun at D and gone round backwards, or, on second thoughts, on from D; what comes later stands where it is asked."""
    run = read_all(sized, start(sized, "flow", "box").json(), "0.47", "0.46", "0.45")

    def walked(order: str) -> Any:
        path = f"/api/v1/runs/{run['id']}"
        return sized.client.patch(path, json={"walked": order}, headers=sized.headers(run["version"]))

    def places() -> list[str]:
        return [row["place"] for row in run["readings"]]

    assert codes(walked("DBCA")) == {"walked": "no_such_order"}
    run = walked("DCBA").json()
    assert (places(), run["entry"]["place"]) == (["D1", "C1", "B1"], "1A1")
    run = read_all(sized, run, "0.44")
    assert places()[-1] == "A1"
    run = walked("DABC").json()
    assert (places(), run["entry"]["place"]) == (["D1", "A1", "B1", "A1"], "1C1")
    taken = {place["name"]: place["text"] for place in run["entry"]["spots"] if place["state"] == "taken"}
    assert taken == {"D1": "0.470", "A1": "0.440", "B1": "0.450"}


@pytest.mark.parametrize("form", ["stl", "3mf"])
def test_a_box_sliced_elsewhere_is_taken_as_a_body_of_the_same_size(sized: Person, form: str) -> None:
    """As wide as the walls would stand, notches and all; no file of moves is offered beside it."""
    run = start(sized, "flow", "box", own="no", line_width="0.48").json()
    method = sized.get(f"/runs/{run['id']}/method")
    assert [file["key"] for file in method["files"]] == ["stl", "3mf"]
    assert "no infill" in method["body_note"]
    answer = sized.client.get(f"/api/v1/runs/{run['id']}/files/{form}")
    assert answer.status_code == 200, answer.text
    mesh: Any = trimesh.load(io.BytesIO(answer.content), file_type=form, force="mesh")
    side = 70 * 0.48 + 0.48
    assert mesh.extents == pytest.approx([side + 2, side + 2, 10], abs=0.01), "a notch of 1 mm on either side"
    assert len(mesh.split()) == 1 + 1 + 2 + 3 + 4, "the box and its notches"
    assert sized.client.get(f"/api/v1/runs/{run['id']}/files/piece").status_code == 409


def test_a_box_that_ubrex_writes_has_no_body(sized: Person) -> None:
    """What it should measure is known from the lines that were written, not from those of another program."""
    run = start(sized, "flow", "box").json()
    method = sized.get(f"/runs/{run['id']}/method")
    assert ([file["key"] for file in method["files"]], method["body_note"]) == (["piece"], "")
    assert sized.client.get(f"/api/v1/runs/{run['id']}/files/stl").status_code == 409


def test_boxes_are_weighed_where_a_fine_scale_is_on_record(sized: Person) -> None:
    """Offered with a scale of 0.01 g, not without; the filament commanded is that of the file, brim and all."""
    setup = sized.setup_id
    assert "weighed_box" not in [way["method"] for way in sized.get(f"/setups/{setup}/starts/flow")["methods"]]
    coarse = {"name": "Kitchen scale", "kind": "scale", "resolution": "0.1", "max_permissible_error": "0.2"}
    assert sized.post("/instruments", {"values": coarse}).status_code == 201
    assert "weighed_box" not in [way["method"] for way in sized.get(f"/setups/{setup}/starts/flow")["methods"]]
    fine = {"name": "Jeweller's scale", "kind": "scale", "resolution": "0.01", "max_permissible_error": "0.02"}
    scale = sized.post("/instruments", {"values": fine}).json()["id"]
    assert "weighed_box" in [way["method"] for way in sized.get(f"/setups/{setup}/starts/flow")["methods"]]

    reference = {"boxes": "3", "reference_mass": "2.98", "reference_length": "1000", "reference_tool": "2"}
    body = {"setup_id": setup, "step": "flow", "method": "weighed_box", "instrument_id": scale}
    missing = sized.post("/runs", body | {"values": BOX | reference | {"boxes": "2.5", "reference_mass": ""}})
    assert set(codes(missing)) == {"boxes", "reference_mass"}
    run = sized.post("/runs", body | {"values": BOX | reference}).json()
    text = sized.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    laid, primed, fed = 0.0, False, 0.0
    for line in text.splitlines():
        words = line.split(";")[0].split()
        if words[:1] == ["G1"] and any(word[0] == "E" for word in words):
            fed = next(float(word[1:]) for word in words if word[0] == "E")
            if fed > 0 and any(word[0] in "XY" for word in words):
                laid += fed if primed else 0.0
                primed = True
    expected = 3 * laid * 2.98 / 1000
    asked = read_all(sized, run, f"{expected:.2f}")
    assert asked["result"] is None
    right = read_all(sized, asked, f"{expected:.2f}")
    assert right["result"]["verdict"] == "keep"
    assert sized.post(f"/runs/{run['id']}/leave", version=right["version"]).status_code == 201
    heavy = sized.post("/runs", body | {"values": BOX | reference}).json()
    heavy = read_all(sized, heavy, f"{1.1 * expected:.2f}", f"{1.1 * expected:.2f}")
    assert heavy["result"]["verdict"] == "apply"
    assert float(heavy["result"]["proposal"]) == pytest.approx(90.9, abs=0.4)
    assert heavy["body"]["strip"]["unit"] == "g"
    applied = sized.decide(heavy, "apply").json()
    assert applied["decision"]["values"][0]["kind"] == "flow"
    assert sized.get(f"/setups/{setup}/bench")["steps"][4]["standing"] == "fresh"
