"""First-layer pieces: a wide thin pad to adjust on while it prints, and nine patches to measure."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from ubrex.core.errors import OutOfRange
from ubrex.core.gcode._machine import EDGE_MM, Volume
from ubrex.core.gcode._moves import Feed, Manner, Pen
from ubrex.core.gcode._strokes import strokes_of
from ubrex.core.gcode.pieces._piece import KEPT_PIECES, Outline, Piece, Place, Plan, closed, filled, line_for, placed

PAD_WIDTH_MM, PAD_DEPTH_MM = 100.0, 50.0
"""Wide: each line takes long enough for a small step to show (E)."""

PATCH_MM: Final = 18.0
"""Side of a patch: room for the anvils of a micrometer, and for a hand to peel it (E)."""

DIGIT_MM: Final = 6.0
GAP_MM: Final = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class PadOptions:
    """One layer to print. ``corners_mm``: how far patches stay from the edge of the bed."""

    bore_mm: float
    line_width_mm: float
    layer_mm: float
    inset_mm: float = 25.0


def live_pad(options: PadOptions, volume: Volume, manner: Manner) -> Piece:
    """A pad of long lines, back and forth: the offset is moved while it grows.

    Raises
    ------
    OutOfRange
        If line, layer or size do not go with the bore or the bed.
    """
    bead = line_for(options.bore_mm, options.line_width_mm, options.layer_mm)
    width = min(PAD_WIDTH_MM, volume.width_mm - 2 * EDGE_MM - 10)
    depth = min(PAD_DEPTH_MM, volume.depth_mm - 2 * EDGE_MM - 10)
    x, y = placed(volume, width, depth)
    pen = Pen(manner=manner)
    filled(pen, bead, x, y, width, depth)
    frame = Outline(points=tuple(closed([(x, y), (x + width, y), (x + width, y + depth), (x, y + depth)])))
    plan = Plan(outlines=(frame,), places=(), width_mm=width, depth_mm=depth, height_mm=bead.height_mm)
    return Piece(name="First-layer pad", moves=tuple(pen.moves), plan=plan, bead=bead, spacing_mm=bead.solid_mm)


@lru_cache(maxsize=KEPT_PIECES)
def nine_patches(options: PadOptions, volume: Volume, manner: Manner) -> Piece:
    """Three rows of three patches, numbered 1 to 9 from the front left, each with its number drawn beside it.

    Raises
    ------
    OutOfRange
        If line, layer or size do not go with the bore or the bed.
    """
    bead = line_for(options.bore_mm, options.line_width_mm, options.layer_mm)
    size = PATCH_MM + GAP_MM + DIGIT_MM
    across, along = (room - 2 * options.inset_mm - PATCH_MM for room in (volume.width_mm, volume.depth_mm))
    if across < 2 * size or along < 2 * size:
        raise OutOfRange("the bed is too small for nine patches so far from its edge", name="inset_mm")
    pen, outlines, places = Pen(manner=manner), [], []
    for row in range(3):
        for column in range(3):
            number = str(3 * row + column + 1)
            x = volume.left + options.inset_mm + column * across / 2
            y = volume.front + options.inset_mm + row * along / 2
            filled(pen, bead, x, y, PATCH_MM, PATCH_MM)
            drawn = strokes_of(number, x + PATCH_MM + GAP_MM, y, DIGIT_MM)
            # A line from the patch to its number, so that they come off together.
            drawn.insert(0, [(x + PATCH_MM - bead.width_mm, y), drawn[0][0]])
            for stroke in drawn:
                pen.line(stroke, bead.height_mm, bead, speed=manner.first_speed_mm_s, why=Feed.PRINT)
            corners = [(x, y), (x + PATCH_MM, y), (x + PATCH_MM, y + PATCH_MM), (x, y + PATCH_MM)]
            outlines.append(Outline(points=tuple(closed(corners))))
            outlines += [Outline(points=tuple(stroke), bold=False) for stroke in drawn]
            middle = PATCH_MM / 2
            places.append(Place(name=number, group="patch", x=x + middle, y=y + middle, across=(0.0, 0.0)))
    plan = Plan(
        outlines=tuple(outlines),
        places=tuple(places),
        width_mm=across + size,
        depth_mm=along + PATCH_MM,
        height_mm=bead.height_mm,
    )
    return Piece(name="Nine patches", moves=tuple(pen.moves), plan=plan, bead=bead, spacing_mm=bead.solid_mm)
