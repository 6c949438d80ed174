"""Photographs of a case: evidence for people and for the help page."""

from __future__ import annotations

from typing import Final

from ubrex.server.desk import Work, find
from ubrex.server.store.records import Fault, FaultPhoto, FaultPhotoOff
from ubrex.server.views.attempts import PrintPhotosOut
from ubrex.server.workshop import Album

ALBUM: Final = Album(photos=FaultPhoto, off=FaultPhotoOff, of="fault", most=20)


def add_fault_photo(work: Work, fault_id: int, content: bytes, *, note: str) -> PrintPhotosOut:
    """Keep a photograph of a case."""
    return PrintPhotosOut(photos=ALBUM.add(work, find(Fault, fault_id, "case"), content, note=note))


def show_fault_photo(_work: Work, photo_id: int, *, small: bool) -> bytes:
    """A photograph of a case, or the small one of it."""
    return ALBUM.picture(photo_id, small=small)


def remove_fault_photo(work: Work, photo_id: int) -> PrintPhotosOut:
    """Take a photograph off its case."""
    owner = ALBUM.remove(work, photo_id)
    return PrintPhotosOut(photos=ALBUM.shown([owner]).get(owner, []))
