"""A private PostgreSQL for the whole session, and a fresh workshop in it for each test that asks."""

from __future__ import annotations

import fcntl
import os
import shutil
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import httpx2
import psycopg
import pytest
from hypothesis import settings
from playhouse.pool import PooledPostgresqlDatabase

from tests.serving import new_folder, served
from ubrex.server.runtime.cluster import APP, DATABASE, OWNER, SETTINGS, Cluster
from ubrex.server.runtime.folder import Folder
from ubrex.server.runtime.workshop import prepare
from ubrex.server.store import database as store
from ubrex.server.store.records import WORKSHOP_TABLES, Idempotency, Record, SignedIn

# No test asserts a time: on a busy machine an example may take as long as it likes. The deep profile: strategies.py.
settings.register_profile("any_machine", deadline=None)
settings.register_profile("deep", deadline=None)
settings.load_profile("any_machine")


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    """A running cluster whose database ``ubrex`` is migrated and empty: the template of all others."""
    path = Path(tempfile.mkdtemp(prefix="ubrex-test-"))
    path.chmod(0o755)
    folder = Folder(path)
    folder.make()
    # Nothing here has to outlive a power cut, and each test makes a database.
    server = Cluster(folder, {**SETTINGS, "fsync": "off", "synchronous_commit": "off", "full_page_writes": "off"})
    try:
        server.start()
        prepare(server.url(OWNER), APP, path, print)
        yield server
    finally:
        server.stop()
        shutil.rmtree(path)


BACKUP = "backup.zip"
SAMPLE = "UBREX_TESTS_SAMPLE"
"""Where the processes that share the tests find the sample workshop: the first that needs it fills it."""


def pytest_configure(config: pytest.Config) -> None:
    """Give all processes one place for the sample workshop."""
    if not hasattr(config, "workerinput"):
        os.environ[SAMPLE] = str(new_folder())


def pytest_unconfigure(config: pytest.Config) -> None:
    """Remove it when the last of them has ended."""
    if not hasattr(config, "workerinput"):
        shutil.rmtree(Path(os.environ.pop(SAMPLE)).parent)


@pytest.fixture(scope="session")
def sample_folder() -> Path:
    """Folder of the sample workshop as its command fills it, stopped: what is worked on is a copy. Beside it its backup."""
    folder = Path(os.environ[SAMPLE])
    backup = folder.parent / BACKUP
    with (folder.parent / "filled by one").open("w") as turn:
        fcntl.flock(turn, fcntl.LOCK_EX)
        if not backup.exists():
            with served("demo", "--data", str(folder), "--port", "8400") as running:
                written = httpx2.get(f"{running.address}/api/v1/backup", timeout=60).content
            backup.write_bytes(written)
    return folder


@pytest.fixture(scope="session")
def sample_backup(sample_folder: Path) -> Path:
    """Backup of the sample workshop."""
    return sample_folder.parent / BACKUP


@pytest.fixture(scope="session")
def owner(cluster: Cluster) -> Iterator[psycopg.Connection]:
    """The owner of the server: a connection that stays knows its way, and makes databases in a quarter of the time."""
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as connection:
        yield connection


@dataclass(frozen=True)
class OneWorkshop:
    """The database that all tests share, one after the other: its address, its pool, and a connection of its owner."""

    url: str
    pool: PooledPostgresqlDatabase
    owner: psycopg.Connection


@pytest.fixture(scope="session")
def _one_workshop(cluster: Cluster, owner: psycopg.Connection) -> Iterator[OneWorkshop]:
    """Its connections stay open from test to test."""
    owner.execute(f"CREATE DATABASE workshop TEMPLATE {DATABASE}")
    url = cluster.url(APP, "workshop")
    with psycopg.connect(cluster.url(OWNER, "workshop"), autocommit=True) as inside:
        # As a replica the guards against erasing do not fire: only here, and only for the owner of the server.
        inside.execute("SET session_replication_role = replica")
        yield OneWorkshop(url, pool := store.connect_to(url), inside)
        pool.close_all()


@pytest.fixture
def workshop_url(_one_workshop: OneWorkshop) -> str:
    """Address of an empty workshop, as the application's role; the records are bound to it."""
    emptied: tuple[type[Record], ...] = (*WORKSHOP_TABLES, SignedIn, Idempotency)
    # A few rows are deleted sooner than a hundred files are made anew, which is what TRUNCATE does.
    _one_workshop.owner.execute(";".join(f"DELETE FROM {table._meta.table_name}" for table in emptied))
    _one_workshop.owner.execute(
        "SELECT setval(format('%I', sequencename)::regclass, 1, false) FROM pg_sequences "
        "WHERE last_value IS NOT NULL AND sequencename <> 'schema_migration_id_seq'"
    )
    store.database.initialize(_one_workshop.pool)
    return _one_workshop.url
