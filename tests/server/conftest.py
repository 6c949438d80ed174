"""A browser's view of an empty workshop, and short ways to do what a person does."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import psycopg
import pytest
from fastapi import FastAPI
from playhouse.pool import PooledPostgresqlDatabase
from starlette.testclient import TestClient

from ubrex.server.api.app import AppSettings, create_app
from ubrex.server.desk import Desk
from ubrex.server.runtime.cluster import APP, DATABASE, Cluster
from ubrex.server.store import database as store
from ubrex.server.workshop import read_backup

_KEYS = itertools.count()

MACHINE = {
    "machine": "Heron", "feed_path": "bowden", "keeps_setting": "command_pair", "setting_places": "2", "runaway": "tested",
    "liner": "lined", "hotend_max": "", "bore": "0.4", "nozzle_material": "brass", "filament": "Fallow PLA oat",
    "family": "pla",
}  # fmt: skip
"""A setup form as typed."""

CALLIPER = {"name": "Calliper 2", "kind": "calliper", "resolution": "0.01", "max_permissible_error": "0.03"}


@dataclass
class Clock:
    """A clock that goes on only when told."""

    now: datetime = datetime(2026, 11, 25, 19, 0, tzinfo=UTC)

    def __call__(self) -> datetime:
        return self.now

    def wait(self, **passed: float) -> None:
        """Let time pass."""
        self.now += timedelta(**passed)


@dataclass
class Person:
    """Somebody at the bench, with a browser."""

    client: TestClient
    clock: Clock
    id: int = 0
    setup_id: int = 0
    answers: list[Any] = field(default_factory=list)

    def headers(self, version: int | None = None, key: str | None = None) -> dict[str, str]:
        """Headers of a write."""
        return {
            "Ubrex-Person": str(self.id),
            "Idempotency-Key": key or f"test-key-{next(_KEYS)}",
            **({} if version is None else {"If-Match": f'"{version}"'}),
        }

    def get(self, path: str) -> Any:
        """What a GET answers; it must work."""
        answer = self.client.get(f"/api/v1{path}", headers={"Ubrex-Person": str(self.id)})
        assert answer.status_code == 200, answer.text
        return answer.json()

    def post(self, path: str, body: Any = None, *, version: int | None = None, key: str | None = None) -> Any:
        """The response to a POST, whatever it is."""
        self.clock.wait(seconds=20)
        return self.client.post(f"/api/v1{path}", json=body, headers=self.headers(version, key))

    def patch(self, path: str, body: Any, *, version: int) -> Any:
        """The response to a PATCH, whatever it is."""
        return self.client.patch(f"/api/v1{path}", json=body, headers=self.headers(version))

    def begin(self) -> Person:
        """Give the empty workshop its first setup."""
        form = {"workshop": "Lanternfold", "setup": MACHINE, "instrument": CALLIPER, "person": {"name": "Ines"}}
        made = self.post("/first-setup", form)
        assert made.status_code == 201, made.text
        self.id, self.setup_id = made.json()["person"]["id"], made.json()["setup_id"]
        return self

    def start(self, current: str = "412.6", **typed: Any) -> Any:
        """Start an e-steps run; the run, or the problem."""
        return self.post("/runs", self.esteps_form(current, **typed)).json()

    def esteps_form(self, current: str = "412.6", **typed: Any) -> dict[str, Any]:
        """The start form of an e-steps run; what is no part of a run itself is a field of it."""
        own = ("setup_id", "method", "instrument_id", "as_typed")
        form = {"setup_id": self.setup_id, "step": "e_steps", "method": "open_air", "instrument_id": 1}
        values = {name: value for name, value in typed.items() if name not in own}
        form |= {name: value for name, value in typed.items() if name in own}
        return form | {"values": {"current": current, "commanded": "100"} | values}

    def read(self, run_id: int, typed: str, **more: Any) -> Any:
        """The response to a reading."""
        body = {"typed": typed, "taken_at": self.clock.now.isoformat()} | more
        return self.post(f"/runs/{run_id}/readings", body)

    def measured(self, *typed: str, current: str = "412.6") -> Any:
        """A run with its readings taken."""
        run = self.start(current)
        for text in typed:
            answer = self.read(run["id"], text)
            assert answer.status_code == 201, answer.text
            run = answer.json()
        return run

    def decide(self, run: Any, action: str, **more: Any) -> Any:
        """The response to a decision."""
        return self.post(f"/runs/{run['id']}/decision", {"action": action} | more, version=run["version"])

    def applied(self, *typed: str, current: str = "412.6") -> Any:
        """A run applied."""
        answer = self.decide(self.measured(*typed, current=current), "apply")
        assert answer.status_code == 201, answer.text
        return answer.json()


@pytest.fixture
def clock() -> Clock:
    """A clock in the hand of the test."""
    return Clock()


@pytest.fixture(scope="session")
def app() -> FastAPI:
    """The application; making it takes longer than most tests, so they share it."""
    return create_app(AppSettings())


@pytest.fixture
def nobody(app: FastAPI, workshop_url: str, clock: Clock) -> Iterator[Person]:
    """A browser on an empty workshop, with the clock of the test."""
    assert workshop_url
    app.state.desk = Desk(clock)
    with TestClient(app, base_url="http://localhost") as client:
        yield Person(client, clock)


@pytest.fixture
def ines(nobody: Person) -> Person:
    """Somebody whose workshop has its first setup."""
    return nobody.begin()


@pytest.fixture
def labelled(ines: Person) -> Person:
    """A machine whose size is entered, and a filament with its label."""
    # Its forms are read by helpers of a test module, which itself needs this one.
    from tests.server.test_inventory import edit

    answer = edit(ines, "machine", 1, width_mm="220", depth_mm="220", height_mm="250", bed_max_c="80")
    assert answer.status_code == 200, answer.text
    assert edit(ines, "filament", 1, label="200-230").status_code == 200
    return ines


@pytest.fixture(scope="session")
def _sample_template(cluster: Cluster, owner: psycopg.Connection, sample_backup: Path) -> str:
    """Name of a database with the sample workshop in it: a year of runs takes seconds to write, a copy of it none."""
    owner.execute(f"CREATE DATABASE sample_template TEMPLATE {DATABASE}")
    pool = store.connect_to(cluster.url(APP, "sample_template"))
    with pool.connection_context():
        applied = store.applied_migrations()
    Desk().do(lambda work: read_backup(work, sample_backup, applied=applied), None)
    pool.close_all()
    return "sample_template"


@dataclass
class Samples:
    """Copies of a database, one after the other: a copy into which nothing was written serves again."""

    owner: psycopg.Connection
    template: str
    url: str
    pool: PooledPostgresqlDatabase | None = None
    made_at: int = 0

    def fresh(self) -> Desk:
        """The desk of a copy that is as its template."""
        if self.pool is None or self._written() != self.made_at:
            self.close()
            self.owner.execute("DROP DATABASE IF EXISTS sample")
            self.owner.execute(f"CREATE DATABASE sample TEMPLATE {self.template}")
            self.pool = store.connect_to(self.url)
            self.made_at = self._written()
        store.database.initialize(self.pool)
        return Desk()

    def close(self) -> None:
        """End its connections."""
        if self.pool is not None:
            self.pool.close_all()

    def _written(self) -> int:
        """How many transactions have written anything anywhere on this server: only those are given a number."""
        row = self.owner.execute("SELECT pg_snapshot_xmax(pg_current_snapshot())::text::bigint").fetchone()
        assert row is not None
        return int(row[0])


@pytest.fixture(scope="session")
def samples(cluster: Cluster, owner: psycopg.Connection, _sample_template: str) -> Iterator[Samples]:
    """Copies of the sample workshop."""
    samples = Samples(owner, _sample_template, cluster.url(APP, "sample"))
    yield samples
    samples.close()


@pytest.fixture
def sample(samples: Samples) -> Desk:
    """The sample workshop: old values, wet filament, an unknown liner, a machine that was rebuilt."""
    return samples.fresh()
