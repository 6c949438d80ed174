"""The database: one pool, one unit of work, and migrations under a lock."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, Final

import psycopg
from peewee import DatabaseProxy
from playhouse.migrations import Runner
from playhouse.pool import PooledPostgresqlDatabase
from psycopg.abc import Buffer
from psycopg.types.datetime import TimestamptzLoader

POOL_SIZE: Final = 60
"""Connections at most; above the 40 threads that serve requests, so that a request never waits for itself."""

POOL_WAIT_S: Final = 10
"""Longest wait [s] for a free connection."""

MIGRATION_LOCK: Final = 0x0B4E
"""Key of the advisory lock that lets one process migrate at a time."""

MIGRATIONS: Final = Path(__file__).parent / "migrations"

PLANNING: Final = "-c plan_cache_mode=force_generic_plan"
"""One plan for each prepared query: they all ask by id, and planning a join of twelve tables takes longer than doing it."""

CHANGING: Final = (
    "workshop", "person", "machine", "hotend", "toolhead", "nozzle", "surface", "filament", "spool", "instrument", "setup",
    "run", "ageing_limit", "part_limit",
)  # fmt: skip
"""Tables whose rows describe what is there now; all others are records of what happened."""


class _InReach(TimestamptzLoader):
    """Times beyond what Python's calendar holds are its first or last day: a row with one can still be read and saved."""

    def load(self, data: Buffer) -> datetime:
        """The time."""
        try:
            return super().load(data)
        except psycopg.DataError:
            first = bytes(data).endswith(b"BC") or bytes(data).startswith(b"-")
            return (datetime.min if first else datetime.max).replace(tzinfo=UTC)


psycopg.adapters.register_loader("timestamptz", _InReach)

database = DatabaseProxy()
"""What the records are bound to; ``connect_to`` fills it."""


def connect_to(url: str) -> PooledPostgresqlDatabase:
    """Bind the records to the database at ``url`` (postgresql://...); opens nothing yet."""
    pool = PooledPostgresqlDatabase(
        url,
        prefer_psycopg3=True,
        max_connections=POOL_SIZE,
        timeout=POOL_WAIT_S,
        autoconnect=False,
        connect_timeout=5,
        options=f"-c timezone=UTC {PLANNING}",
    )
    database.initialize(pool)
    return pool


@contextmanager
def unit_of_work(*, still: bool = False) -> Iterator[None]:
    """One connection and one transaction, opened and closed in the thread that uses them.

    ``still``: it sees the database as it was when it began, whatever others write meanwhile.
    """
    with database.connection_context(), one_picture() if still else database.atomic():
        yield


def one_picture() -> AbstractContextManager[Any]:
    """A transaction that sees one state of the database from beginning to end; the caller holds a connection."""
    return database.atomic("REPEATABLE READ")


def seen() -> str | None:
    """Name of the state of the database that this transaction sees; the caller holds a connection.

    As long as the name is the same, nothing has been written, and everything reads as it did when the name was asked for
    first. None in a transaction that has written: it sees more than any name says.
    """
    name: str | None = database.execute_sql(
        "SELECT CASE WHEN pg_current_xact_id_if_assigned() IS NULL THEN pg_current_snapshot()::text END"
    ).fetchone()[0]
    return name


def pending_migrations() -> list[str]:
    """Names of the migrations that have not run here; the caller holds a connection."""
    runner = Runner(database.obj, str(MIGRATIONS))
    return [row.name for row in runner.status() if row.path is not None and not row.applied]


def unknown_migrations() -> list[str]:
    """Names of migrations that ran here and that this version does not have; the caller holds a connection."""
    runner = Runner(database.obj, str(MIGRATIONS))
    return [row.name for row in runner.status() if row.path is None]


def applied_migrations() -> list[str]:
    """Names of the migrations that have run here; the caller holds a connection."""
    return sorted(Runner(database.obj, str(MIGRATIONS)).applied())


def is_new() -> bool:
    """Whether nothing has ever been migrated here; the caller holds a connection."""
    return not database.table_exists("schema_migration")


def migrate() -> list[str]:
    """Run what is pending, one process at a time; names of what ran. The caller holds a connection."""
    database.execute_sql("SELECT pg_advisory_lock(%s)", (MIGRATION_LOCK,))
    try:
        return list(Runner(database.obj, str(MIGRATIONS)).up())
    finally:
        database.execute_sql("SELECT pg_advisory_unlock(%s)", (MIGRATION_LOCK,))


def grant_to(role: str) -> None:
    """Let the application's ``role`` read and add everything, change what may change, delete only what expires."""
    name = '"' + role.replace('"', '""') + '"'
    for statement in (
        f"GRANT USAGE ON SCHEMA public TO {name}",
        f"GRANT SELECT, INSERT ON ALL TABLES IN SCHEMA public TO {name}",
        f"GRANT USAGE, UPDATE ON ALL SEQUENCES IN SCHEMA public TO {name}",
        f"GRANT UPDATE ON {', '.join(CHANGING)} TO {name}",
        f"GRANT UPDATE (note, version) ON revision TO {name}",
        f"GRANT UPDATE, DELETE ON signed_in, idempotency TO {name}",
    ):
        database.execute_sql(statement)
