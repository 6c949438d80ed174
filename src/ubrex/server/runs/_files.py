"""Files of a run: taken along, or drawn layer by layer."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import RefusedFile
from ubrex.server.calibrations import Case, File
from ubrex.server.desk import Clash, Work
from ubrex.server.printing import layers_of_text, machine_limits
from ubrex.server.runs._records import get_run, load_case
from ubrex.server.store.records import Run
from ubrex.server.views.pieces import FileViewOut
from ubrex.server.words import runs as words


@dataclass(frozen=True, slots=True)
class Written:
    """A file as it goes to a browser."""

    name: str
    media: str
    content: str | bytes


def file_name(run: Run, file: File) -> str:
    """Name of a file of a run: plain letters, so that any card reader shows it."""
    kind = "" if file.key == "piece" else f"{file.key}-"
    name = f"{kind}{run.setup.toolhead.machine.name}-{run.setup.filament.name}-{run.method}-{run.id}"
    return (
        "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in name).lower() + f".{file.ending}"
    )


def file_of(work: Work, run_id: int, key: str = "piece") -> Written:
    """A file of a run, written for its machine as it is entered now.

    Raises
    ------
    Clash
        If the run has no such file, or it must not be written.
    """
    run = get_run(run_id)
    file, content = _written(load_case(run, work), key)
    return Written(file_name(run, file), file.media, content)


def refuse_unwritable(case: Case[Any]) -> None:
    """Refuse a run whose piece could be drawn but whose file must not be written.

    Raises
    ------
    Clash
        If it is not within the limits of its machine.
    """
    for file in case.files():
        if file.drawn:
            _written(case, file.key)


def layers_of(work: Work, run_id: int) -> FileViewOut:
    """The file of a run, drawn layer by layer."""
    case = load_case(get_run(run_id), work)
    _, text = _written(case, next((file.key for file in case.files() if file.drawn), ""))
    return layers_of_text(str(text), machine_limits(case.tuned, still=True).volume)


def _written(case: Case[Any], key: str) -> tuple[File, str | bytes]:
    file = next((one for one in case.files() if one.key == key), None)
    if file is None:
        raise Clash(words.NO_FILE, code="no_file")
    try:
        return file, file.write()
    except (RefusedFile, OutOfRange) as error:
        raise Clash(words.refused_file_said(str(error)), code="refused_file") from error
