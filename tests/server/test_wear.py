"""Real prints move counters, age what rests on a nozzle, and stand under the revision they were printed with."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person
from tests.server.test_inventory import add, assembly


def log_print(ines: Person, *, on: Any = 0, **typed: Any) -> Any:
    """The response to a print written down."""
    body = {"what": "elbow joint", "hours": "3", "grams": "40", "outcome": "good"} | typed
    return ines.post(f"/setups/{on or ines.setup_id}/prints", body)


def due(ines: Person) -> Any:
    """Counters that have something to say."""
    return [row for row in ines.get(f"/setups/{ines.setup_id}/counters")["counters"] if row["due"]]


def bench(ines: Person) -> Any:
    """The bench."""
    return ines.get(f"/setups/{ines.setup_id}/bench")


def test_counters_are_quiet_until_they_have_something_to_say(ines: Person) -> None:
    """5 kg through the nozzle: one school says look, the other says wait for signs; both are named."""
    first = log_print(ines, grams="4000", hours="300").json()["counters"]
    assert {row["part"]: row["amount"] for row in first}["nozzle"] == "4000 g"
    assert due(ines) == []
    log_print(ines, grams="1200", hours="90")
    (counter,) = due(ines)
    assert (counter["part"], counter["amount"], counter["limit"]) == ("nozzle", "5200 g", "5000 g")
    assert "another when prints or drift say so" in counter["advice"]


def test_a_new_nozzle_counts_from_nothing_and_an_entry_taken_back_does_not_count(ines: Person) -> None:
    """What was printed before it went through the old one."""
    log_print(ines, grams="5200")
    change = ines.post(f"/setups/{ines.setup_id}/changes", {"kind": "nozzle_same"}).json()
    assert due(ines) == []
    ines.post(f"/changes/{change['id']}/withdrawal")
    assert [row["part"] for row in due(ines)] == ["nozzle"]


def test_a_spool_gets_lighter_by_what_is_printed_from_it(ines: Person) -> None:
    """Until it is weighed again; what another spool or a print before the weighing took does not count."""
    first, second = (add(ines, "spool", 1, name=name).json()["id"] for name in ("14", "15"))

    def told() -> tuple[str, str]:
        """What is left on the first, on its filament's page and on the card before a print."""
        (shown,) = [row for row in ines.get("/filaments")[0]["spools"] if row["id"] == first]
        ticks = ines.get(f"/setups/{ines.setup_id}/pre-flight")["ticks"]
        (card,) = [row["text"] for row in ticks if "on the spool are enough" in row["text"]]
        return shown["left"], card.partition(" on the spool")[0]

    assert assembly(ines, spool_id=first).status_code == 201
    assert told() == ("1000 g left of 1000 g", "1000 g")
    log_print(ines, grams="240")
    assert told() == ("about 760 g left of 1000 g, 240 g printed since", "about 760 g")
    ines.post(f"/spools/{first}/entries", {"kind": "weighed", "number": "744"})
    before_it = (ines.clock.now - timedelta(hours=2)).isoformat()
    log_print(ines, grams="99", happened_at=before_it)
    assert told() == ("744 g left of 1000 g", "744 g")
    log_print(ines, grams="900")
    assert told()[1] == "about 0 g"
    assembly(ines, spool_id=second)
    log_print(ines, grams="50")
    assert told() == ("about 0 g left of 1000 g, 900 g printed since", "about 950 g")
    log_print(ines, grams="80", happened_at=before_it)
    assert told() == ("about 0 g left of 1000 g, 900 g printed since", "about 950 g"), "not known from which of them"


def test_a_person_sets_the_limits_and_the_usual_one_stays_in_sight(ines: Person) -> None:
    """For parts by use, for values by days."""
    log_print(ines, hours="60")
    ines.client.put("/api/v1/limits/grease", json={"value": "50"}, headers=ines.headers())
    assert [row["part"] for row in due(ines)] == ["grease"]
    ines.applied("98.4", "98.1", "98.6")
    ines.clock.wait(days=40)
    assert bench(ines)["steps"][1]["standing"] == "fresh"
    limits = ines.client.put("/api/v1/limits/e_steps", json={"value": "30"}, headers=ines.headers()).json()
    assert bench(ines)["steps"][1]["standing"] == "ageing"
    shown = next(row for row in limits if row["key"] == "e_steps")
    assert (shown["value"], shown["usual"]) == ("30", "180")


@pytest.mark.parametrize(
    ("key", "value", "status"), [("e_steps", "0", 422), ("grease", "many", 422), ("springs", "5", 404)]
)
def test_a_limit_that_cannot_be_is_refused(ines: Person, key: str, value: str, status: int) -> None:
    """A limit of nothing would make everything old at once."""
    answer = ines.client.put(f"/api/v1/limits/{key}", json={"value": value}, headers=ines.headers())
    assert answer.status_code == status


def test_prints_stand_under_the_revision_they_were_printed_with(ines: Person) -> None:
    """Good and bad, so that a revision can be judged by what came out of it."""
    ines.applied("98.4", "98.1", "98.6")
    log_print(ines)
    log_print(ines, outcome="bad", note="left corner up")
    ines.applied("97.9", "98.0", "98.1", current="419.45")
    log_print(ines)
    newest, oldest = ines.get(f"/setups/{ines.setup_id}/history")["revisions"]
    assert (newest["good"], newest["bad"], oldest["good"], oldest["bad"]) == (1, 0, 1, 1)


def test_abrasive_grams_age_a_flow_and_only_on_that_nozzle(ines: Person) -> None:
    """Three hundred grams of it are enough; what went through another nozzle counts for nothing."""
    form = ines.get("/records/filament/1")
    values = {row["name"]: row["value"] for row in form["fields"]} | {"flags": "abrasive"}
    ines.client.put("/api/v1/records/filament/1", json={"values": values}, headers=ines.headers(form["version"]))
    other = ines.post("/setups", MACHINE | {"bore": "0.6"}).json()["id"]
    log_print(ines, on=other, grams="400")
    assert due(ines) == []
    log_print(ines, grams="310")
    assert [row["part"] for row in due(ines)] == ["nozzle_abrasive"]


@pytest.mark.parametrize(
    ("typed", "field"),
    [({"what": " "}, "what"), ({"hours": "0"}, "hours"), ({"grams": "1 t"}, "grams")],
)
def test_a_print_that_cannot_be_is_refused_at_its_field(ines: Person, typed: dict[str, str], field: str) -> None:
    """And one that lies ahead."""
    assert log_print(ines, **typed).json()["fields"][0]["field"] == field
    ahead = (ines.clock.now + timedelta(days=1)).isoformat()
    assert log_print(ines, happened_at=ahead).json()["fields"][0]["field"] == "happened_at"
