"""An e-steps run through the API: from readings to a value in the history, and everything typed wrong on the way."""

from __future__ import annotations

import pytest

from tests.server.conftest import MACHINE, Person


def problem_at(answer: dict, field: str) -> dict:  # type: ignore[type-arg]
    """What a problem says about a field."""
    return next(row for row in answer["fields"] if row["field"] == field)


def test_three_readings_become_a_value_that_stays_unverified_until_read_back(ines: Person) -> None:
    """98.4, 98.1, 98.6 of 100 on 412.6: c = 1.0166045, so 419.45; rounded to the two decimals the machine keeps."""
    run = ines.measured("98.4", "98,1", "98.6 mm")
    assert run["result"]["verdict"] == "apply"
    assert run["result"]["proposal"] == "419.45"
    decided = ines.decide(run, "apply", note="elbows were loose").json()
    value = decided["decision"]["values"][0]
    assert (value["number"], value["read_back"]["state"]) == (419.45, "unverified")
    assert [row["send"] for row in decided["decision"]["to_set"][0]["instructions"]][:2] == ["M92 E419.45", "M500"]

    path = f"/setups/{ines.setup_id}/values/{value['id']}/read-backs"
    old = ines.post(path, {"typed": "412.6"}).json()
    assert old["read_back"]["state"] == "differs"
    assert "the old value" in old["read_back"]["sentence"]
    assert ines.post(path, {"typed": "419,45"}).json()["read_back"]["state"] == "verified"
    step = ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]
    assert (step["standing"], step["is_next"], step["unverified"]) == ("fresh", False, False)


def test_nothing_is_shown_before_the_readings_first_asked_for_are_in(ines: Person) -> None:
    """Whoever knows the wanted number squeezes until it fits; a person who insists may look."""
    run = ines.measured("98.4", "98.1")
    assert run["result"] is None
    assert (run["body"]["strip"]["target"], run["body"]["strip"]["readings"]) == (None, [])
    early = ines.get(f"/runs/{run['id']}?early=true")
    assert early["result"]["proposal"] == "419.95"
    assert early["body"]["strip"]["usual_scatter"] is True


@pytest.mark.parametrize(
    ("edit", "code"),
    [
        ({"zero": "0.02"}, "no_zero"),
        ({"purpose": "looks"}, "no_tower"),
        ({"swap": [0, 1]}, "no_tower"),
        ({"walked": "BADC"}, "no_walls"),
        ({"skip": "1"}, "all_needed"),
    ],
)
def test_what_a_feed_does_not_have_cannot_be_changed_of_it(ines: Person, edit: dict, code: str) -> None:  # type: ignore[type-arg]
    """No jaws, no tower, no walls: it is refused by name, together with what could have been changed."""
    run = ines.measured("98.4")
    body = edit | {"use_history": False}
    answer = ines.client.patch(f"/api/v1/runs/{run['id']}", json=body, headers=ines.headers(run["version"]))
    assert (answer.status_code, answer.json()["code"]) == (409, code)
    assert ines.get(f"/runs/{run['id']}") == run


def test_another_method_that_contradicts_the_record_is_compared_and_not_written_over_it(ines: Person) -> None:
    """Cut lengths found 400 right; a mark through the hot nozzle says 2 % more: named, and nothing is recommended."""
    kept = ines.measured("99.9", "100.1", "100.0", current="400")
    assert ines.decide(kept, "keep").status_code == 201
    values = {"current": "400", "commanded": "100", "mark": "120", "mark_tool": "same", "fed_at": ""}
    body = {"setup_id": ines.setup_id, "step": "e_steps", "method": "marked", "instrument_id": 1, "values": values}
    run = ines.post("/runs", body).json()
    for text in ("22", "22.1", "21.9"):
        run = ines.read(run["id"], text).json()
    shown = run["result"]
    assert (shown["reason"], shown["recommended"], shown["title"]) == (
        "methods_differ",
        False,
        "The two methods differ",
    )
    assert f"Run {kept['id']}, open air, cut lengths, found 400" in shown["sentence"]
    assert shown["ask_before"]
    assert ines.decide(run, "apply").status_code == 422
    assert ines.decide(run, "keep").status_code == 201


