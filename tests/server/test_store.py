"""What is kept stays kept: the database itself refuses, whatever the application does."""

from __future__ import annotations

import shutil
import zipfile
from pathlib import Path

import psycopg
import pytest

from tests.server.conftest import Person
from ubrex.server.runtime.cluster import APP, OWNER, Cluster
from ubrex.server.runtime.workshop import prepare
from ubrex.server.store import database as store
from ubrex.server.store.records import WORKSHOP_TABLES

KEPT = ["reading", "strike", "decision", "tuned_value", "read_back", "revision", "revision_value"]


@pytest.fixture
def filled(ines: Person) -> Person:
    """A workshop with something in each table that is kept."""
    run = ines.measured("98.4", "98.1", "98.6", "91.3")
    struck = ines.post(f"/runs/{run['id']}/readings/{run['readings'][-1]['id']}/strike", {"reason": "snag"}).json()
    value = ines.decide(struck, "apply").json()["decision"]["values"][0]
    ines.post(f"/setups/{ines.setup_id}/values/{value['id']}/read-backs", {"typed": value["setting"]})
    return ines


@pytest.mark.parametrize("table", KEPT)
def test_the_application_can_delete_nothing_that_is_kept(filled: Person, workshop_url: str, table: str) -> None:
    """Readings are struck, never erased: not by a bug, not by a console with the application's role."""
    assert filled.id
    with psycopg.connect(workshop_url, autocommit=True) as application:
        before = application.execute(f"SELECT count(*) FROM {table}").fetchone()
        assert before is not None
        assert before[0] > 0
        for statement in (f"DELETE FROM {table}", f"TRUNCATE {table} CASCADE"):
            with pytest.raises(psycopg.errors.InsufficientPrivilege):
                application.execute(statement)


@pytest.mark.parametrize("table", KEPT)
def test_not_even_the_owner_of_the_tables_deletes_by_accident(
    filled: Person, cluster: Cluster, workshop_url: str, table: str
) -> None:
    """With a server of one's own the application may own the tables: then the triggers hold."""
    assert filled.id
    with psycopg.connect(cluster.url(OWNER, workshop_url.rpartition("/")[2]), autocommit=True) as owner:
        with pytest.raises(psycopg.errors.IntegrityConstraintViolation):
            owner.execute(f"DELETE FROM {table}")


def test_a_reading_once_taken_is_never_changed(filled: Person, workshop_url: str) -> None:
    """Not its number, not its time, not who took it."""
    assert filled.id
    with psycopg.connect(workshop_url, autocommit=True) as application:
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            application.execute("UPDATE reading SET number = 99")


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE machine SET keeps_setting = 'magic'",
        "UPDATE nozzle SET bore_mm = 40",
        "UPDATE instrument SET resolution = 0",
        "UPDATE hotend SET max_c = 3000",
        "UPDATE run SET state = 'open', ended_at = now()",
        "INSERT INTO tuned_value (kind, toolhead_id, number, unit, origin, person_id, at) "
        "VALUES ('e_steps', 1, -5, 'steps/mm', 'typed', 1, now())",
        "INSERT INTO tuned_value (kind, filament_id, number, unit, origin, person_id, at) "
        "VALUES ('e_steps', 1, 400, 'steps/mm', 'typed', 1, now())",
    ],
)
def test_the_database_refuses_what_cannot_be(filled: Person, workshop_url: str, statement: str) -> None:
    """Physical ranges and scopes hold even where the services have a bug."""
    assert filled.id
    with psycopg.connect(workshop_url, autocommit=True) as application, pytest.raises(psycopg.errors.CheckViolation):
        application.execute(statement)


def test_the_application_role_is_no_superuser(cluster: Cluster) -> None:
    """A hole in the application is not a hole in the server."""
    with psycopg.connect(cluster.url(APP)) as application:
        row = application.execute(
            "SELECT rolsuper, rolcreatedb, rolcreaterole FROM pg_roles WHERE rolname = %s", (APP,)
        )
        assert row.fetchone() == (False, False, False)


def test_migrating_again_changes_nothing_and_records_match_the_tables(cluster: Cluster, workshop_url: str) -> None:
    """Every start migrates; each record's columns are those of its table."""
    store.connect_to(cluster.url(OWNER, workshop_url.rpartition("/")[2]))
    with store.database.connection_context():
        assert store.migrate() == []
        for table in WORKSHOP_TABLES:
            columns = {column.name for column in store.database.get_columns(table._meta.table_name)}
            assert columns - {"only_one", "scope"} == {field.column_name for field in table._meta.sorted_fields}
    store.database.close_all()


def test_a_backup_holds_every_table_but_those_of_this_computer(workshop_url: str, cluster: Cluster) -> None:
    """A table that no backup holds is lost with the computer: who is signed in, and what was sent twice, may be."""
    with psycopg.connect(cluster.url(OWNER, workshop_url.rpartition("/")[2])) as owner:
        rows = owner.execute("SELECT tablename FROM pg_tables WHERE schemaname = 'public'").fetchall()
    held = {table._meta.table_name for table in WORKSHOP_TABLES}
    assert {name for (name,) in rows} - held == {"signed_in", "idempotency", "schema_migration"}


def test_an_older_workshop_is_backed_up_before_it_is_migrated(
    filled: Person, cluster: Cluster, workshop_url: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The backup is named, and holds what was there; the next start has nothing to migrate and writes none."""
    newer = tmp_path / "migrations"
    shutil.copytree(store.MIGRATIONS, newer, ignore=shutil.ignore_patterns("__pycache__"))
    (newer / "9999_shelf.py").write_text(
        "def up(_migrator, db):\n    db.execute_sql('CREATE TABLE shelf (id integer)')\n"
    )
    monkeypatch.setattr(store, "MIGRATIONS", newer)
    said: list[str] = []
    url = cluster.url(OWNER, workshop_url.rpartition("/")[2])
    try:
        for _ in range(2):
            prepare(url, APP, tmp_path, said.append)
        (backup,) = tmp_path.glob("before-*.zip")
        assert said == [f"this workshop comes from an older Ubrex; a backup of it is in {backup}"]
        with zipfile.ZipFile(backup) as file:
            assert any(b"98.4" in file.read(name) for name in file.namelist())
        with psycopg.connect(url) as owner:
            assert owner.execute("SELECT count(*) FROM shelf, reading").fetchone() == (0,)
        assert filled.get(f"/setups/{filled.setup_id}/history")["revisions"]
    finally:
        store.database.close_all()
        with psycopg.connect(url, autocommit=True) as owner:
            owner.execute("DROP TABLE shelf")
            owner.execute("DELETE FROM schema_migration WHERE name LIKE '9999%'")
