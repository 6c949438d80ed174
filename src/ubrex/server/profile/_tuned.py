"""A setup with its newest values: all that a print is held to. Where it stands is a longer story, told by ``standings``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from peewee import JOIN, fn

from ubrex.core.chain import EFFECTS, Change, Danger, Effect, Grade, Kind, Step, dangers
from ubrex.core.judge import Parts
from ubrex.core.materials import Liner
from ubrex.server.profile._parts import parts_with
from ubrex.server.store.facts import ValueRow, fetch_newest
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import LoggedChange, SafetyCheck, Setup, Withdrawal
from ubrex.server.workshop import scope_keys


@dataclass(frozen=True)
class Tuned:
    """A setup with the newest value of each kind."""

    setup: Setup
    values: Mapping[Kind, ValueRow]

    @cached_property
    def parts(self) -> Parts:
        """What it is made of, as the judgement sees it."""
        return parts_with(self.setup, self.values)

    @property
    def held(self) -> tuple[Danger, ...]:
        """What holds everything that heats."""
        return dangers_of(self.setup)


def tuned_of(setup: Setup) -> Tuned:
    """A setup with its newest values; the caller holds a connection."""
    rows = fetch_newest(list(scope_keys(setup).values()))
    return Tuned(setup, {Kind(row.kind): row for row in rows})


SAFETY_CHANGES: Final = tuple(change for change in Change if EFFECTS[change].get(Step.SAFETY) is Effect.REDO)
"""Work after which the card *safe to tune* is gone through again before anything heats."""


def _worked_on(machine_id: int) -> Any:
    return (
        LoggedChange.select(fn.MAX(LoggedChange.happened_at).alias("at"))
        .join(Withdrawal, JOIN.LEFT_OUTER, on=(Withdrawal.change == LoggedChange.id))
        .where(
            LoggedChange.machine == machine_id,
            LoggedChange.kind.in_([change.value for change in SAFETY_CHANGES]),
            Withdrawal.change.is_null(),
        )
    )


def _checked(machine_id: int) -> Any:
    return SafetyCheck.select(fn.MAX(SafetyCheck.at).alias("at")).where(SafetyCheck.machine == machine_id)


_WORKED_ON: Final[Prepared[LoggedChange]] = Prepared(_worked_on)
_CHECKED: Final[Prepared[SafetyCheck]] = Prepared(_checked)


def dangers_of(setup: Setup) -> tuple[Danger, ...]:
    """What holds everything that heats on this setup."""
    machine_id = setup.toolhead.machine_id
    ((worked_on,),) = _WORKED_ON.tuples(machine_id)
    ((checked,),) = _CHECKED.tuples(machine_id)
    return dangers_with(setup, stale=worked_on is not None and (checked is None or worked_on > checked))


def dangers_with(setup: Setup, *, stale: bool) -> tuple[Danger, ...]:
    """The same where it is known whether the card is out of date."""
    head = setup.toolhead
    return dangers(
        runaway=Grade(head.machine.runaway), liner_known=head.hotend.liner != Liner.UNKNOWN.value, stale=stale
    )
