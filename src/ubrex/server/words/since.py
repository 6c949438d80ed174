"""What is said of two prints of the same part, one after the other."""

from __future__ import annotations

from typing import Final

from ubrex.server.words.numbers import NBSP, plain
from ubrex.server.words.scales import SCALES
from ubrex.server.words.wear import came_out_said

FIRST: Final = "The first of this part on record: there is nothing to hold it against."
STOPPED: Final = "One of the two was stopped early: how it would have come out is not known."
SCATTER: Final = "Nothing that is on record changed: that is scatter, or something that nobody wrote down."
ALIKE: Final = "Nothing that is on record changed, and it came out alike."
NOTHING: Final = "nothing"
MACHINE, HOTEND, NOZZLE, SURFACE, FILAMENT, SPOOL = "Machine", "Hotend", "Nozzle", "Surface", "Filament", "Spool"
DRIED, ROOM, DAMP = "Spool dried", "Room", "Damp in the room"


def before_said(what: str, when: str, outcome: str) -> str:
    """The print before."""
    return f"{what}, {when}: {came_out_said(outcome, None)}"


def seen_said(sign: str, then: float, now: float) -> str:
    """What moved on its scale."""
    return f"{SCALES[sign].name} {plain(then)} to {plain(now)}."


def profile_said(count: int) -> str:
    """How far the profile is from an attempt now."""
    if count == 0:
        return "The profile says today what was set then."
    return f"{_things(count)} {'differs' if count == 1 else 'differ'} in the profile now: as it was then, and as it is."


def credited_said(name: str) -> str:
    """One change, and a difference too large for one print each to be chance."""
    return f"{name} alone changed, and that much is real. A few clean prints more before it is called mended."


def alike_said(count: int) -> str:
    """Something changed, and it came out the same."""
    return f"{_things(count)} changed, and it came out alike: no difference was seen."


def alone_said(name: str) -> str:
    """One change before a print that came out otherwise."""
    return f"{name} alone changed. One print each proves nothing yet: print it again, and once more the way it was."


def several_said(count: int, keep: list[str], undo: list[str]) -> str:
    """Several changes before a print that came out otherwise; what to print next, where settings can be undone."""
    said = f"{_things(count)} changed and cannot be told apart."
    if undo:
        rest = f", keep {' and '.join(keep)}" if keep else ""
        return f"{said} What tells most: undo {' and '.join(undo)}{rest}, and print it again."
    return f"{said} Change one thing at a time to know."


def hours_said(hours: float) -> str:
    """Hours in the dryer."""
    return f"{plain(hours)}{NBSP}h"


def _things(count: int) -> str:
    return "One thing" if count == 1 else f"{count} things"
