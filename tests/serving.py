"""The real commands, run as a person runs them: started, waited for, stopped by a signal."""

from __future__ import annotations

import multiprocessing
import os
import re
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from multiprocessing.context import ForkServerProcess
from multiprocessing.reduction import DupFd
from pathlib import Path
from tempfile import mkdtemp
from threading import Thread
from typing import Any

from ubrex import commands

READY_WITHIN_S = 90.0

LOADED = multiprocessing.get_context("forkserver")
"""Processes that begin with everything loaded."""
LOADED.set_forkserver_preload(["ubrex.server.runtime.serve", "ubrex.demo", "tests.serving"])


@dataclass
class Forked:
    """A command in a copy of a process that has loaded everything it needs: loading takes longer than most tests."""

    process: ForkServerProcess

    @property
    def pid(self) -> int:
        """Its number."""
        assert self.process.pid is not None
        return self.process.pid

    def poll(self) -> int | None:
        """Its exit code, once it has ended."""
        return self.process.exitcode

    def wait(self, timeout: float | None = None) -> int:
        """Wait for its end; its exit code."""
        self.process.join(timeout)
        assert self.process.exitcode is not None, f"still running after {timeout} s"
        return self.process.exitcode

    def send_signal(self, number: int) -> None:
        """Send it a signal."""
        os.kill(self.pid, number)

    def kill(self) -> None:
        """End it without a word."""
        self.send_signal(signal.SIGKILL)


@dataclass
class Served:
    """A running ``ubrex`` and everything it has said."""

    process: subprocess.Popen[str] | Forked
    said: list[str] = field(default_factory=list)
    hearing: Thread | None = None

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
    return _heard(Served(process), process.stdout)


def run_loaded(*arguments: str, environment: dict[str, str] | None = None) -> Served:
    """The same from a process that has loaded everything already."""
    hears, says = os.pipe()
    process = LOADED.Process(target=_as_command, args=(list(arguments), DupFd(says), environment or {}), daemon=True)
    process.start()
    os.close(says)
    return _heard(Served(Forked(process)), os.fdopen(hears))


def _as_command(arguments: list[str], says: Any, environment: dict[str, str]) -> None:
    os.setsid()
    said = says.detach()
    os.dup2(said, 1)
    os.dup2(said, 2)
    os.environ.pop("DATABASE_URL", None)
    os.environ.update(environment)
    sys.argv = ["ubrex", *arguments]
    commands.main()


def _heard(served: Served, stdout: Any) -> Served:
    def hear() -> None:
        for line in iter(stdout.readline, ""):
            served.said.append(line.strip())
        stdout.close()

    served.hearing = Thread(target=hear, daemon=True)
    served.hearing.start()
    return served


@contextmanager
def served(
    *arguments: str, start: Callable[..., Served] = run_loaded, environment: dict[str, str] | None = None
) -> Iterator[Served]:
    """A command that is ready, and is stopped in the end as Ctrl+C stops it."""
    running = start(*arguments, environment=environment)
    try:
        running.wait_until_ready()
        yield running
    finally:
        if running.process.poll() is None:
            assert running.stop() == 0, running.said


def done_loaded(*arguments: str) -> tuple[int, str]:
    """A command run to its end from a process that has loaded everything: exit code, and everything it said."""
    served = run_loaded(*arguments)
    code = served.process.wait(120)
    assert served.hearing is not None
    served.hearing.join()
    return code, "\n".join(served.said)


def done(*arguments: str, typed: str = "") -> tuple[int, str]:
    """Run a command to its end, as a person does: exit code, and everything it said."""
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
