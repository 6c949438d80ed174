"""Photographs of attempts, with a small one of each that is made once."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from ubrex.server.desk import Clash, Missing, Work, find
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import Person, Print, PrintPhoto, PrintPhotoOff
from ubrex.server.views.attempts import PrintPhotoOut, PrintPhotosOut
from ubrex.server.words import photos as words
from ubrex.server.workshop import read_photo, small_photo

MOST_OF_AN_ATTEMPT: Final = 12

_OFF: Final = Insert(PrintPhotoOff)


def add_print_photo(work: Work, print_id: int, content: bytes, *, note: str) -> PrintPhotosOut:
    """Keep a photograph of an attempt."""
    person, row = work.person(), find(Print, print_id, "print")
    if len(photos_of([row]).get(row.id, [])) >= MOST_OF_AN_ATTEMPT:
        raise Clash(words.too_many_said(MOST_OF_AN_ATTEMPT), code="too_many_photos")
    kept, (width, height) = read_photo(content)
    PrintPhoto.create(
        print=row, media_type="image/jpeg", width=width, height=height, content=kept, small=small_photo(kept),
        note=note.strip()[:200], person=person, at=work.now,
    )  # fmt: skip
    return PrintPhotosOut(photos=photos_of([row])[row.id])


def photos_of(rows: Sequence[Print]) -> dict[int, list[PrintPhotoOut]]:
    """Photographs that nobody took off, by attempt."""
    shown = (
        PrintPhoto.select(
            PrintPhoto.id,
            PrintPhoto.print,
            PrintPhoto.width,
            PrintPhoto.height,
            PrintPhoto.note,
            PrintPhoto.at,
            Person.name,
        )
        .join(Person)
        .where(
            PrintPhoto.print.in_([row.id for row in rows]),
            PrintPhoto.id.not_in(PrintPhotoOff.select(PrintPhotoOff.photo)),
        )
        .order_by(PrintPhoto.id)
    )
    found: dict[int, list[PrintPhotoOut]] = {}
    for one in shown:
        found.setdefault(one.print_id, []).append(
            PrintPhotoOut(
                id=one.id, width=one.width, height=one.height, note=one.note, person=one.person.name, at=one.at
            )
        )
    return found


def show_print_photo(_work: Work, photo_id: int, *, small: bool) -> bytes:
    """A photograph of an attempt, or the small one of it."""
    photo = find(PrintPhoto, photo_id, "photograph")
    if PrintPhotoOff.select().where(PrintPhotoOff.photo == photo.id).exists():
        raise Missing(words.taken_off_said(photo_id), id=photo_id)
    return bytes(photo.small if small else photo.content)


def remove_print_photo(work: Work, photo_id: int) -> PrintPhotosOut:
    """Take a photograph off its attempt; it stays in the database and in backups."""
    photo = find(PrintPhoto, photo_id, "photograph")
    _OFF.add_unless_there(photo=photo, person=work.person(), at=work.now)
    row = find(Print, photo.print_id, "print")
    return PrintPhotosOut(photos=photos_of([row]).get(row.id, []))
