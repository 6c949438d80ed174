"""The card before a print: eight ticks for the setup as it stands, in words that fit family, plate and machine."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person
from tests.server.test_inventory import add, assembly
from tests.server.test_profile import log, type_in
from ubrex.core.materials import FAMILIES


def ticks(ines: Person, setup_id: int = 0) -> dict[str, str]:
    """The eight ticks by their first word."""
    card = ines.get(f"/setups/{setup_id or ines.setup_id}/pre-flight")
    return {row["lead"]: row["text"] for row in card["ticks"]}


@pytest.mark.parametrize("family", [row.key for row in FAMILIES])
def test_every_family_gets_eight_ticks(ines: Person, family: str) -> None:
    """The same eight every time; each of them says something."""
    setup = ines.post("/setups", MACHINE | {"filament": f"Fallow {family}", "family": family}).json()["id"]
    found = ticks(ines, setup)
    assert len(found) == 8
    assert all(text.endswith(".") for text in found.values())


def test_what_was_noted_of_plate_and_spool_stands_on_the_card(ines: Person) -> None:
    """Washed when, dried when, how much is left, and what the file has to say."""
    ines.setup_id = ines.post("/setups", MACHINE | {"surface": "Smooth"}).json()["id"]
    type_in(ines, {"nozzle": "205", "bed": "55"})
    log(ines, "plate_washed")
    spool = add(ines, "spool", 1, name="11").json()["id"]
    ines.post(f"/spools/{spool}/entries", {"kind": "weighed", "number": "612"})
    ines.post(f"/spools/{spool}/entries", {"kind": "dried", "number": "6", "second": "50"})
    assembly(ines, spool_id=spool)
    found = ticks(ines)
    said = found["Spool and profile."].replace("\N{NO-BREAK SPACE}", " ")
    assert "spool 11, is on, and the sliced file says nozzle 205 °C and bed 55 °C" in said
    assert found["Plate."].startswith("Smooth, washed today")
    assert found["Dry."].startswith("Dried 0\N{NO-BREAK SPACE}h ago")
    assert "612 g are on the spool" in found["Enough, checked, stay."]


@pytest.mark.parametrize(
    ("family", "lead", "said"),
    [
        ("asa", "Soak and prime.", "nozzle at 150"),
        ("asa", "Brim, door, room.", "no enclosure here: expect lifted corners"),
        ("petg", "Adhesive.", "release agent"),
        ("tpu", "Dry.", "new and sealed too"),
        ("pc", "Fan.", "off, all the way, is usual"),
        ("pla", "Brim, door, room.", "No draught on the bed"),
    ],
)
def test_the_words_fit_the_family(ines: Person, family: str, lead: str, said: str) -> None:
    """What every practitioner of that family would ask."""
    setup = ines.post("/setups", MACHINE | {"filament": "Cinder", "family": family}).json()["id"]
    assert said in ticks(ines, setup)[lead]


def test_a_backup_is_downloaded_as_one_zip(ines: Person) -> None:
    """The same file that the command writes."""
    answer: Any = ines.client.get("/api/v1/backup")
    assert (answer.status_code, answer.headers["content-type"]) == (200, "application/zip")
    assert answer.content.startswith(b"PK")


def test_the_bench_says_what_comes_before_the_numbers(ines: Person) -> None:
    """Mechanics until somebody has gone through them; the wet test only for what drinks."""
    bench = ines.get(f"/setups/{ines.setup_id}/bench")
    assert [(card["key"], card["good"]) for card in bench["before"]] == [("mechanics", False)]
    logged = ines.post(f"/setups/{ines.setup_id}/changes", {"kind": "mechanics", "note": "One wheel had play."})
    assert logged.status_code == 201, logged.text
    (card,) = ines.get(f"/setups/{ines.setup_id}/bench")["before"]
    assert card["good"]
    assert card["said"] == "Mechanics: gone through today"
    ines.clock.wait(days=91)
    assert not ines.get(f"/setups/{ines.setup_id}/bench")["before"][0]["good"]
    tpu = ines.post("/setups", MACHINE | {"filament": "Mallow", "family": "tpu"}).json()["id"]
    cards = {card["key"]: card for card in ines.get(f"/setups/{tpu}/bench")["before"]}
    assert cards["filament"]["said"] == "Filament: not listened to"
