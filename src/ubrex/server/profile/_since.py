"""What changed since the same part was printed last, and what may be believed of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from itertools import takewhile
from typing import Final, TypeAlias

from peewee import fn

from ubrex.core.attempts import Blame, blame
from ubrex.core.chain import KINDS, Change, Kind, SetAt
from ubrex.core.quantity import decimal_text
from ubrex.server.desk import Work, find
from ubrex.server.profile._course import values_ever
from ubrex.server.store.facts import fetch_changes
from ubrex.server.store.records import Print, RoomReading, Setup, Spool, SpoolEntry
from ubrex.server.views.records import ChangedOut, SinceOut
from ubrex.server.words import since as words
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.numbers import day, unit_text
from ubrex.server.words.scales import SIGNS
from ubrex.server.workshop import get_setup, setup_out

MOST_CHANGES: Final = 200

RATED: Final = {"good": 3.0, "bad": 1.0}
"""*Works* and *does not* on the scale of 0 to 4 (E): two words apart, which one print each does not prove (rules, N)."""

WARMER_C, DAMPER_PCT = 3.0, 10.0
"""A room that differs by less is the same room (E)."""


def show_since(_work: Work, print_id: int) -> SinceOut:
    """The print of the same part before, everything on record that differs, and whose doing the difference may be."""
    row = find(Print, print_id, "print")
    before = _before(row)
    if before is None:
        return SinceOut(before="", changed=[], said=words.FIRST)
    new = get_setup(row.setup_id)
    old = new if before.setup_id == row.setup_id else get_setup(before.setup_id)
    settings = _settings(_set_at(old, before.happened_at), _set_at(new, row.happened_at))
    others = [*_parts(old, new), *_spools(before, row), *_done(new, before, row)]
    others += _room(before.happened_at, row.happened_at)
    names = [name for name, _ in settings]
    seen = _seen(before, row)
    found = None
    if seen is not None:
        changed = [*names, *(said.name for said in others)]
        found = blame(
            dict.fromkeys(changed, "then"), dict.fromkeys(changed, "now"), rating_before=seen.then, rating_after=seen.now,
        )  # fmt: skip
    said = _said(found, alike=seen is not None and seen.then == seen.now, undoable=names)
    return SinceOut(
        before=words.before_said(before.what, day(before.happened_at), before.outcome),
        changed=[*(said for _, said in settings), *others],
        said=said if seen is None or not seen.sign else f"{words.seen_said(seen.sign, seen.then, seen.now)} {said}",
    )


@dataclass(frozen=True, slots=True)
class _Seen:
    """What both prints were looked at for: a sign, or no more than whether they work; 0 to 4."""

    sign: str
    then: float
    now: float


def _seen(before: Print, after: Print) -> _Seen | None:
    """The sign that moved most of those looked at both times; else whether it works; None where one was stopped."""
    both = [
        _Seen(key, before.signs[key], after.signs[key]) for key in SIGNS if key in before.signs and key in after.signs
    ]
    if both:
        return max(both, key=lambda one: abs(one.now - one.then))
    if {before.outcome, after.outcome} - RATED.keys():
        return None
    return _Seen("", RATED[before.outcome], RATED[after.outcome])


def _before(row: Print) -> Print | None:
    """The newest print of the same name before, on this setup rather than on another."""
    same = Print.select().where(
        Print.standing(), Print.id != row.id, fn.LOWER(fn.TRIM(Print.what)) == row.what.strip().lower(),
        (Print.happened_at < row.happened_at) | ((Print.happened_at == row.happened_at) & (Print.id < row.id)),
    ).order_by((Print.setup == row.setup_id).desc(), Print.happened_at.desc(), Print.id.desc())  # fmt: skip
    found: Print | None = same.first()
    return found


_Set: TypeAlias = dict[Kind, tuple[float, str]]
"""Number and unit of what was set."""


def _settings(then: _Set, now: _Set) -> list[tuple[str, ChangedOut]]:
    """What was set differently: name, and both numbers."""
    found = []
    for kind in Kind:
        row = KINDS[kind]
        if row.set_at not in {SetAt.SLICER, SetAt.MACHINE} or then.get(kind) == now.get(kind):
            continue
        texts = [
            "" if one is None else f"{decimal_text(one[0], row.places)} {unit_text(one[1])}"
            for one in (then.get(kind), now.get(kind))
        ]
        found.append(
            (row.name, ChangedOut(name=row.name, before=texts[0] or words.NOTHING, after=texts[1] or words.NOTHING))
        )
    return found


def _set_at(setup: Setup, at: datetime) -> _Set:
    """Everything that was set at a time."""
    found: _Set = {}
    for row in sorted(values_ever(setup, list(Kind)), key=lambda row: row.id):
        if row.at <= at:
            found[Kind(row.kind)] = (row.number, row.unit)
    return found


def _parts(before: Setup, after: Setup) -> list[ChangedOut]:
    """Parts of the setup, where they are others."""
    old, new = setup_out(before), setup_out(after)
    pairs = (
        (words.MACHINE, old.machine, new.machine),
        (words.HOTEND, old.hotend, new.hotend),
        (words.NOZZLE, old.nozzle, new.nozzle),
        (words.SURFACE, old.surface, new.surface),
        (words.FILAMENT, old.filament, new.filament),
    )
    return [ChangedOut(name=name, before=one, after=other) for name, one, other in pairs if one != other]


def _spools(before: Print, after: Print) -> list[ChangedOut]:
    """The spool, where it was another."""
    if before.spool_id == after.spool_id:
        return []
    names = [
        words.NOTHING if row.spool_id is None else find(Spool, row.spool_id, "spool").name for row in (before, after)
    ]
    return [ChangedOut(name=words.SPOOL, before=names[0], after=names[1])]


def _done(setup: Setup, before: Print, after: Print) -> list[ChangedOut]:
    """What was done to the machine, and to the spool, between the two."""
    from_s, to_s = before.happened_at.timestamp(), after.happened_at.timestamp()
    rows = takewhile(lambda row: row.at_s > from_s, fetch_changes(setup, MOST_CHANGES))
    done = [
        ChangedOut(name=CHANGES[Change(row.kind)].name, before="", after=row.note)
        for row in rows
        if row.at_s <= to_s and not row.withdrawn
    ]
    dried = SpoolEntry.select().where(
        SpoolEntry.spool == after.spool_id, SpoolEntry.kind == "dried", SpoolEntry.at > before.happened_at,
        SpoolEntry.at <= after.happened_at,
    )  # fmt: skip
    return done + [ChangedOut(name=words.DRIED, before="", after=words.hours_said(row.number)) for row in dried]


def _room(before: datetime, after: datetime) -> list[ChangedOut]:
    """The air, where it was read both times and was another."""
    then, now = (
        RoomReading.select().where(RoomReading.at <= at).order_by(RoomReading.at.desc(), RoomReading.id.desc()).first()
        for at in (before, after)
    )
    if then is None or now is None:
        return []
    found = []
    if abs(now.temperature_c - then.temperature_c) >= WARMER_C:
        texts = (f"{decimal_text(row.temperature_c, 1)} °C" for row in (then, now))
        found.append(ChangedOut(name=words.ROOM, before=next(texts), after=next(texts)))
    damp = (then.humidity_pct, now.humidity_pct)
    if None not in damp and abs(damp[1] - damp[0]) >= DAMPER_PCT:
        found.append(ChangedOut(name=words.DAMP, before=f"{damp[0]:.0f} %", after=f"{damp[1]:.0f} %"))
    return found


def _said(found: Blame | None, *, alike: bool, undoable: list[str]) -> str:
    """What may be believed, in one or two sentences."""
    if found is None:
        return words.STOPPED
    if found.verdict == "nothing_changed":
        return words.ALIKE if alike else words.SCATTER
    if alike:
        return words.alike_said(len(found.changed))
    if found.credited is not None:
        return words.credited_said(found.credited)
    if len(found.changed) == 1:
        return words.alone_said(found.changed[0])
    keep = [name for name in found.try_next or () if name in undoable]
    undo = [name for name in found.undo_next or () if name in undoable]
    return words.several_said(len(found.changed), keep, undo)
