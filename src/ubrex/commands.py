"""What each command does, once everything it needs is installed."""

from __future__ import annotations

import getpass
import os
import shutil
import sys
from argparse import Namespace
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Final

from ubrex import cli
from ubrex.core.errors import UbrexError
from ubrex.server.runtime.folder import Folder, default_folder

HALF_LOADED: Final = "sample-half-loaded"
"""File in the folder of a sample workshop whose loading was broken off: it is loaded anew."""


def main() -> None:
    """Run the command of this process's arguments and leave with its exit code."""
    options = cli.parse(sys.argv[1:])
    sys.exit(COMMANDS[options.command](options))


def say(text: str) -> None:
    """A line for the person at the terminal."""
    print(f"ubrex: {text}", flush=True)


def complain(text: str) -> None:
    """A line about what went wrong."""
    print(f"ubrex: {text}", file=sys.stderr, flush=True)


def _serve(options: Namespace) -> int:
    from ubrex.server.runtime import serve
    from ubrex.server.runtime.folder import AlreadyRunning, CannotRun
    from ubrex.server.runtime.workshop import open_workshop

    folder = _folder(options, demo=options.command == "demo")
    serve.stop_on_signals()
    try:
        asked = f"./ubrex passphrase{' --demo' if options.command == 'demo' else ''}"
        passphrase_hash = serve.require_passphrase(options.host, folder.passphrase_hash(), command=asked)
        half = folder.path / HALF_LOADED
        if options.command == "demo" and (options.reset or half.exists()):
            _reset(folder.path)
        with open_workshop(folder, say) as workshop:
            if options.command == "demo":
                _load_demo(half)
            with serve.listen(options.host, options.port, say) as listening:
                serve.run(
                    workshop,
                    listening=listening,
                    host=options.host,
                    passphrase_hash=passphrase_hash,
                    names=options.allow_host,
                    say=say,
                )
    except AlreadyRunning as error:
        say(str(error))
        return 0
    except CannotRun as error:
        complain(str(error))
        return 1
    except serve.Stopped:
        pass
    say("stopped")
    return 0


def _load_demo(half: Path) -> None:
    """Load the sample workshop into an empty one; the file ``half`` is there for as long as not all of it is."""
    from ubrex.demo import load_demo
    from ubrex.server.desk import Desk, utc_now
    from ubrex.server.workshop import show_workshop

    if Desk().do(show_workshop, None).empty:
        say("loading the sample workshop")
        half.touch()
        load_demo(utc_now())
    half.unlink(missing_ok=True)


def _reset(path: Path) -> None:
    from ubrex.server.runtime.cluster import Cluster
    from ubrex.server.runtime.folder import CannotRun

    if os.environ.get("DATABASE_URL"):
        raise CannotRun(
            "demo --reset only works on Ubrex's own database: unset DATABASE_URL, or empty that one yourself."
        )
    if not path.exists():
        return
    folder = Folder(path)
    folder.make()
    with folder.hold():
        say("putting the sample workshop back as it was first")
        Cluster(folder).stop_left_behind()
        for name in ("postgres", "postgres.new", "secrets.json", HALF_LOADED):
            target = path / name
            shutil.rmtree(target) if target.is_dir() else target.unlink(missing_ok=True)


def _calc(options: Namespace) -> int:
    from ubrex.server.calc import calc, calc_lines, rule_names
    from ubrex.server.calibrations import UnusableInput

    try:
        if options.list:
            print("\n".join(rule_names()))
        elif options.rule is None:
            raise UnusableInput(f"name a rule; there is: {', '.join(rule_names())}")
        elif options.lines:
            for line in calc_lines(options.rule, sys.stdin):
                print(line, flush=True)
        else:
            print(calc(options.rule, sys.stdin.read()))
    except (UnusableInput, UnicodeDecodeError) as error:
        print(f"ubrex calc: {error}", file=sys.stderr)
        return 2
    return 0


def _with_workshop(options: Namespace, case: Callable[[], str]) -> int:
    """Open a workshop, do one thing with it, say what was done."""
    from ubrex.server.runtime import serve
    from ubrex.server.runtime.workshop import open_workshop

    serve.stop_on_signals()
    try:
        with open_workshop(_folder(options, demo=options.demo), say):
            done = case()
            serve.ignore_signals()
    except UbrexError as error:
        complain(f"{error}{'; stop it first' if error.code == 'already_running' else ''}")
        return 1
    except OSError as error:
        complain(f"{error.filename}: {error.strerror}")
        return 1
    except serve.Stopped:
        return 130
    say(done)
    return 0


def _backup(options: Namespace) -> int:
    from ubrex.server.desk import Desk
    from ubrex.server.store.database import applied_migrations
    from ubrex.server.workshop import write_backup

    def case() -> str:
        rows = Desk().do_still(lambda work: write_backup(work, options.file, applied=applied_migrations()), None)
        return f"{rows} rows are in {options.file}"

    return _with_workshop(options, case)


def _restore(options: Namespace) -> int:
    from ubrex.server.desk import Desk
    from ubrex.server.store.database import applied_migrations
    from ubrex.server.workshop import read_backup

    def case() -> str:
        rows = Desk().do(lambda work: read_backup(work, options.file, applied=applied_migrations()), None)
        return f"{rows} rows are back from {options.file}"

    return _with_workshop(options, case)


def _passphrase(options: Namespace) -> int:
    from ubrex.server.desk import Refused, hash_passphrase
    from ubrex.server.runtime.folder import CannotRun

    folder = _folder(options, demo=options.demo)
    try:
        folder.make()
        first = getpass.getpass("New passphrase: ")
        if getpass.getpass("Once more: ") != first:
            complain("The two differ. Nothing was changed.")
            return 1
        folder.set_passphrase_hash(hash_passphrase(first))
    except (CannotRun, Refused) as error:
        complain(str(error))
        return 1
    except (EOFError, KeyboardInterrupt):
        complain("Nothing was changed.")
        return 1
    say("the passphrase is set; a running Ubrex asks for it after its next start")
    return 0


def _test(options: Namespace) -> int:
    from ubrex.checks import run_checks

    return run_checks(options.pytest_args, slow=options.slow)


def _bench(options: Namespace) -> int:
    from ubrex.benchmark import run_benchmark

    return run_benchmark(options.readings)


def _folder(options: Namespace, *, demo: bool) -> Folder:
    return Folder((options.data or default_folder("demo" if demo else "own")).absolute())


COMMANDS: Final[Mapping[str, Callable[[Namespace], int]]] = {
    "demo": _serve,
    "start": _serve,
    "test": _test,
    "calc": _calc,
    "backup": _backup,
    "restore": _restore,
    "passphrase": _passphrase,
    "bench": _bench,
}
"""Commands by name."""
