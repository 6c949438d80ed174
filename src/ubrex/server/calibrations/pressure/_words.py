"""What is said of a pressure tower."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import PressureResult, PressureVerdict
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import DASH, NBSP, plain
from ubrex.server.words.readings import LEAVE_IT

TOWER: Final = MethodWords(
    name="Pressure tower, rated",
    short="pressure tower, rated",
    why=("At which compensation corners neither bulge nor starve, and a line that speeds up is neither thin nor fat.",),
    procedure=(
        "Type the line by which the machine takes the value; try it on the machine first: it must not complain.",
        "Print the tower. Its front says the value of each band; along its back it goes slow, fast, slow.",
        "At its end the file gives the machine back the value on record. Where there is none, it keeps that of the last "
        "band until you set one or switch it off.",
        "Look at each band in slanting light: first at the corners, then, apart from that, at where it gets fast.",
        "Both scales have their middle: 2 is right, above it too little compensation, below it too much.",
    ),
    reads="ratings of 0 to 4, 2 is right",
)
SIGNED: Final = "too little above, too much below"
MIDDLE: Final = "right"
LOW, HIGH, COUNT = "Lowest", "Highest", "Bands"
SLOW: Final = "Slow speed"
FAST: Final = "Fast speed"
SLOW_HINT: Final = (
    "A quarter of the fast one shows most. The tower has to be as fast as the parts, or it shows nothing."
)
LINE: Final = "The line by which the machine takes it"
LINE_HINT: Final = (
    "With {value} where the number goes: M900 K{value}. It is kept with the run, and offered again next time."
)
LINE_NEEDED: Final = (
    "Type the line by which this machine takes its compensation, or say under Machines that it offers none."
)
UPSIDE_DOWN: Final = "The highest has to be more than the lowest."
TOO_FEW: Final = "Five bands or more: nothing can be told from fewer."
TOO_CLOSE: Final = "Bands that close cannot be told apart: fewer, or farther."
TOO_SLOW: Final = "The fast speed has to be at least twice the slow one: otherwise nothing shows."
DEPENDS: Final = "It holds for this filament, temperature, speed and feed path."
TYPICAL: Final = {
    True: "Direct feed is usually between 0 and 0.10 s.",
    False: "Through a tube it is usually 0.1 to 1.0 s.",
}


def bands_said(low: float, high: float, count: int) -> str:
    """The bands in a cell."""
    return f"{plain(low)}{DASH}{plain(high)}{NBSP}s, {count} bands"


def title_said(found: PressureResult) -> str:
    """The verdict in a few words."""
    match found.verdict:
        case PressureVerdict.PICK:
            return f"Set {plain(found.band_s or 0.0)}{NBSP}s"
        case PressureVerdict.KEEP:
            return LEAVE_IT
        case PressureVerdict.NONE_NEEDED:
            return "No compensation needed"
        case PressureVerdict.DOES_NOT_RESPOND:
            return "Nothing here changes with it"
        case PressureVerdict.CRITERIA_DISAGREE:
            return "Corners and speeding up disagree"
        case PressureVerdict.CONTRADICTORY:
            return "These ratings contradict each other"
        case PressureVerdict.EXTEND_HIGHER | PressureVerdict.EXTEND_LOWER:
            return "The best lies beyond this tower"
        case PressureVerdict.UNCLEAR:
            return "Not sure yet"
    return "Nothing rated yet"


def pressure_said(found: PressureResult, last_s: float) -> str:
    """What a tower says, in a sentence or two."""
    between = f"{decimal_text(found.low_s or 0.0, 3)}{DASH}{decimal_text(found.high_s or 0.0, 3)}{NBSP}s"
    match found.verdict:
        case PressureVerdict.PICK:
            return f"{plain(found.band_s or 0.0)}{NBSP}s; by both looks it lies between {between}."
        case PressureVerdict.KEEP:
            return f"{plain(found.band_s or 0.0)}{NBSP}s, in use, lies inside what they say: {between}."
        case PressureVerdict.NONE_NEEDED:
            return "Even without any it is not too little: none is needed at this speed."
        case PressureVerdict.DOES_NOT_RESPOND:
            return "Nothing here changes with the value: is it switched on, is the tower as fast as the parts?"
        case PressureVerdict.CRITERIA_DISAGREE:
            lower = found.reason == "slow_down_lower"
            less, more = ("corners", "speeding up") if lower else ("speeding up", "corners")
            return (
                f"By the {less} it is less than by the {more}: too much or too little flow does that. Check flow first."
            )
        case PressureVerdict.CONTRADICTORY if found.reason == "signs_swapped":
            return "They fit much better the other way round: above the middle is too little of it, below it too much."
        case PressureVerdict.CONTRADICTORY:
            return "Two ratings do not fit the rest: look at those bands again."
        case PressureVerdict.EXTEND_HIGHER:
            return f"Still too little at {plain(last_s)}{NBSP}s: print one that goes on from there."
        case PressureVerdict.EXTEND_LOWER:
            return "Already too much at its lowest: print one that begins at 0."
        case PressureVerdict.UNCLEAR:
            return f"Somewhere between {between}: print a second tower there."
    return "Rate the corners of at least four bands."
