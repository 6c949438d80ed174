"""A heat check without a probe: filament is pushed, and what it says is weak, and said to be."""

from __future__ import annotations

from typing import Any

from tests.server.conftest import Person
from tests.server.test_heat_run import OFF_BY_8, heat_row, leave, prober
from tests.server.test_heat_run import start as start_probe
from tests.server.test_pressure_run import rate
from tests.server.test_printed_runs import codes, read_all

__all__ = ["prober"]

FREE_FROM_195 = (0, 0, 0, 1, 1, 2, 2)
"""Answers at 170 to 200 °C: it runs freely from about 193."""


def start(person: Person, **typed: str) -> Any:
    """The response to a push started."""
    values = {"low": "170", "high": "210", "reference": "", "second": "first"} | typed
    return person.post("/runs", {"setup_id": person.setup_id, "step": "heat", "method": "heat_push", "values": values})


def test_without_another_hotend_it_only_says_where_it_runs(ines: Person) -> None:
    """A knee, to be typed elsewhere; nothing can be applied or kept."""
    run = rate(ines, start(ines).json(), "runs", *FREE_FROM_195)
    result = run["result"]
    assert result["title"].replace("\N{NO-BREAK SPACE}", " ") in {
        f"It runs freely from {c} °C" for c in range(191, 197)
    }
    assert (result["can_apply"], result["can_keep"]) == (False, False)
    assert run["body"]["tower"]["waiting"] == []


def test_near_the_trusted_one_it_says_how_little_it_would_see(ines: Person) -> None:
    """Five degrees apart is nothing to a hand: kept, as uncertain as it is."""
    run = rate(ines, start(ines, reference="198").json(), "runs", *FREE_FROM_195)
    assert run["result"]["title"] == "Nothing wrong that a push can show"
    assert "would not see less than" in run["result"]["sentence"]
    assert ines.decide(run, "keep").status_code == 201
    value = heat_row(ines)["value"]
    assert (value["number"], value["provenance"]["origin"]) == (0.0, "measured")


def test_a_push_and_a_probe_confirm_each_other_in_either_order(prober: Person) -> None:
    """A push that finds the hotend 20 hotter is a suspect; a probe that reads 20 more confirms it, and is applied."""
    pushed = rate(prober, start(prober, reference="214").json(), "runs", *FREE_FROM_195)
    assert pushed["result"]["title"].startswith("Suspect: really 2")
    assert prober.decide(pushed, "apply", before_proof=True).status_code == 409
    leave(prober, pushed)
    hot = ("170", "170.2", "219", "219.3")
    run = read_all(prober, start_probe(prober, second="push").json(), *hot)
    assert (run["result"]["verdict"], run["result"]["can_apply"]) == ("apply", True)
    leave(prober, run)
    second = rate(prober, start(prober, reference="214", second="probe").json(), "runs", *FREE_FROM_195)
    assert second["result"]["title"].startswith("Confirmed: really 2")
    assert prober.decide(second, "apply").status_code == 201
    assert "confirmed" in heat_row(prober)["value"]["text"]


def test_a_probe_that_says_the_opposite_is_contradicted(prober: Person) -> None:
    """20 hotter by the push, 5 cooler by the probe: no average of the two."""
    leave(prober, rate(prober, start(prober, reference="214").json(), "runs", *FREE_FROM_195))
    run = read_all(prober, start_probe(prober, second="push").json(), *OFF_BY_8)
    assert (run["result"]["title"], run["result"]["can_apply"]) == ("The two tests disagree", False)


def test_answers_that_cannot_be_are_named(ines: Person) -> None:
    """Free from the coolest on; freely and then, hotter, not at all; steps that are none."""
    run = rate(ines, start(ines).json(), "runs", 2, 2, 2, 2)
    assert run["result"]["title"] == "It runs freely from the start"
    leave(ines, run)
    run = rate(ines, start(ines).json(), "runs", 0, 2, 2, 0, 0, 0, 0)
    assert "a blockage moves" in run["result"]["sentence"]
    leave(ines, run)
    assert codes(start(ines, low="170", high="175")) == {"high": "too_near"}
    assert codes(start(ines, low="100", high="900")) == {"high": "out_of_range"}
    assert codes(start(ines, second="probe")) == {"second": "no_first", "reference": "empty"}
