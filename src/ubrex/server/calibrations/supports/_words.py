"""What is said of supports."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import FitVerdict, SupportResult
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.printing import printing_cautions
from ubrex.server.profile import Tuned
from ubrex.server.views.base import CautionOut
from ubrex.server.words.numbers import NBSP

LADDER: Final = MethodWords(
    name="Support ladder, taken off by hand",
    short="support ladder",
    why=("At which gap supports come off, and leave the roof as smooth as it can be.",),
    procedure=(
        "Print it with the layers and the fan of your parts.",
        "Each bay says its gap in hundredths of a millimetre on its roof: 40 is 0.40.",
        "Let it cool. Take the supports out from the front, widest gap first: fingers, and only then a tool.",
        "Say of each how it came off; then turn the piece over and say how the roof looks above it.",
        "A foot, or too much flow, welds supports on at any gap: those two first.",
    ),
    reads="answers of 0 to 3 and 0 to 4",
)
WANTS: Final = "Supports"
PURPOSES: Final = {"easy": "by hand", "clean": "clean roof", "hidden": "out of reach"}
WANTS_HINT: Final = "By hand: fingers do. Clean roof: a tool may help. Out of reach: it has to let go of itself."
LOW, COUNT, SPEED = "Tightest gap", "Bays", "Speed"
LOW_HINT: Final = "In layers: a support ends at a whole layer. Soluble supports need no gap and no ladder."
WHOLE: Final = "A support ends at a whole layer: 0, 1, 2 and so on."
TOO_FEW: Final = "Four bays or more: nothing can be told from fewer."
LEVER: Final = "It holds for this layer, heat and fan: the gap is a number of layers."
COMES_OFF: Final = "Comes off"
SCORE_NOTE: Final = "how sure, by whoever tried first"
SPLINTERS: Final = ("Splinters.", "Supports spring off: pull away from the face, with eyes covered.")


def cautions(tuned: Tuned) -> list[CautionOut]:
    """What every printed piece can do, and splinters."""
    lead, text = SPLINTERS
    return [*printing_cautions(tuned.setup), CautionOut(lead=lead, text=text)]


def layers_why(most: int) -> str:
    """How many layers a gap may begin with."""
    return f"0 to {most} layers"


def title_said(found: SupportResult, *, touching: bool) -> str:
    """The verdict in a few words; ``touching``: the ladder began without a gap, so that none is tighter."""
    match found.verdict:
        case FitVerdict.PICK:
            return f"Gap {_gap(found)}"
        case FitVerdict.CONFLICT:
            return "Comes off only where it is rough"
        case FitVerdict.EXTEND_WIDER:
            return "None comes off: a wider gap"
        case FitVerdict.EXTEND_TIGHTER if touching:
            return "Rough even where it touches"
        case FitVerdict.EXTEND_TIGHTER:
            return "All come off: a tighter gap is smoother"
        case FitVerdict.CONTRADICTORY:
            return "These answers contradict each other"
    return "Nothing tried yet"


def support_said(found: SupportResult, wants: str, band: int | None, *, touching: bool) -> str:
    """How surely it comes off, how it looks, and what to do where that is not settled."""
    if found.verdict is FitVerdict.CONTRADICTORY:
        return "A tighter one came off and a wider one did not: look for a foot, or a support that fell over."
    if found.verdict is FitVerdict.EXTEND_WIDER:
        return "Print a ladder with wider gaps; less heat and more fan let go sooner too."
    if found.verdict is FitVerdict.EXTEND_TIGHTER and touching:
        return "No gap is tighter than none: it is the roof. Denser roof layers, cooler, more fan, then again."
    if found.verdict is FitVerdict.EXTEND_TIGHTER:
        return "The roof is still rough at the tightest: print a ladder that begins tighter."
    if band is None or found.p_releases is None or found.underside is None:
        return "Try at least four bays, and look at their roofs."
    where = f"Comes off {'with a tool' if wants == 'clean' else 'by hand'}, "
    where += f"{100 * found.p_releases[band]:.0f}{NBSP}% sure, underside {decimal_text(found.underside[band], 1)} of 4."
    if found.verdict is FitVerdict.CONFLICT:
        return f"{where} Denser roof layers, cooler, more fan, then again."
    return where


def _gap(found: SupportResult) -> str:
    return f"{decimal_text(found.gap_mm or 0.0, 2)}{NBSP}mm"
