"""The data folder of a workshop: where it is, who holds it, and what secrets it keeps."""

from __future__ import annotations

import fcntl
import json
import os
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from ubrex.core.errors import UbrexError


class CannotRun(UbrexError):
    """The workshop cannot be opened; the message says why and what to do."""

    code = "cannot_run"


class AlreadyRunning(UbrexError):
    """The workshop is open already; the message says where."""

    code = "already_running"


def default_folder(name: str) -> Path:
    """Data folder of the workshop ``name`` (``demo`` or ``own``)."""
    if os.geteuid() == 0:
        return Path("/var/lib/ubrex") / name
    base = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(base) / "ubrex" / name


@dataclass(frozen=True, slots=True)
class Folder:
    """A data folder."""

    path: Path

    @property
    def cluster(self) -> Path:
        """Where PostgreSQL keeps its files."""
        return self.path / "postgres"

    @property
    def _passphrase(self) -> Path:
        return self.path / "passphrase"

    def make(self) -> None:
        """Create the folder, and mark it as one of Ubrex.

        Raises
        ------
        CannotRun
            If it cannot be made, or holds something else.
        """
        mark = self.path / "ubrex-data"
        try:
            self.path.mkdir(parents=True, exist_ok=True)
            if not mark.exists() and any(self.path.iterdir()):
                raise CannotRun(f"{self.path} holds other files. Choose an empty folder with --data.")
            mark.touch()
        except OSError as error:
            raise CannotRun(f"The data folder {self.path} cannot be used: {error.strerror}.") from error

    def hold(self) -> IO[str]:
        """Lock the folder for as long as the file returned stays open.

        Raises
        ------
        AlreadyRunning
            If another Ubrex holds it.
        """
        lock = (self.path / "running").open("a+")
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            lock.seek(0)
            where = lock.read().strip()
            lock.close()
            raise AlreadyRunning(f"already running at {where}" if where else "already starting or busy") from error
        lock.truncate(0)
        return lock

    def secret(self, name: str, fresh: str) -> str:
        """A secret kept in a file only its owner can read; ``fresh`` becomes it the first time."""
        file = self.path / "secrets.json"
        known: dict[str, str] = json.loads(file.read_text()) if file.exists() else {}
        if name not in known:
            known[name] = fresh
            write_private(file, json.dumps(known))
        return known[name]

    def passphrase_hash(self) -> str | None:
        """Hash of the workshop's passphrase; None if none is set."""
        return self._passphrase.read_text().strip() if self._passphrase.exists() else None

    def set_passphrase_hash(self, value: str) -> None:
        """Keep the hash of a new passphrase."""
        write_private(self._passphrase, value)


def write_private(file: Path, text: str) -> None:
    """Write a file that only its owner can read, whole or not at all."""
    unfinished = file.with_name(file.name + ".part")
    unfinished.unlink(missing_ok=True)
    descriptor = os.open(unfinished, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "w") as target:
        target.write(text)
    unfinished.replace(file)