def test_a_try_that_is_known_less_well_than_what_it_replaces_is_asked_about_first(ines: Person) -> None:
    """400 is on record to ± 0.4: a try of ± 1.5 says so and asks; a change that is proven says so and asks nothing."""
    assert ines.decide(ines.measured("99.95", "100.0", "100.05", current="400"), "keep").status_code == 201
    run = ines.measured("98.6", "99", "98.4", current="400")
    shown = run["result"]
    assert shown["verdict"] == "try"
    assert shown["less_known"] == "On record, 400.00\xa0steps/mm is known to ±\xa00.4; this run knows it to ±\xa01.5."
    refused = ines.decide(run, "apply")
    assert (refused.status_code, refused.json()["fields"][0]["field"]) == (422, "before_proof")
    assert refused.json()["fields"][0]["message"] == shown["ask_before"]
    run = ines.read(run["id"], "98.8").json()
    shown = run["result"]
    assert (shown["verdict"], shown["ask_before"]) == ("apply", None)
    assert shown["less_known"].endswith("this run knows it to ±\xa01.1.")
    assert ines.decide(run, "apply").status_code == 201


def test_a_try_on_what_was_never_measured_asks_nothing(ines: Person) -> None:
    """There is nothing on record that is known better."""
    run = ines.measured("98.6", "99", "98.4", "98.8", current="400")
    assert (run["result"]["verdict"], run["result"]["less_known"], run["result"]["ask_before"]) == ("try", "", None)
    assert ines.decide(run, "apply").status_code == 201


def test_method_and_reading_travel_into_the_provenance_of_the_value(ines: Person) -> None:
    """A number without its run, tool and rule is gossip."""
    run = ines.applied("98.4", "98.1", "98.6")
    history = ines.get(f"/setups/{ines.setup_id}/history")
    found = history["differences"][0]["right"]["provenance"]
    assert found["run_id"] == run["id"]
    assert (found["readings"], found["instrument"]) == ("98.4, 98.1, 98.6", "Calliper 2")
    assert found["rule_version"] == "e-steps/2"


@pytest.mark.parametrize(
    ("typed", "code"),
    [
        ("", "empty"),
        ("abc", "not_a_number"),
        ("98.4.1", "not_a_number"),
        ("-98.4", "not_above_zero"),
        ("0", "not_above_zero"),
        ("984", "unit_slip"),
        ("9840", "unit_slip"),
        ("98400", "unit_slip"),
        ("9.84", "unit_slip"),
        ("3", "impossible"),
        ("50", "far_off"),
    ],
)
def test_a_doubtful_reading_is_asked_about_at_its_field_and_not_taken(ines: Person, typed: str, code: str) -> None:
    """A slip offers what was meant; nothing reaches the record before a person says so."""
    run = ines.start()
    answer = ines.read(run["id"], typed)
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    found = problem_at(answer.json(), "typed")
    assert found["code"] == code
    assert found["message"]
    assert (found["suggested"] == "98.4") == (code == "unit_slip")
    assert ines.get(f"/runs/{run['id']}")["readings"] == []


def test_a_reading_is_taken_as_typed_only_for_the_question_that_was_asked(ines: Person) -> None:
    """Enter again answers the question on the screen, not any other; the mark that it was odd stays."""
    run = ines.start()
    assert ines.read(run["id"], "50", as_typed="impossible").status_code == 422
    taken = ines.read(run["id"], "50", as_typed="far_off")
    assert taken.status_code == 201
    assert taken.json()["readings"][0]["odd"] is True


def test_two_readings_too_far_apart_are_named_beside_the_entry(ines: Person) -> None:
    """One of them must be wrong, and a third reading would only hide it."""
    assert ines.measured("98.4", "92.1")["finding"].startswith("98.40 and 92.10 are 6.6")


