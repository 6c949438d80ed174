"""A heat log as machines and people write it: columns of time, target, shown and, if known, duty."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

FULL_SCALES: Final = (1.0, 100.0, 255.0)
"""What full power is, as machines say it: a share, percent, or a byte."""

SCALE_SLACK: Final = 1.001

MOST_ROWS: Final = 50_000

MOST_NUMBER: Final = 1e7
"""A clock in seconds, a temperature or a share beyond this comes from a slip."""

_NAMES: Final = {
    "time": re.compile(r"time|sec|^t$|^s$", re.I),
    "target": re.compile(r"target|set|wanted", re.I),
    "shown": re.compile(r"shown|actual|temp|nozzle|hotend|°c", re.I),
    "duty": re.compile(r"duty|power|pwm", re.I),
}
_PLAIN: Final = re.compile(r"[+-]?[0-9]{1,12}(?:[.,][0-9]{0,12})?")
_CLOCK: Final = re.compile(r"(?:(\d+):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)$")


class UnreadableLog(ValueError):
    """A log that cannot be read; says which line, and why."""


@dataclass(frozen=True, slots=True)
class HeatLogRows:
    """Times from 0 [s], what was wanted and shown [°C], and power, 0 to 1, where the log has it."""

    times_s: tuple[float, ...]
    target_c: float
    shown_c: tuple[float, ...]
    duty: tuple[float, ...] | None


def read_log(text: str) -> HeatLogRows:
    """A log of time, target, shown and perhaps duty, with or without a line of names.

    Separated by semicolons, tabs, or commas; a comma is a decimal mark where something else separates. Time is seconds or a
    clock. The last target is the one wanted; what came before it was set is left out.

    Raises
    ------
    UnreadableLog
        If columns are missing, a cell is no number, or time runs backwards.
    """
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if len(lines) > MOST_ROWS:
        raise UnreadableLog(f"More than {MOST_ROWS} lines: cut it to the heat-up and ten minutes after it.")
    if not lines:
        raise UnreadableLog("Nothing in it yet.")
    apart = next((mark for mark in (";", "\t", ",") if mark in lines[0]), None)
    rows = [[cell.strip() for cell in (line.split(apart) if apart else line.split())] for line in lines]
    columns = {"time": 0, "target": 1, "shown": 2, "duty": 3}
    if not _is_number(rows[0][0]):
        columns, rows = _named(rows[0]), rows[1:]
    if not rows or "shown" not in columns or "time" not in columns or "target" not in columns:
        raise UnreadableLog("It needs the columns time, target and shown, and duty if it is known.")
    width = max(at for name, at in columns.items() if name != "duty")
    times, targets, shown, duty = [], [], [], []
    for number, row in enumerate(rows, 1):
        if len(row) <= width:
            raise UnreadableLog(f"Line {number} has {len(row)} columns, {width + 1} are needed.")
        times.append(_seconds(row[columns["time"]], number))
        targets.append(_number(row[columns["target"]], number))
        shown.append(_number(row[columns["shown"]], number))
        if "duty" in columns and len(row) > columns["duty"] and row[columns["duty"]]:
            duty.append(_number(row[columns["duty"]], number))
    if any(after <= before for before, after in pairwise(times)):
        raise UnreadableLog("Time stands still or runs backwards in it.")
    begin = _set_at(targets)
    return HeatLogRows(
        tuple(time - times[begin] for time in times[begin:]), targets[-1], tuple(shown[begin:]),
        _shares(duty)[begin:] if len(duty) == len(times) else None,
    )  # fmt: skip


def _named(row: Sequence[str]) -> dict[str, int]:
    """Columns by the names above them."""
    found: dict[str, int] = {}
    for at, cell in enumerate(row):
        name = next((name for name, like in _NAMES.items() if name not in found and like.search(cell)), None)
        if name is not None:
            found[name] = at
    return found


def _set_at(targets: Sequence[float]) -> int:
    """Where the last target was set."""
    place = len(targets) - 1
    while place and targets[place - 1] == targets[-1]:
        place -= 1
    return place


def _shares(duty: Sequence[float]) -> tuple[float, ...]:
    """Power as a share of what full power is in this log."""
    full = next((scale for scale in FULL_SCALES if max(duty) <= scale * SCALE_SLACK), max(duty))
    return tuple(min(1.0, max(0.0, one / full)) for one in duty)


def _is_number(cell: str) -> bool:
    return _CLOCK.match(cell) is not None or _PLAIN.fullmatch(cell) is not None


def _number(cell: str, line: int) -> float:
    if not _PLAIN.fullmatch(cell):
        raise UnreadableLog(f"Line {line}: {cell[:20]!r} is no number.")
    number = float(cell.replace(",", "."))
    if abs(number) > MOST_NUMBER:
        raise UnreadableLog(f"Line {line}: {cell[:20]} is nothing that a heater logs.")
    return number


def _seconds(cell: str, line: int) -> float:
    clock = _CLOCK.match(cell)
    if clock is None:
        return _number(cell, line)
    return 3600 * int(clock[1] or 0) + 60 * int(clock[2]) + float(clock[3].replace(",", "."))
