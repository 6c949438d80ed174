"""``ubrex test``: every check there is, cheapest first, pytest last."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Final

ROOT: Final = Path(__file__).resolve().parents[2]
WEB: Final = ROOT / "web"
CONTRACT: Final = ROOT / "docs" / "formats" / "openapi.json"
PROFILE_SCHEMA: Final = ROOT / "docs" / "formats" / "profile.schema.json"
CLIENT: Final = WEB / "src" / "api" / "schema.gen.ts"
STOP_FIRST: Final = WEB / "src" / "screens" / "faults" / "stop.gen.json"

PYTHON_CHECKS: Final = (
    ("ruff format", ["ruff", "format", "--check", "--quiet", "src", "tests", "tools"]),
    ("ruff", ["ruff", "check", "--quiet", "src", "tests", "tools"]),
    ("mypy", ["mypy", "--no-error-summary"]),
    ("import-linter", ["lint-imports"]),
)
WEB_CHECKS: Final = (
    ("biome", ["npm", "run", "--silent", "check"]),
    ("tsc", ["npm", "run", "--silent", "types"]),
    ("vitest", ["npm", "run", "--silent", "test"]),
)

SPREAD: Final = ["-n", "3", "--dist", "loadfile", "--no-loadscope-reorder"]
"""Everything at once goes to three processes, file by file, since each of two cores often waits for a screen; what was
asked for by name runs in one.

In the order of their names: those that take longest come first, so that none of them runs alone in the end.
"""

FUZZED: Final = tuple(
    f"tests/server/test_{name}.py" for name in ("contract", "garbage", "any_order", "agrees_with_itself")
)
"""What tries examples of its own making, or many setups, against the whole server."""


def run_checks(pytest_args: list[str], *, slow: bool) -> int:
    """Run the checks, those of Python beside those of the web; exit code of what failed, pytest's summary last."""
    with ThreadPoolExecutor() as beside:
        web = beside.submit(_pass, WEB_CHECKS, WEB)
        python = _pass(PYTHON_CHECKS, ROOT) and _client_is_current()
        if not (web.result() and python):
            return 1
    print("== pytest", flush=True)
    code = _pytest("-m", "not slow", *([] if pytest_args else SPREAD), *pytest_args)
    if code or not slow:
        return code
    if not pytest_args:
        print("== many more examples", flush=True)
        code = _pytest("--hypothesis-profile=deep", *FUZZED)
        if code:
            return code
    print("== simulations", flush=True)
    return _pytest("-m", "slow", "--capture=no", *(pytest_args or ["tests/core", "tests/server/test_killed.py"]))


def _pytest(*arguments: str) -> int:
    return subprocess.run([sys.executable, "-m", "pytest", *arguments], cwd=ROOT, env=_environment()).returncode


def contract() -> str:
    """The OpenAPI document, as it is kept in docs/formats."""
    from ubrex.server.api.app import AppSettings, create_app

    return json.dumps(create_app(AppSettings()).openapi(), indent=1, ensure_ascii=False) + "\n"


def profile_schema() -> str:
    """The JSON Schema of a profile file, as it is kept in docs/formats."""
    from ubrex.server.views.profiles import ProfileFile

    return json.dumps(ProfileFile.model_json_schema(mode="serialization"), indent=1, ensure_ascii=False) + "\n"


def stop_first() -> str:
    """What stops everything, for the page that has to be there when nothing answers."""
    from ubrex.server.words.causes import STOP, STOPS_SEEN

    rows = [
        {"key": key, "seen": seen, "title": STOP[key][0], "steps": list(STOP[key][1])}
        for key, seen in STOPS_SEEN.items()
    ]
    return json.dumps(rows, indent=1, ensure_ascii=False) + "\n"


def write_client() -> None:
    """Write the OpenAPI document, the schema of profile files, the front end's types and what stops everything."""
    STOP_FIRST.write_text(stop_first())
    CONTRACT.parent.mkdir(parents=True, exist_ok=True)
    PROFILE_SCHEMA.write_text(profile_schema())
    CONTRACT.write_text(contract())
    CLIENT.write_text(_types_from(CONTRACT))


def _types_from(document: Path) -> str:
    command = ["npm", "exec", "--", "openapi-typescript", str(document)]
    made = subprocess.run(command, cwd=WEB, env=_environment(), capture_output=True, text=True, check=True)
    return made.stdout


def _client_is_current() -> bool:
    """Whether contract, schema and client are what the server makes today."""
    started = time.monotonic()
    kept = ((CONTRACT, contract()), (PROFILE_SCHEMA, profile_schema()), (STOP_FIRST, stop_first()))
    current = all(path.exists() and path.read_text() == made for path, made in kept)
    current = current and CLIENT.read_text() == _types_from(CONTRACT)
    _said("generated client", 0 if current else 1, started)
    if not current:
        print(
            "The OpenAPI document, the profile schema or the client is out of date: run  .venv/bin/python -m ubrex.checks",
            flush=True,
        )
    return current


def _pass(checks: Sequence[tuple[str, list[str]]], folder: Path) -> bool:
    """Whether all of them pass, up to the first that does not."""
    for name, command in checks:
        started = time.monotonic()
        done = subprocess.run(command, cwd=folder, env=_environment(), capture_output=True, text=True)
        _said(name, done.returncode, started)
        if done.returncode != 0:
            print(done.stdout + done.stderr, flush=True)
            return False
    return True


def _said(name: str, code: int, started: float) -> None:
    print(f"== {name}: {'ok' if code == 0 else 'FAILED'} ({time.monotonic() - started:.1f} s)", flush=True)


def _environment() -> dict[str, str]:
    """Environment in which the tools of the virtual environment come first, node among them.

    Compiled modules are kept, whatever the machine has set: the tests start the application fifty times.
    """
    tools = Path(sys.executable).parent
    kept = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    return kept | {"PATH": f"{tools}{os.pathsep}{os.environ.get('PATH', '')}"}


if __name__ == "__main__":
    write_client()
