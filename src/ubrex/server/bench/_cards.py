"""The cards that stand before the numbers, and what has to pass before something can go on."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from typing import Final

from ubrex.core.chain import (
    Change,
    Standing,
    Step,
)
from ubrex.core.materials import Dryness, family
from ubrex.server.desk import Work
from ubrex.server.profile import (
    DAY_S,
    Standings,
    StepFacts,
    days_since_found,
    dryness_of,
    hours_since_dried,
)
from ubrex.server.store.margin import DryerRow, MarginRows
from ubrex.server.views.base import CautionOut
from ubrex.server.views.bench import (
    BeforeOut,
    SafetyOut,
    WaitingOut,
)
from ubrex.server.words import preflight as words
from ubrex.server.words.changes import change_said
from ubrex.server.words.inventory import drying_said
from ubrex.server.words.preflight import MECHANICS, mechanics_said
from ubrex.server.words.standing import (
    STEP_NAMES,
    standing_word,
)
from ubrex.server.workshop import drying_asked, safety_fields

MECHANICS_HOLD_DAYS: Final = 90.0
"""So long a machine whose mechanics were gone through counts as sound (E)."""


_BELIEVED: Final = frozenset({Standing.FRESH, Standing.AGEING, Standing.ASSUMED})


def safety_out(found: Standings, work: Work) -> SafetyOut:
    machine, hotend = found.setup.toolhead.machine, found.setup.toolhead.hotend
    facts = found.steps[Step.SAFETY]
    days = days_since(work, facts.shown_at_s)
    cause = words.gone_through_said(None if facts.shown_at_s is None else days)
    if is_cause(facts) and facts.causes:
        cause = causes_said(facts, work)
    # A card of before, gone through with an answer that nobody knew, is no word of safety.
    standing = Standing.HOLD if found.held and facts.standing in _BELIEVED else facts.standing
    return SafetyOut(
        standing=standing,
        standing_word="Not gone through" if standing is Standing.NEVER else standing_word(standing),
        cause=cause,
        fields=safety_fields(machine, hotend),
    )


def mechanics_card(found: Standings, work: Work) -> BeforeOut:
    """The card of everything that may be loose."""
    done_at_s = found.done_at_s(Change.MECHANICS)
    days = None if done_at_s is None else days_since(work, done_at_s)
    return BeforeOut(
        key="mechanics",
        said=mechanics_said(days),
        why=MECHANICS,
        good=days is not None and days <= MECHANICS_HOLD_DAYS,
    )


def filament_card(found: Standings, margin: MarginRows, work: Work) -> list[BeforeOut]:
    """The card of how dry it is, where the filament drinks, was found wet, or was ever listened to."""
    row = family(found.setup.filament.family)
    held = any(facts.standing is Standing.HOLD for facts in found.steps.values())
    if not (row.hygroscopic or held or margin.dry):
        return []
    state = Dryness.WET if held else dryness_of(found.setup, margin.dry, work.now)
    found_days = days_since_found(found.setup, margin.dry, work.now)
    why = words.WET_TEST if found_days is None else words.found_said(found_days)
    hours = hours_since_dried(found.setup, margin.dry, work.now)
    return [BeforeOut(key="filament", said=words.filament_said(state, hours), why=why, good=state is Dryness.DRY)]


def drying_lines(dryer: DryerRow | None, work: Work) -> list[WaitingOut]:
    """What lies in the dryer, or has lain there long enough and was not said to be dry."""
    if dryer is None or dryer.kind != "drying":
        return []
    until = datetime.fromtimestamp(dryer.at_s, UTC) + timedelta(hours=dryer.hours)
    over = until <= work.now
    said = drying_said(dryer.spool, dryer.hours, dryer.celsius, over=over)
    return [WaitingOut(sentence=said, until=None if over else until)]


def waiting_lines(found: Standings) -> list[WaitingOut]:
    """What has to pass before something can go on."""
    held = [STEP_NAMES[step] for step, facts in found.steps.items() if facts.standing is Standing.HOLD]
    wet = next((facts.asked for facts in found.steps.values() if facts.standing is Standing.HOLD), None)
    if wet is None or wet.change is not Change.WET:
        return []
    return [WaitingOut(sentence=words.waits_said(held, drying_asked(found.setup.filament)))]


def days_since(work: Work, since_s: float | None) -> float:
    return 0.0 if since_s is None else work.now.timestamp() / DAY_S - since_s / DAY_S


def first_words(rows: Sequence[CautionOut]) -> list[str]:
    return [row.lead.removesuffix(".").lower() for row in rows]


def causes_said(facts: StepFacts, work: Work) -> str:
    """Everything that made a step stand as it does, newest first."""
    today = work.now.timestamp() / DAY_S
    return "; ".join(change_said(one.change, today - one.at_day) for one in facts.causes)


def is_cause(facts: StepFacts) -> bool:
    """Whether the change is what made the standing, and not something that an assumed or missing value outlasts."""
    return facts.standing in {Standing.HOLD, Standing.STALE, Standing.RE_ENTER, Standing.CHECK}
