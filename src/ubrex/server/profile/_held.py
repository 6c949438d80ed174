"""Whether the machine is known to hold a value: confirmed by a run, read back, or asked for anew."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import (
    EFFECTS,
    KINDS,
    Done,
    Effect,
    Held,
    Kind,
    Origin,
    confirms,
    machine_holds,
)
from ubrex.server.store.facts import KeptRow, ReadBackRow, ValueRow

DAY_S: Final = 86400.0


def confirmation(value: ValueRow, kept: KeptRow | None) -> KeptRow | None:
    """The run that read this value on the machine after it was written, and kept it; None if none did."""
    if kept is None or not confirms(value=value.number, written_at=value.at_s, kept=kept.current, kept_at=kept.at_s):
        return None
    return kept


def held_of(value: ValueRow, kept: KeptRow | None, read_back: ReadBackRow | None, asked: Done | None) -> Held:
    """What is known of a value on the machine; ``asked``: what asks most of it since.

    E-steps are read back whenever they were set, since so many machines lose them; else after what may have lost it.
    """
    kind = Kind(value.kind)
    lost = asked is not None and EFFECTS[asked.change].get(KINDS[kind].step) is Effect.RE_ENTER
    read = read_back
    if read is not None and lost and asked is not None and read.at_s / DAY_S <= asked.at_day:
        read = None
    return machine_holds(
        Origin(value.origin),
        kept_in_place=value.action == "keep" or (kind is not Kind.E_STEPS and read is None),
        confirmed=confirmation(value, kept) is not None,
        lost=lost,
        read_back_matches=None if read is None else read.matches,
    )
