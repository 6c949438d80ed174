"""Sizes on one piece: scale apart from contours, each changed only where it is proven to be off."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person
from tests.server.test_printed_runs import codes, read_all, sized
from tests.server.test_profile import type_in

__all__ = ["sized"]

NOMINAL = (120.0, 80.0, 40.0, 20.0, 40.0, 20.0, 12.0)
"""Outer sizes, then windows, as they are walked."""


@pytest.fixture
def printer(sized: Person) -> Person:
    """A machine of known size, numbers to print with, and a calliper with its zero checked."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    type_in(sized, {"nozzle": "210", "nozzle_first": "210", "bed": "60", "bed_first": "60"})
    return sized


def start(person: Person, **typed: str) -> Any:
    """The response to a run started."""
    methods = person.get(f"/setups/{person.setup_id}/starts/size")["methods"]
    form = next(row for row in methods if row["method"] == "size")
    values = {field["name"]: field["value"] for field in form["fields"]} | typed
    body = {"setup_id": person.setup_id, "step": "size", "method": "size", "instrument_id": 2, "values": values}
    return person.post("/runs", body)


def sizes(scale: float, outer: float, inner: float) -> list[str]:
    """What a micrometer would read of such a piece."""
    return [f"{size * scale + (outer if at < 4 else inner):.3f}" for at, size in enumerate(NOMINAL)]


def values(person: Person) -> dict[str, float]:
    """What stands on record of size."""
    form = person.get(f"/setups/{person.setup_id}/values/size")["fields"]
    return {row["name"]: float(row["value"].replace("\N{MINUS SIGN}", "-")) for row in form if row["value"]}


def test_shrinkage_is_a_scale_and_nothing_else(printer: Person) -> None:
    """0.4 % short everywhere, contours right: the scale is set, the contours stay."""
    run = read_all(printer, start(printer).json(), *sizes(0.996, 0.0, 0.0))
    assert run["result"]["title"] == "Set 100.40 %"
    assert all("leave it" in remark for remark in run["result"]["remarks"][:2])
    assert printer.decide(run, "apply").status_code == 201
    assert values(printer) == {"size_scale": 100.4}
    row = next(row for row in printer.get(f"/setups/{printer.setup_id}/bench")["steps"] if row["step"] == "size")
    assert row["standing"] == "fresh"


def test_fat_walls_are_contours_and_no_scale(printer: Person) -> None:
    """0.2 mm too large outside and 0.2 too small inside, whatever the size: a tenth a side, and no scale."""
    run = read_all(printer, start(printer).json(), *sizes(1.0, 0.2, -0.2))
    assert run["result"]["title"] == "Leave the scale, set the contours"
    assert any(
        "too wide would make +0.20" in one.replace("\N{NO-BREAK SPACE}", " ") for one in run["result"]["remarks"]
    )
    printer.decide(run, "apply")
    found = values(printer)
    assert (found["size_scale"], round(found["size_outer"], 2), round(found["size_inner"], 2)) == (100.0, -0.1, -0.1)


def test_a_piece_that_is_right_is_left_alone(printer: Person) -> None:
    """Within a few hundredths everywhere."""
    run = read_all(printer, start(printer).json(), *sizes(1.0001, 0.01, -0.01))
    assert (run["result"]["verdict"], run["result"]["title"]) == ("keep", "Leave it alone")


def test_what_is_no_size_of_the_piece_is_asked_about(printer: Person) -> None:
    """A window read as the step before it; and the file turns with the axis."""
    run = start(printer, axis="y").json()
    assert codes(printer.read(run["id"], "80"))["typed"] in {"far_off", "impossible"}
    piece = printer.get(f"/runs/{run['id']}/method")["piece"]
    assert piece["depth_mm"] > piece["width_mm"]
