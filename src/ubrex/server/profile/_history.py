"""History of a setup: its revisions, what differs between two of them, and going back."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Final

from ubrex.core.calibrate import LeastChange, least_change
from ubrex.core.chain import KINDS, SHOWN_HERE, Kind, Origin, Purpose, SetAt, Standing
from ubrex.core.quantity import Unit, compare, decimal_text
from ubrex.server.desk import Clash, Missing, Outdated, Work
from ubrex.server.profile._changes import changes_out
from ubrex.server.profile._copies import compared_lines, judged_in, refuse_unasked
from ubrex.server.profile._evidence import evidence_of, row_of, row_out, select_values, value_out
from ubrex.server.profile._exports import about_said, portable
from ubrex.server.profile._strips import value_strip
from ubrex.server.profile._tuned import tuned_of
from ubrex.server.profile._values import NewValue, lock_values, write_values
from ubrex.server.store.facts import ValueRow, fetch_changes
from ubrex.server.store.records import (
    Fault,
    FaultAnswer,
    FaultAnswerOff,
    FaultEnd,
    Machine,
    Person,
    Print,
    Revision,
    RevisionValue,
    Setup,
    TunedValue,
)
from ubrex.server.views.profiles import (
    BesideOut,
    BesideRowOut,
    DifferenceOut,
    EventOut,
    HistoryOut,
    ImportLineOut,
    NoteIn,
    RestoreIn,
    RevisionOut,
)
from ubrex.server.views.values import StripOut, ValueOut
from ubrex.server.words import faults
from ubrex.server.words import history as words
from ubrex.server.words.history import SAME_NUMBER, change_real, change_visible, revision_cause, then_at_machine
from ubrex.server.words.numbers import NBSP, percent, plain, signed, unit_text
from ubrex.server.workshop import get_setup, places_of, setup_out, setup_title, usable_setup

MOST_EVENTS: Final = 60
"""Changes shown below the line at most."""

MOST_REVISIONS: Final = 200
"""Revisions a timeline is asked for at most."""


def show_history(work: Work, setup_id: int, left: int | None, right: int | None) -> HistoryOut:
    """Revisions of a setup and the difference between two: by default the newest and the one before."""
    setup = get_setup(setup_id)
    rows = list(_revisions(setup_id))
    numbers = [row.number for row in rows]
    right = right if right is not None else max(numbers, default=None)
    left = left if left is not None else max((n for n in numbers if right is not None and n < right), default=right)
    for number in (left, right):
        if number is not None and number not in numbers:
            raise Missing(words.no_revision_said(number), number=number)
    machine = setup.toolhead.machine
    newest = max(numbers, default=0)
    outcomes = _outcomes(
        rows, Print.select(Print.happened_at, Print.outcome).where(Print.setup == setup_id, Print.standing())
    )
    going_back = [] if left is None or left == newest else _going_back(setup, left)
    return HistoryOut(
        setup=setup_out(setup),
        revisions=[_revision(row, newest, outcomes.get(row.number, [])) for row in rows],
        events=_events(setup),
        left=left,
        right=right,
        differences=[] if left is None or right is None else _differences(work, setup, left, right),
        go_back_to=left if left is not None and left != newest else None,
        go_back=going_back,
        then=_then(machine, going_back),
        about=about_said(setup),
    )


def _events(setup: Setup) -> list[EventOut]:
    """What was done to a setup, and what was wrong with its machine and how it was mended, the newest first."""
    done = [
        EventOut(
            key=f"change {row.id}", name=row.name, note=row.note, happened_at=row.happened_at, withdrawn=row.withdrawn,
            fault_id=None,
        )
        for row in changes_out(fetch_changes(setup, MOST_EVENTS))
    ]  # fmt: skip
    ends = (
        FaultEnd.select(FaultEnd, Fault)
        .join(Fault)
        .where(Fault.machine == setup.toolhead.machine_id, FaultEnd.closed)
        .order_by(FaultEnd.id.desc())
        .limit(MOST_EVENTS)
    )
    cures = {
        row.fault_id: row.key
        for row in FaultAnswer.select()
        .where(
            FaultAnswer.fault.in_([end.fault_id for end in ends]),
            FaultAnswer.kind == "remedy",
            FaultAnswer.answer == "gone",
            FaultAnswer.id.not_in(FaultAnswerOff.select(FaultAnswerOff.answer)),
        )
        .order_by(FaultAnswer.id)
    }
    mended = [
        EventOut(
            key=f"case {end.id}",
            name=faults.mended_said(end.cause),
            note=faults.cure_note(cures.get(end.fault_id), end.note),
            happened_at=end.at,
            withdrawn=False,
            fault_id=end.fault_id,
        )
        for end in ends
    ]
    return sorted([*done, *mended], key=lambda one: one.happened_at, reverse=True)


def _then(machine: Machine, lines: Sequence[ImportLineOut]) -> str:
    """What is left to do at the machine once the lines are written; "" for nothing."""
    kinds = [line.kind for line in lines if line.action != "leave" and KINDS[line.kind].set_at is SetAt.MACHINE]
    names = [KINDS[kind].name for kind in kinds]
    return then_at_machine(machine.name, names) if names else ""


def _going_back(setup: Setup, number: int) -> list[ImportLineOut]:
    """What going back to a revision would write on a setup, and what may not be set there any more."""
    then = _values_of(_revision_of(setup.id, number))
    given = [portable(kind, row_of(value)) for kind, value in then.items()]
    # What was set before is no slip of the fingers, and a reason that was given then still stands.
    judged = judged_in(setup, given, (), slips=False)
    reasoned = {kind for kind, value in then.items() if value.note}
    lines = compared_lines(setup, given, judged)
    return [
        line.model_copy(update={"asks": ""}) if line.kind in reasoned else line
        for line in lines
        if line.action != "same"
    ]


def show_beside(work: Work, setup_id: int, other_id: int) -> BesideOut:
    """The values of two setups side by side: the same spool on two machines, or two spools on one."""
    left, right = (tuned_of(get_setup(key)) for key in (setup_id, other_id))
    rows = []
    for kind in Kind:
        pair = [found.values.get(kind) for found in (left, right)]
        if pair == [None, None]:
            continue
        rows.append(
            BesideRowOut(
                kind=kind,
                name=KINDS[kind].name,
                left=None if pair[0] is None else row_out(pair[0], left.setup.toolhead.machine, work),
                right=None if pair[1] is None else row_out(pair[1], right.setup.toolhead.machine, work),
                said=_apart(kind, *pair),
            )
        )
    return BesideOut(left=setup_title(left.setup), right=setup_title(right.setup), rows=rows)


def _apart(kind: Kind, left: ValueRow | None, right: ValueRow | None) -> str:
    """How far two values lie apart, and whether that is real."""
    if left is None or right is None:
        return "only here" if right is None else "only there"
    if left.id == right.id:
        return words.BOTH
    if left.unit != right.unit:
        return words.OTHER_FORM
    found = compare(left.number, left.half_width_95, right.number, right.half_width_95)
    if found.change == 0:
        return SAME_NUMBER
    said = f"{signed(found.change, KINDS[kind].places)} there"
    return said if found.times is None else f"{said}. {change_real(found.times)}"


def edit_note(work: Work, setup_id: int, number: int, version: int, form: NoteIn) -> RevisionOut:
    """Change the note of a revision; its values never change."""
    work.person()
    revision = _revision_of(setup_id, number)
    if revision.version != version:
        raise Outdated(words.NOTE_CHANGED)
    Revision.update(note=form.note.strip(), version=version + 1).where(
        Revision.id == revision.id, Revision.version == version
    ).execute()
    newest = max(row.number for row in _revisions(setup_id))
    return _revision(_revision_of(setup_id, number), newest, [])


def restore_revision(work: Work, setup_id: int, newest_seen: int, form: RestoreIn) -> HistoryOut:
    """Go back to an earlier revision: what differs from now, and may still be set, is written anew, as the newest."""
    setup = usable_setup(setup_id)
    lock_values()
    newest = max((row.number for row in _revisions(setup_id)), default=0)
    if newest != newest_seen:
        raise Outdated(words.written_since_said(newest))
    then = _values_of(_revision_of(setup_id, form.number))
    lines = _going_back(setup, form.number)
    taken = {line.kind for line in lines if line.action != "leave"}
    new = [
        NewValue(
            kind=kind,
            number=source.number,
            unit=Unit(source.unit),
            half_width_95=source.half_width_95,
            origin=Origin.RESTORED if Origin(source.origin) in SHOWN_HERE else Origin(source.origin),
            run_id=source.run_id,
            restored_from_id=source.id if Origin(source.origin) in SHOWN_HERE else None,
            beside=source.beside,
            note=source.note or form.note.strip(),
        )
        for kind, source in then.items()
        if kind in taken
    ]
    if not new and lines:
        raise Clash(words.nothing_left_said(form.number, lines[0].why), code="left_out")
    if not new:
        raise Clash(words.nothing_differs_said(form.number), code="same")
    if not form.note.strip():
        refuse_unasked(lines)
    write_values(work, setup, new, cause="restored", note=form.note.strip(), from_number=form.number, stay=then)
    return show_history(work, setup_id, None, None)


def _revisions(setup_id: int) -> Any:
    return (
        Revision.select(Revision, Person)
        .join(Person)
        .where(Revision.setup == setup_id)
        .order_by(Revision.number.desc())
        .limit(MOST_REVISIONS)
    )


def _revision_of(setup_id: int, number: int) -> Revision:
    revision: Revision | None = _revisions(setup_id).where(Revision.number == number).first()
    if revision is None:
        raise Missing(words.no_revision_said(number), number=number)
    return revision


def _values_of(revision: Revision) -> dict[Kind, TunedValue]:
    rows = (
        select_values()
        .join(RevisionValue, on=(RevisionValue.value == TunedValue.id))
        .where(RevisionValue.revision == revision.id)
    )
    found = {Kind(row.kind): row for row in rows}
    return {kind: found[kind] for kind in Kind if kind in found}


def _outcomes(rows: Sequence[Revision], prints: Iterable[Print]) -> dict[int, list[str]]:
    """How real prints came out, by the revision they were printed under; ``rows`` are newest first."""
    found: dict[int, list[str]] = defaultdict(list)
    for one in prints:
        under = next((row.number for row in rows if row.at <= one.happened_at), None)
        if under is not None:
            found[under].append(one.outcome)
    return found


def _revision(row: Revision, newest: int, outcomes: Sequence[str]) -> RevisionOut:
    return RevisionOut(
        number=row.number,
        good=outcomes.count("good"),
        bad=len(outcomes) - outcomes.count("good"),
        version=row.version,
        cause=revision_cause(row.cause, row.from_number),
        person=row.person.name,
        at=row.at,
        note=row.note,
        newest=row.number == newest,
    )


def _differences(work: Work, setup: Setup, left: int, right: int) -> list[DifferenceOut]:
    """Every value of either revision; what changed comes first, e-steps before all."""
    before, after = (_values_of(_revision_of(setup.id, number)) for number in (left, right))
    rows = [
        _difference(work, setup, kind, before.get(kind), after.get(kind))
        for kind in sorted(before.keys() | after.keys(), key=[Kind.E_STEPS, *Kind].index)
    ]
    return sorted(rows, key=lambda row: row.change == "" and row.left is not None and row.right is not None)


def _difference(
    work: Work, setup: Setup, kind: Kind, before: TunedValue | None, after: TunedValue | None
) -> DifferenceOut:
    machine = setup.toolhead.machine
    shown_before, shown_after = (
        None if value is None else value_out(evidence_of(value, machine), machine, work) for value in (before, after)
    )
    made = _Made(kind, shown_before, shown_after)
    if before is None or after is None or shown_before is None or shown_after is None:
        return made.row(change="new" if before is None else "not set")
    if before.unit != after.unit:
        return made.row(real_said=words.CANNOT_BE_COMPARED)
    if before.id == after.id:
        return made.row()
    found = compare(before.number, before.half_width_95, after.number, after.half_width_95)
    change, times = found.change, found.times
    places = places_of(kind, machine)
    least = least_change(kind, before.number, Purpose(setup.purpose))
    visible = None if least is None else abs(change) > least.amount
    return made.row(
        strip=value_strip(shown_after, places, Purpose(setup.purpose), Standing.FRESH, before=shown_before),
        change=signed(change, places),
        real=found.real,
        real_said=change_real(times),
        visible=visible,
        visible_said="" if least is None else _visible_said(change, before, places, least),
    )


def _visible_said(change: float, before: TunedValue, places: int, least: LeastChange) -> str:
    """Would one see it? In shares of the value before where the rule has one, else in its unit."""
    visible, unit = abs(change) > least.amount, unit_text(before.unit)
    if least.share_pct is None:
        moved, shows = (f"{decimal_text(size, places)}{NBSP}{unit}" for size in (abs(change), least.amount))
    else:
        moved = percent(100 * abs(change) / before.number, 1 if least.share_pct >= 1 else 2)
        shows = f"{plain(least.share_pct)}{NBSP}%"
    return change_visible(moved, shows, visible=visible)


@dataclass(frozen=True, slots=True)
class _Made:
    """One value in two revisions, to be told apart."""

    kind: Kind
    left: ValueOut | None
    right: ValueOut | None

    def row(
        self,
        *,
        strip: StripOut | None = None,
        change: str = "",
        real: bool | None = None,
        real_said: str = "",
        visible: bool | None = None,
        visible_said: str = "",
    ) -> DifferenceOut:
        """The row as a screen shows it."""
        return DifferenceOut(
            kind=self.kind,
            name=KINDS[self.kind].name,
            left=self.left,
            right=self.right,
            strip=strip,
            change=change,
            real=real,
            real_sentence=real_said,
            visible=visible,
            visible_sentence=visible_said,
        )
