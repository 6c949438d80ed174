"""Attempts at a part: three taps write one down, a look says what changed, and what was tried is put back or kept."""

from __future__ import annotations

from io import BytesIO
from typing import Any

import pytest
from PIL import Image

from tests.server.conftest import MACHINE, Person
from tests.server.test_inventory import add, assembly, edit
from tests.server.test_printed_runs import codes, sized, start
from tests.server.test_profile import bench, type_in

__all__ = ["sized"]


def attempt(person: Person, what: str = "elbow joint", outcome: str = "good", **more: Any) -> Any:
    """The response to an attempt written down, an hour after the last."""
    person.clock.wait(minutes=60)
    return person.post(f"/setups/{person.setup_id}/prints", {"what": what, "outcome": outcome} | more)


def part(person: Person, print_id: int, **asked: str) -> Any:
    """All attempts at the part of one."""
    return person.client.get(f"/api/v1/prints/{print_id}/part", params=asked).json()


def margin(person: Person) -> Any:
    """What of attempts is open."""
    return person.get(f"/setups/{person.setup_id}/attempts-now")


def tonight(person: Person, kind: str) -> Any:
    """One of tonight's numbers."""
    return next(row for row in bench(person)["tonight"] if row["kind"] == kind)


@pytest.fixture
def tuned(ines: Person) -> Person:
    """Somebody with a nozzle at 205, a retraction of 1 mm, and layers of 0.2."""
    values = {"nozzle": "205", "retraction": "1", "layer": "0.2", "layer_first": "0.3"}
    assert type_in(ines, values).status_code == 201
    return ines


def test_what_was_tried_stands_in_tonights_numbers_until_it_is_put_back_or_kept(tuned: Person) -> None:
    """Kept it is a value that an attempt spoke for: assumed, never measured; ended twice it is refused."""
    cooler = {"kind": "nozzle", "typed": "200"}
    assert attempt(tuned, signs={"stringing": 1}, outcome="bad").status_code == 201
    assert attempt(tuned, signs={"stringing": 3}, trials=[cooler]).status_code == 201
    line = tonight(tuned, "nozzle")
    assert (line["text"], line["remark"]) == ("200", "for this trial only, 205 otherwise")
    (open_one,) = margin(tuned)["trials"]
    assert (open_one["name"], open_one["text"], open_one["otherwise"]) == ("Nozzle, rest", "200 °C", "205 °C")
    assert tuned.post(f"/trials/{open_one['id']}/end", {"how": "put_back"}).status_code == 201
    assert tonight(tuned, "nozzle")["text"] == "205"
    assert tuned.post(f"/trials/{open_one['id']}/end", {"how": "kept"}).json()["code"] == "ended_already"
    again = attempt(tuned, trials=[cooler]).json()["id"]
    (open_one,) = margin(tuned)["trials"]
    assert tuned.post(f"/trials/{open_one['id']}/end", {"how": "kept"}).json()["trials"] == []
    line = tonight(tuned, "nozzle")
    assert (line["text"], line["value"]["provenance"]["origin"], line["standing"]) == ("200", "attempt", "assumed")
    assert [row["name"] for row in part(tuned, again)["rows"] if row["of"] == "setting"] == ["Nozzle, rest"]


def test_a_number_of_a_trial_carries_no_interval_of_the_measured_one(tuned: Person) -> None:
    """Nobody measured it: neither ± nor what the measured one comes to stands beside it."""
    assert type_in(tuned, {"line_width": "0.45", "top_flow": "9", "speed_outer": "40"}).status_code == 201
    before = tonight(tuned, "speed_outer")
    assert before["sum"].replace("\N{NO-BREAK SPACE}", " ") == "asks for 3.3 of 9 mm³/s: override up to 276 %"
    assert attempt(tuned, trials=[{"kind": "speed_outer", "typed": "60"}]).status_code == 201
    line = tonight(tuned, "speed_outer")
    assert (line["text"], line["half_width_text"], line["sum"]) == ("60", "", "")


def test_a_trial_is_held_to_the_limits_of_any_other_value(tuned: Person) -> None:
    """300 °C on a lined hotend, no number, a height nobody said, the same twice: each at its field, and nothing is kept."""
    for trials, field, code in (
        ([{"kind": "nozzle", "typed": "300"}], "trials.0", "too_hot"),
        ([{"kind": "nozzle", "typed": "hot"}], "trials.0", "not_a_number"),
        ([{"kind": "fan", "typed": "50", "reach": "above"}], "trials.0", "empty"),
        ([{"kind": "fan", "typed": "50"}, {"kind": "fan", "typed": "60"}], "trials.1", "twice"),
    ):
        assert codes(attempt(tuned, trials=trials)) == {field: code}
    assert margin(tuned) == {"part": None, "trials": [], "looks": []}


