"""Keep the run that an empty workshop shows, as the sample workshop answers it: ``.venv/bin/python -m tools.sample_run``."""

from __future__ import annotations

import shutil
from pathlib import Path

import httpx2
from tests.serving import new_folder, served

from ubrex.server.views.runs import MeasuredBody, RunOut
from ubrex.server.views.workshop import SampleReadingOut, SampleRunOut

RUN = 5
"""Heron's e-steps of May: three readings that count and one that is struck."""

KEPT = Path(__file__).parents[1] / "src" / "ubrex" / "server" / "workshop" / "sample_run.json"


def sample_of(run: RunOut) -> SampleRunOut:
    """What an empty workshop shows of a run; nothing in it has a date."""
    assert isinstance(run.body, MeasuredBody)
    assert run.result is not None
    assert run.decision is not None
    return SampleRunOut(
        name=run.name, setup=run.setup.title, method=f"{run.method_name}; {run.instrument.name}",
        readings=[SampleReadingOut(text=row.text, struck=row.struck or "") for row in run.readings],
        strip=run.body.strip, title=run.result.title, sentence=run.result.sentence, limited_by=run.result.limited_by,
        note=run.decision.note,
    )  # fmt: skip


def main() -> None:
    """Ask a sample workshop of its own, and write what it answers."""
    folder = new_folder()
    with served("demo", "--data", str(folder), "--port", "8480") as demo:
        run = RunOut.model_validate_json(httpx2.get(f"{demo.address}/api/v1/runs/{RUN}", timeout=60).content)
    KEPT.write_text(sample_of(run).model_dump_json(indent=1) + "\n")
    shutil.rmtree(folder.parent)


if __name__ == "__main__":
    main()
