"""A private PostgreSQL for the whole session, and a fresh workshop in it for each test that asks."""

from __future__ import annotations

import itertools
import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from ubrex.server.runtime.cluster import APP, DATABASE, OWNER, Cluster
from ubrex.server.runtime.folder import Folder
from ubrex.server.runtime.workshop import prepare
from ubrex.server.store import database as store

_NUMBERS = itertools.count()


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    """A running cluster whose database ``ubrex`` is migrated and empty: the template of all others."""
    path = Path(tempfile.mkdtemp(prefix="ubrex-test-"))
    path.chmod(0o755)
    folder = Folder(path)
    folder.make()
    server = Cluster(folder)
    try:
        server.start()
        prepare(server.url(OWNER), APP, path, print)
        yield server
    finally:
        server.stop()
        shutil.rmtree(path)


@pytest.fixture
def workshop_url(cluster: Cluster) -> Iterator[str]:
    """Address of an empty workshop, as the application's role; the records are bound to it."""
    name = f"workshop_{next(_NUMBERS)}"
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as owner:
        owner.execute(f"CREATE DATABASE {name} TEMPLATE {DATABASE}")
        pool = store.connect_to(cluster.url(APP, name))
        yield cluster.url(APP, name)
        pool.close_all()
        owner.execute(f"DROP DATABASE {name} WITH (FORCE)")
