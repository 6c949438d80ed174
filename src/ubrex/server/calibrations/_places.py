"""Readings that belong to places of a piece: which is next, which are done, which were passed over."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Literal

from ubrex.core.gcode.pieces import Place
from ubrex.server.views.pieces import PlaceOut

PlaceState = Literal["taken", "next", "skipped", "asked", "later"]


def places_out(
    places: Mapping[str, Place],
    asked: Sequence[str],
    texts: Mapping[str, str],
    following: str | None,
    skipped: Iterable[str],
) -> list[PlaceOut]:
    """Places as a screen draws them; ``texts``: what was read, by place; ``following``: the one that is next."""
    passed = set(skipped)

    def state(key: str) -> PlaceState:
        if key in texts:
            return "taken"
        if key == following:
            return "next"
        if key in passed:
            return "skipped"
        return "asked" if key in asked else "later"

    return [
        PlaceOut(
            place=key,
            name=place.name,
            group=place.group,
            x=place.x,
            y=place.y,
            across_x=place.across[0],
            across_y=place.across[1],
            state=state(key),
            text=texts.get(key, ""),
        )
        for key, place in places.items()
    ]
