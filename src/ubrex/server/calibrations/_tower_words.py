"""What is said about towers: the scales that bands are rated on, what a tower says, and what keeps it from saying it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Final

from ubrex.core.calibrate import TowerReason
from ubrex.core.chain import Purpose
from ubrex.core.gcode import HeatCap
from ubrex.core.gcode.pieces import Piece
from ubrex.core.quantity import Verdict, decimal_text
from ubrex.server.words.numbers import DASH, NBSP, plain
from ubrex.server.words.readings import LEAVE_IT

VETOES: Final[Mapping[str, tuple[str, str]]] = {
    "failed": ("band failed", "This band failed: it is out, whatever it looked like."),
    "missing": ("not printed", "The tower ended before this band."),
    "clicks": ("clicks", "The extruder clicked or ground: this distance and all longer ones are out."),
    "drops": ("dark drops", "Dark drops: past what it stands, this band and all hotter ones are out."),
    "snaps": ("snaps", "The wall snaps like a biscuit: this band and all hotter ones are out."),
    "smell": (
        "smells",
        "A sharp smell came by itself when it broke, cold: this band and all hotter ones are out. Nobody has to sniff.",
    ),
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


def tower_title(verdict: Verdict, reason: TowerReason, proposal: str) -> str:
    """The verdict of a tower in a few words."""
    match reason:
        case TowerReason.BEST_BAND:
            return f"Set {proposal}"
        case TowerReason.WILL_DO | TowerReason.ALL_ALIKE if verdict is Verdict.KEEP:
            return LEAVE_IT
        case TowerReason.ALL_ALIKE:
            return f"Any will do: {proposal}"
        case TowerReason.BEST_BEYOND | TowerReason.LONGER:
            return "The best lies beyond this tower"
        case TowerReason.MUST_NOT_MET:
            return "No band is strong enough"
        case TowerReason.NOT_THE_LEVER:
            return "Retraction is not the cause"
        case TowerReason.BEYOND_CAP:
            return "Only beyond what is safe"
        case TowerReason.STARVED:
            return "Clean ones starve the next line"
        case TowerReason.FINER:
            return "Not sure yet"
        case TowerReason.LOOK_AT_BREAK:
            return "Look at one break first"
        case TowerReason.NO_FOAM:
            return "No foaming seen"
        case TowerReason.NO_BAND_LEFT:
            return "No band is left"
        case TowerReason.TOO_FEW_BANDS:
            return "Too few bands"
    return "Nothing rated yet"


def few_said(count: int) -> str:
    """A tower of so few bands that much lies between them."""
    return f"Only {count} bands: what lies between them was not seen."


def left_said(left: int, *, matters: bool) -> str:
    """How many ratings are still asked for, and whether they could matter."""
    if left == 0:
        return "Everything that counts is rated."
    many = "One rating left" if left == 1 else f"{left} ratings left"
    return f"{many}." if matters else f"{many}. {'It' if left == 1 else 'They'} cannot change the pick."


GOOD_ENOUGH: Final = "Good enough"
OFFERED, IN_USE = "offered", "in use"
SCORE_NOTE: Final = "0 to 4, with its spread"
SPLINTERS: Final = ("Splinters.", "Snap tabs over a cloth, away from the face, with eyes covered.")


def counted_said(count: int) -> str:
    """What was counted."""
    return "string" if count == 1 else "strings"


def outside_said(whose: str) -> str:
    """A band outside a window; ``whose`` window."""
    return f"outside {whose.removeprefix('of ').removeprefix('usual for ')}"


def two_bands_said(count: int) -> str:
    """What has to be chosen to swap bands."""
    return f"Choose two of the {count} bands."


def swapped_said(first: str, second: str) -> str:
    """Two bands that were swapped."""
    return f"{first} and {second}"


def facts_said(cap: HeatCap, fan_pct: float, rate_mm3_s: float, speed_mm_s: float, swapped: Sequence[str]) -> list[str]:
    """What the drawing has to say beside the bands: limit, fan, melt rate."""
    return [
        f"never above {plain(cap.max_c)}{NBSP}°C: {cap.why}",
        f"fan {plain(fan_pct)}{NBSP}%",
        f"{plain(round(rate_mm3_s, 1))}{NBSP}mm³/s at {plain(round(speed_mm_s, 1))}{NBSP}mm/s",
        *(f"bands {row} swapped" for row in swapped),
    ]


def forbidden_said(celsius: float, cap: HeatCap) -> str:
    """A temperature that may not be set any more."""
    return f"{plain(celsius)} °C may not be set here any more: {cap.why}, {plain(cap.max_c)} °C."


def was_said(old: float, new: float, places: int) -> str:
    """What a proposal replaces."""
    said = f"was {decimal_text(old, places)}"
    if new == old:
        return said
    return f"{said}, {'up' if new > old else 'down'} {decimal_text(abs(new - old), places)}"


def cell_said(what: str, band: str, who: str) -> str:
    """A cell of the grid; ``who`` rated it, where several did."""
    return f"{what} at {band}{f' ({who})' if who else ''}"


def unlikely_said(named: Sequence[str]) -> str:
    """Ratings that the others make unlikely."""
    return f"{', '.join(named)}: unlikely beside the other bands. Look again; it is kept as it is."


def holds_for_said(speed_mm_s: float, rate_mm3_s: float) -> str:
    """What a tower holds for."""
    return f"It holds for {plain(round(speed_mm_s, 1))}{NBSP}mm/s, {plain(round(rate_mm3_s, 1))}{NBSP}mm³/s."


def slower_said(wanted_mm_s: float) -> str:
    """Why it is printed slower than was asked."""
    return f"{plain(wanted_mm_s)}{NBSP}mm/s would melt more than is known to be safe here: printed slower."


def heading(piece: Piece, unit: str, why: str) -> list[tuple[str, str]]:
    """What the head of a file says of a tower."""
    return [
        ("bands", f"{len(piece.bands)}, {plain(piece.bands[0].value)} {unit} at the bottom"),
        *(
            (
                f"band {place}",
                f"{plain(band.value)} {unit}, {band.from_mm:.2f}{DASH}{band.to_mm:.2f} mm, settled from "
                f"{band.settled_mm:.2f} mm",
            )
            for place, band in enumerate(piece.bands, 1)
        ),
        ("why these", why),
    ]


def gaps_heading(gaps_mm: Sequence[float]) -> tuple[str, str]:
    """What the head of a file says of a ladder of gaps."""
    return "gaps", ", ".join(f"{gap:.2f} mm" for gap in gaps_mm)
