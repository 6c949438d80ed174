"""A workshop that an earlier version wrote opens, and shows what it showed then: as a backup, and as a folder."""

from __future__ import annotations

import io
import json
import re
import shutil
import zipfile
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import psycopg
import pytest

from tests.server.conftest import Person
from ubrex.core.quantity import decimal_text
from ubrex.server.runtime.cluster import APP, OWNER, Cluster
from ubrex.server.runtime.workshop import prepare
from ubrex.server.store import database as store
from ubrex.server.store.records import WORKSHOP_TABLES

OLDER = Path(__file__).parent.parent / "data" / "older"
WRITTEN = datetime(2026, 11, 29, 8, 41, 14, tzinfo=UTC)
"""When the answers beside the backup were given: ages count from then."""


def shown_then() -> Any:
    """What the earlier version showed of its workshop: every number, what was decided and done. How far a number is believed
    is a judgement, and judged anew, as is a run that was left; and sentences may have become better ones.
    """
    shown = json.loads((OLDER / "workshop-2ae4bdd.json").read_text())
    for run in shown["runs"].values():
        if run["result"] is not None:
            run["result"].pop(2)
            run["result"] = run["result"][2 if run["state"] == "left" else 0 :]
    for setup in shown["setups"].values():
        del setup["next"]
        setup["steps"] = [[step, text, half_width] for step, _, _, text, half_width in setup["steps"]]
        setup["tonight"] = [[kind, text, half, typed] for kind, text, half, _, typed in setup["tonight"]]
    return shown


def step_of(row: Any) -> list[Any]:
    """A row of the chain with its value."""
    value = row["value"] or {}
    return [row["step"], value.get("text"), value.get("half_width_text")]


def setup_of(person: Person, setup_id: int) -> dict[str, Any]:
    """A setup as the bench and its history show it."""
    bench = person.get(f"/setups/{setup_id}/bench")
    return {
        "title": bench["setup"]["title"],
        "steps": [step_of(row) for row in bench["steps"]],
        "tonight": [
            [line["kind"], line["text"], line["half_width_text"], line["typed_in"]] for line in bench["tonight"]
        ],
        "revisions": [[row["number"], row["cause"]] for row in person.get(f"/setups/{setup_id}/history")["revisions"]],
    }


def run_of(person: Person, run_id: int) -> dict[str, Any]:
    """A run with its readings, its result, and what was decided."""
    run = person.get(f"/runs/{run_id}")
    names = ("verdict", "title", "proposal", "half_width_text", "keep_text")
    decision, left = run["decision"], 2 if run["state"] == "left" else 0
    return {
        "state": run["state"],
        "readings": [[row["text"], row["place"], row["struck"]] for row in run["readings"]],
        "result": None if run["result"] is None else [run["result"][name] for name in names[left:]],
        "values": None if decision is None else [[row["kind"], row["text"]] for row in decision["values"]],
    }


def as_then(now: Any, then: Any) -> Any:
    """A number as that version showed it, which rounded it to the place of its ±; today all of it stands on the row."""
    if isinstance(now, list) and isinstance(then, list) and len(now) == len(then):
        return [as_then(one, other) for one, other in zip(now, then, strict=True)]
    if not (isinstance(now, str) and isinstance(then, str) and re.fullmatch(r"\N{MINUS SIGN}?\d+(\.\d+)?", now)):
        return now
    number = float(now.replace("\N{MINUS SIGN}", "-"))
    return decimal_text(number, len(then.partition(".")[2]))


def assert_prints_are_attempts(person: Person, setup_id: int) -> None:
    """Each print that was written down then stands among the attempts at its part, with what was said of it."""
    for row in person.get(f"/setups/{setup_id}/prints")["prints"]:
        made = {one["id"]: one for one in person.get(f"/prints/{row['id']}/part")["attempts"]}
        assert (made[row["id"]]["said"], made[row["id"]]["note"]) == (row["said"], row["note"])


