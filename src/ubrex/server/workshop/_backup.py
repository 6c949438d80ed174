"""The whole workshop in one file anybody can open: a zip of JSON, one file a table, with the schema it was made under."""

from __future__ import annotations

import base64
import json
import tempfile
import uuid
import zipfile
import zlib
from datetime import datetime
from pathlib import Path
from typing import Any, Final

from peewee import PeeweeException, fn

from ubrex.core.errors import UbrexError
from ubrex.server.desk import FieldProblem, Refused, Work
from ubrex.server.store.database import applied_migrations, database
from ubrex.server.store.records import WORKSHOP_TABLES, Record, Workshop
from ubrex.server.store.upgrades import upgraded
from ubrex.server.views.workshop import WorkshopOut
from ubrex.server.words import backup as words
from ubrex.server.workshop._setups import show_workshop

FORMAT: Final = "ubrex-backup/1"
BATCH: Final = 1000

LARGEST_UNPACKED: Final = 1_000_000_000
"""Size [bytes] past which a file is no workshop, but meant to fill a memory."""

UNSUSPECTED: Final = 4_000_000
"""Size [bytes] up to which nobody looks how tightly a part is packed."""

TIGHTEST: Final = 60
"""Rows of a workshop pack to a twentieth; what packs tighter than this repeats itself on purpose."""

UNREADABLE: Final = (
    OSError, EOFError, zipfile.BadZipFile, zlib.error, RuntimeError, KeyError, ValueError, TypeError, AttributeError,
    OverflowError, PeeweeException,
)  # fmt: skip
"""What a file may do that is damaged, encrypted, packed in another way, nested without end, or no backup at all."""


class UnusableBackup(UbrexError, ValueError):
    """The file is no backup this version can put back, or the workshop is not empty."""

    code = "unusable_backup"


def write_backup(work: Work, path: Path, *, applied: list[str]) -> int:
    """Write all tables to ``path``; how many rows. ``applied``: names of the migrations the tables were made by.

    The file appears only when it is complete.
    """
    unfinished = path.with_name(path.name + ".part")
    # It holds names and passes for the whole workshop: for its owner's eyes.
    unfinished.touch(mode=0o600)
    unfinished.chmod(0o600)
    with zipfile.ZipFile(unfinished, "w", zipfile.ZIP_DEFLATED) as file:
        counted: dict[str, int] = {}
        for table in existing_tables():
            found = list(table.select(*_existing_fields(table)).order_by(table._meta.primary_key).dicts())
            counted[table._meta.table_name] = len(found)
            file.writestr(f"{table._meta.table_name}.json", json.dumps(found, default=_plain, indent=0))
        head = {"format": FORMAT, "migrations": applied, "written_at": work.now.isoformat(), "rows": counted}
        file.writestr("backup.json", json.dumps(head, indent=1))
    unfinished.replace(path)
    return sum(counted.values())


def backup_bytes(work: Work) -> bytes:
    """A backup to be downloaded."""
    with tempfile.TemporaryDirectory(prefix="ubrex-backup-") as folder:
        path = Path(folder) / "workshop.zip"
        write_backup(work, path, applied=applied_migrations())
        return path.read_bytes()


def restore_bytes(work: Work, content: bytes) -> WorkshopOut:
    """Put an uploaded backup into an empty workshop."""
    with tempfile.TemporaryDirectory(prefix="ubrex-restore-") as folder:
        path = Path(folder) / "the file"
        path.write_bytes(content)
        try:
            read_backup(work, path, applied=applied_migrations())
        except UnusableBackup as error:
            raise Refused(FieldProblem("file", "unusable_backup", str(error))) from error
    return show_workshop(work)


def existing_tables() -> list[type[Record]]:
    """Tables of a workshop that this database has; an older one may lack some."""
    return [table for table in WORKSHOP_TABLES if table.table_exists()]


def _existing_fields(table: type[Record]) -> list[Any]:
    """Fields of a table that this database has; an older one may lack some."""
    there = {column.name for column in database.get_columns(table._meta.table_name)}
    return [field for field in table._meta.sorted_fields if field.column_name in there]


def read_backup(_work: Work, path: Path, *, applied: list[str]) -> int:
    """Put a backup back into an empty workshop; how many rows.

    Raises
    ------
    UnusableBackup
        If the file is none, is newer than this version, or the workshop holds something already.
    """
    if Workshop.select().exists():
        raise UnusableBackup(words.NOT_EMPTY)
    try:
        with zipfile.ZipFile(path) as file:
            if _is_blown_up(file):
                raise UnusableBackup(words.too_large_said(path.name))
            head = json.loads(file.read("backup.json"))
            _check(head, applied, file)
            return sum(_restore_table(table, file, head) for table in WORKSHOP_TABLES)
    except UNREADABLE as error:
        if isinstance(error, UnusableBackup):
            raise
        raise UnusableBackup(words.no_backup_said(path.name)) from error


def _is_blown_up(file: zipfile.ZipFile) -> bool:
    """Whether what is in it would fill a memory: far more than any workshop, or packed as no rows ever are."""
    parts = file.infolist()
    packed = any(part.file_size > UNSUSPECTED and part.file_size > TIGHTEST * part.compress_size for part in parts)
    return packed or sum(part.file_size for part in parts) > LARGEST_UNPACKED


def _check(head: dict[str, Any], applied: list[str], file: zipfile.ZipFile) -> None:
    if head.get("format") != FORMAT:
        raise UnusableBackup(words.UNREADABLE)
    if set(head["migrations"]) - set(applied):
        raise UnusableBackup(words.NEWER)
    missing = [name for name, count in head.get("rows", {}).items() if count and f"{name}.json" not in file.namelist()]
    if missing:
        raise UnusableBackup(words.incomplete_said(missing))


def _restore_table(table: type[Record], file: zipfile.ZipFile, head: dict[str, Any]) -> int:
    name = f"{table._meta.table_name}.json"
    if name not in file.namelist():
        return 0
    older = [upgraded(table._meta.table_name, row, head["migrations"]) for row in json.loads(file.read(name))]
    if len(older) < head.get("rows", {}).get(table._meta.table_name, 0):
        raise UnusableBackup(words.incomplete_said([table._meta.table_name]))
    rows = [{key: _typed(table, key, value) for key, value in row.items()} for row in older]
    for start in range(0, len(rows), BATCH):
        table.insert_many(rows[start : start + BATCH]).execute()
    if rows and "id" in rows[0] and isinstance(rows[0]["id"], int):
        sequence = f"pg_get_serial_sequence('{table._meta.table_name}', 'id')"
        database.execute_sql(f"SELECT setval({sequence}, %s)", (table.select(fn.MAX(table.id)).scalar(),))
    return len(rows)


def _plain(value: object) -> str:
    if isinstance(value, bytes | memoryview):
        return base64.b64encode(value).decode()
    return value.isoformat() if isinstance(value, datetime) else str(value)


def _typed(table: type[Record], key: str, value: Any) -> Any:
    field = table._meta.combined[key]
    if value is not None and field.field_type == "TIMESTAMPTZ":
        return datetime.fromisoformat(value)
    if value is not None and field.field_type == "BLOB":
        return base64.b64decode(value, validate=True)
    return uuid.UUID(value) if value is not None and field.field_type == "UUID" else value
