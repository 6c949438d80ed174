"""One case as it stands: causes by their odds, what to look at next, what to try, what the record knows."""

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
    Order,
    Result,
    Sheet,
    diagnose,
    in_order,
    knowledge,
    odds_of,
    ready_from,
    reasons_for,
)
from ubrex.server.desk import Work, find
from ubrex.server.faults._ends import ended, opened_again, seen_again, seen_on
from ubrex.server.faults._found import found_of
from ubrex.server.faults._photos import ALBUM
from ubrex.server.faults._record import Fact, context_of, facts_of
from ubrex.server.store.records import Fault, FaultAnswer, FaultAnswerOff, FaultEnd, Person, Print
from ubrex.server.views.faults import (
    AnsweredOut,
    AnswerKind,
    AnswerOut,
    AskedOut,
    CauseOut,
    ComplaintOut,
    FactOut,
    FaultSheetOut,
    LookOut,
    RemedyOut,
    StopOut,
)
from ubrex.server.words import causes, looks
from ubrex.server.words import faults as words
from ubrex.server.words.attempts import stopped_said
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.numbers import day
from ubrex.server.words.standing import STEP_NAMES
from ubrex.server.workshop import get_setup, schools_out, setup_out, sides_of

SHOWN_ABOVE: Final = 0.03
"""Causes below are set aside (diagnosis, 3)."""

REOPENS_WITHIN: Final = timedelta(days=60)
"""The same again within so many days is the same case (diagnosis, 6)."""

USUAL_HERE: Final = 1.5
"""What a cause counts that was confirmed on this machine before (diagnosis, 7)."""

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


ORDERS: Final[dict[str, Order]] = {"one": "cheapest", "other": "most telling", "usual": "worth"}
"""How somebody goes through looks, by the side taken."""

FIRST_LOOKS: Final = {"one": "k_notch", "other": "k_ripple"}
"""The look that stands first, for gear first and for heat first."""

OF_GEAR: Final = frozenset({"gear_slip", "gear_jam", "motor_weak"})
OF_HEAT: Final = frozenset({"too_cold", "sensor_high", "heater_limit", "heat_control", "sensor_loose"})
BOTH_FROM: Final = 0.05
"""Odds at which gear and heat are both worth a look (E)."""


def complaint_out(key: str) -> ComplaintOut:
    text, everyday = causes.COMPLAINTS[key]
    return ComplaintOut(key=key, text=text, words=everyday)


def _answers(row: Fault) -> list[FaultAnswer]:
    return list(
        FaultAnswer.select(FaultAnswer, Person)
        .join(Person)
        .switch(FaultAnswer)
        .join(FaultAnswerOff, JOIN.LEFT_OUTER, on=(FaultAnswerOff.answer == FaultAnswer.id))
        .where(FaultAnswer.fault == row.id, FaultAnswerOff.answer.is_null())
        .order_by(FaultAnswer.id)
    )


def _case(row: Fault, answers: Sequence[FaultAnswer], facts: Sequence[Fact], again: FaultEnd | None) -> Case:
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
        remedies={one.key: _result(one, again) for one in answers if one.kind == "remedy"},
        unable=sorted({one.key for one in answers if one.kind == "unable"}),
        unsure=[key for key, one in found.items() if one.unsure],
        usual_here={one.cause: USUAL_HERE for one in confirmed if one.cause != OTHER},
    )


def _result(one: FaultAnswer, again: FaultEnd | None) -> Result:
    """How a remedy went; what was gone and came again helped at most for a while."""
    if one.answer == "gone" and again is not None and one.at < again.at:
        return "better"
    return cast("Result", one.answer)


