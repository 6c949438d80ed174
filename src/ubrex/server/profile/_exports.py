"""A profile taken along: as JSON that comes in again, as CSV, and as lines for the machine's own commands."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Iterable, Sequence
from datetime import UTC, datetime
from typing import Final, Literal

from ubrex.core.chain import KINDS, Change, Kind, Origin
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.desk import Work
from ubrex.server.profile._tuned import Tuned, tuned_of
from ubrex.server.store.facts import ValueRow, fetch_changes
from ubrex.server.store.records import Print, RoomReading, Setup, SpoolEntry, Trial
from ubrex.server.views.base import on_one_line
from ubrex.server.views.profiles import ExportOut, ProfileFile, ProfileValue
from ubrex.server.words import exports as words
from ubrex.server.words.attempts import tried_said
from ubrex.server.words.inventory import entry_said
from ubrex.server.words.machine import SAVE, Keeping, command_for
from ubrex.server.words.numbers import day, plain, unit_text
from ubrex.server.words.wear import came_out_said, sign_said
from ubrex.server.workshop import feed_said, get_setup, places_of, setup_title

FORMAT: Final = "ubrex-profile"
VERSION: Final = 3
"""Files of version 1 say nothing of spool, drying, feed path, room and what it was verified for; those of 2 of attempts."""

MOST_ATTEMPTS: Final = 100
"""Attempts that go along with a profile."""

MOST_CHANGES: Final = 20
"""Changes that are looked through for those of the feed path."""

_FORMULA: Final = ("=", "+", "-", "@", "\t", "\r")
"""First characters that make a spreadsheet run a cell; text that begins so gets an apostrophe before it."""

ExportShape = Literal["json", "csv", "commands"]

_FEED_PATH: Final = frozenset({Change.FEED_PATH, Change.FEED_TUBE, Change.EXTRUDER, Change.GEAR_TENSION})


def export_profile(_work: Work, setup_id: int, shape: ExportShape) -> ExportOut:
    """A profile in one of three shapes."""
    setup = get_setup(setup_id)
    found = tuned_of(setup)
    make: dict[ExportShape, Callable[[Setup, Tuned], str]] = {
        "json": _as_json,
        "csv": _as_csv,
        "commands": _as_commands,
    }
    endings = {"json": "json", "csv": "csv", "commands": "gcode"}
    stem = "-".join(f"{setup.toolhead.machine.name} {setup.filament.name}".lower().split())
    name = "".join(letter for letter in stem if letter.isalnum() or letter == "-")
    return ExportOut(name=f"{name or 'profile'}.{endings[shape]}", text=make[shape](setup, found))


def _as_json(setup: Setup, found: Tuned) -> str:
    machine, hotend, nozzle = setup.toolhead.machine, setup.toolhead.hotend, setup.nozzle
    file = ProfileFile(
        format="ubrex-profile",
        version=VERSION,
        machine=machine.name,
        hotend=hotend.name,
        nozzle_bore_mm=nozzle.bore_mm,
        nozzle_material=nozzle.material,
        surface=None if setup.surface is None else setup.surface.name,
        filament=setup.filament.name,
        family=setup.filament.family,
        hardness=setup.filament.hardness,
        spool=None if setup.spool is None else setup.spool.name,
        drying=last_drying_said(setup),
        feed_path=feed_said(machine),
        feed_changes=feed_changes_said(setup),
        room=room_said(),
        verified_for=verified_said(setup),
        attempts=attempts_said(setup),
        values=values_of(found),
    )
    return json.dumps(file.model_dump(mode="json"), indent=2, ensure_ascii=False) + "\n"


def _as_csv(_setup: Setup, found: Tuned) -> str:
    """Rows as RFC 4180 has them: comma, CRLF, quotes doubled."""
    rows = [
        [
            KINDS[kind].name, float(value.number), value.unit, value.half_width_95, value.origin, value.person,
            datetime.fromtimestamp(value.at_s, UTC), value.note or value.decision_note or "",
        ]
        for kind in Kind
        if (value := found.values.get(kind)) is not None
    ]  # fmt: skip
    return sheet_of(["value", "number", "unit", "half_width_95", "origin", "person", "date", "note"], rows)


def sheet_of(heads: Sequence[str], rows: Iterable[Sequence[str | float | datetime | None]]) -> str:
    """A table as CSV for a spreadsheet: numbers in full precision, moments in UTC, no text that it would run."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(heads)
    writer.writerows([_cell(one) for one in row] for row in rows)
    return out.getvalue()


def _cell(held: str | float | datetime | None) -> str:
    if held is None:
        return ""
    if isinstance(held, datetime):
        return held.astimezone(UTC).isoformat()
    if isinstance(held, str):
        return f"'{held}" if held.startswith(_FORMULA) else held
    return repr(held)


