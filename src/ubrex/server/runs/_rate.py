"""Ratings of a tower: one key press each; what is changed or taken back is struck, never erased."""

from __future__ import annotations

from typing import Any, Final

from ubrex.core.calibrate import BEST_RATING, Criterion
from ubrex.core.quantity import ToolKind, Unit
from ubrex.server.calibrations import MISSING, SNAPPED, Bands, place_of
from ubrex.server.desk import Clash, FieldProblem, Refused, Work
from ubrex.server.profile import readings_of
from ubrex.server.runs._records import READINGS, case_of, load_case, next_version, open_run
from ubrex.server.runs._view import rating_out, run_out
from ubrex.server.store.records import Instrument, Person, Reading, Strike
from ubrex.server.views.runs import RatingOut
from ubrex.server.views.towers import RatingIn
from ubrex.server.words import runs as words
from ubrex.server.words.scales import BREAK

EYES: Final = "Eyes and fingers"
"""What ratings are made with, as a tool is called."""

AGAIN: Final = "rated again"
CLEARED: Final = "cleared"
"""Why a rating is struck."""


def rate(work: Work, run_id: int, form: RatingIn) -> RatingOut:
    """Rate a band, mark it, or take that back; a second rating by the same person takes the place of the first."""
    person = work.person()
    run = open_run(run_id)
    tower = load_case(run, work).tower
    if tower is None:
        raise Clash(words.NOT_RATED, code="not_rated")
    _judge(tower, form)
    before = run_out(work, tower)
    place = place_of(form.band, form.key)
    # A mark is a fact of the tower, whoever made it; a rating is one person's.
    mark = form.key in tower.vetoes or form.key == SNAPPED
    here = [row for row in tower.readings if row.place == place and (mark or row.person_id == person.id)]
    if form.rating is None and not here:
        raise Clash(words.NOTHING_HERE, code="nothing_to_take_back")
    if form.rating is not None and any(row.number == form.rating for row in here):
        return rating_out(before, before)
    for row in here:
        reason = CLEARED if form.rating is None else AGAIN
        Strike.create(reading=row, reason=reason, at_once=True, person=person, at=work.now)
    added: list[Reading] = []
    if form.rating is not None:
        unit = Unit.COUNT if not mark and tower.most(form.key) > BEST_RATING else Unit.RATING
        at = len(tower.rows) + 1
        # Whoever rates a bond has snapped the tab: the band is no longer whole, even if the rating is taken back.
        if form.key in {Criterion.BOND.value, BREAK} and form.band not in tower.said.marked(SNAPPED):
            snapped = form.model_copy(update={"rating": 1})
            added.append(_write(work, person, tower, snapped, place_of(form.band, SNAPPED), Unit.RATING, at=at))
            at += 1
        added.append(_write(work, person, tower, form, place, unit, at=at))
    run.version += len(added)
    if not added:
        next_version(run)
    rows = readings_of(run.id) if here else [*tower.rows, *added]
    return rating_out(before, run_out(work, case_of(run, rows, work)))


def _write(
    work: Work, person: Person, tower: Bands[Any], form: RatingIn, place: str, unit: Unit, *, at: int
) -> Reading:
    own = tower.run.instrument
    return READINGS.add(
        run=tower.run,
        position=at,
        typed=str(form.rating),
        number=float(form.rating or 0),
        unit=unit.value,
        instrument=own if own.kind == ToolKind.EYES.value else eyes(),
        resolution=1.0,
        max_permissible_error=0.0,
        taken_as_typed=None,
        place=place,
        person=person,
        taken_at=min(form.taken_at, work.now),
        received_at=work.now,
    )


def _judge(tower: Bands[Any], form: RatingIn) -> None:
    """Refuse what is no band, no scale, or no number of it."""
    if form.band >= tower.count:
        raise Refused(FieldProblem("band", "no_such_band", words.no_such_band_said(tower.count)))
    if form.key in tower.vetoes or (form.key == SNAPPED and tower.snapping()):
        if form.rating not in {None, 1}:
            raise Refused(FieldProblem("rating", "no_such_rating", words.A_MARK))
        return
    if form.key not in tower.keys:
        raise Refused(FieldProblem("key", "no_such_scale", words.NO_SCALE))
    most = tower.most(form.key)
    if form.rating is not None and form.rating > most:
        raise Refused(FieldProblem("rating", "no_such_rating", words.no_such_rating_said(most, BEST_RATING)))
    if form.rating is not None and form.band in tower.said.marked(MISSING):
        raise Refused(FieldProblem("band", "not_printed", words.NOT_PRINTED))


def eyes() -> Instrument:
    """What ratings are made with: there from the first one on, and not among the measuring tools."""
    found: Instrument | None = Instrument.get_or_none(Instrument.kind == ToolKind.EYES.value)
    if found is None:
        found = Instrument.create(
            name=EYES, kind=ToolKind.EYES.value, resolution=1.0, max_permissible_error=0.0, version=1
        )
    return found
