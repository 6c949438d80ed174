"""What was thrown at a running Ubrex: each gets a sentence, and leaves nothing behind."""

from __future__ import annotations

import hashlib
import io
import json
import os
import shutil
import signal
import threading
import time
import zipfile
from pathlib import Path
from typing import Any

import psycopg
import pytest
from fastapi import FastAPI
from starlette.testclient import TestClient

from tests.server.conftest import MACHINE, Person
from tests.server.test_garbage import is_problem
from tests.server.test_inventory import edit
from tests.serving import new_folder
from ubrex.server.api.app import AppSettings, create_app
from ubrex.server.desk import Desk, hash_passphrase
from ubrex.server.profile import type_values
from ubrex.server.runtime import cluster as cluster_of
from ubrex.server.runtime.cluster import APP, DATABASE, OWNER, Cluster
from ubrex.server.runtime.folder import CannotRun, Folder
from ubrex.server.runtime.serve import Stopped
from ubrex.server.runtime.workshop import open_workshop, prepare
from ubrex.server.store import database as store
from ubrex.server.store.records import WORKSHOP_TABLES
from ubrex.server.views.values import TypedValuesIn
from ubrex.server.workshop import UnusableBackup, backup_bytes, read_backup

LANDED = Path(__file__).parent.parent / "data" / "migrations.json"
"""Migrations that workshops have run already, and what was in them."""


def test_a_backup_holds_one_moment_however_much_is_written_meanwhile(ines: Person) -> None:
    """A run is decided between one table and the next: either all of it is in the file, or nothing."""
    run = ines.measured("98.4", "98.1", "98.6")
    tables = store.database.get_tables

    def decided_between(*args: Any, **kwargs: Any) -> Any:
        if not answers:
            answers.append(None)
            thread = threading.Thread(target=lambda: answers.append(ines.decide(run, "apply")))
            thread.start()
            thread.join()
        return tables(*args, **kwargs)

    answers: list[Any] = []
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(store.database.obj, "get_tables", decided_between)
        content = Desk(ines.clock).do_still(backup_bytes, None)
    assert answers[1].status_code == 201
    with zipfile.ZipFile(io.BytesIO(content)) as backup:
        rows = {name: len(json.loads(backup.read(f"{name}.json"))) for name in ("decision", "tuned_value", "reading")}
        states = [row["state"] for row in json.loads(backup.read("run.json"))]
    assert (rows, states) in [
        ({"decision": 0, "tuned_value": 0, "reading": 3}, ["open"]),
        ({"decision": 1, "tuned_value": 1, "reading": 3}, ["decided"]),
    ]


