"""From a fresh clone to a running command: installs what is missing, skips what is done, then hands over.

Runs on the system's Python with the standard library only. Progress goes to standard error, so that the output of a
command stays its own.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
import shutil
import subprocess
import sys
import time
from collections.abc import Iterable
from pathlib import Path
from typing import Final, NoReturn

from ubrex import cli

ROOT: Final = Path(__file__).resolve().parents[2]
VENV: Final = ROOT / ".venv"
WEB: Final = ROOT / "web"
DIST: Final = WEB / "dist"
SETUP_LOG: Final = ROOT / ".ubrex-setup.log"

NEEDS_DATABASE: Final = frozenset({"demo", "start", "test", "bench", "backup", "restore"})
NEEDS_WEB: Final = frozenset({"demo", "start", "test", "bench"})
NEEDS_BROWSER: Final = frozenset({"test", "bench"})

BROWSERS: Final = ("chromium-headless-shell", "chromium")
"""Debian's builds of it, and packages, the better first: one that can have no window does a sixth less work a page."""

MAIN_CLUSTER_OFF: Final = "create_main_cluster = false\n"


class SetupFailed(Exception):
    """Setting up cannot go on; the message says what failed and what to do."""


def main() -> NoReturn:
    """Set up what the command needs, then become it."""
    options = cli.parse(sys.argv[1:])
    try:
        with (ROOT / ".ubrex-setup.lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            _install_packages(options.command)
            _install_python()
            if options.command in NEEDS_WEB:
                _build_web()
    except SetupFailed as failure:
        say(str(failure))
        sys.exit(1)
    except KeyboardInterrupt:
        say("Stopped. Start again any time: what was done stays done.")
        sys.exit(130)
    except OSError as failure:
        say(f"Setting up failed: {failure.strerror}: {failure.filename}.")
        sys.exit(1)
    python = str(VENV / "bin" / "python")
    os.execv(python, [python, "-m", "ubrex", *sys.argv[1:]])  # noqa: S606


def say(text: str) -> None:
    """A line of progress."""
    print(f"ubrex: {text}", file=sys.stderr, flush=True)


def postgres_installed() -> bool:
    """Whether a PostgreSQL server is installed, as Debian installs it or on the path."""
    return any(Path("/usr/lib/postgresql").glob("*/bin/initdb")) or shutil.which("initdb") is not None


def _missing_packages(command: str) -> list[str]:
    """Debian packages that ``command`` needs and this machine lacks."""
    missing = []
    if not (VENV / "bin" / "python").exists() and not _can_make_venv():
        missing.append("python3-venv")
    if command in NEEDS_DATABASE and not postgres_installed():
        missing.append("postgresql")
    if command in NEEDS_BROWSER and not any(map(shutil.which, BROWSERS)):
        missing.append(BROWSERS[0])
    return missing


def _can_make_venv() -> bool:
    return subprocess.run([sys.executable, "-c", "import venv, ensurepip"], capture_output=True).returncode == 0


def _install_packages(command: str) -> None:
    if sys.version_info < (3, 11):
        raise SetupFailed("Ubrex needs Python 3.11 or newer; Debian 12 has it.")
    missing = _missing_packages(command)
    if not missing:
        return
    asked = f"apt-get install {' '.join(missing)}"
    if os.geteuid() == 0:
        prefix: list[str] = []
    elif shutil.which("sudo") and subprocess.run(["sudo", "-n", "true"], capture_output=True).returncode == 0:
        prefix = ["sudo", "-n"]
    else:
        raise SetupFailed(f"Some Debian packages are missing. Have them installed, then start again: sudo {asked}")
    if shutil.which("apt-get") is None:
        raise SetupFailed(f"This is not Debian. Install what matches these Debian packages: {' '.join(missing)}")
    if "postgresql" in missing:
        _keep_main_cluster_off(prefix)
    environment = [*prefix, "env", "DEBIAN_FRONTEND=noninteractive"]
    _run([*environment, "apt-get", "update", "-q"], "Looking up Debian's packages", hint="Is the network there?")
    _run(
        [*environment, "apt-get", "install", "-y", "-q", "--no-install-recommends", *missing],
        f"Installing {', '.join(missing)} (some minutes the first time)",
        hint=f"Try it by hand: {asked}",
    )


def _keep_main_cluster_off(prefix: list[str]) -> None:
    """Keep Debian from making a database cluster nobody asked for; only where no server was installed before."""
    folder = "/etc/postgresql-common"
    file = f"{folder}/createcluster.conf"
    script = f"mkdir -p {folder} && [ -e {file} ] || printf '{MAIN_CLUSTER_OFF}' > {file}"
    subprocess.run([*prefix, "sh", "-c", script], check=True)


def _install_python() -> None:
    wanted = _digest([ROOT / "requirements.lock", ROOT / "pyproject.toml"])
    stamp = VENV / ".ubrex-installed"
    if _is(stamp, wanted):
        return
    if not (VENV / "bin" / "pip").exists():
        _run([sys.executable, "-m", "venv", "--clear", str(VENV)], "Making the Python environment")
    pip = [str(VENV / "bin" / "python"), "-m", "pip", "install", "-q", "--disable-pip-version-check"]
    _run(
        [*pip, "--require-hashes", "-r", str(ROOT / "requirements.lock")],
        "Installing Python packages (a minute or two)",
        hint="Is the network there? Start again: what is done is skipped.",
    )
    _run([*pip, "--no-deps", "--no-build-isolation", "-e", str(ROOT)], "Installing Ubrex itself")
    stamp.write_text(wanted)


def _build_web() -> None:
    packages = _digest([WEB / "package-lock.json"])
    modules = WEB / "node_modules" / ".ubrex-installed"
    if not _is(modules, packages):
        _npm(["ci"], "Installing the web packages (a minute)", hint="Is the network there?")
        modules.write_text(packages)
    sources = [path for path in (WEB / "src").rglob("*") if path.is_file()]
    settings = [WEB / name for name in ("index.html", "vite.config.ts", "package-lock.json", "tsconfig.json")]
    wanted = _digest([*sources, *settings, *(WEB / "public").glob("*")])
    built = DIST / ".ubrex-built"
    if not _is(built, wanted):
        _npm(["run", "build"], "Building the screens")
        built.write_text(wanted)


def _npm(arguments: list[str], what: str, *, hint: str = "") -> None:
    tools = VENV / "bin"
    environment = os.environ | {"PATH": f"{tools}{os.pathsep}{os.environ.get('PATH', '')}"}
    _run([str(tools / "npm"), *arguments], what, hint=hint, cwd=WEB, environment=environment)


def _run(
    command: list[str],
    what: str,
    *,
    hint: str = "",
    cwd: Path = ROOT,
    environment: dict[str, str] | None = None,
) -> None:
    """Run a step of the set-up: say what it is, keep what it prints in a log, show the end of that if it fails."""
    say(f"{what} ...")
    started = time.monotonic()
    with SETUP_LOG.open("w") as log:
        code = subprocess.run(
            command, cwd=cwd, env=environment, stdout=log, stderr=log, stdin=subprocess.DEVNULL
        ).returncode
    if code != 0:
        tail = "\n".join(SETUP_LOG.read_text(errors="replace").splitlines()[-15:])
        raise SetupFailed(f"{what} failed.\n{tail}\nubrex: {hint or 'The end of its output stands above.'}")
    say(f"  done in {time.monotonic() - started:.0f} s")


def _digest(paths: Iterable[Path]) -> str:
    whole = hashlib.sha256(sys.version.encode())
    for path in sorted(paths):
        whole.update(str(path.relative_to(ROOT)).encode() + b"\0" + path.read_bytes())
    return whole.hexdigest()


def _is(stamp: Path, wanted: str) -> bool:
    return stamp.exists() and stamp.read_text() == wanted


if __name__ == "__main__":
    main()
