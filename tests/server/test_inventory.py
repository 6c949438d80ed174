"""Records: every field judged in words, nobody's edit written over, nothing deleted, and setups put together from them."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person
from ubrex.server.words.numbers import NBSP


def form_of(ines: Person, kind: str, record_id: int | None = None) -> Any:
    """A record's form."""
    return ines.get(f"/forms/{kind}" if record_id is None else f"/records/{kind}/{record_id}")


def values_of(form: Any, **typed: str) -> dict[str, str]:
    """What the fields hold, with some of them typed over."""
    return {row["name"]: row["value"] for row in form["fields"]} | typed


def add(ines: Person, kind: str, parent: int | None = None, **typed: str) -> Any:
    """The response to a record added."""
    return ines.post(f"/records/{kind}", {"values": values_of(form_of(ines, kind), **typed), "parent_id": parent})


def edit(
    ines: Person, kind: str, record_id: int, *, version: int | None = None, as_typed: Sequence[str] = (), **typed: str
) -> Any:
    """The response to a record changed."""
    form = form_of(ines, kind, record_id)
    body = {"values": values_of(form, **typed), "parent_id": None, "as_typed": list(as_typed)}
    headers = ines.headers(version or form["version"])
    return ines.client.put(f"/api/v1/records/{kind}/{record_id}", json=body, headers=headers)


def code_at(answer: Any, field: str) -> str:
    """Code of what was refused at a field."""
    assert answer.status_code == 422, answer.text
    codes: dict[str, str] = {row["field"]: row["code"] for row in answer.json()["fields"]}
    return codes.get(field, "")


def assembly(ines: Person, **changed: Any) -> Any:
    """The response to a setup put together from what is on the bench, with something else in it."""
    (now,) = [row for row in ines.get(f"/setups/{ines.setup_id}/picks/purpose") if row["now"]]
    return ines.post("/assemblies", now["form"] | changed)


