"""Attempts written down, listed and taken back."""

from __future__ import annotations

import re
from datetime import datetime, timedelta
from typing import Final, cast

from peewee import JOIN, fn

from ubrex.core.attempts import qualified
from ubrex.core.calibrate import BEST_RATING
from ubrex.core.chain import Change
from ubrex.core.judge import judge_print
from ubrex.core.materials import density_of
from ubrex.server.attempts._begun import begun_on, started
from ubrex.server.attempts._checked import offered_files, read_file
from ubrex.server.attempts._later import write_look
from ubrex.server.attempts._plans import next_planned, place_is_open
from ubrex.server.attempts._settings import layers_of
from ubrex.server.attempts._trials import open_trials, read_trials, settings_of, write_trials
from ubrex.server.desk import Clash, FieldProblem, TypedFields, Work, find
from ubrex.server.profile import Tuned, tuned_of
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import LoggedChange, Person, Print, PrintOff, Revision, Setup, Spool, Withdrawal
from ubrex.server.views.attempts import (
    AttemptFormOut,
    CountOut,
    LoggedOut,
    Outcome,
    PrintIn,
    PrintOut,
    PrintsOut,
)
from ubrex.server.views.towers import ScaleOut
from ubrex.server.words import attempts as said
from ubrex.server.words import wear as words
from ubrex.server.words.judgement import told_said
from ubrex.server.words.scales import SCALES, SIGNS
from ubrex.server.workshop import get_setup, setup_out, usable_setup

_ABRASIVE: Final = frozenset({"abrasive", "filled", "glitter"})
"""Flags of filaments that open a bore."""

MOST_PRINTS: Final = 200
"""Attempts that are listed at once."""

MOST_PARTS: Final = 40
"""Names of parts that are offered."""

CLOCKS_DIFFER: Final = timedelta(minutes=5)
"""A phone that is ahead by less has the wrong time, not an attempt in the future (E)."""

MOST_LAYERS, HIGHEST_MM = 20_000, 2000.0
MOST_COUNTED: Final = 1000.0

_PRINT: Final = Insert(Print)
_OFF: Final = Insert(PrintOff)


def log_print(work: Work, setup_id: int, form: PrintIn) -> LoggedOut:
    """Write down an attempt; counters and ageing follow."""
    person = work.person()
    setup = usable_setup(setup_id)
    tuned, fields = tuned_of(setup), TypedFields()
    stopped = form.outcome == "stopped"
    if not form.signs.keys() <= SIGNS.keys():
        fields.add(FieldProblem("signs", "no_such_sign", words.NO_SUCH_SIGN))
    # Whoever stops a print has other things to do than to name it.
    what = (
        form.what
        if stopped and form.what
        else fields.text("what", form.what or words.UNNAMED * stopped, what=words.WHAT)
    )
    hours, grams = (
        0.0 if not typed.strip() else fields.number(name, as_number(typed), what=told, low=low, high=high, why=why)
        for name, typed, as_number, told, low, high, why in (
            ("hours", form.hours, _hours, words.TIME, 0.01, 1000, words.HOURS_WHY),
            ("grams", form.grams, str, words.FILAMENT, 0.1, 20000, words.GRAMS_WHY),
        )
    )
    happened_at = form.happened_at or work.now
    # A phone's clock may run a little ahead: its now is ours.
    if work.now < happened_at <= work.now + CLOCKS_DIFFER:
        happened_at = work.now
    if happened_at > work.now:
        fields.add(FieldProblem("happened_at", "in_future", words.IN_FUTURE))
    # Grams that no hotend melts in that time, or more than the spool held, are a slip of the finger.
    if hours and grams and "grams" not in form.as_typed:
        full_g = None if setup.spool is None else setup.spool.full_g
        density = density_of(setup.filament.family, setup.filament.density_g_cm3)
        for one in judge_print(hours=hours, grams=grams, density_g_cm3=density, full_g=full_g):
            fields.add(FieldProblem("grams", one.code.value, words.print_asked_said(told_said(one)), confirmable=True))
    layer, height_mm = read_place(
        tuned, form.stopped_layer, form.stopped_mm, fields, what=said.STOPPED, at=("stopped_layer", "stopped_mm")
    )
    counts = _counts(form, fields)
    in_file = read_file(tuned, form.file_id, read_trials(tuned, form.trials, fields), fields)
    look = write_look(form.look_again, form.look_in_days, fields)
    if form.plan_id is not None and not place_is_open(form.plan_id, form.plan_place, what or ""):
        fields.add(FieldProblem("plan_place", "no_such_place", said.NO_SUCH_PLACE))
    fields.refuse_if_any()
    # The spool only where it was on then: which one a print of before was made of, nobody has said.
    row = _PRINT.add(
        setup=setup,
        machine=setup.toolhead.machine_id,
        nozzle=setup.nozzle_id,
        surface=setup.surface_id,
        spool=None if setup.spool_id is None or _spool_came_after(setup, happened_at) else setup.spool_id,
        abrasive=not _ABRASIVE.isdisjoint(setup.filament.flags),
        what=what,
        revision=form.revision.strip(),
        hours=hours,
        grams=grams,
        outcome=form.outcome,
        looks=form.looks,
        signs={key: form.signs[key] for key in SIGNS if key in form.signs},
        counts=counts,
        stopped_layer=layer,
        stopped_mm=height_mm,
        fit=form.fit,
        plan=form.plan_id,
        plan_place=form.plan_place if form.plan_id is not None else None,
        file=in_file.file,
        started_at=started(work, form.begun_id, setup_id, happened_at),
        note=form.note.strip(),
        happened_at=happened_at,
        person=person,
        logged_at=work.now,
    )
    write_trials(work, row, in_file.tried, in_file.back)
    if look is not None:
        look(work, row, happened_at)
    return LoggedOut(id=row.id)


