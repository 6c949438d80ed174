"""Attempts that are printing: what is to be changed on the way, and when."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Final

from peewee import JOIN

from ubrex.core.chain import KINDS
from ubrex.core.quantity import decimal_text
from ubrex.server.attempts._checked import read_file
from ubrex.server.attempts._settings import layers_of
from ubrex.server.attempts._trials import Tried, read_trials
from ubrex.server.desk import Clash, TypedFields, Work, find
from ubrex.server.profile import Tuned, tuned_of
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import Begun, BegunDone, BegunEnd, CheckedFile
from ubrex.server.views.attempts import BegunIn, BegunOut, BegunsOut, BegunTrialOut, TrialIn
from ubrex.server.words import attempts as words
from ubrex.server.words import wear
from ubrex.server.workshop import get_setup, places_of, setup_out, usable_setup

LONGEST_MIN: Final = 60 * 24 * 14

_END: Final = Insert(BegunEnd)
_DONE: Final = Insert(BegunDone)


def begin(work: Work, setup_id: int, form: BegunIn) -> BegunsOut:
    """Write down that an attempt is printing now, with what is to be changed on the way."""
    person, tuned, fields = work.person(), tuned_of(usable_setup(setup_id)), TypedFields()
    what = fields.text("what", form.what, what=wear.WHAT)
    tried = read_trials(tuned, form.trials, fields)
    found = read_file(tuned, form.file_id, tried, fields)
    minutes = None
    if form.remind_in_min.strip():
        minutes = fields.number(
            "remind_in_min", form.remind_in_min, what=words.REMIND, low=1, high=LONGEST_MIN, why=words.REMIND_WHY
        )
    fields.refuse_if_any()
    Begun.create(
        setup=setup_id, what=what, revision=form.revision.strip(), file=found.file,
        trials=[one.model_dump(mode="json") for one in form.trials],
        remind_at=_remind_at(work.now, minutes, tried, found.file), person=person, at=work.now,
    )  # fmt: skip
    return list_begun(work)


def _on_the_way(tried: Sequence[Tried]) -> Tried | None:
    """The first change on the way, from below."""
    changes = [one for one in tried if one.from_mm is not None]
    return min(changes, key=lambda one: one.from_mm or 0.0, default=None)


def _remind_at(
    now: datetime, minutes: float | None, tried: Sequence[Tried], file: CheckedFile | None
) -> datetime | None:
    """When to change something: as it was typed, else by the time of the file and the share of its height below."""
    change = _on_the_way(tried)
    if minutes is not None:
        return now + timedelta(minutes=minutes)
    if change is None or file is None or file.height_mm <= 0:
        return None
    return now + timedelta(seconds=file.seconds * min(1.0, (change.from_mm or 0.0) / file.height_mm))


def list_begun(work: Work) -> BegunsOut:
    """All attempts that are printing, on all setups; what is due first."""
    return BegunsOut(begun=[_shown(work, row) for row in _standing()])


def begun_on(work: Work, setup_id: int) -> BegunOut | None:
    """The newest attempt that is printing on a setup."""
    rows = [row for row in _standing() if row.setup_id == setup_id]
    return _shown(work, rows[-1]) if rows else None


def _standing() -> list[Begun]:
    rows = (
        Begun.select(Begun, BegunDone.begun)
        .join(BegunDone, JOIN.LEFT_OUTER, on=(BegunDone.begun == Begun.id), attr="done")
        .where(Begun.id.not_in(BegunEnd.select(BegunEnd.begun)))
        .order_by(Begun.id)
    )
    return list(rows)


def _shown(work: Work, row: Begun) -> BegunOut:
    tuned = tuned_of(get_setup(row.setup_id))
    trials = [TrialIn.model_validate(one) for one in row.trials]
    done = getattr(row, "done", None)
    is_done = done is not None and done.begun_id is not None
    change = _on_the_way(read_trials(tuned, trials, TypedFields()))
    return BegunOut(
        id=row.id,
        setup_id=row.setup_id,
        machine=setup_out(tuned.setup).machine,
        what=row.what,
        revision=row.revision,
        file_id=row.file_id,
        trials=[BegunTrialOut.model_validate(one) for one in row.trials],
        started_at=row.at,
        change="" if change is None or is_done else _change_said(tuned, change),
        remind_at=None if is_done else row.remind_at,
        due=not is_done and row.remind_at is not None and row.remind_at <= work.now,
    )


def _change_said(tuned: Tuned, change: Tried) -> str:
    text = decimal_text(change.number, places_of(change.kind, tuned.setup.toolhead.machine))
    layers, from_mm = layers_of(tuned), change.from_mm or 0.0
    layer = None if layers is None else layers.reaching(from_mm)
    return words.change_on_the_way_said(KINDS[change.kind].name, text, change.unit.value, from_mm, layer)


def change_done(work: Work, begun_id: int) -> BegunsOut:
    """What was to be changed on the way was changed."""
    row = find(Begun, begun_id, "begun attempt")
    _DONE.add_unless_there(begun=row, person=work.person(), at=work.now)
    return list_begun(work)


def end_begun(work: Work, begun_id: int) -> BegunsOut:
    """It prints no more, or was never meant."""
    row = find(Begun, begun_id, "begun attempt")
    if not _END.add_unless_there(begun=row, person=work.person(), at=work.now):
        raise Clash(words.BEGUN_ENDED, code="ended_already")
    return list_begun(work)


def started(work: Work, begun_id: int | None, setup_id: int, happened_at: datetime) -> datetime | None:
    """When an attempt began that is written down now, and prints no more; None where nobody said that it printed."""
    row: Begun | None = None if begun_id is None else Begun.get_or_none(Begun.id == begun_id, Begun.setup == setup_id)
    if row is None:
        return None
    _END.add_unless_there(begun=row, person=work.person(), at=work.now)
    began: datetime = row.at
    return min(began, happened_at)