def test_a_layer_and_its_height_are_each_turned_into_the_other(tuned: Person) -> None:
    """First layer 0.3, others 0.2: layer 11 lies at 2.3 mm."""
    for typed in ({"stopped_layer": "11"}, {"stopped_mm": "2.3"}):
        made = attempt(tuned, outcome="stopped", **typed).json()["id"]
        assert part(tuned, made)["attempts"][-1]["said"].replace("\N{NO-BREAK SPACE}", " ") == (
            "stopped early, layer 11, 2.3 mm"
        )


def test_attempts_stand_side_by_side_with_what_changed_and_what_it_did(tuned: Person) -> None:
    """Strings follow the nozzle over six attempts, the retraction does not matter: one is praised, the other is not."""
    made = 0
    for nozzle, retraction, rating in (
        ("215", "1", 1), ("205", "1", 3), ("215", "1.4", 1), ("205", "1.4", 3), ("195", "1", 4), ("195", "1.4", 4),
    ):  # fmt: skip
        trials = [{"kind": "nozzle", "typed": nozzle}, {"kind": "retraction", "typed": retraction}]
        made = attempt(
            tuned, trials=trials, signs={"stringing": rating}, counts={"stringing": str(40 - 9 * rating)}
        ).json()["id"]
    shown = part(tuned, made)
    assert [row["number"] for row in shown["attempts"]] == [1, 2, 3, 4, 5, 6]
    assert shown["sign"] == "stringing"
    cells = {row["name"]: [(one["text"], one["changed"]) for one in row["cells"]] for row in shown["rows"]}
    assert cells["Nozzle, rest"][:3] == [("215 °C", False), ("205 °C", True), ("215 °C", True)]
    verdicts = {row["name"]: row["verdict"] for row in shown["factors"]}
    assert verdicts == {"Nozzle, rest": "probably_hurt", "Retraction": "cannot_tell"}
    assert "1 of the changes stands out" in shown["series"]
    works = part(tuned, made, sign="")
    assert works["sign"] == ""
    assert {row["verdict"] for row in works["factors"]} == {"cannot_tell"}


def test_counted_strings_are_told_from_chance(tuned: Person) -> None:
    """24 to 7 is real, 9 to 7 may be chance; a corner in mm is only said."""
    attempt(tuned, counts={"stringing": "24", "lift": "1.2"})
    made = attempt(tuned, counts={"stringing": "7", "lift": "0.4"}).json()["id"]
    said = tuned.get(f"/prints/{made}/since")["said"]
    assert said.startswith("Strings counted: 24 to 7, real. Corner up by: 1.2 to 0.4.")
    made = attempt(tuned, counts={"stringing": "9"}).json()["id"]
    assert tuned.get(f"/prints/{made}/since")["said"].startswith("Strings counted: 7 to 9, may be chance.")
    assert codes(attempt(tuned, counts={"taste": "1"})) == {"counts": "no_such_count"}


def test_what_was_tried_in_a_part_of_a_print_is_held_against_its_own_setting(tuned: Person) -> None:
    """From 12 mm up 195, else the 205 of the profile; a first layer nobody set is not taken for the others."""
    first = attempt(tuned).json()["id"]
    above = {"kind": "nozzle", "typed": "195", "reach": "above", "from_mm": "12"}
    made = attempt(tuned, trials=[above]).json()["id"]
    (row,) = (one for one in part(tuned, made)["rows"] if one["of"] == "setting")
    assert row["name"].replace("\N{NO-BREAK SPACE}", " ") == "Nozzle, rest, from 12 mm up"
    assert [cell["text"] for cell in row["cells"]] == ["205 °C", "195 °C"]
    assert type_in(tuned, {"nozzle_first": "210"}).status_code == 201
    last = attempt(tuned).json()["id"]
    rows = {one["name"]: one["cells"] for one in part(tuned, last)["rows"] if one["of"] == "setting"}
    assert [cell["text"] for cell in rows["Nozzle, first layer"]] == ["", "", "210 °C"]
    assert first != last


