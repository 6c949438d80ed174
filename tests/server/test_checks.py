"""Checks of a machine: whether what follows can be trusted; a heat log says up to where the heater holds."""

from __future__ import annotations

import math
from typing import Any

import pytest

from tests.server.conftest import Person
from tests.server.test_printed_runs import codes
from ubrex.server.checks import UnreadableLog, read_log


def check(person: Person, kind: str, **typed: str) -> Any:
    """The response to a check taken."""
    return person.post(f"/setups/{person.setup_id}/checks", {"kind": kind, "values": typed})


def heat_log(*, target: float = 240.0, end: float = 330.0, head: str = "time;target;shown;duty\n") -> str:
    """A log every two seconds: up at full power, ten minutes held; ``end``: where full power would end [°C]."""
    rows, shown, seconds = [], 22.0, 0
    while seconds < 900:
        held = shown >= target - 0.5
        duty = (target - 22) / (end - 22) if held else 1.0
        shown = target + 0.3 * math.sin(seconds / 20) if held else shown + 2 * (end - shown) / 130
        rows.append(f"{seconds};{target:g};{shown:.2f};{duty:.3f}")
        seconds += 2
    return head + "\n".join(rows)


def newest(answer: Any) -> Any:
    """The check at the top of the list."""
    assert answer.status_code == 201, answer.text
    return answer.json()["done"][0]


@pytest.mark.parametrize(
    ("kind", "typed", "title", "grade"),
    [
        (
            "probe_repeats",
            {"touches": "0.010 0.011 0.010 0.012 0.011 0.010 0.011 0.012 0.010 0.011"},
            "Repeats well",
            "good",
        ),
        ("probe_repeats", {"touches": "0.010\n0.080; 0.15 0.02 0.11"}, "Repeats badly", "bad"),
        ("both_states", {"with": "y y y", "without": "n n n"}, "Answers in both states", "good"),
        ("both_states", {"with": "y y y", "without": "y y y"}, "Stuck", "bad"),
        ("both_states", {"with": "n n n", "without": "y y y"}, "The wrong way round", "bad"),
        ("both_states", {"with": "y", "without": "n"}, "Look more often", "open"),
        ("level_rounds", {"rounds": "0.20 -0.10 0 -0.10\n0.01 0 0 -0.01"}, "Level", "good"),
        ("level_rounds", {"rounds": "stuck free light drags\ndrags, drags, drags, drags"}, "Level", "good"),
        (
            "level_rounds",
            {"rounds": "stuck free light drags\nDrags drags light drags"},
            "Level as far as can be read",
            "good",
        ),
        ("level_rounds", {"rounds": "firm free light drags"}, "Go on", "open"),
        ("level_rounds", {"rounds": "0.10 -0.05 0 -0.05\n0.30 -0.1 -0.1 -0.1"}, "Getting worse", "bad"),
        ("mesh", {"mesh": "0.01 0.02 0.01\n0.02 0.03 0.02\n0.01 0.02 0.01"}, "Even enough", "good"),
        ("mesh", {"mesh": "-0.1 0 0.1\n-0.1 0 0.1\n-0.1 0 0.1"}, "Level it first", "open"),
        ("mesh", {"mesh": "0 0.15 0\n0.15 0.3 0.15\n0 0.15 0"}, "The plate is bent", "bad"),
        ("mesh", {"mesh": "0 0 0 0\n0 0.4 0 0\n0 0 0 0\n0 0 0 0"}, "A point stands off", "bad"),
        ("before_after", {"what": "noise_db", "before": "52 53 52", "after": "46 47 46"}, "Lower", "good"),
        ("before_after", {"what": "heat_sink_c", "before": "48 49", "after": "46 48"}, "Cannot tell", "open"),
        ("piece_again", {"sizes": "20,01 20,02 20,01 20,00 20,01 20,02"}, "Repeats well", "good"),
    ],
)
def test_a_check_says_what_can_be_trusted(
    ines: Person, kind: str, typed: dict[str, str], title: str, grade: str
) -> None:
    """Each kind, in its own words; kept with who took it."""
    row = newest(check(ines, kind, step="0.01" if kind == "piece_again" else "0.001", **typed))
    assert (row["title"], row["grade"], row["person"]) == (title, grade, "Ines")


def test_what_cannot_be_read_is_said_at_its_field(ines: Person) -> None:
    """Nothing is kept of it."""
    assert codes(check(ines, "probe_repeats", touches="0.01 0.02", step="0.001")) == {"touches": "too_few"}
    assert codes(check(ines, "probe_repeats", touches="0.01 a 0.02", step="0")) == {
        "touches": "not_a_number", "step": "not_above_zero",
    }  # fmt: skip
    assert codes(check(ines, "both_states", **{"with": "y", "without": "perhaps"})) == {"without": "not_answers"}
    assert codes(check(ines, "level_rounds", rounds="firm 0.2 drags")) == {"rounds": "not_a_number"}
    assert codes(check(ines, "level_rounds", rounds="0.1 0.2\n0.1 0.2 0.3")) == {"rounds": "not_alike"}
    assert codes(check(ines, "mesh", mesh="0.1 0.2\n0.1 0.2")) == {"mesh": "no_mesh"}
    assert codes(check(ines, "before_after", what="taste", before="1", after="2")) == {"what": "unknown"}
    assert codes(check(ines, "nonsense")) == {"kind": "unknown"}
    assert codes(check(ines, "level_rounds", rounds="0.1 0.2 120")) == {"rounds": "impossible"}
    assert codes(check(ines, "both_states", **{"with": "y", "without": "n", "change": "²"})) == {"change": "unknown"}
    assert codes(check(ines, "heat_log", log="0;200;20\n1;200;nan", room="22", top="240")) == {"log": "not_a_log"}
    assert codes(check(ines, "heat_log", log="", room="22", top="240")) == {"log": "not_a_log"}
    assert ines.get(f"/setups/{ines.setup_id}/checks")["done"] == []


