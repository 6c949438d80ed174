"""The bench: tonight's numbers, what they are good enough for, where each row stands, what is next, and why."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Final

from ubrex.core.chain import (
    COSTS,
    DISPLAY_OFF_C,
    KINDS,
    ROWS,
    Cost,
    Kind,
    Next,
    NextReason,
    Origin,
    Purpose,
    Standing,
    Step,
    against,
    missing_for,
    reason_of,
    remaining,
    rests_on,
    total,
)
from ubrex.core.judge import gravest_first, judge_parts
from ubrex.core.materials import foams
from ubrex.server.bench._cards import (
    causes_said,
    days_since,
    drying_lines,
    filament_card,
    is_cause,
    mechanics_card,
    safety_out,
    waiting_lines,
)
from ubrex.server.bench._read import read_now
from ubrex.server.bench._shown import Shown
from ubrex.server.bench._tonight import tonight_lines
from ubrex.server.calibrations import CALIBRATIONS
from ubrex.server.desk import FieldProblem, Refused, Work
from ubrex.server.profile import (
    DAY_S,
    Standings,
    StepFacts,
    dry_findings,
    evidence_from,
    judged,
    numbers_of,
    read_back_from,
    row_out,
    said_of,
    value_out,
    value_strip,
)
from ubrex.server.store.margin import MarginRows
from ubrex.server.store.records import Note
from ubrex.server.views.base import InstructionOut
from ubrex.server.views.bench import (
    AssumeOut,
    BenchOut,
    BenchReadBackOut,
    DangerOut,
    GoodForOut,
    NextOut,
    PlanLineOut,
    PlanOut,
    SetupNoteIn,
    StepOut,
)
from ubrex.server.views.values import StripOut, ValueOut
from ubrex.server.words.changes import touched
from ubrex.server.words.desk import clock_said
from ubrex.server.words.judgement import limit_said
from ubrex.server.words.machine import Keeping, how_to_read, how_to_set
from ubrex.server.words.profile import PURPOSES, good_said, plan_said
from ubrex.server.words.standing import (
    DANGERS,
    NOTHING_WRITTEN,
    ROW_NAMES,
    STEP_NAMES,
    assume_said,
    before_said,
    level_said,
    next_said,
    other_form_said,
    rests_said,
    standing_cause,
    standing_word,
)
from ubrex.server.words.values import AS_SHOWN
from ubrex.server.workshop import places_of, usable_setup

_TOUCHED: Final = frozenset({Standing.HOLD, Standing.STALE, Standing.RE_ENTER, Standing.OUT, Standing.CHECK})
"""Standings that a second step of a row has to have to speak for it."""

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
    read = read_now(setup_id)
    margin = read.margin
    # One judgement for the whole bench: each part below only says its share of it.
    found = judged(read.given, work.now)
    states = found.states
    plan = remaining(states)
    shown = Shown(found, read, work)
    return BenchOut(
        setup=read.setup,
        safety=safety_out(found, work),
        before=[mechanics_card(found, work), *filament_card(found, margin, work)],
        next=next_of(found, shown.next, work),
        dangers=[DangerOut(danger=danger, sentence=DANGERS[danger]) for danger in found.held],
        tonight=tonight_lines(read.tonight, shown.values, found, read.findings, read.trials),
        minds=[*read.drifts, *_minds(found, margin, work)],
        good_for=good_for(found, margin, work),
        steps=[_row(shown, number, steps) for number, steps in enumerate(ROWS, 1)],
        plan=PlanOut(
            lines=[
                PlanLineOut(step=step, name=STEP_NAMES[step], minutes=cost.minutes, grams=cost.grams)
                for step, cost in plan
            ],
            total=_total([cost for _, cost in plan]),
        ),
        waiting=drying_lines(margin.dryer, work) + waiting_lines(found),
        read_backs=_read_backs(shown),
        recent=read.recent,
        changes=read.changes,
        notes=read.notes,
        last_revision=read.revision,
    )


def good_for(found: Standings, margin: MarginRows, work: Work) -> list[GoodForOut]:
    """For which parts a setup is good enough; light shells are offered only where the filament foams."""
    setup, foaming = found.setup, foams(found.setup.filament.family, found.setup.filament.flags)
    now_s = work.now.timestamp()
    rows = []
    for purpose in Purpose:
        chosen = purpose == setup.purpose
        if purpose is Purpose.LIGHTNESS and not (foaming or chosen):
            continue
        speaks = against(
            purpose,
            held=bool(found.held),
            last_outcomes=margin.outcomes,
            blocked_days_ago=[(now_s - at_s) / DAY_S for at_s in margin.blocked_s],
            foams=foaming,
        )
        missing = missing_for(purpose, found.states)
        rows.append(
            GoodForOut(
                purpose=purpose,
                name=PURPOSES[purpose],
                good=speaks is None and not missing,
                why=good_said(speaks, missing, {step: state.standing for step, state in found.states.items()}),
                chosen=chosen,
            )
        )
    return rows


def _minds(found: Standings, margin: MarginRows, work: Work) -> list[str]:
    """What is to be said of parts, filament and room together, whatever the numbers."""
    findings = [
        *judge_parts(
            found.parts,
            numbers_of(found.values),
            draught=margin.room.draught,
            humidity_pct=margin.room.humidity_pct,
            room_days_ago=days_since(work, margin.room.at_s),
            fan_in_doubt=found.fan_in_doubt,
        ),
        *dry_findings(found.setup, margin.dry, work.now),
    ]
    return [*clock_said(work.behind), *said_of(gravest_first(findings))]


def _read_backs(show: Shown) -> list[BenchReadBackOut]:
    """Values that the machine may not hold, with what it said last beside what is on record."""
    found, rows = show.found, []
    for kind, value in found.values.items():
        step = found.steps.get(KINDS[kind].step)
        if not KINDS[kind].reads_back or step is None or step.verified:
            continue
        shown, said = row_out(value, show.read.machine, show.work), found.read_back(value)
        state = read_back_from(value, found)
        keeping = Keeping(show.read.machine.keeps_setting)
        rows.append(
            BenchReadBackOut(
                step=KINDS[kind].step,
                value=shown.model_copy(update={"read_back": state}),
                machine_says="" if said is None or state.state != "differs" else said.typed,
                how=how_to_read(keeping),
                instructions=[
                    InstructionOut(text=row.text, send=row.send, wait_s=row.wait_s)
                    for row in how_to_set(kind, keeping, shown.setting)
                ],
            )
        )
    return rows


def add_note(work: Work, setup_id: int, form: SetupNoteIn) -> BenchOut:
    """Write down what is to be remembered of a setup."""
    person = work.person()
    setup = usable_setup(setup_id)
    if not form.text.strip():
        raise Refused(FieldProblem("text", "empty", NOTHING_WRITTEN))
    Note.create(setup=setup, text=form.text.strip(), person=person, at=work.now)
    return show_bench(work, setup_id)


def _total(costs: list[Cost]) -> str:
    sum_of_all = total(costs)
    return plan_said(sum_of_all.minutes, sum_of_all.grams)


def next_of(found: Standings, chosen: Next, work: Work) -> NextOut:
    row = None if chosen.step is None else next((_main(steps) for steps in ROWS if chosen.step in steps), chosen.step)
    facts = None if chosen.step is None else found.steps[chosen.step]
    return NextOut(
        step=chosen.step,
        row=row,
        reason=chosen.reason,
        sentence=_reason(chosen.reason, chosen.step, facts, found, work, chosen.before),
        rests_on=rests_said(chosen.rests_on),
    )


def _reason(
    reason: NextReason, step: Step | None, facts: StepFacts | None, found: Standings, work: Work, before: Step | None
) -> str:
    asks = ""
    if facts is not None and step is not None and facts.effect is not None and facts.causes:
        asks = " ".join(dict.fromkeys(touched(step, facts.effect, one.change) for one in facts.causes))
    if facts is not None and facts.other_form:
        asks = other_form_said(found.setup.toolhead.machine.name)
    said = next_said(
        reason,
        step=step,
        days=0.0 if facts is None else days_since(work, facts.shown_at_s),
        measured_at=None
        if facts is None or facts.shown_at_s is None
        else datetime.fromtimestamp(facts.shown_at_s, UTC),
        touched=asks,
    )
    if before is None or step is None or step in CALIBRATIONS.steps or step in SHARES_A_RUN:
        return said
    return f"{said} {before_said(before)}"


SHARES_A_RUN: Final = frozenset({Step.LEVEL})
"""Steps that the run of their row measures too: the patches of a first layer show the tilt."""


def _main(steps: tuple[Step, ...]) -> Step:
    """The step whose value a row shows: the offset of *level and Z-offset*, the distance of *retraction and seam*."""
    return Step.Z_OFFSET if Step.Z_OFFSET in steps else steps[0]


def _speaks(steps: tuple[Step, ...], main: Step, found: Standings) -> Step:
    """The step that speaks for a row: its main one, unless something was done to another that is graver."""
    graver = [one for one in steps if one in found.steps and (one is main or found.steps[one].standing in _TOUCHED)]
    return min(graver, key=lambda one: _GRAVEST.index(found.steps[one].standing), default=main)


def _row(show: Shown, number: int, steps: tuple[Step, ...]) -> StepOut:
    found, work, main = show.found, show.work, _main(steps)
    step = _speaks(steps, main, found)
    facts, shown = found.steps[step], found.steps[main]
    days = days_since(work, facts.shown_at_s)
    done = causes_said(facts, work)
    # Where the row speaks for its other step, what was done is said with that step's name.
    if done and step is not main:
        done = f"{STEP_NAMES[step]}: {done}"
    value, strip = _value(show, main, shown)
    is_next = show.next.step in steps
    asked_for = show.next.step if is_next and show.next.step is not None else step
    # A row of two steps speaks for the graver one, and asks for the one that is next.
    due = found.steps[asked_for]
    reason = show.next.reason if is_next else reason_of(due.state())
    cause = standing_cause(
        facts.standing,
        verified=facts.verified,
        days=days,
        ageing_after=facts.limits.days,
        changed=done if is_cause(facts) else "",
        limit="" if facts.beyond is None else limit_said(facts.beyond.max_c, facts.beyond.of),
        other_form=facts.other_form,
        untold=facts.untold,
        before_proof=facts.value is not None and bool(facts.value.before_proof),
        origin=None if facts.value is None else Origin(facts.value.origin),
    )
    return StepOut(
        step=main,
        name=ROW_NAMES[main],
        number=number,
        standing=facts.standing,
        standing_word=standing_word(facts.standing),
        cause=cause,
        level=_level(found, work) if main is Step.Z_OFFSET else "",
        unverified=not facts.verified,
        value=value,
        strip=strip,
        is_next=is_next,
        reason=""
        if reason in {NextReason.NOTHING_DUE, NextReason.OLD} and not is_next
        else _reason(reason, asked_for, due, found, work, show.next.before if is_next else None),
        rests_on=rests_said(rests_on(main, found.states)),
        minutes=COSTS[main].minutes,
        grams=COSTS[main].grams,
        can_run=main in CALIBRATIONS.steps,
        type_first=is_next and asked_for is not main and asked_for not in SHARES_A_RUN,
        care=show.read.cares.get(main, []),
        open_run_id=shown.run_open,
        assume=_assume(main, found),
    )


def _assume(main: Step, found: Standings) -> AssumeOut | None:
    """A display that nobody can check is taken as true, so that the chain goes on."""
    if main is not Step.HEAT or Kind.HEAT_BIAS in found.values:
        return None
    return AssumeOut(label=assume_said(DISPLAY_OFF_C), values={Kind.HEAT_BIAS.value: AS_SHOWN})


def _level(found: Standings, work: Work) -> str:
    """When the bed was levelled, and how far out it was found; empty where nobody said anything of it."""
    facts = found.steps.get(Step.LEVEL)
    if facts is None or facts.shown_at_s is None:
        return ""
    number = None if facts.value is None else facts.value.number
    return level_said(standing_word(facts.standing), days_since(work, facts.shown_at_s), number)


def _value(show: Shown, main: Step, facts: StepFacts) -> tuple[ValueOut | None, StripOut | None]:
    if facts.value is None:
        return None, None
    way = next((one for one in CALIBRATIONS.of_step(main) if one.recorded is not None), None)
    if way is None or way.recorded is None:
        kind, setup = Kind(facts.value.kind), show.found.setup
        value = show.values[kind]
        return value, value_strip(value, places_of(kind, show.read.machine), Purpose(setup.purpose), facts.standing)
    evidence = evidence_from(facts.value, show.found, show.read.margin)
    strip = way.recorded(evidence, show.read.margin.measured, facts.standing, show.work)
    return value_out(evidence, show.read.machine, show.work), strip
