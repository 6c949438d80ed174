"""Readings that belong to places of a piece: which is next, which are done, which were passed over."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Literal

from ubrex.core.gcode.pieces import Place
from ubrex.core.quantity import Tool
from ubrex.server.store.records import Instrument, Reading
from ubrex.server.views.pieces import PlaceOut

PlaceState = Literal["taken", "next", "skipped", "asked", "later"]


def first_open(order: Sequence[str], taken: Iterable[str | None], skipped: Iterable[str]) -> str | None:
    """The first place, in walking order, that was not taken and not passed over; None when all are done."""
    done = {*taken, *skipped}
    return next((place for place in order if place not in done), None)


def coarsest(taken: Iterable[Reading], instrument: Instrument) -> Tool:
    """The tool that readings of several are judged by; that of the run while there are none."""
    tools = [Tool(resolution=row.resolution, max_permissible_error=row.max_permissible_error) for row in taken]
    return max(tools or [instrument.to_core()], key=lambda tool: tool.std)


def places_out(
    places: Mapping[str, Place],
    asked: Sequence[str],
    texts: Mapping[str, str],
    following: str | None,
    skipped: Iterable[str],
) -> list[PlaceOut]:
    """Places as a screen draws them."""
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