def show_fault(work: Work, fault_id: int) -> FaultSheetOut:
    """A case as it stands."""
    row = find(Fault, fault_id, "case")
    answers, again, end = _answers(row), opened_again(row), ended(row)
    seen = seen_on(row)
    facts = facts_of(work, row, seen, again or row)
    case = _case(row, answers, facts, again)
    sheet = diagnose(case)
    # What the last answer moved is shown beside it.
    before = diagnose(_case(row, answers[:-1], facts, again)) if answers else None
    # What was stopped before it came again has to be stopped once more.
    done = {one.key for one in answers if one.kind == "stopped" and (again is None or one.at >= again.at)}
    remedy = None if sheet.remedy is None else _remedy(sheet.remedy)
    sides = sides_of(work.person_id)
    schools = ["first_look"]
    if _is_between(sheet):
        schools.append("gear_or_heat")
    # A school says where to look first; it does not change what is likely.
    looks = in_order(sheet.checks, ORDERS[sides.get("first_look", "usual")])
    if "gear_or_heat" in schools:
        looks.sort(key=lambda one: one.check != FIRST_LOOKS.get(sides.get("gear_or_heat", "usual")))
    checks = [_check(one.check, case, one.minutes) for one in looks[:6]]
    setup = setup_out(get_setup(row.setup_id))
    return FaultSheetOut(
        id=row.id,
        version=len(answers),
        setup=setup,
        complaint=causes.COMPLAINTS[row.complaint][0],
        complaint_key=row.complaint,
        where=stopped_said(seen.layer, seen.height_mm),
        note=row.note,
        print_id=seen.print_id,
        at=row.at,
        person=find(Person, row.person_id, "person").name,
        closed=end is not None,
        cause="" if end is None else causes.CAUSES[end.cause],
        verdict=sheet.verdict,
        said=_said(row, answers, sheet, checks[0].minutes if checks else 0.0, closed=end is not None),
        stop=[
            StopOut(key=key, title=causes.STOP[key][0], steps=list(causes.STOP[key][1]))
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
        also=[complaint_out(key) for key in causes.COMPLAINTS if key != row.complaint and key not in case.also],
        done_before=_done_before(case),
        found=found_of(answers, setup.machine),
        can_find=[AnswerOut(key=key, text=one.text) for key, one in causes.FOUND.items()],
        photos=ALBUM.shown([row.id]).get(row.id, []),
        schools=schools_out(tuple(schools), sides),
        reopened=_again(row, again),
    )


def _is_between(sheet: Sheet) -> bool:
    """Whether gear and heat are both likely enough that schools differ on which comes first."""
    shares = dict(sheet.causes)
    return all(sum(shares[one] for one in some) >= BOTH_FROM for some in (OF_GEAR, OF_HEAT))


def _done_before(case: Case) -> list[AnswerOut]:
    """What somebody may have tried before the case was opened: what mends a cause that shows like this."""
    base = knowledge()
    near = set(base.complaints[case.complaint])
    return [
        AnswerOut(key=key, text=causes.REMEDIES[key][0])
        for key, row in base.remedies.items()
        if key not in case.remedies and not near.isdisjoint(row.cures)
    ]


def _said(row: Fault, answers: Sequence[FaultAnswer], sheet: Sheet, minutes: float, *, closed: bool) -> str:
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
        return words.try_verdict(causes.REMEDIES[sheet.remedy][0], sheet.p_remedy or 0.0, unsure=sheet.unsure)
    first, second = [causes.CAUSES[cause] for cause, _ in sheet.causes if cause != OTHER][:2]
    return words.check_verdict(first, second, minutes)


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
                name=causes.CAUSES[cause],
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
        do=looks.CHECKS[key],
        minutes=minutes,
        state=words.STATES[row.state],
        needs=list(row.needs),
        cautions=[causes.CAUTIONS[one] for one in row.cautions],
        asks=[
            AskedOut(
                key=one,
                question=looks.QUESTIONS[one],
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
    row, (do, seen) = knowledge().remedies[key], causes.REMEDIES[key]
    change = MENDS.get(key)
    cautions = [causes.CAUTIONS["idle"], causes.CAUTIONS["maker"]] if row.harm >= MAKER_FROM else []
    if key in {"m_wire", "m_sensor", "m_driver", "m_motor"}:
        cautions.append(causes.CAUTIONS["mains"])
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
        FactOut(
            key=one.finding,
            text=one.text,
            to=one.to,
            counts=one.finding not in struck,
            not_so_id=struck.get(one.finding),
        )
        for one in facts
    ]


def _answered(one: FaultAnswer) -> AnsweredOut:
    text = {
        "finding": lambda: (
            f"{looks.QUESTIONS[one.key]} {words.answer_text(one.answer)}" + (" (not sure)" if one.unsure else "")
        ),
        "also": lambda: f"{causes.COMPLAINTS[one.key][0]}: {one.answer}",
        "unable": lambda: f"{looks.CHECKS[one.key]}: cannot be done here",
        "remedy": lambda: f"{causes.REMEDIES[one.key][0]}: {words.RESULTS[one.answer]}",
        "stopped": lambda: f"{causes.STOP[one.key][0]}: done",
        "found": lambda: words.found_said(one.key, mended=one.answer != ""),
    }[one.kind]()
    return AnsweredOut(id=one.id, kind=cast("AnswerKind", one.kind), text=text, person=one.person.name, at=one.at)


def _again(row: Fault, again: FaultEnd | None) -> str:
    """When it came again after it was gone or closed, or was closed on the machine with another setup; seen again since."""
    last, said = seen_again(row), _came(row, again)
    if last is not None and (again is None or again.id != last.id):
        said = f"{said} {words.seen_again_said(day(last.at), last.note)}".strip()
    return said


def _came(row: Fault, again: FaultEnd | None) -> str:
    before = FaultEnd.select(FaultEnd, Fault).join(Fault).where(FaultEnd.closed).order_by(FaultEnd.id.desc())
    if again is not None:
        closed = before.where(FaultEnd.fault == row.id, FaultEnd.id < again.id).first()
        if closed is None:
            return words.came_again_said(day(again.at), again.note)
        return words.reopened_said(day(closed.at), day(again.at), causes.CAUSES[closed.cause], again.note)
    other = before.where(
        Fault.machine == row.machine_id, Fault.complaint == row.complaint, Fault.id < row.id,
        FaultEnd.at >= row.at - REOPENS_WITHIN, FaultEnd.at <= row.at,
    ).first()  # fmt: skip
    return "" if other is None else words.closed_before_said(day(other.at), causes.CAUSES[other.cause])
