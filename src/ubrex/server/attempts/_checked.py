"""Files that were checked: what one says wins over what somebody remembers to have set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Final

from ubrex.core.chain import KINDS, Kind
from ubrex.core.gcode import is_same
from ubrex.core.judge import Severity
from ubrex.server.attempts._settings import SET_BY_HAND, held_of
from ubrex.server.attempts._trials import Tried
from ubrex.server.desk import FieldProblem, TypedFields
from ubrex.server.profile import Tuned, judged_change
from ubrex.server.store.records import CheckedFile
from ubrex.server.views.attempts import CheckedFileOut
from ubrex.server.words import attempts as words
from ubrex.server.workshop import places_of, unit_of

MOST_OFFERED: Final = 5
"""Checked files that are offered, the newest first."""


@dataclass(frozen=True, slots=True)
class InFile:
    """What a checked file changes of what was set: settings that were others in this print, and those set back by it."""

    file: CheckedFile | None
    tried: Sequence[Tried]
    back: frozenset[Kind] = frozenset()


def offered_files(tuned: Tuned, since: datetime | None) -> list[CheckedFileOut]:
    """Files that were checked last on a setup; the newest is taken for what prints now where it is newer than ``since``."""
    rows = (
        CheckedFile.select()
        .where(CheckedFile.setup == tuned.setup.id)
        .order_by(CheckedFile.id.desc())
        .limit(MOST_OFFERED)
    )
    return [
        CheckedFileOut(
            id=row.id,
            name=row.name,
            at=row.at,
            likely=place == 0 and (since is None or row.at > since),
            minutes=round(row.seconds / 60),
            differs=differs_from_file(tuned, row),
        )
        for place, row in enumerate(rows)
    ]  # fmt: skip


def differs_from_file(tuned: Tuned, row: CheckedFile) -> list[str]:
    """What a checked file sets otherwise than the profile."""
    return [
        words.file_differs_said(KINDS[kind].name, held_of(kind, number, _unit(tuned, kind)).text, _set(tuned, kind))
        for kind, number in _numbers(row).items()
        if not _is_set(tuned, kind, number)
    ]


def read_file(tuned: Tuned, file_id: int | None, tried: Sequence[Tried], fields: TypedFields) -> InFile:
    """Settings of an attempt by the file it was printed from: its numbers win. What no machine here may is refused."""
    if file_id is None:
        return InFile(None, tried)
    row: CheckedFile | None = CheckedFile.get_or_none(CheckedFile.id == file_id, CheckedFile.setup == tuned.setup.id)
    if row is None:
        fields.add(FieldProblem("file_id", "no_such_file", words.NO_SUCH_FILE))
        return InFile(None, tried)
    numbers = _numbers(row)
    found = [one for one in tried if one.reach != "all" or one.kind not in numbers]
    before = {one.kind: one for one in tried if one.reach == "all"}
    for kind, number in numbers.items():
        if _is_set(tuned, kind, number):
            continue
        findings = judged_change(tuned.setup, tuned.values, {kind: number}, typed=[kind])
        if any(one.severity is Severity.REFUSED for one in findings):
            fields.add(FieldProblem("file_id", "file_too_much", words.file_too_much_said(row.name, KINDS[kind].name)))
            continue
        unit = unit_of(kind, tuned.setup.toolhead.machine)
        own = before.get(kind, Tried(kind, number, unit, "all", None))
        found.append(replace(own, number=number))
    back = frozenset(kind for kind, number in numbers.items() if _is_set(tuned, kind, number))
    return InFile(row, found, back)


def _numbers(row: CheckedFile) -> dict[Kind, float]:
    """What it says of settings that people set by hand."""
    numbers = {Kind(kind): float(number) for kind, number in row.numbers.items()}
    return {kind: number for kind, number in numbers.items() if KINDS[kind].set_at in SET_BY_HAND}


def _is_set(tuned: Tuned, kind: Kind, number: float) -> bool:
    value = tuned.values.get(kind)
    if value is None:
        return number == 0
    return is_same(number, value.number, places_of(kind, tuned.setup.toolhead.machine))


def _unit(tuned: Tuned, kind: Kind) -> str:
    return unit_of(kind, tuned.setup.toolhead.machine).value


def _set(tuned: Tuned, kind: Kind) -> str:
    value = tuned.values.get(kind)
    return "" if value is None else held_of(kind, value.number, value.unit).text
