"""Real prints, the counters they move, and the limits after which something is worth a look."""

from __future__ import annotations

import re
from datetime import datetime, timedelta
from typing import Final, Literal, cast

from peewee import JOIN, fn

from ubrex.core.attempts import qualified
from ubrex.core.calibrate import BEST_RATING
from ubrex.core.chain import AGEING, WEAR, Change, Step, Wearing
from ubrex.core.judge import judge_print
from ubrex.core.materials import density_of
from ubrex.core.quantity import decimal_text
from ubrex.server.desk import Clash, FieldProblem, Missing, TypedFields, Work, find
from ubrex.server.store.facts import fetch_wear
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import (
    AgeingLimit,
    LoggedChange,
    PartLimit,
    Person,
    Print,
    PrintOff,
    Revision,
    Setup,
    Spool,
    Withdrawal,
)
from ubrex.server.views.records import (
    CounterOut,
    CountersOut,
    LimitIn,
    LimitOut,
    PrintFormOut,
    PrintIn,
    PrintOut,
    PrintsOut,
)
from ubrex.server.views.towers import ScaleOut
from ubrex.server.words import wear as words
from ubrex.server.words.judgement import told_said
from ubrex.server.words.numbers import day, plain
from ubrex.server.words.scales import SCALES, SIGNS
from ubrex.server.words.standing import STEP_NAMES
from ubrex.server.words.wear import ADVICE, WEAR_NAMES
from ubrex.server.workshop._setups import get_setup, setup_out, usable_setup

_MEASURES: Final = {Wearing.NOZZLE: "plain", Wearing.NOZZLE_ABRASIVE: "abrasive", Wearing.PLATE: "prints"}

_ABRASIVE: Final = frozenset({"abrasive", "filled", "glitter"})
"""Flags of filaments that open a bore."""

_COUNTERS: Final = [
    (part.value, _MEASURES.get(part, "hours"), [c.value for c in row.resets]) for part, row in WEAR.items()
]

PLATE_COUNTER: Final = next(row for row in _COUNTERS if row[0] == Wearing.PLATE.value)
"""Prints since the plate was washed."""

MOST_PRINTS: Final = 200
"""Prints that are listed at once."""

MOST_PARTS: Final = 40
"""Names of parts that are offered."""

MOST_BEFORE: Final = 5
"""Predecessors of a part whose counters are shown."""

_OFF: Final = Insert(PrintOff)


def log_print(work: Work, setup_id: int, form: PrintIn) -> CountersOut:
    """Write down a real print; counters and ageing follow."""
    person = work.person()
    setup = usable_setup(setup_id)
    fields = TypedFields()
    stopped = form.outcome == "stopped"
    if not form.signs.keys() <= SIGNS.keys():
        fields.add(FieldProblem("signs", "no_such_sign", words.NO_SUCH_SIGN))
    what = (
        form.what
        if stopped and form.what
        else fields.text("what", form.what or words.UNNAMED * stopped, what=words.WHAT)
    )
    hours, grams = (
        0.0 if not typed.strip() else fields.number(name, as_number(typed), what=said, low=low, high=high, why=why)
        for name, typed, as_number, said, low, high, why in (
            ("hours", form.hours, _hours, words.TIME, 0.01, 1000, words.HOURS_WHY),
            ("grams", form.grams, str, words.FILAMENT, 0.1, 20000, words.GRAMS_WHY),
        )
    )
    happened_at = form.happened_at or work.now
    if happened_at > work.now:
        fields.add(FieldProblem("happened_at", "in_future", words.IN_FUTURE))
    if hours and grams and "grams" not in form.as_typed:
        full_g = None if setup.spool is None else setup.spool.full_g
        density = density_of(setup.filament.family, setup.filament.density_g_cm3)
        for one in judge_print(hours=hours, grams=grams, density_g_cm3=density, full_g=full_g):
            fields.add(FieldProblem("grams", one.code.value, words.print_asked_said(told_said(one)), confirmable=True))
    fields.refuse_if_any()
    Print.create(
        setup=setup,
        machine=setup.toolhead.machine_id,
        nozzle=setup.nozzle_id,
        surface=setup.surface_id,
        spool=None if _spool_came_after(setup, happened_at) else setup.spool_id,
        abrasive=not _ABRASIVE.isdisjoint(setup.filament.flags),
        what=what,
        hours=hours,
        grams=grams,
        outcome=form.outcome,
        looks=form.looks,
        signs={key: form.signs[key] for key in SIGNS if key in form.signs},
        note=form.note.strip(),
        happened_at=happened_at,
        person=person,
        logged_at=work.now,
    )
    return CountersOut(counters=_counters(setup, work))


