"""Runs as they are stored: found, locked while something is written, counted."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Final, cast

from peewee import JOIN

from ubrex.core.chain import Step
from ubrex.server.calibrations import CALIBRATIONS, Case
from ubrex.server.desk import Clash, Missing, Outdated, Work
from ubrex.server.profile import readings_of
from ubrex.server.store.prepared import Insert, Prepared
from ubrex.server.store.records import (
    Decision,
    Filament,
    Hotend,
    Instrument,
    Machine,
    Nozzle,
    Person,
    Reading,
    Run,
    Setup,
    Spool,
    Surface,
    Toolhead,
)
from ubrex.server.views.base import RunState
from ubrex.server.words import runs as words
from ubrex.server.words.numbers import day
from ubrex.server.workshop import setup_title


def select_runs() -> Any:
    """Query for runs with everything they consist of, in one go."""
    return (
        Run.select(Run, Setup, Toolhead, Machine, Hotend, Nozzle, Surface, Filament, Spool, Instrument, Person)
        .join(Setup)
        .join(Toolhead)
        .join(Machine)
        .switch(Toolhead)
        .join(Hotend)
        .switch(Setup)
        .join(Nozzle)
        .switch(Setup)
        .join(Surface, JOIN.LEFT_OUTER, on=(Setup.surface == Surface.id))
        .switch(Setup)
        .join(Filament)
        .switch(Setup)
        .join(Spool, JOIN.LEFT_OUTER, on=(Setup.spool == Spool.id))
        .switch(Run)
        .join(Instrument)
        .switch(Run)
        .join(Person, on=(Run.person == Person.id))
    )


def _open_of(setup_id: int, step: str) -> Any:
    return Run.select(Run.id).where(Run.setup == setup_id, Run.step == step, Run.ended_at.is_null())


_ONE: Final[Prepared[Run]] = Prepared(lambda run_id: select_runs().where(Run.id == run_id))
_LOCKED: Final[Prepared[Run]] = Prepared(lambda run_id: select_runs().where(Run.id == run_id).for_update(of=Run))
_OPEN: Final[Prepared[Run]] = Prepared(_open_of)
_NEXT_VERSION: Final[Prepared[Run]] = Prepared(
    lambda run_id: Run.update(version=Run.version + 1).where(Run.id == run_id)
)
READINGS: Final = Insert(Reading, counted_on="run")
"""Where readings are written; each counts as a change of its run."""


def get_run(run_id: int) -> Run:
    """A run with its setup, instrument and person.

    Raises
    ------
    Missing
        If there is none.
    """
    return _there(_ONE.first(run_id), run_id)


def _there(run: Run | None, run_id: int) -> Run:
    if run is None:
        raise Missing(words.no_run(run_id), id=run_id)
    return run


def open_run_of(setup_id: int, step: Step) -> Run | None:
    """The open run of a step on a setup; there is at most one."""
    return _OPEN.first(setup_id, step.value)


def open_run(run_id: int, *, removed_too: bool = False) -> Run:
    """An open run on a setup in use, locked until this work is done; ``removed_too``: whether the setup is in use or not."""
    run = _there(_LOCKED.first(run_id), run_id)
    if run.setup.removed_at is not None and not removed_too:
        raise Clash(words.removed_said(run_id, setup_title(run.setup)), code="setup_removed")
    if run.state == "decided":
        decision = Decision.select(Decision, Person).join(Person).where(Decision.run == run.id).get()
        said = words.decided_already_said(run_id, decision.person.name, day(decision.at))
        raise Clash(said, code="decided_already")
    if run.state == "left":
        raise Clash(words.left_already_said(run_id), code="run_left")
    return run


def case_of(run: Run, rows: Sequence[Reading], work: Work) -> Case[Any]:
    """A run with these readings, as its calibration sees it."""
    calibration = CALIBRATIONS[run.method]
    return calibration.case(calibration, run, rows, work)


def load_case(run: Run, work: Work) -> Case[Any]:
    """A run with its readings."""
    return case_of(run, readings_of(run.id), work)


def state_of(run: Run) -> RunState:
    """State of a run; the database lets it be nothing else."""
    return cast("RunState", run.state)


def check_version(run: Run, version: int) -> None:
    """Refuse what was meant for a run as it was before.

    Raises
    ------
    Outdated
        If something came in since.
    """
    if run.version != version:
        raise Outdated(words.OUTDATED)


def save(run: Run) -> None:
    """Keep what was changed of a run, and count it as a change."""
    run.version += 1
    run.save(only=[Run.state, Run.instrument, Run.inputs, Run.use_history, Run.ended_at, Run.made_at, Run.version])


def next_version(run: Run) -> None:
    """Count a change of a run, so that nobody decides on what they have not seen."""
    _NEXT_VERSION.run(run.id)
    run.version += 1


def refuse_overtaken(case: Case[Any]) -> None:
    """Refuse a run whose sample was made at a setting that has been changed since.

    Raises
    ------
    Clash
        With what was changed.
    """
    said = case.overtaken()
    if said:
        raise Clash(said, code="sample_too_old")