def assert_shows_the_same(person: Person) -> None:
    """Every setup and every run, row by row."""
    then, person.id = shown_then(), 1
    for setup_id, expected in then["setups"].items():
        shown = setup_of(person, int(setup_id))
        shown["steps"] = as_then(shown["steps"], expected["steps"])
        assert shown == expected, expected["title"]
        assert_prints_are_attempts(person, int(setup_id))
    for run_id, expected in then["runs"].items():
        shown = run_of(person, int(run_id))
        shown["values"] = as_then(shown["values"], expected["values"])
        assert shown == expected, run_id


def test_a_backup_of_an_earlier_version_shows_the_same(nobody: Person) -> None:
    """Put back by the button of an empty workshop."""
    nobody.clock.now = WRITTEN
    content = (OLDER / "workshop-2ae4bdd.zip").read_bytes()
    answer = nobody.client.post("/api/v1/backup", content=content, headers={"Content-Type": "application/zip"})
    assert answer.status_code in {200, 201}, answer.text
    assert_shows_the_same(nobody)


def test_a_folder_of_an_earlier_version_is_migrated_and_shows_the_same(
    nobody: Person, cluster: Cluster, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Its rows as they were stored then, and the migrations that came since, the last one interrupted once."""
    nobody.clock.now = WRITTEN
    backup = zipfile.ZipFile(io.BytesIO((OLDER / "workshop-2ae4bdd.zip").read_bytes()))
    known = json.loads(backup.read("backup.json"))["migrations"]
    then = tmp_path / "migrations"
    then.mkdir()
    for path in store.MIGRATIONS.glob("*.py"):
        if path.stem in known or path.stem.startswith("__"):
            shutil.copy(path, then)
    url = cluster.url(OWNER, "older")
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as owner:
        owner.execute("CREATE DATABASE older")
        try:
            with monkeypatch.context() as patched:
                patched.setattr(store, "MIGRATIONS", then)
                prepare(url, APP, tmp_path, lambda _: None)
            with psycopg.connect(url, autocommit=True) as database:
                database.execute("SET session_replication_role = replica")
                fill(database, backup)
            with monkeypatch.context() as patched:
                patched.setattr(store, "MIGRATIONS", interrupted(tmp_path / "interrupted"))
                with pytest.raises(RuntimeError):
                    prepare(url, APP, tmp_path, lambda _: None)
                store.database.close_all()
            said: list[str] = []
            prepare(url, APP, tmp_path, said.append)
            assert "comes from an older Ubrex" in said[0]
            store.database.close_all()
            store.connect_to(cluster.url(APP, "older"))
            assert_shows_the_same(nobody)
        finally:
            store.database.close_all()
            owner.execute("DROP DATABASE older WITH (FORCE)")


def interrupted(folder: Path) -> Path:
    """Migrations of which the last is cut off when it has done its work, and before that is kept."""
    shutil.copytree(store.MIGRATIONS, folder)
    last = max(folder.glob("0*.py"))
    cut = "\n_whole = up\n\ndef up(*given, **named):\n    _whole(*given, **named)\n    raise RuntimeError\n"
    last.write_text(last.read_text() + cut)
    return folder


def fill(database: psycopg.Connection[Any], backup: zipfile.ZipFile) -> None:
    """Rows of a backup, into tables of the version that wrote it."""
    names = {Path(name).stem for name in backup.namelist()}
    for kind in WORKSHOP_TABLES:
        table = kind._meta.table_name
        if table not in names:
            continue
        column_of = {field.name: field.column_name for field in kind._meta.sorted_fields}
        stored = json.loads(backup.read(f"{table}.json"))
        rows = [{column_of[name]: value for name, value in row.items()} for row in stored]
        if rows:
            columns = ", ".join(f'"{name}"' for name in rows[0])
            filled = (
                f"INSERT INTO {table} ({columns}) SELECT {columns} FROM jsonb_populate_recordset(NULL::{table}, %s)"
            )
            database.execute(filled, (json.dumps(rows),))
