"""A support ladder: taken off by hand, looked at from below, and the gap that is set."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import Person
from tests.server.test_fit_run import printer
from tests.server.test_pressure_run import rate
from tests.server.test_printed_runs import codes, sized
from ubrex.core.gcode.pieces._supports import BAY_MM, UNDER_MM

__all__ = ["printer", "sized"]

LAYER_MM = 0.2


def start(person: Person, **typed: str) -> Any:
    """The response to a ladder started: five bays of 1 to 5 layers unless typed otherwise."""
    methods = person.get(f"/setups/{person.setup_id}/starts/size")["methods"]
    form = next(row for row in methods if row["method"] == "supports")
    values = {field["name"]: field["value"] for field in form["fields"]} | {"layer": str(LAYER_MM)} | typed
    return person.post("/runs", {"setup_id": person.setup_id, "step": "size", "method": "supports", "values": values})


def said(person: Person, releases: tuple[int, ...], undersides: tuple[int, ...], **typed: str) -> Any:
    """A run with its answers, tightest first."""
    run = rate(person, start(person, **typed).json(), "release", *releases)
    return rate(person, run, "underside", *undersides)


def spaced(text: str) -> str:
    """Text with plain spaces."""
    return text.replace("\N{NO-BREAK SPACE}", " ")


def test_the_gap_that_comes_off_and_is_smooth_is_typed_into_the_slicing_program(printer: Person) -> None:
    """Two layers come off and look smooth; what is wider looks worse."""
    run = said(printer, (0, 3, 3, 3, 3), (4, 4, 2, 1, 0))
    assert spaced(run["result"]["title"]) == "Gap 0.40 mm"
    assert "Comes off by hand" in run["result"]["sentence"]
    decided = printer.decide(run, "apply")
    assert decided.status_code == 201, decided.text
    lines = {line["kind"]: line for line in printer.get(f"/setups/{printer.setup_id}/bench")["tonight"]}
    assert lines["support_gap"]["value"]["text"] == "0.40"
    row = next(row for row in printer.get(f"/setups/{printer.setup_id}/bench")["steps"] if row["step"] == "size")
    assert row["standing"] == "never"


@pytest.mark.parametrize(
    ("releases", "undersides", "typed", "title", "next_run"),
    [
        ((0, 0, 0, 1, 0), (4, 4, 4, 4, 4), {}, "None comes off: a wider gap", {"low": "4"}),
        ((2, 3, 3, 3, 3), (1, 1, 0, 0, 0), {"low": "4"}, "All come off: a tighter gap is smoother", {"low": "1"}),
        ((2, 3, 3, 3, 3), (1, 1, 0, 0, 0), {"low": "0"}, "Rough even where it touches", {}),
        ((0, 0, 1, 2, 3), (2, 2, 1, 0, 0), {}, "Comes off only where it is rough", {}),
        ((3, 3, 0, 0, 3), (3, 3, 3, 3, 3), {}, "These answers contradict each other", {}),
    ],
)
def test_what_a_ladder_cannot_settle_it_says_with_what_to_do(
    printer: Person, releases: tuple[int, ...], undersides: tuple[int, ...], typed: dict[str, str], title: str,
    next_run: dict[str, str],
) -> None:  # fmt: skip
    """Fused all along, loose all along, smooth only where it is fused, and an order that cannot be."""
    result = said(printer, releases, undersides, **typed)["result"]
    assert (spaced(result["title"]), result["next_run"]) == (title, next_run)
    assert result["recommended"] is False


def test_a_second_hand_is_not_counted_and_not_blamed(printer: Person) -> None:
    """Whoever tried first is heard; supports come off once. Bays that say their gap cannot have changed places."""
    run = said(printer, (0, 3, 3, 3, 3), (4, 4, 2, 1, 0))
    printer.id = printer.post("/people", {"name": "Wim"}).json()["id"]
    run = rate(printer, run, "release", 3, 0, 0, 0, 0)
    assert spaced(run["result"]["title"]) == "Gap 0.40 mm"
    cells = [cell for band in run["body"]["tower"]["bands"] for cell in band["cells"]]
    assert not any(cell["odd"] for cell in cells)
    assert "swap" not in run["actions"]
    assert printer.patch(f"/runs/{run['id']}", {"swap": [0, 1]}, version=run["version"]).status_code in {409, 422}


def test_each_support_ends_its_layers_below_the_roof(printer: Person) -> None:
    """As the file prints it: how high lines begin and end in the middle of each bay, up to the roof at 6 mm."""
    run = start(printer, low="0", count="4").json()
    text = printer.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    points = printer.get(f"/runs/{run['id']}/method")["piece"]["outlines"][0]["points"]
    left, right = (pick(at["x"] for at in points) for pick in (min, max))
    rib = (right - left - 4 * BAY_MM) / 5
    middles = [left + rib + BAY_MM / 2 + place * (BAY_MM + rib) for place in range(4)]
    z, tops = 0.0, [0.0] * 4
    for line in text.splitlines():
        parts = {word[0]: word[1:] for word in line.partition(";")[0].split()} if line.startswith("G1") else {}
        z = float(parts.get("Z", z))
        if "E" in parts and "X" in parts and z <= UNDER_MM + 1e-6:
            for place, middle in enumerate(middles):
                if abs(float(parts["X"]) - middle) < BAY_MM / 2:
                    tops[place] = max(tops[place], z)
    assert tops == pytest.approx([6.0, 5.8, 5.6, 5.4])


def test_what_makes_no_ladder_is_refused_at_its_field(printer: Person) -> None:
    """Three bays, half a layer, more than a bed holds."""
    assert codes(start(printer, count="3")) == {"count": "too_few"}
    assert codes(start(printer, low="0.5")) == {"low": "not_whole"}
    assert codes(start(printer, low="30")) == {"low": "out_of_range"}
