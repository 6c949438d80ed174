"""Real prints move counters, age what rests on a nozzle, and stand under the revision they were printed with."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from tests.server.conftest import Clock, Person
from tests.server.test_inventory import add, assembly
from tests.server.test_profile import type_in


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
    log_print(ines, grams="4000", hours="300")
    first = ines.get(f"/setups/{ines.setup_id}/counters")["counters"]
    assert {row["part"]: row["used"] for row in first}["nozzle"] == "4000 g of 5000 g"
    assert due(ines) == []
    log_print(ines, grams="1200", hours="90")
    (counter,) = due(ines)
    assert (counter["part"], counter["used"]) == ("nozzle", "5200 g of 5000 g")
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


def prints(ines: Person) -> list[Any]:
    """Prints of the setup, as they are listed."""
    found: list[Any] = ines.get(f"/setups/{ines.setup_id}/prints")["prints"]
    return found


def test_what_was_printed_can_be_read_and_taken_back(ines: Person) -> None:
    """Name, time, filament, note; an entry made by mistake counts for nothing anywhere, and stays to be read."""
    log_print(ines, what="owl head", hours="3:12", grams="40", note="stand wobbles", looks="bad")
    log_print(ines, what="lantern", hours="90h05", grams="5200")
    newest, first = prints(ines)
    assert (first["what"], first["said"], first["note"]) == ("owl head", "works, looks bad", "stand wobbles")
    assert first["took"].replace("\N{NO-BREAK SPACE}", " ") == "3 h 12, 40 g"
    assert [row["part"] for row in due(ines)] == ["nozzle"]
    back = ines.post(f"/prints/{newest['id']}/withdrawal")
    assert back.status_code == 201
    assert [row["withdrawn"] for row in back.json()["prints"]] == [True, False]
    assert due(ines) == []
    again = ines.post(f"/prints/{newest['id']}/withdrawal")
    assert (again.status_code, again.json()["code"]) == (409, "withdrawn_already")


def test_a_print_asks_for_no_hours_and_no_grams(ines: Person) -> None:
    """One stopped early not even for a name; what is said of it is kept."""
    assert log_print(ines, what="", hours="", grams="", outcome="stopped").status_code == 201
    assert log_print(ines, what="mask", hours="25 min", grams="", outcome="stopped").status_code == 201
    assert [(row["what"], row["said"]) for row in prints(ines)] == [
        ("mask", "stopped early"),
        ("not named", "stopped early"),
    ]
    assert prints(ines)[0]["took"].replace("\N{NO-BREAK SPACE}", " ") == "25 min"
    assert log_print(ines, what="mask", hours="", grams="").status_code == 201
    assert log_print(ines, hours="3:99").status_code == 422


def test_a_print_is_found_by_what_it_showed(ines: Person) -> None:
    """A sign and its word, with the filament; not by the word of another figure."""
    log_print(ines, what="mask", signs={"lift": 1})
    log_print(ines, what="lantern", signs={"lift": 4, "stringing": 1})
    named = {
        text: [row["title"] for row in ines.get(f"/found?text={text}")] for text in ("corners high PLA", "corners flat")
    }
    assert named == {"corners high PLA": ["mask"], "corners flat": ["lantern"]}
    assert ines.post(f"/prints/{prints(ines)[0]['id']}/withdrawal").status_code == 201
    assert ines.get("/found?text=corners flat") == []


def test_anything_is_found_by_any_words_of_it(ines: Person) -> None:
    """Setups, runs, prints, notes, changes, spools: each with where it is looked at."""
    ines.measured("98.4")
    log_print(ines, what="elbow joint", note="snapped at the rim")
    ines.post(f"/setups/{ines.setup_id}/notes", {"text": "The owl nods 100 % of the time."})
    ines.post(f"/setups/{ines.setup_id}/changes", {"kind": "gear_tension", "note": "two turns"})
    add(ines, "spool", 1, name="14")

    def found(text: str) -> list[tuple[str, str, str]]:
        rows = ines.client.get("/api/v1/found", params={"text": text}).json()
        return [(row["what"], row["title"], row["to"]) for row in rows]

    assert found("heron pla")[0][0] == "Setup"
    assert found("run e-steps ines") == [("Run", "Run 1, E-steps", "/runs/1")]
    assert found("RIM elbow") == [("Print", "elbow joint: snapped at the rim", f"/setups/{ines.setup_id}/prints")]
    assert [row[0] for row in found("owl 100 %")] == ["Note"]
    assert found("%_%") == []
    assert [row[0] for row in found("gear turns")] == ["Change"]
    assert ("Spool", "Spool 14", "/filaments") in found("spool 14")
    assert found("puffin") == found("") == []


def test_a_few_clean_prints_are_no_proof(ines: Person) -> None:
    """Nine of ten say what may still fail; the tenth qualifies; a new value starts the count anew."""
    ines.applied("98.4", "98.1", "98.6")

    def said() -> str:
        found: str = ines.get(f"/setups/{ines.setup_id}/prints")["qualified"]
        return found

    assert said() == "Nothing printed since revision 1: whether it holds is not known."
    for _ in range(9):
        log_print(ines)
    assert said().startswith("9 prints since revision 1, none failed; it may still fail up to 28 % of the time. 1 more")
    ines.post(f"/setups/{ines.setup_id}/prints", {"what": "x", "hours": "", "grams": "", "outcome": "stopped"})
    log_print(ines)
    assert said().startswith("Qualified: 10 prints since revision 1")
    log_print(ines, outcome="bad")
    assert said().startswith("11 prints since revision 1, 1 failed; it may still fail up to 36 %")
    ines.applied("98.2", "98.3", "98.2", current="419.45")
    assert said() == "Nothing printed since revision 2: whether it holds is not known."


def test_a_part_keeps_what_it_saw_and_is_due_by_a_day_too(ines: Person, clock: Clock) -> None:
    """Greased after 40 h: the counter begins anew, the old one stays; half a year later it is due by its date."""
    log_print(ines, hours="40")
    clock.wait(days=1)
    assert ines.post(f"/setups/{ines.setup_id}/changes", {"kind": "greased", "note": ""}).status_code == 201
    clock.wait(days=1)
    log_print(ines, hours="3")

    def grease() -> Any:
        rows = ines.get(f"/setups/{ines.setup_id}/counters")["counters"]
        return next(row for row in rows if row["part"] == "grease")

    found = grease()
    assert (found["due"], len(found["before"])) == (False, 1)
    assert found["before"][0].startswith("40 h until ")
    assert found["used"].startswith("3 h of 500 h, or by ")
    clock.wait(days=181)
    late = grease()
    assert late["due"]
    assert late["used"].startswith("due since ")


def test_what_is_set_and_what_was_noted_with_anything_is_found(ines: Person) -> None:
    """A value by its name, its number and who set it; notes of decisions, revisions, strikes, spools and checks."""
    assert type_in(ines, {"z_hop": "0.2", "fan": "80"}).status_code == 201
    run = ines.measured("98.4", "98.1", "98.6", "91.3")
    path = f"/runs/{run['id']}/readings/{run['readings'][-1]['id']}/strike"
    run = ines.post(path, {"reason": "the cutter skewed"}).json()
    assert ines.decide(run, "apply", note="gear worn thin").status_code == 201
    newest = ines.get(f"/setups/{ines.setup_id}/history")["revisions"][0]
    note = {"note": "for the lantern scene"}
    path = f"/api/v1/setups/{ines.setup_id}/revisions/{newest['number']}/note"
    assert ines.client.put(path, json=note, headers=ines.headers(newest["version"])).status_code == 200
    spool = add(ines, "spool", 1, name="14").json()["id"]
    wet = {"kind": "wet_test", "number": "3", "note": "steams"}
    assert ines.post(f"/spools/{spool}/entries", wet).status_code == 201

    def found(text: str) -> list[tuple[str, str, str]]:
        rows = ines.client.get("/api/v1/found", params={"text": text}).json()
        return [(row["what"], row["title"], row["to"]) for row in rows]

    assert found("z-hop heron") == [("Value", "Z-hop 0.20 mm", "/")]
    assert ("Value", "Fan 80 %", "/") in found("fan ines")
    assert found("gear worn") == [("Run", "Run 1, E-steps: gear worn thin; the cutter skewed", "/runs/1")]
    assert found("cutter") == found("gear worn")
    assert found("lantern") == [("Note", "for the lantern scene", "/profiles")]
    assert found("steams")[-1] == ("Spool", "Spool 14", "/filaments")
    assert type_in(ines, {"z_hop": "0.4"}).status_code == 201
    assert found("z-hop") == [("Value", "Z-hop 0.40 mm", "/")]
