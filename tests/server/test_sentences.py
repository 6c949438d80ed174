"""What a person is told: a verdict in one plain sentence for each thing readings can say."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import MACHINE, Person


def told(ines: Person, *typed: str, early: bool = False, **start: Any) -> Any:
    """The result of a run with these readings, each confirmed as typed where it is doubted."""
    run = ines.start(**start)
    for text in typed:
        answer = ines.read(run["id"], text)
        if answer.status_code == 422:
            doubt = answer.json()["fields"][0]
            assert doubt["confirmable"], doubt
            answer = ines.read(run["id"], text, as_typed=doubt["code"])
        assert answer.status_code == 201, answer.text
    return plain_spaces(ines.get(f"/runs/{run['id']}?early={str(early).lower()}")["result"])


def plain_spaces(result: Any) -> Any:
    """Spaces that do not break read like any other."""
    return {
        name: value.replace("\N{NO-BREAK SPACE}", " ") if isinstance(value, str) else value
        for name, value in result.items()
    }


@pytest.mark.parametrize(
    ("typed", "verdict", "title", "sentence"),
    [
        (
            ("98.4", "98.1", "98.6"),
            "apply",
            "Apply 419.45",
            "Your extruder feeds 98.37 of 100 mm; set 419.45 steps/mm (95 %: 416.76–422.14).",
        ),
        (("100.0", "100.1", "99.9"), "keep", "Leave it alone", "Within 1 %: good enough, go on."),
        (
            ("99.3", "99.9", "99.4"),
            "keep",
            "Leave it alone",
            "No error found; anything under 0.9 % would not show.",
        ),
        (
            ("98.9", "99.1", "99.0"),
            "try",
            "Try 416.77",
            "The error is probably real, but not proven to be worth a change. Best guess 416.77 steps/mm: "
            "set it and feed 100 mm three times more; that settles it.",
        ),
        (
            ("98.0", "99.6", "98.8"),
            "repeat",
            "Measure 3 more",
            "Uncertain by ± 2 %: 3 more readings should settle it.",
        ),
        (
            ("95", "100", "98.4"),
            "repeat",
            "Something is wrong",
            "The lengths differ by more than cutting error: look for slip at the gear or a snagging spool.",
        ),
        (
            ("70", "70.1", "69.9"),
            "refuse",
            "Something is wrong",
            "A change of 43 % is not a calibration error: check the current setting, the length that was commanded, "
            "and the gear.",
        ),
        (
            ("50", "50.2", "49.8"),
            "refuse",
            "Something is wrong",
            "A factor of 2 is not a calibration error: check the microstep setting of the driver and the gear ratio.",
        ),
    ],
)
def test_readings_are_answered_in_one_plain_sentence(
    ines: Person, typed: tuple[str, ...], verdict: str, title: str, sentence: str
) -> None:
    """The numbers in it are worked by hand from the readings."""
    result = told(ines, *typed)
    assert (result["verdict"], result["title"], result["sentence"]) == (verdict, title, sentence)


def test_a_tool_that_cannot_tell_says_so_and_what_would(ines: Person) -> None:
    """A rule of 1 mm steps on 100 mm: ± 1.96 x sqrt(1/3 + 1/12) = 1.27 %, however often it is read."""
    rule = ines.post("/instruments", {"values": {"name": "Batten", "kind": "ruler", "resolution": "1"}}).json()
    result = told(ines, "99", "99", "99", instrument_id=rule["id"])
    assert result["title"] == "These readings cannot tell"
    assert result["sentence"] == (
        "This tool cannot do better than ± 1.3 % on 100 mm: feed a longer length or use a finer tool."
    )
    assert result["limited_by"] == (
        "What limits it: the tool. Checking its zero is worth more than any number of repeats."
    )


def test_an_early_result_says_that_it_rests_on_a_usual_scatter(ines: Person) -> None:
    """And is *so far*: it may be looked at, not taken for the verdict."""
    result = told(ines, "98.4", "98.2", early=True)
    assert result["remarks"] == ["The ± comes from a usual scatter: fewer than three readings are in."]
    assert result["so_far"] is True


def test_a_marked_feed_that_ate_the_mark_and_one_that_fed_nothing_are_told_apart(ines: Person) -> None:
    """Below 0 the mark is inside; at the mark's own distance nothing came out."""
    run = ines.start(method="marked", mark="120")
    inside = ines.read(run["id"], "-2").json()["fields"][0]
    assert inside["message"] == "The mark cannot be inside: place it farther up and feed again."
    beyond = ines.read(run["id"], "600").json()["fields"][0]
    assert "nothing would have been fed" in beyond["message"]
    assert not inside["confirmable"]
    assert not beyond["confirmable"]


def test_a_marked_run_reads_its_remainder(ines: Person) -> None:
    """120 - 21.6 = 98.4 fed: the same verdict as a piece of 98.4 mm, with a wider ± for two readings of the scale."""
    cut = told(ines, "98.4", "98.1", "98.6")
    run = ines.get("/runs")["open"][0]
    version = ines.get(f"/runs/{run['id']}")["version"]
    ines.post(f"/runs/{run['id']}/leave", version=version)
    marked = told(ines, "21.6", "21.9", "21.4", method="marked", mark="120")
    assert marked["proposal"] == cut["proposal"]
    assert marked["verdict"] == "apply"


def test_a_hotend_that_is_not_known_keeps_the_careful_limit_and_a_stated_one_is_never_passed(ines: Person) -> None:
    """Heat cautions name the limit that holds."""
    form = MACHINE | {"filament": "Cinder ASA black", "family": "asa"}
    for liner, stated, said in (
        ("unknown", "", "where this one ends is not known"),
        ("lined", "", "Never above 240 °C: the limit of its liner"),
        ("all_metal", "230", "Never above 230 °C: the stated maximum of the hotend"),
    ):
        setup = ines.post("/setups", form | {"liner": liner, "hotend_max": stated}).json()
        cautions = ines.get(f"/setups/{setup['id']}/starts/e_steps")["methods"][0]["cautions"]
        heat = next(row["text"] for row in cautions if row["lead"] == "Heat").replace("\N{NO-BREAK SPACE}", " ")
        assert said in heat
