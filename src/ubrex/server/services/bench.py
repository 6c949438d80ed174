"""The bench: where a setup stands, what is next, and why."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Final

from ubrex.core.calibrate import FIRST_ASKED, Method
from ubrex.core.chain import E_STEPS_AGEING_DAYS, Change, NextReason, Origin, Step, next_reason, standing
from ubrex.server.services import changes, esteps, runs, setups, values
from ubrex.server.services.views import BenchOut, SetupChoiceOut, SetupOut, StepOut
from ubrex.server.services.work import Work
from ubrex.server.store.records import LoggedChange, Setup
from ubrex.server.words.changes import change_said, touched
from ubrex.server.words.standing import STEP_NAMES, next_said, standing_cause, standing_word

E_STEPS_NUMBER: Final = 2
"""Place of e-steps in the chain (job section 3)."""

E_STEPS_MINUTES: Final = 9
"""What an e-steps run takes [min]: heating, three feeds, three cuts."""

RECENT: Final = 5


def show_bench(work: Work, setup_id: int) -> BenchOut:
    """The bench with a setup on it."""
    in_use = setups.setups_in_use()
    setup = next((row for row in in_use if row.id == setup_id), None) or setups.get_setup(setup_id)
    logged = changes.of_machine(setup.toolhead.machine_id)
    return BenchOut(
        setup=setups.view(setup),
        setups=[SetupChoiceOut(id=row.id, title=setups.title(row)) for row in in_use],
        steps=[_esteps_row(work, setup, logged)],
        cautions=esteps.cautions(setup, Method.OPEN_AIR),
        recent=runs.recent_lines(setup_id, RECENT),
        changes=changes.recent(logged),
    )


def list_setups(_work: Work) -> list[SetupOut]:
    """Setups in use."""
    return [setups.view(setup) for setup in setups.setups_in_use()]


def _esteps_row(work: Work, setup: Setup, logged: Sequence[LoggedChange]) -> StepOut:
    machine = setup.toolhead.machine
    newest = values.newest_esteps(setup.toolhead_id)
    found = None if newest is None else values.evidence(newest, machine, logged)
    days = 0.0 if found is None else _days(work, found.shown_true_at)
    change = None if found is None else found.changed
    effect = None if change is None else changes.effect_of(change, Step.E_STEPS)
    now = standing(
        origin=None if newest is None else Origin(newest.origin),
        age_days=days,
        ageing_after_days=E_STEPS_AGEING_DAYS,
        changed=effect,
    )
    verified = found is None or found.read_back.state == "verified"
    done = "" if change is None else change_said(Change(change.kind), _days(work, change.happened_at))
    open_run = runs.open_run_of(setup.id, Step.E_STEPS)
    why = next_reason(now, verified=verified, run_open=open_run is not None)
    return StepOut(
        step=Step.E_STEPS,
        name=STEP_NAMES[Step.E_STEPS],
        number=E_STEPS_NUMBER,
        standing=now,
        standing_word=standing_word(now),
        cause=standing_cause(now, verified=verified, days=days, ageing_after=E_STEPS_AGEING_DAYS, changed=done),
        unverified=not verified,
        value=None if found is None else values.view(found, machine, work),
        strip=None if found is None else esteps.recorded_strip(found, now, work),
        is_next=why is not NextReason.NOTHING_DUE,
        next_reason=why,
        next_sentence=next_said(
            why,
            setup=f"{machine.name} with its {setup.toolhead.hotend.name}",
            days=days,
            measured_at=None if found is None else found.shown_true_at,
            touched="" if change is None or effect is None else touched(effect, Change(change.kind)),
        ),
        minutes=E_STEPS_MINUTES,
        readings=FIRST_ASKED,
        open_run_id=None if open_run is None else open_run.id,
    )


def _days(work: Work, since: datetime) -> float:
    return (work.now - since).total_seconds() / values.DAY_S