def read_place(
    tuned: Tuned, layer: str, height: str, fields: TypedFields, *, what: str, at: tuple[str, str]
) -> tuple[int | None, float | None]:
    """A place on a part as it was typed, by layer or height [mm]: each by the other, where layers are set.

    ``at``: the fields of the two.
    """
    read = height_mm = None
    if layer.strip():
        read = fields.number(at[0], layer, what=what, low=1, high=MOST_LAYERS, why=said.LAYER_WHY)
    if height.strip():
        height_mm = fields.number(at[1], height, what=what, low=0.05, high=HIGHEST_MM, why=said.HEIGHT_WHY)
    return both_of(tuned, None if read is None else round(read), height_mm)


def both_of(tuned: Tuned, layer: int | None, height_mm: float | None) -> tuple[int | None, float | None]:
    """A layer and its height [mm] each turned into the other, by the layers that are set; None where those are not known."""
    layers = layers_of(tuned)
    if layers is None or (layer is None) == (height_mm is None):
        return layer, height_mm
    if layer is not None:
        return layer, round(layers.top_mm(layer), 3)
    return layers.nearest(height_mm or 0.0), height_mm


def _counts(form: PrintIn, fields: TypedFields) -> dict[str, float]:
    found = {}
    for key, typed in form.counts.items():
        if key not in said.COUNTS:
            fields.add(FieldProblem("counts", "no_such_count", said.NO_SUCH_COUNT))
        elif typed.strip():
            name = said.COUNTS[key][0]
            number = fields.number(f"counts.{key}", typed, what=name, low=0, high=MOST_COUNTED, why=said.SCALE_WHY)
            if number is not None:
                found[key] = number
    return found


_HOURS: Final = re.compile(r"\s*(\d+)\s*(?:h|:)\s*([0-5]?\d)\s*(?:m|min|')?\s*|\s*()(\d+)\s*min\s*", re.I)


def _hours(typed: str) -> str:
    """A time as clocks and displays show it, in hours: 3:12, 3h12, 45 min; anything else as it was typed."""
    found = _HOURS.fullmatch(typed)
    if found is None:
        return typed
    hours, minutes = found[1] or found[3] or "0", found[2] or found[4]
    return f"{int(hours) + int(minutes) / 60:.4f}"


def show_attempt_form(work: Work, setup_id: int) -> AttemptFormOut:
    """What an attempt is written down with: the last part of the setup first, and what is still set for a trial."""
    setup = get_setup(setup_id)
    tuned = tuned_of(setup)
    newest = fn.MAX(Print.happened_at)
    rows = Print.select(Print.what, newest).where(Print.standing()).group_by(Print.what).order_by(newest.desc())
    last = newest_print(setup_id)
    return AttemptFormOut(
        setup=setup_out(setup),
        signs=[
            ScaleOut(
                key=key, name=row.name, look=look, counts="", words=list(row.words), sentences=list(row.sentences),
                most=BEST_RATING,
            )
            for key, row, look in ((key, SCALES[key], look) for key, look in SIGNS.items())
        ],
        counts=[CountOut(key=key, name=name, unit_text=unit) for key, (name, unit) in said.COUNTS.items()],
        parts=[row.what for row in rows.limit(MOST_PARTS)],
        what="" if last is None else last.what,
        revision="" if last is None else last.revision,
        settings=settings_of(tuned),
        trials=open_trials(tuned),
        planned=None if last is None else next_planned(tuned, last.what),
        files=offered_files(tuned, None if last is None else last.happened_at),
        begun=begun_on(work, setup_id),
    )  # fmt: skip


