"""The house itself: what its rules say of its files."""

from __future__ import annotations

from pathlib import Path
from typing import Final

ROOT: Final = Path(__file__).parents[1]

ABOUT_400: Final = 450

LONG: Final = {
    "src/ubrex/core/diagnose/_facts.py": "a table: what is known of faults, row by row, held by its fingerprint",
    "src/ubrex/server/store/records.py": "a table a class; foreign keys tie each to others of them",
    "src/ubrex/demo/_story.py": "a story, told from its first day to its last",
    "src/ubrex/server/calibrations/flow/_run.py": "one class: a flow run from its box to its verdict",
    "src/ubrex/server/calibrations/e_steps/_run.py": "one class: an e-steps run from its marks to its verdict",
    "src/ubrex/server/profile/_standing.py": "one judgement, and the facts it is made of, sorted for it alone",
    "src/ubrex/core/gcode/_reader.py": "one state machine: a line means what those before it made it mean",
    "src/ubrex/core/gcode/pieces/_towers.py": "four towers that share their bands",
    "src/ubrex/core/calibrate/_temperature.py": "one rule: how bands of a tower are told apart",
    "src/ubrex/core/calibrate/_esteps.py": "one rule, with each of its three methods",
    "src/ubrex/server/calibrations/_tower.py": "one class: what all rated runs share",
    "src/ubrex/server/views/runs.py": "the wire of a run, which has one answer",
    "src/ubrex/benchmark.py": "one command, measured in one run",
    "web/src/api/queries.ts": "a line or two for each question to the server",
    "tests/core/test_held_numbers.py": "a row for each number",
    "tests/server/test_towers.py": "one tower after the other, by the same helpers",
    "tests/server/test_printed_runs.py": "one piece after the other, by the same helpers",
    "tests/server/test_judgement.py": "one judgement, asked at every door",
    "tests/core/gcode/test_files.py": "one checker, file after file",
}
"""Why these are longer than about 400 lines."""


def test_no_module_is_longer_than_about_400_lines_without_a_reason() -> None:
    """Nor is there a reason for one that is short."""
    folders = (ROOT / "src", ROOT / "tests", ROOT / "tools", ROOT / "web" / "src")
    files = [path for folder in folders for path in folder.rglob("*") if path.suffix in {".py", ".ts", ".tsx"}]
    lines = {
        str(path.relative_to(ROOT)): len(path.read_text().splitlines()) for path in files if ".gen." not in path.name
    }
    assert {name for name, count in lines.items() if count > ABOUT_400} == set(LONG)
