"""What changed since the same part was printed last, and what may be believed of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import takewhile
from typing import Final

from peewee import fn

from ubrex.core.attempts import Blame, blame, compare_counts
from ubrex.core.chain import KINDS, Change
from ubrex.server.attempts._rated import RATED
from ubrex.server.attempts._settings import SET_BY_HAND, Held, Ledger, filled, held_of
from ubrex.server.desk import Work, find
from ubrex.server.store.facts import fetch_changes
from ubrex.server.store.records import Print, Setup, SpoolEntry
from ubrex.server.views.attempts import ChangedOut, SinceOut
from ubrex.server.words import attempts as said_of
from ubrex.server.words import since as words
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.numbers import day
from ubrex.server.words.scales import SIGNS

MOST_CHANGES: Final = 200

WARMER_C, DAMPER_PCT = 3.0, 10.0
"""A room that differs by less is the same room (E)."""


PROFILE_NOW: Final = 0
"""Stands for the profile as it is now, instead of another attempt."""


def show_since(work: Work, print_id: int, against: int | None = None) -> SinceOut:
    """Another attempt, everything on record that differs, and whose doing the difference may be.

    ``against``: the other one, or ``PROFILE_NOW``; the print of the same part before where nobody says.
    """
    row = find(Print, print_id, "print")
    if against == PROFILE_NOW:
        return _since_profile(work, row)
    before = _before(row) if against is None else find(Print, against, "print")
    if before is not None and before.happened_at > row.happened_at:
        before, row = row, before
    if before is None:
        return SinceOut(before="", changed=[], said=words.FIRST)
    return since_of(Ledger.of([before, row]), before, row)


def since_of(ledger: Ledger, before: Print, row: Print, *, scatter: tuple[float, float] | None = None) -> SinceOut:
    """What differs between two attempts, and what may be believed; ``scatter``: own standard deviation and its weight."""
    then, now = ledger.around(before), ledger.around(row)
    settings = _differing(*filled([then.settings, now.settings]))
    others = [*_differing(then.parts, now.parts), *_done(ledger.setups[row.setup_id], before, row)]
    others += _room(then.around, now.around)
    names = [one.name for one in settings]
    seen = _seen(before, row)
    found = None
    if seen is not None:
        changed = [*names, *(one.name for one in others)]
        std, dof = scatter or (None, 0.0)
        found = blame(
            dict.fromkeys(changed, "then"), dict.fromkeys(changed, "now"), rating_before=seen.then, rating_after=seen.now,
            repeat_sd=std, repeat_dof=dof,
        )  # fmt: skip
    told = [_said(found, alike=seen is not None and seen.then == seen.now, undoable=names)]
    if seen is not None and seen.sign:
        told.insert(0, words.seen_said(seen.sign, seen.then, seen.now))
    return SinceOut(
        before=words.before_said(before.what, day(before.happened_at), before.outcome),
        changed=[*settings, *others],
        said=" ".join([*_counted(before, row), *told]),
    )


def _since_profile(work: Work, row: Print) -> SinceOut:
    """What was set in an attempt and is another in the profile now."""
    ledger = Ledger.of([row])
    numbers = ledger.numbers_at(row.setup_id, work.now)
    now = {KINDS[kind].name: held_of(kind, *numbers[kind]) for kind in numbers if KINDS[kind].set_at in SET_BY_HAND}
    changed = _differing(*filled([ledger.around(row).settings, now]))
    said = words.profile_said(len(changed))
    return SinceOut(before=words.before_said(row.what, day(row.happened_at), row.outcome), changed=changed, said=said)


def _differing(then: Mapping[str, Held], now: Mapping[str, Held]) -> list[ChangedOut]:
    """What was one thing then and is another now, by name."""
    nothing = Held(None, words.NOTHING)
    return [
        ChangedOut(name=name, before=then.get(name, nothing).text, after=now.get(name, nothing).text)
        for name in dict.fromkeys([*then, *now])
        if then.get(name, nothing) != now.get(name, nothing)
    ]


def _counted(before: Print, after: Print) -> list[str]:
    """Signs that were counted both times; of lengths nobody knows how much is chance."""
    return [
        said_of.counts_said(
            key, before.counts[key], after.counts[key],
            real=None if unit else compare_counts(before.counts[key], after.counts[key]),
        )
        for key, (_, unit) in said_of.COUNTS.items()
        if key in before.counts and key in after.counts
    ]  # fmt: skip


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


def _room(then: Mapping[str, Held], now: Mapping[str, Held]) -> list[ChangedOut]:
    """The air, where it was read both times and was another."""
    limits = {words.ROOM: WARMER_C, words.DAMP: DAMPER_PCT}
    return [
        ChangedOut(name=name, before=then[name].text, after=now[name].text)
        for name, least in limits.items()
        if name in then and name in now and abs(_number(now[name]) - _number(then[name])) >= least
    ]


def _number(held: Held) -> float:
    return float(held.of or 0.0)


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