@pytest.mark.parametrize(
    ("typed", "field", "code"),
    [
        ({"current": ""}, "current", "empty"),
        ({"current": "0"}, "current", "not_above_zero"),
        ({"current": "-5"}, "current", "not_above_zero"),
        ({"current": "999999"}, "current", "out_of_range"),
        ({"current": "four"}, "current", "not_a_number"),
        ({"commanded": "3"}, "commanded", "out_of_range"),
        ({"method": "marked", "mark": "95"}, "mark", "nearer_than_commanded"),
        ({"method": "marked", "mark": "100"}, "mark", "nearer_than_commanded"),
        ({"method": "weighed"}, "instrument_id", "wrong_kind"),
        ({"fed_at": "2030-01-01T00:00:00Z"}, "fed_at", "in_future"),
    ],
)
def test_a_start_form_with_a_mistake_says_so_at_the_field(
    ines: Person, typed: dict[str, str], field: str, code: str
) -> None:
    """Every number is judged; none is silently put right."""
    assert problem_at(ines.start(**typed), field)["code"] == code


def test_a_current_setting_far_from_the_record_is_asked_about(ines: Person) -> None:
    """4194.5 for 419.45 is a slip; 80 may be a machine that lost its settings, and then it is right."""
    ines.applied("98.4", "98.1", "98.6")
    slip = problem_at(ines.start("4194.5"), "current")
    assert (slip["code"], slip["suggested"]) == ("unit_slip", "419.45")
    assert problem_at(ines.start("80"), "current")["code"] == "far_off"
    assert ines.start("80", as_typed=["current"])["state"] == "open"


def test_there_is_one_open_run_for_a_step_of_a_setup(ines: Person) -> None:
    """A second start leads back to the first."""
    run = ines.start()
    again = ines.start()
    assert again["code"] == "run_open"
    assert f"Run {run['id']}" in again["detail"]
    assert ines.get("/runs")["open"][0]["id"] == run["id"]


def test_applying_twice_changes_nothing_the_second_time(ines: Person) -> None:
    """A double press or a second tab must not correct twice."""
    run = ines.measured("98.4", "98.1", "98.6")
    assert ines.decide(run, "apply").status_code == 201
    again = ines.decide(run, "apply")
    assert (again.status_code, again.json()["code"]) == (409, "decided_already")
    assert len(ines.get(f"/setups/{ines.setup_id}/history")["revisions"]) == 1


def test_a_decision_on_a_result_that_has_moved_since_is_refused(ines: Person) -> None:
    """A reading from the phone after the laptop drew its verdict: look again, then decide."""
    run = ines.measured("98.4", "98.1", "98.6")
    ines.read(run["id"], "99.9")
    assert ines.decide(run, "apply").status_code == 412


def test_an_unproven_value_is_applied_only_after_one_question_and_says_so_for_ever(ines: Person) -> None:
    """Precision never blocks; the record tells what it rests on."""
    run = ines.measured("99.73", "100.52", "100.68")
    assert run["result"]["verdict"] == "repeat"
    asked = ines.decide(run, "apply").json()
    assert problem_at(asked, "before_proof")["confirmable"] is True
    decided = ines.decide(run, "apply", before_proof=True).json()
    assert "applied before it was proven" in decided["decision"]["values"][0]["provenance"]["sentence"]
    row = ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]
    assert (row["standing"], row["cause"]) == ("check", "applied before it was proven"), "no green word for a guess"
    run = ines.measured("96.1", "96.0", "96.2", "96.1", "96.0", current=row["value"]["setting"])
    assert run["result"]["verdict"] == "apply"
    ines.decide(run, "apply")
    row = ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]
    assert row["standing"] == "fresh", (row["cause"], row["value"]["provenance"])


def test_a_reading_that_cannot_be_true_can_be_neither_applied_nor_kept(ines: Person) -> None:
    """Half the length is a wrong microstep setting; no number of e-steps repairs that."""
    run = ines.start()
    for typed in ("50.1", "49.9", "50.0"):
        run = ines.read(run["id"], typed, as_typed="far_off").json()
    assert run["result"]["reason"] == "microstep_or_gear_ratio"
    assert ines.decide(run, "apply").json()["code"] == "refused"


def test_a_sample_fed_before_the_last_change_is_refused(ines: Person) -> None:
    """It would correct the same error twice: at the start form, and in a run of another setup of the same machine."""
    fed_before = ines.clock.now.isoformat()
    other = ines.post("/setups", {**MACHINE_OTHER_FILAMENT})
    waiting = ines.start(setup_id=other.json()["id"])
    ines.applied("98.4", "98.1", "98.6")
    assert problem_at(ines.start("419.45", fed_at=fed_before), "fed_at")["code"] == "sample_too_old"
    late = ines.read(waiting["id"], "98.4")
    assert (late.status_code, late.json()["code"]) == (409, "sample_too_old")


