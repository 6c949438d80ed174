"""Photographs that belong to something: kept with a small one that is made once, taken off, never erased."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from ubrex.server.desk import Clash, Missing, Work, find
from ubrex.server.store.records import Person, Record
from ubrex.server.views.attempts import PrintPhotoOut
from ubrex.server.words import photos as words
from ubrex.server.workshop._pictures import read_photo, small_photo


@dataclass(frozen=True)
class Album:
    """Photographs of one kind of thing. ``of``: the column that names it, ``most``: how many one of it may have."""

    photos: Any
    off: Any
    of: str
    most: int

    def add(self, work: Work, owner: Record, content: bytes, *, note: str) -> list[PrintPhotoOut]:
        """Keep a photograph; answers with all of its owner."""
        person = work.person()
        if len(self.shown([owner.id]).get(owner.id, [])) >= self.most:
            raise Clash(words.too_many_said(self.most), code="too_many_photos")
        kept, (width, height) = read_photo(content)
        self.photos.create(
            **{self.of: owner}, media_type="image/jpeg", width=width, height=height, content=kept,
            small=small_photo(kept), note=note.strip()[:200], person=person, at=work.now,
        )  # fmt: skip
        return self.shown([owner.id])[owner.id]

    def shown(self, owner_ids: Iterable[int]) -> dict[int, list[PrintPhotoOut]]:
        """Photographs that nobody took off, by owner."""
        photo, of = self.photos, getattr(self.photos, self.of)
        rows = (
            photo.select(photo.id, of, photo.width, photo.height, photo.note, photo.at, Person.name)
            .join(Person)
            .where(of.in_(list(owner_ids)), photo.id.not_in(self.off.select(self.off.photo)))
            .order_by(photo.id)
        )
        found: dict[int, list[PrintPhotoOut]] = {}
        for row in rows:
            found.setdefault(getattr(row, f"{self.of}_id"), []).append(
                PrintPhotoOut(
                    id=row.id, width=row.width, height=row.height, note=row.note, person=row.person.name, at=row.at
                )
            )
        return found

    def picture(self, photo_id: int, *, small: bool) -> bytes:
        """A photograph, or the small one of it."""
        photo: Any = find(self.photos, photo_id, "photograph")
        if self.off.select().where(self.off.photo == photo.id).exists():
            raise Missing(words.taken_off_said(photo_id), id=photo_id)
        return bytes(photo.small if small else photo.content)

    def remove(self, work: Work, photo_id: int) -> int:
        """Take a photograph off; answers with its owner. It stays in the database and in backups."""
        photo: Any = find(self.photos, photo_id, "photograph")
        person = work.person()
        if not self.off.select().where(self.off.photo == photo.id).exists():
            self.off.create(photo=photo, person=person, at=work.now)
        owner: int = getattr(photo, f"{self.of}_id")
        return owner
