"""Real prints move counters, age what rests on a nozzle, and stand under the revision they were printed with."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from tests.server.conftest import Person
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
    log_print(ines, grams="5200", hours="200")
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
        card = next(row["text"] for row in ticks if row["lead"] == "Enough, checked, stay.")
        return shown["left"], card.replace("\N{NO-BREAK SPACE}", " ").split(" are on the spool")[0].split(".")[0]

    unweighed = "Nobody weighed this spool: weigh it, and see that it is enough"
    assert assembly(ines, spool_id=first).status_code == 201
    assert told() == ("1000 g left of 1000 g", unweighed)
    log_print(ines, grams="240")
    assert told() == ("about 760 g left of 1000 g, 240 g printed since", unweighed)
    ines.post(f"/spools/{first}/entries", {"kind": "weighed", "number": "744"})
    before_it = (ines.clock.now - timedelta(hours=2)).isoformat()
    log_print(ines, grams="99", happened_at=before_it)
    assert told() == ("744 g left of 1000 g", "744 g")
    log_print(ines, grams="40")
    assert told()[1] == "About 704 g"
    log_print(ines, grams="860")
    assert told()[1] == "Nothing is left on the spool"
    assembly(ines, spool_id=second)
    ines.post(f"/spools/{second}/entries", {"kind": "weighed", "number": "1000"})
    ines.clock.wait(hours=1)
    log_print(ines, grams="50")
    assert told() == ("about 0 g left of 1000 g, 900 g printed since", "About 950 g")
    log_print(ines, grams="80", happened_at=before_it)
    assert told() == ("about 0 g left of 1000 g, 900 g printed since", "About 950 g"), "not known from which of them"
