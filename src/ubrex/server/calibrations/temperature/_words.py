"""What is said about temperature towers."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from ubrex.core.calibrate import Stays, TowerVerdict
from ubrex.core.chain import Purpose
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.calibrations._tower_words import PURPOSE_NAMES
from ubrex.server.words.numbers import DASH, NBSP, plain

TOWER: Final = MethodWords(
    name="Temperature tower, rated",
    short="temperature tower, rated",
    why=("Bands from cold to hot, each with a bridge, overhangs, a tip, a gap and a tab to snap.",),
    procedure=(
        "Print the tower with the numbers it was written for. Stay for the first layers, air the room.",
        "Let it cool on the plate, then take it off whole. Do not snap anything yet.",
        "Rate what you see, the ends first: 0 to 4, the word stands under the figure. Slanting light helps.",
        "Last of all snap the tabs at the back, coldest first, over a cloth and with eyes covered, and rate how each broke.",
    ),
    reads="ratings of 0 to 4",
)

SAFER: Final[Mapping[str, str]] = {
    "abs": "Between two, take the hotter: ugly but whole. A cold bond splits years later.",
    "asa": "Between two, take the hotter: ugly but whole. A cold bond splits years later.",
    "pc": "Between two, take the hotter: ugly but whole.",
    "nylon": "Between two, take the hotter: layers that do not hold are the commoner fault.",
    "pla": "Between two, take the cooler: heat breaks it down, and strings.",
    "tpu": "Between two, take the cooler: heat costs spring and gloss.",
    "foaming_pla": "Between two, take the cooler: past its peak it turns brittle.",
}
"""Which error is safer, by family."""

OVERRIDE: Final = (
    "A temperature turned on the machine while it prints lasts until the print ends: it is no value of this profile. What "
    "you apply here is."
)

NOT_RATED_FOR: Final = "A tower like this is not rated for that."
WAITS: Final = f"At each border the nozzle waits 10{NBSP}s beside the tower for its new temperature."
UPSIDE_DOWN: Final = "The hottest band has to be hotter than the coldest."
SPEED_HINT: Final = "What you want to print at: a faster line wants it hotter."
ONE_SPEED_HINT: Final = "The same in all bands."
ORDERS: Final = {"below": "hottest first", "above": "coldest first"}
ORDER_HINT: Final = (
    "Hottest first: the nozzle only ever cools, and a cold band that fails takes no good one with it. Coldest first, if the "
    "hottest may sag."
)


def method_said(count: int) -> str:
    """How it is found."""
    return f"temperature tower, {count} bands"


DECIDES: Final = "decides"
"""What the break counts."""


def counts_said(weight: float) -> str:
    """How much a criterion counts."""
    return f"counts {plain(weight)}×" if weight else "counts for nothing here"


def elsewhere_said(celsius: float) -> str:
    """What is asked before a temperature is set although the best lies elsewhere."""
    return f"The tower says the best is elsewhere. Set {plain(celsius)} °C until then?"


def weak_said(in_use_c: float) -> str:
    """That what is in use may be too weak, though nothing is proven better."""
    return (
        f"By its ratings {plain(in_use_c)}{NBSP}°C is likelier too weak for strength than not, though nothing printed is "
        "surely better: look at its break before a part hangs on it."
    )


def not_looked_said(celsius: float) -> str:
    """What is asked before a temperature is set although a break still decides."""
    return f"The break that decides has not been looked at. Set {plain(celsius)} °C all the same?"


def as_good_said(in_use_c: float) -> str:
    """What is asked before a change that gains nothing."""
    return f"{plain(in_use_c)} °C is as good, and a change costs flow, retraction and top speed. Change it?"


def end_said(end: int) -> str:
    """That the best band is an end of the tower; empty if it is not."""
    if end == 0:
        return ""
    which, way = ("hottest", "hotter") if end > 0 else ("coldest", "cooler")
    return f"It is the {which} band printed: a better one may lie {way}, one more band tells."


def too_few_said(count: int, fewest: int) -> str:
    """A tower from which nothing can be told."""
    return f"That makes {count} band{'s' if count > 1 else ''}: nothing can be told from fewer than {fewest}. Widen it."


def too_many_said(count: int, most: int) -> str:
    """A tower of more bands than there can be."""
    return f"That makes {count} bands; a tower has {most} at most."


def from_said(whose: str, window: str, mm_s: float) -> str:
    """Where the bands come from."""
    return f"From {whose}, {window} at {plain(mm_s)}{NBSP}mm/s."


def whose_said(family: str) -> str:
    """Whose window it is; "" for the label's."""
    return f"what is usual for {family}" if family else "the spool's label"