_HOURS: Final = re.compile(r"\s*(\d+)\s*(?:h|:)\s*([0-5]?\d)\s*(?:m|min|')?\s*|\s*()(\d+)\s*min\s*", re.I)


def _hours(typed: str) -> str:
    """A time as clocks and displays show it, in hours: 3:12, 3h12, 45 min; anything else as it was typed."""
    found = _HOURS.fullmatch(typed)
    if found is None:
        return typed
    hours, minutes = found[1] or found[3] or "0", found[2] or found[4]
    return f"{int(hours) + int(minutes) / 60:.4f}"


def show_print_form(_work: Work) -> PrintFormOut:
    """The signs of the trade, and the parts printed last, newest first."""
    newest = fn.MAX(Print.happened_at)
    rows = Print.select(Print.what, newest).where(Print.standing()).group_by(Print.what).order_by(newest.desc())
    return PrintFormOut(
        signs=[
            ScaleOut(
                key=key, name=row.name, look=look, counts="", words=list(row.words), sentences=list(row.sentences),
                most=BEST_RATING,
            )
            for key, row, look in ((key, SCALES[key], look) for key, look in SIGNS.items())
        ],
        parts=[row.what for row in rows.limit(MOST_PARTS)],
    )  # fmt: skip


def list_prints(_work: Work, setup_id: int) -> PrintsOut:
    """Prints of a setup, the newest first, with those that were taken back."""
    setup = get_setup(setup_id)
    revision = Revision.select(fn.MAX(Revision.number)).where(
        Revision.setup == Print.setup, Revision.at <= Print.happened_at
    )
    rows = (
        Print.select(Print, Person.name, Spool.name, PrintOff.print, revision.alias("under"))
        .join(Person, on=(Print.person == Person.id))
        .switch(Print)
        .join(Spool, JOIN.LEFT_OUTER)
        .switch(Print)
        .join(PrintOff, JOIN.LEFT_OUTER, on=(PrintOff.print == Print.id), attr="off")
        .where(Print.setup == setup_id)
        .order_by(Print.happened_at.desc(), Print.id.desc())
        .limit(MOST_PRINTS)
    )
    return PrintsOut(setup=setup_out(setup), qualified=_qualified(setup_id), prints=[_print(row) for row in rows])


def _qualified(setup_id: int) -> str:
    """How often it may still fail, by the prints since something was set last; stopped ones say nothing of that."""
    last = Revision.select().where(Revision.setup == setup_id).order_by(Revision.number.desc()).first()
    if last is None:
        return ""
    prints = Print.select(Print.outcome).where(
        Print.setup == setup_id, Print.standing(), Print.happened_at >= last.at, Print.outcome != "stopped"
    )
    outcomes = [row.outcome for row in prints]
    found = qualified(len(outcomes), len(outcomes) - outcomes.count("good"))
    return words.qualified_said(found, len(outcomes), len(outcomes) - outcomes.count("good"), last.number)


def _print(row: Print) -> PrintOut:
    off = getattr(row, "off", None)
    return PrintOut(
        id=row.id,
        what=row.what,
        outcome=cast("Literal['good', 'bad', 'stopped']", row.outcome),
        said=words.came_out_said(row.outcome, row.looks),
        signs=[words.sign_said(key, rating) for key, rating in row.signs.items()],
        took=words.took_said(row.hours, row.grams),
        note=row.note,
        spool="" if row.spool is None else row.spool.name,
        revision=getattr(row, "under", None),
        person=row.person.name,
        happened_at=row.happened_at,
        withdrawn=off is not None and off.print_id is not None,
    )


def withdraw_print(work: Work, print_id: int) -> PrintsOut:
    """Take a print back that was logged by mistake."""
    person = work.person()
    row = find(Print, print_id, "print")
    if not _OFF.add_unless_there(print=row, person=person, at=work.now):
        raise Clash(words.PRINT_BACK_ALREADY, code="withdrawn_already")
    return list_prints(work, row.setup_id)