def test_any_two_attempts_are_held_against_each_other(tuned: Person) -> None:
    """Whichever is named first: the earlier one is what it was before."""
    made = [
        attempt(tuned, trials=[{"kind": "nozzle", "typed": typed}], signs={"stringing": 2}).json()["id"]
        for typed in ("195", "205", "215")
    ]
    for one, other in ((made[0], made[2]), (made[2], made[0])):
        found = tuned.client.get(f"/api/v1/prints/{one}/since", params={"against": other}).json()
        assert [(row["before"], row["after"]) for row in found["changed"]] == [("195 °C", "215 °C")]


def test_an_attempt_is_held_against_the_profile_as_it_is_now(tuned: Person) -> None:
    """What was tried then is another today; a layer stands for its height."""
    raised = {"kind": "retraction", "typed": "2", "reach": "above", "from_layer": "60"}
    made = attempt(tuned, trials=[{"kind": "nozzle", "typed": "200"}, raised]).json()["id"]
    found = tuned.client.get(f"/api/v1/prints/{made}/since", params={"against": 0}).json()
    then = {row["name"].replace("\N{NO-BREAK SPACE}", " "): (row["before"], row["after"]) for row in found["changed"]}
    assert then == {"Nozzle, rest": ("200 °C", "205 °C"), "Retraction, from 12.1 mm up": ("2.00 mm", "1.00 mm")}
    assert found["said"].startswith("2 things differ in the profile now")
    same = attempt(tuned).json()["id"]
    said = tuned.client.get(f"/api/v1/prints/{same}/since", params={"against": 0}).json()["said"]
    assert said == "The profile says today what was set then."


def test_a_fix_is_not_called_one_before_enough_clean_prints(tuned: Person) -> None:
    """Ten clean ones with the same settings qualify it; another nozzle starts the count anew."""
    made = 0
    for _ in range(9):
        made = attempt(tuned).json()["id"]
    assert "Mended is a word for 1 more" in part(tuned, made)["qualified"]
    made = attempt(tuned).json()["id"]
    assert part(tuned, made)["qualified"].startswith("Qualified. 10 attempts")
    made = attempt(tuned, trials=[{"kind": "nozzle", "typed": "210"}]).json()["id"]
    assert part(tuned, made)["qualified"].startswith("1 attempt with these settings, none failed")


def test_a_series_is_printed_in_an_order_nobody_chose_and_read(tuned: Person) -> None:
    """Each place of the plan is offered once; a number beyond a limit is refused; a plan dropped is offered no more."""
    made = attempt(tuned, signs={"stringing": 2}).json()["id"]
    beyond = {"design": "one", "kinds": ["nozzle"], "typed": ["195 205 300"]}
    assert codes(tuned.post(f"/prints/{made}/plans", beyond)) == {"typed.0": "too_hot"}
    few = {"design": "one", "kinds": ["nozzle"], "typed": ["195 205"]}
    assert codes(tuned.post(f"/prints/{made}/plans", few)) == {"typed.0": "wrong_count"}
    plan = {"design": "3in4", "kinds": ["nozzle", "retraction", "fan"], "typed": ["195 215", "0.8 1.4", "50 100"]}
    assert len(tuned.post(f"/prints/{made}/plans", plan).json()["plan"]["places"]) == 4
    seen = set()
    for _ in range(4):
        planned = tuned.get(f"/setups/{tuned.setup_id}/attempt-form")["planned"]
        typed = tuple(row["typed"] for row in planned["settings"])
        seen.add(typed)
        rating = 4 if typed[0] == "195" else 1
        place = {"plan_id": planned["plan_id"], "plan_place": planned["place"], "trials": planned["settings"]}
        answer = attempt(tuned, signs={"stringing": rating}, **place)
        assert answer.status_code == 201, answer.text
        assert codes(attempt(tuned, **place)) == {"plan_place": "no_such_place"}
    assert len(seen) == 4
    assert tuned.get(f"/setups/{tuned.setup_id}/attempt-form")["planned"] is None
    told = part(tuned, made)["plan"]
    assert told["said"][0].startswith("Nozzle, rest: \N{MINUS SIGN}3.0")
    assert "cannot be told from the other two" in told["said"][-1]
    assert tuned.post(f"/plans/{told['id']}/withdrawal").status_code == 201
    assert part(tuned, made)["plan"] is None


