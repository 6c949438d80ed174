"""How a run ends: applied, kept, or left."""

from __future__ import annotations

from collections.abc import Sequence

from ubrex.server.desk import Clash, FieldProblem, Refused, Work
from ubrex.server.profile import NewValue, lock_toolhead, write_values
from ubrex.server.runs._records import check_version, load_case, open_run, refuse_overtaken, save
from ubrex.server.runs._view import show_run
from ubrex.server.store.records import Decision, Run
from ubrex.server.views.runs import DecisionIn, RunOut
from ubrex.server.words import runs as words
from ubrex.server.workshop import owners


def decide(work: Work, run_id: int, version: int, form: DecisionIn) -> RunOut:
    """Apply what a run proposes, or keep what is set: decision, value and revisions in one transaction."""
    person = work.person()
    run = open_run(run_id)
    lock_toolhead(run.setup.toolhead_id)
    case = load_case(run, work)
    refuse_overtaken(case)
    check_version(run, version)
    shown = case.result(early=True)
    if shown is None:
        raise Clash(words.NO_READINGS, code="no_readings")
    if not (shown.can_apply if form.action == "apply" else shown.can_keep):
        raise Clash(words.cannot_decide_said(shown.title, shown.sentence), code="refused")
    if form.action == "apply" and shown.ask_before is not None and not form.before_proof:
        raise Refused(FieldProblem("before_proof", "not_proven", shown.ask_before, confirmable=True))
    decision = Decision.create(
        run=run,
        action=form.action,
        verdict=shown.verdict.value,
        reason=shown.reason,
        figures=case.figures(),
        rule_version=case.calibration.rule,
        before_proof=form.action == "apply" and not case.proven,
        note=form.note.strip(),
        person=person,
        at=work.now,
    )
    run.state, run.ended_at = "decided", work.now
    save(run)
    new = case.decided(decision)
    if new:
        _refuse_homeless(run, new)
        cause = "applied" if form.action == "apply" else "confirmed"
        write_values(work, run.setup, new, cause=cause, note=decision.note)
    return show_run(work, run_id)


def _refuse_homeless(run: Run, new: Sequence[NewValue]) -> None:
    """Refuse a value that depends on something the setup does not say."""
    if any(None in owners(value.kind, run.setup).values() for value in new):
        raise Clash(words.NO_SURFACE, code="no_surface")


def leave(work: Work, run_id: int, version: int) -> RunOut:
    """Leave a run undecided, also that of a removed setup. Its readings stay on record and count for nothing."""
    work.person()
    run = open_run(run_id, removed_too=True)
    check_version(run, version)
    run.state, run.ended_at = "left", work.now
    save(run)
    return show_run(work, run_id)
