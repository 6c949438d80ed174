"""The same fact gives the same answer at every door: limits that nobody stated, and what a machine is known to hold."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import CALLIPER, MACHINE, Clock, Person
from tests.server.test_inventory import edit
from tests.server.test_printed_runs import BOX
from ubrex.core.materials import UNSTATED_BED_C, UNSTATED_NOZZLE_C


@pytest.fixture
def unstated(nobody: Person) -> Person:
    """A machine of which nobody said what hotend and bed stand."""
    setup = MACHINE | {"liner": "all_metal", "hotend_max": "", "bed_max": "", "surface": "Smooth sheet"}
    made = nobody.post("/first-setup", {"setup": setup, "instrument": CALLIPER, "person": {"name": "Ines"}})
    assert made.status_code == 201, made.text
    nobody.id, nobody.setup_id = made.json()["person"]["id"], made.json()["setup_id"]
    assert edit(nobody, "machine", 1, width_mm="220", depth_mm="220", height_mm="250").status_code == 200
    return nobody


def typed(person: Person, **values: str) -> Any:
    """The response to values typed by hand, with a reason."""
    body = {"values": values, "origin": "typed", "note": "because"}
    return person.post(f"/setups/{person.setup_id}/values", body)


def boxed(person: Person, **values: str) -> Any:
    """The response to a box started."""
    body = {"setup_id": person.setup_id, "step": "flow", "method": "box", "instrument_id": 1}
    return person.post("/runs", body | {"values": BOX | values})


def fields(answer: Any) -> set[str]:
    """Fields that were refused."""
    assert answer.status_code == 422, answer.text
    return {row["field"] for row in answer.json()["fields"]}


@pytest.mark.parametrize(
    ("name", "limit"), [("nozzle", UNSTATED_NOZZLE_C), ("nozzle_first", UNSTATED_NOZZLE_C), ("bed", UNSTATED_BED_C)]
)
def test_where_nobody_stated_a_limit_the_careful_one_holds_at_every_door(
    unstated: Person, name: str, limit: float
) -> None:
    """Typing, the start form, a piece that is only looked at, and values that are brought in."""
    at, beyond = f"{limit:g}", f"{limit + 1:g}"
    assert typed(unstated, **{name: beyond}).status_code == 422
    assert fields(typed(unstated, **{name: "400"})) == {name}
    assert typed(unstated, **{name: at}).status_code == 201
    in_box = {"nozzle_first": "nozzle"}.get(name, name)
    assert in_box in fields(boxed(unstated, **{in_box: beyond}))
    assert boxed(unstated, **{in_box: at}).status_code == 201
    form = unstated.get(f"/setups/{unstated.setup_id}/values/{'bed' if name == 'bed' else 'temperature'}")
    hint = next(row["hint"] for row in form["fields"] if row["name"] == name)
    assert at in hint


def test_a_machine_that_holds_its_e_steps_is_told_so_by_run_and_bench_alike(ines: Person, clock: Clock) -> None:
    """A later run that read the very setting and kept it shows it; keeping a flow shows nothing, and hides nothing."""
    assert edit(ines, "machine", 1, width_mm="220", depth_mm="220", height_mm="250").status_code == 200

    def held() -> tuple[str, str]:
        run = ines.get("/runs/1")["decision"]["values"][0]["read_back"]["state"]
        bench = ines.get(f"/setups/{ines.setup_id}/bench")["steps"]
        return run, next(row["value"]["read_back"]["state"] for row in bench if row["step"] == "e_steps")

    ines.applied("98.4", "98.1", "98.6")
    assert held() == ("unverified", "unverified")
    run = boxed(ines, bed="50").json()
    for text in ("0.44", "0.441", "0.439", "0.44"):
        run = ines.read(run["id"], text).json()
    assert ines.decide(run, "keep").status_code == 201
    assert held() == ("unverified", "unverified")
    again = ines.measured("100.0", "100.1", "99.9", current="419.45")
    assert ines.decide(again, "keep").status_code == 201
    assert held() == ("verified", "verified")
    clock.wait(hours=1)
    run = boxed(ines, bed="50").json()
    for text in ("0.44", "0.441", "0.439", "0.44"):
        run = ines.read(run["id"], text).json()
    assert ines.decide(run, "keep").status_code == 201
    assert held() == ("verified", "verified")
