"""One file for the whole workshop, and back."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import datetime
from pathlib import Path

import psycopg
import pytest
from PIL import Image

from tests.server.conftest import Person
from ubrex.server import bench, runs
from ubrex.server.desk import Desk, utc_now
from ubrex.server.profile import export_profile, show_history
from ubrex.server.runtime.cluster import APP, DATABASE, OWNER, Cluster
from ubrex.server.store import database as store
from ubrex.server.store.records import WORKSHOP_TABLES
from ubrex.server.workshop import UnusableBackup, read_backup, write_backup

APPLIED = ["0001_workshop", "0002_changes", "0003_records"]


TOWER_RUN = 17
"""The tower of the sample workshop: ratings come back too, and a photograph that was taken of a band."""


def _seen(now: datetime) -> list[object]:
    """What screens show of the workshop at one moment."""
    desk = Desk(lambda: now)
    return [
        desk.do(bench.show_bench, None, 1),
        desk.do(show_history, None, 1, None, None),
        desk.do(runs.list_runs, None),
        desk.do(runs.show_run, None, TOWER_RUN),
        desk.do(runs.show_photo, None, 1),
        *(desk.do(export_profile, None, 1, shape) for shape in ("json", "csv", "commands")),
    ]


def test_a_workshop_comes_back_from_its_backup_as_it_was(
    sample: Desk, owner: psycopg.Connection, cluster: Cluster, tmp_path: Path
) -> None:
    """Every screen shows the same, and the next run gets the next number."""
    now = utc_now()
    picture = io.BytesIO()
    Image.new("RGB", (300, 200), (90, 60, 30)).save(picture, "PNG")
    sample.do(runs.add_photo, 1, TOWER_RUN, picture.getvalue(), band=3, note="underside")
    before = _seen(now)
    file = tmp_path / "lanternfold.zip"
    assert sample.do(lambda work: write_backup(work, file, applied=APPLIED), None) > 50

    owner.execute(f"CREATE DATABASE restored TEMPLATE {DATABASE}")
    pool = store.connect_to(cluster.url(APP, "restored"))
    try:
        Desk().do(lambda work: read_backup(work, file, applied=APPLIED), None)
        after = _seen(now)
        assert [str(row) for row in after] == [str(row) for row in before]
        with pytest.raises(UnusableBackup, match="not empty"):
            Desk().do(lambda work: read_backup(work, file, applied=APPLIED), None)
    finally:
        pool.close_all()
        owner.execute("DROP DATABASE restored WITH (FORCE)")


def test_a_backup_is_a_zip_of_json_that_anybody_can_open(ines: Person, tmp_path: Path) -> None:
    """In twenty years, without Ubrex."""
    ines.applied("98.4", "98.1", "98.6")
    file = tmp_path / "backup.zip"
    Desk().do(lambda work: write_backup(work, file, applied=APPLIED), None)
    with zipfile.ZipFile(file) as backup:
        readings = json.loads(backup.read("reading.json"))
    assert [row["number"] for row in readings] == [98.4, 98.1, 98.6]


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda file: file.write_bytes(b"not a zip"), "not a backup"),
        (lambda file: _zip(file, {"format": "something/9", "migrations": []}), "not a backup"),
        (lambda file: _zip(file, {"format": "ubrex-backup/1", "migrations": ["0999_later"]}), "newer Ubrex"),
    ],
)
def test_a_file_that_is_no_usable_backup_is_refused_with_a_reason(
    workshop_url: str, tmp_path: Path, make: object, said: str
) -> None:
    """And nothing of it is put in."""
    assert workshop_url
    file = tmp_path / "wrong.zip"
    make(file)  # type: ignore[operator]
    with pytest.raises(UnusableBackup, match=said):
        Desk().do(lambda work: read_backup(work, file, applied=APPLIED), None)


def _zip(file: Path, head: dict[str, object]) -> None:
    with zipfile.ZipFile(file, "w") as backup:
        backup.writestr("backup.json", json.dumps(head))


def test_a_backup_is_put_back_by_a_button_and_only_into_an_empty_workshop(
    nobody: Person, cluster: Cluster, workshop_url: str
) -> None:
    """Downloaded, the workshop emptied by its owner, uploaded: the same bench. Into one that holds something: refused."""
    nobody.begin()
    nobody.applied("98.4", "98.1", "98.6")
    before = nobody.get("/setups/1/bench")
    content = nobody.client.get("/api/v1/backup").content
    headers = {"Content-Type": "application/zip"}
    answer = nobody.client.post("/api/v1/backup", content=content, headers=headers)
    assert answer.status_code == 422
    assert "not empty" in answer.json()["fields"][0]["message"]
    tables = ", ".join(table._meta.table_name for table in WORKSHOP_TABLES)
    with psycopg.connect(cluster.url(OWNER, workshop_url.rpartition("/")[2]), autocommit=True) as owner:
        owner.execute("SET session_replication_role = replica")
        owner.execute(f"TRUNCATE {tables} RESTART IDENTITY CASCADE")
    answer = nobody.client.post("/api/v1/backup", content=content, headers=headers)
    assert (answer.status_code, answer.json()["empty"]) == (201, False)
    assert nobody.get("/setups/1/bench") == before


@pytest.mark.parametrize(
    "content",
    [b"", b"PK\x03\x04 cut off", b"{}", None, {"backup.json": "[]"}, {"backup.json": '{"format": "other"}'}],
)
def test_a_bad_backup_gets_a_reason_and_the_workshop_stays_empty(
    nobody: Person, content: bytes | dict[str, str] | None, tmp_path: Path
) -> None:
    """Cut off, foreign, or with rows that no table takes: the next good one still finds an empty workshop."""
    if not isinstance(content, bytes):
        path = tmp_path / "bad.zip"
        head = {"format": "ubrex-backup/1", "migrations": APPLIED}
        parts = content or {"backup.json": json.dumps(head), "person.json": '[{"id": 1, "name": 5, "beard": true}]'}
        with zipfile.ZipFile(path, "w") as file:
            for name, text in parts.items():
                file.writestr(name, text)
        content = path.read_bytes()
    answer = nobody.client.post("/api/v1/backup", content=content, headers={"Content-Type": "application/zip"})
    assert (answer.status_code, answer.json()["fields"][0]["field"]) == (422, "file")
    assert nobody.get("/workshop")["empty"] is True
    assert nobody.begin().id
