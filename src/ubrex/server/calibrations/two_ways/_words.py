"""What is said of two ways against each other."""

from __future__ import annotations

from typing import Final

from ubrex.core.attempts import CompareResult, CompareVerdict
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import NBSP, plain, plus_minus, signed

TOWER: Final = MethodWords(
    name="Two ways, rated blind: seam gap, Z-hop, travels, layer time",
    short="two ways, rated blind",
    why=("Whether another seam gap, hop, way of travelling or layer time is really better, or only seems so.",),
    procedure=(
        "Print the piece: its bands are the two ways by turns, A B B A; they carry their numbers, not their values.",
        "Rate each band before you look what it was: until you decide, nothing here says so.",
        "One round proves only large differences; two or three rounds see a difference of one.",
    ),
    reads="ratings of 0 to 4",
)
OF: Final = "What"
OFS: Final = {
    "seam_gap": "Seam gap",
    "z_hop": "Z-hop",
    "detour": "Travels",
    "layer_time": "Layer time",
}
A, B, ROUNDS = "One way", "The other", "Rounds"
ROUNDS_HINT: Final = "Four bands each: A B B A."
HINTS: Final = {
    "seam_gap": "How far before its beginning a line ends; below 0 it goes on beyond.",
    "detour": "How far a travel may go round, inside the part, so as not to cross an outer wall; 0: always straight.",
    "layer_time": "At least so long a layer takes: what is printed sooner is printed slower. With the fan of your parts.",
}
DETOUR_COST: Final = {True: "the longer way, in every layer", False: "straight across"}
LAYER_COST: Final = "small parts take it in every layer"
SAME: Final = "Two ways that are the same cannot be compared."
DEPENDS: Final = "It holds for this filament, heat and speed."
SCALES: Final = {"seam_gap": "seam", "z_hop": "marks", "detour": "marks", "layer_time": "cooling"}


def percent_said(gap_mm: float, bore_mm: float) -> str:
    """A seam gap as a share of the bore, as some programs take it."""
    return f"{plain(round(100 * gap_mm / bore_mm))}{NBSP}% of the bore"


def hop_said(hop_mm: float, lift_mm_s: float) -> str:
    """What a hop costs in time."""
    return f"{decimal_text(2 * hop_mm / lift_mm_s, 2)}{NBSP}s a travel at {plain(lift_mm_s)} mm/s"


def title_said(found: CompareResult, choose: str) -> str:
    """The verdict in a few words."""
    match found.verdict:
        case CompareVerdict.BETTER | CompareVerdict.WORSE:
            return f"{choose} is better"
        case CompareVerdict.PROBABLY_BETTER | CompareVerdict.PROBABLY_WORSE:
            return f"{choose} is probably better"
        case CompareVerdict.NO_REAL_DIFFERENCE:
            return "No difference that matters"
    return "Cannot tell"


def compare_said(found: CompareResult, choose: str) -> str:
    """What the ratings say, and what to do."""
    moved = (
        f"By {signed(abs(found.difference or 0.0), 1)} {plus_minus(found.half_width_95 or 0.0)} on the scale of 0 to 4."
    )
    more = found.more_prints_each
    settle = "" if more is None else f" {more} more bands of each would settle it."
    match found.verdict:
        case CompareVerdict.BETTER | CompareVerdict.WORSE:
            return moved
        case CompareVerdict.PROBABLY_BETTER | CompareVerdict.PROBABLY_WORSE:
            share = max(found.p_b_better or 0.0, found.p_a_better or 0.0)
            return f"{moved} That sure: {100 * share:.0f}{NBSP}%.{settle}"
        case CompareVerdict.NO_REAL_DIFFERENCE:
            return f"{moved} Keep the cheaper one, {choose}." if choose else f"{moved} Leave it as it is."
    return f"{moved}{settle}" if settle else f"{moved} Eight more bands of each would not settle it: leave it."
