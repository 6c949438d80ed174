"""Cases of faults: opened, answered in any order, taken back, closed, opened again."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from typing import Final, cast

from peewee import JOIN

from ubrex.core.attempts import qualified
from ubrex.core.chain import EFFECTS, Change
from ubrex.core.diagnose import (
    OTHER,
    Case,
    Result,
    Sheet,
    diagnose,
    knowledge,
    odds_of,
    ready_from,
    reasons_for,
)
from ubrex.server.desk import Clash, FieldProblem, Refused, Work, find
from ubrex.server.faults._record import Fact, context_of, facts_of
from ubrex.server.profile import log_change
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import Fault, FaultAnswer, FaultAnswerOff, FaultEnd, Machine, Person, Print
from ubrex.server.views.bench import ChangeIn
from ubrex.server.views.faults import (
    AnsweredOut,
    AnswerKind,
    AnswerOut,
    AskedOut,
    CauseOut,
    ComplaintOut,
    FactOut,
    FaultAnswerIn,
    FaultCloseIn,
    FaultIn,
    FaultLineOut,
    FaultSheetOut,
    FaultsOut,
    LookOut,
    RemedyOut,
    StopOut,
)
from ubrex.server.words import faults as words
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.numbers import day
from ubrex.server.words.standing import STEP_NAMES
from ubrex.server.workshop import get_setup, setup_out, usable_setup

MOST_CASES: Final = 200
SHOWN_ABOVE: Final = 0.03
"""Causes below are set aside (diagnosis, 3)."""

REOPENS_WITHIN: Final = timedelta(days=60)
USUAL_HERE: Final = 1.5
"""What a cause counts that was confirmed on this machine before (diagnosis, 7)."""

_OFF: Final = Insert(FaultAnswerOff)

MENDS: Final = {
    "m_raise": Change.Z_OFFSET_CHANGED, "m_lower": Change.Z_OFFSET_CHANGED, "m_level": Change.LEVELLED_BY_HAND,
    "m_clear": Change.BLOCKAGE, "m_nozzle": Change.NOZZLE_SAME, "m_gear": Change.GEAR_TENSION, "m_jam": Change.GEAR_TENSION,
    "m_sinkfan": Change.HEAT_SINK_FAN, "m_tubehome": Change.FEED_TUBE, "m_tube": Change.FEED_TUBE,
    "m_heatcheck": Change.HEATER_SENSOR, "m_heater": Change.HEATER_SENSOR, "m_control": Change.HEATER_CONTROL,
    "m_sensor": Change.HEATER_SENSOR, "m_wire": Change.HEATER_SENSOR, "m_motor": Change.EXTRUDER,
    "m_spool": Change.FEED_PATH, "m_path": Change.FEED_PATH, "m_snag": Change.FEED_PATH, "m_load": Change.SPOOL_SAME,
    "m_dry": Change.DRIED, "m_wash": Change.PLATE_WASHED, "m_surface": Change.SURFACE_OTHER, "m_stack": Change.SURFACE_OTHER,
    "m_belt": Change.BELTS, "m_grub": Change.BELTS, "m_play": Change.MECHANICS, "m_bind": Change.MECHANICS,
    "m_twin": Change.MOVED, "m_frame": Change.FRAME, "m_probe": Change.PROBE, "m_probefix": Change.PROBE,
    "m_leak": Change.HOTEND, "m_blob": Change.CRASH, "m_fanless": Change.PART_FAN, "m_fanmore": Change.PART_FAN,
    "m_hotter": Change.TEMPERATURE_MOVED, "m_cooler": Change.TEMPERATURE_MOVED, "m_flow": Change.FLOW_CHANGED,
    "m_door": Change.ROOM, "m_shield": Change.ROOM, "m_accel": Change.ACCELERATION,
}  # fmt: skip
"""Which work a remedy is, so that what it makes stale is said before."""


GUIDED: Final = {
    "m_clear": "blockage", "m_leak": "leak", "m_blob": "blob", "m_wash": "plate", "m_gear": "gear", "m_jam": "gear",
    "m_tubehome": "tube", "m_tube": "tube", "m_belt": "belts", "m_play": "belts", "m_grub": "belts", "m_sinkfan": "fan",
    "m_level": "paper", "m_load": "change",
}  # fmt: skip
"""Which guide leads through a remedy."""


def list_faults(_work: Work) -> FaultsOut:
    """Cases, the open ones first and the newest first, and everything that can be seen."""
    rows = list(
        Fault.select(Fault, Person, Machine.name)
        .join(Person)
        .switch(Fault)
        .join(Machine)
        .order_by(Fault.id.desc())
        .limit(MOST_CASES)
    )
    ends = {end.fault_id: end for end in FaultEnd.select().order_by(FaultEnd.id)}
    lines = [_line(row, ends.get(row.id)) for row in rows]
    return FaultsOut(
        cases=sorted(lines, key=lambda one: one.closed),
        complaints=[_complaint(key) for key in words.COMPLAINTS],
    )


def _line(row: Fault, last: FaultEnd | None) -> FaultLineOut:
    closed = last is not None and last.closed
    return FaultLineOut(
        id=row.id,
        title=words.title_said(row.complaint, row.machine.name),
        machine=row.machine.name,
        leads=words.CAUSES[last.cause] if last is not None and closed else "",
        closed=closed,
        at=row.at,
        person=row.person.name,
    )


def _complaint(key: str) -> ComplaintOut:
    text, everyday = words.COMPLAINTS[key]
    return ComplaintOut(key=key, text=text, words=everyday)


def _ended(row: Fault) -> FaultEnd | None:
    """How a case was closed; None for one that is open."""
    last: FaultEnd | None = FaultEnd.select().where(FaultEnd.fault == row.id).order_by(FaultEnd.id.desc()).first()
    return last if last is not None and last.closed else None


def open_fault(work: Work, form: FaultIn) -> FaultSheetOut:
    """Open a case on a setup."""
    person, setup = work.person(), usable_setup(form.setup_id)
    if form.complaint not in words.COMPLAINTS:
        raise Refused(FieldProblem("complaint", "unknown", words.NO_SUCH))
    if form.print_id is not None and find(Print, form.print_id, "print").setup_id != setup.id:
        raise Refused(FieldProblem("print_id", "unknown", words.NO_SUCH))
    row = Fault.create(
        setup=setup, machine=setup.toolhead.machine_id, print=form.print_id, complaint=form.complaint,
        note=form.note.strip(), person=person, at=work.now,
    )  # fmt: skip
    return show_fault(work, row.id)


def answer_fault(work: Work, fault_id: int, form: FaultAnswerIn) -> FaultSheetOut:
    """Write one answer down; the newest to the same question counts."""
    person, row = work.person(), _open_case(fault_id)
    if not _is_answer(form):
        raise Refused(FieldProblem("answer", "unknown", words.NO_SUCH))
    if form.kind == "remedy" and form.write_down and form.key in MENDS:
        _write_down(work, row, form.key)
    FaultAnswer.create(
        fault=row, kind=form.kind, key=form.key, answer=form.answer, unsure=form.unsure, note=form.note.strip(),
        person=person, at=work.now,
    )  # fmt: skip
    return show_fault(work, fault_id)


def _write_down(work: Work, row: Fault, remedy: str) -> None:
    """Log the work of a remedy once a case, however often its result is said."""
    done = FaultAnswer.select().where(
        FaultAnswer.fault == row.id, FaultAnswer.kind == "remedy", FaultAnswer.key == remedy
    )
    if not done.exists():
        note = words.work_note(words.REMEDIES[remedy][0], words.COMPLAINTS[row.complaint][0])
        log_change(work, row.setup_id, ChangeIn(kind=MENDS[remedy], note=note))


def _open_case(fault_id: int) -> Fault:
    row = find(Fault, fault_id, "case")
    if _ended(row) is not None:
        raise Clash(words.NOT_OPEN, code="closed")
    return row


def _is_answer(form: FaultAnswerIn) -> bool:
    base = knowledge()
    there = {
        "finding": lambda: form.key in base.findings and form.answer in base.findings[form.key].background,
        "not_so": lambda: form.key in base.findings and form.answer == "",
        "also": lambda: form.key in base.complaints and form.answer in {"yes", "no"},
        "unable": lambda: form.key in base.checks and form.answer == "",
        "remedy": lambda: form.key in base.remedies and form.answer in words.RESULTS,
        "stopped": lambda: form.key in words.STOP and form.answer == "",
    }
    return there[form.kind]()


def take_back_answer(work: Work, answer_id: int) -> FaultSheetOut:
    """Take an answer back; it stays on record."""
    row = find(FaultAnswer, answer_id, "answer")
    _open_case(row.fault_id)
    _OFF.add_unless_there(answer=row, person=work.person(), at=work.now)
    return show_fault(work, row.fault_id)


def close_fault(work: Work, fault_id: int, form: FaultCloseIn) -> FaultSheetOut:
    """Close a case with what it was: on this machine that cause counts more from then on."""
    person, row = work.person(), _open_case(fault_id)
    if form.cause not in words.CAUSES:
        raise Refused(FieldProblem("cause", "unknown", words.EMPTY_CAUSE))
    FaultEnd.create(fault=row, closed=True, cause=form.cause, note=form.note.strip(), person=person, at=work.now)
    return show_fault(work, fault_id)


def reopen_fault(work: Work, fault_id: int) -> FaultSheetOut:
    """Open a case again."""
    person, row = work.person(), find(Fault, fault_id, "case")
    if _ended(row) is not None:
        FaultEnd.create(fault=row, closed=False, cause="", note="", person=person, at=work.now)
    return show_fault(work, fault_id)


def _answers(row: Fault) -> list[FaultAnswer]:
    return list(
        FaultAnswer.select(FaultAnswer, Person)
        .join(Person)
        .switch(FaultAnswer)
        .join(FaultAnswerOff, JOIN.LEFT_OUTER, on=(FaultAnswerOff.answer == FaultAnswer.id))
        .where(FaultAnswer.fault == row.id, FaultAnswerOff.answer.is_null())
        .order_by(FaultAnswer.id)
    )


def _case(row: Fault, answers: Sequence[FaultAnswer], facts: Sequence[Fact]) -> Case:
    """A case as the core knows it; what somebody answered counts before what the record says."""
    not_so = {one.key for one in answers if one.kind == "not_so"}
    evidence = {one.finding: one.answer for one in facts if one.finding not in not_so}
    found = {one.key: one for one in answers if one.kind == "finding"}
    confirmed = (
        FaultEnd.select(FaultEnd.cause)
        .join(Fault)
        .where(Fault.machine == row.machine_id, Fault.id != row.id, FaultEnd.closed)
    )
    return Case(
        complaint=row.complaint,
        context=context_of(row),
        also={one.key: one.answer == "yes" for one in answers if one.kind == "also"},
        evidence=evidence | {key: one.answer for key, one in found.items()},
        remedies={one.key: cast("Result", one.answer) for one in answers if one.kind == "remedy"},
        unable=sorted({one.key for one in answers if one.kind == "unable"}),
        unsure=[key for key, one in found.items() if one.unsure],
        usual_here={one.cause: USUAL_HERE for one in confirmed if one.cause != OTHER},
    )


def show_fault(work: Work, fault_id: int) -> FaultSheetOut:
    """A case as it stands."""
    row = find(Fault, fault_id, "case")
    answers, facts, ended = _answers(row), facts_of(work, row), _ended(row)
    case = _case(row, answers, facts)
    sheet = diagnose(case)
    before = diagnose(_case(row, answers[:-1], facts)) if answers else None
    done = {one.key for one in answers if one.kind == "stopped"}
    remedy = None if sheet.remedy is None else _remedy(sheet.remedy)
    checks = [_check(one.check, case, one.minutes) for one in sheet.checks[:6]]
    return FaultSheetOut(
        id=row.id,
        version=len(answers),
        setup=setup_out(get_setup(row.setup_id)),
        complaint=words.COMPLAINTS[row.complaint][0],
        note=row.note,
        print_id=row.print_id,
        at=row.at,
        person=find(Person, row.person_id, "person").name,
        closed=ended is not None,
        cause="" if ended is None else words.CAUSES[ended.cause],
        verdict=sheet.verdict,
        said=_said(row, answers, sheet, closed=ended is not None),
        stop=[
            StopOut(key=key, title=words.STOP[key][0], steps=list(words.STOP[key][1]))
            for key in sheet.stop
            if key not in done
        ],
        first=[_check(key, case, knowledge().checks[key].minutes) for key in sheet.ask_first],
        causes=_causes(case, sheet, before),
        next=checks[0] if checks else None,
        others=checks[1:],
        remedy=remedy,
        remedies=_light_remedies(sheet, case),
        facts=_facts(facts, answers),
        answered=[_answered(one) for one in reversed(answers) if one.kind != "not_so"],
        also=[_complaint(key) for key in words.COMPLAINTS if key != row.complaint and key not in case.also],
        reopened=_again(row),
    )


def _said(row: Fault, answers: Sequence[FaultAnswer], sheet: Sheet, *, closed: bool) -> str:
    if closed:
        return words.CLOSED
    if sheet.verdict == "watch":
        gone = max(one.at for one in answers if one.kind == "remedy" and one.answer == "gone")
        prints = Print.select(Print.outcome).where(
            Print.setup == row.setup_id, Print.standing(), Print.happened_at > gone, Print.outcome != "stopped"
        )
        outcomes = [one.outcome for one in prints]
        failed = len(outcomes) - outcomes.count("good")
        return words.watch_said(qualified(len(outcomes), failed), len(outcomes), failed)
    if sheet.verdict == "off_list":
        return words.OFF_LIST
    if sheet.verdict == "try" and sheet.remedy is not None:
        return words.try_verdict(words.REMEDIES[sheet.remedy][0], sheet.p_remedy or 0.0, unsure=sheet.unsure)
    first, second = (words.CAUSES[cause] for cause, _ in sheet.causes[:2])
    return words.check_verdict(first, second, sheet.checks[0].minutes)


def _causes(case: Case, sheet: Sheet, before: Sheet | None) -> list[CauseOut]:
    odds = odds_of(case)
    then = {} if before is None else dict(before.causes)
    found = []
    for cause, share in sheet.causes:
        told = share >= SHOWN_ABOVE
        pro, con = reasons_for(case, cause, odds) if told else ([], [])
        found.append(
            CauseOut(
                key=cause,
                name=words.CAUSES[cause],
                share=share,
                place=words.place_of(share),
                place_before=words.place_of(then[cause]) if cause in then else None,
                aside=not told,
                field=words.field_said(share),
                tenths=words.tenths_said(share),
                because=words.because_said(
                    [words.reason_said(one.what, one.answer) for one in pro],
                    [words.reason_said(one.what, one.answer) for one in con],
                    looked=bool(case.evidence),
                )
                if told
                else "",
            )
        )
    return found


def _check(key: str, case: Case, minutes: float) -> LookOut:
    row = knowledge().checks[key]
    return LookOut(
        key=key,
        do=words.CHECKS[key],
        minutes=minutes,
        state=words.STATES[row.state],
        needs=list(row.needs),
        cautions=[words.CAUTIONS[one] for one in row.cautions],
        asks=[
            AskedOut(
                key=one,
                question=words.QUESTIONS[one],
                options=[
                    AnswerOut(key=answer, text=words.answer_text(answer))
                    for answer in knowledge().findings[one].options
                ],
            )
            for one in row.tells
            if one not in case.evidence
        ],
    )


MAKER_FROM: Final = 2
"""From this harm on the maker's own order comes first."""


