"""A pressure tower: the file sets each band by the machine's own line, and signed ratings say where it is right."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person
from tests.server.test_printed_runs import codes, sized
from tests.server.test_profile import type_in

__all__ = ["sized"]

FORM = {
    "line": "M900 K{value}", "low": "0", "high": "0.5", "count": "6", "speed": "60", "slow": "15", "nozzle": "210",
    "first_nozzle": "210", "line_width": "0.45", "layer": "0.2", "first_layer": "0.2", "flow": "100", "bed": "60",
    "first_bed": "60", "fan": "100",
}  # fmt: skip


def start(person: Person, **typed: str) -> Any:
    """The response to a tower started."""
    form = person.get(f"/setups/{person.setup_id}/starts/pressure")["methods"][0]
    usual = {field["name"]: field["value"] for field in form["fields"]}
    body = {"setup_id": person.setup_id, "step": "pressure", "method": "pressure", "values": usual | FORM | typed}
    return person.post("/runs", body)


def rate(person: Person, run: Any, key: str, *ratings: int) -> Any:
    """The run with a criterion rated, bottom up."""
    at = person.clock.now.isoformat()
    for band, rating in enumerate(ratings):
        answer = person.post(f"/runs/{run['id']}/ratings", {"band": band, "key": key, "rating": rating, "taken_at": at})
        assert answer.status_code == 201, answer.text
    return person.get(f"/runs/{run['id']}")


@pytest.fixture
def printer(sized: Person) -> Person:
    """A machine of known size with a surface and numbers to print with."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    type_in(sized, {"nozzle": "210", "nozzle_first": "210", "bed": "60", "bed_first": "60"})
    return sized


def test_each_band_is_set_by_the_line_of_the_machine(printer: Person) -> None:
    """Once a band, in their order, with the owner's own words; the file check has nothing against it."""
    run = start(printer, line="SET_COMPENSATION S={value}").json()
    text = printer.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    told = [line for line in text.splitlines() if line.startswith("SET_COMPENSATION")]
    assert told == [f"SET_COMPENSATION S={value:g}" for value in (0, 0.1, 0.2, 0.3, 0.4, 0.5)]
    speeds = {line.split("F")[-1] for line in text.splitlines() if line.startswith("G1 X") and "F" in line}
    assert {"3600", "900"} <= speeds
    offered = printer.get(f"/setups/{printer.setup_id}/starts/pressure")["methods"][0]["fields"]
    assert next(row for row in offered if row["name"] == "line")["value"] == "SET_COMPENSATION S={value}"


def test_the_machine_is_given_back_what_was_set_when_the_tower_is_done(printer: Person) -> None:
    """Behind the last line that is laid; where nothing is on record it keeps that of the last band, which is said."""
    type_in(printer, {"pressure": "0.08"})
    run = start(printer).json()
    lines = printer.client.get(f"/api/v1/runs/{run['id']}/files/piece").text.splitlines()
    told = [place for place, line in enumerate(lines) if line.startswith("M900")]
    laid = [place for place, line in enumerate(lines) if line.startswith("G1 X") and " E" in line]
    assert lines[told[-1]] == "M900 K0.08"
    assert told[-2] < laid[-1] < told[-1]
    steps = printer.get(f"/runs/{run['id']}/method")["procedure"]
    assert any("keeps that of the last band" in step for step in steps), steps


def test_a_line_that_does_something_else_is_refused(printer: Person) -> None:
    """Without a place for the value, heating, moving, two lines; and bands from which nothing can be told."""
    for line in ("M900 K0.1", "M104 S{value}", "G1 X{value}", "M900 K{value} M104 S300"):
        assert codes(start(printer, line=line)) == {"line": "no_such_line"}, line
    assert codes(start(printer, line="")) == {"line": "empty"}
    assert codes(start(printer, count="4")) == {"count": "too_few"}
    assert codes(start(printer, slow="40")) == {"slow": "too_near"}
    assert codes(start(printer, low="0.5", high="0.2")) == {"high": "upside_down"}


def test_where_both_looks_cross_the_middle_is_applied(printer: Person) -> None:
    """From far too little to far too much; applied it stands on the row with its interval."""
    run = rate(printer, start(printer).json(), "slow_down", 4, 3, 2, 2, 1, 0)
    assert run["result"]["verdict"] == "apply"
    run = rate(printer, run, "speed_up", 4, 3, 3, 2, 1, 0)
    assert run["result"]["title"].startswith("Set 0.")
    curve = run["curve"]
    assert [[point["y"] for point in one["points"]] for one in curve["series"]] == [
        [2, 1, 0, 0, -1, -2],
        [2, 1, 1, 0, -1, -2],
    ]
    assert curve["low"] <= curve["marks"][0]["x"] <= curve["high"]
    decided = printer.decide(run, "apply")
    assert decided.status_code == 201, decided.text
    row = next(row for row in printer.get(f"/setups/{printer.setup_id}/bench")["steps"] if row["step"] == "pressure")
    assert 0.15 <= row["value"]["number"] <= 0.35
    assert (row["standing"], row["value"]["provenance"]["origin"]) == ("fresh", "measured")


@pytest.mark.parametrize(
    ("ratings", "title", "verdict"),
    [
        ((2, 2, 2, 2, 2, 2), "Nothing here changes with it", "repeat"),
        ((0, 1, 1, 3, 3, 4), "These ratings contradict each other", "refuse"),
        ((4, 4, 4, 3, 3, 3), "The best lies beyond this tower", "repeat"),
        ((1, 1, 1, 0, 0, 0), "No compensation needed", "apply"),
    ],
)
def test_what_a_tower_cannot_say_it_does_not(
    printer: Person, ratings: tuple[int, ...], title: str, verdict: str
) -> None:
    """Flat, the wrong way round, too little everywhere, too much from 0 on."""
    run = rate(printer, start(printer).json(), "slow_down", *ratings)
    assert (run["result"]["title"], run["result"]["verdict"]) == (title, verdict)
