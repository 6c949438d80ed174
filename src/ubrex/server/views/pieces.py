"""The wire: pieces and files as they are drawn."""

from __future__ import annotations

from typing import Literal

from ubrex.server.views.base import Schema


class PlaceOut(Schema):
    """Where on a piece to measure [mm]; ``across_x``, ``across_y``: which way the jaws close, both 0 for a patch.

    ``place``: its key among the places that a run asks for.
    """

    place: str
    name: str
    group: str
    x: float
    y: float
    across_x: float
    across_y: float
    state: Literal["taken", "next", "skipped", "asked", "later"]
    text: str


class PointOut(Schema):
    x: float
    y: float


class OutlineOut(Schema):
    """A line of a plan [mm]; ``bold``: part of what is measured."""

    points: list[PointOut]
    bold: bool


class PieceBandOut(Schema):
    """A band of a tower: its value, from where to where [mm], and from where on the nozzle has settled."""

    text: str
    from_mm: float
    to_mm: float
    settled: str


class PieceOut(Schema):
    """A test piece: seen from above, how big, how long and how heavy; why it cannot be written, where it cannot.

    ``jaws``: it is measured between jaws. ``front``: a tower from the front, part by part: left, right, bottom and top in
    hundredths of mm, one after the other.
    """

    name: str
    outlines: list[OutlineOut]
    width_mm: float
    depth_mm: float
    height_mm: float
    size: str
    minutes: str
    grams: str
    remarks: list[str]
    bands: list[PieceBandOut]
    front: list[int]
    jaws: bool
    refused: str
    field: str


class LayerOut(Schema):
    """One layer of a file: its height [mm], and its lines as x0, y0, x1, y1 in hundredths of mm, one after the other."""

    z_mm: float
    lines: list[int]


class FileViewOut(Schema):
    """A file drawn layer by layer."""

    width_mm: float
    depth_mm: float
    left_mm: float
    front_mm: float
    layers: list[LayerOut]
    every: int
