"""What is said on the forms and in the files of pieces."""

from __future__ import annotations

from typing import Final

from ubrex.server.words.numbers import plain

LINE_WIDTH: Final = "Line width"
LAYER: Final = "Layer"
FIRST_LAYER: Final = "First layer"
NOZZLE: Final = "Nozzle"
NOZZLE_FIRST: Final = "Nozzle, first layer"
BED: Final = "Bed"
BED_FIRST: Final = "Bed, first layer"
FAN: Final = "Fan"
"""Fields of a start form."""

NOT_HEATED: Final = "0: not heated"
FAN_AS_PART: Final = "as the part will have it"
THE_LAYER: Final = "The layer"
THE_FIRST_LAYER: Final = "The first layer"
THE_NOZZLE: Final = "The nozzle"
THE_NOZZLE_FIRST: Final = "The nozzle in the first layer"
THE_BED: Final = "The bed"
THE_BED_FIRST: Final = "The bed in the first layer"
THE_FAN: Final = "The fan"
THE_SPEED: Final = "The speed"
FAN_WHY: Final = "a fan turns at 0 to 100 %"
FLOW_WHY: Final = "walls take 25 to 200 %"


def lines_said(low: float, high: float) -> str:
    """Widths of lines that a bore lays."""
    return f"{plain(low)} to {plain(high)} for this bore"


def lays_said(bore_mm: float, what: str, low: float, high: float) -> str:
    """Why a line or a layer cannot be."""
    return f"a bore of {plain(bore_mm)} mm lays {what} of {plain(low)} to {plain(high)} mm"


def fed_from_said(from_c: float, max_c: float, why: str) -> str:
    """Between what and what a nozzle is set."""
    return f"fed from {plain(from_c)} °C on, and {never_above_said(max_c, why)}"


def never_above_said(max_c: float, why: str) -> str:
    """A limit of heat with its reason."""
    return f"never above {plain(max_c)} °C: {why}"


def held_to_said(mm_s: float) -> str:
    """How fast a machine may be asked to move."""
    return f"this machine is held to {mm_s:g} mm/s"


def size_unknown_said(machine: str) -> str:
    """A machine whose size nobody entered."""
    return f"Ubrex does not know how large {machine} prints. Enter width, depth and height under Machines."


def written_said(name: str) -> str:
    """The name of a file of ours."""
    return f"{name}, written by Ubrex"


FEED_TEST: Final = "Feed test"
FEED_LADDER: Final = "Feed ladder"


def line_said(width_mm: float, height_mm: float, spacing_mm: float) -> str:
    """The line of a piece, as its file says it."""
    return f"{plain(width_mm)} wide, {plain(height_mm)} high, {spacing_mm:.3f} apart, mm"


def feeds_said(length_mm: float, mm_s: float) -> str:
    """What a feed test feeds."""
    return f"{plain(length_mm)} mm at {plain(mm_s)} mm/s, once"


def minutes_said(minutes: float) -> str:
    """How long a piece prints."""
    return f"{minutes:.0f} min of printing, heating not counted" if minutes >= 1 else "under a minute of printing"


def settled_said(from_mm: float) -> str:
    """From which height on a band has its temperature."""
    return f"settled from {plain(round(from_mm, 1))} mm up"


NO_REVISION: Final = "none yet"
NOT_HEATED_AT_ALL: Final = "not heated"
DISPLAY: Final = "nozzle display"


def heat_said(rest: str, first: str, max_c: float, why: str) -> str:
    """A temperature with its limit, and that of the first layer, where it is another."""
    shown = rest if rest == first else f"{rest}, first layer {first}"
    return f"{shown}, limit {plain(max_c)} °C: {why}"
