"""Towers and what people disagree on: sides taken, what may be kept, what the record says, the ends of what is allowed."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import Person
from tests.server.test_inventory import edit
from tests.server.test_profile import type_in
from tests.server.test_towers import all_rated, attach, begin, picture, rate_all, rated


def take(person: Person, school: str, side: str) -> None:
    """A side taken."""
    answer = person.client.put(f"/api/v1/schools/{school}", json={"side": side}, headers=person.headers())
    assert answer.status_code == 200, answer.text


def fields_of(person: Person, step: str, method: str) -> dict[str, str]:
    """What the start form of a way offers to whoever asks."""
    path = f"/api/v1/setups/{person.setup_id}/starts/{step}"
    form = person.client.get(path, headers=person.headers()).json()
    (way,) = [row for row in form["methods"] if row["method"] == method]
    return {row["name"]: row["value"] for row in way["fields"]}


def test_who_follows_the_spool_is_not_moved_by_the_heat_check(labelled: Person) -> None:
    """The hotend shows 4 too much: bands are moved a step up, unless one follows the label."""
    heat = {"values": {"heat_bias": "205", "heat_bias_true": "201"}}
    assert labelled.post(f"/setups/{labelled.setup_id}/values", heat).status_code == 201
    assert fields_of(labelled, "temperature", "temperature")["coldest"] == "205"
    take(labelled, "label", "one")
    assert fields_of(labelled, "temperature", "temperature")["coldest"] == "200"
    take(labelled, "label", "usual")
    assert fields_of(labelled, "temperature", "temperature")["coldest"] == "205", "one may go back to the usual way"


def test_flexibles_step_up_from_none_and_half_as_far_for_those_who_pull_almost_nothing(labelled: Person) -> None:
    """Through a tube 3 mm is the cap of soft filament; it is named with its reason."""
    assert labelled.get(f"/setups/{labelled.setup_id}/starts/retraction")["schools"] == [], (
        "rigid filament has no such side"
    )
    assert edit(labelled, "filament", 1, family="tpu", label="210-230").status_code == 200
    fields = fields_of(labelled, "retraction", "retraction")
    assert (fields["shortest"], fields["longest"]) == ("0", "3")
    take(labelled, "flexible_strings", "one")
    assert fields_of(labelled, "retraction", "retraction")["longest"] == "1.5"
    form = labelled.get(f"/setups/{labelled.setup_id}/starts/retraction")
    assert [row["key"] for row in form["schools"]] == ["flexible_strings"]


def test_all_disagreements_can_be_read_with_both_sides(labelled: Person) -> None:
    """Also those that move nothing here yet."""
    take(labelled, "z_hop", "other")
    schools = labelled.client.get("/api/v1/schools", headers=labelled.headers()).json()["schools"]
    assert len(schools) == 19
    assert {row["key"]: row["side"] for row in schools}["z_hop"] == "other"


def test_what_is_in_use_may_be_kept_when_retraction_is_not_the_lever(labelled: Person) -> None:
    """Nothing can be applied; that the distance was looked at goes on record."""
    assert type_in(labelled, {"retraction": "5"}).status_code == 201
    run = rate_all(labelled, begin(labelled, "retraction", "retraction").json(), "strings", (1, 1, 2, 1, 1, 2, 1, 1))
    assert (run["result"]["can_apply"], run["result"]["can_keep"]) == (False, True)
    refused = labelled.decide(run, "apply")
    assert refused.status_code == 409, refused.text
    assert labelled.decide(run, "keep").status_code == 201
    crib = labelled.get(f"/setups/{labelled.setup_id}/bench")["tonight"]
    assert next(row for row in crib if row["kind"] == "retraction")["text"] == "5.00"


def test_the_best_band_that_is_in_use_already_is_only_kept(labelled: Person) -> None:
    """Applying the same number would be no change."""
    first = all_rated(labelled, begin(labelled).json())
    assert labelled.decide(first, "apply").status_code == 201
    again = all_rated(labelled, begin(labelled).json())
    assert again["result"]["verdict"] == "keep"
    assert not again["result"]["can_apply"]
    assert "in use" in again["result"]["sentence"]


def test_an_open_tower_says_how_far_it_is(labelled: Person) -> None:
    """Never more readings than were asked for."""
    run = all_rated(labelled, begin(labelled).json())
    (line,) = labelled.get("/runs")["open"]
    count = len([row for row in run["readings"] if row["struck"] is None])
    assert line["outcome"] == f"Open, {count} of {count} readings"


def test_the_record_names_band_and_criterion(labelled: Person) -> None:
    """Not the address that they are kept under."""
    run = rated(labelled, rated(labelled, begin(labelled).json(), 0, "bond", 3), 0, "failed", 1)
    assert [row["place"] for row in run["readings"]] == ["230 snapped", "230 Bond", "230 band failed"]
    back = labelled.post(f"/runs/{run['id']}/taken-back").json()
    assert back["body"]["tower"]["bands"][-1]["vetoes"] == []


def test_a_run_without_a_tower_takes_photos_but_not_of_a_band(labelled: Person) -> None:
    """A photograph of the cut ends, say."""
    run = labelled.start()
    assert attach(labelled, run["id"], picture("JPEG")).status_code == 201
    assert attach(labelled, run["id"], picture("JPEG"), "?band=0").status_code == 422
    assert labelled.get(f"/runs/{run['id']}")["body"]["kind"] != "rated"


def test_a_wet_test_needs_to_know_the_spool(labelled: Person) -> None:
    """Where there is none, there is nowhere to write it."""
    assert labelled.post(f"/setups/{labelled.setup_id}/wet-tests?step=temperature", {"pops": 0}).status_code == 409


@pytest.mark.parametrize("edit_body", [{"purpose": "strength"}, {"swap": [0, 1]}])
def test_what_belongs_to_towers_is_refused_for_other_runs(labelled: Person, edit_body: Any) -> None:
    """An e-steps run has no bands and no purpose."""
    run = labelled.start()
    headers = labelled.headers(run["version"])
    assert labelled.client.patch(f"/api/v1/runs/{run['id']}", json=edit_body, headers=headers).status_code == 409


@pytest.mark.parametrize("swap", [[0, 0], [0, 9]])
def test_a_swap_takes_two_bands_that_are_there(labelled: Person, swap: list[int]) -> None:
    """The same one twice, or one above the tower."""
    run = begin(labelled).json()
    headers = labelled.headers(run["version"])
    answer = labelled.client.patch(f"/api/v1/runs/{run['id']}", json={"swap": swap}, headers=headers)
    assert answer.status_code == 422, answer.text


def test_where_the_best_lies_beyond_the_tower_the_next_one_is_offered(labelled: Person) -> None:
    """Strings and edges only get better towards the cold: five bands further down, and it can be started as offered."""
    run = begin(labelled).json()
    for key in ("stringing", "overhang", "bridging", "blobs", "detail", "surface"):
        run = rate_all(labelled, run, key, (4, 2, 1, 0, 0, 0, 0))
    run = rate_all(labelled, run, "bond", (4, 4, 4, 4, 4, 4, 4))
    assert run["result"]["title"] == "The best lies beyond this tower"
    assert run["result"]["next_run"] == {"coldest": "180", "hottest": "205"}
    assert labelled.post(f"/runs/{run['id']}/leave", version=run["version"]).status_code == 201
    further = begin(labelled, **run["result"]["next_run"])
    assert further.status_code == 201, further.text


def test_no_further_tower_is_offered_beyond_a_limit(labelled: Person) -> None:
    """The liner stands 240, and the tower went there: the best may lie beyond, and this hotend may not."""
    run = begin(labelled, coldest="210", hottest="240").json()
    for key in ("surface", "bond"):
        run = rate_all(labelled, run, key, (0, 0, 0, 0, 0, 1, 4))
    assert run["result"]["title"] == "The best lies beyond this tower", run["result"]
    assert run["result"]["next_run"] == {}


def test_a_longer_pull_is_offered_up_to_the_cap(labelled: Person) -> None:
    """Still strings at 3 mm: the next tower begins where this one ended, and ends at 7."""
    run = begin(labelled, "retraction", "retraction", longest="3").json()
    run = rate_all(labelled, run, "strings", (0, 0, 0, 0, 0, 1, 1, 2))
    assert run["result"]["title"] == "The best lies beyond this tower", run["result"]
    assert run["result"]["next_run"] == {"shortest": "2.6", "longest": "7"}
