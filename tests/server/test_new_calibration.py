"""A calibration that Ubrex does not have goes through everything as soon as it is in the register, and not before."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import pytest

from tests.server.bar import BAR
from tests.server.conftest import Person
from tests.server.test_inventory import edit
from ubrex.server.calc import calc
from ubrex.server.calibrations import CALIBRATIONS, Calibration, Incomplete, MethodWords

VALUES = {"current": "100", "drawn": "60", "line_width": "0.45", "layer": "0.2", "nozzle": "205", "bed": "50"}


@pytest.fixture(autouse=True)
def _bare() -> Iterator[None]:
    """No way to measure sizes but the one that is added."""
    own = CALIBRATIONS["size"]
    CALIBRATIONS.remove(own.method)
    yield
    CALIBRATIONS.add(own)


@pytest.fixture
def barred(ines: Person) -> Iterator[Person]:
    """A workshop that knows the bar, with a machine whose size is entered."""
    assert edit(ines, "machine", 1, width_mm="220", depth_mm="220", height_mm="250").status_code == 200
    CALIBRATIONS.add(BAR)
    yield ines
    CALIBRATIONS.remove(BAR.method)


def row(person: Person) -> Any:
    """The row of size on the bench."""
    return next(step for step in person.get(f"/setups/{person.setup_id}/bench")["steps"] if step["step"] == "size")


def start(person: Person, **typed: str) -> Any:
    """The response to a bar started."""
    body = {"setup_id": person.setup_id, "step": "size", "method": "bar", "instrument_id": 1}
    return person.post("/runs", body | {"values": VALUES | typed})


def test_without_its_line_in_the_register_it_is_not_there(ines: Person) -> None:
    """The start form of its row does not offer it, and it cannot be started."""
    assert "bar" not in {way["method"] for way in ines.get(f"/setups/{ines.setup_id}/starts/size")["methods"]}
    assert start(ines).status_code == 404


def test_it_is_started_printed_measured_applied_and_told_of_everywhere(barred: Person) -> None:
    """Start, file, drawing, readings, verdict, apply, bench, tonight's numbers, history, list of runs, calc."""
    setup = barred.setup_id
    assert row(barred)["can_run"]
    form = barred.get(f"/setups/{setup}/starts/size")
    way = next(way for way in form["methods"] if way["method"] == "bar")
    assert (way["name"], way["prints"]) == ("A bar between its ends", True)
    assert [field["name"] for field in way["fields"]] == list(VALUES)
    piece = barred.post(f"/setups/{setup}/pieces", {"method": "bar", "values": VALUES}).json()
    assert (piece["name"], piece["size"]) == ("Bar", "60 x 10 x 0.2 mm")

    refused = start(barred, nozzle="290", drawn="5")
    assert {problem["field"] for problem in refused.json()["fields"]} == {"nozzle", "drawn"}
    run = start(barred).json()
    method = barred.get(f"/runs/{run['id']}/method")
    assert (method["procedure"][0], [file["key"] for file in method["files"]]) == ("Print the bar.", ["piece"])
    text = barred.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    assert "M109 S205" in text
    assert "M190 S50" in text
    assert len(barred.get(f"/runs/{run['id']}/layers")["layers"]) == 1

    assert barred.read(run["id"], "6").json()["fields"][0]["suggested"] == "60"
    for typed in ("59.70", "59.71", "59.69"):
        run = barred.read(run["id"], typed).json()
    assert (run["result"]["title"], run["result"]["proposal"]) == ("Apply 100.50", "100.50")
    assert run["body"]["strip"]["mean"] == pytest.approx(59.7)
    decided = barred.decide(run, "apply")
    assert decided.status_code == 201, decided.text
    assert decided.json()["decision"]["to_set"][0]["sentence"].startswith("Type in, and tick on the bench: size scale")

    assert (row(barred)["standing"], row(barred)["value"]["text"]) == ("fresh", "100.50")
    tonight = barred.get(f"/setups/{setup}/bench")["tonight"]
    assert "100.50" in {line["text"] for line in tonight if line["kind"] == "size_scale"}
    newest = barred.get(f"/setups/{setup}/history")["differences"][0]
    assert "bar" in json.dumps(newest)
    assert barred.get("/runs")["ended"][0]["id"] == run["id"]
    found = json.loads(calc("bar", json.dumps({"lengths_mm": [59.7, 59.71, 59.69], "drawn_mm": 60.0})))
    assert found == {"verdict": "apply", "scale_pct": pytest.approx(100.5025)}


def lacking(**parts: Any) -> Calibration:
    """The bar without something."""
    return replace(BAR, **parts)


@pytest.mark.parametrize(
    ("incomplete", "missing"),
    [
        (lacking(rule=""), "bar lacks rule"),
        (lacking(kinds=()), "bar lacks kinds"),
        (lacking(offer=None), "bar lacks offer"),
        (lacking(case=None), "bar lacks case"),
        (lacking(calc={}), "bar lacks calc"),
        (lacking(cautions=None), "bar lacks cautions"),
        (lacking(words=replace(BAR.words, procedure=())), "bar lacks words.procedure"),
        (lacking(words=replace(BAR.words, slips=())), "bar lacks words.slips"),
        (lacking(words=MethodWords(name="", short="", why=(), procedure=(), reads="")), "words.name"),
        (lacking(method="box"), "two calibrations named box"),
        (lacking(calc={"first-layer": BAR.calc["bar"]}), "another calibration has a rule named first-layer"),
    ],
)  # fmt: skip
def test_what_is_not_whole_is_not_taken_in_and_the_message_says_what_is_missing(
    incomplete: Calibration, missing: str
) -> None:
    """Ubrex does not start with half a calibration."""
    known = list(CALIBRATIONS)
    with pytest.raises(Incomplete, match=missing):
        CALIBRATIONS.add(incomplete)
    assert list(CALIBRATIONS) == known
