"""Write what the standing judge sees to ``docs/methods/evidence.md``: ``.venv/bin/python -m tools.evidence``."""

from __future__ import annotations

import subprocess
from datetime import UTC, datetime
from pathlib import Path

from tests.core.test_standing_judge import TRIALS
from tests.simulated.evidence import gather

PAGE = Path(__file__).parents[1] / "docs" / "methods" / "evidence.md"
MARK = "<!-- what was seen -->"


def main() -> None:
    """Keep the text above the mark, and put what is seen now below it."""
    text = PAGE.read_text().split(MARK)[0]
    commit = subprocess.run(
        ["git", "rev-parse", "--short", "HEAD"], capture_output=True, text=True, check=True
    ).stdout.strip()
    head = f"Seen on {datetime.now(UTC):%Y-%m-%d} at commit `{commit}`; {TRIALS} trials a row."
    PAGE.write_text(f"{text}{MARK}\n{head}\n\n{gather(TRIALS).tables()}\n")


if __name__ == "__main__":
    main()