def test_a_heater_at_its_limit_is_asked_about_wherever_a_temperature_is_set(ines: Person) -> None:
    """It has a tenth left at 215: typing 212 takes a note; a log with more in hand takes the limit away."""
    weak = newest(check(ines, "heat_log", log=heat_log(target=215, end=235), room="22", top="215"))
    assert (weak["title"], weak["grade"]) == ("The heater is near its limit", "bad")
    assert "stay below" in weak["remarks"][0]
    body = {"values": {"nozzle": "212"}, "origin": "typed"}
    asked = ines.post(f"/setups/{ines.setup_id}/values", body)
    assert "heater_weak" in codes(asked).values(), asked.text
    assert "nothing in hand" in asked.json()["fields"][0]["message"]
    strong = newest(check(ines, "heat_log", log=heat_log(target=215, end=420), room="22", top="215"))
    assert (strong["title"], strong["grade"]) == ("Heats as it should", "good")
    assert "heater_weak" not in codes_if_any(ines.post(f"/setups/{ines.setup_id}/values", body))


def codes_if_any(answer: Any) -> set[str]:
    """Codes of the problems, none where it was taken."""
    return set() if answer.status_code == 201 else set(codes(answer).values())


def test_a_comparison_stays_with_the_work_it_belongs_to_and_can_be_taken_back(ines: Person) -> None:
    """The check names the change; taken back it stays in the list, struck."""
    ines.post(f"/setups/{ines.setup_id}/changes", {"kind": "gear_tension", "note": ""})
    options = next(
        row["options"]
        for kind in ines.get(f"/setups/{ines.setup_id}/checks")["kinds"]
        for row in kind["fields"]
        if row["name"] == "change"
    )
    row = newest(
        check(
            ines, "before_after", what="noise_db", before="52 53", after="50 50", step="1", change=options[1]["value"]
        )
    )
    assert row["change"] == options[1]["text"]
    back = ines.post(f"/checks/{row['id']}/withdrawal").json()["done"][0]
    assert (back["id"], back["withdrawn"]) == (row["id"], True)
    assert ines.post(f"/checks/{row['id']}/withdrawal").status_code == 409
    refused = check(ines, "before_after", what="noise_db", before="1", after="2", step="1", change="99999")
    assert codes(refused) == {"change": "unknown"}


def test_a_mesh_is_seen_from_above_with_the_front_row_first(ines: Person) -> None:
    """Whatever way round the machine lists it; where a point stands off is said as one stands before the bed."""
    rows = "0 0 0\n0 0 0\n0 0 0\n0.9 0 0"
    row = newest(check(ines, "mesh", mesh=rows, first="back"))
    assert row["mesh"][0] == [0.9, 0, 0]
    assert "At row 1 from the front, point 1 from the left" in row["sentence"]


@pytest.mark.parametrize(
    "text",
    [
        "time;target;shown\n0;200;20,5\n1;200;21,0\n2;200;21,5",
        "0,200,20.5\n1,200,21.0\n2,200,21.5",
        "10:00:00\t200\t20.5\n10:00:01\t200\t21\n10:00:02\t200\t21.5",
        "0 0 20\n1 200 20.5\n2 200 21.0\n3 200 21.5",
    ],
)
def test_logs_are_read_as_machines_write_them(text: str) -> None:
    """Names or none, three separators, a clock, a comma as decimal mark; from where the target was set."""
    found = read_log(text)
    assert (found.times_s, found.target_c, found.shown_c) == ((0, 1, 2), 200, (20.5, 21, 21.5))
    assert found.duty is None


@pytest.mark.parametrize("full", ["1", "100", "255"])
def test_power_is_a_share_however_it_is_written(full: str) -> None:
    """A share, percent, a byte."""
    half = float(full) / 2
    found = read_log(f"time;target;shown;duty\n0;200;20;{full}\n1;200;21;{half}")
    assert found.duty == (1.0, 0.5)


@pytest.mark.parametrize("text", ["", "0;200", "0;200;20\n0;200;21", "time;shown\n0;20", "0;200;x"])
def test_what_is_no_log_is_refused_with_a_reason(text: str) -> None:
    """Empty, short of a column, time that stands still, no number."""
    with pytest.raises(UnreadableLog, match=r"\w"):
        read_log(text)
