"""History of a setup: its revisions, what differs between two of them, and going back."""

from __future__ import annotations

import math
from typing import Any, Final

from ubrex.core.calibrate import TOLERANCE_PCT
from ubrex.core.chain import Origin, Standing, Step
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.services import setups, values
from ubrex.server.services.errors import Clash, Missing, Outdated
from ubrex.server.services.views import (
    DifferenceOut,
    HistoryOut,
    NoteIn,
    RestoreIn,
    RevisionOut,
    StripOut,
    ValueOut,
)
from ubrex.server.services.work import Work
from ubrex.server.store.records import Machine, Person, Revision, RevisionValue, TunedValue
from ubrex.server.words.history import change_real, change_visible, revision_cause
from ubrex.server.words.numbers import plus_minus, signed
from ubrex.server.words.standing import STEP_NAMES

MOST_REVISIONS: Final = 200
"""Revisions a timeline is asked for at most."""


def show_history(work: Work, setup_id: int, left: int | None, right: int | None) -> HistoryOut:
    """Revisions of a setup and the difference between two: by default the newest and the one before."""
    setup = setups.get_setup(setup_id)
    rows = list(_revisions(setup_id))
    numbers = [row.number for row in rows]
    right = right if right is not None else max(numbers, default=None)
    left = left if left is not None else max((n for n in numbers if right is not None and n < right), default=right)
    for number in (left, right):
        if number is not None and number not in numbers:
            raise Missing(f"This setup has no revision {number}.", number=number)
    machine = setup.toolhead.machine
    newest = max(numbers, default=0)
    return HistoryOut(
        setup=setups.view(setup),
        revisions=[_revision(row, newest) for row in rows],
        left=left,
        right=right,
        differences=[] if left is None or right is None else [_difference(work, setup_id, machine, left, right)],
        go_back_to=left if left is not None and left != newest else None,
    )


def edit_note(work: Work, setup_id: int, number: int, version: int, form: NoteIn) -> RevisionOut:
    """Change the note of a revision; its values never change."""
    work.person()
    revision = _revision_of(setup_id, number)
    if revision.version != version:
        raise Outdated("Somebody else changed this note meanwhile. Yours is still in the field; look at theirs first.")
    Revision.update(note=form.note.strip(), version=version + 1).where(
        Revision.id == revision.id, Revision.version == version
    ).execute()
    newest = max(row.number for row in _revisions(setup_id))
    return _revision(_revision_of(setup_id, number), newest)


def restore(work: Work, setup_id: int, newest_seen: int, form: RestoreIn) -> HistoryOut:
    """Go back to an earlier revision: its value is written anew, as the newest."""
    setup = setups.usable_setup(setup_id)
    values.lock_toolhead(setup.toolhead_id)
    newest = max((row.number for row in _revisions(setup_id)), default=0)
    if newest != newest_seen:
        raise Outdated(f"Revision {newest} was written since this was shown. Compare with it before you go back.")
    source = _value_of(_revision_of(setup_id, form.number))
    current = values.newest_esteps(setup.toolhead_id)
    if current is not None and (current.number, current.unit) == (source.number, source.unit):
        raise Clash(
            f"Revision {form.number} has the value that is set now: there is nothing to go back to.", code="same"
        )
    value = values.write_value(
        work,
        toolhead_id=setup.toolhead_id,
        number=source.number,
        unit=Unit(source.unit),
        half_width_95=source.half_width_95,
        origin=Origin.RESTORED,
        run_id=source.run_id,
        decision_id=None,
        restored_from_id=source.id,
    )
    values.write_revisions(
        work, value, cause="restored", note=form.note.strip(), from_setup_id=setup_id, from_number=form.number
    )
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
        raise Missing(f"This setup has no revision {number}.", number=number)
    return revision


def _value_of(revision: Revision) -> TunedValue:
    value: TunedValue = (
        values.select_values()
        .join(RevisionValue, on=(RevisionValue.value == TunedValue.id))
        .where(RevisionValue.revision == revision.id, TunedValue.kind == Step.E_STEPS.value)
        .get()
    )
    return value


def _revision(row: Revision, newest: int) -> RevisionOut:
    return RevisionOut(
        number=row.number,
        version=row.version,
        cause=revision_cause(row.cause, row.from_number),
        person=row.person.name,
        at=row.at,
        note=row.note,
        newest=row.number == newest,
    )


def _difference(work: Work, setup_id: int, machine: Machine, left: int, right: int) -> DifferenceOut:
    before, after = (_value_of(_revision_of(setup_id, number)) for number in (left, right))
    shown_before, shown_after = (values.view(values.evidence(v, machine), machine, work) for v in (before, after))
    if before.unit != after.unit:
        said = "The machine keeps its setting in another form since: the two cannot be compared."
        return _row(shown_before, shown_after, None, "", real=None, real_said=said, visible=None, visible_said="")
    change = after.number - before.number
    relative_pct = 100 * abs(change) / before.number
    spread = math.hypot(before.half_width_95 or 0, after.half_width_95 or 0)
    measured = before.half_width_95 is not None and after.half_width_95 is not None
    times = abs(change) / spread if measured else None
    visible = relative_pct > TOLERANCE_PCT
    return _row(
        shown_before,
        shown_after,
        _strip(shown_before, shown_after, machine),
        signed(change, machine.setting_places),
        real=None if times is None else times > 1,
        real_said=change_real(times),
        visible=visible,
        visible_said=change_visible(relative_pct, visible=visible),
    )


def _row(
    left: ValueOut,
    right: ValueOut,
    strip: StripOut | None,
    change: str,
    *,
    real: bool | None,
    real_said: str,
    visible: bool | None,
    visible_said: str,
) -> DifferenceOut:
    return DifferenceOut(
        kind=Step.E_STEPS,
        name=STEP_NAMES[Step.E_STEPS],
        left=left,
        right=right,
        strip=strip,
        change=change,
        real=real,
        real_sentence=real_said,
        visible=visible,
        visible_sentence=visible_said,
    )


def _strip(left: ValueOut, right: ValueOut, machine: Machine) -> StripOut:
    """Both values on one scale; the band is what a print does not show, round the earlier one."""
    tolerance = left.number * TOLERANCE_PCT / 100
    said = f"{left.setting} {'' if left.half_width_95 is None else plus_minus(left.half_width_95)}"
    return StripOut(
        unit=left.unit,
        places=machine.setting_places,
        step=10**-machine.setting_places,
        low=left.number - tolerance,
        high=left.number + tolerance,
        before_mean=left.number,
        before_half_width=left.half_width_95,
        mean=right.number,
        half_width=right.half_width_95,
        standing=Standing.FRESH,
        sentence=f"Before {said}; now {decimal_text(right.number, machine.setting_places)}; the band is what a print hides.",
    )
