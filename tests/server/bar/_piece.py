"""A flat bar to measure between its ends."""

from __future__ import annotations

from ubrex.core.gcode import Manner, Pen, Volume
from ubrex.core.gcode.pieces import Outline, Piece, Plan, closed, filled, line_for, placed

DEPTH_MM = 10.0


def bar(
    drawn_mm: float, bore_mm: float, line_width_mm: float, layer_mm: float, volume: Volume, manner: Manner
) -> Piece:
    """One layer of back and forth, as long as it is drawn.

    Raises
    ------
    OutOfRange
        If line, layer or length do not go with the bore or the bed.
    """
    bead = line_for(bore_mm, line_width_mm, layer_mm)
    x, y = placed(volume, drawn_mm, DEPTH_MM)
    pen = Pen(manner=manner)
    filled(pen, bead, x, y, drawn_mm, DEPTH_MM)
    ends = [(x, y), (x + drawn_mm, y), (x + drawn_mm, y + DEPTH_MM), (x, y + DEPTH_MM)]
    frame = Outline(points=tuple(closed(ends)))
    plan = Plan(outlines=(frame,), places=(), width_mm=drawn_mm, depth_mm=DEPTH_MM, height_mm=bead.height_mm)
    return Piece(name="Bar", moves=tuple(pen.moves), plan=plan, bead=bead, spacing_mm=bead.solid_mm)