def _remedy(key: str) -> RemedyOut:
    row, (do, seen) = knowledge().remedies[key], words.REMEDIES[key]
    change = MENDS.get(key)
    cautions = [words.CAUTIONS["idle"], words.CAUTIONS["maker"]] if row.harm >= MAKER_FROM else []
    if key in {"m_wire", "m_sensor", "m_driver", "m_motor"}:
        cautions.append(words.CAUTIONS["mains"])
    return RemedyOut(
        key=key,
        do=do,
        minutes=row.minutes,
        buys=row.buys or "",
        seen=words.then_said(seen),
        cautions=cautions,
        guide=GUIDED.get(key, ""),
        work="" if change is None else CHANGES[change].name,
        stale=[] if change is None else [STEP_NAMES[step] for step in EFFECTS[change] if step in STEP_NAMES],
    )


def _light_remedies(sheet: Sheet, case: Case) -> list[RemedyOut]:
    """Remedies of the likeliest causes that somebody may want to try anyway, the surest first."""
    shares = dict(sheet.causes)
    rows = [
        (sum(shares[cause] for cause in row.cures), -ready_from(key), key)
        for key, row in knowledge().remedies.items()
        if key not in case.remedies and key != sheet.remedy
    ]
    return [_remedy(key) for share, _, key in sorted(rows, reverse=True)[:4] if share >= SHOWN_ABOVE]