def test_a_backup_without_some_of_its_rows_is_not_whole(ines: Person, cluster: Cluster, tmp_path: Path) -> None:
    """Nothing of it is put back; nor of a damaged or a bloated file, or one that is no backup at all."""
    content = ines.client.get("/api/v1/backup").content
    bloated = io.BytesIO()
    with zipfile.ZipFile(bloated, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("reading.json", b" " * 40_000_000)
    assert len(bloated.getvalue()) < 100_000
    file = tmp_path / "workshop.zip"
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as owner:
        owner.execute(f"CREATE DATABASE restored TEMPLATE {DATABASE}")
        pool = store.connect_to(cluster.url(APP, "restored"))
        applied = Desk().do(lambda _: store.applied_migrations(), None)
        try:
            for sent, said in (
                (repacked(content, lambda name, rows: rows[:-1] if name == "person.json" else rows), "rows of person"),
                (repacked(content, lambda name, rows: None if name == "setup.json" else rows), "rows of setup"),
                (bloated.getvalue(), "more than any workshop"),
                (content[:200] + b"\0" * 400 + content[600:], "damaged"),
                (b"[" * 3000, "is not a backup"),
            ):
                file.write_bytes(sent)
                with pytest.raises(UnusableBackup, match=said):
                    Desk().do(lambda work: read_backup(work, file, applied=applied), None)
            file.write_bytes(content)
            assert Desk().do(lambda work: read_backup(work, file, applied=applied), None) > 5
        finally:
            pool.close_all()
            owner.execute("DROP DATABASE restored WITH (FORCE)")


def repacked(content: bytes, change: Any) -> bytes:
    """A backup with other rows."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            rows = change(name, json.loads(old.read(name)))
            if rows is not None:
                new.writestr(name, json.dumps(rows))
    return out.getvalue()


@pytest.mark.parametrize(
    "moment", ["0001-01-01T00:00:00+14:00", "1999-12-31T23:59:59Z", "2100-01-01T00:00:00Z", "2026-11-20T19:00:00"]
)
def test_a_date_outside_this_century_or_without_its_offset_is_refused_at_its_field(ines: Person, moment: str) -> None:
    """Wherever one is sent."""
    run = ines.start()
    log = {"kind": "gear_tension", "happened_at": moment}
    printed = {"what": "owl", "hours": "1", "grams": "5", "outcome": "good", "happened_at": moment}
    for answer in (
        ines.read(run["id"], "98.4", taken_at=moment),
        ines.post(f"/setups/{ines.setup_id}/changes", log),
        ines.post(f"/setups/{ines.setup_id}/prints", printed),
        ines.client.get(
            f"/api/v1/setups/{ines.setup_id}/change-preview", params={"kind": "gear_tension", "happened_at": moment}
        ),
    ):
        assert answer.status_code == 422
        assert is_problem(answer)
        assert {row["field"] for row in answer.json()["fields"]} <= {"taken_at", "happened_at"}


def test_a_row_with_a_time_that_no_calendar_has_can_be_read_saved_and_brought_back(
    ines: Person, cluster: Cluster, workshop_url: str, tmp_path: Path
) -> None:
    """An older version took it. The next start backs it up as it is, and then it happened when it was written down."""
    run = ines.measured("98.4")
    url = cluster.url(OWNER, workshop_url.rpartition("/")[2])
    with psycopg.connect(url, autocommit=True) as owner:
        owner.execute("ALTER TABLE reading DISABLE TRIGGER USER")
        owner.execute("UPDATE reading SET taken_at = '0044-03-15 12:00:00+00 BC'")
        owner.execute("DELETE FROM schema_migration WHERE name = '0015_in_time'")
        assert ines.get(f"/runs/{run['id']}")["readings"][0]["taken_at"].startswith("0001-01-01")
        store.database.close_all()
        prepare(url, APP, tmp_path, lambda _: None)
        store.database.close_all()
        assert owner.execute("SELECT taken_at = received_at FROM reading").fetchall() == [(True,)]
    assert len(list(tmp_path.glob("before-*.zip"))) == 1


def test_what_is_written_later_is_later_whatever_the_clock_says(ines: Person) -> None:
    """It goes back three hours: a change still makes stale what was applied before it."""
    value = ines.applied("98.4", "98.1", "98.6")["decision"]["values"][0]
    ines.post(f"/setups/{ines.setup_id}/values/{value['id']}/read-backs", {"typed": value["setting"]})
    ines.clock.wait(hours=-3)
    assert ines.post(f"/setups/{ines.setup_id}/changes", {"kind": "extruder"}).status_code == 201
    bench = ines.get(f"/setups/{ines.setup_id}/bench")
    assert bench["steps"][1]["standing"] == "stale"
    assert "stands 3 h before its newest entry" in bench["minds"][0]


def test_a_name_cannot_end_the_line_it_stands_on(ines: Person) -> None:
    """Not where it is typed, not in the lines for a machine."""
    bo = ines.post("/people", {"name": "Bo\N{NO-BREAK SPACE}of\x1b the\nshed"}).json()["name"]
    assert bo == "Bo of the shed"
    note = ines.post(f"/setups/{ines.setup_id}/notes", {"text": "12\N{NO-BREAK SPACE}g\x07\nand more"}).json()["notes"][
        0
    ]["text"]
    assert note == "12\N{NO-BREAK SPACE}g\nand more"
    assert edit(ines, "machine", 1, name="Heron2\nM104 S299 ; ").status_code == 200
    ines.applied("98.4", "98.1", "98.6")
    text = ines.get(f"/setups/{ines.setup_id}/exports/commands")["text"]
    assert "M104 S299" in text
    assert not [line for line in text.splitlines() if line.startswith("M104")]


def test_one_diameter_typed_on_two_machines_at_once_is_written_twice_and_moves_each_flow_once(
    ines: Person,
) -> None:
    """No deadlock, no flow that one of them missed."""
    other = ines.post("/setups", MACHINE | {"machine": "Kestrel"}).json()["id"]
    for setup in (ines.setup_id, other):
        ines.post(f"/setups/{setup}/values", {"values": {"flow": "100"}})
    desk, failed = Desk(ines.clock), []

    def typed(setup: int, diameter: str) -> None:
        try:
            desk.do(type_values, ines.id, setup, TypedValuesIn(values={"diameter": diameter}))
        except Exception as error:
            failed.append(error)

    for number in range(6):
        ines.clock.wait(minutes=1)
        pair = [threading.Thread(target=typed, args=(ines.setup_id, f"1.7{number}"))]
        pair += [threading.Thread(target=typed, args=(other, f"1.7{number + 1}"))]
        for one in pair:
            one.start()
        for one in pair:
            one.join()
    assert failed == []
    flows = [value_of(ines, setup, "flow") for setup in (ines.setup_id, other)]
    diameter = value_of(ines, ines.setup_id, "diameter")
    assert flows == pytest.approx([100 * (diameter / 1.75) ** 2] * 2, abs=0.11)


def value_of(person: Person, setup: int, kind: str) -> float:
    """A number of a profile."""
    rows = json.loads(person.get(f"/setups/{setup}/exports/json")["text"])["values"]
    return next(float(row["number"]) for row in rows if row["kind"] == kind)


def test_a_changed_passphrase_ends_every_sign_in(workshop_url: str, ines: Person) -> None:
    """Thirty days are not kept for a browser that knows the old one."""
    assert workshop_url

    def browser(passphrase: str) -> FastAPI:
        return create_app(AppSettings(passphrase_hash=hash_passphrase(passphrase), clock=ines.clock))

    with TestClient(browser("owl head lamp bracket"), base_url="http://localhost") as client:
        assert client.post("/api/v1/session", json={"passphrase": "owl head lamp bracket"}).status_code == 200
        assert client.get("/api/v1/workshop").status_code == 200
        cookies = client.cookies
    with TestClient(browser("another of ten letters"), base_url="http://localhost", cookies=cookies) as client:
        assert client.get("/api/v1/workshop").status_code == 401
        deep = b'{"a":' * 20_000 + b'"\\u0000"' + b"}" * 20_000
        sent = {"Content-Type": "application/json"}
        assert client.post("/api/v1/backup", content=deep, headers=sent).status_code == 401


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Host": "["}, 421),
        ({"Origin": "http://["}, 403),
        ({"If-Match": f'"{"9" * 5000}"'}, 422),
        ({"Content-Length": "9" * 5000}, 413),
    ],
)
def test_headers_that_are_none_get_a_problem(ines: Person, headers: dict[str, str], status: int) -> None:
    """In the one form, with the headers of every answer."""
    run = ines.start()
    answer = ines.client.post(f"/api/v1/runs/{run['id']}/leave", headers=ines.headers(1) | headers)
    assert answer.status_code == status
    assert is_problem(answer)
    assert answer.headers["X-Content-Type-Options"] == "nosniff"


@pytest.mark.parametrize(
    ("content", "kind"),
    [
        ('{"name": "Bo\\u0000"}'.encode("utf-16"), "application/json"),
        (b'{"name": "Bo\\u0000"}', "application/vnd.bench+json"),
        (b'{"name":' + b"[" * 900 + b'"\\u0000"' + b"]" * 900 + b"}", "application/json"),
        (b"[" * 100_000, "application/json"),
    ],
)
def test_json_of_any_kind_and_depth_gets_a_problem(ines: Person, content: bytes, kind: str) -> None:
    """Never a failure."""
    answer = ines.client.post("/api/v1/people", content=content, headers=ines.headers() | {"Content-Type": kind})
    assert 400 <= answer.status_code < 500
    assert is_problem(answer)


def test_a_fault_of_ours_is_a_problem_too(ines: Person, app: FastAPI) -> None:
    """With the headers that browsers are told everywhere."""
    quiet = TestClient(app, base_url="http://localhost", raise_server_exceptions=False)
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr("ubrex.server.workshop.list_setups", lambda _: 1 // 0)
        answer = quiet.get("/api/v1/setups")
    assert ines.id
    assert (answer.status_code, answer.json()["code"]) == (500, "failed")
    assert is_problem(answer)
    assert answer.headers["Content-Security-Policy"]


def test_migrations_that_landed_are_never_edited() -> None:
    """A workshop that has run one would lack what was added to it afterwards: add another migration instead."""
    known = json.loads(LANDED.read_text())
    found = {path.stem: hashlib.sha256(path.read_bytes()).hexdigest() for path in store.MIGRATIONS.glob("[0-9]*.py")}
    assert {name: found.get(name) for name in known} == known


def test_a_workshop_of_a_newer_ubrex_is_not_opened(ines: Person, cluster: Cluster, workshop_url: str) -> None:
    """Its tables may mean something else by now."""
    url = cluster.url(OWNER, workshop_url.rpartition("/")[2])
    assert ines.id
    with psycopg.connect(url, autocommit=True) as owner:
        owner.execute("INSERT INTO schema_migration (name, applied) VALUES ('0999_later', now())")
        with pytest.raises(CannotRun, match="newer Ubrex"):
            prepare(url, APP, Path(), lambda _: None)
        store.database.close_all()
        owner.execute("DELETE FROM schema_migration WHERE name = '0999_later'")


OLD_FORM = """
ALTER TABLE hotend DROP COLUMN version;
DROP TABLE part_limit;
ALTER TABLE print DROP COLUMN machine_id, DROP COLUMN nozzle_id, DROP COLUMN surface_id, DROP COLUMN abrasive;
DROP INDEX tuned_value_of_toolhead, tuned_value_of_hotend;
DROP INDEX tuned_value_of_decision;
DROP TABLE photo_off;
DROP TRIGGER photo_is_kept ON photo;
ALTER TABLE photo ADD COLUMN removed_at timestamptz;
DELETE FROM schema_migration WHERE name IN ('0003_repaired', '0007_towers_repaired');
"""
"""What workshops were like whose migrations ran before they were finished."""


def test_a_workshop_of_an_unfinished_version_gets_what_it_lacks(
    ines: Person, cluster: Cluster, workshop_url: str, tmp_path: Path
) -> None:
    """Its prints know their machine, its photographs that they were taken off; every record has its columns."""
    printed = {"what": "owl", "hours": "1", "grams": "5", "outcome": "good"}
    assert ines.post(f"/setups/{ines.setup_id}/prints", printed).status_code == 201
    url = cluster.url(OWNER, workshop_url.rpartition("/")[2])
    with psycopg.connect(url, autocommit=True) as owner:
        owner.execute(OLD_FORM)
        prepare(url, APP, tmp_path, lambda _: None)
        store.database.close_all()
        assert owner.execute("SELECT machine_id, abrasive FROM print").fetchall() == [(1, False)]
    store.connect_to(url)
    with store.database.connection_context():
        for table in WORKSHOP_TABLES:
            columns = {column.name for column in store.database.get_columns(table._meta.table_name)}
            assert columns - {"only_one", "scope"} == {field.column_name for field in table._meta.sorted_fields}
    store.database.close_all()


def test_being_told_to_stop_while_opening_is_no_fault_of_the_database(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """In the middle of a question to it the driver complains as well; what was asked for is what happens."""

    def stopped_in_a_question(*_: object) -> None:
        try:
            raise Stopped
        except Stopped:
            raise psycopg.OperationalError("another command is already in progress")  # noqa: B904

    monkeypatch.delenv("DATABASE_URL", raising=False)
    monkeypatch.setattr(Cluster, "start", lambda _: None)
    monkeypatch.setattr(Cluster, "url", lambda *_: "")
    monkeypatch.setattr("ubrex.server.runtime.workshop.prepare", stopped_in_a_question)
    with pytest.raises(Stopped), open_workshop(Folder(tmp_path / "data"), lambda _: None):
        pass


def test_a_lost_secret_is_said_at_once(cluster: Cluster, monkeypatch: pytest.MonkeyPatch) -> None:
    """Not after five minutes of trying."""
    monkeypatch.setattr(cluster, "_passwords", {OWNER: "lost", APP: "lost"})
    monkeypatch.setattr(Cluster, "_end", lambda _: None)
    with pytest.raises(CannotRun, match=r"secrets\.json was lost or changed"):
        cluster._answers()


def test_a_database_that_was_killed_comes_back_whatever_goes_wrong_on_the_way(monkeypatch: pytest.MonkeyPatch) -> None:
    """The first try to start it again meets a process that ends while it is looked at, the second a fault of the system."""
    folder = Folder(new_folder())
    folder.make()
    server, said = Cluster(folder), list[str]()
    server.start()
    try:
        real, met = cluster_of._working_in, list[str]()

        def working_in(place: Path) -> list[int]:
            met.append("asked")
            if len(met) == 2:
                raise OSError("too many files are open")
            return [GONE] if len(met) == 1 else real(place)

        monkeypatch.setattr(cluster_of, "_working_in", working_in)
        # Whoever was killed leaves the number of a process behind that is long gone.
        assert server._server is not None
        os.kill(server._server.pid, signal.SIGKILL)
        server._server.wait()
        (folder.cluster / "postmaster.pid").write_text(f"{GONE}\n")
        server.keep_running(said.append)
        until = time.monotonic() + 30
        while not (answers := answering(server)) and time.monotonic() < until:
            time.sleep(0.1)
        assert answers, said
        assert len(met) > 2, "both went wrong"
        assert len(said) == 2
    finally:
        server.stop()
        shutil.rmtree(folder.path.parent)


GONE = 2**22 - 1
"""No process has a number so high."""


def answering(server: Cluster) -> bool:
    """Whether a database answers."""
    try:
        psycopg.connect(server.url(OWNER, "postgres"), connect_timeout=2).close()
    except psycopg.OperationalError:
        return False
    return True


def test_a_full_disk_is_said_and_leaves_nothing_half_made(monkeypatch: pytest.MonkeyPatch) -> None:
    """In the first start and in a later one; with room again the same folder opens."""
    folder = Folder(new_folder())
    folder.make()
    programs = folder.path.parent
    for name in ("initdb", "postgres"):
        (programs / name).write_text("#!/bin/sh\necho could not write: No space left on device >&2\nexit 1\n")
        (programs / name).chmod(0o755)

    def is_full() -> None:
        with monkeypatch.context() as full:
            full.setattr("ubrex.server.runtime.cluster._program", lambda name: str(programs / name))
            with pytest.raises(CannotRun, match="is full"):
                Cluster(folder).start()

    is_full()
    assert not folder.cluster.exists()
    for _ in range(2):
        server = Cluster(folder)
        server.start()
        server.stop()
        is_full()
    shutil.rmtree(programs)