def test_what_shows_later_is_listed_when_its_day_has_come(tuned: Person) -> None:
    """Stains on raw wood, 14 days: not before, then until somebody looked, and never twice."""
    made = attempt(tuned, look_again="stains on raw wood", look_in_days="14").json()["id"]
    assert margin(tuned)["looks"] == []
    tuned.clock.wait(days=15)
    (due,) = margin(tuned)["looks"]
    assert due["said"].startswith("stains on raw wood on elbow joint: due since")
    assert tuned.post(f"/looks/{due['id']}", {"outcome": "good"}).status_code == 201
    assert margin(tuned)["looks"] == []
    assert tuned.post(f"/looks/{due['id']}", {"outcome": "bad"}).json()["code"] == "looked_already"
    (found,) = part(tuned, made)["looks"]
    assert found["said"] == "stains on raw wood: still good"
    assert codes(tuned.post(f"/prints/{made}/looks", {"at_what": " ", "days": "3"})) == {"at_what": "empty"}


def picture() -> bytes:
    """A photograph, larger than is kept."""
    out = BytesIO()
    Image.new("RGB", (2000, 1000), "white").save(out, "JPEG")
    return out.getvalue()


def test_a_photograph_has_a_small_one_and_can_be_taken_off(tuned: Person) -> None:
    """Made once, at most 320 points long; what is no photograph is refused at its field."""
    made = attempt(tuned).json()["id"]
    headers = {
        "Ubrex-Person": str(tuned.id),
        "Idempotency-Key": "photo-one",
        "Content-Type": "application/octet-stream",
    }
    answer = tuned.client.post(f"/api/v1/prints/{made}/photos", content=picture(), headers=headers)
    (photo,) = answer.json()["photos"]
    sizes = [
        Image.open(
            BytesIO(tuned.client.get(f"/api/v1/print-photos/{photo['id']}", params={"small": small}).content)
        ).size
        for small in ("true", "false")
    ]
    assert sizes == [(320, 160), (1600, 800)]
    assert part(tuned, made)["attempts"][0]["photos"][0]["id"] == photo["id"]
    assert tuned.post(f"/print-photos/{photo['id']}/removal").json() == {"photos": []}
    assert tuned.client.get(f"/api/v1/print-photos/{photo['id']}").status_code == 404


def test_prints_of_before_are_attempts_and_another_machine_says_why_its_numbers_differ(sized: Person) -> None:
    """The same part on two machines: what differs is said with its likely reason."""
    assert type_in(sized, {"nozzle": "205", "retraction": "4"}).status_code == 201
    first = attempt(sized, "owl head").json()["id"]
    other = MACHINE | {"machine": "Kestrel", "feed_path": "direct", "liner": "all_metal"}
    answer = sized.post("/setups", other)
    assert answer.status_code == 201, answer.text
    sized.setup_id = answer.json()["id"]
    assert type_in(sized, {"nozzle": "212", "retraction": "0.8"}).status_code == 201
    attempt(sized, "Owl Head ")
    shown = part(sized, first)
    assert len(shown["attempts"]) == 2
    assert any(row.startswith("Retraction: 4.00 mm on") for row in shown["machines"])


def checked(person: Person, text: str, name: str = "elbow.gcode") -> Any:
    """The response to a named file."""
    return person.client.post(
        f"/api/v1/setups/{person.setup_id}/file-checks",
        params={"name": name},
        content=text,
        headers=person.headers() | {"content-type": "text/plain"},
    )


@pytest.fixture
def sliced(sized: Person) -> str:
    """A file with its nozzle at 205, on a setup that is set to 210."""
    text: str = sized.client.get(f"/api/v1/runs/{start(sized, 'flow', 'box').json()['id']}/files/piece").text
    assert type_in(sized, {"nozzle": "210"}).status_code == 201
    return text.replace("M104 S200", "M104 S205").replace("M109 S200", "M109 S205")


def form_of(person: Person) -> Any:
    """What an attempt is written down with."""
    return person.get(f"/setups/{person.setup_id}/attempt-form")


def test_what_a_checked_file_says_wins_over_what_somebody_remembers(sized: Person, sliced: str) -> None:
    """It is offered with what it sets otherwise; checked twice it stands once; a nozzle typed beside it gives way."""
    assert checked(sized, sliced).status_code == 200
    assert checked(sized, sliced).status_code == 200
    (file,) = form_of(sized)["files"]
    assert (file["name"], file["likely"]) == ("elbow.gcode", True)
    said = [row.replace("\N{NO-BREAK SPACE}", " ") for row in file["differs"]]
    assert "Nozzle, rest: 205 °C in the file, 210 °C in the profile" in said
    written = attempt(sized, file_id=file["id"], trials=[{"kind": "nozzle", "typed": "215"}])
    assert written.status_code == 201
    rows = {row["name"]: row["cells"][0]["text"] for row in part(sized, attempt(sized).json()["id"])["rows"]}
    assert (rows["Nozzle, rest"], rows["File"]) == ("205 °C", "elbow.gcode")
    assert tonight(sized, "nozzle")["text"] == "205"
    assert form_of(sized)["files"][0]["likely"] is False
    assert type_in(sized, {"nozzle": "205"}).status_code == 201
    assert attempt(sized, file_id=file["id"]).status_code == 201
    assert [row["kind"] for row in margin(sized)["trials"] if row["kind"] == "nozzle"] == []
    assert codes(attempt(sized, file_id=file["id"] + 1)) == {"file_id": "no_such_file"}