MACHINE_OTHER_FILAMENT = {
    "machine": "Heron", "feed_path": "bowden", "keeps_setting": "command_pair", "setting_places": "2", "liner": "lined",
    "runaway": "tested",
    "hotend_max": "", "bore": "0.4", "nozzle_material": "brass", "filament": "Tarn PETG smoke", "family": "petg",
}  # fmt: skip


def test_a_value_belongs_to_the_machine_and_shows_in_every_setup_of_it(ines: Person) -> None:
    """E-steps are stored once; each setup in their scope gets a revision in the same decision."""
    other = ines.post("/setups", MACHINE_OTHER_FILAMENT).json()["id"]
    ines.applied("98.4", "98.1", "98.6")
    assert ines.get(f"/setups/{other}/bench")["steps"][1]["value"]["setting"] == "419.45"
    assert len(ines.get(f"/setups/{other}/history")["revisions"]) == 1


def test_keep_makes_the_step_fresh_and_writes_no_other_number(ines: Person) -> None:
    """A year later three good feeds confirm the value that is there."""
    ines.applied("98.4", "98.1", "98.6")
    ines.clock.wait(days=300)
    bench = f"/setups/{ines.setup_id}/bench"
    assert ines.get(bench)["steps"][1]["standing"] == "ageing"
    run = ines.measured("99.95", "100.10", "100.02", current="419.45")
    assert run["result"]["verdict"] == "keep"
    assert ines.decide(run, "keep").status_code == 201
    step = ines.get(bench)["steps"][1]
    assert (step["standing"], step["value"]["setting"], step["unverified"]) == ("fresh", "419.45", False)
    assert len(ines.get(f"/setups/{ines.setup_id}/history")["revisions"]) == 1


def test_keeping_a_setting_that_was_never_on_record_puts_it_there(ines: Person) -> None:
    """The first run on a machine that is right already: measured, so it is a value with its ±."""
    run = ines.measured("99.95", "100.10", "100.02")
    ines.decide(run, "keep")
    value = ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]["value"]
    assert (value["setting"], value["provenance"]["origin"]) == ("412.60", "measured")
    assert value["half_width_95"] > 0


def test_a_run_of_a_removed_setup_is_kept_takes_nothing_more_and_can_be_left(ines: Person) -> None:
    """Somebody took the machine apart while a run was open on another device."""
    run = ines.measured("98.4")
    setup = ines.get(f"/setups/{ines.setup_id}")
    assert ines.post(f"/setups/{ines.setup_id}/removal", version=setup["version"]).status_code == 201
    refused = ines.read(run["id"], "98.1")
    assert (refused.status_code, refused.json()["code"]) == (409, "setup_removed")
    assert ines.post(f"/runs/{run['id']}/leave", version=run["version"]).status_code == 201
    assert len(ines.get(f"/runs/{run['id']}")["readings"]) == 1
    assert ines.get("/runs")["open"] == []


def test_readings_are_struck_with_a_reason_and_taken_back_without_one(ines: Person) -> None:
    """Both stay on record; only what was taken back at once leaves the table."""
    run = ines.measured("98.4", "98.1", "91.3")
    wrong = run["readings"][-1]
    path = f"/runs/{run['id']}/readings/{wrong['id']}/strike"
    assert problem_at(ines.post(path, {"reason": "  "}).json(), "reason")["code"] == "empty"
    run = ines.post(path, {"reason": "spool snagged"}).json()
    assert run["readings"][-1]["struck"] == "spool snagged"
    assert ines.post(path, {"reason": "again"}).json()["code"] == "struck_already"
    run = ines.post(f"/runs/{run['id']}/taken-back").json()
    assert [(row["text"], row["taken_back"]) for row in run["readings"]] == [
        ("98.40", False), ("98.10", True), ("91.30", False),
    ]  # fmt: skip