def _facts(facts: Sequence[Fact], answers: Sequence[FaultAnswer]) -> list[FactOut]:
    struck = {one.key: one.id for one in answers if one.kind == "not_so"}
    return [
        FactOut(key=one.finding, text=one.text, counts=one.finding not in struck, not_so_id=struck.get(one.finding))
        for one in facts
    ]


def _answered(one: FaultAnswer) -> AnsweredOut:
    text = {
        "finding": lambda: (
            f"{words.QUESTIONS[one.key]} {words.answer_text(one.answer)}" + (" (not sure)" if one.unsure else "")
        ),
        "also": lambda: f"{words.COMPLAINTS[one.key][0]}: {one.answer}",
        "unable": lambda: f"{words.CHECKS[one.key]}: cannot be done here",
        "remedy": lambda: f"{words.REMEDIES[one.key][0]}: {words.RESULTS[one.answer]}",
        "stopped": lambda: f"{words.STOP[one.key][0]}: done",
    }[one.kind]()
    return AnsweredOut(id=one.id, kind=cast("AnswerKind", one.kind), text=text, person=one.person.name, at=one.at)


def _again(row: Fault) -> str:
    """Whether the same complaint on this machine was closed within the last weeks."""
    last = (
        FaultEnd.select(FaultEnd)
        .join(Fault)
        .where(
            Fault.machine == row.machine_id, Fault.complaint == row.complaint, Fault.id < row.id, FaultEnd.closed,
            FaultEnd.at >= row.at - REOPENS_WITHIN, FaultEnd.at <= row.at,
        )
        .order_by(FaultEnd.id.desc())
        .first()
    )  # fmt: skip
    return "" if last is None else words.reopened_said(day(last.at))
