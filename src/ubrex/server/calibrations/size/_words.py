"""What is said of sizes."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import Offset, SizeResult
from ubrex.core.quantity import Verdict
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import NBSP, plus_minus, signed
from ubrex.server.words.readings import CANNOT_TELL, LEAVE_IT, SOMETHING_WRONG

PIECE: Final = MethodWords(
    name="Stairs with windows",
    short="outer and inner sizes on one piece",
    why=(
        "What grows with the size is shrinkage; what is the same on every size is a wall too fat or a hole too tight.",
    ),
    procedure=(
        "Print the piece with the flow and the line that your parts have; let it cool on the plate until it comes off.",
        "Measure each outer size across its step, above the first millimetre: the foot is wider.",
        "Measure each window with the inside jaws, turned a little until the reading is smallest across and largest along.",
        "The other axis is a second run, with the piece turned: only where the two differ it is belts or skew.",
    ),
    reads="the size",
    slips=("at the foot", "on a blob", "jaws not square", "other size measured"),
)
AXIS: Final = "Along"
AXES: Final = {"x": "x, as it lies", "y": "y, turned by a quarter"}
CURRENT: Final = "Size scale now"
CURRENT_HINT: Final = "What stands in the slicing program; 100 where nothing does."
OUTSIDE, INSIDE = "Outer contour now", "Hole contour now"
CONTOUR_HINT: Final = "Per side, as it stands in the slicing program; 0 where nothing does."
IMPOSSIBLE: Final = "is no size of this piece."
LIMIT: Final = "Holds for this filament, as hot and as wide as it was printed. Some fitting by hand may remain."


def place_said(place: str) -> str:
    """A place, as it is asked for."""
    kind = "the outer size" if place.startswith("o") else "the window"
    return f"{kind} of {place[1:]}{NBSP}mm"


def label_said(place: str) -> str:
    """A place, as the list of readings says it."""
    return f"{'outer' if place.startswith('o') else 'inner'} {place[1:]}"


def title_said(found: SizeResult, scale: str, *, changed: bool) -> str:
    """The verdict in a few words."""
    if found.scale_verdict is Verdict.REFUSE:
        return SOMETHING_WRONG
    if found.scale_verdict is Verdict.APPLY:
        return f"Set {scale}"
    if changed:
        return "Leave the scale, set the contours"
    return CANNOT_TELL if found.scale_verdict is Verdict.REPEAT else LEAVE_IT


def size_said(found: SizeResult) -> str:
    """Scale and offsets, each with its ±."""
    said = [f"Scale {signed(found.scale_pct, 2)} {plus_minus(found.scale_half_width_95_pct)}{NBSP}%"]
    for name, one in (("outside", found.outer), ("holes", found.inner)):
        if one is not None:
            said.append(f"{name} {signed(one.offset_mm, 2)} {plus_minus(one.half_width_95_mm)}{NBSP}mm")
    return f"{', '.join(said)}."


def contour_said(name: str, one: Offset, value: float) -> str:
    """What to type for one contour, or that it stays."""
    if one.verdict is Verdict.APPLY:
        return f"{name}: {signed(value, 3)}{NBSP}mm a side."
    if one.verdict is Verdict.REFUSE:
        return f"{name}: more than 0.6{NBSP}mm off is another fault."
    return f"{name}: leave it, {signed(one.offset_mm, 2)}{NBSP}mm is not proven to matter."


def parts_said(line_mm: float, hole_mm: float) -> str:
    """What fat lines would do to both, and what they cannot explain."""
    return (
        f"Lines that are too wide would make {signed(line_mm, 2)}{NBSP}mm of both; {signed(hole_mm, 2)}{NBSP}mm they "
        "cannot explain: arcs, jaws."
    )


TOO_FEW: Final = "These sizes are too few, or too much alike, to tell scale from offset: measure the long ones too."


def strip_said(count: int, found: SizeResult) -> str:
    """The strip in words."""
    return f"{count} sizes; {size_said(found)}"