def _as_commands(setup: Setup, found: Tuned) -> str:
    """What the machine keeps in firmware, as lines for its start; every line says what it does. Nothing here heats."""
    machine = setup.toolhead.machine
    lines = [words.written_said(on_one_line(setup_title(setup)), _newest_day(found))]
    esteps, offset, pressure = (found.values.get(kind) for kind in (Kind.E_STEPS, Kind.Z_OFFSET, Kind.PRESSURE))
    if machine.keeps_setting == Keeping.COMMAND_PAIR.value:
        if esteps is not None and esteps.unit == Unit.STEPS_PER_MM.value:
            setting = decimal_text(esteps.number, machine.setting_places)
            lines.append(words.steps_line(command_for(Kind.E_STEPS, setting), setting))
        if offset is not None:
            said = plain(offset.number)
            lines.append(words.offset_line(command_for(Kind.Z_OFFSET, said), plain(abs(offset.number))))
        if pressure is not None:
            said = plain(pressure.number)
            lines.append(words.pressure_line(command_for(Kind.PRESSURE, said), said))
        lines.append(words.saved_line(SAVE))
    else:
        lines.append(words.no_commands_line(on_one_line(machine.name), Keeping(machine.keeps_setting)))
        for kind, value in ((Kind.E_STEPS, esteps), (Kind.Z_OFFSET, offset), (Kind.PRESSURE, pressure)):
            if value is not None:
                places = places_of(kind, machine)
                lines.append(f"; {KINDS[kind].name}: {decimal_text(value.number, places)} {unit_text(value.unit)}")
    return "\n".join(line.replace("\N{MINUS SIGN}", "-") for line in lines) + "\n"


def _newest_day(found: Tuned) -> str:
    newest = max((value.at_s for value in found.values.values()), default=None)
    return (
        "no day yet" if newest is None else day(datetime.fromtimestamp(newest, UTC)).replace("\N{NO-BREAK SPACE}", " ")
    )


def last_drying_said(setup: Setup) -> str:
    """When and how the spool on a setup was dried last; empty where nobody noted it."""
    if setup.spool_id is None:
        return ""
    row = (
        SpoolEntry.select()
        .where(SpoolEntry.spool == setup.spool_id, SpoolEntry.kind == "dried")
        .order_by(SpoolEntry.at.desc(), SpoolEntry.id.desc())
        .first()
    )
    return "" if row is None else words.on_day_said(entry_said(row.kind, row.number, row.second), day(row.at))


def feed_changes_said(setup: Setup) -> list[str]:
    """What was done to the feed path, newest first."""
    rows = [row for row in fetch_changes(setup, MOST_CHANGES) if not row.withdrawn and Change(row.kind) in _FEED_PATH]
    return [words.change_line(Change(row.kind), day(datetime.fromtimestamp(row.at_s, UTC)), row.note) for row in rows]


def room_said() -> str:
    """The air as it was read last; empty where nobody read it."""
    row = RoomReading.select().order_by(RoomReading.id.desc()).first()
    if row is None:
        return ""
    return words.room_line(row.temperature_c, row.humidity_pct, draught=row.draught, on=day(row.at))


def verified_said(setup: Setup) -> str:
    """What was printed on a setup and came out well, the last of each name; empty where nothing was."""
    good = (Print.setup == setup.id, Print.outcome == "good", Print.standing())
    rows = Print.select(Print.what).where(*good).order_by(Print.id.desc())
    return ", ".join(list(dict.fromkeys(row.what for row in rows.limit(20)))[:4])


def attempts_said(setup: Setup) -> list[str]:
    """The last attempts on a setup, the newest first: when, how they came out, what was seen, what was tried."""
    rows = list(
        Print.select()
        .where(Print.setup == setup.id, Print.standing())
        .order_by(Print.happened_at.desc(), Print.id.desc())
        .limit(MOST_ATTEMPTS)
    )
    tried: dict[int, list[str]] = {}
    for one in Trial.select().where(Trial.print.in_([row.id for row in rows])).order_by(Trial.id):
        said = tried_said(Kind(one.kind), one.number, one.unit, one.reach, one.from_mm)
        tried.setdefault(one.print_id, []).append(said)
    return [
        words.attempt_line(
            f"{row.what}, {row.revision}" if row.revision else row.what,
            day(row.happened_at),
            [came_out_said(row.outcome, row.looks), *(sign_said(key, rating) for key, rating in row.signs.items())],
            tried.get(row.id, []),
            on_one_line(row.note),
        )
        for row in rows
    ]


def about_said(setup: Setup) -> list[str]:
    """What the numbers of a setup were found with, in lines: as a profile file says it, and the card of a spool."""
    rows = (
        (words.SPOOL, "" if setup.spool is None else setup.spool.name),
        (words.DRYING, last_drying_said(setup)),
        (words.FEED_PATH, feed_said(setup.toolhead.machine)),
        (words.FEED_CHANGED, next(iter(feed_changes_said(setup)), "")),
        (words.ROOM, room_said()),
        (words.VERIFIED, verified_said(setup)),
    )
    return [f"{name}: {said}" for name, said in rows if said]


def values_of(found: Tuned) -> list[ProfileValue]:
    """The values of a setup as a file holds them."""
    return [portable(kind, found.values[kind]) for kind in Kind if kind in found.values]


def portable(kind: Kind, value: ValueRow) -> ProfileValue:
    """A value as a file holds it."""
    return ProfileValue(
        kind=kind,
        number=value.number,
        unit=Unit(value.unit),
        half_width_95=value.half_width_95,
        origin=Origin(value.origin),
        at=datetime.fromtimestamp(value.at_s, UTC),
        person=value.person,
        beside=value.beside,
        note=value.note or value.decision_note or "",
    )
