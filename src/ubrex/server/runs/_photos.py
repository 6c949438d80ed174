"""Photographs of a run and of its bands: read, turned upright, made smaller, and kept without what a camera writes in."""

from __future__ import annotations

import io
from threading import Lock
from typing import Final

from PIL import Image, ImageOps, UnidentifiedImageError

from ubrex.server.desk import Clash, FieldProblem, Missing, Refused, Work, find
from ubrex.server.runs._records import get_run, load_case
from ubrex.server.store.records import Person, Photo, PhotoOff, Run
from ubrex.server.views.towers import PhotoOut, PhotosOut
from ubrex.server.words import photos as words

LARGEST_PHOTO: Final = 12_000_000
"""Bytes of a photograph as it comes from a camera."""

MOST_PIXELS: Final = 60_000_000
LONGEST_SIDE: Final = 1600
QUALITY: Final = 85
_ONE_AT_A_TIME: Final = Lock()
"""Held while a photograph is unpacked: several at once would need the memory of each."""

FORMATS: Final = ("JPEG", "PNG", "WEBP")
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


def read_photo(content: bytes) -> tuple[bytes, tuple[int, int]]:
    """A photograph as it is kept: upright, at most 1600 pixels long, no place, no camera, no date in it; and its size."""
    if len(content) > LARGEST_PHOTO:
        said = words.too_large_said(len(content) / 1e6, LARGEST_PHOTO / 1e6)
        raise Refused(FieldProblem("photo", "too_large", said))
    try:
        with Image.open(io.BytesIO(content), formats=FORMATS) as image:
            if image.width * image.height > MOST_PIXELS:
                raise Refused(FieldProblem("photo", "too_large", words.too_many_points_said(MOST_PIXELS / 1e6)))
            with _ONE_AT_A_TIME:
                # A JPEG is read at a fraction of its size from the start: 60 million points are 180 MB otherwise.
                image.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
                image.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
                upright = ImageOps.exif_transpose(image).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise Refused(FieldProblem("photo", "not_a_photo", words.NOT_A_PHOTO)) from error
    # A new picture of the same points: nothing that stood beside them comes along.
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    out = io.BytesIO()
    clean.save(out, "JPEG", quality=QUALITY)
    return out.getvalue(), clean.size


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
