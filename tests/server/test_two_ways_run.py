"""Two ways against each other: printed by turns, rated blind, and changed only where one is shown to be better."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person
from tests.server.test_pressure_run import rate
from tests.server.test_printed_runs import codes, sized
from tests.server.test_profile import type_in

__all__ = ["sized"]


@pytest.fixture
def printer(sized: Person) -> Person:
    """A machine of known size, and numbers to print with."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    type_in(sized, {"nozzle": "210", "nozzle_first": "210", "bed": "60", "bed_first": "60"})
    return sized


def start(person: Person, **typed: str) -> Any:
    """The response to a comparison started."""
    methods = person.get(f"/setups/{person.setup_id}/starts/retraction")["methods"]
    form = next(row for row in methods if row["method"] == "two_ways")
    values = {field["name"]: field["value"] for field in form["fields"]} | typed
    body = {"setup_id": person.setup_id, "step": "retraction", "method": "two_ways", "values": values}
    return person.post("/runs", body)


def test_nothing_says_which_is_which_before_it_is_decided(printer: Person) -> None:
    """Bands carry their numbers; decided, they say what they were, and the value stands on record."""
    run = start(printer, seam_gap_a="0", seam_gap_b="0.1", rounds="2").json()
    assert [band["text"] for band in run["body"]["tower"]["bands"]] == list("87654321")
    assert "swap" not in run["actions"]
    run = rate(printer, run, "seam", 1, 3, 4, 1, 1, 4, 3, 2)
    result = run["result"]
    assert (result["title"].replace("\N{NO-BREAK SPACE}", " "), result["verdict"]) == ("0.100 mm is better", "apply")
    assert not any(band["inside"] or band["offered"] for band in run["body"]["tower"]["bands"])
    assert printer.decide(run, "apply").status_code == 201
    ended = printer.get(f"/runs/{run['id']}")
    assert ended["body"]["tower"]["bands"][-1]["text"] == "1: 0.000"
    lines = {row["kind"]: row["text"] for row in printer.get(f"/setups/{printer.setup_id}/bench")["tonight"]}
    assert lines["seam_gap"] == "0.100"


def test_what_cannot_be_told_changes_nothing(printer: Person) -> None:
    """Alike as far as one person sees: repeated, not applied; the cheaper one is named."""
    run = start(printer, of="z_hop", z_hop_a="0.4", z_hop_b="0", rounds="3").json()
    run = rate(printer, run, "marks", 3, 3, 3, 3, 3, 3, 3, 3, 3, 3, 3, 3)
    result = run["result"]
    assert (result["title"], result["verdict"], result["proposal"]) == ("Cannot tell", "repeat", "0.00")


def test_a_layer_takes_its_time_and_the_shorter_one_is_kept_where_it_does_no_harm(printer: Person) -> None:
    """Each layer of a band is printed so slowly that it takes its seconds; faster than the machine goes is no way."""
    asked = {"of": "layer_time", "layer_time_a": "4", "layer_time_b": "12", "rounds": "1"}
    run = start(printer, **asked).json()
    text = printer.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    feeds = {
        float(word[1:]) / 60 for line in text.splitlines() if "E" in line for word in line.split() if word[0] == "F"
    }
    slow, fast = (sorted(feed for feed in feeds if low < feed < high) for low, high in ((4, 11), (13, 29)))
    assert slow
    assert fast
    assert max(fast) / max(slow) == pytest.approx(3, rel=0.02)
    run = rate(printer, run, "cooling", 1, 4, 4, 1)
    assert run["result"]["title"].replace("\N{NO-BREAK SPACE}", " ") == "12 s is better"
    assert printer.decide(run, "apply").status_code == 201
    lines = {row["kind"]: row["text"] for row in printer.get(f"/setups/{printer.setup_id}/bench")["tonight"]}
    assert lines["layer_time"] == "12"
    refused = start(printer, **asked | {"layer_time_a": "1", "layer_time_b": "2"})
    assert "takes" in refused.json()["fields"][0]["message"]
    assert codes(refused) == {"layer_time_b": "out_of_range"}


def test_a_travel_goes_round_where_it_may_and_straight_where_it_may_not(printer: Person) -> None:
    """Bands of the one way have travels past the front of the piece; both ways on one side of its way round are refused."""
    run = start(printer, of="detour", detour_a="0", detour_b="100", rounds="1").json()
    text = printer.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    front = min(at["y"] for at in printer.get(f"/runs/{run['id']}/method")["piece"]["outlines"][0]["points"])
    z, heights = 0.0, set()
    for line in text.splitlines():
        parts = (
            {word[0]: float(word[1:]) for word in line.partition(";")[0].split()[1:]}
            if line[:3] in {"G0 ", "G1 "}
            else {}
        )
        z = parts.get("Z", z)
        if "Y" in parts and "E" not in parts and abs(parts["Y"] - front) < 1:
            heights.add(round(z))
    # A base of 2 mm, then bands of 5 mm: A B B A.
    assert min(heights) >= 7
    assert max(heights) <= 18
    assert heights >= {8, 10, 12, 14, 16}
    refused = start(printer, of="detour", detour_a="0", detour_b="20")
    assert codes(refused) == {"detour_b": "out_of_range"}


def test_a_result_in_between_would_be_a_look_at_which_is_which(printer: Person) -> None:
    """It comes with the last band."""
    run = start(printer, rounds="1").json()
    assert rate(printer, run, "seam", 1, 4, 4)["result"] is None
    assert rate(printer, run, "seam", 1, 4, 4, 1)["result"] is not None


def test_the_line_ends_so_far_before_its_beginning(printer: Person) -> None:
    """Each band of the file by its own gap; the hop likewise. Ways that are the same are refused."""
    assert codes(start(printer, seam_gap_a="0.1", seam_gap_b="0.1")) == {"seam_gap_b": "the_same"}
    assert codes(start(printer, rounds="9")) == {"rounds": "out_of_range"}
    run = start(printer, of="z_hop", z_hop_a="0.1", z_hop_b="0.6", rounds="1").json()
    text = printer.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    heights = sorted({float(word[1:]) for line in text.splitlines() for word in line.split() if word[:1] == "Z"})
    layers = {round(0.24 + 0.2 * layer, 3) for layer in range(200)} | {round(0.2 * layer, 3) for layer in range(200)}
    assert any(round(height - 0.6, 3) in layers for height in heights)
