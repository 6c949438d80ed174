"""Work done on machines, nozzles, plates and filament: what it will make stale, logging it, taking an entry back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime, timedelta
from typing import Any, Final, Literal

from peewee import JOIN

from ubrex.core.chain import EFFECTS, PART_OF, Change, Done, Part
from ubrex.server.desk import Clash, FieldProblem, Refused, Work, find
from ubrex.server.profile._held import DAY_S
from ubrex.server.profile._standing import standings_of
from ubrex.server.profile._values import lock_values
from ubrex.server.store.facts import ChangeRow
from ubrex.server.store.prepared import Insert, Prepared
from ubrex.server.store.records import LoggedChange, Person, Setup, Withdrawal
from ubrex.server.views.bench import (
    ChangeIn,
    ChangeKindOut,
    ChangeOut,
    ConsequenceOut,
    PreviewOut,
    StepMoveOut,
)
from ubrex.server.words import changes as words
from ubrex.server.words.changes import CHANGES, LOGGABLE, care_said, consequence, freed, touched
from ubrex.server.words.standing import STEP_NAMES, standing_word
from ubrex.server.workshop import nozzle_text, setup_title, setups_in_use, usable_setup

MOST_SETUPS: Final = 60
"""Setups a preview names at most; more share a machine only in a workshop that prints all day."""


def _done_on(machine_id: int) -> Any:
    return (
        LoggedChange.select(LoggedChange.id, LoggedChange.kind, LoggedChange.happened_at)
        .join(Withdrawal, JOIN.LEFT_OUTER, on=(Withdrawal.change == LoggedChange.id))
        .where(LoggedChange.machine == machine_id, Withdrawal.change.is_null())
    )


_DONE_ON: Final[Prepared[LoggedChange]] = Prepared(_done_on)
_WITHDRAWALS: Final = Insert(Withdrawal)


def done_on(machine_id: int) -> list[Done]:
    """What was done to a machine itself and not taken back."""
    rows = _DONE_ON.tuples(machine_id)
    return [Done(Change(kind), at.timestamp() / DAY_S, key) for key, kind, at in rows]


def changes_out(rows: Sequence[ChangeRow]) -> list[ChangeOut]:
    """What was done to a setup, as a list shows it."""
    return [
        ChangeOut(
            id=row.id,
            kind=Change(row.kind),
            name=CHANGES[Change(row.kind)].name,
            note=row.note,
            happened_at=datetime.fromtimestamp(row.at_s, UTC),
            person=row.person,
            withdrawn=row.withdrawn,
        )
        for row in rows
    ]


def list_change_kinds(_work: Work, setup_id: int) -> list[ChangeKindOut]:
    """What can be logged, on which part of this setup, and what each makes of the chain in general."""
    setup = usable_setup(setup_id)
    return [
        ChangeKindOut(
            kind=kind,
            name=CHANGES[kind].name,
            part=PART_OF[kind],
            part_name=_part_name(setup, PART_OF[kind]),
            consequence=consequence(kind),
        )
        for kind in LOGGABLE
        if PART_OF[kind] is not Part.SURFACE or setup.surface_id is not None
    ]


def preview_change(work: Work, setup_id: int, kind: Change, happened_at: datetime | None) -> PreviewOut:
    """What logging this will make of each setup that shares the part; nothing is written."""
    setup = usable_setup(setup_id)
    _judge_kind(setup, kind)
    # A change done now comes after everything that was recorded up to now.
    at_day = (happened_at or work.now + timedelta(seconds=1)).timestamp() / DAY_S
    found = []
    for before in standings_of(_sharing(setup, PART_OF[kind])[:MOST_SETUPS], work.now):
        after = before.with_change(kind, at_day, work.now)
        moves = [
            StepMoveOut(
                step=step,
                name=STEP_NAMES[step],
                was=standing_word(facts.standing),
                becomes=standing_word(after.steps[step].standing),
                why=touched(step, EFFECTS[kind][step], kind) if step in EFFECTS[kind] else freed(step),
            )
            for step, facts in before.steps.items()
            if after.steps[step].standing is not facts.standing
        ]
        found.append(ConsequenceOut(setup_id=before.setup.id, setup=setup_title(before.setup), moves=moves))
    return PreviewOut(
        kind=kind, consequence=consequence(kind), care=care_said(kind), another=_ANOTHER.get(kind), setups=found
    )


_ANOTHER: Final[Mapping[Change, Literal["nozzle", "surface"]]] = {
    Change.NOZZLE_OTHER: "nozzle",
    Change.SURFACE_OTHER: "surface",
}
"""Work after which a setup has another part on it than the one that is known."""


def log_change(work: Work, setup_id: int, form: ChangeIn) -> ChangeOut:
    """Log what was done to a part of a setup, also after the fact."""
    person = work.person()
    # Two who log the same work at once: the second is told that it is there.
    lock_values()
    setup = usable_setup(setup_id)
    _judge_kind(setup, form.kind)
    happened_at = form.happened_at or work.now
    if happened_at > work.now:
        raise Refused(FieldProblem("happened_at", "in_future", words.IN_FUTURE))
    note = form.note.strip()
    target = _target(setup, PART_OF[form.kind])
    same = _select().where(
        LoggedChange.kind == form.kind.value,
        *(getattr(LoggedChange, column) == key for column, key in target.items()),
    )
    day = happened_at.date()
    if any(row.happened_at.date() == day and row.note == note and not _withdrawn(row) for row in same):
        raise Refused(FieldProblem("kind", "logged_already", words.LOGGED_ALREADY))
    row = LoggedChange.create(
        kind=form.kind.value,
        note=note,
        happened_at=happened_at,
        person=person,
        logged_at=work.now,
        **target,
    )
    return _view(row)


def withdraw_change(work: Work, change_id: int) -> ChangeOut:
    """Take a logged change back: it was not done, or not to this part."""
    person = work.person()
    row = find(LoggedChange, change_id, "change")
    if not _WITHDRAWALS.add_unless_there(change=row, person=person, at=work.now):
        raise Clash(words.WITHDRAWN_ALREADY, code="withdrawn_already")
    return _view(_select().where(LoggedChange.id == row.id).get())


def _select() -> Any:
    return (
        LoggedChange.select(LoggedChange, Person.name, Withdrawal)
        .join(Person, on=(LoggedChange.person == Person.id))
        .switch(LoggedChange)
        .join(Withdrawal, JOIN.LEFT_OUTER, on=(Withdrawal.change == LoggedChange.id), attr="withdrawal")
    )


def _judge_kind(setup: Setup, kind: Change) -> None:
    if kind not in LOGGABLE:
        raise Refused(FieldProblem("kind", "follows", words.FOLLOWS_BY_ITSELF))
    if PART_OF[kind] is Part.SURFACE and setup.surface_id is None:
        raise Refused(FieldProblem("kind", "no_surface", words.NO_SURFACE))


def _target(setup: Setup, part: Part) -> dict[str, int | None]:
    """Column and id of the part that a change of this setup is about."""
    ids = {
        Part.MACHINE: setup.toolhead.machine_id,
        Part.NOZZLE: setup.nozzle_id,
        Part.SURFACE: setup.surface_id,
        Part.FILAMENT: setup.filament_id,
        Part.SETUP: setup.id,
    }
    return {part.value: ids[part]}


def _part_name(setup: Setup, part: Part) -> str:
    return {
        Part.MACHINE: setup.toolhead.machine.name,
        Part.NOZZLE: f"nozzle {nozzle_text(setup.nozzle)}",
        Part.SURFACE: "" if setup.surface is None else setup.surface.name,
        Part.FILAMENT: setup.filament.name,
        Part.SETUP: "this setup",
    }[part]


def _sharing(setup: Setup, part: Part) -> list[Setup]:
    """Setups in use that have the very part; this one first."""
    condition = {
        Part.MACHINE: lambda row: row.toolhead.machine_id == setup.toolhead.machine_id,
        Part.NOZZLE: lambda row: row.nozzle_id == setup.nozzle_id,
        Part.SURFACE: lambda row: row.surface_id == setup.surface_id,
        Part.FILAMENT: lambda row: row.filament_id == setup.filament_id,
        Part.SETUP: lambda row: row.id == setup.id,
    }[part]
    return sorted((row for row in setups_in_use() if condition(row)), key=lambda row: row.id != setup.id)


def _view(row: LoggedChange) -> ChangeOut:
    kind = Change(row.kind)
    return ChangeOut(
        id=row.id,
        kind=kind,
        name=CHANGES[kind].name,
        note=row.note,
        happened_at=row.happened_at,
        person=row.person.name,
        withdrawn=_withdrawn(row),
    )


def _withdrawn(row: LoggedChange) -> bool:
    return getattr(row, "withdrawal", None) is not None