@pytest.mark.parametrize(
    ("kind", "parent", "typed", "field", "code"),
    [
        ("machine", None, {"name": ""}, "name", "empty"),
        ("machine", None, {"name": "Heron"}, "name", "taken"),
        ("machine", None, {"name": "Egret", "bed_max_c": "1100"}, "bed_max_c", "out_of_range"),
        ("machine", None, {"name": "Egret", "chamber_max_c": "60"}, "chamber_max_c", "no_heated_chamber"),
        ("machine", None, {"name": "Egret", "runaway": "maker_says"}, "runaway_note", "empty"),
        ("machine", None, {"name": "Egret", "kinematics": "flies"}, "kinematics", "unknown"),
        ("hotend", 1, {"name": "No. 2", "liner": "lined", "max_c": "300"}, "max_c", "above_liner"),
        ("nozzle", 1, {"bore_mm": "4"}, "bore_mm", "out_of_range"),
        ("nozzle", 1, {"bore_mm": ""}, "bore_mm", "empty"),
        ("surface", 1, {"name": "Smooth", "stack_mm": "cm"}, "stack_mm", "not_a_number"),
        ("filament", None, {"name": "Reed", "label": "220-190"}, "label", "upside_down"),
        ("filament", None, {"name": "Reed", "label": "hot"}, "label", "not_a_range"),
        ("filament", None, {"name": "Reed", "label": "19-22"}, "label", "out_of_range"),
        ("filament", None, {"name": "Reed", "bed_low_c": "60"}, "bed_high_c", "half"),
        ("filament", None, {"name": "Reed", "bed_low_c": "70", "bed_high_c": "60"}, "bed_high_c", "upside_down"),
        ("filament", None, {"name": "x" * 81}, "name", "too_long"),
        ("spool", 1, {"name": "14", "full_g": "-5"}, "full_g", "not_above_zero"),
        ("instrument", None, {"name": "Calliper 2"}, "name", "taken"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field_in_words(
    ines: Person, kind: str, parent: int | None, typed: dict[str, str], field: str, code: str
) -> None:
    """And nothing is written of the whole form."""
    before = len(ines.get("/machines")) + len(ines.get("/filaments")) + len(ines.get("/tools"))
    assert code_at(add(ines, kind, parent, **typed), field) == code
    assert len(ines.get("/machines")) + len(ines.get("/filaments")) + len(ines.get("/tools")) == before


def test_a_label_in_several_rows_sets_what_may_be_typed_without_a_note_at_the_speed_in_use(ines: Person) -> None:
    """It wins over the family's window; °F may be typed, °C is kept."""
    assert edit(ines, "filament", 1, label="383-428 F; 210-235 from 80 mm/s").status_code == 200
    (filament,) = ines.get("/filaments")
    assert filament["label"] == "195–220 °C; 210–235 °C from 80 mm/s"
    at_any_speed = {"values": {"nozzle": "230"}}
    refused = ines.post(f"/setups/{ines.setup_id}/values", at_any_speed)
    assert code_at(refused, "nozzle") == "outside_label", (
        "at the usual 40 mm/s, halfway between its rows, it ends at 227"
    )
    body = {"values": {"nozzle": "230", "speed_outer": "80"}}
    assert ines.post(f"/setups/{ines.setup_id}/values", body).status_code == 201
    assert form_of(ines, "filament", 1)["fields"][6]["value"] == "195-220; 210-235 from 80 mm/s"


def test_two_people_at_one_record_the_second_is_told_and_keeps_what_they_typed(ines: Person) -> None:
    """Nobody is written over in silence."""
    seen = form_of(ines, "machine", 1)["version"]
    assert edit(ines, "machine", 1, name="Egret").status_code == 200
    late = edit(ines, "machine", 1, version=seen, name="Heron the second")
    assert (late.status_code, late.json()["code"]) == (412, "outdated")
    assert ines.get(f"/setups/{ines.setup_id}")["machine"] == "Egret"


def test_what_a_setup_uses_is_not_retired_and_what_is_retired_stays_on_record(ines: Person) -> None:
    """Nothing is ever deleted; a retired part is not offered any more."""
    nozzle = form_of(ines, "nozzle", 1)
    answer = ines.post("/records/nozzle/1/retirement", version=nozzle["version"])
    assert (answer.status_code, answer.json()["code"]) == (409, "in_use")
    other = add(ines, "nozzle", 1, bore_mm="0.6", material="hardened").json()
    assert ines.post(f"/records/nozzle/{other['id']}/retirement", version=1).json()["retired"] is True
    assert [row["text"] for row in ines.get(f"/setups/{ines.setup_id}/picks/nozzle")] == ["0.4 brass"]
    assert [row["name"] for row in ines.get("/machines")[0]["nozzles"]] == ["0.4 brass", "0.6 hardened"]


def test_a_row_the_machine_does_not_offer_is_passed_over(ines: Person) -> None:
    """*Not on this machine*, and the next one carries the load."""
    assert edit(ines, "machine", 1, lacks="e_steps,pressure").status_code == 200
    shown = ines.get(f"/setups/{ines.setup_id}/bench")
    standing = {row["step"]: row["standing"] for row in shown["steps"]}
    assert (standing["e_steps"], standing["pressure"], standing["flow"]) == (
        "not_on_machine",
        "not_on_machine",
        "never",
    )
    assert shown["next"]["step"] == "z_offset"
    body = {"values": {"pressure": "0.04"}}
    assert code_at(ines.post(f"/setups/{ines.setup_id}/values", body), "pressure") == "not_on_machine"


@pytest.mark.parametrize(
    ("entry", "field", "code"),
    [
        ({"kind": "weighed", "number": "1200"}, "number", "heavier_than_full"),
        ({"kind": "dried", "number": "6", "second": "300"}, "second", "out_of_range"),
        ({"kind": "diameter", "number": "17.5", "second": "1.75"}, "number", "out_of_range"),
        ({"kind": "diameter", "number": "1.75", "second": "2.85"}, "second", "other_strand"),
        ({"kind": "weighed", "number": "98"}, "number", "slip"),
        ({"kind": "wet_test", "number": ""}, "number", "empty"),
    ],
)
def test_what_cannot_be_found_on_a_spool_is_refused(ines: Person, entry: dict[str, str], field: str, code: str) -> None:
    """A spool heavier than its size was weighed with its core."""
    spool = add(ines, "spool", 1, name="14").json()["id"]
    assert code_at(ines.post(f"/spools/{spool}/entries", entry), field) == code
    assert ines.get("/filaments")[0]["spools"][0]["entries"] == []


def test_a_spool_keeps_what_was_found_on_it_newest_first(ines: Person) -> None:
    """Weighed, dried, measured; a day that lies ahead is asked about."""
    spool = add(ines, "spool", 1, name="14").json()["id"]
    ahead = {"kind": "weighed", "number": "612", "at": (ines.clock.now + timedelta(days=2)).isoformat()}
    assert code_at(ines.post(f"/spools/{spool}/entries", ahead), "at") == "in_future"
    for entry in (
        {"kind": "weighed", "number": "612"},
        {"kind": "dried", "number": "6", "second": "122 F"},
        {"kind": "diameter", "number": "1.74", "second": "1.76", "note": "near the core"},
    ):
        assert ines.post(f"/spools/{spool}/entries", entry).status_code == 201
    (shown,) = ines.get("/filaments")[0]["spools"]
    assert (shown["left"], shown["dried"]) == ("612 g left of 1000 g", "dried today")
    assert [row["sentence"] for row in shown["entries"]] == [
        "1.74 by 1.76 mm thick",
        "dried 6 h at 50 °C",
        "612 g left",
    ]


def test_what_is_found_on_a_spool_holds_its_filament_and_drying_lets_it_go(ines: Person) -> None:
    """Nobody has to say the same thing twice, on the spool and in the log."""
    ines.post(f"/setups/{ines.setup_id}/values", {"values": {"nozzle": "210"}})
    spool = add(ines, "spool", 1, name="14").json()["id"]

    def standing() -> str:
        rows = ines.get(f"/setups/{ines.setup_id}/bench")["steps"]
        found: str = next(row["standing"] for row in rows if row["step"] == "temperature")
        return found

    ines.post(f"/spools/{spool}/entries", {"kind": "wet_test", "number": "0"})
    assert standing() == "assumed"
    ines.post(f"/spools/{spool}/entries", {"kind": "wet_test", "number": "7"})
    assert standing() == "hold"
    ines.post(f"/spools/{spool}/entries", {"kind": "dried", "number": "6", "second": "50"})
    assert standing() == "assumed"


@pytest.mark.parametrize(
    ("kind", "typed", "code", "suggested"),
    [
        ("machine", {"width_mm": "22"}, "slip", "220"),
        ("hotend", {"printed_parts_max_c": "600"}, "unusual", None),
        ("surface", {"stack_mm": "0.02"}, "unusual", None),
        ("filament", {"label": "300-350"}, "outside_family", None),
        ("filament", {"dry_c": "90"}, "outside_family", None),
        ("filament", {"bed_low_c": "5", "bed_high_c": "60"}, "unusual", None),
    ],
)
def test_what_looks_slipped_about_a_record_is_asked_about_once(
    ines: Person, kind: str, typed: dict[str, Any], code: str, suggested: str | None
) -> None:
    """It may be right as typed; saved so, it is not asked about again."""
    if kind == "surface":
        add(ines, kind, 1, name="Smooth sheet")
    edit(ines, "machine", 1, width_mm="220", depth_mm="220", height_mm="250")
    field = next(iter(typed))
    asked = edit(ines, kind, 1, **typed)
    assert code_at(asked, field) == code
    (problem,) = asked.json()["fields"]
    assert (problem["confirmable"], problem["suggested"]) == (True, suggested)
    assert edit(ines, kind, 1, as_typed=[field], **typed).status_code == 200
    assert edit(ines, kind, 1, name="Another name").status_code == 200


def test_a_slip_in_the_room_is_asked_about_too(ines: Person) -> None:
    """2.1 °C for 21, 0.55 % for 55."""
    slipped = {"temperature": "2.1", "humidity": "0.55"}
    answer = ines.post("/room", slipped)
    assert {row["field"] for row in answer.json()["fields"]} == {"temperature", "humidity"}
    assert ines.post("/room", slipped | {"as_typed": ["temperature", "humidity"]}).status_code == 201


def test_a_limit_that_is_ten_times_what_it_was_is_asked_about(ines: Person) -> None:
    """A card that counts for 900 days would be gone through never again."""

    def put(value: str, *meant: str) -> Any:
        body = {"value": value, "as_typed": list(meant)}
        return ines.client.put("/api/v1/limits/safety", json=body, headers=ines.headers(1))

    assert code_at(put("900"), "value") == "slip"
    assert next(row["value"] for row in ines.get("/limits") if row["key"] == "safety") == "90"
    assert put("120").status_code == 200
    assert put("1200", "value").status_code == 200


def test_what_was_read_of_the_room_is_said_with_its_age(ines: Person) -> None:
    """On the bench and on the card before a print: last week's draught is not tonight's."""
    edit(ines, "filament", 1, family="asa")
    ines.post("/room", {"temperature": "21", "humidity": "62", "draught": True})
    for days, when in ((0, "today"), (9, f"9{NBSP}days ago")):
        ines.clock.now += timedelta(days=days)
        minds = ines.get(f"/setups/{ines.setup_id}/bench")["minds"]
        card = ines.get(f"/setups/{ines.setup_id}/pre-flight")
        room = next(row["text"] for row in card["ticks"] if row["lead"].startswith("Brim"))
        assert ines.get("/room")["detail"] == ("62 % damp" if days == 0 else f"read {when}")
        assert f"the room was read as draughty {when}: corners lift and layers split" in minds
        assert f"The room was read at 21.0 °C (69.8 °F) {when}. The room was draughty then" in room


def test_only_a_drying_that_dries_lets_wet_filament_go(ines: Person) -> None:
    """Too short, too cool and too hot are asked about; what a note lets pass is on the log, and counts if it dries."""
    ines.post(f"/setups/{ines.setup_id}/values", {"values": {"nozzle": "210"}})
    spool = add(ines, "spool", 1, name="14").json()["id"]

    def dried(hours: str, celsius: str, note: str = "", hours_ago: float = 0.0) -> Any:
        at = (ines.clock.now - timedelta(hours=hours_ago)).isoformat()
        entry = {"kind": "dried", "number": hours, "second": celsius, "note": note, "at": at}
        return ines.post(f"/spools/{spool}/entries", entry)

    def held() -> bool:
        return any(row["standing"] == "hold" for row in ines.get(f"/setups/{ines.setup_id}/bench")["steps"])

    wet = {"kind": "wet_test", "number": "7", "at": (ines.clock.now - timedelta(hours=30)).isoformat()}
    assert ines.post(f"/spools/{spool}/entries", wet).status_code == 201
    assert code_at(dried("0.6", "50"), "number") == "too_short"
    assert code_at(dried("6", "35"), "second") == "too_cool"
    assert code_at(dried("6", "75"), "second") == "too_hot"
    assert dried("1.5", "50", "the power went", hours_ago=20).status_code == 201
    assert held()
    (shown,) = ines.get("/filaments")[0]["spools"]
    assert (shown["dried"], shown["entries"][0]["sentence"]) == (
        "not dried enough to count", "dried 1.5 h at 50 °C: too short or too cool to count"
    )  # fmt: skip
    assert dried("2", "50", "the rest of it").status_code == 201
    assert not held()
    assert ines.get("/filaments")[0]["spools"][0]["dried"] == "dried today"


def test_a_number_that_makes_another_one_wrong_is_told_with_that_ones_name_and_unit(ines: Person) -> None:
    """A speed at which the label wants more heat: what lies outside is a temperature, not a speed."""
    edit(ines, "filament", 1, label="195-220; 210-235 from 80 mm/s")
    ines.post(f"/setups/{ines.setup_id}/values", {"values": {"nozzle": "205"}})
    typed = ines.post(f"/setups/{ines.setup_id}/values", {"values": {"speed_outer": "90"}})
    (problem,) = typed.json()["fields"]
    assert problem["field"] == "speed_outer"
    said = f"Speed, outer walls: nozzle, rest, 205{NBSP}°C lies outside the spool’s label at 90{NBSP}mm/s, 210–235{NBSP}°C."
    assert problem["message"].startswith(said)


def test_a_drying_behind_many_that_do_not_count_is_the_same_on_bench_and_card(ines: Person) -> None:
    """Each looks as far back into the log."""
    spool = add(ines, "spool", 1, name="14").json()["id"]
    assembly(ines, spool_id=spool)
    entry = {"kind": "dried", "number": "6", "second": "50"}
    assert ines.post(f"/spools/{spool}/entries", entry).status_code == 201
    for day in range(1, 8):
        ines.clock.now += timedelta(days=1)
        short = {"kind": "dried", "number": "0.5", "second": "50", "note": f"try {day}"}
        assert ines.post(f"/spools/{spool}/entries", short).status_code == 201
    (card,) = [row for row in ines.get(f"/setups/{ines.setup_id}/bench")["before"] if row["key"] == "filament"]
    ticks = ines.get(f"/setups/{ines.setup_id}/pre-flight")["ticks"]
    assert card["said"] == f"Filament: dry, dried 7{NBSP}days ago"
    assert any(row["text"].startswith(f"Dried 7{NBSP}days ago") for row in ticks)


def test_the_label_says_how_a_filament_is_dried_before_its_family_does(ines: Person) -> None:
    """In what waits and in what is asked: what dries its family would leave this one wet."""
    edit(ines, "filament", 1, dry_c="60", dry_h="8")
    spool = add(ines, "spool", 1, name="14").json()["id"]
    ines.post(f"/setups/{ines.setup_id}/values", {"values": {"nozzle": "210"}})
    assembly(ines, spool_id=spool)
    ines.post(f"/spools/{spool}/entries", {"kind": "wet_test", "number": "7"})
    (waits,) = ines.get(f"/setups/{ines.setup_id}/bench")["waiting"]
    assert "at 60 °C for 8 h or more" in waits["sentence"]
    cool = ines.post(f"/spools/{spool}/entries", {"kind": "dried", "number": "6", "second": "50"})
    assert code_at(cool, "second") == "too_cool"
    assert ines.post(f"/spools/{spool}/entries", {"kind": "dried", "number": "6", "second": "60"}).status_code == 201


def test_a_new_spool_of_the_same_filament_costs_a_look_at_flow_and_is_logged_once(ines: Person) -> None:
    """One wet test and one wall, not the chain; putting the old one on again logs nothing."""
    first, second = (add(ines, "spool", 1, name=name).json()["id"] for name in ("14", "15"))
    assert assembly(ines, spool_id=first).status_code == 201
    rows = ines.get(f"/setups/{ines.setup_id}/picks/filament")
    assert next(row["result"] for row in rows if row["text"].endswith("15")).startswith("Another spool of the same")
    for spool in (second, first, second):
        assembly(ines, spool_id=spool)
    changes = ines.get(f"/setups/{ines.setup_id}/bench")["changes"]
    assert [(row["kind"], row["note"]) for row in changes] == [("spool_same", "Spool 15 put on.")]


def test_the_room_is_read_in_either_scale(ines: Person) -> None:
    """72 °F is 22 °C."""
    assert ines.get("/room")["sentence"] == "Nobody has read the room yet."
    assert ines.post("/room", {"temperature": "72 F", "humidity": "55", "draught": True}).status_code == 201
    assert ines.get("/room")["sentence"] == "22.2 °C (72.0 °F), 55 % damp, in a draught; today, Ines"
    assert code_at(ines.post("/room", {"temperature": "400"}), "temperature") == "out_of_range"


def test_a_choice_says_what_results_before_it_goes_on_the_bench(ines: Person) -> None:
    """A new nozzle makes a new setup that starts with what belongs to the machine; back again is the old one."""
    ines.applied("98.4", "98.1", "98.6")
    nozzle = add(ines, "nozzle", 1, bore_mm="0.6", material="hardened").json()["id"]
    old, new = ines.get(f"/setups/{ines.setup_id}/picks/nozzle")
    assert (old["now"], old["result"]) == (True, "On record with 1 revision.")
    assert new["result"] == "A new setup. It starts with what belongs to its parts: E-steps."
    made = ines.post("/assemblies", new["form"]).json()
    assert made["nozzle"] == "0.6 hardened"
    assert ines.get(f"/setups/{made['id']}/bench")["steps"][1]["standing"] == "fresh"
    assert ines.post("/assemblies", old["form"]).json()["id"] == ines.setup_id
    assert assembly(ines, nozzle_id=nozzle).json()["id"] == made["id"]


def test_parts_that_do_not_belong_together_are_refused(ines: Person) -> None:
    """A nozzle that sits in another machine, a plate of another, a spool of another filament."""
    ines.post("/setups", MACHINE | {"machine": "Wren", "surface": "Tape", "filament": "Reed PLA"})
    spool = add(ines, "spool", 2, name="3").json()["id"]
    answer = assembly(ines, nozzle_id=2)
    assert code_at(answer, "nozzle_id") == "other_machine"
    assert "sits in Wren" in answer.json()["fields"][0]["message"]
    assert code_at(assembly(ines, surface_id=1), "surface_id") == "other_machine"
    assert code_at(assembly(ines, spool_id=spool), "spool_id") == "other_filament"
    assert code_at(assembly(ines, toolhead_id=99), "toolhead_id") == "missing"


def test_every_part_can_be_picked_and_the_machine_brings_its_own_nozzle_and_plate(ines: Person) -> None:
    """Nobody has to choose three things to change one."""
    ines.post("/setups", MACHINE | {"machine": "Wren", "surface": "Tape", "filament": "Reed PLA"})
    _, wren = ines.get(f"/setups/{ines.setup_id}/picks/machine")
    assert wren["title"] == "Wren, lined hotend, 0.4 brass, Tape, Fallow PLA oat"
    assert ines.post("/assemblies", wren["form"]).status_code == 201
    assert [row["text"] for row in ines.get(f"/setups/{ines.setup_id}/picks/filament")] == [
        "Fallow PLA oat",
        "Reed PLA",
    ]
    fit = next(row for row in ines.get(f"/setups/{ines.setup_id}/picks/purpose") if row["text"] == "joints")
    assert ines.post("/assemblies", fit["form"]).json()["purpose"] == "fit"
    assert [row["now"] for row in ines.get(f"/setups/{ines.setup_id}/picks/purpose")].count(True) == 1


def test_another_strand_is_another_filament(ines: Person) -> None:
    """1.75 measured, 2.85 entered afterwards: files would push it two and a half times as fast as it melts."""
    value = {"values": {"diameter": "2.84"}, "note": ""}
    wrong = ines.post(f"/setups/{ines.setup_id}/values", value)
    assert code_at(wrong, "diameter") == "out_of_range"
    assert edit(ines, "filament", 1, diameter_mm="2.85").status_code == 200, "nothing is known of it yet"
    assert ines.post(f"/setups/{ines.setup_id}/values", value).status_code == 201
    back = edit(ines, "filament", 1, diameter_mm="1.75")
    assert code_at(back, "diameter_mm") == "other_strand"
    assert "2.84 mm is on record" in back.json()["fields"][0]["message"]
