"""Photographs of attempts."""

from __future__ import annotations

from typing import Final

from ubrex.server.desk import Work, find
from ubrex.server.store.records import Print, PrintPhoto, PrintPhotoOff
from ubrex.server.views.attempts import PrintPhotosOut
from ubrex.server.workshop import Album

ALBUM: Final = Album(photos=PrintPhoto, off=PrintPhotoOff, of="print", most=12)


def add_print_photo(work: Work, print_id: int, content: bytes, *, note: str) -> PrintPhotosOut:
    """Keep a photograph of an attempt."""
    return PrintPhotosOut(photos=ALBUM.add(work, find(Print, print_id, "print"), content, note=note))


def show_print_photo(_work: Work, photo_id: int, *, small: bool) -> bytes:
    """A photograph of an attempt, or the small one of it."""
    return ALBUM.picture(photo_id, small=small)


def remove_print_photo(work: Work, photo_id: int) -> PrintPhotosOut:
    """Take a photograph off its attempt."""
    owner = ALBUM.remove(work, photo_id)
    return PrintPhotosOut(photos=ALBUM.shown([owner]).get(owner, []))
