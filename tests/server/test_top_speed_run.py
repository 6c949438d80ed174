"""A feed ladder: what the hotend melts, from the masses of the same volume fed faster and faster."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import Person
from tests.server.test_inventory import edit
from tests.server.test_printed_runs import codes, read_all
from tests.server.test_profile import type_in

STEADY = ("0.992", "0.994", "0.991", "0.993", "0.992", "0.994", "0.991", "0.992")
LOSING = (*STEADY[:5], "0.960", "0.890", "0.800")


@pytest.fixture
def weigher(ines: Person) -> Person:
    """Somebody with a scale of a milligram, and a nozzle temperature on record."""
    scale = {"name": "Scale", "kind": "scale", "resolution": "0.001", "max_permissible_error": "0.002"}
    ines.scale = ines.post("/instruments", {"values": scale}).json()["id"]  # type: ignore[attr-defined]
    type_in(ines, {"nozzle": "205", "line_width": "0.45", "layer": "0.2"})
    return ines


def start(person: Any, **typed: str) -> Any:
    """The response to a ladder of 2, 4 to 16 mm³/s started."""
    values = {"first": "2", "step": "2", "count": "8", "volume": "800", "nozzle": "205"} | typed
    body = {"setup_id": person.setup_id, "step": "top_speed", "method": "melt_ladder", "instrument_id": person.scale}
    return person.post("/runs", body | {"values": values})


def test_where_less_comes_than_was_fed_is_the_limit_less_a_tenth(weigher: Person) -> None:
    """Masses fall from 12 mm³/s on: what is safe lies below, and says how fast each kind of line may go."""
    run = read_all(weigher, start(weigher).json(), *LOSING)
    assert run["result"]["verdict"] == "apply"
    safe = float(run["result"]["proposal"])
    assert 8 <= safe <= 11
    assert run["result"]["title"] == f"Set {safe:.1f} mm³/s"
    marks = {mark["text"]: mark["x"] for mark in run["curve"]["marks"]}
    assert marks["safe"] == safe < marks["2 % less"]
    assert "outer walls up to" in run["result"]["remarks"][0]
    assert weigher.decide(run, "apply").status_code == 201
    row = next(row for row in weigher.get(f"/setups/{weigher.setup_id}/bench")["steps"] if row["step"] == "top_speed")
    assert (row["value"]["number"], row["standing"]) == (safe, "fresh")


def test_what_more_speed_would_take_is_said_and_where_it_is_not_heat(weigher: Person) -> None:
    """Within the label a few degrees; far beyond it nothing; and what short lines never reach."""
    edit(weigher, "machine", 1, acceleration_mm_s2="1000", max_speed_mm_s="200")
    edit(weigher, "filament", 1, label="200-230")
    type_in(weigher, {"speed_outer": "130"})
    run = read_all(weigher, start(weigher).json(), *LOSING)
    fast, hotter, short = (remark.replace("\N{NO-BREAK SPACE}", " ") for remark in run["result"]["remarks"])
    speed = int(float(run["result"]["proposal"]) / (0.45 * 0.2))
    assert f"outer walls up to {speed}," in fast
    assert hotter.startswith("Speeds of now need 11.7 mm³/s: about ")
    assert "this ladder again" in hotter
    assert short.startswith(f"On lines shorter than {speed**2 / 1000:.0f} mm it never gets to {speed} mm/s")
    edit(weigher, "filament", 1, label="200-206")
    edit(weigher, "machine", 1, acceleration_mm_s2="1000", max_speed_mm_s="60")
    fast, hotter, _ = weigher.get(f"/runs/{run['id']}")["result"]["remarks"]
    assert "outer walls up to 60," in fast
    assert "no room to go hotter" in hotter


def test_no_loss_is_said_to_be_safe_only_as_far_as_it_was_fed(weigher: Person) -> None:
    """Nine tenths of the last step."""
    run = read_all(weigher, start(weigher).json(), *STEADY)
    assert run["result"]["title"] == "Set 14.4 mm³/s"
    assert "as far as tested" in run["result"]["sentence"]


def test_the_file_feeds_each_step_at_its_speed_and_moves_nothing(weigher: Person) -> None:
    """800 mm³ are 332.6 mm of 1.75 mm: at 2 mm³/s 0.83 mm a second, at 16 eight times that."""
    run = start(weigher).json()
    text = weigher.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    fed = [line for line in text.splitlines() if line.startswith("G1 E")]
    assert len(fed) == 8
    assert (fed[0], fed[-1]) == ("G1 E332.60135 F50", "G1 E332.60135 F399")
    assert "G28" not in text
    assert not [line for line in text.splitlines() if line.startswith(("G0", "G1 X"))]


def test_faster_than_hotends_melt_is_not_fed(weigher: Person) -> None:
    """Half more than is usual for the family is the end; fewer than six steps tell nothing."""
    assert codes(start(weigher, count="20")) == {"count": "too_fast"}
    assert codes(start(weigher, count="4")) == {"count": "too_few"}
    assert codes(start(weigher, nozzle="290")) == {"nozzle": "out_of_range"}
