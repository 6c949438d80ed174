"""Readings that were written down elsewhere: a column of a spreadsheet, a CSV file, lines typed from paper."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Final

from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import Unit, parse_entry
from ubrex.server.desk import FieldProblem, Refused
from ubrex.server.words import lists as words

MOST_LINES: Final = 400
MOST_READINGS: Final = 60

_DECIMAL_COMMA: Final = re.compile(r"\s*[-+]?\d*,\d+\s*[a-z]*\s*", re.I)


@dataclass(frozen=True, slots=True)
class PastedReading:
    """A reading as it stood in the text, and on which line."""

    line: int
    text: str


def read_list(text: str, unit: Unit) -> list[PastedReading]:
    """Readings in the order in which they stand: of each line the last cell that is a number.

    Blank lines are passed over, and so is a heading above the first number. A decimal comma stays one where the line holds
    nothing else.

    Raises
    ------
    Refused
        Naming the line that holds no number, or saying that this is no list of readings.
    """
    lines = text.splitlines()
    if len(lines) > MOST_LINES or "\x00" in text:
        raise _refused("too_large", words.no_list_said(len(lines)))
    found: list[PastedReading] = []
    for number, line in enumerate(lines, 1):
        if not line.strip():
            continue
        cell = _last_number(line, unit)
        if cell is not None:
            found.append(PastedReading(number, cell))
        elif found:
            raise _refused("not_a_number", words.no_number_said(number, line.strip()))
    if not found:
        raise _refused("empty", words.NO_NUMBER)
    if len(found) > MOST_READINGS:
        raise _refused("too_large", words.too_many_said(len(found)))
    return found


def _last_number(line: str, unit: Unit) -> str | None:
    whole = _DECIMAL_COMMA.fullmatch(line) is not None
    cells = [line] if whole else re.split(r"[;\t]", line) if re.search(r"[;\t]", line) else line.split(",")
    for cell in reversed(cells):
        shown = cell.strip().strip('"')
        try:
            parse_entry(shown, unit)
        except UnreadableEntry:
            continue
        return shown
    return None


def _refused(code: str, said: str) -> Refused:
    return Refused(FieldProblem("text", code, said))