def newest_print(setup_id: int) -> Print | None:
    """The last attempt on a setup."""
    found: Print | None = (
        Print.select()
        .where(Print.setup == setup_id, Print.standing())
        .order_by(Print.happened_at.desc(), Print.id.desc())
        .first()
    )
    return found


def list_prints(_work: Work, setup_id: int) -> PrintsOut:
    """Attempts on a setup, the newest first, with those that were taken back."""
    setup = get_setup(setup_id)
    revision = Revision.select(fn.MAX(Revision.number)).where(
        Revision.setup == Print.setup, Revision.at <= Print.happened_at
    )
    rows = (
        Print.select(Print, Person.name, Spool.name, PrintOff.print, revision.alias("under"))
        .join(Person, on=(Print.person == Person.id))
        .switch(Print)
        .join(Spool, JOIN.LEFT_OUTER)
        .switch(Print)
        .join(PrintOff, JOIN.LEFT_OUTER, on=(PrintOff.print == Print.id), attr="off")
        .where(Print.setup == setup_id)
        .order_by(Print.happened_at.desc(), Print.id.desc())
        .limit(MOST_PRINTS)
    )
    return PrintsOut(setup=setup_out(setup), qualified=_qualified(setup_id), prints=[_print(row) for row in rows])


def _qualified(setup_id: int) -> str:
    """How often it may still fail, by the prints since something was set last; stopped ones say nothing of that."""
    last = Revision.select().where(Revision.setup == setup_id).order_by(Revision.number.desc()).first()
    if last is None:
        return ""
    prints = Print.select(Print.outcome).where(
        Print.setup == setup_id, Print.standing(), Print.happened_at >= last.at, Print.outcome != "stopped"
    )
    outcomes = [row.outcome for row in prints]
    found = qualified(len(outcomes), len(outcomes) - outcomes.count("good"))
    return words.qualified_said(found, len(outcomes), len(outcomes) - outcomes.count("good"), last.number)


def _print(row: Print) -> PrintOut:
    off = getattr(row, "off", None)
    return PrintOut(
        id=row.id,
        what=f"{row.what}, {row.revision}" if row.revision else row.what,
        outcome=cast("Outcome", row.outcome),
        said=out_said(row),
        signs=signs_said(row),
        took=words.took_said(row.hours, row.grams),
        note=row.note,
        spool="" if row.spool is None else row.spool.name,
        revision=getattr(row, "under", None),
        person=row.person.name,
        happened_at=row.happened_at,
        withdrawn=off is not None and off.print_id is not None,
    )


def out_said(row: Print) -> str:
    """How an attempt came out, where it was stopped, how it fits."""
    came = words.came_out_said(row.outcome, row.looks)
    where = said.stopped_said(row.stopped_layer, row.stopped_mm)
    return ", ".join(part for part in (came, where, said.FITS.get(row.fit or "", "")) if part)


def signs_said(row: Print) -> list[str]:
    """What was seen of an attempt, rated or counted."""
    rated = [words.sign_said(key, rating) for key, rating in row.signs.items()]
    return rated + [said.count_said(key, number) for key, number in row.counts.items()]


def withdraw_print(work: Work, print_id: int) -> PrintsOut:
    """Take an attempt back that was written down by mistake."""
    person = work.person()
    row = find(Print, print_id, "print")
    if not _OFF.add_unless_there(print=row, person=person, at=work.now):
        raise Clash(words.PRINT_BACK_ALREADY, code="withdrawn_already")
    return list_prints(work, row.setup_id)


def _spool_came_after(setup: Setup, at: datetime) -> bool:
    """Whether another spool of its filament was put on later: which one was on then, nobody wrote down."""
    return (
        LoggedChange.select()
        .join(Withdrawal, JOIN.LEFT_OUTER, on=(Withdrawal.change == LoggedChange.id))
        .where(
            LoggedChange.filament == setup.filament_id,
            LoggedChange.kind == Change.SPOOL_SAME.value,
            LoggedChange.happened_at > at,
            Withdrawal.change.is_null(),
        )
        .exists()
    )
