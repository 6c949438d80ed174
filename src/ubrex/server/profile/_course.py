"""How each value of a setup went over time: with its ±, what was done meanwhile, what was printed, and whether it drifts."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import reduce
from operator import and_, or_
from typing import Any, Final

from ubrex.core.calibrate import ExtruderSetting, SettingForm, corrected_setting
from ubrex.core.chain import KINDS, SHOWN_HERE, Change, Kind, Origin, Step
from ubrex.core.checks import Drift, drift
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.desk import Work
from ubrex.server.profile._evidence import select_values
from ubrex.server.store.facts import fetch_changes
from ubrex.server.store.records import Decision, Person, Print, Run, Setup, TunedValue
from ubrex.server.views.profiles import CourseEventOut, CourseLineOut, CourseOut, CoursePointOut, CoursePrintOut
from ubrex.server.words import course as words
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.numbers import day, plus_minus, unit_text
from ubrex.server.workshop import get_setup, owners, places_of, setup_out

SPAN: Final = timedelta(days=400)
"""A year, and what led into it."""

MOST_EVENTS: Final = 200

CORRECTIONS: Final = frozenset({Kind.FLOW, Kind.E_STEPS, Kind.Z_OFFSET, Kind.PRESSURE, Kind.TOP_FLOW, Kind.SIZE_SCALE})
"""Values that should stay where they are while nothing is done: of these a drift is told (rules, J)."""


def show_course(work: Work, setup_id: int) -> CourseOut:
    """Every value that was ever set, with what happened beside it."""
    setup = get_setup(setup_id)
    since = work.now - SPAN
    lines = [_line(setup, kind, points) for kind, points in _points(setup, list(Kind)).items()]
    changes = [row for row in fetch_changes(setup, MOST_EVENTS) if not row.withdrawn and row.at_s >= since.timestamp()]
    prints = Print.select().where(Print.setup == setup_id, Print.standing(), Print.happened_at >= since)
    return CourseOut(
        setup=setup_out(setup),
        since=since,
        until=work.now,
        lines=lines,
        events=[CourseEventOut(at_s=row.at_s, name=CHANGES[Change(row.kind)].done, note=row.note) for row in changes],
        prints=[
            CoursePrintOut(at_s=row.happened_at.timestamp(), what=row.what, good=row.outcome == "good")
            for row in prints.order_by(Print.happened_at)
        ],
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Point:
    """A value that was set, or found right and left as it was. ``found``: what the readings said, also where it was left."""

    at: datetime
    number: float
    unit: str
    half_width: float | None
    found: float
    measured: bool
    person: str


def drifts_said(setup: Setup) -> list[str]:
    """Of each correction of a setup that moves by itself, its name and since when: what a bench has to say of drift."""
    lines = [_line(setup, kind, points) for kind, points in _points(setup, CORRECTIONS).items()]
    return [words.named(line.name, line.drift) for line in lines if line.alarm]


def numbers_ever(setup: Setup) -> list[tuple[Kind, float, str, datetime]]:
    """Kind, number, unit and time of everything that was ever set for the parts of a setup, in the order it was written."""
    rows = TunedValue.select(TunedValue.kind, TunedValue.number, TunedValue.unit, TunedValue.at)
    found: Any = rows.where(_ever(setup, list(Kind))).order_by(TunedValue.id).tuples()
    return [(Kind(kind), number, unit, at) for kind, number, unit, at in found]


def values_ever(setup: Setup, kinds: Collection[Kind]) -> list[TunedValue]:
    """Every value that was ever set of these kinds, for the parts of a setup."""
    return list(select_values().where(_ever(setup, kinds)))


def _ever(setup: Setup, kinds: Collection[Kind]) -> Any:
    """Values of these kinds of the parts of a setup, as a condition of a query."""
    scopes = [
        reduce(
            and_, [getattr(TunedValue, column) == key for column, key in owned.items()], TunedValue.kind == kind.value
        )
        for kind in kinds
        if None not in (owned := owners(kind, setup)).values()
    ]
    return reduce(or_, scopes)


def _points(setup: Setup, kinds: Collection[Kind]) -> dict[Kind, list[_Point]]:
    """What was set and found of each kind, in order of time; only the unit in use now."""
    rows = values_ever(setup, kinds)
    runs = {row.decision.run_id for row in rows if row.decision is not None}
    inputs = {run.id: run.inputs for run in Run.select(Run.id, Run.inputs).where(Run.id.in_(runs))}
    found: dict[Kind, list[_Point]] = {}
    for row in rows:
        found.setdefault(Kind(row.kind), []).append(_set_point(row, inputs))
    if Kind.E_STEPS in found:
        found[Kind.E_STEPS] += _left_points(setup)
    for kind, points in found.items():
        points.sort(key=lambda point: point.at)
        found[kind] = [point for point in points if point.unit == points[-1].unit]
    return {kind: found[kind] for kind in Kind if kind in found}


def _line(setup: Setup, kind: Kind, points: Sequence[_Point]) -> CourseLineOut:
    """One value over time."""
    places = places_of(kind, setup.toolhead.machine)
    measured = [point for point in points if point.measured]
    drifting = drift([point.found for point in measured]) if kind in CORRECTIONS and len(measured) > 1 else None
    return CourseLineOut(
        kind=kind,
        name=KINDS[kind].name,
        unit_text=unit_text(points[-1].unit),
        points=[
            CoursePointOut(
                at_s=point.at.timestamp(),
                number=point.number,
                found=point.found,
                found_text=decimal_text(point.found, places),
                half_width=point.half_width,
                text=decimal_text(point.number, places),
                half_width_text="" if point.half_width is None else plus_minus(point.half_width),
                measured=point.measured,
                person=point.person,
            )
            for point in points
        ],
        drift="" if drifting is None else _drift_said(drifting, measured, places),
        alarm=drifting is not None and drifting.verdict == "alarm",
    )


def _set_point(row: TunedValue, inputs: Mapping[int, Any]) -> _Point:
    decision = row.decision
    return _Point(
        at=row.at,
        number=row.number,
        unit=row.unit,
        half_width=row.half_width_95,
        found=row.number if decision is None else _found(decision, inputs[decision.run_id], row.number),
        measured=Origin(row.origin) in SHOWN_HERE,
        person=row.person.name,
    )


def _left_points(setup: Setup) -> list[_Point]:
    """E-steps of a toolhead that were measured again and left as they were, which writes no value."""
    written = TunedValue.select(TunedValue.decision).where(TunedValue.decision.is_null(False))
    decisions = (
        Decision.select(Decision, Run, Person)
        .join_from(Decision, Run)
        .join_from(Run, Setup)
        .join_from(Decision, Person)
        .where(
            Run.step == Step.E_STEPS.value,
            Setup.toolhead == setup.toolhead_id,
            Decision.action == "keep",
            Decision.id.not_in(written),
        )
    )
    return [
        _Point(
            at=decision.at,
            number=(current := float(decision.run.inputs["current"])),
            unit=decision.run.inputs["unit"],
            half_width=current * half / 100
            if (half := decision.figures.get("half_width_95_pct")) is not None
            else None,
            found=_found(decision, decision.run.inputs, current),
            measured=True,
            person=decision.person.name,
        )
        for decision in decisions
    ]


def _found(decision: Decision, inputs: Any, number: float) -> float:
    """What a run found, where the value in use was left as it was too: a value that is left says nothing of drift."""
    factor = decision.figures.get("factor")
    if factor is None or inputs.get("current") is None:
        return number
    if inputs.get("unit") == Unit.MM_PER_TURN:
        return corrected_setting(ExtruderSetting(number=inputs["current"], form=SettingForm.MM_PER_TURN), factor).number
    return float(inputs["current"] * factor)


def _drift_said(found: Drift, measured: Sequence[_Point], places: int) -> str:
    """Whether a correction moves by itself, in one sentence."""
    since = None if found.since is None else day(measured[found.since].at)
    last = (
        [decimal_text(point.found, places) for point in measured[-(found.same_way or 0) - 1 :]]
        if found.same_way
        else []
    )
    return words.drift_said(found, len(measured), since, last)
