"""How a run ends: applied, kept, or left."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any

from ubrex.core.chain import KINDS
from ubrex.core.judge import Severity
from ubrex.server.calibrations import Case
from ubrex.server.desk import Clash, FieldProblem, Refused, TypedFields, Work
from ubrex.server.profile import NewValue, judged_change, lock_values, refuse_findings, tuned_of, write_values
from ubrex.server.runs._records import check_version, load_case, open_run, refuse_overtaken, save
from ubrex.server.runs._view import show_run
from ubrex.server.store.records import Decision, Run
from ubrex.server.views.runs import DecisionIn, RunOut
from ubrex.server.words import runs as words
from ubrex.server.words.judgement import told_said
from ubrex.server.workshop import bounds_of, owners


def decide(work: Work, run_id: int, version: int, form: DecisionIn) -> RunOut:
    """Apply what a run proposes, or keep what is set: decision, value and revisions in one transaction."""
    person = work.person()
    run = open_run(run_id)
    lock_values()
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
    run.state, run.ended_at, run.made_at = "decided", work.now, _made_at(run, case, work)
    save(run)
    new = case.decided(decision)
    if new:
        _refuse_homeless(run, new)
        if form.action == "apply":
            _judge(run, new, form.note)
        cause = "applied" if form.action == "apply" else "confirmed"
        write_values(work, run.setup, new, cause=cause, note=decision.note)
    return show_run(work, run_id)


def _made_at(run: Run, case: Case[Any], work: Work) -> datetime:
    """When the sample was made or read last; a browser whose clock is wrong makes it no older than the run."""
    made: datetime = run.fed_at or max([run.started_at, *(reading.taken_at for reading in case.readings)])
    return min(made, work.now)


def _refuse_homeless(run: Run, new: Sequence[NewValue]) -> None:
    """Refuse a value that depends on something the setup does not say."""
    if any(None in owners(value.kind, run.setup).values() for value in new):
        raise Clash(words.NO_SURFACE, code="no_surface")


def _judge(run: Run, new: Sequence[NewValue], note: str) -> None:
    """Hold what a run proposes to what is possible and to every limit; outside the label or the usual it takes a note."""
    setup, fields = run.setup, TypedFields()
    numbers = {value.kind: value.number for value in new}
    for kind, number in numbers.items():
        low, high = bounds_of(kind, setup)
        if not low <= number <= high:
            raise Clash(words.not_possible_said(KINDS[kind].name, number, KINDS[kind].why), code="refused")
    findings = judged_change(setup, tuned_of(setup).values, numbers)
    refused = next((one for one in findings if one.severity is Severity.REFUSED), None)
    if refused is not None:
        raise Clash(told_said(refused), code="refused")
    refuse_findings(findings, fields, dict.fromkeys(numbers, "note"), note=note)
    fields.refuse_if_any()


def leave(work: Work, run_id: int, version: int) -> RunOut:
    """Leave a run undecided, also that of a removed setup. Its readings stay on record and count for nothing."""
    work.person()
    run = open_run(run_id, removed_too=True)
    check_version(run, version)
    run.state, run.ended_at = "left", work.now
    save(run)
    return show_run(work, run_id)
