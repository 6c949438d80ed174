"""Two ways against each other: towers whose bands are the one and the other by turns, and carry their numbers only."""

from __future__ import annotations

import math
from collections.abc import Sequence
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
    DIGIT_OUT_MM,
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

TIPS_APART_MM, LEG_MM = 24.0, 16.0
"""A U for travels: how far its tips stand apart, and how long its legs are."""

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


@lru_cache(maxsize=KEPT_PIECES)
def detour_tower(options: TowerOptions, volume: Volume, manner: Manner) -> Piece:
    """A U whose tips are printed one after the other: a band that allows the way round goes along the U, others straight.

    Raises
    ------
    OutOfRange
        If line, layer, number of bands or size do not go with the bore or the bed, or both ways go the same way here.
    """
    length = 2 * LEG_MM + TIPS_APART_MM
    if min(options.values) >= length or max(options.values) < length:
        raise OutOfRange(
            f"the way round this piece is {length:.0f} mm: one way has to allow less, the other at least that",
            name="detour_b",
        )
    tower = Tower.begun(options, volume, manner, RETRACTION_BAND_MM, width=TIPS_APART_MM, depth=LEG_MM)
    pen, bead, half = tower.pen, tower.bead, tower.bead.solid_mm / 2
    (left, right), (front, back) = (tower.x, tower.x + TIPS_APART_MM), (tower.y, tower.y + LEG_MM)
    along = [(left, back), (left, front), (right, front), (right, back)]
    for layer in tower.layers(heat=False):
        signs = [] if layer.band is None else embossed(str(layer.band + 1), layer.in_band_mm)
        goes_round = layer.band is not None and options.values[layer.band] >= length
        loop = _u_line(left, right, front, back, half, signs)
        pen.travel(*loop[0], layer.top_mm, by=along[::-1] if goes_round and pen.started else ())
        pen.line(loop, layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
        for tip in (left, right):
            stub = [(tip - half, back + bead.solid_mm), (tip + half, back + bead.solid_mm)]
            if tip == right:
                pen.travel(*stub[0], layer.top_mm, by=along if goes_round else ())
            pen.line(stub, layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
    outline = Outline(points=tuple(_u_line(left, right, front, back, half, [])))
    return _numbered(
        tower.made("Two travels", [outline, Outline(points=((left, back), (right, back)), bold=False)], [])
    )


def _u_line(
    left: float, right: float, front: float, back: float, half: float, signs: Sequence[tuple[float, float]]
) -> list[tuple[float, float]]:
    """Round the legs and the front of a U, which carries signs."""
    points = [(left - half, back), (left - half, front - half)]
    for begin, end in signs:
        out = front - half - DIGIT_OUT_MM
        points += [(left + begin, front - half), (left + begin, out), (left + end, out), (left + end, front - half)]
    points += [(right + half, front - half), (right + half, back), (right - half, back), (right - half, front + half)]
    return closed([*points, (left + half, front + half), (left + half, back)])


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
