"""Runs as lists show them: how each ended, in one line."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any, Final, cast

from peewee import JOIN, fn

from ubrex.core.chain import Step
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations import RunInputs
from ubrex.server.desk import Work
from ubrex.server.runs._records import select_runs, state_of
from ubrex.server.store.margin import RunRow
from ubrex.server.store.records import (
    Decision,
    Filament,
    Hotend,
    Machine,
    Nozzle,
    Person,
    Reading,
    Run,
    Setup,
    Strike,
    Toolhead,
    TunedValue,
)
from ubrex.server.views.base import RunState
from ubrex.server.views.runs import RunLineOut, RunsOut
from ubrex.server.words import runs as words
from ubrex.server.words.numbers import unit_text
from ubrex.server.words.standing import STEP_NAMES
from ubrex.server.workshop import setup_title

PAGE: Final = 50
"""Ended runs that are listed at once."""


_HAPPENED: Final = fn.COALESCE(Run.made_at, Run.fed_at, Run.started_at)
"""When a run happened: a sample may be older than the run that reads it."""


def _select_lines() -> Any:
    """Runs with the number of readings that count, the decision, and the value it made."""
    counted = (
        Reading.select(fn.COUNT(Reading.id))
        .join(Strike, JOIN.LEFT_OUTER, on=(Strike.reading == Reading.id))
        .where(Reading.run == Run.id, Strike.id.is_null())
    )
    # A decision may make several values; the first is the one it was about.
    first = TunedValue.alias()
    main_value = first.select(fn.MIN(first.id)).where(first.decision == Decision.id)
    shown = (
        Run.id, Run.step, Run.state, Run.inputs, Run.started_at, Run.made_at, Run.fed_at, Setup.id, Toolhead.id,
        Machine.name, Hotend.name, Nozzle.bore_mm, Nozzle.material, Filament.name, Person.name, Decision.action,
        TunedValue.number,
    )  # fmt: skip
    return (
        select_runs()
        .select(*shown, counted.alias("counted"))
        .switch(Run)
        .join(Decision, JOIN.LEFT_OUTER, on=(Decision.run == Run.id), attr="decision")
        .join(TunedValue, JOIN.LEFT_OUTER, on=(TunedValue.id == main_value), attr="value")
        .order_by(_HAPPENED.desc(), Run.id.desc())
    )


def list_runs(_work: Work, *, cursor: int | None = None, limit: int = PAGE) -> RunsOut:
    """Open runs first, then the ended ones, what happened last first."""
    ended = _select_lines().where(Run.ended_at.is_null(False)).limit(limit + 1)
    if cursor is not None:
        earlier = Run.alias()
        when = earlier.select(fn.COALESCE(earlier.made_at, earlier.fed_at, earlier.started_at)).where(
            earlier.id == cursor
        )
        ended = ended.where((when > _HAPPENED) | ((when == _HAPPENED) & (Run.id < cursor)))
    rows = list(ended)
    still_open = [] if cursor is not None else list(_select_lines().where(Run.ended_at.is_null()))
    return RunsOut(
        open=[_line(run) for run in still_open],
        ended=[_line(run) for run in rows[:limit]],
        next_cursor=rows[limit - 1].id if len(rows) > limit else None,
    )


def recent_lines(setup: Setup, rows: Sequence[RunRow]) -> list[RunLineOut]:
    """The last runs of a setup."""
    title = setup_title(setup)
    return [
        RunLineOut(
            id=row.id,
            step=Step(row.step),
            name=STEP_NAMES[row.step],
            state=cast("RunState", row.state),
            setup_id=setup.id,
            setup=title,
            started_at=datetime.fromtimestamp(row.started_s, UTC),
            person=row.person,
            outcome=_outcome(row.state, row.inputs, row.action, row.number, row.counted),
            readings=row.counted,
        )
        for row in rows
    ]


def _outcome(state: str, kept: dict[str, Any], action: str | None, number: float | None, counted: int) -> str:
    """How a run ended, in one line; ``number``: the value it made."""
    inputs = RunInputs.model_validate(kept)
    unit, current = unit_text(inputs.unit.value), inputs.current
    before = None if current is None else f"{decimal_text(current, inputs.places)} {unit}"
    if action is None:
        return words.left_said(state, counted, inputs.asked)
    if action == "keep" or number is None:
        return f"Kept {before or ''}".rstrip()
    return words.outcome_said(decimal_text(number, inputs.places), unit, before)


def _line(run: Any) -> RunLineOut:
    """A run that was selected as a line."""
    decision = getattr(run, "decision", None)
    number = None if decision is None or decision.value is None else decision.value.number
    action = None if decision is None else decision.action
    return RunLineOut(
        id=run.id,
        step=Step(run.step),
        name=STEP_NAMES[run.step],
        state=state_of(run),
        setup_id=run.setup.id,
        setup=setup_title(run.setup),
        started_at=run.made_at or run.fed_at or run.started_at,
        person=run.person.name,
        outcome=_outcome(run.state, run.inputs, action, number, run.counted),
        readings=run.counted,
    )