def _spool_came_after(setup: Setup, at: datetime) -> bool:
    """Whether another spool of its filament was put on later: which one was on then, nobody wrote down."""
    return (
        LoggedChange.select()
        .join(Withdrawal, JOIN.LEFT_OUTER, on=(Withdrawal.change == LoggedChange.id))
        .where(
            LoggedChange.filament == setup.filament_id,
            LoggedChange.kind == Change.SPOOL_SAME.value,
            LoggedChange.happened_at > at,
            Withdrawal.change.is_null(),
        )
        .exists()
    )


def show_counters(work: Work, setup_id: int) -> CountersOut:
    """The counters of a setup's parts."""
    return CountersOut(counters=_counters(get_setup(setup_id), work))


def _counters(setup: Setup, work: Work) -> list[CounterOut]:
    """How much each part was used since it was last seen to, and before; only what has something to count."""
    worn = fetch_wear(setup, _COUNTERS)
    changed = {row.part: row.amount for row in PartLimit.select()}
    found = []
    for part, row in WEAR.items():
        now, *past = worn[part.value]
        limit = changed.get(part.value, row.amount)
        if now.amount == 0 and not past:
            continue
        begun = now.since or now.first
        due_at = None if row.days is None or begun is None else begun + timedelta(days=row.days)
        amount, most = (f"{decimal_text(number, 0)} {row.unit}" for number in (now.amount, limit))
        late = due_at is not None and due_at <= work.now
        due_on = "" if due_at is None else day(due_at)
        found.append(
            CounterOut(
                part=part,
                name=WEAR_NAMES[part],
                used=words.used_said(amount, most, due_on, passed=late),
                due=now.amount >= limit or late,
                advice=ADVICE[part],
                before=[
                    words.before_said(f"{decimal_text(span.amount, 0)} {row.unit}", day(span.until))
                    for span in past[:MOST_BEFORE]
                    if span.until is not None
                ],
            )
        )
    return found


def list_limits(_work: Work) -> list[LimitOut]:
    """After how many days a value, and after how much use a part, is worth a look."""
    days = {row.step: row.days for row in AgeingLimit.select()}
    amounts = {row.part: row.amount for row in PartLimit.select()}
    steps = [
        LimitOut(
            key=step.value,
            name=STEP_NAMES[step],
            value=plain(days.get(step.value, limits.days)),
            unit="days",
            usual=plain(limits.days),
        )
        for step, limits in AGEING.items()
    ]
    parts = [
        LimitOut(
            key=part.value,
            name=WEAR_NAMES[part],
            value=plain(amounts.get(part.value, row.amount)),
            unit=row.unit,
            usual=plain(row.amount),
        )
        for part, row in WEAR.items()
    ]
    return steps + parts


def set_limit(work: Work, key: str, form: LimitIn) -> list[LimitOut]:
    """Change after how much something is worth a look."""
    person = work.person()
    fields = TypedFields()
    if key in {step.value for step in Step}:
        why = words.AGEING_WHY
        days = fields.number("value", form.value, what="The limit", low=1, high=3650, why=why)
        fields.refuse_if_any()
        AgeingLimit.insert(step=key, days=days, person=person, at=work.now).on_conflict(
            conflict_target=[AgeingLimit.step],
            update={
                AgeingLimit.days: days,
                AgeingLimit.person: person,
                AgeingLimit.at: work.now,
                AgeingLimit.version: AgeingLimit.version + 1,
            },
        ).execute()
    elif key in {part.value for part in Wearing}:
        amount = fields.number("value", form.value, what="The limit", low=1, high=1_000_000, why=words.LIMIT_WHY)
        fields.refuse_if_any()
        PartLimit.insert(part=key, amount=amount, person=person, at=work.now).on_conflict(
            conflict_target=[PartLimit.part],
            update={
                PartLimit.amount: amount,
                PartLimit.person: person,
                PartLimit.at: work.now,
                PartLimit.version: PartLimit.version + 1,
            },
        ).execute()
    else:
        raise Missing(f"Nothing called {key} has a limit.")
    return list_limits(work)
