"""The real commands, run as a person runs them: started, waited for, stopped by a signal."""

from __future__ import annotations

import os
import re
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from tempfile import mkdtemp
from threading import Thread

READY_WITHIN_S = 90.0


@dataclass
class Served:
    """A running ``ubrex`` and everything it has said."""

    process: subprocess.Popen[str]
    said: list[str] = field(default_factory=list)

    @property
    def address(self) -> str:
        """Where it is ready."""
        found = re.search(r"http://127\.0\.0\.1:\d+", "\n".join(self.said))
        assert found, self.said
        return found[0]

    @property
    def port(self) -> int:
        """Its port, whatever address it shows."""
        found = re.search(r"http://[^ ]*:(\d+)", "\n".join(self.said))
        assert found, self.said
        return int(found[1])

    def wait_until_ready(self) -> None:
        """Wait for the lines that say so and where."""
        until = time.monotonic() + READY_WITHIN_S
        while not all(any(part in line for line in self.said) for part in ("ready", "http://")):
            assert self.process.poll() is None, self.said
            assert time.monotonic() < until, self.said
            time.sleep(0.05)

    def stop(self, number: signal.Signals = signal.SIGINT) -> int:
        """Send a signal and wait for the end; its exit code."""
        self.process.send_signal(number)
        return self.process.wait(timeout=60)


def run(*arguments: str, environment: dict[str, str] | None = None) -> Served:
    """Start a command in a session of its own, so that a signal reaches it alone."""
    process = subprocess.Popen(
        [sys.executable, "-m", "ubrex", *arguments],
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        start_new_session=True,
        env={name: value for name, value in os.environ.items() if name != "DATABASE_URL"} | (environment or {}),
    )
    served = Served(process)

    def hear() -> None:
        assert process.stdout is not None
        for line in iter(process.stdout.readline, ""):
            served.said.append(line.strip())
        process.stdout.close()

    Thread(target=hear, daemon=True).start()
    return served


@contextmanager
def served(*arguments: str, environment: dict[str, str] | None = None) -> Iterator[Served]:
    """A command that is ready, and is stopped in the end as Ctrl+C stops it."""
    running = run(*arguments, environment=environment)
    try:
        running.wait_until_ready()
        yield running
    finally:
        if running.process.poll() is None:
            assert running.stop() == 0, running.said


def done(*arguments: str, typed: str = "") -> tuple[int, str]:
    """Run a command to its end: exit code, and everything it said."""
    process = subprocess.run(
        [sys.executable, "-m", "ubrex", *arguments],
        input=typed,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        start_new_session=True,
        timeout=120,
    )
    return process.returncode, process.stdout


def copied(folder: Path) -> Path:
    """A folder of its own with the same workshop, and the same owner for the database's files."""
    copy = new_folder()
    subprocess.run(["cp", "-a", str(folder), str(copy)], check=True)
    return copy


def new_folder() -> Path:
    """A data folder the system user of PostgreSQL can reach, also where the tests run as root."""
    path = Path(mkdtemp(prefix="ubrex-test-"))
    path.chmod(0o755)
    return path / "data of the workshop"


def eventually(check: Callable[[], bool], within_s: float = 30.0) -> bool:
    """Whether something becomes true in time."""
    until = time.monotonic() + within_s
    while not check():
        if time.monotonic() > until:
            return False
        time.sleep(0.1)
    return True