def test_every_way_a_machine_keeps_its_setting_gets_its_own_instructions(ines: Person) -> None:
    """A configuration file holds mm per turn: 4.6 x 98.3667 / 100 = 4.525 with three decimals."""
    for keeping, current, sent in (("turn_in_file", "4.6", "4.525"), ("menu", "93", "94.5")):
        form = MACHINE | {"machine": keeping, "keeps_setting": keeping}
        form["setting_places"] = "3" if keeping == "turn_in_file" else "1"
        ines.setup_id = ines.post("/setups", form).json()["id"]
        run = ines.applied("98.4", "98.1", "98.6", current=current)
        instructions = run["decision"]["to_set"][0]["instructions"]
        assert instructions[0]["send"] == sent
        texts = " ".join(row["text"] for row in instructions)
        assert texts.index("below 50") < texts.index("Switch off, wait 10 seconds")
        assert "Read the value back" in texts


def test_a_weighed_run_compares_with_a_piece_of_the_same_spool(ines: Person) -> None:
    """1000 mm commanded, 2.95 g fed, reference 2.98 g a metre: 989.9 mm fed."""
    scale = ines.post(
        "/instruments", {"values": {"name": "Glue-pot scale", "kind": "scale", "resolution": "0.01"}}
    ).json()
    run = ines.start(
        method="weighed", instrument_id=scale["id"], commanded="1000", reference_mass="2.98", reference_length="1000",
        reference_tool="1",
    )  # fmt: skip
    for typed in ("2.95", "2.96", "2.94"):
        run = ines.read(run["id"], typed).json()
    assert run["body"]["strip"]["mean"] == pytest.approx(989.93, abs=0.01)
    assert run["entry"]["unit"] == "g"


def test_scatter_of_earlier_runs_is_counted_and_can_be_left_out(ines: Person) -> None:
    """The same tool and method have a history; a person who knows it does not hold can forget it."""
    ines.applied("98.4", "98.1", "98.6")
    run = ines.measured("98.9", "99.0", "99.1", current="419.45")
    assert "history" in run["actions"]
    edited = ines.client.patch(
        f"/api/v1/runs/{run['id']}", json={"use_history": False}, headers=ines.headers(run["version"])
    ).json()
    assert edited["result"]["half_width_text"] != run["result"]["half_width_text"]


def test_a_run_counts_the_scatter_that_was_known_when_it_began(ines: Person) -> None:
    """What another setup decides meanwhile moves no result on screen; another tool has scattered otherwise, or never."""
    other = ines.post("/setups", MACHINE | {"filament": "Reed PLA"}).json()["id"]
    meanwhile = ines.start(setup_id=other)
    ines.decide(ines.measured("98.4", "98.1", "98.6"), "keep")
    assert ines.get(f"/runs/{meanwhile['id']}")["actions"].count("history") == 0
    ines.post(f"/runs/{meanwhile['id']}/leave", version=meanwhile["version"])
    run = ines.start(setup_id=other)
    assert "history" in run["actions"]
    ruler = ines.post("/instruments", {"values": {"name": "Ruler", "kind": "ruler", "resolution": "0.5"}}).json()["id"]
    for tool, known in ((ruler, False), (1, True)):
        headers = ines.headers(version=run["version"])
        run = ines.client.patch(f"/api/v1/runs/{run['id']}", json={"instrument_id": tool}, headers=headers).json()
        assert (run["instrument"]["id"], "history" in run["actions"]) == (tool, known)


@pytest.mark.parametrize(("method", "speed", "feed"), [("open_air", "1.5", "F90"), ("marked", "1", "F60")])
def test_what_the_file_does_is_said_before_it_is_sent(ines: Person, method: str, speed: str, feed: str) -> None:
    """Heat, wait, length and speed, as its procedure has them; the file does just that."""
    form = {"setup_id": ines.setup_id, "step": "e_steps", "method": method, "instrument_id": 1}
    values = {"current": "412.6", "commanded": "100"} | ({"mark": "120"} if method == "marked" else {})
    answer = ines.post("/runs", form | {"values": values})
    assert answer.status_code == 201, answer.text
    run = answer.json()
    shown = ines.get(f"/runs/{run['id']}/method")
    assert f"feeds 100 mm once at {speed} mm/s" in shown["body_note"].replace("\N{NO-BREAK SPACE}", " ")
    text = ines.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    assert f"G1 E100.00000 {feed}\n" in text
