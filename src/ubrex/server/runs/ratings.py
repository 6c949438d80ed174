"""Ratings of a tower: one key press each; what is changed or taken back is struck, never erased."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import BEST_RATING, Criterion
from ubrex.core.quantity import ToolKind, Unit
from ubrex.server.calibrations import cases
from ubrex.server.calibrations.rated import SNAPPED, TowerCase, place_of
from ubrex.server.desk import Clash, FieldProblem, Refused, Work
from ubrex.server.profile import readings_of
from ubrex.server.runs import runs
from ubrex.server.store.records import Instrument, Person, Reading, Strike
from ubrex.server.views.runs import RunOut
from ubrex.server.views.towers import RatingIn

EYES: Final = "Eyes and fingers"
AGAIN: Final = "rated again"
CLEARED: Final = "cleared"


def rate(work: Work, run_id: int, form: RatingIn) -> RunOut:
    """Rate a band, mark it, or take that back; a second rating by the same person takes the place of the first."""
    person = work.person()
    run = runs.open_run(run_id)
    case = cases.load(run, work)
    if not isinstance(case, TowerCase):
        raise Clash("Nothing is rated in this run.", code="not_rated")
    _judge(case, form)
    place = place_of(form.band, form.key)
    # A mark is a fact of the tower, whoever made it; a rating is one person's.
    mark = form.key in case.vetoes or form.key == SNAPPED
    here = [row for row in case.readings if row.place == place and (mark or row.person_id == person.id)]
    if form.rating is None and not here:
        raise Clash("There is nothing to take back here.", code="nothing_to_take_back")
    if form.rating is not None and any(row.number == form.rating for row in here):
        return runs.view(work, case)
    for row in here:
        reason = CLEARED if form.rating is None else AGAIN
        Strike.create(reading=row, reason=reason, at_once=True, person=person, at=work.now)
    added: list[Reading] = []
    if form.rating is not None:
        unit = Unit.COUNT if not mark and case.most(form.key) > BEST_RATING else Unit.RATING
        at = len(case.rows) + 1
        # Whoever rates a bond has snapped the tab: the band is no longer whole, even if the rating is taken back.
        if form.key == Criterion.BOND.value and form.band not in case.said.marked(SNAPPED):
            snapped = form.model_copy(update={"rating": 1})
            added.append(_write(work, person, case, snapped, place_of(form.band, SNAPPED), Unit.RATING, at=at))
            at += 1
        added.append(_write(work, person, case, form, place, unit, at=at))
    run.version += len(added)
    if not added:
        runs.next_version(run)
    rows = readings_of(run.id) if here else [*case.rows, *added]
    return runs.view(work, cases.of(run, rows, work))


def _write(work: Work, person: Person, case: TowerCase, form: RatingIn, place: str, unit: Unit, *, at: int) -> Reading:
    own = case.run.instrument
    return runs.READINGS.add(
        run=case.run,
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


def _judge(case: TowerCase, form: RatingIn) -> None:
    """Refuse what is no band, no scale, or no number of it."""
    if form.band >= case.count:
        said = f"This tower has {case.count} bands."
        raise Refused(FieldProblem("band", "no_such_band", said))
    if form.key in case.vetoes or (form.key == SNAPPED and case.snapping()):
        if form.rating not in {None, 1}:
            raise Refused(FieldProblem("rating", "no_such_rating", "A band is marked, or it is not."))
        return
    if form.key not in case.keys:
        raise Refused(FieldProblem("key", "no_such_scale", "That is not rated on this tower."))
    most = case.most(form.key)
    if form.rating is not None and form.rating > most:
        said = "A rating is 0 to 4." if most == BEST_RATING else f"There are {most} crossings in a band."
        raise Refused(FieldProblem("rating", "no_such_rating", said))
    if form.rating is not None and form.band in case.said.marked("missing"):
        raise Refused(FieldProblem("band", "not_printed", "This band was not printed: take that mark off first."))


def eyes() -> Instrument:
    """What ratings are made with: there from the first one on, and not among the measuring tools."""
    found: Instrument | None = Instrument.get_or_none(Instrument.kind == ToolKind.EYES.value)
    if found is None:
        found = Instrument.create(
            name=EYES, kind=ToolKind.EYES.value, resolution=1.0, max_permissible_error=0.0, version=1
        )
    return found
