"""Every operation of the contract, with what its schema allows and a little that it does not: an answer, never a failure."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from fastapi import FastAPI
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from starlette.testclient import TestClient

from tests.server.conftest import Clock, Person, Samples
from tests.server.test_garbage import is_problem, json_values
from tests.strategies import examples
from ubrex.server.api.app import AppSettings, create_app
from ubrex.server.desk import utc_now

CONTRACT: dict[str, Any] = create_app(AppSettings()).openapi()

EXAMPLES = examples(4)

KINDS = ("machine", "hotend", "nozzle", "surface", "filament", "spool", "instrument")

typed = (
    "",
    " ",
    "0",
    "1",
    "-1",
    "98.4",
    "98,4",
    "0.4",
    "210",
    "1e9",
    "200-230",
    "2026-11-20",
    "3 h",
    "70 F",
    "Heron",
    "\n",
)
texts = st.sampled_from(typed) | st.text(max_size=8)
"""What is typed into fields of every kind."""


def operations(*methods: str) -> list[tuple[str, str]]:
    """Methods and paths of the contract that take JSON, or nothing at all."""
    return [
        (method, path)
        for path, taken in CONTRACT["paths"].items()
        for method, operation in taken.items()
        if method in methods and set(operation.get("requestBody", {}).get("content", {})) <= {"application/json"}
    ]


def bodies(schema: dict[str, Any], depth: int = 0) -> st.SearchStrategy[Any]:
    """Values that a schema of the contract allows, as far as it says."""
    if "$ref" in schema:
        return bodies(CONTRACT["components"]["schemas"][schema["$ref"].rpartition("/")[2]], depth)
    if "enum" in schema or "const" in schema:
        return st.sampled_from(schema.get("enum") or [schema["const"]])
    if "anyOf" in schema or "oneOf" in schema:
        return st.one_of([bodies(one, depth) for one in schema.get("anyOf") or schema["oneOf"]])
    match schema.get("type"):
        case "object" if "properties" in schema:
            needed = set(schema.get("required", ()))
            fields = {name: bodies(one, depth + 1) for name, one in schema["properties"].items()}
            return st.fixed_dictionaries(
                {name: one for name, one in fields.items() if name in needed},
                optional={name: one for name, one in fields.items() if name not in needed},
            )
        case "object":
            extra = schema.get("additionalProperties")
            return st.dictionaries(texts, bodies(extra if isinstance(extra, dict) else {}, depth + 1), max_size=3)
        case "array":
            return st.lists(bodies(schema["items"], depth + 1), max_size=3)
        case "string" if schema.get("format") == "date-time":
            return st.sampled_from(["2026-11-20T19:00:00Z", "2020-01-01T00:00:00+14:00", "9999-12-31T23:59:59Z"])
        case "string":
            return texts
        case "integer":
            return st.integers(0, 12) | st.integers(-(2**40), 2**40)
        case "number":
            return st.floats(-1e6, 1e6)
        case "boolean":
            return st.booleans()
        case "null":
            return st.none()
    return json_values


@pytest.fixture(scope="module")
def bo(app: FastAPI, samples: Samples) -> Iterator[Person]:
    """A person in the sample workshop, who goes on from operation to operation with what was made of it."""
    app.state.desk = samples.fresh()
    with TestClient(app, base_url="http://localhost") as client:
        yield Person(client, Clock(utc_now()), id=1)


def retyped(data: st.DataObject, values: dict[str, str]) -> dict[str, str]:
    """A form with something else in a few of its fields, beginning with what was there or with a number near it."""
    names = data.draw(st.lists(st.sampled_from(sorted(values)), max_size=3), label="names")
    near = {
        name: st.sampled_from([values[name], f"{values[name]}0", f"-{values[name]}", values[name][:1]])
        for name in names
    }
    return values | {name: data.draw(texts | near[name], label=name) for name in names}


def told(answer: Any) -> int:
    """The status of an answer: done, or refused in words."""
    assert answer.status_code < 500, answer.text
    if answer.status_code >= 400:
        assert is_problem(answer)
    return int(answer.status_code)


def send(bo: Person, method: str, path: str, data: st.DataObject, body: Any) -> None:
    """Send it to something that is there, and look at the answer."""
    address = path
    for part in {one.partition("}")[0] for one in path.split("{")[1:]}:
        known = st.sampled_from([*KINDS, "life"]) if part in {"kind", "key"} else st.integers(1, 40)
        address = address.replace(f"{{{part}}}", str(data.draw(known, label=part)))
    headers = bo.headers(version=data.draw(st.integers(1, 4), label="version"))
    told(bo.client.request(method, address, headers=headers, json=body))


@pytest.mark.parametrize(("method", "path"), operations("post", "put", "patch", "delete"))
def test_what_the_contract_allows_is_done_or_refused_in_words(bo: Person, method: str, path: str) -> None:
    """On machines, setups and runs of a workshop that has been in use for a year."""
    content = CONTRACT["paths"][path][method].get("requestBody", {}).get("content", {})
    schema = content.get("application/json", {}).get("schema")

    @settings(max_examples=EXAMPLES, suppress_health_check=list(HealthCheck))
    @given(data=st.data())
    def tried(data: st.DataObject) -> None:
        body = None if schema is None else data.draw(bodies(schema), label="body")
        send(bo, method, path, data, body)

    tried()


@pytest.mark.parametrize(("method", "path"), operations("get"))
def test_whatever_is_asked_for_is_shown_or_not_there(bo: Person, method: str, path: str) -> None:
    """With ids that are there, and some that are not."""

    @settings(max_examples=EXAMPLES, suppress_health_check=list(HealthCheck))
    @given(data=st.data())
    def tried(data: st.DataObject) -> None:
        send(bo, method, path, data, None)

    tried()


@pytest.mark.parametrize("kind", KINDS)
def test_a_record_typed_over_anywhere_is_kept_or_refused_in_words_and_can_be_opened_again(
    bo: Person, kind: str
) -> None:
    """Whatever was typed into a few fields of its form; and what it is part of is still shown."""
    seen: set[int] = set()

    @settings(max_examples=8 * EXAMPLES, suppress_health_check=list(HealthCheck))
    @given(data=st.data())
    def tried(data: st.DataObject) -> None:
        form = bo.get(f"/records/{kind}/1")
        values = retyped(data, {field["name"]: field["value"] for field in form["fields"]})
        headers = bo.headers(version=form["version"])
        answer = bo.client.put(f"/api/v1/records/{kind}/1", json={"values": values, "parent_id": None}, headers=headers)
        seen.add(told(answer))
        assert bo.get("/setups/1/bench")["setup"]["id"] == 1
        assert bo.get(f"/records/{kind}/1")["version"] >= form["version"]

    tried()
    assert 422 in seen
    assert 200 in seen


@pytest.mark.parametrize("step", ["z_offset", "temperature", "flow", "retraction"])
def test_a_start_form_typed_over_anywhere_shows_its_piece_or_says_why_not(bo: Person, step: str) -> None:
    """Then the run is started with it or refused, and shown."""
    setups = [row["id"] for row in bo.get("/setups")]

    @settings(max_examples=4 * EXAMPLES, suppress_health_check=list(HealthCheck))
    @given(data=st.data())
    def tried(data: st.DataObject) -> None:
        setup_id = data.draw(st.sampled_from(setups), label="setup")
        way = data.draw(st.sampled_from(bo.get(f"/setups/{setup_id}/starts/{step}")["methods"]), label="way")
        values = retyped(data, {field["name"]: field["value"] for field in way["fields"]})
        form = {"method": way["method"], "values": values}
        told(bo.post(f"/setups/{setup_id}/pieces", form))
        started = bo.post("/runs", form | {"setup_id": setup_id, "step": step, "instrument_id": 1})
        if told(started) == 201:
            run = started.json()
            assert bo.get(f"/runs/{run['id']}")["step"] == step
            told(bo.client.get(f"/api/v1/runs/{run['id']}/files/piece"))
            assert told(bo.post(f"/runs/{run['id']}/leave", version=run["version"])) == 201

    tried()
