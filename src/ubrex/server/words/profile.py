"""What is said beside tonight's numbers: what is usual, what limits a heat, and what a setup is good enough for."""

from __future__ import annotations

from typing import Final

from ubrex.core.bead import usual_layer_mm, usual_line_mm
from ubrex.core.calibrate import FLOW_TOLERANCES_PCT
from ubrex.core.chain import BAD_PRINTS, KINDS, OF_PRINTS, Against, Kind, Purpose, Standing, Step
from ubrex.core.judge import Usual, Whose
from ubrex.core.materials import Family, Window
from ubrex.server.words.numbers import DASH, NBSP, plain, unit_text
from ubrex.server.words.standing import STEP_NAMES

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


def window_said(window: Window | None, unit: str) -> str:
    """A usual range; empty where there is none."""
    if window is None:
        return ""
    both = plain(window.low) if window.low == window.high else f"{plain(window.low)}{DASH}{plain(window.high)}"
    return f"{both}{NBSP}{unit}"


def usual_said(kind: Kind, usual: Usual | None, filament: Family, bore_mm: float) -> str:
    """What is usual for a value of this kind, and whose word that is; empty where nothing is."""
    if usual is not None:
        said = window_said(usual.window, unit_text(KINDS[kind].unit.value))
        at = "" if usual.at_mm_s is None else f" at {plain(round(usual.at_mm_s))}{NBSP}mm/s"
        return f"{said} on the label{at}" if usual.whose is Whose.LABEL else f"{said} usual for {filament.name}"
    if KINDS[kind].heats is not None or kind in {Kind.FAN, Kind.TOP_FLOW, Kind.DRYING}:
        return "see the label"
    return {
        Kind.LINE_WIDTH: f"{plain(usual_line_mm(bore_mm))}{NBSP}mm is usual for this bore",
        Kind.LAYER: f"{plain(usual_layer_mm(bore_mm))}{NBSP}mm is usual for this bore",
        Kind.FLOW: f"30{DASH}80{NBSP}% is usual for foam"
        if filament.foaming
        else f"100{NBSP}% until a wall is measured",
    }.get(kind, "")


AGAINST: Final = {
    Against.HELD: "held: go through the card “Safe to tune” first",
    Against.BAD_PRINTS: f"not yet: {BAD_PRINTS} of the last {OF_PRINTS} prints failed",
    Against.BLOCKAGES: "not yet: it was blocked more than once within a month",
    Against.DOES_NOT_FOAM: "not with this filament: it does not foam",
}
"""What speaks against a setup, whatever its numbers say."""

_LACKS: Final = {
    Standing.NEVER: "never measured",
    Standing.ASSUMED: "only assumed",
    Standing.CHECK: "to be checked",
    Standing.STALE: "stale",
    Standing.HOLD: "waits until dry",
    Standing.RE_ENTER: "to be looked up",
    Standing.OUT: "out of tolerance",
}


def good_said(against: Against | None, missing: tuple[Step, ...], standings: dict[Step, Standing]) -> str:
    """Why a setup is, or is not yet, good enough for a kind of part."""
    if against is not None:
        return AGAINST[against]
    if not missing:
        return "yes"
    step = missing[0]
    more = f" and {len(missing) - 1} more" if len(missing) > 1 else ""
    return f"not yet: {STEP_NAMES[step]} {_LACKS.get(standings.get(step, Standing.NEVER), 'not there')}{more}"


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