@pytest.mark.parametrize("text", ["", "; nothing but a remark\n", "G28\n", "G1 Z5 F300\nM104 S0\nM140 S0\n"])
def test_a_file_that_prints_nothing_is_checked_in_words(sized: Person, text: str) -> None:
    """Whatever is found of it, it is no error, and the form of an attempt opens."""
    assert checked(sized, text, "empty.gcode").status_code == 200
    assert form_of(sized)["setup"]["id"] == sized.setup_id


def test_a_harmful_file_is_not_offered_and_one_beyond_todays_limits_sets_nothing(sized: Person, sliced: str) -> None:
    """260 °C on a lined hotend is found harmful; what was harmless before the hotend was lined is refused at its field."""
    assert checked(sized, sliced.replace("S205", "S260"), "hot.gcode").json()["harmful"] is True
    assert form_of(sized)["files"] == []
    assert checked(sized, sliced.replace("S205", "S225")).json()["harmful"] is False
    (file,) = form_of(sized)["files"]
    assert edit(sized, "hotend", 1, max_c="220").status_code == 200
    assert codes(attempt(sized, file_id=file["id"])) == {"file_id": "file_too_much"}


def test_what_prints_now_reminds_of_its_change_and_is_written_down_with_its_beginning(tuned: Person) -> None:
    """A raise at 12 mm, reminded of in 30 minutes: due then, done once; the attempt takes over what was said."""
    raised = {"kind": "nozzle", "typed": "210", "reach": "once", "from_mm": "12"}
    begun = {"what": "elbow joint", "trials": [raised], "remind_in_min": "30"}
    (row,) = tuned.post(f"/setups/{tuned.setup_id}/begun", begun).json()["begun"]
    change = row["change"].replace("\N{NO-BREAK SPACE}", " ")
    assert (change, row["due"]) == ("Nozzle, rest to 210 °C at 12 mm, layer 60", False)
    tuned.clock.wait(minutes=31)
    (row,) = tuned.get("/begun")["begun"]
    assert row["due"] is True
    (row,) = tuned.post(f"/begun/{row['id']}/change-done", {}).json()["begun"]
    assert (row["due"], row["change"]) == (False, "")
    offered = form_of(tuned)["begun"]
    assert (offered["what"], offered["trials"][0]["typed"]) == ("elbow joint", "210")
    assert attempt(tuned, begun_id=row["id"], trials=[raised]).status_code == 201
    assert tuned.get("/begun")["begun"] == []
    assert tuned.post(f"/begun/{row['id']}/end", {}).json()["code"] == "ended_already"


def test_a_part_says_what_it_costs_and_how_long_it_takes_with_other_lines(sized: Person) -> None:
    """20 for 1000 g: 38 g cost 0.76; 60 mm in layers; a nozzle of twice the bore takes about a quarter of the time."""
    values = {"layer": "0.2", "layer_first": "0.2", "line_width": "0.42"}
    assert type_in(sized, values).status_code == 201
    spool = add(sized, "spool", 1, name="14", price="20").json()["id"]
    assert assembly(sized, spool_id=spool).status_code == 201
    row = attempt(sized, hours="4", grams="38").json()["id"]
    assert (
        sized.client.put(f"/api/v1/prints/{row}/part", json={"height_mm": "60"}, headers=sized.headers()).status_code
        == 200
    )
    found = part(sized, row)
    said = [one.replace("\N{NO-BREAK SPACE}", " ") for one in found["sums"]]
    assert said == ["38 g cost 0.76 from spool 14 (20 for 1000 g)", "60 mm are 300 layers as set"]
    times = [one.replace("\N{NO-BREAK SPACE}", " ") for one in found["times"]]
    assert "0.8 mm nozzle, lines 0.84 by 0.4: about 1 h 00" in times
    assert "1 / area" in times[-1]
    assert found["smaller"] == ""
    assert "two posts" in part(sized, attempt(sized, signs={"stringing": 1}).json()["id"], sign="stringing")["smaller"]
