"""What changed since the same part was printed last: everything on record, and no more credit than one print each earns."""

from __future__ import annotations

import csv
from typing import Any

from tests.server.conftest import MACHINE, Person
from tests.server.test_inventory import add, assembly
from tests.server.test_profile import type_in
from tests.server.test_wear import log_print


def printed(person: Person, outcome: str, what: str = "owl head", on: Any = 0, **more: Any) -> int:
    """A print logged an hour later; its number."""
    person.clock.wait(hours=1)
    answer = log_print(person, on=on, what=what, outcome=outcome, **more)
    assert answer.status_code == 201, answer.text
    rows = person.get(f"/setups/{on or person.setup_id}/prints")["prints"]
    return int(rows[0]["id"])


def since(person: Person, number: int) -> Any:
    """What changed before a print, and what is said of it."""
    found = person.get(f"/prints/{number}/since")
    return {row["name"]: (row["before"], row["after"]) for row in found["changed"]}, found["said"]


def test_one_setting_alone_is_named_and_not_yet_believed(ines: Person) -> None:
    """The setting with both numbers; other parts, spaces and capitals in a name are not another part."""
    type_in(ines, {"nozzle": "205"})
    first = printed(ines, "bad", "Owl head ")
    assert since(ines, first) == ({}, "The first of this part on record: there is nothing to hold it against.")
    printed(ines, "good", "elbow joint")
    ines.clock.wait(hours=1)
    type_in(ines, {"nozzle": "215"})
    changed, said = since(ines, printed(ines, "good"))
    assert changed == {"Nozzle, rest": ("205 °C", "215 °C")}
    assert said.startswith("Nozzle, rest alone changed. One print each proves nothing yet")


def test_several_changes_cannot_be_told_apart_and_the_print_that_tells_most_is_named(ines: Person) -> None:
    """Of settings one is kept and one undone; what was done to the machine cannot be undone."""
    type_in(ines, {"nozzle": "205", "retraction": "4"})
    printed(ines, "bad")
    ines.clock.wait(hours=1)
    type_in(ines, {"nozzle": "215", "retraction": "3"})
    assert ines.post(f"/setups/{ines.setup_id}/changes", {"kind": "greased", "note": "rods"}).status_code == 201
    changed, said = since(ines, printed(ines, "good"))
    assert {"Nozzle, rest", "Retraction"} < set(changed)
    assert [after for _, after in changed.values()][-1] == "rods"
    assert said.startswith("3 things changed and cannot be told apart. What tells most: undo ")


def test_a_sign_that_moved_far_after_one_change_is_credited(ines: Person) -> None:
    """Three words are more than one print each scatters by; two are not. The sign that moved most is the one that speaks."""
    type_in(ines, {"nozzle": "225"})
    printed(ines, "good", signs={"stringing": 1, "seam": 3})
    ines.clock.wait(hours=1)
    type_in(ines, {"nozzle": "215"})
    _, said = since(ines, printed(ines, "good", signs={"stringing": 4, "seam": 2}))
    assert said.startswith("Strings 1 to 4. Nozzle, rest alone changed, and that much is real.")
    ines.clock.wait(hours=1)
    type_in(ines, {"nozzle": "210"})
    _, said = since(ines, printed(ines, "good", signs={"stringing": 2}))
    assert said.startswith("Strings 4 to 2. Nozzle, rest alone changed. One print each proves nothing yet")
    shown = ines.get(f"/setups/{ines.setup_id}/prints")["prints"][0]["signs"]
    assert shown == ["Strings 2, some"]
    assert ines.get(f"/setups/{ines.setup_id}/attempt-form")["parts"] == ["owl head"]
    refused = log_print(ines, signs={"taste": 2})
    assert refused.json()["fields"][0]["field"] == "signs"
    assert log_print(ines, signs={"seam": 5}).status_code == 422


def test_all_prints_go_along_as_a_table(ines: Person) -> None:
    """With their signs in columns; what nobody looked at is empty, what was taken back says so, formulas are text."""
    first = printed(ines, "bad", signs={"lift": 1}, note="=1+1")
    assert ines.post(f"/prints/{first}/withdrawal").status_code == 201
    printed(ines, "good", "mask")
    table = ines.get("/prints")["text"]
    newest, oldest = csv.DictReader(table.lstrip("\ufeff").splitlines())
    assert (newest["what"], newest["lift"], newest["taken_back"]) == ("mask", "", "")
    assert (oldest["what"], oldest["lift"], oldest["taken_back"]) == ("owl head", "1", "yes")
    assert not oldest["note"].startswith("=")


def test_the_spool_its_drying_and_the_air_are_told_too(ines: Person) -> None:
    """A room that is a degree warmer is the same room; a spool that came on and was dried is named, with its hours."""
    spools = [add(ines, "spool", 1, name=name).json()["id"] for name in ("14", "15")]
    room = {"temperature": "20", "humidity": "40", "draught": False}
    assert ines.post("/room", room).status_code == 201
    assert assembly(ines, spool_id=spools[0]).status_code == 201
    setup = assembly(ines, spool_id=spools[0]).json()["id"]
    printed(ines, "bad", on=setup)
    ines.clock.wait(hours=1)
    assert ines.post("/room", room | {"temperature": "21", "humidity": "60"}).status_code == 201
    assert assembly(ines, spool_id=spools[1]).json()["id"] == setup
    entry = ines.post(f"/spools/{spools[1]}/entries", {"kind": "dried", "number": "6", "second": "50"})
    assert entry.status_code == 201
    changed, _ = since(ines, printed(ines, "good", on=setup))
    assert changed["Spool"] == ("14", "15")
    assert changed["Damp in the room"] == ("40 %", "60 %")
    assert changed["Spool dried"][1].startswith("6")
    assert "Room" not in changed


def test_nothing_on_record_and_a_stopped_print_are_said_to_be_just_that(ines: Person) -> None:
    """Scatter is no cause; alike is no difference; stopped says nothing; a print that was taken back is not there."""
    printed(ines, "bad")
    assert since(ines, printed(ines, "good"))[1].startswith("Nothing that is on record changed: that is scatter")
    assert since(ines, printed(ines, "good"))[1].endswith("it came out alike.")
    stopped = printed(ines, "stopped")
    assert "stopped early" in since(ines, stopped)[1]
    assert ines.post(f"/prints/{stopped}/withdrawal").status_code == 201
    assert since(ines, printed(ines, "good"))[1].endswith("it came out alike.")


def test_a_part_printed_elsewhere_is_held_against_what_differs_there(ines: Person) -> None:
    """Another filament and its own settings."""
    printed(ines, "bad")
    other = ines.post("/setups", MACHINE | {"filament": "Tarn PETG smoke", "family": "petg"}).json()["id"]
    changed, said = since(ines, printed(ines, "good", on=other))
    assert changed == {"Filament": ("Fallow PLA oat", "Tarn PETG smoke")}
    assert said.startswith("Filament alone changed.")
