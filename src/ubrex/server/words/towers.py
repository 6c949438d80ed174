"""What is said about towers: the scales that bands are rated on, what a tower says, and what keeps it from saying it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from ubrex.core.calibrate import Criterion, FoamVerdict, RetractionVerdict, TowerVerdict
from ubrex.core.chain import Purpose
from ubrex.core.quantity import Reason, Verdict
from ubrex.server.words.numbers import DASH, NBSP, plain


@dataclass(frozen=True, slots=True, kw_only=True)
class Scale:
    """What is rated: its name, and for each of 0 to 4 a word and a sentence; 4 is best."""

    name: str
    look: str
    words: tuple[str, str, str, str, str]
    sentences: tuple[str, str, str, str, str]


_STRINGS: Final = Scale(
    name="Strings",
    look="between the two posts",
    words=("beard", "many", "some", "hairs", "none"),
    sentences=(
        "The gap is grown over.",
        "Strings in nearly every layer, some thick.",
        "A few strings; they come off with a fingernail.",
        "Single hairs; a breath of warm air takes them off.",
        "Nothing between the posts.",
    ),
)

SCALES: Final[Mapping[str, Scale]] = {
    Criterion.STRINGING.value: _STRINGS,
    Criterion.OVERHANG.value: Scale(
        name="Overhangs",
        look="the two sides that lean out",
        words=("torn", "curled", "rough", "dull", "clean"),
        sentences=(
            "Lines hang loose, or are missing.",
            "The edge has curled up; the nozzle knocked on it.",
            "Rough on the steep side, whole on the other.",
            "Both whole, the steep one without gloss.",
            "Both as smooth as an upright wall.",
        ),
    ),
    Criterion.BRIDGING.value: Scale(
        name="Bridge",
        look="the underside between the posts",
        words=("fallen", "loops", "sags", "slack", "taut"),
        sentences=(
            "Lines did not hold on the other side.",
            "Loops hang down by more than 2 mm.",
            "It sags by about 1 mm.",
            "Straight, some lines apart from the rest.",
            "Straight, all lines side by side.",
        ),
    ),
    Criterion.SURFACE.value: Scale(
        name="Surface",
        look="the walls, in slanting light",
        words=("holes", "patchy", "uneven", "even", "perfect"),
        sentences=(
            "Lines are missing.",
            "Gloss and matt change within a band, or lines stand proud.",
            "Layers can be told apart by eye.",
            "Layers can be felt, hardly seen.",
            "One even skin.",
        ),
    ),
    Criterion.BLOBS.value: Scale(
        name="Blobs",
        look="corners, and where a line begins",
        words=("lumps", "many", "some", "dots", "none"),
        sentences=(
            "Lumps that change the size.",
            "A blob in nearly every layer.",
            "Some blobs; a file takes them off.",
            "Small dots along the seam only.",
            "No blobs.",
        ),
    ),
    Criterion.DETAIL.value: Scale(
        name="Tip",
        look="the thin point at the front",
        words=("gone", "melted", "blunt", "rounded", "sharp"),
        sentences=(
            "The tip is not there.",
            "Melted over: no point left.",
            "Blunt, its shape can still be told.",
            "A little rounded.",
            "As sharp as a nozzle can draw.",
        ),
    ),
    Criterion.BOND.value: Scale(
        name="Bond",
        look="snap the tab at the back, last of all",
        words=("falls off", "splits", "snaps clean", "tears", "whole"),
        sentences=(
            "It came off when touched.",
            "Splits along a layer with two fingers.",
            "Snaps along a layer, with some force.",
            "Tears across layers.",
            "Bends, or breaks like solid plastic.",
        ),
    ),
    "strings": _STRINGS,
    "gap": Scale(
        name="Gap after travel",
        look="where the line begins on the second post",
        words=("missing", "thin", "dent", "dimple", "full"),
        sentences=(
            "The line begins late: a hole through the wall.",
            "The first millimetres are starved.",
            "A dent that can be felt.",
            "A dimple that can only be seen.",
            "The line is full from its first point.",
        ),
    ),
}  # fmt: skip
"""Scales by criterion; under every figure stands its word, so that a 4 is never read as many."""

VETOES: Final[Mapping[str, tuple[str, str]]] = {
    "failed": ("band failed", "This band failed: it is out, whatever it looked like."),
    "missing": ("not printed", "The tower ended before this band."),
    "clicks": ("clicks", "The extruder clicked or ground: this distance and all longer ones are out."),
    "drops": ("dark drops", "Dark drops: past what it stands, this band and all hotter ones are out."),
    "snaps": ("snaps", "The wall snaps like a biscuit: this band and all hotter ones are out."),
    "smell": ("smells", "A sharp smell on breaking: this band and all hotter ones are out."),
}
"""What takes a band out: a word, and a sentence."""

PURPOSE_NAMES: Final[Mapping[Purpose, str]] = {
    Purpose.EVERYDAY: "Everyday",
    Purpose.STRENGTH: "Strength",
    Purpose.LOOKS: "Looks",
    Purpose.FIT: "Fit",
}
"""What a tower can be rated for."""

PURPOSE_WHY: Final[Mapping[Purpose, str]] = {
    Purpose.EVERYDAY: "bond, strings and surface count twice",
    Purpose.STRENGTH: "bond counts five times, and has to be there",
    Purpose.LOOKS: "surface counts four times, strings three",
    Purpose.FIT: "blobs count three times",
}

TOWER_PROCEDURE: Final = (
    "Print the tower with the numbers it was written for. Stay for the first layers, air the room.",
    "Let it cool on the plate, then take it off whole. Do not snap anything yet.",
    "Rate what you see, the ends first: 0 to 4, the word stands under the figure. Slanting light helps.",
    "Last of all snap the tabs at the back, coldest first, over a cloth and with eyes covered, and rate how each broke.",
)

PULL_PROCEDURE: Final = (
    "Print the tower. Listen: note the band in which the extruder clicks or grinds.",
    "Rate the strings between the posts, and where the line begins again on the second post.",
    "If strings hardly change from end to end, distance is not the lever.",
)

FOAM_PROCEDURE: Final = (
    "Print the tower at one speed: foam needs its time in the melt. Air the room; leave if it smells sharp.",
    "Let it cool. The post says the °C of each band.",
    "On each band measure the four arms from their free ends, the jaws about 9 mm in, three arms at least.",
    "Look for dark drops, bend each band, smell the break: X takes a band out, and all hotter ones with it.",
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


def tower_title(verdict: Verdict, reason: Reason, proposal: str) -> str:
    """The verdict of a tower in a few words."""
    match reason:
        case Reason.BEST_BAND:
            return f"Set {proposal}"
        case Reason.WILL_DO | Reason.ALL_ALIKE if verdict is Verdict.KEEP:
            return "Leave it alone"
        case Reason.ALL_ALIKE:
            return f"Any will do: {proposal}"
        case Reason.BEST_BEYOND | Reason.LONGER:
            return "The best lies beyond this tower"
        case Reason.MUST_NOT_MET:
            return "No band is strong enough"
        case Reason.NOT_THE_LEVER:
            return "It is not the retraction"
        case Reason.BEYOND_CAP:
            return "Only beyond what is safe"
        case Reason.STARVED:
            return "Clean ones starve the next line"
        case Reason.FINER:
            return "Not sure yet"
        case Reason.NO_FOAM:
            return "No foaming seen"
        case Reason.NO_BAND_LEFT:
            return "No band is left"
        case Reason.TOO_FEW_BANDS:
            return "Too few bands"
    return "Nothing rated yet"


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
) -> str:
    """A temperature tower in a sentence or two."""  # fmt: skip
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
        case TowerVerdict.DOES_NOT_DISCRIMINATE:
            return (
                f"This tower does not tell the temperatures apart for {aim}: {will_do} are about as good. Spend the effort "
                "elsewhere."
            )
        case TowerVerdict.PICK if in_use_c == offered_c:
            return f"For {aim} {plain(offered_c)}{NBSP}°C, in use, is the best printed band; {will_do} will do as well."
        case TowerVerdict.PICK if in_use_c is not None and low_c <= in_use_c <= high_c:
            return (
                f"For {aim} the best band is {plain(offered_c)}{NBSP}°C, and {plain(in_use_c)} is as good: {will_do} will "
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


def pull_said(
    verdict: RetractionVerdict, *, distance: str, cap: str, why: str, last: str, foaming: bool, unit: str
) -> str:
    """A retraction tower in a sentence or two."""
    match verdict:
        case RetractionVerdict.PICK:
            return f"{distance}{NBSP}{unit} is the least that is good enough, for strings and for the line after."
        case RetractionVerdict.GOOD_EVERYWHERE:
            return f"Strings never were a problem here: the least, {distance}{NBSP}{unit}, will do."
        case RetractionVerdict.DOES_NOT_RESPOND if foaming:
            return (
                "Strings do not respond to distance. With foam that is expected: warm air afterwards, no longer pull."
            )
        case RetractionVerdict.DOES_NOT_RESPOND:
            return "Strings do not respond to distance: dry the filament first, then go 5 to 10 °C cooler."
        case RetractionVerdict.BEYOND_LIMIT:
            return f"Only bands beyond {cap}{NBSP}{unit} were clean, or clicked: {why}. Dry it, or go cooler."
        case RetractionVerdict.CONFLICT_GAP:
            return "Pulls that clean also starve the line after: lower the temperature, prime a little more, or slower."
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


def foam_said(
    verdict: FoamVerdict, *, chosen: str, low: str, high: str, flow: str, half: str, ends: tuple[str, str]
) -> str:
    """A foaming tower in a sentence or two."""
    match verdict:
        case FoamVerdict.PEAK:
            return f"It foams most at {chosen}{NBSP}°C ({low}{DASH}{high}); flow there {flow} ± {half}{NBSP}%."
        case FoamVerdict.PLATEAU:
            return (
                f"Equally foamed from {low} to {high}{NBSP}°C: take the coolest, {chosen}; flow there {flow} ± "
                f"{half}{NBSP}%."
            )
        case FoamVerdict.EXTEND_HOTTER:
            return f"Walls still grow at {ends[1]}{NBSP}°C: print a hotter tower, if hotend and filament allow it."
        case FoamVerdict.EXTEND_COOLER:
            return f"Walls are widest at {ends[0]}{NBSP}°C already: print a cooler tower."
        case FoamVerdict.NO_RESPONSE:
            return (
                "Walls are alike over the whole range: no foaming seen. Another range, or filament that does not foam?"
            )
        case FoamVerdict.NO_BAND_LEFT:
            return "Even the coldest band is taken out: print a cooler tower."
    return "A peak takes six bands or more: print a tower with more."


def wet_test_said(dry: str) -> str:
    """Why a run opens with the wet test."""
    return (
        "Feed 50 mm into the air, hot, before anything is printed. Smooth and silent: go on. Pops, bubbles or steam: it is "
        f"wet, and a tower of wet filament measures the water. {dry}"
    )


def left_said(left: int, *, matters: bool) -> str:
    """How many ratings are still asked for, and whether they could matter."""
    if left == 0:
        return "Everything that counts is rated."
    many = "One rating left" if left == 1 else f"{left} ratings left"
    return f"{many}." if matters else f"{many}. {'It' if left == 1 else 'They'} cannot change the pick."
