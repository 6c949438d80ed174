"""Readings that were written down elsewhere: a column or a table of a spreadsheet, a CSV file, lines typed from paper."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import Unit, parse_entry
from ubrex.server.desk import FieldProblem, Refused
from ubrex.server.words import lists as words

MOST_LINES: Final = 400
MOST_READINGS: Final = 60

_DECIMAL_COMMA: Final = re.compile(r"\s*[-+]?\d*,\d+\s*[a-z]*\s*", re.I)
_NOT_NAMED: Final = re.compile(r"wall|patch|place|no\.|[^0-9a-z]", re.I)
_NAMING: Final = re.compile(r"\b(?:wall|patch|place|no\.)\s+", re.I)
_PLAIN_NAME: Final = re.compile(r"[^.,]*")


@dataclass(frozen=True, slots=True)
class PastedReading:
    """A number as it stood in the text, on which line, and the place it names; None: the one that is next."""

    line: int
    text: str
    place: str | None = None


@dataclass(frozen=True, slots=True)
class _Row:
    line: int
    whole: str
    cells: list[str]


def read_list(
    text: str, unit: Unit, labels: Mapping[str, str] | None = None, still_open: Sequence[str] = ()
) -> list[PastedReading]:
    """Readings in the order in which they stand; every number of a line is one.

    A name of a place at the head of a line or of a column says where its numbers belong: "A" is each further reading of wall
    A, "A2" the second. A first column that only counts the lines is no reading. Blank lines are passed over, and so are
    headings above the first number. ``labels``: names of the places of the piece; ``still_open``: places without a reading,
    in walking order.

    Raises
    ------
    Refused
        Naming the line that holds no number, or a place that has none left; or saying that this is no list of readings.
    """
    lines = text.splitlines()
    if len(lines) > MOST_LINES or "\x00" in text:
        raise _refused("too_large", words.no_list_said(len(lines)))
    rows = [_Row(number, line.strip(), _cells(line)) for number, line in enumerate(lines, 1) if line.strip()]
    head = next((at for at, row in enumerate(rows) if _numbers(row.cells, unit)), None)
    if head is None:
        raise _refused("empty", words.NO_NUMBER)
    places = _Places({place: _plain(label) for place, label in (labels or {}).items()}, still_open)
    found = list(_readings(rows[head:], places.columns(rows[head - 1].cells) if head else {}, unit, places))
    if len(found) > MOST_READINGS:
        raise _refused("too_large", words.too_many_said(len(found)))
    return found


class _Places:
    """Places by the names that lists call them, and which of them are still free."""

    def __init__(self, named: Mapping[str, str], still_open: Sequence[str]) -> None:
        self._named = named
        self._free = list(still_open)

    def known(self, cell: str) -> bool:
        """Whether a cell names a place, or several that begin alike."""
        name = _plain(cell) if _PLAIN_NAME.fullmatch(cell) else ""
        return name != "" and any(label.startswith(name) for label in self._named.values())

    def take(self, cell: str, row: _Row) -> str:
        """The next free place of a name."""
        name = _plain(cell)
        exact = [place for place, label in self._named.items() if label == name]
        fitting = exact or [place for place, label in self._named.items() if label.startswith(name)]
        free = next((place for place in self._free if place in fitting), None)
        # A place that has its reading is still the place that was meant: taking it there says so.
        if free is None and not exact:
            raise _refused("no_place_left", words.no_place_left_said(row.line, row.whole, cell))
        if free is not None:
            self._free.remove(free)
        return exact[0] if free is None else free

    def columns(self, cells: Sequence[str]) -> dict[int, str]:
        """Columns that a heading gives to places; none unless it names at least two."""
        found = {at: cell for at, cell in enumerate(cells) if self.known(cell)}
        return found if len(found) > 1 else {}


def _readings(rows: Sequence[_Row], columns: Mapping[int, str], unit: Unit, places: _Places) -> Iterator[PastedReading]:
    counted = _counts_lines(rows, places)
    for row in rows:
        numbers = _numbers(row.cells, unit)
        if counted:
            numbers.pop(0, None)
        first = row.cells[0]
        named = first if len(row.cells) > 1 and not columns and places.known(first) else None
        if named is not None:
            numbers.pop(0, None)
        if not numbers:
            raise _refused("not_a_number", words.no_number_said(row.line, row.whole))
        for at, shown in numbers.items():
            cell = columns.get(at, named)
            yield PastedReading(row.line, shown, None if cell is None else places.take(cell, row))


def _counts_lines(rows: Sequence[_Row], places: _Places) -> bool:
    """Whether the first column is nothing but 1, 2, 3 and so on, and these are no places."""
    firsts = [row.cells[0] for row in rows]
    counting = firsts == [str(number) for number in range(1, len(rows) + 1)]
    return counting and all(len(row.cells) > 1 for row in rows) and not all(map(places.known, firsts))


def _cells(line: str) -> list[str]:
    if _DECIMAL_COMMA.fullmatch(line) is not None:
        return [line.strip()]
    separated = re.split(r"[;\t]", line) if re.search(r"[;\t]", line) else line.split(",")
    if len(separated) == 1:
        apart = _NAMING.sub("", line).split()
        units = {"mm", "cm", "g", "in", "um", '"'}
        separated = [line] if len(apart) == 2 and apart[1].casefold() in units else apart
    return [cell.strip().strip('"') for cell in separated]


def _numbers(cells: Sequence[str], unit: Unit) -> dict[int, str]:
    """Cells that are numbers, by where they stand."""
    found = {}
    for at, cell in enumerate(cells):
        try:
            parse_entry(cell, unit)
        except UnreadableEntry:
            continue
        found[at] = cell
    return found


def _plain(name: str) -> str:
    return _NOT_NAMED.sub("", name).casefold()


def _refused(code: str, said: str) -> Refused:
    return Refused(FieldProblem("text", code, said))
