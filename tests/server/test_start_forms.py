"""Start forms: filled in with what a setup has, and held to the same limits in the same words whatever is printed."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import Person
from tests.server.test_inventory import edit

PRINTED = {"box": "flow", "patches": "z_offset", "temperature": "temperature", "retraction": "retraction"}
"""Ways whose piece is printed on a setup that does not foam, and the step of each."""


def forms(person: Person, step: str) -> dict[str, dict[str, Any]]:
    """Fields of each way to go through a step, by name."""
    ways = person.get(f"/setups/{person.setup_id}/starts/{step}")["methods"]
    return {way["method"]: {row["name"]: row for row in way["fields"]} for way in ways}


def filled(person: Person, method: str) -> dict[str, str]:
    """A form as it is offered; an offset that nobody has recorded is read off the machine."""
    offered = {name: row["value"] for name, row in forms(person, PRINTED[method])[method].items()}
    return offered | ({"current": "-1.42"} if method == "patches" and offered["current"] == "" else {})


def refused(person: Person, method: str, **typed: str) -> dict[str, str]:
    """What is said at each field of a form with some of it typed over."""
    body = {"method": method, "values": filled(person, method) | typed}
    answer = person.post(f"/setups/{person.setup_id}/pieces", body)
    assert answer.status_code == 422, answer.text
    return {row["field"]: row["message"] for row in answer.json()["fields"]}


@pytest.mark.parametrize("method", PRINTED)
def test_a_form_can_be_sent_as_it_is_offered(labelled: Person, method: str) -> None:
    """Whoever changes nothing sees a piece, in millimetres, minutes and grams."""
    body = {"method": method, "values": filled(labelled, method)}
    piece = labelled.post(f"/setups/{labelled.setup_id}/pieces", body)
    assert piece.status_code == 200, piece.text
    assert piece.json()["refused"] == ""
    assert piece.json()["height_mm"] > 0


@pytest.mark.parametrize("method", PRINTED)
def test_a_form_begins_with_what_the_setup_has(labelled: Person, method: str) -> None:
    """Line, layer, heat and flow typed on the bench stand in every form that asks for them."""
    own = {"line_width": "0.46", "layer": "0.2", "layer_first": "0.2", "nozzle": "212", "flow": "97.5"}
    rows = own
    assert labelled.post(f"/setups/{labelled.setup_id}/values", {"values": rows}).status_code == 201
    shown = filled(labelled, method)
    assert (shown["line_width"], shown["layer"]) == ("0.46", "0.2")
    assert (shown.get("flow", "97.5"), shown.get("nozzle", "212")) == ("97.5", "212")


@pytest.mark.parametrize("method", PRINTED)
@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({"bed": "81"}, "never above 80 °C: the stated maximum of the bed"),
        ({"line_width": "0.6"}, "a bore of 0.4 mm lays lines of 0.36 to 0.5 mm"),
        ({"layer": "0.33"}, "a bore of 0.4 mm lays layers of 0.06 to 0.32 mm"),
    ],
)
def test_what_a_setup_does_not_allow_is_refused_at_its_field(
    labelled: Person, method: str, typed: dict[str, str], said: str
) -> None:
    """The same limit in the same words, whichever piece asks."""
    (name,) = typed
    assert said in refused(labelled, method, **typed)[name]


@pytest.mark.parametrize(
    ("method", "name"), [("box", "nozzle"), ("patches", "nozzle"), ("retraction", "nozzle"), ("temperature", "hottest")]
)
@pytest.mark.parametrize("typed", ["241", "120", "466 F"])
def test_no_piece_is_printed_hotter_than_the_liner_nor_colder_than_filament_flows(
    labelled: Person, method: str, name: str, typed: str
) -> None:
    """241 and 466 F are beyond 240; at 120 nothing comes out but the gear's teeth marks."""
    said = refused(labelled, method, **{name: typed})[name]
    assert "never above 240 °C: the limit of its liner" in said


@pytest.mark.parametrize("method", PRINTED)
def test_a_word_where_a_number_belongs_is_said_and_everything_wrong_is_said_at_once(
    labelled: Person, method: str
) -> None:
    """Nobody has to send a form three times to learn of three slips."""
    found = refused(labelled, method, line_width="wide", layer="", bed="hot")
    assert set(found) >= {"line_width", "layer", "bed"}


def test_a_box_sliced_elsewhere_needs_no_size_of_the_machine_but_all_else_does(ines: Person) -> None:
    """Where another program places it, only heat and line are held to anything."""
    sliced = {"own": "no", "walls": "two", "spacing": "0.43"}
    for method in PRINTED:
        body = {"method": method, "values": filled(ines, "box") | filled_for(method) | sliced}
        answer = ines.post(f"/setups/{ines.setup_id}/pieces", body)
        assert (answer.status_code == 200) == (method == "box"), (method, answer.text)
        if method != "box":
            assert "does not know how large" in answer.json()["detail"]
    assert edit(ines, "machine", 1, width_mm="220", depth_mm="220", height_mm="250").status_code == 200
    body = {"method": "patches", "values": filled(ines, "patches")}
    assert ines.post(f"/setups/{ines.setup_id}/pieces", body).status_code == 200


def filled_for(method: str) -> dict[str, str]:
    """The fields that a form has beside those of a box."""
    return {
        "temperature": {"coldest": "200", "hottest": "220", "step": "5", "speed": "40"},
        "retraction": {"shortest": "1", "longest": "6", "count": "6", "speed": "40"},
    }.get(method, {})


def test_a_way_to_measure_the_same_is_remembered_and_what_foams_begins_with_its_own(labelled: Person) -> None:
    """E-steps are measured as this person did last; a tower rated before is no reason to rate foam."""

    def usual(step: str) -> str:
        return str(labelled.get(f"/setups/{labelled.setup_id}/starts/{step}")["method"])

    assert usual("e_steps") == "open_air"
    run = labelled.start(method="marked", mark="120")
    assert labelled.post(f"/runs/{run['id']}/leave", version=run["version"]).status_code == 201
    assert usual("e_steps") == "marked"
    values = filled(labelled, "temperature")
    body = {"setup_id": labelled.setup_id, "step": "temperature", "method": "temperature", "values": values}
    run = labelled.post("/runs", body).json()
    assert labelled.post(f"/runs/{run['id']}/leave", version=run["version"]).status_code == 201
    assert edit(labelled, "filament", 1, family="foaming_pla", label="200-230").status_code == 200
    assert usual("temperature") == "foaming"
    assert usual("flow") == "box"
