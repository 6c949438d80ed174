"""A workshop opened: folder held, database up, migrated, records bound. And closed again, in the other order."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import IO

import psycopg
from peewee import PeeweeException

from ubrex.server.desk import Work, utc_now
from ubrex.server.runtime.cluster import APP, OWNER, Cluster
from ubrex.server.runtime.folder import CannotRun, Folder
from ubrex.server.store import database as store
from ubrex.server.workshop import write_backup

Say = Callable[[str], None]


@dataclass(frozen=True, slots=True)
class OpenWorkshop:
    """A workshop in use; ``url`` is what the application connects with."""

    folder: Folder
    lock: IO[str]
    url: str

    def announce(self, address: str) -> None:
        """Let a second start say where this one is."""
        self.lock.write(address)
        self.lock.flush()


@contextmanager
def open_workshop(folder: Folder, say: Say) -> Iterator[OpenWorkshop]:
    """Hold the folder, bring the database up, bind the records; close it all at the end.

    ``DATABASE_URL`` in the environment uses that server instead of a private one.
    """
    folder.make()
    with folder.hold() as lock:
        foreign = os.environ.get("DATABASE_URL")
        if foreign:
            prepare(foreign, None, folder.path, say)
            yield OpenWorkshop(folder, lock, foreign)
            return
        cluster = Cluster(folder)
        try:
            say("starting the database on loopback")
            try:
                cluster.start()
                prepare(cluster.url(OWNER), APP, folder.path, say)
            except (psycopg.Error, PeeweeException) as error:
                asked = error.__context__
                if asked is not None and not isinstance(asked, Exception):
                    # Told to stop in the middle of a question to it: the database is not at fault.
                    raise asked from None
                raise CannotRun(
                    "The database went away, or refused, while the workshop was being opened; nothing in it was changed. "
                    f"Start Ubrex again. It said: {str(error).strip()}"
                ) from error
            store.connect_to(cluster.url(APP))
            cluster.keep_running(say)
            yield OpenWorkshop(folder, lock, cluster.url(APP))
        finally:
            with suppress(AttributeError):
                store.database.close_all()
            cluster.stop()


def prepare(owner_url: str, role: str | None, backups: Path, say: Say) -> None:
    """Migrate what is at ``owner_url`` and leave the records bound to it; an older workshop is backed up first."""
    pool = store.connect_to(owner_url)
    with store.database.connection_context():
        if store.unknown_migrations():
            raise CannotRun(
                "This workshop was opened by a newer Ubrex before: this one would read it wrong. Start the newer one, or "
                "put a backup from before into an empty workshop."
            )
        pending = store.pending_migrations()
        if pending and not store.is_new():
            now = utc_now()
            file = backups / f"before-{pending[-1]}-{now:%Y%m%dT%H%M%SZ}.zip"
            with store.one_picture():
                write_backup(Work(now), file, applied=store.applied_migrations())
            say(f"this workshop comes from an older Ubrex; a backup of it is in {file}")
        store.migrate()
        if role is not None:
            store.grant_to(role)
    if role is not None:
        pool.close_all()
