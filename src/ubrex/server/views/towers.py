"""The wire: towers, what was said of their bands, and photographs."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field, StringConstraints

from ubrex.core.chain import Purpose
from ubrex.server.views.base import Moment, Schema


class ScaleOut(Schema):
    """What is rated on each band: its name, where to look, how much it counts, and a word and a sentence for 0 to 4.

    ``most``: the highest number; more than 4 where something is counted.
    """

    key: str
    name: str
    look: str
    counts: str
    words: list[str]
    sentences: list[str]
    most: int


class OtherRatingOut(Schema):
    person: str
    rating: int


class CellRatingOut(Schema):
    """A rating of one band: one's own, and those of others. ``odd``: the others make it unlikely."""

    key: str
    rating: int | None
    word: str
    others: list[OtherRatingOut]
    odd: bool


class TowerBandOut(Schema):
    """A band, top of the tower first. ``index``: from the bottom. ``score``: 0 to 4, None before anything counts."""

    index: int
    text: str
    cells: list[CellRatingOut]
    vetoes: list[str]
    said: str
    missing: bool
    out: bool
    snapped: bool
    remark: str
    score: float | None
    score_text: str
    spread: float
    inside: bool
    offered: bool
    in_use: bool
    widths: str
    photos: int


class TowerPurposeOut(Schema):
    purpose: Purpose
    name: str
    why: str


class TowerNextOut(Schema):
    """A cell that is still looked at. ``last``: it breaks the band, and comes after all others of it."""

    band: int
    key: str
    last: bool


class TowerVetoOut(Schema):
    key: str
    word: str
    sentence: str


class TowerOut(Schema):
    """A tower with its ratings. ``waiting``: what is still asked for, in order."""

    unit: str
    score_name: str
    score_note: str
    purpose: Purpose | None
    purposes: list[TowerPurposeOut]
    scales: list[ScaleOut]
    bands: list[TowerBandOut]
    vetoes: list[TowerVetoOut]
    waiting: list[TowerNextOut]
    left: str
    facts: list[str]


class RatingIn(Schema):
    """A rating of a band, or a veto (1); None takes back what stands there. ``key``: a scale, or what takes a band out."""

    band: Annotated[int, Field(ge=0, le=99)]
    key: Annotated[str, StringConstraints(min_length=1, max_length=16)]
    rating: Annotated[int, Field(ge=0, le=999)] | None
    taken_at: Moment


class PhotoOut(Schema):
    id: int
    band: int | None
    band_text: str
    width: int
    height: int
    note: str
    person: str
    at: datetime


class PhotosOut(Schema):
    """Photographs of a run, and of the run before it of the same step on the same setup."""

    photos: list[PhotoOut]
    before_run_id: int | None
    before: list[PhotoOut]
