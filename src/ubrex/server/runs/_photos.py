"""Photographs of a run and of its bands."""

from __future__ import annotations

from typing import Final

from ubrex.server.desk import Clash, FieldProblem, Missing, Refused, Work, find
from ubrex.server.runs._records import get_run, load_case
from ubrex.server.store.records import Person, Photo, PhotoOff, Run
from ubrex.server.views.towers import PhotoOut, PhotosOut
from ubrex.server.words import photos as words
from ubrex.server.workshop import read_photo

MOST_OF_A_RUN: Final = 40


def add_photo(work: Work, run_id: int, content: bytes, *, band: int | None, note: str) -> PhotosOut:
    """Keep a photograph of a run, or of one of its bands."""
    person = work.person()
    run = get_run(run_id)
    tower = load_case(run, work).tower
    if band is not None and (tower is None or band >= tower.count):
        raise Refused(FieldProblem("band", "no_such_band", words.NO_SUCH_BAND))
    if Photo.select().where(Photo.run == run.id, Photo.shown()).count() >= MOST_OF_A_RUN:
        raise Clash(words.too_many_said(MOST_OF_A_RUN), code="too_many_photos")
    kept, size = read_photo(content)
    Photo.create(
        run=run, band=band, media_type="image/jpeg", width=size[0], height=size[1], content=kept, note=note.strip()[:200],
        person=person, at=work.now,
    )  # fmt: skip
    return list_photos(work, run_id)


def list_photos(work: Work, run_id: int) -> PhotosOut:
    """Photographs of a run, and of the last run before it of the same step on the same setup that has any."""
    run = get_run(run_id)
    has_any = Photo.select(Photo.run).where(Photo.shown())
    before = (
        Run.select()
        .where(Run.setup == run.setup_id, Run.step == run.step, Run.id < run.id, Run.id.in_(has_any))
        .order_by(Run.id.desc())
        .first()
    )
    return PhotosOut(
        photos=_of_run(work, run),
        before_run_id=None if before is None else before.id,
        before=[] if before is None else _of_run(work, get_run(before.id)),
    )


def _of_run(work: Work, run: Run) -> list[PhotoOut]:
    tower = load_case(run, work).tower
    rows = (
        Photo.select(Photo.id, Photo.band, Photo.width, Photo.height, Photo.note, Photo.at, Person.name)
        .join(Person)
        .where(Photo.run == run.id, Photo.shown())
        .order_by(Photo.band, Photo.id)
    )
    return [
        PhotoOut(
            id=row.id,
            band=row.band,
            band_text="" if tower is None or row.band is None else tower.text(row.band),
            width=row.width,
            height=row.height,
            note=row.note,
            person=row.person.name,
            at=row.at,
        )
        for row in rows
    ]


def show_photo(_work: Work, photo_id: int) -> bytes:
    """A photograph."""
    photo = find(Photo, photo_id, "photograph")
    if PhotoOff.select().where(PhotoOff.photo == photo.id).exists():
        raise Missing(words.taken_off_said(photo_id), id=photo_id)
    return bytes(photo.content)


def remove_photo(work: Work, photo_id: int) -> PhotosOut:
    """Take a photograph off its run; it stays in the database and in backups."""
    person = work.person()
    photo = find(Photo, photo_id, "photograph")
    if not PhotoOff.select().where(PhotoOff.photo == photo.id).exists():
        PhotoOff.create(photo=photo, person=person, at=work.now)
    return list_photos(work, photo.run_id)
