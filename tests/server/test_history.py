"""Revisions: what differs, whether it is real, going back, and two people at once."""

from __future__ import annotations

import csv
import io
from datetime import timedelta

from tests.server.conftest import Clock, Person
from tests.server.test_inventory import edit
from tests.server.test_profile import type_in


def test_a_difference_says_whether_it_is_real_and_whether_one_would_see_it(ines: Person) -> None:
    """412.6 to 419.45 to 426.99: the second step is 1.8 %, beyond its ± and beyond what a wall shows."""
    ines.applied("98.4", "98.1", "98.6")
    ines.applied("98.2", "98.3", "98.2", current="419.45")
    row = ines.get(f"/setups/{ines.setup_id}/history")["differences"][0]
    assert (row["left"]["setting"], row["right"]["setting"]) == ("419.45", "426.99")
    assert (row["real"], row["visible"], row["change"]) == (True, True, "+7.54")


def test_going_back_writes_a_new_revision_and_loses_nothing(ines: Person) -> None:
    """The value comes back as the newest, unverified: the machine does not know of it yet."""
    ines.applied("98.4", "98.1", "98.6")
    ines.applied("98.2", "98.3", "98.2", current="419.45")
    path = f"/setups/{ines.setup_id}/restorations"
    back = ines.post(path, {"number": 1, "note": "joints too tight"}, version=2)
    assert back.status_code == 201
    revisions = back.json()["revisions"]
    assert [row["cause"] for row in revisions] == ["Back to 1", "Measured, applied", "Measured, applied"]
    value = ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]["value"]
    assert (value["setting"], value["provenance"]["origin"]) == ("419.45", "restored")
    assert value["read_back"]["state"] == "unverified"
    again = ines.post(path, {"number": 1}, version=3)
    assert (again.status_code, again.json()["code"]) == (409, "same")


def test_what_may_not_be_set_any_more_is_left_alone_when_going_back(ines: Person) -> None:
    """The hotend stands less, and the machine keeps its e-steps in a file now: each is named with its reason."""
    ines.applied("98.4", "98.1", "98.6")
    assert type_in(ines, {"nozzle": "220", "fan": "100"}, note="as on the box").status_code == 201
    assert type_in(ines, {"nozzle": "205", "fan": "40"}).status_code == 201
    ines.applied("98.2", "98.3", "98.2", current="419.45")
    newest = ines.get(f"/setups/{ines.setup_id}/history")["revisions"][0]["number"]
    assert edit(ines, "hotend", 1, max_c="215").status_code == 200
    assert edit(ines, "machine", 1, keeps_setting="turn_in_file", setting_places="3").status_code == 200
    lines = ines.get(f"/setups/{ines.setup_id}/history?left=2&right={newest}")["go_back"]
    told = {line["kind"]: (line["action"], line["why"]) for line in lines}
    assert told["fan"] == ("change", "")
    assert told["nozzle"][0] == told["e_steps"][0] == "leave"
    assert "stated maximum of the hotend" in told["nozzle"][1]
    assert "keeps it in mm per turn" in told["e_steps"][1]
    back = ines.post(f"/setups/{ines.setup_id}/restorations", {"number": 2}, version=newest)
    assert back.status_code == 201
    crib = {row["kind"]: row["text"] for row in ines.get(f"/setups/{ines.setup_id}/bench")["tonight"]}
    assert (crib["fan"], crib["nozzle"]) == ("100", "205")
    again = ines.post(f"/setups/{ines.setup_id}/restorations", {"number": 2}, version=newest + 1)
    assert (again.status_code, again.json()["code"]) == (409, "left_out")


def test_a_setting_that_the_machine_keeps_in_another_form_is_measured_again(ines: Person) -> None:
    """419.45 steps per mm in a file that holds mm per turn would feed a hundred times too much: never told to type it."""
    applied = ines.applied("98.4", "98.1", "98.6")
    value = applied["decision"]["values"][0]["id"]
    run = ines.measured("98.4", "98.1", "98.6", current="419.45")
    assert edit(ines, "machine", 1, keeps_setting="turn_in_file", setting_places="3").status_code == 200
    bench = ines.get(f"/setups/{ines.setup_id}/bench")
    assert (bench["steps"][1]["standing"], bench["next"]["step"]) == ("stale", "e_steps")
    assert "in a different form since" in bench["steps"][1]["cause"]
    (left,) = ines.get(f"/runs/{applied['id']}")["decision"]["to_set"]
    assert (left["instructions"], "in a different form since" in left["superseded"]) == ([], True)
    read = ines.post(f"/setups/{ines.setup_id}/values/{value}/read-backs", {"typed": "4.6"})
    assert (read.status_code, read.json()["code"]) == (409, "other_form")
    refused = ines.decide(run, "apply")
    assert refused.status_code == 409
    assert "in a different form since" in refused.json()["detail"]
    ines.post(f"/runs/{run['id']}/leave", version=run["version"])
    new = ines.applied("98.4", "98.1", "98.6", current="4.6")
    assert new["decision"]["to_set"][0]["instructions"][0]["send"] == "4.525"
    assert ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]["standing"] == "fresh"
    (row,) = ines.get(f"/setups/{ines.setup_id}/history")["differences"]
    assert "different form" in row["real_sentence"]


def test_going_back_from_a_list_that_somebody_has_added_to_is_refused(ines: Person) -> None:
    """The newest revision seen is part of the question."""
    ines.applied("98.4", "98.1", "98.6")
    ines.applied("98.2", "98.3", "98.2", current="419.45")
    answer = ines.post(f"/setups/{ines.setup_id}/restorations", {"number": 1}, version=1)
    assert (answer.status_code, answer.json()["code"]) == (412, "outdated")
    assert "Revision 2" in answer.json()["detail"]


