"""A number lands where it was asked for when it was typed, whoever measured in between; lists say where theirs belong."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person
from tests.server.test_printed_runs import codes, read_all, sized, start

__all__ = ["sized"]


def places(run: Any) -> dict[str, float]:
    """What counts, by place."""
    return {row["place"]: row["number"] for row in run["readings"] if row["struck"] is None}


def paste(person: Person, run: Any, text: str) -> Any:
    """The response to a list."""
    body = {"text": text, "taken_at": person.clock.now.isoformat()}
    return person.post(f"/runs/{run['id']}/reading-lists", body)


def look(person: Person, run: Any, text: str) -> Any:
    """A list before it is taken."""
    answer = person.post(
        f"/runs/{run['id']}/reading-list-previews", {"text": text, "taken_at": person.clock.now.isoformat()}
    )
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_a_reading_that_comes_late_goes_to_the_place_it_was_asked_for(sized: Person) -> None:
    """The phone was asked for A and B while it was away; the laptop read A meanwhile."""
    run = start(sized, "flow", "box").json()
    asked = [row["place"] for row in run["entry"]["ahead"]][:2]
    assert [row["label"] for row in run["entry"]["ahead"]][:2] == ["A1", "B1"]
    read_all(sized, run, "0.47")
    late = sized.read(run["id"], "0.41", place=asked[0])
    assert codes(late) == {"typed": "place_taken"}
    said = late.json()["fields"][0]["message"]
    assert "A1 has been read meanwhile: 0.470, by Ines." in said
    assert "If 0.41 was read at B1" in said
    sized.read(run["id"], "0.46", place=run["entry"]["ahead"][2]["place"])
    run = sized.read(run["id"], "0.42", place=asked[1]).json()
    assert places(run) == {"A1": 0.47, "B1": 0.42, "C1": 0.46}
    assert run["entry"]["ahead"][0]["label"] == "D1"
    assert codes(sized.read(run["id"], "0.42", place="9Z9")) == {"place": "no_such_place"}


def test_what_is_taken_back_is_what_the_screen_showed(sized: Person) -> None:
    """Not whatever somebody else read last; and a list goes back as one."""
    run = read_all(sized, start(sized, "flow", "box").json(), "0.47", "0.46")
    shown = run["readings"][0]["id"]
    run = sized.post(f"/runs/{run['id']}/taken-back", {"readings": [shown]}).json()
    assert places(run) == {"B1": 0.46}
    again = sized.post(f"/runs/{run['id']}/taken-back", {"readings": [shown]})
    assert again.json()["code"] == "struck_already"
    before = {row["id"] for row in run["readings"]}
    run = paste(sized, run, "0.45\n0.44").json()
    added = [row["id"] for row in run["readings"] if row["id"] not in before]
    assert places(sized.post(f"/runs/{run['id']}/taken-back", {"readings": added}).json()) == {"B1": 0.46}


@pytest.mark.parametrize(
    ("text", "read"),
    [
        ("0.46\t0.45\t0.47", {"A1": 0.46, "B1": 0.45, "C1": 0.47}),
        ("0.46 0.45 0.47", {"A1": 0.46, "B1": 0.45, "C1": 0.47}),
        ("C;0,46\nA;0,45", {"C1": 0.46, "A1": 0.45}),
        ("B2 0.46\nB1 0.45", {"B2": 0.46, "B1": 0.45}),
        ("wall B: 0.46 mm", {"B1": 0.46}),
        ("A\tB\tC\tD\n0.46\t0.45\t0.44\t0.43\n0.45", {"A1": 0.46, "B1": 0.45, "C1": 0.44, "D1": 0.43, "A2": 0.45}),
        ("1\t0.46\n2\t0.45\n3\t0.47", {"A1": 0.46, "B1": 0.45, "C1": 0.47}),
        ("B,0.46,0.45", {"B1": 0.46, "B2": 0.45}),
        ("2026-11-29;Ines;0,46", {"A1": 0.46}),
    ],
)
def test_a_list_is_read_as_it_was_meant_and_shown_before(sized: Person, text: str, read: dict[str, float]) -> None:
    """Rows of several values, names of walls, columns, line numbers, notes beside; the preview is what then happens."""
    run = start(sized, "flow", "box").json()
    shown = look(sized, run, text)
    assert {row["place"]: float(row["text"]) for row in shown["rows"]} == read
    assert all(row["problem"] == "" for row in shown["rows"])
    assert sized.get(f"/runs/{run['id']}")["readings"] == []
    assert places(paste(sized, run, text).json()) == read


def test_a_preview_shows_each_line_that_is_odd(sized: Person) -> None:
    """Where it stands; what can be taken all the same is said to be."""
    run = start(sized, "flow", "box").json()
    shown = look(sized, run, "0.46\n4.6\n0.45\n46 mm")
    assert [row["line"] for row in shown["rows"] if row["problem"]] == [2, 4]
    assert not shown["confirmable"]
    answer = sized.post(
        f"/runs/{run['id']}/reading-list-previews", {"text": "owl", "taken_at": sized.clock.now.isoformat()}
    )
    assert codes(answer) == {"text": "empty"}
    full = paste(sized, run, "A;0.46;0.45;0.46;0.45;0.46;0.45;0.46")
    assert codes(full) == {"text": "no_place_left"}
    assert "Line 1" in full.json()["fields"][0]["message"]


def test_numbers_of_patches_are_places_only_beside_a_reading(sized: Person) -> None:
    """Nine numbers are nine patches; "5; 0.21" is the fifth."""
    sized.setup_id = sized.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    run = start(sized, "z_offset", "patches").json()
    run = paste(sized, run, "5; 0.21\n2; 0.2").json()
    assert places(run) == {"5": 0.21, "2": 0.2}
    run = paste(sized, run, "0.22\n0.19").json()
    assert places(run) == {"5": 0.21, "2": 0.2, "1": 0.22, "3": 0.19}
