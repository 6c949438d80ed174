"""Series of attempts that are planned: one setting in random order, or three in four or eight prints."""

from __future__ import annotations

import re
import secrets
from typing import Final

from peewee import fn

from ubrex.core.attempts import DESIGNS, design_best, design_effects, read_series
from ubrex.core.chain import KINDS, Kind
from ubrex.core.quantity import decimal_text
from ubrex.server.attempts._rated import rating_of
from ubrex.server.attempts._settings import held_of
from ubrex.server.desk import Clash, FieldProblem, TypedFields, Work, find
from ubrex.server.profile import Tuned, judged_change, read_value, refuse_findings, tuned_of
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import Plan, PlanOff, Print
from ubrex.server.views.attempts import DroppedOut, PlanIn, PlannedOut, PlannedSettingOut, PlanPlaceOut, SeriesPlanOut
from ubrex.server.words import attempts as words
from ubrex.server.words.numbers import plain
from ubrex.server.workshop import places_of, unit_of, usable_setup

FEWEST, MOST = 3, 6
"""Numbers that one setting is tried with."""

_OFF: Final = Insert(PlanOff)
_APART: Final = re.compile(r"[\s;]+")


def plan_series(work: Work, print_id: int, form: PlanIn) -> None:
    """Plan a series of the part of an attempt, on its setup; its prints come in an order that nobody chose."""
    person = work.person()
    row = find(Print, print_id, "print")
    setup = usable_setup(row.setup_id)
    fields = TypedFields()
    one = form.design == "one"
    if len(form.kinds) != (1 if one else 3):
        fields.add(FieldProblem("kinds", "too_few", words.NEEDS_ONE if one else words.NEEDS_THREE))
    if len(set(form.kinds)) < len(form.kinds) or len(form.typed) != len(form.kinds):
        fields.add(FieldProblem("kinds", "twice", words.SAME_TWICE))
    fields.refuse_if_any()
    tuned, numbers = tuned_of(setup), []
    for place, (kind, typed) in enumerate(zip(form.kinds, form.typed, strict=True)):
        at = f"typed.{place}"
        texts = _APART.split(typed.strip())
        found = [number for text in texts if text and (number := read_value(setup, kind, at, text, fields)) is not None]
        fits = FEWEST <= len(found) <= MOST if one else len(found) == 2 and found[0] < found[1]
        if not fields.has(at) and (not fits or len(set(found)) < len(found)):
            fields.add(FieldProblem(at, "wrong_count", words.NEEDS_NUMBERS if one else words.NEEDS_TWO))
        numbers.append(found)
    fields.refuse_if_any()
    _refuse_beyond(tuned, form, numbers, fields)
    places = [[number] for number in numbers[0]] if one else _corners(form.design, numbers)
    secrets.SystemRandom().shuffle(places)
    for before in _standing(row.what):
        _OFF.add_unless_there(plan=before, person=person, at=work.now)
    factors = [
        {"kind": kind.value, "numbers": own, "unit": unit_of(kind, setup.toolhead.machine).value}
        for kind, own in zip(form.kinds, numbers, strict=True)
    ]
    Plan.create(
        setup=setup, what=row.what, revision=row.revision, design=form.design, factors=factors, places=places,
        person=person, at=work.now,
    )  # fmt: skip


def _refuse_beyond(tuned: Tuned, form: PlanIn, numbers: list[list[float]], fields: TypedFields) -> None:
    """No print of a series may go beyond a limit."""
    for place, (kind, own) in enumerate(zip(form.kinds, numbers, strict=True)):
        for number in own:
            findings = judged_change(tuned.setup, tuned.values, {kind: number}, typed=[kind])
            refuse_findings(findings, fields, {kind: f"typed.{place}"}, note=words.TRIED)
    fields.refuse_if_any()


def _corners(design: str, numbers: list[list[float]]) -> list[list[float]]:
    """What each print of a design gets, lower and higher numbers as its rows say."""
    return [[own[side > 0] for own, side in zip(numbers, row, strict=True)] for row in DESIGNS[design]]


def drop_plan(work: Work, plan_id: int) -> DroppedOut:
    """Drop a plan; what was printed of it stays."""
    row = find(Plan, plan_id, "plan")
    if not _OFF.add_unless_there(plan=row, person=work.person(), at=work.now):
        raise Clash(words.ENDED, code="dropped_already")
    return DroppedOut(id=plan_id)