def test_a_note_edited_by_two_people_keeps_the_first_and_tells_the_second(ines: Person) -> None:
    """A silent overwrite would lose somebody's evening."""
    ines.applied("98.4", "98.1", "98.6")
    path = f"/api/v1/setups/{ines.setup_id}/revisions/1/note"
    first = ines.client.put(path, json={"note": "knees still tight"}, headers=ines.headers(1))
    second = ines.client.put(path, json={"note": "all fine"}, headers=ines.headers(1))
    assert (first.status_code, second.status_code) == (200, 412)
    assert ines.get(f"/setups/{ines.setup_id}/history")["revisions"][0]["note"] == "knees still tight"


def test_runs_come_by_page_the_open_one_first(ines: Person) -> None:
    """Fifty a page; the cursor goes on where the page ended."""
    for _ in range(3):
        run = ines.start(setup_id=ines.setup_id)
        ines.post(f"/runs/{run['id']}/leave", version=run["version"])
    still_open = ines.start()
    first = ines.get("/runs?limit=2")
    assert [row["id"] for row in first["open"]] == [still_open["id"]]
    rest = ines.get(f"/runs?limit=2&cursor={first['next_cursor']}")
    assert (len(first["ended"]), len(rest["ended"]), rest["next_cursor"], rest["open"]) == (2, 1, None, [])


def test_a_run_stands_where_its_sample_was_made(ines: Person, clock: Clock) -> None:
    """Lengths fed last week and typed in today come behind a run of yesterday; the pages go on in that order."""
    started = []
    for days, fed_days in ((0, 0), (6, 0), (1, 6)):
        clock.wait(days=days)
        fed = (clock.now - timedelta(days=fed_days)).isoformat() if fed_days else ""
        run = ines.start(fed_at=fed)
        ines.post(f"/runs/{run['id']}/leave", version=run["version"])
        started.append(run["id"])
    first = ines.get("/runs?limit=2")
    rest = ines.get(f"/runs?limit=2&cursor={first['next_cursor']}")
    assert [row["id"] for row in first["ended"] + rest["ended"]] == [started[1], started[2], started[0]]


def test_all_readings_are_a_table_with_the_struck_ones_in_it(ines: Person) -> None:
    """Each with its run, as typed, and why it was struck."""
    run = ines.measured("98,4", "98.1", "97.9")
    ines.post(f"/runs/{run['id']}/readings/{run['readings'][0]['id']}/strike", {"reason": "=slipped"})
    file = ines.get("/readings")
    table = list(csv.DictReader(io.StringIO(file["text"], newline="")))
    assert [row["typed"] for row in table] == ["98,4", "98.1", "97.9"]
    assert [row["struck"] for row in table] == ["'=slipped", "", ""]
    assert {row["step"] for row in table} == {"E-steps"}
    assert (file["name"], float(table[0]["number"])) == ("readings.csv", 98.4)


def test_a_decision_is_taken_back_while_nothing_else_was_written(ines: Person) -> None:
    """The value of before stands again, both are on record; the first ever, and one since replaced, have no way back."""
    first = ines.applied("98.4", "98.1", "98.6")
    assert ines.get(f"/runs/{first['id']}")["decision"]["back"] is None
    second = ines.applied("98.2", "98.3", "98.2", current="419.45")
    back = ines.get(f"/runs/{second['id']}")["decision"]["back"]
    assert (back["number"], back["newest"]) == (1, 2)
    path = f"/setups/{ines.setup_id}/restorations"
    answer = ines.post(path, {"number": back["number"], "note": back["note"]}, version=back["newest"])
    assert answer.status_code == 201, answer.text
    assert ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]["value"]["setting"] == "419.45"
    assert ines.get(f"/runs/{second['id']}")["decision"]["back"] is None


def test_a_correction_that_moves_by_itself_is_told_with_since_when(ines: Person, clock: Clock) -> None:
    """Twelve calm e-steps and then five that go one way: an alarm; three and more in the same direction are named."""
    fed = ["99.9", "100.2", "99.8", "100.1", "100.0", "99.9", "100.1", "100.2", "99.8", "100.0"]
    for reading in [*fed, "99.0", "98.4", "97.8", "97.1", "96.5"]:
        clock.wait(days=10)
        run = ines.measured(reading, reading, reading, current="400")
        ines.decide(run, "keep", before_proof=True)
    course = ines.get(f"/setups/{ines.setup_id}/course")
    line = next(row for row in course["lines"] if row["kind"] == "e_steps")
    assert (len(line["points"]), line["alarm"]) == (15, True)
    assert line["drift"].startswith("Has moved up since ")
    assert "corrections in the same direction" in line["drift"]
    told = ines.get(f"/setups/{ines.setup_id}/bench")["minds"][0]
    assert told.removeprefix("E-steps: h") == line["drift"].removeprefix("H")


def test_few_checks_judge_no_drift(ines: Person) -> None:
    """Two values; what was done and printed stands beside them."""
    ines.applied("98.4", "98.1", "98.6")
    ines.applied("98.2", "98.3", "98.2", current="419.45")
    ines.post(f"/setups/{ines.setup_id}/changes", {"kind": "gear_tension", "note": "with a brush"})
    ines.post(f"/setups/{ines.setup_id}/prints", {"what": "Owl head", "hours": "3", "grams": "20", "outcome": "bad"})
    course = ines.get(f"/setups/{ines.setup_id}/course")
    line = next(row for row in course["lines"] if row["kind"] == "e_steps")
    assert (line["drift"], line["alarm"]) == ("Too few checks to judge drift.", False)
    assert [row["note"] for row in course["events"]] == ["with a brush"]
    assert [(row["what"], row["good"]) for row in course["prints"]] == [("Owl head", False)]