def moved_said(bias_c: float) -> str:
    """That the bands are moved by what the hotend shows too much."""
    return f"This hotend shows {plain(abs(bias_c))} too {'much' if bias_c > 0 else 'little'}: moved."


def suspect_said(bias_c: float) -> str:
    """That a heat check is too far off to move anything yet."""
    return f"Its heat check of {plain(bias_c)} °C is suspect: it moves nothing until it is confirmed."


def cut_said(max_c: float, why: str) -> str:
    """Which limit cuts the tower short."""
    return f"Cut short at {plain(max_c)}{NBSP}°C: {why}. A better one may lie beyond, and this hotend may not go there."


def own_ends_said(low_c: float, high_c: float) -> str:
    """What would have been proposed instead of the ends that were typed."""
    return f"That would be {plain(low_c)}{DASH}{plain(high_c)}{NBSP}°C; you chose the ends yourself."


def look_said(celsius: float) -> str:
    """That a break has to be looked at."""
    return (
        f"How strictly the bond was rated decides this, and a break tells it to everybody alike: look at the one of "
        f"{plain(celsius)}{NBSP}°C in slanting light. Across layers it is strong enough; along a layer it is not."
    )


def temperature_said(
    verdict: TowerVerdict,
    *,
    offered_c: float,
    low_c: float,
    high_c: float,
    direction: int,
    ends_c: tuple[float, float],
    purpose: Purpose,
    in_use_c: float | None,
    stays: Stays,
    look_c: float | None,
) -> str:
    """A temperature tower in a sentence or two; ``stays``: what is in use is as good as can be told; ``look_c``: the band
    whose break decides.
    """  # fmt: skip
    if look_c is not None:
        return look_said(look_c)
    aim = PURPOSE_NAMES[purpose].lower()
    will_do = f"{plain(low_c)}{DASH}{plain(high_c)}{NBSP}°C"
    hot, cold = f"{plain(ends_c[1])}{NBSP}°C", f"{plain(ends_c[0])}{NBSP}°C"
    match verdict:
        case TowerVerdict.EXTEND_HOTTER:
            return f"Scores still rise at {hot}: print a hotter tower, if hotend and filament allow it."
        case TowerVerdict.EXTEND_COOLER:
            return f"Scores still rise at {cold}: print a cooler tower."
        case TowerVerdict.MINIMUM_NOT_MET:
            way = "hotter" if direction > 0 else "cooler"
            return f"No band bonded well enough for strength; go {way}, inside every limit. Or dry the filament and repeat."
        # No band stands out, and yet a change is due: what is in use is not among those that are as good.
        case TowerVerdict.DOES_NOT_DISCRIMINATE if in_use_c is not None and stays is Stays.NO:
            return (
                f"For {aim} {will_do} are about as good, and {plain(in_use_c)}{NBSP}°C, in use, is not one of them: "
                f"{plain(offered_c)} is the best printed band."
            )
        case TowerVerdict.DOES_NOT_DISCRIMINATE:
            return (
                f"This tower does not tell the temperatures apart for {aim}: {will_do} are about as good. Spend the effort "
                "elsewhere."
            )
        case TowerVerdict.PICK if in_use_c == offered_c:
            return f"For {aim} {plain(offered_c)}{NBSP}°C, in use, is the best printed band; {will_do} will do as well."
        case TowerVerdict.PICK if in_use_c is not None and stays is Stays.YES:
            good = "is as good" if low_c <= in_use_c <= high_c else "cannot be told from it"
            return (
                f"For {aim} the best band is {plain(offered_c)}{NBSP}°C, and {plain(in_use_c)} {good}: {will_do} will "
                "do. A change would cost flow, retraction and top speed."
            )
        case TowerVerdict.PICK:
            others = "no other band will do as well" if low_c == high_c else f"{will_do} will do as well"
            return f"{plain(offered_c)}{NBSP}°C is the best printed band for {aim}; {others}."
        case TowerVerdict.NO_BAND_LEFT:
            return "Every band is taken out: print another tower."
        case TowerVerdict.TOO_FEW_BANDS:
            return "From fewer than three bands nothing can be told: print a tower with more."
    return "Rate the coldest and the hottest band first."


def past_label_said(what: str) -> str:
    """A next tower that goes past what label or family say."""
    return f"The next tower goes past that: {what}. The label may be of another spool, or this hotend reads off."
