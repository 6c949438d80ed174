"""What is said about retraction towers."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import RetractionVerdict, SpeedResult, SpeedVerdict
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import NBSP, plain, unit_text

TOWER: Final = MethodWords(
    name="Retraction tower, rated",
    short="retraction tower, rated",
    why=("The shortest retraction that is good enough; or that retraction is not the cause.",),
    procedure=(
        "Print the tower. Listen: note the band in which the extruder clicks or grinds.",
        "Rate the strings between the posts, and where the line begins again on the second post.",
        "If strings hardly change from end to end, distance is not the lever.",
    ),
    reads="ratings of 0 to 4",
)

SPEED_TOWER: Final = MethodWords(
    name="Tower of retraction speeds, rated",
    short="retraction speeds, rated",
    why=("The slowest speed that strings no more than the fastest; or that speed makes no difference.",),
    procedure=(
        "Find the distance first: all bands are pulled back by the same.",
        "Print the tower. Listen: note the band in which the extruder clicks or grinds.",
        "Rate the strings between the posts, both ends first.",
    ),
    reads="ratings of 0 to 4",
)
DISTANCE: Final = "Retraction"
DISTANCE_HINT: Final = "The same in all bands: find it before its speed."
AT_DISTANCE: Final = "It holds for this distance."

ALL_STRINGS: Final = "Strings, all told"
ONE_AT_A_TIME: Final = "One change at a time: dry, then cooler, then distance."
COUNT: Final = "Count one side of the band, layer by layer; type the number, then Enter."
STEP_UP: Final = "Step up from none, and stop at the first click."
UPSIDE_DOWN: Final = "The most has to be more than the least."
TOO_CLOSE: Final = "Bands that close cannot be told apart: fewer, or farther."
STRINGS: Final = {"rated": "rated 0 to 4", "counted": "counted"}
STRINGS_HINT: Final = "Counting says more, and takes longer: one side of each band, layer by layer."


def method_said(count: int, what: str) -> str:
    """How it is found."""
    return f"retraction tower, {count} {what}"


def bands_said(count: int, nozzle_c: float) -> str:
    """How many bands, and how hot."""
    return f"{count} bands, at {plain(nozzle_c)} °C"


def most_said(most: float, unit: Unit, why: str) -> str:
    """The cap, and why."""
    return f"at most {plain(most)} {unit_text(unit.value)}: {why}"


def most_here_said(most: float, unit: Unit) -> str:
    """The cap in a cell."""
    return f"at most {plain(most)} {unit_text(unit.value)} here"


def crossings_said(crossings: int | None) -> str:
    """What is counted."""
    return f"crossings with a string, of {crossings}"


def no_response_said(belief: float) -> str:
    """How much is believed that distance makes no difference."""
    return f"Believed not to respond at all: {plain(round(100 * belief))}{NBSP}%."


def as_good_said(in_use: str, unit: str) -> str:
    """What is asked before a change that gains nothing."""
    return f"{in_use} {unit} may well be good enough as it is. Change it?"


def too_few_said(count: int, fewest: int) -> str:
    """A tower from which nothing can be told."""
    return f"That makes {count}: nothing can be told from fewer than {fewest} bands."


def retraction_said(
    verdict: RetractionVerdict, *, distance: str, cap: str, why: str, last: str, foaming: bool, unit: str, in_use: str
) -> str:
    """A retraction tower in a sentence or two; ``in_use``: what is set now, where it stays."""
    match verdict:
        case RetractionVerdict.PICK | RetractionVerdict.GOOD_EVERYWHERE if in_use == distance:
            return f"{distance}{NBSP}{unit}, in use, is the least that is good enough."
        case RetractionVerdict.PICK | RetractionVerdict.GOOD_EVERYWHERE if in_use:
            return (
                f"{in_use}{NBSP}{unit}, in use, may well be good enough; the least that is for sure is {distance}: no "
                "reason to change."
            )
        case RetractionVerdict.PICK:
            return f"{distance}{NBSP}{unit} is the least that is good enough, for strings and for the line after."
        case RetractionVerdict.GOOD_EVERYWHERE:
            return f"Strings never were a problem here: the least, {distance}{NBSP}{unit}, will do."
        case RetractionVerdict.DOES_NOT_RESPOND if foaming:
            return "Strings do not respond to distance. With foam that is expected: warm air, not more retraction."
        case RetractionVerdict.DOES_NOT_RESPOND:
            return "Strings do not respond to distance: dry the filament first, then go 5 to 10 °C cooler."
        case RetractionVerdict.BEYOND_LIMIT:
            return f"Only bands beyond {cap}{NBSP}{unit} were clean, or clicked: {why}. Dry it, or go cooler."
        case RetractionVerdict.CONFLICT_GAP:
            return "What cleans also starves the line after: lower the temperature, prime a little more, or slower."
        case RetractionVerdict.UNCLEAR:
            return f"Near {last}{NBSP}{unit} it may be good enough: print a finer tower there."
        case RetractionVerdict.EXTEND_LONGER:
            return f"Still strings at {last}{NBSP}{unit}: print one that goes on to {cap}{NBSP}{unit}."
        case RetractionVerdict.AT_LIMIT:
            return f"Still strings at {cap}{NBSP}{unit}, and more is not safe: {why}. Dry it, or go cooler."
        case RetractionVerdict.NO_BAND_LEFT:
            return "Every band clicked or failed: look at the extruder before anything else."
        case RetractionVerdict.TOO_FEW_BANDS:
            return "From fewer than three bands nothing can be told: print a tower with more."
    return "Rate the strings of the shortest and the longest first."


def speed_said(found: SpeedResult, last: str, cap: str, why: str) -> str:
    """What a tower of speeds says, in a sentence or two."""
    pick = plain(found.speed_mm_s or 0.0)
    match found.verdict:
        case SpeedVerdict.PICK:
            return f"{pick}{NBSP}mm/s is the slowest that strings no more than the fastest."
        case SpeedVerdict.NO_DIFFERENCE:
            return (
                f"Speed makes no difference here: the slowest, {pick}{NBSP}mm/s, is quiet and gentle on the filament."
            )
        case SpeedVerdict.EXTEND_FASTER:
            return f"Still strings at {last}{NBSP}mm/s: print one that goes on to {cap}{NBSP}mm/s."
        case SpeedVerdict.AT_LIMIT if found.reason == "grinds_before_it_is_clean":
            return "It grinds before it is clean: dry it, or go cooler; speed does not mend that."
        case SpeedVerdict.AT_LIMIT:
            return f"Still strings at {cap}{NBSP}mm/s, and faster is not safe: {why}. Dry it, or go cooler."
        case SpeedVerdict.ALL_VETOED:
            return "Every band clicked or ground: look at the extruder before anything else."
    return "Rate the strings of the slowest and the fastest first."
