"""The bench: tonight's numbers, what they are good enough for, where each row stands, what is next, and why."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from functools import lru_cache
from typing import Final

from ubrex.core.chain import (
    COSTS,
    ROWS,
    Cost,
    Kind,
    Next,
    NextReason,
    Origin,
    Purpose,
    Standing,
    Step,
    missing_for,
    remaining,
    rests_on,
    total,
)
from ubrex.server.bench._cards import (
    days_since,
    drying_lines,
    filament_card,
    first_words,
    is_cause,
    mechanics_card,
    safety_out,
    waiting_lines,
)
from ubrex.server.bench._shown import Shown
from ubrex.server.bench._tonight import tonight_lines
from ubrex.server.calibrations import CALIBRATIONS
from ubrex.server.desk import FieldProblem, Refused, Work
from ubrex.server.profile import (
    DAY_S,
    Given,
    Standings,
    StepFacts,
    changes_out,
    evidence_from,
    facts_of,
    judged,
    value_out,
)
from ubrex.server.runs import recent_lines
from ubrex.server.store.database import database, seen
from ubrex.server.store.facts import MarginRows, fetch_margin
from ubrex.server.store.records import Note
from ubrex.server.views.bench import (
    BenchOut,
    DangerOut,
    GoodForOut,
    LastRevisionOut,
    NextOut,
    PlanLineOut,
    PlanOut,
    SetupNoteIn,
    SetupNoteOut,
    StepOut,
)
from ubrex.server.views.values import StripOut, ValueOut
from ubrex.server.words.changes import change_said, touched
from ubrex.server.words.history import revision_cause
from ubrex.server.words.profile import PURPOSES, good_said, limit_said, plan_said
from ubrex.server.words.standing import (
    DANGERS,
    ROW_NAMES,
    STEP_NAMES,
    next_said,
    other_form_said,
    rests_said,
    standing_cause,
    standing_word,
)
from ubrex.server.workshop import get_setup, setup_out, usable_setup

RECENT: Final = 5

KEPT: Final = 16
"""Setups whose rows are kept as they were read: those that a workshop goes to and fro between."""

_GRAVEST: Final = (
    Standing.HOLD,
    Standing.STALE,
    Standing.RE_ENTER,
    Standing.OUT,
    Standing.NEVER,
    Standing.CHECK,
    Standing.ASSUMED,
    Standing.AGEING,
    Standing.FRESH,
    Standing.NOT_ON_MACHINE,
)
"""Which step speaks for a row that holds two."""


def show_bench(work: Work, setup_id: int) -> BenchOut:
    """The bench with a setup on it."""
    read = _read_now(setup_id)
    setup, margin = read.given.setup, read.margin
    found = judged(read.given, work.now)
    states = found.states
    plan = remaining(states)
    shown = Shown(found, margin, work)
    return BenchOut(
        setup=setup_out(setup),
        safety=safety_out(found, work),
        before=[mechanics_card(found, work), *filament_card(found, margin, work)],
        next=_next(found, shown.next, work),
        dangers=[DangerOut(danger=danger, sentence=DANGERS[danger]) for danger in found.held],
        tonight=tonight_lines(shown),
        good_for=[
            GoodForOut(
                purpose=purpose,
                name=PURPOSES[purpose],
                good=not missing,
                why=good_said(missing, {step: state.standing for step, state in states.items()}),
                chosen=purpose == setup.purpose,
            )
            for purpose in Purpose
            if (missing := missing_for(purpose, states)) is not None
        ],
        steps=[_row(shown, number, steps) for number, steps in enumerate(ROWS, 1)],
        plan=PlanOut(
            lines=[
                PlanLineOut(step=step, name=STEP_NAMES[step], minutes=cost.minutes, grams=cost.grams)
                for step, cost in plan
            ],
            total=_total([cost for _, cost in plan]),
        ),
        waiting=drying_lines(margin.dryer, work) + waiting_lines(found),
        recent=recent_lines(setup, margin.runs),
        changes=changes_out(margin.changes),
        notes=[
            SetupNoteOut(text=row.text, person=row.person, at=datetime.fromtimestamp(row.at_s, UTC))
            for row in margin.notes
        ],
        last_revision=None
        if margin.revision is None
        else LastRevisionOut(
            number=margin.revision.number,
            cause=revision_cause(margin.revision.cause, margin.revision.from_number),
            person=margin.revision.person,
            at=datetime.fromtimestamp(margin.revision.at_s, UTC),
        ),
    )


@dataclass(frozen=True, slots=True)
class _Read:
    """What the database knows of a setup, whatever the time."""

    given: Given
    margin: MarginRows


def _read_now(setup_id: int) -> _Read:
    """What the database knows now: read again only if something was written, anywhere in it, since it was read last."""
    state = seen()
    return _read(setup_id) if state is None else _read_in(database.obj, state, setup_id)


def _read(setup_id: int) -> _Read:
    (given,) = facts_of([get_setup(setup_id)])
    return _Read(given, fetch_margin(given.setup, given.newest.get(Kind.E_STEPS), RECENT))


@lru_cache(maxsize=KEPT)
def _read_in(_database: object, _state: str, setup_id: int) -> _Read:
    return _read(setup_id)


def add_note(work: Work, setup_id: int, form: SetupNoteIn) -> BenchOut:
    """Write down what is to be remembered of a setup."""
    person = work.person()
    setup = usable_setup(setup_id)
    if not form.text.strip():
        raise Refused(FieldProblem("text", "empty", "Nothing was written: there is nothing to keep."))
    Note.create(setup=setup, text=form.text.strip(), person=person, at=work.now)
    return show_bench(work, setup_id)


def _total(costs: list[Cost]) -> str:
    sum_of_all = total(costs)
    return plan_said(sum_of_all.minutes, sum_of_all.grams)


def _next(found: Standings, chosen: Next, work: Work) -> NextOut:
    row = None if chosen.step is None else next((_main(steps) for steps in ROWS if chosen.step in steps), chosen.step)
    facts = None if chosen.step is None else found.steps[chosen.step]
    return NextOut(
        step=chosen.step,
        row=row,
        reason=chosen.reason,
        sentence=_reason(chosen.reason, chosen.step, facts, found, work),
        rests_on=rests_said(chosen.rests_on),
    )


def _reason(reason: NextReason, step: Step | None, facts: StepFacts | None, found: Standings, work: Work) -> str:
    head = found.setup.toolhead
    asks = ""
    if facts is not None and step is not None and facts.asked is not None and facts.effect is not None:
        asks = touched(step, facts.effect, facts.asked.change)
    if facts is not None and facts.other_form:
        asks = other_form_said(head.machine.name)
    return next_said(
        reason,
        setup=f"{head.machine.name} with its {head.hotend.name}",
        days=0.0 if facts is None else days_since(work, facts.shown_at_s),
        measured_at=None
        if facts is None or facts.shown_at_s is None
        else datetime.fromtimestamp(facts.shown_at_s, UTC),
        touched=asks,
    )


def _main(steps: tuple[Step, ...]) -> Step:
    """The step whose value a row shows: the offset of *level and Z-offset*, the distance of *retraction and seam*."""
    return Step.Z_OFFSET if Step.Z_OFFSET in steps else steps[0]


def _row(show: Shown, number: int, steps: tuple[Step, ...]) -> StepOut:
    found, work, main = show.found, show.work, _main(steps)
    there = [step for step in steps if step in found.steps]
    step = min(there, key=lambda one: _GRAVEST.index(found.steps[one].standing), default=main)
    facts = found.steps[step]
    shown = found.steps[main]
    days = days_since(work, facts.shown_at_s)
    done = (
        ""
        if facts.asked is None
        else change_said(facts.asked.change, work.now.timestamp() / DAY_S - facts.asked.at_day)
    )
    if done and step is not main:
        done = f"{STEP_NAMES[step]}: {done}"
    value, strip = _value(show, main, shown)
    is_next = show.next.step in steps
    return StepOut(
        step=main,
        name=ROW_NAMES[main],
        number=number,
        standing=facts.standing,
        standing_word=standing_word(facts.standing),
        cause=standing_cause(
            facts.standing,
            verified=facts.verified,
            days=days,
            ageing_after=facts.limits.days,
            changed=done if is_cause(facts) else "",
            limit="" if facts.beyond is None else limit_said(facts.beyond.max_c, facts.beyond.of),
            other_form=facts.other_form,
            origin=None if facts.value is None else Origin(facts.value.origin),
        ),
        unverified=not facts.verified,
        value=value,
        strip=strip,
        is_next=is_next,
        next_sentence=_reason(show.next.reason, show.next.step, facts, found, work) if is_next else "",
        rests_on=rests_said(rests_on(main, found.states)),
        minutes=COSTS[main].minutes,
        grams=COSTS[main].grams,
        can_run=main in CALIBRATIONS.steps,
        care=_care(main, show),
        open_run_id=shown.run_open,
    )


def _care(main: Step, show: Shown) -> list[str]:
    """The first words of what can hurt in a step that can be run."""
    way = next(iter(CALIBRATIONS.of_step(main)), None)
    return [] if way is None else first_words(way.cautions(show.found))


def _value(show: Shown, main: Step, facts: StepFacts) -> tuple[ValueOut | None, StripOut | None]:
    if facts.value is None:
        return None, None
    way = next((one for one in CALIBRATIONS.of_step(main) if one.recorded is not None), None)
    if way is None or way.recorded is None:
        return show.values[Kind(facts.value.kind)], None
    evidence = evidence_from(facts.value, show.found, show.margin)
    strip = way.recorded(evidence, show.margin.measured, facts.standing, show.work)
    return value_out(evidence, show.machine, show.work), strip
