"""What is said about records: machines, hotends, filaments, spools, and the room."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from ubrex.core.materials import Liner
from ubrex.server.words.numbers import plain

IN_FUTURE: Final = "That lies in the future: when was it?"
ROOM_UNREAD: Final = "Nobody has read the room yet."
ROOM: Final = "The room"
HUMIDITY: Final = "Humidity"
ROOM_WHY: Final = "people stand in it"
HUMIDITY_WHY: Final = "air holds 0 to 100 %"
DRAUGHTY: Final = ", in a draught"
AS_THE_LABEL: Final = "as the label says"
NEVER_DRIED: Final = "never dried"

NOT_DRIED: Final = "not dried enough to count"

LINERS: Final = {
    Liner.LINED: "liner in the hot zone",
    Liner.ABOVE: "liner above the hot zone",
    Liner.ALL_METAL: "no liner",
    Liner.UNKNOWN: "liner: nobody knows",
}
"""Where the liner of a hotend ends, in few words."""


def changed_meanwhile_said(noun: str) -> str:
    """A record that somebody changed while it was open."""
    return f"Somebody changed this {noun} while you were at it. What you typed is still here; look again."


def changed_just_now_said(noun: str) -> str:
    """A record that somebody changed at the same moment."""
    return f"Somebody changed this {noun} at the same moment. Look again."


def changed_before_retiring_said(noun: str) -> str:
    """A record that somebody changed before it was to be retired."""
    return f"Somebody changed this {noun} since you opened it. Look again before you retire it."


def retired_with_machine_said(noun: str) -> str:
    """A record that is not retired alone."""
    return f"A {noun} is retired with its machine."


def still_in_use_said(setups: Sequence[str]) -> str:
    """What is in use is not retired."""
    some = "; ".join(setups[:3]) + (" and more" if len(setups) > 3 else "")
    return f"Still in use: {some}. Take those setups out of use first."


def name_taken_said(noun: str, name: str) -> str:
    """A name that another one has."""
    return f"There is another {noun} named {name}."


def other_strand_said(known_mm: float, stated_mm: float) -> str:
    """A filament cannot become one of another thickness."""
    return f"{plain(known_mm)} mm is on record for it: add filament of {plain(stated_mm)} mm as another one."


def dry_on_label_said(celsius: float, hours: float) -> str:
    """Drying as printed on a spool."""
    return f"{plain(celsius)} °C for {plain(hours)} h, on the label"


def dry_usual_said(celsius: str, hours: str, *, always: bool) -> str:
    """Drying as is usual for a family."""
    return f"{celsius} for {hours} usual{', new and sealed too' if always else ''}"


def heavier_than_full_said(grams: float, full_g: float) -> str:
    """A spool that weighs more than it ever held."""
    return (
        f"{plain(grams)} g is more than this spool holds when full, {plain(full_g)} g. "
        "Was the empty spool weighed with it?"
    )


def room_read_said(when: str) -> str:
    """A room that was read too long ago to say anything of tonight."""
    return f"read {when}"


def weighs_far_said(grams: float, left_g: float) -> str:
    """A spool that weighs a power of ten more or less than is left by what was printed."""
    return (
        f"{plain(grams)} g, and {plain(round(left_g))} g should be left by what was printed: a slipped point? "
        "If not: say why in the note."
    )


def not_so_thick_said(mm: float, stated_mm: float) -> str:
    """A diameter of another strand."""
    return f"{plain(stated_mm)} mm filament is never {plain(mm)} mm thick. Type it again, or change the filament."


def spool_left_said(left: str, full_g: str, printed_g: str) -> str:
    """What should be left on a spool, and what was printed from it since it was weighed."""
    return f"{left} left of {full_g} g{f', {printed_g} g printed since' if printed_g else ''}"
