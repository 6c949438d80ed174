"""Test pieces: pure functions of what they are printed with, giving moves, a plan to draw, and places to measure."""

from ubrex.core.gcode.pieces._box import (
    HEIGHT_MM,
    JAWS_BELOW_RIM_MM,
    POSITIONS_A_WALL,
    WALLS,
    Body,
    BoxOptions,
    Walls,
    box_bodies,
    hollow_box,
)
from ubrex.core.gcode.pieces._feed import FEED_SPEED_MM_S, feed_test
from ubrex.core.gcode.pieces._pads import PadOptions, live_pad, nine_patches
from ubrex.core.gcode.pieces._piece import NARROWEST, WIDEST, Outline, Piece, Place, Plan

__all__ = [
    "FEED_SPEED_MM_S",
    "HEIGHT_MM",
    "JAWS_BELOW_RIM_MM",
    "NARROWEST",
    "POSITIONS_A_WALL",
    "WALLS",
    "WIDEST",
    "Body",
    "BoxOptions",
    "Outline",
    "PadOptions",
    "Piece",
    "Place",
    "Plan",
    "Walls",
    "box_bodies",
    "feed_test",
    "hollow_box",
    "live_pad",
    "nine_patches",
]
