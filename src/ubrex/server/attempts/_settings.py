"""What was set, and what else was so, when an attempt was made."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import lru_cache
from typing import Final

from ubrex.core.attempts import Setting
from ubrex.core.bead import Layers
from ubrex.core.chain import KINDS, Kind, SetAt
from ubrex.core.quantity import decimal_text
from ubrex.server.profile import Tuned, numbers_ever
from ubrex.server.store.records import CheckedFile, Filament, Print, RoomReading, Setup, Spool, SpoolEntry, Trial
from ubrex.server.views.workshop import SetupOut
from ubrex.server.words import attempts as words
from ubrex.server.words import since as parts
from ubrex.server.words.numbers import unit_text
from ubrex.server.workshop import dried_that_count, get_setup, room_at, rooms_read, setup_out

SET_BY_HAND: Final = frozenset({SetAt.SLICER, SetAt.MACHINE})
"""Where people set what they try: in the slicing program, or on the machine."""


@dataclass(frozen=True, slots=True)
class Held:
    """One thing that was so: what is computed with, and as it is read.

    ``base``: the setting that holds where nobody tried this one, for what was tried in a part of a print.
    """

    of: Setting
    text: str
    base: str = field(default="", compare=False)


@dataclass(frozen=True, slots=True)
class Around:
    """Everything about an attempt that is on record. ``settings`` can be set again; ``around`` is how things were."""

    settings: Mapping[str, Held]
    parts: Mapping[str, Held]
    around: Mapping[str, Held]

    @property
    def decided(self) -> dict[str, Held]:
        """What somebody chose: settings, and the parts they were printed with."""
        return {**self.settings, **self.parts}


@dataclass
class Ledger:
    """What was set at any time on any setup, each read once."""

    written: dict[int, list[tuple[Kind, float, str, datetime]]] = field(default_factory=dict)
    set_with: dict[tuple[int, int], dict[Kind, tuple[float, str]]] = field(default_factory=dict)
    setups: dict[int, Setup] = field(default_factory=dict)
    shown: dict[int, SetupOut] = field(default_factory=dict)
    trials: dict[int, list[Trial]] = field(default_factory=dict)
    spools: dict[int, str] = field(default_factory=dict)
    dried: dict[int, list[datetime]] = field(default_factory=dict)
    room: list[RoomReading] = field(default_factory=list)
    files: dict[int, str] = field(default_factory=dict)

    @classmethod
    def of(cls, prints: Sequence[Print]) -> Ledger:
        """All that is needed to say what was so at these attempts."""
        found = cls()
        for setup_id in {row.setup_id for row in prints}:
            setup = get_setup(setup_id)
            found.setups[setup_id], found.shown[setup_id] = setup, setup_out(setup)
            found.written[setup_id] = numbers_ever(setup)
        for trial in Trial.select().where(Trial.print.in_([row.id for row in prints])).order_by(Trial.id):
            found.trials.setdefault(trial.print_id, []).append(trial)
        spools = {row.spool_id for row in prints if row.spool_id is not None}
        logs: dict[int, list[SpoolEntry]] = {}
        for entry in SpoolEntry.select().where(SpoolEntry.spool.in_(spools), SpoolEntry.kind == "dried"):
            logs.setdefault(entry.spool_id, []).append(entry)
        for spool in Spool.select(Spool, Filament).join(Filament).where(Spool.id.in_(spools)):
            found.spools[spool.id] = spool.name
            found.dried[spool.id] = [row.at for row in dried_that_count(logs.get(spool.id, []), spool.filament)]
        files = {row.file_id for row in prints if row.file_id is not None}
        found.files = {row.id: row.name for row in CheckedFile.select().where(CheckedFile.id.in_(files))}
        found.room = rooms_read()
        return found

    def numbers_at(self, setup_id: int, at: datetime) -> dict[Kind, tuple[float, str]]:
        """Number and unit of everything that was set at a time."""
        rows = [row for row in self.written[setup_id] if row[3] <= at]
        # Between two writes nothing changes: what was set is the same for all attempts in between.
        known = self.set_with.get((setup_id, len(rows)))
        if known is None:
            known = {kind: (number, unit) for kind, number, unit, _ in rows}
            self.set_with[setup_id, len(rows)] = known
        return known

    def around(self, row: Print) -> Around:
        """Everything on record about an attempt."""
        return Around(settings=self._settings(row), parts=self._parts(row), around=self._around(row))

    def _settings(self, row: Print) -> dict[str, Held]:
        numbers = dict(self.numbers_at(row.setup_id, row.happened_at))
        tried = {(Kind(one.kind), one.reach, one.from_mm): one for one in self.trials.get(row.id, [])}
        for (kind, reach, _), one in tried.items():
            if reach == "all":
                numbers[kind] = (one.number, one.unit)
        found = {
            KINDS[kind].name: held_of(kind, *numbers[kind])
            for kind in Kind
            if kind in numbers and KINDS[kind].set_at in SET_BY_HAND
        }
        for (kind, reach, from_mm), one in tried.items():
            if reach != "all":
                name = KINDS[kind].name
                tried_here = replace(held_of(kind, one.number, one.unit), base=name)
                found[name + words.reach_said(reach, from_mm)] = tried_here
        return found

    def _parts(self, row: Print) -> dict[str, Held]:
        shown = self.shown[row.setup_id]
        spool = parts.NOTHING if row.spool_id is None else self.spools[row.spool_id]
        pairs = {
            words.REVISION: row.revision, parts.MACHINE: shown.machine, parts.HOTEND: shown.hotend,
            parts.NOZZLE: shown.nozzle, parts.SURFACE: shown.surface, parts.FILAMENT: shown.filament, parts.SPOOL: spool,
        }  # fmt: skip
        return {name: Held(text, text) for name, text in pairs.items() if text}

    def _around(self, row: Print) -> dict[str, Held]:
        found = {}
        if row.file_id is not None:
            found[words.FILE] = Held(self.files[row.file_id], self.files[row.file_id])
        dried = [at for at in self.dried.get(row.spool_id or 0, []) if at <= row.happened_at]
        if dried:
            hours = (row.happened_at - max(dried)).total_seconds() / 3600
            found[words.DRY] = Held(hours, parts.hours_said(round(hours)))
        read = room_at(self.room, row.happened_at)
        if read is not None:
            found[parts.ROOM] = Held(read.temperature_c, f"{decimal_text(read.temperature_c, 1)} °C")
            if read.humidity_pct is not None:
                found[parts.DAMP] = Held(read.humidity_pct, f"{read.humidity_pct:.0f} %")
        return found


@lru_cache(maxsize=4096)
def held_of(kind: Kind, number: float, unit: str) -> Held:
    """A setting as it is read."""
    return Held(number, f"{decimal_text(number, KINDS[kind].places)} {unit_text(unit)}".strip())


def layers_of(tuned: Tuned) -> Layers | None:
    """Layers as they are set; None where they are not."""
    each = tuned.values.get(Kind.LAYER)
    if each is None:
        return None
    return Layers(first_mm=tuned.values.get(Kind.LAYER_FIRST, each).number, each_mm=each.number)


def filled(rows: Iterable[Mapping[str, Held]]) -> list[dict[str, Held]]:
    """Settings of several attempts; what holds for a part of a print is the base setting where nobody tried another."""
    found = [dict(row) for row in rows]
    bases = {name: held.base for row in found for name, held in row.items() if held.base}
    for name, base in bases.items():
        for row in found:
            if name not in row and base in row:
                row[name] = row[base]
    return found
