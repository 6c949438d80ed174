"""What is said beside tonight's numbers: what is usual, what limits a heat, and what a setup is good enough for."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from operator import attrgetter
from typing import Final

from ubrex.core.calibrate import FLOW_TOLERANCES_PCT
from ubrex.core.chain import KINDS, Kind, Purpose, Standing, Step
from ubrex.core.materials import Family, HeatLimit, Window
from ubrex.server.words.numbers import DASH, NBSP, plain, unit_text
from ubrex.server.words.standing import STEP_NAMES

LIMITS: Final = {
    HeatLimit.HOTEND: "the stated maximum of the hotend",
    HeatLimit.HOTEND_UNSTATED: "no limit of this hotend was entered",
    HeatLimit.LINER: "the limit of its liner",
    HeatLimit.LINER_UNKNOWN: "the limit of a liner, and where this one ends is not known",
    HeatLimit.PRINTED_PARTS: "the printed parts round the hotend",
    HeatLimit.FAMILY: "what any school gives this family",
    HeatLimit.BED: "the stated maximum of the bed",
    HeatLimit.BED_UNSTATED: "no limit of this bed was entered",
    HeatLimit.SURFACE: "what the build surface stands",
    HeatLimit.ENCLOSURE: "the stated maximum of the chamber",
}
"""What a limit is the limit of."""

PURPOSES: Final = {
    Purpose.EVERYDAY: "everyday parts",
    Purpose.STRENGTH: "brackets",
    Purpose.LOOKS: "show pieces",
    Purpose.FIT: "joints",
    Purpose.LIGHTNESS: "light shells",
}
"""Parts as the workshop calls them."""


def purpose_moves(purpose: Purpose) -> str:
    """What a purpose changes besides the towers that are rated for it."""
    return f"a flow {plain(FLOW_TOLERANCES_PCT[purpose])} % off is worth a change"


WINDOWS: Final[Mapping[Kind, Callable[[Family], Window | None]]] = {
    Kind.NOZZLE: attrgetter("nozzle"),
    Kind.NOZZLE_FIRST: attrgetter("nozzle"),
    Kind.BED: attrgetter("bed"),
    Kind.BED_FIRST: attrgetter("bed"),
    Kind.FAN: attrgetter("fan"),
    Kind.TOP_FLOW: attrgetter("melt"),
    Kind.DRYING: attrgetter("dry_h"),
}
"""Values that a family has a usual range of."""


def window_said(window: Window | None, unit: str) -> str:
    """A usual range; empty where there is none."""
    if window is None:
        return ""
    both = plain(window.low) if window.low == window.high else f"{plain(window.low)}{DASH}{plain(window.high)}"
    return f"{both}{NBSP}{unit}"


def usual_said(kind: Kind, filament: Family, bore_mm: float) -> str:
    """What is usual for a value of this kind; empty where nothing is."""
    if kind in WINDOWS:
        said = window_said(WINDOWS[kind](filament), unit_text(KINDS[kind].unit.value))
        return f"{said} usual for {filament.name}" if said else "see the label"
    return {
        Kind.LINE_WIDTH: f"{plain(round(bore_mm * 1.05, 2))}{NBSP}mm is usual for this bore",
        Kind.LAYER: f"{plain(round(bore_mm / 2, 2))}{NBSP}mm is usual for this bore",
        Kind.FLOW: f"30{DASH}80{NBSP}% is usual for foam"
        if filament.foaming
        else f"100{NBSP}% until a wall is measured",
    }.get(kind, "")


def limit_said(max_c: float, of: HeatLimit) -> str:
    """The strictest limit, and which one it is."""
    return f"never above {plain(max_c)}{NBSP}°C: {LIMITS[of]}"


def beyond_said(what: str, typed_c: float, max_c: float, of: HeatLimit) -> str:
    """Why a temperature is refused."""
    return f"{what} of {plain(typed_c)}{NBSP}°C is too hot: {limit_said(max_c, of)}."


def note_needed_said(what: str, typed: str, usual: str) -> str:
    """Going outside the label or the family's window is allowed, with a reason."""
    return f"{what} of {typed} lies outside {usual}. That is allowed: say why in the note."


def good_said(missing: tuple[Step, ...], standings: dict[Step, Standing]) -> str:
    """Why a setup is, or is not yet, good enough for a kind of part."""
    if not missing:
        return "yes"
    words = {
        Standing.NEVER: "never measured",
        Standing.ASSUMED: "only assumed",
        Standing.CHECK: "to be checked",
        Standing.STALE: "stale",
        Standing.HOLD: "waits until dry",
        Standing.RE_ENTER: "to be looked up",
        Standing.OUT: "out of tolerance",
    }
    step = missing[0]
    more = f" and {len(missing) - 1} more" if len(missing) > 1 else ""
    return f"not yet: {STEP_NAMES[step]} {words.get(standings.get(step, Standing.NEVER), 'not there')}{more}"


def plan_said(minutes: int, grams: float) -> str:
    """What a plan takes."""
    if minutes == 0:
        return "nothing"
    hours, rest = divmod(minutes, 60)
    time = f"{hours}{NBSP}h {rest}{NBSP}min" if hours else f"{rest}{NBSP}min"
    return f"{time}, {plain(round(grams))}{NBSP}g"


def shared_said(others: int, *, flows_follow: bool) -> str:
    """For how many other setups a number that comes in will hold, and what follows from it there.

    >>> shared_said(2, flows_follow=False)
    'for 2 other setups too'
    """
    if others == 0:
        return ""
    said = "for another setup too" if others == 1 else f"for {others} other setups too"
    return said + (", where flow then feeds as much as before" if flows_follow else "")