def _standing(what: str) -> list[Plan]:
    same = fn.LOWER(fn.TRIM(Plan.what)) == what.strip().lower()
    return list(Plan.select().where(same, Plan.standing()).order_by(Plan.id.desc()))


def _made(plan: Plan) -> dict[int, Print]:
    """Attempts made of a plan, by place; the newest of each."""
    rows = Print.select().where(Print.plan == plan.id, Print.standing()).order_by(Print.id)
    return {row.plan_place: row for row in rows if row.plan_place is not None}


def place_is_open(plan_id: int, place: int | None, what: str) -> bool:
    """Whether a plan of this part waits for this print."""
    plan: Plan | None = Plan.get_or_none(Plan.id == plan_id)
    if plan is None or plan.what.strip().lower() != what.strip().lower():
        return False
    return place is not None and place < len(plan.places) and place not in _made(plan)


def next_planned(tuned: Tuned, what: str) -> PlannedOut | None:
    """The next print of a series of a part that is planned on this setup; None where none is."""
    plan = next((row for row in _standing(what) if row.setup_id == tuned.setup.id), None)
    if plan is None:
        return None
    made = _made(plan)
    place = next((place for place in range(len(plan.places)) if place not in made), None)
    if place is None:
        return None
    machine = tuned.setup.toolhead.machine
    settings = [
        PlannedSettingOut(
            kind=Kind(factor["kind"]), typed=decimal_text(number, places_of(Kind(factor["kind"]), machine))
        )
        for factor, number in zip(plan.factors, plan.places[place], strict=True)
    ]
    said = words.planned_said(place + 1, len(plan.places), _place_text(plan, place))
    return PlannedOut(plan_id=plan.id, place=place, count=len(plan.places), said=said, settings=settings)


def _place_text(plan: Plan, place: int) -> str:
    return ", ".join(
        f"{KINDS[Kind(factor['kind'])].name} {held_of(Kind(factor['kind']), number, factor['unit']).text}"
        for factor, number in zip(plan.factors, plan.places[place], strict=True)
    )


def show_plan(what: str, sign: str) -> SeriesPlanOut | None:
    """The newest plan of a part, what was made of it, and what it tells of a sign."""
    plan = next(iter(_standing(what)), None)
    if plan is None:
        return None
    made = _made(plan)
    ratings = [rating_of(made[place], sign) if place in made else None for place in range(len(plan.places))]
    places = [
        PlanPlaceOut(
            text=_place_text(plan, place),
            print_id=made[place].id if place in made else None,
            rating="" if ratings[place] is None else plain(ratings[place] or 0.0),
        )
        for place in range(len(plan.places))
    ]
    return SeriesPlanOut(id=plan.id, name=words.DESIGN_NAMES[plan.design], places=places, said=_told(plan, ratings))


def _told(plan: Plan, ratings: list[float | None]) -> list[str]:
    """What a plan says, once enough of it is printed and rated."""
    names = [KINDS[Kind(factor["kind"])].name for factor in plan.factors]
    missing = ratings.count(None)
    if plan.design == "one":
        settings = [{names[0]: place[0]} for place in plan.places]
        series = read_series(settings, ratings)
        told = [f"{one.factor}: {words.factor_said(one)}" for one in series.factors]
        return told + ([words.missing_said(missing)] if missing else [])
    if missing:
        return [words.missing_said(missing)]
    rows = DESIGNS[plan.design]
    lows = [factor["numbers"] for factor in plan.factors]
    by_corner = {tuple(place): rating for place, rating in zip(plan.places, ratings, strict=True)}
    results = [by_corner[tuple(own[side > 0] for own, side in zip(lows, row, strict=True))] or 0.0 for row in rows]
    effects, best = design_effects(plan.design, results), design_best(plan.design, results)
    real = effects.real or [None] * len(names)
    said = [
        words.effect_said(name, effect, effects.half_width_95, real=sure)
        for name, effect, sure in zip(names, effects.effects, real, strict=True)
    ]
    corner = ", ".join(
        f"{name} {held_of(Kind(factor['kind']), factor['numbers'][side > 0], factor['unit']).text}"
        for name, factor, side in zip(names, plan.factors, best.setting, strict=True)
    )
    return [*said, words.best_said(corner, best.predicted), *([words.CONFOUNDED] if plan.design == "3in4" else [])]
