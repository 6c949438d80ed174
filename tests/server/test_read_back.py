"""Read back: a value is verified only by what the machine itself says, and what differs is explained."""

from __future__ import annotations

from typing import Any

import pytest

from tests.server.conftest import Person


def applied_value(ines: Person) -> Any:
    """The value of a run just applied: 419.45 steps/mm, from 412.6."""
    return ines.applied("98.4", "98.1", "98.6")["decision"]["values"][0]


def say(ines: Person, value: Any, typed: str) -> Any:
    """The response to what the machine says."""
    return ines.post(f"/setups/{ines.setup_id}/values/{value['id']}/read-backs", {"typed": typed})


@pytest.mark.parametrize(
    ("typed", "state", "said"),
    [
        ("419.45", "verified", "419.45"),
        ("419,45", "verified", "419.45"),
        ("419.450", "verified", "419.45"),
        (" = ", "verified", "419.45"),
        ("412.6", "differs", "the old value"),
        ("93", "differs", "93"),
        ("419.46", "differs", "419.46"),
    ],
)
def test_only_the_very_setting_verifies(ines: Person, typed: str, state: str, said: str) -> None:
    """To the last decimal the machine keeps; the old value has its own explanation: it was not saved."""
    answer = say(ines, applied_value(ines), typed)
    assert answer.status_code == 201, answer.text
    found = answer.json()["read_back"]
    assert found["state"] == state
    assert said in found["sentence"]


def test_a_run_begins_with_what_is_on_record_where_the_machine_says_the_same(ines: Person) -> None:
    """By one key; where nothing is on record there is nothing to be the same as."""
    assert ines.start(current="=")["fields"][0]["field"] == "current"
    applied_value(ines)
    run = ines.start(current="=")
    assert "419.45" in str(run["cells"])


@pytest.mark.parametrize("typed", ["", "dark", "-419.45", "0"])
def test_what_no_machine_says_is_asked_again_at_the_field(ines: Person, typed: str) -> None:
    """And the value stays unverified."""
    value = applied_value(ines)
    answer = say(ines, value, typed)
    assert answer.status_code == 422
    assert [row["field"] for row in answer.json()["fields"]] == ["typed"]
    step = ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]
    assert step["value"]["read_back"]["state"] == "unverified"


def test_the_last_thing_read_back_counts_and_the_earlier_ones_are_kept(ines: Person) -> None:
    """Saved in the second try."""
    value = applied_value(ines)
    assert say(ines, value, "412.6").json()["read_back"]["state"] == "differs"
    assert say(ines, value, "419.45").json()["read_back"]["state"] == "verified"
    assert ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]["unverified"] is False


def test_a_value_that_was_replaced_is_not_read_back_any_more(ines: Person) -> None:
    """An old screen left open must not verify what is no longer set."""
    old = applied_value(ines)
    ines.applied("98.2", "98.3", "98.1", current="419.45")
    answer = say(ines, old, "419.45")
    assert (answer.status_code, answer.json()["code"]) == (409, "value_replaced")


def test_after_going_back_the_value_left_behind_is_the_old_one(ines: Person) -> None:
    """The machine still says what it was sent last: the restored value was not saved."""
    applied_value(ines)
    ines.applied("98.2", "98.3", "98.1", current="419.45")
    restored = ines.post(f"/setups/{ines.setup_id}/restorations", {"number": 1}, version=2)
    assert restored.status_code == 201, restored.text
    step = ines.get(f"/setups/{ines.setup_id}/bench")["steps"][1]
    assert step["value"]["setting"] == "419.45"
    assert "the old value" in say(ines, step["value"], "427.14").json()["read_back"]["sentence"]
