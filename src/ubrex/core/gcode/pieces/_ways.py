"""Two ways against each other: towers whose bands are the one and the other by turns, and carry their numbers only."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache
from itertools import pairwise
from typing import Final

from ubrex.core.errors import OutOfRange
from ubrex.core.gcode._machine import Volume
from ubrex.core.gcode._moves import Feed, Manner
from ubrex.core.gcode.pieces._piece import KEPT_PIECES, Outline, Piece, closed
from ubrex.core.gcode.pieces._towers import (
    DEEP_MM,
    LEFT_MM,
    RETRACTION_BAND_MM,
    TIP_MM,
    TRAVEL_MM,
    Post,
    Tower,
    TowerOptions,
    embossed,
)

SEAM_MM, LABEL_APART_MM, ROUND_CORNERS = 20.0, 4.0, 72
"""A round post for seams, how far the post that names its bands stands off, and corners of a circle."""

COOL_LEAN_MM: Final = 4.0
"""How far a side of a post for cooling leans out, at 45 degrees: it curls where layers stay soft."""


@lru_cache(maxsize=KEPT_PIECES)
def hop_tower(options: TowerOptions, volume: Volume, manner: Manner) -> Piece:
    """Two posts with a travel between them in each layer, lifted by the hop of its band; signs are the numbers of the bands.

    Raises
    ------
    OutOfRange
        If line, layer, number of bands or size do not go with the bore or the bed.
    """
    tower = Tower.begun(options, volume, manner, RETRACTION_BAND_MM, width=2 * LEFT_MM + TRAVEL_MM, depth=DEEP_MM)
    y, pen, bead = tower.y, tower.pen, tower.bead
    places = (tower.x, tower.x + LEFT_MM + TRAVEL_MM)
    for layer in tower.layers(heat=False):
        signs = []
        if layer.band is not None:
            pen.manner = replace(pen.manner, hop_mm=options.values[layer.band])
            signs = embossed(str(layer.band + 1), layer.in_band_mm)
        for at in places:
            post = Post(at, y, LEFT_MM, DEEP_MM, signs=signs)
            pen.line(closed(post.inner(bead.solid_mm)), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
            pen.line(closed(post.outer()), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
    outlines = [Outline(points=tuple(closed(Post(at, y, LEFT_MM, DEEP_MM).outer()))) for at in places]
    return _numbered(tower.made("Two hops", outlines, []))


@lru_cache(maxsize=KEPT_PIECES)
def seam_tower(options: TowerOptions, volume: Volume, manner: Manner) -> Piece:
    """A round post whose outer line ends so far before its beginning, or beyond it, as the band says.

    Raises
    ------
    OutOfRange
        If line, layer, number of bands or size do not go with the bore or the bed.
    """
    width = SEAM_MM + LABEL_APART_MM + LEFT_MM
    tower = Tower.begun(options, volume, manner, RETRACTION_BAND_MM, width=width, depth=SEAM_MM)
    middle, pen, bead = (tower.x + SEAM_MM / 2, tower.y + SEAM_MM / 2), tower.pen, tower.bead
    outer, inner = SEAM_MM / 2 - bead.width_mm / 2, SEAM_MM / 2 - bead.width_mm / 2 - bead.solid_mm
    label = tower.x + SEAM_MM + LABEL_APART_MM
    for layer in tower.layers(heat=False):
        gap = 0.0 if layer.band is None else options.values[layer.band]
        signs = [] if layer.band is None else embossed(str(layer.band + 1), layer.in_band_mm)
        pen.line(_round(middle, inner, 0.0), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
        pen.line(_round(middle, outer, gap), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
        post = Post(label, tower.y, LEFT_MM, LEFT_MM, signs=signs)
        pen.line(closed(post.outer()), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
    outlines = [
        Outline(points=tuple(_round(middle, SEAM_MM / 2, 0.0))),
        Outline(points=tuple(closed(Post(label, tower.y, LEFT_MM, LEFT_MM).outer())), bold=False),
    ]
    return _numbered(tower.made("Two seams", outlines, []))


@lru_cache(maxsize=KEPT_PIECES)
def cooling_tower(options: TowerOptions, volume: Volume, manner: Manner) -> Piece:
    """A post with a fine tip and a side that leans out, each layer of a band printed so slowly that it takes its time [s].

    Raises
    ------
    OutOfRange
        If line, layer, number of bands or size do not go with the bore or the bed, or if layers take longer anyway.
    """
    tower = Tower.begun(options, volume, manner, RETRACTION_BAND_MM, width=LEFT_MM, depth=DEEP_MM)
    pen, bead = tower.pen, tower.bead
    least = _length(Post(tower.x, tower.y, LEFT_MM, DEEP_MM, tip=TIP_MM), bead.solid_mm) / manner.speed_mm_s
    if max(options.values) <= least:
        raise OutOfRange(
            f"at {manner.speed_mm_s:.0f} mm/s a layer of this piece takes {least:.1f} s anyway", name="layer_time_b"
        )
    for layer in tower.layers(heat=False):
        up = 0.0 if layer.band is None else layer.in_band_mm
        signs = [] if layer.band is None else embossed(str(layer.band + 1), up)
        post = Post(tower.x, tower.y, LEFT_MM, DEEP_MM, right=min(up, COOL_LEAN_MM), signs=signs, tip=TIP_MM)
        speed = manner.speed_mm_s
        if layer.band is not None:
            speed = min(speed, _length(post, bead.solid_mm) / max(options.values[layer.band], least))
        pen.line(closed(post.inner(bead.solid_mm)), layer.top_mm, bead, speed=speed, why=Feed.PRINT)
        pen.line(closed(post.outer()), layer.top_mm, bead, speed=speed, why=Feed.PRINT)
    outline = Post(tower.x, tower.y, LEFT_MM, DEEP_MM, right=COOL_LEAN_MM, tip=TIP_MM).outer()
    return _numbered(tower.made("Two layer times", [Outline(points=tuple(closed(outline)))], []))


def _length(post: Post, inset_mm: float) -> float:
    """Length [mm] of both lines of a layer."""
    rings = (closed(post.inner(inset_mm)), closed(post.outer()))
    return math.fsum(math.dist(one, after) for ring in rings for one, after in pairwise(ring))


def _numbered(piece: Piece) -> Piece:
    """Bands that say their numbers, not their values: whoever rates them is not to know."""
    bands = tuple(replace(band, value=float(number)) for number, band in enumerate(piece.bands, 1))
    return replace(piece, bands=bands)


def _round(middle: tuple[float, float], radius: float, gap_mm: float) -> list[tuple[float, float]]:
    """A circle from its front round to so far before its beginning [mm]; beyond it where that is below 0."""
    turn = 2 * math.pi - gap_mm / radius
    steps = [turn * index / ROUND_CORNERS for index in range(ROUND_CORNERS + 1)]
    return [(middle[0] + radius * math.sin(at), middle[1] - radius * math.cos(at)) for at in steps]
