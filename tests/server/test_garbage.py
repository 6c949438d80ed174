"""Nothing that can be sent brings the server down or gets an answer of another form."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi import FastAPI
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.server.conftest import MACHINE, Person
from tests.strategies import examples
from ubrex.server.api.app import AppSettings, create_app

json_values = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(10**12), 10**12)
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(max_size=20),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=10), inner, max_size=3),
    max_leaves=6,
)


def operations() -> list[tuple[str, str]]:
    """Every method and path of the contract."""
    paths: dict[str, Any] = create_app(AppSettings()).openapi()["paths"]
    return [(method.upper(), path) for path, methods in paths.items() for method in methods]


def is_problem(answer: Any) -> bool:
    """Whether an answer is a problem in the one form, said in words."""
    body = answer.json()
    assert answer.headers["content-type"] == "application/problem+json"
    assert body["status"] == answer.status_code
    assert body["type"].startswith("urn:ubrex:")
    return bool(body["detail"].strip())


@pytest.mark.parametrize(("method", "path"), operations())
def test_an_unknown_id_and_an_empty_body_get_a_problem(ines: Person, method: str, path: str) -> None:
    """On every path of the contract that names something or takes something."""
    asked = path
    for name in ("setup_id", "run_id", "reading_id", "value_id", "instrument_id", "number"):
        asked = asked.replace(f"{{{name}}}", "987654")
    answer = ines.client.request(method, asked, headers=ines.headers(1), json=None if method == "GET" else {})
    if "{" in path or (method == "POST" and answer.status_code >= 400):
        assert 400 <= answer.status_code < 500
        assert is_problem(answer)
    else:
        assert answer.status_code in {200, 201}


@pytest.mark.parametrize(
    ("path", "good"),
    [
        (
            "/runs",
            {"setup_id": 1, "method": "open_air", "instrument_id": 1, "current": "412.6", "commanded": "100"},
        ),
        ("/setups", MACHINE | {"machine": "Wren"}),
        ("/instruments", {"values": {"name": "Tape", "kind": "ruler", "resolution": "1"}}),
        ("/people", {"name": "Bo"}),
    ],
    ids=lambda value: value if isinstance(value, str) else "",
)
def test_a_field_of_any_kind_is_taken_or_refused_never_a_failure(ines: Person, path: str, good: dict[str, Any]) -> None:
    """Each field in turn holds whatever JSON can hold."""

    @settings(max_examples=examples(20), suppress_health_check=list(HealthCheck))
    @given(field=st.sampled_from(sorted(good)), value=json_values)
    def send(field: str, value: Any) -> None:
        answer = ines.post(path, good | {field: value})
        assert answer.status_code in {201, 404, 409, 422}, answer.text
        if answer.status_code != 201:
            assert is_problem(answer)

    send()


@pytest.mark.parametrize(
    "typed",
    [
        "9" * 12,
        "1e400",
        "inf",
        "nan",
        "٣",
        "98.4\N{NULL}",
        "98.4\n98.1",
        "'; DROP TABLE reading; --",
        "98..4",
        "-",
        ",",
    ],
)
def test_a_reading_of_any_text_is_a_question_at_its_field(ines: Person, typed: str) -> None:
    """And nothing is stored."""
    run = ines.start()
    answer = ines.read(run["id"], typed)
    assert answer.status_code == 422
    assert [row["field"] for row in answer.json()["fields"]] == ["typed"]
    assert ines.get(f"/runs/{run['id']}")["readings"] == []


@pytest.mark.parametrize(
    ("path", "form", "field"),
    [
        ("/people", {"name": "Bo\0"}, "name"),
        ("/setups/1/notes", {"text": "Rod\0 oiled."}, "text"),
        ("/setups", MACHINE | {"machine": "Wr\0en"}, "machine"),
        ("/first-setup", {"workshop": "L", "setup": MACHINE, "instrument": {}, "person": {"name": "B\0"}}, "name"),
        ("/people", {"name": "Bo", "n\0": [1]}, "text"),
        ("/runs/1/photos?note=a%00b", None, "note"),
    ],
)
def test_a_character_that_cannot_be_kept_is_refused_at_its_field(
    ines: Person, path: str, form: dict[str, Any] | None, field: str
) -> None:
    """However deep it sits; the same text with two plain letters that look like its escape is taken."""
    answer = ines.post(path, form)
    assert answer.status_code == 422
    assert [(row["field"], row["code"]) for row in answer.json()["fields"]] == [(field, "nul")]
    assert ines.post("/people", {"name": r"Bo \u0000"}).status_code == 201


def test_ids_beyond_what_the_database_holds_are_not_found(ines: Person) -> None:
    """2^63 is a number JSON can send."""
    for path in (f"/runs/{2**63}", f"/setups/{2**70}/bench"):
        answer = ines.client.get(f"/api/v1{path}")
        assert answer.status_code in {404, 422}
        assert is_problem(answer)
    answer = ines.post("/runs", {
        "setup_id": 2**63, "method": "open_air", "instrument_id": 1, "current": "412.6", "commanded": "100",
    })  # fmt: skip
    assert answer.status_code in {404, 422}


def test_the_contract_names_every_answer(app: FastAPI) -> None:
    """No operation answers with a shape that the front end's types do not know."""
    for path, methods in app.openapi()["paths"].items():
        for method, operation in methods.items():
            for status, answer in operation["responses"].items():
                if path.endswith(("/backup", "/files/{key}", "photos/{photo_id}")) and status == "200":
                    continue
                (content,) = answer["content"].values()
                shape = content["schema"]
                assert "$ref" in shape or "$ref" in shape.get("items", {}), (method, path, status)
