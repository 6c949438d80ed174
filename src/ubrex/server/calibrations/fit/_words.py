"""What is said of fits."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import FitCombined, FitResult, FitVerdict
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import DASH, NBSP, signed

LADDER: Final = MethodWords(
    name="Fit ladder, tried by hand",
    short="fit ladder",
    why=("At which gap between hole and peg your parts go snug, and from which they run free.",),
    procedure=(
        "Print the ladder as your parts lie: the same way up, with the same layers and walls.",
        "Each hole says its gap in hundredths of a millimetre, both sides together: 15 is 0.15.",
        "Hold the peg by its foot and try its upper end, tightest hole first; wipe seams and strings off before.",
        "Say of each hole how it goes. Ten tries wear a fit: count the first that is clean.",
        "What runs on metal or on another filament has a ladder of its own: name it before you print.",
    ),
    reads="answers of 0 to 3",
)
SLICED_ELSEWHERE: Final = (
    "Sliced by your own program, what that does to holes is measured with it, as in your parts: the same layers, walls and "
    "way up."
)
WANTS: Final = "For parts that"
PURPOSES: Final = {"snug": "go snug", "free": "run free"}
MATE: Final = "What goes in"
MATE_HINT: Final = "Empty: a peg of the same filament is printed beside the holes. Otherwise name it: steel rod, dowel."
PEG: Final = "Its diameter"
PEG_HINT: Final = "Of a rod: as you measured it."
PEG_WHY: Final = "pegs are 2 to 40 mm thick"
LOW, HIGH, COUNT, SPEED = "Tightest gap", "Widest gap", "Holes", "Speed"
GAP_HINT: Final = "Hole minus peg, both sides together: a gap on each side counts twice."
GAP_WHY: Final = "gaps are -0.2 to 1.5 mm"
UPSIDE_DOWN: Final = "The widest has to be more than the tightest."
TOO_FEW: Final = "Four holes or more: nothing can be told from fewer."
TOO_CLOSE: Final = "Gaps under a hundredth apart cannot be written: fewer holes, or a wider range."
LONG_NAME: Final = "A short name will do: 60 letters."
SCORE_NOTE: Final = "how sure, by all answers"
BY_HAND: Final = "Some fitting by hand may remain; it holds for this filament, layer and way up."


def title_said(found: FitResult, *, free: bool) -> str:
    """The verdict in a few words."""
    gap = f"{decimal_text(found.gap_mm or 0.0, 2)}{NBSP}mm"
    match found.verdict:
        case FitVerdict.PICK:
            return f"Design {gap}: {'runs free' if free else 'snug'}"
        case FitVerdict.EXTEND_TIGHTER if found.gap_mm is not None:
            return f"Design {gap}: the smallest already runs free"
        case FitVerdict.EXTEND_TIGHTER:
            return "Snug lies tighter than this ladder"
        case FitVerdict.EXTEND_WIDER:
            return f"{'Free' if free else 'Snug'} lies wider than this ladder"
        case FitVerdict.FINER_STEPS:
            return "Snug lies between two holes"
        case FitVerdict.DOES_NOT_DISCRIMINATE:
            return "Every hole goes alike"
        case FitVerdict.CONTRADICTORY:
            return "These answers contradict each other"
    return "Nothing tried yet"


def fit_said(found: FitResult) -> str:
    """Where it goes snug and where it runs free, with what to do where that is not settled."""
    if found.snug_gap_mm is None or found.free_gap_mm is None:
        return "Try at least four holes."
    low, high = found.snug_low_mm or 0.0, found.snug_high_mm or 0.0
    where = (
        f"Snug at {decimal_text(found.snug_gap_mm, 2)} ({decimal_text(low, 2)}{DASH}{decimal_text(high, 2)}){NBSP}mm; runs "
        f"free from {decimal_text(found.free_gap_mm, 2)}{NBSP}mm."
    )
    match found.verdict:
        case FitVerdict.EXTEND_WIDER:
            return "None goes as wanted: print a ladder with wider gaps."
        case FitVerdict.EXTEND_TIGHTER if found.gap_mm is None:
            return "All of them are too loose: print a ladder with tighter gaps."
        case FitVerdict.FINER_STEPS:
            return f"{where} No printed hole is surely snug: print finer steps there."
        case FitVerdict.DOES_NOT_DISCRIMINATE:
            return "All go snug: from the tightest on any will do; wider gaps show where it runs free."
        case FitVerdict.CONTRADICTORY:
            return "A wider hole went tighter than a narrower one: measure those two, look for a seam or a foot."
    return where


def combined_said(found: FitCombined, run_id: int) -> str:
    """How much of a gap the contours of a size piece would take, so that an error is not corrected twice."""
    if found.verdict != "contour_and_rest" or found.model_gap_mm is None:
        return "Design the gap and leave the contours as they are: both in full would correct the same error twice."
    return (
        f"{decimal_text(found.explained_mm, 2)}{NBSP}mm of that is line width and small holes, by run {run_id}. With its "
        f"contours typed in ({signed(found.contour_outer_mm, 3)} outside, {signed(found.contour_hole_mm, 3)} in holes, a "
        f"side) design {decimal_text(found.model_gap_mm, 2)}{NBSP}mm instead. Never both in full."
    )


def mate_said(peg_mm: float, mate: str) -> tuple[str, str]:
    """What goes in, and how thick it is."""
    return mate or "its own peg", f"{decimal_text(peg_mm, 2)}{NBSP}mm"
