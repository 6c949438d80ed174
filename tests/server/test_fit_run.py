"""A fit ladder: each hole is tried with the peg, and the gap that goes as wanted is designed."""

from __future__ import annotations

import io
import math
from typing import Any

import pytest
import trimesh

from tests.server.conftest import MACHINE, Person
from tests.server.test_pressure_run import rate
from tests.server.test_printed_runs import codes, read_all, sized
from tests.server.test_profile import type_in
from tests.server.test_size_run import sizes
from tests.server.test_size_run import start as start_size

__all__ = ["sized"]

SNUG_AT_20 = (0, 0, 1, 2, 3, 3, 3, 3, 3)
"""Answers of nine holes from 0.10 to 0.50 mm, tightest first."""


@pytest.fixture
def printer(sized: Person) -> Person:
    """A machine of known size, and numbers to print with."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    type_in(sized, {"nozzle": "210", "nozzle_first": "210", "bed": "60", "bed_first": "60"})
    return sized


def start(person: Person, **typed: str) -> Any:
    """The response to a ladder started."""
    methods = person.get(f"/setups/{person.setup_id}/starts/size")["methods"]
    form = next(row for row in methods if row["method"] == "fit")
    values = {field["name"]: field["value"] for field in form["fields"]} | {"wants": "snug"} | typed
    return person.post("/runs", {"setup_id": person.setup_id, "step": "size", "method": "fit", "values": values})


def gaps(person: Person) -> dict[str, float]:
    """The gaps on record."""
    form = person.get(f"/setups/{person.setup_id}/values/size")["fields"]
    return {row["name"]: float(row["value"]) for row in form if row["name"].startswith("fit") and row["value"]}


def test_the_snug_gap_is_a_printed_one_and_the_free_one_comes_with_it(printer: Person) -> None:
    """0.25 was snug; both gaps are on record after it is applied, to be drawn and not typed anywhere."""
    run = rate(printer, start(printer).json(), "fit", *SNUG_AT_20)
    assert run["result"]["title"].replace("\N{NO-BREAK SPACE}", " ") == "Design 0.25 mm: snug"
    decided = printer.decide(run, "apply")
    assert decided.status_code == 201, decided.text
    found = gaps(printer)
    assert found["fit_snug"] == 0.25
    assert found["fit_free"] in {0.3, 0.35, 0.4}
    set_now = decided.json()["decision"]["to_set"]
    assert any("For the next part you draw" in row["sentence"] for row in set_now)
    kinds = {line["kind"] for line in printer.get(f"/setups/{printer.setup_id}/bench")["tonight"]}
    assert "fit_snug" not in kinds
    row = next(row for row in printer.get(f"/setups/{printer.setup_id}/bench")["steps"] if row["step"] == "size")
    assert (row["standing"], row["value"]["text"]) == ("fresh", "snug at 0.25")


@pytest.mark.parametrize(
    ("answers", "wants", "title", "verdict"),
    [
        ((0, 0, 0, 1, 1, 1, 0, 1, 1), "snug", "Snug lies wider than this ladder", "repeat"),
        ((3, 3, 3, 3, 3, 3, 3, 3, 3), "snug", "Snug lies tighter than this ladder", "repeat"),
        ((3, 3, 3, 3, 3, 3, 3, 3, 3), "free", "Design 0.10 mm: the smallest already runs free", "repeat"),
        ((2, 2, 2, 2, 2, 2, 2, 2, 2), "free", "Free lies wider than this ladder", "repeat"),
        ((3, 3, 0, 3, 0, 3, 0, 3, 3), "snug", "These answers contradict each other", "refuse"),
    ],
)
def test_what_a_ladder_cannot_say_it_does_not(
    printer: Person, answers: tuple[int, ...], wants: str, title: str, verdict: str
) -> None:
    """All too tight, all too loose, for what they are for; and wider holes that went tighter."""
    run = rate(printer, start(printer, wants=wants).json(), "fit", *answers)
    result = run["result"]
    assert (result["title"].replace("\N{NO-BREAK SPACE}", " "), result["verdict"]) == (title, verdict)


def test_an_answer_freer_than_free_is_refused(printer: Person) -> None:
    """The scale ends at 3; nothing is said of four holes before four were tried."""
    run = start(printer).json()
    at = printer.clock.now.isoformat()
    refused = printer.post(f"/runs/{run['id']}/ratings", {"band": 0, "key": "fit", "rating": 4, "taken_at": at})
    assert refused.json()["fields"][0]["message"] == "A rating is 0 to 3."
    assert rate(printer, run, "fit", 0, 1, 2)["result"] is None


def test_holes_are_printed_at_their_gaps_and_the_peg_beside_them(printer: Person) -> None:
    """The line along each hole leaves peg and gap free; a rod that is named takes the peg away."""
    own = start(printer, low="0.1", high="0.4", count="4").json()
    assert printer.post(f"/runs/{own['id']}/leave", version=own["version"]).status_code == 201
    rod = start(printer, low="0.1", high="0.4", count="4", mate="steel rod").json()
    text, bare = (printer.client.get(f"/api/v1/runs/{run['id']}/files/piece").text for run in (own, rod))
    assert len(bare) < len(text)
    circles = [line for line in text.splitlines() if line.startswith("G1 X")]
    assert len(circles) > 4 * 48
    plan = printer.get(f"/runs/{own['id']}/method")["piece"]
    widths = [
        round(max(at["x"] for at in row["points"]) - min(at["x"] for at in row["points"]), 2)
        for row in plan["outlines"]
        if row["bold"]
    ]
    assert widths == pytest.approx([8.1, 8.2, 8.3, 8.4, 8.0], abs=0.011)


@pytest.mark.parametrize("form", ["stl", "3mf"])
def test_the_ladder_goes_along_as_a_body_with_its_holes(printer: Person, form: str) -> None:
    """Closed, so many holes, each as wide as peg and gap; the peg beside them, unless a rod is named."""
    run = start(printer, low="0.1", high="0.4", count="4").json()
    content = printer.client.get(f"/api/v1/runs/{run['id']}/files/{form}").content
    found = trimesh.load(io.BytesIO(content), file_type=form, force="mesh")
    assert isinstance(found, trimesh.Trimesh)
    found.merge_vertices()
    parts = found.split(only_watertight=False)
    assert all(part.is_watertight and part.volume > 0 for part in parts)
    slab = max(parts, key=lambda part: part.volume)
    assert slab.euler_number == 2 - 2 * 4
    width, depth, height = slab.extents
    area = sum(math.pi * ((8 + gap) / 2) ** 2 for gap in (0.1, 0.2, 0.3, 0.4))
    assert slab.volume == pytest.approx((width * depth - area) * height, rel=2e-3)


def test_the_part_of_a_gap_that_contours_would_take_is_said_once(printer: Person) -> None:
    """A size piece found lines too fat by 0.2 mm: the ladder says what remains, and never both in full."""
    sized_run = read_all(printer, start_size(printer).json(), *sizes(1.0, 0.1, -0.1))
    assert printer.decide(sized_run, "apply").status_code == 201
    run = rate(printer, start(printer).json(), "fit", 0, 0, 0, 0, 1, 2, 3, 3, 3)
    remark = run["result"]["remarks"][0].replace("\N{NO-BREAK SPACE}", " ")
    assert remark.startswith(f"0.20 mm of that is line width and small holes, by run {sized_run['id']}.")
    assert "design 0.15 mm instead" in remark


def test_gaps_that_make_no_ladder_are_refused_at_their_field(printer: Person) -> None:
    """Too few, the wrong way round, closer than can be written, a peg of a hand's width, more than the bed holds."""
    assert codes(start(printer, count="3")) == {"count": "too_few"}
    assert codes(start(printer, low="0.5", high="0.1")) == {"high": "upside_down"}
    assert codes(start(printer, low="0.1", high="0.12", count="9")) == {"count": "too_many"}
    assert codes(start(printer, peg="80")) == {"peg": "out_of_range"}
    assert start(printer, peg="40", count="12").status_code == 422
