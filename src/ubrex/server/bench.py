"""The bench: tonight's numbers, what they are good enough for, where each row stands, what is next, and why."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import Final

from ubrex.core.calibrate import Method
from ubrex.core.chain import (
    COSTS,
    KINDS,
    ROWS,
    SHOWN_HERE,
    Change,
    Cost,
    Grade,
    Kind,
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
from ubrex.core.materials import Liner, family
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations import esteps
from ubrex.server.desk import FieldProblem, Refused, Work
from ubrex.server.printing import printing_cautions
from ubrex.server.profile import (
    CAN_RUN,
    DAY_S,
    Given,
    Standings,
    StepFacts,
    beyond_retraction_cap,
    changes_out,
    effective_flow,
    evidence_from,
    facts_of,
    judged,
    row_out,
    value_out,
)
from ubrex.server.runs import runs
from ubrex.server.store.database import database, seen
from ubrex.server.store.facts import DryerRow, MarginRows, ValueRow, fetch_margin
from ubrex.server.store.records import Note
from ubrex.server.views.base import CautionOut
from ubrex.server.views.bench import (
    BeforeOut,
    BenchOut,
    CribLineOut,
    DangerOut,
    GoodForOut,
    LastRevisionOut,
    NextOut,
    PlanLineOut,
    PlanOut,
    SafetyOut,
    SetupNoteIn,
    SetupNoteOut,
    StepOut,
    WaitingOut,
)
from ubrex.server.views.values import StripOut, ValueOut
from ubrex.server.views.workshop import SetupOut
from ubrex.server.words.changes import change_said, touched
from ubrex.server.words.history import revision_cause
from ubrex.server.words.inventory import drying_said
from ubrex.server.words.numbers import ago, unit_text
from ubrex.server.words.preflight import MECHANICS, WET_TEST, filament_said, mechanics_said
from ubrex.server.words.profile import PURPOSES, good_said, limit_said, plan_said, usual_said
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
from ubrex.server.workshop import get_setup, setup_out, setups_in_use, usable_setup

RECENT: Final = 5

KEPT: Final = 16
"""Setups whose rows are kept as they were read: those that a workshop goes to and fro between."""

MECHANICS_HOLD_DAYS: Final = 90.0
"""So long a machine whose mechanics were gone through counts as sound (E)."""

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

_ALWAYS_ON_CRIB: Final = (Kind.LINE_WIDTH, Kind.LAYER, Kind.NOZZLE, Kind.BED, Kind.FLOW, Kind.FAN)
"""Numbers that no slicing program does without: shown with what is usual while there is no value."""

_CHOSEN: Final = frozenset({Kind.LINE_WIDTH, Kind.LAYER, Kind.LAYER_FIRST})
"""Numbers that somebody decided on: nothing measures them, and nothing makes them stale."""


def show_bench(work: Work, setup_id: int) -> BenchOut:
    """The bench with a setup on it."""
    read = _read_now(setup_id)
    setup, margin = read.given.setup, read.margin
    found = judged(read.given, work.now)
    states = found.states
    plan = remaining(states)
    shown = _Shown(found, margin, work)
    return BenchOut(
        setup=setup_out(setup),
        safety=_safety(found, work),
        before=[_mechanics(found, work), *_filament(found, margin, work)],
        next=_next(found, work),
        dangers=[DangerOut(danger=danger, sentence=DANGERS[danger]) for danger in found.held],
        crib=_crib(shown),
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
        waiting=_drying(margin.dryer, work) + _waiting(found),
        recent=runs.recent_lines(setup, margin.runs),
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


def list_setups(_work: Work) -> list[SetupOut]:
    """Setups in use."""
    return [setup_out(setup) for setup in setups_in_use()]


def _safety(found: Standings, work: Work) -> SafetyOut:
    machine, hotend = found.setup.toolhead.machine, found.setup.toolhead.hotend
    facts = found.steps[Step.SAFETY]
    days = _days(work, facts.shown_at_s)
    cause = f"gone through {ago(days)}" if facts.shown_at_s is not None else "nobody has gone through this card yet"
    if facts.asked is not None and _is_cause(facts):
        cause = change_said(facts.asked.change, work.now.timestamp() / DAY_S - facts.asked.at_day)
    return SafetyOut(
        standing=facts.standing,
        standing_word="Not gone through" if facts.standing is Standing.NEVER else standing_word(facts.standing),
        cause=cause,
        runaway=Grade(machine.runaway),
        liner=Liner(hotend.liner),
        note=machine.runaway_note,
    )


def _mechanics(found: Standings, work: Work) -> BeforeOut:
    """The card of everything that may be loose."""
    done_at_s = found.done_at_s(Change.MECHANICS)
    days = None if done_at_s is None else _days(work, done_at_s)
    return BeforeOut(
        key="mechanics",
        said=mechanics_said(days),
        why=MECHANICS,
        good=days is not None and days <= MECHANICS_HOLD_DAYS,
    )


def _filament(found: Standings, margin: MarginRows, work: Work) -> list[BeforeOut]:
    """The card of the wet test, where the filament drinks or was found wet."""
    dry, row = margin.dry, family(found.setup.filament.family)
    wet = any(facts.standing is Standing.HOLD for facts in found.steps.values())
    if not (row.hygroscopic or wet or dry is not None):
        return []
    said = filament_said(None if dry is None else dry.kind, 0 if dry is None else dry.number, wet=wet)
    why = WET_TEST if dry is None else f"Found {ago(_days(work, dry.at_s))}. {WET_TEST}"
    silent = dry is not None and (dry.kind == "dried" or dry.number == 0)
    return [BeforeOut(key="filament", said=said, why=why, good=silent and not wet)]


def _total(costs: list[Cost]) -> str:
    sum_of_all = total(costs)
    return plan_said(sum_of_all.minutes, sum_of_all.grams)


def _next(found: Standings, work: Work) -> NextOut:
    chosen = found.next
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
        days=0.0 if facts is None else _days(work, facts.shown_at_s),
        measured_at=None
        if facts is None or facts.shown_at_s is None
        else datetime.fromtimestamp(facts.shown_at_s, UTC),
        touched=asks,
    )


def _main(steps: tuple[Step, ...]) -> Step:
    """The step whose value a row shows: the offset of *level and Z-offset*, the distance of *retraction and seam*."""
    return Step.Z_OFFSET if Step.Z_OFFSET in steps else steps[0]


class _Shown:
    """What several parts of the bench show, made once."""

    def __init__(self, found: Standings, margin: MarginRows, work: Work) -> None:
        self.found, self.margin, self.work = found, margin, work
        self.machine = found.setup.toolhead.machine
        self.values: Mapping[Kind, ValueOut] = {
            kind: row_out(value, self.machine, work) for kind, value in found.values.items() if kind is not Kind.E_STEPS
        }
        self.piece_care = _leads(printing_cautions(found.setup))


def _row(show: _Shown, number: int, steps: tuple[Step, ...]) -> StepOut:
    found, work, main = show.found, show.work, _main(steps)
    there = [step for step in steps if step in found.steps]
    step = min(there, key=lambda one: _GRAVEST.index(found.steps[one].standing), default=main)
    facts = found.steps[step]
    shown = found.steps[main]
    days = _days(work, facts.shown_at_s)
    done = (
        ""
        if facts.asked is None
        else change_said(facts.asked.change, work.now.timestamp() / DAY_S - facts.asked.at_day)
    )
    if done and step is not main:
        done = f"{STEP_NAMES[step]}: {done}"
    value, strip = _value(show, main, shown)
    is_next = found.next.step in steps
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
            changed=done if _is_cause(facts) else "",
            limit="" if facts.beyond is None else limit_said(facts.beyond.max_c, facts.beyond.of),
            other_form=facts.other_form,
            origin=None if facts.value is None else Origin(facts.value.origin),
        ),
        unverified=not facts.verified,
        value=value,
        strip=strip,
        is_next=is_next,
        next_sentence=_reason(found.next.reason, found.next.step, facts, found, work) if is_next else "",
        rests_on=rests_said(rests_on(main, found.states)),
        minutes=COSTS[main].minutes,
        grams=COSTS[main].grams,
        can_run=main in CAN_RUN,
        care=_care(main, show),
        open_run_id=shown.run_open,
    )


def _care(main: Step, show: _Shown) -> list[str]:
    """The first words of what can hurt in a step that can be run."""
    if main not in CAN_RUN:
        return []
    if main is Step.E_STEPS:
        checked = show.found.values.get(Kind.HEAT_BIAS)
        return _leads(esteps.cautions(show.found.setup, Method.OPEN_AIR, checked))
    return show.piece_care


def _leads(rows: Sequence[CautionOut]) -> list[str]:
    return [row.lead.removesuffix(".").lower() for row in rows]


def _is_cause(facts: StepFacts) -> bool:
    """Whether the change is what made the standing, and not something that an assumed or missing value outlasts."""
    return facts.standing in {Standing.HOLD, Standing.STALE, Standing.RE_ENTER, Standing.CHECK}


def _value(show: _Shown, main: Step, facts: StepFacts) -> tuple[ValueOut | None, StripOut | None]:
    if facts.value is None:
        return None, None
    if main is not Step.E_STEPS:
        return show.values[Kind(facts.value.kind)], None
    evidence = evidence_from(facts.value, show.found, show.margin)
    strip = esteps.recorded_strip(evidence, show.margin.measured, facts.standing, show.work)
    return value_out(evidence, show.machine, show.work), strip


def _crib(show: _Shown) -> list[CribLineOut]:
    """Numbers for the slicing program, in the order in which they are typed."""
    return [
        _crib_line(kind, show)
        for kind, what in KINDS.items()
        if what.crib and kind is not Kind.FLOW_BIAS and (kind in show.values or kind in _ALWAYS_ON_CRIB)
    ]


def _crib_line(kind: Kind, show: _Shown) -> CribLineOut:
    found, shown = show.found, show.values.get(kind)
    value, setup = found.values.get(kind), found.setup
    text, remark = _crib_text(kind, value, found)
    now, word = _crib_standing(kind, value, found)
    if value is not None and not remark:
        remark = beyond_retraction_cap(setup, kind, value.number)
    beyond = found.beyond.get(kind)
    if beyond is not None:
        now, word, remark = Standing.OUT, "Too hot", limit_said(beyond.max_c, beyond.of)
    return CribLineOut(
        kind=kind,
        name=KINDS[kind].name,
        value=shown,
        text=text,
        unit_text=unit_text(KINDS[kind].unit.value),
        half_width_text="" if shown is None else shown.half_width_text,
        usual="" if value is not None else usual_said(kind, family(setup.filament.family), setup.nozzle.bore_mm),
        remark=remark,
        standing=now,
        standing_word=word,
        typed_in=value is not None and found.typed_in.get(value.id, False),
    )


def _crib_standing(kind: Kind, value: ValueRow | None, found: Standings) -> tuple[Standing, str]:
    if value is None:
        return Standing.NEVER, "Not set"
    if kind in _CHOSEN:
        return Standing.ASSUMED, "Chosen"
    facts = found.steps.get(KINDS[kind].step)
    now = facts.standing if facts is not None else Standing.ASSUMED
    if now in {Standing.FRESH, Standing.AGEING} and Origin(value.origin) not in SHOWN_HERE:
        now = Standing.ASSUMED
    return now, standing_word(now)


def _crib_text(kind: Kind, value: ValueRow | None, found: Standings) -> tuple[str, str]:
    """The number to type, and a word on it: flow is typed with its bias in it."""
    if value is None:
        return "", ""
    places = KINDS[kind].places
    bias = found.values.get(Kind.FLOW_BIAS)
    if kind is Kind.FLOW and bias is not None and bias.number != 100:
        calibrated = decimal_text(value.number, places)
        typed = effective_flow(list(found.values.values())) or value.number
        return decimal_text(
            typed, places
        ), f"calibrated {calibrated}, {decimal_text(bias.number, 0)} % of it on purpose"
    return decimal_text(value.number, places), ""


def _drying(dryer: DryerRow | None, work: Work) -> list[WaitingOut]:
    """What lies in the dryer, or has lain there long enough and was not said to be dry."""
    if dryer is None or dryer.kind != "drying":
        return []
    until = datetime.fromtimestamp(dryer.at_s, UTC) + timedelta(hours=dryer.hours)
    over = until <= work.now
    said = drying_said(dryer.spool, dryer.hours, dryer.celsius, over=over)
    return [WaitingOut(sentence=said, until=None if over else until)]


def _waiting(found: Standings) -> list[WaitingOut]:
    """What has to pass before something can go on."""
    held = [STEP_NAMES[step] for step, facts in found.steps.items() if facts.standing is Standing.HOLD]
    wet = next((facts.asked for facts in found.steps.values() if facts.standing is Standing.HOLD), None)
    if wet is None or wet.change is not Change.WET:
        return []
    row = family(found.setup.filament.family)
    how = "as its maker says"
    if row.dry_c is not None and row.dry_h is not None:
        how = f"at {decimal_text(row.dry_c.low, 0)} °C for {decimal_text(row.dry_h.low, 0)} h or more"
    said = (
        f"{', '.join(held)} wait until the filament is dry: {how}, until 2 h more take no more than 1 g off the spool."
    )
    return [WaitingOut(sentence=said)]


def _days(work: Work, since_s: float | None) -> float:
    return 0.0 if since_s is None else work.now.timestamp() / DAY_S - since_s / DAY_S
