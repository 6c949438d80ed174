"""Real prints, the counters they move, and the limits after which something is worth a look."""

from __future__ import annotations

from datetime import timedelta
from typing import Final

from ubrex.core.chain import AGEING, WEAR, Step, Wearing
from ubrex.core.judge import slip_from
from ubrex.core.quantity import decimal_text
from ubrex.server.desk import Missing, TypedFields, Work
from ubrex.server.store.facts import fetch_wear
from ubrex.server.store.records import (
    AgeingLimit,
    PartLimit,
    Setup,
)
from ubrex.server.views.records import (
    CounterOut,
    CountersOut,
    LimitIn,
    LimitOut,
)
from ubrex.server.words import wear as words
from ubrex.server.words.numbers import day, plain
from ubrex.server.words.standing import STEP_NAMES
from ubrex.server.words.wear import ADVICE, WEAR_NAMES
from ubrex.server.workshop._forms import ask
from ubrex.server.workshop._setups import get_setup

_MEASURES: Final = {Wearing.NOZZLE: "plain", Wearing.NOZZLE_ABRASIVE: "abrasive", Wearing.PLATE: "prints"}

_COUNTERS: Final = [
    (part.value, _MEASURES.get(part, "hours"), [c.value for c in row.resets]) for part, row in WEAR.items()
]

PLATE_COUNTER: Final = next(row for row in _COUNTERS if row[0] == Wearing.PLATE.value)
"""Prints since the plate was washed."""

MOST_BEFORE: Final = 5
"""Predecessors of a part whose counters are shown."""


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
        _ask_slip(work, key, days, form, fields)
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
        _ask_slip(work, key, amount, form, fields)
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


def _ask_slip(work: Work, key: str, number: float | None, form: LimitIn, fields: TypedFields) -> None:
    """Ask about a limit that is ten times what it was: nothing would be looked at for years."""
    now = next(row for row in list_limits(work) if row.key == key)
    if number is not None and "value" not in form.as_typed:
        ask(slip_from(number, float(now.value)), "value", now.unit, fields)
