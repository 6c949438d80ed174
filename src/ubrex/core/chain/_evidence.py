"""Whether a machine is known to hold the value that is recorded for it."""

from __future__ import annotations

from enum import StrEnum

from ubrex.core.chain._standing import SHOWN_HERE, Origin


class Held(StrEnum):
    """What is known of a value on the machine."""

    VERIFIED = "verified"
    UNVERIFIED = "unverified"
    LOST = "lost"
    DIFFERS = "differs"


def confirms(*, value: float, written_at: float, kept: float, kept_at: float) -> bool:
    """Whether a run that kept ``kept`` shows that the machine holds ``value``: it read that number there afterwards."""
    return kept_at > written_at and kept == value


def machine_holds(
    origin: Origin, *, kept_in_place: bool, confirmed: bool, lost: bool, read_back_matches: bool | None
) -> Held:
    """What is known of a value on the machine (job, chain row 2: save, switch off, read back).

    Parameters
    ----------
    origin
        Where the value comes from; one that was not measured here was read from the machine, or is its owner's word.
    kept_in_place
        Whether the run that made it kept what the machine had.
    confirmed
        Whether a later run read it there and kept it.
    lost
        Whether something was done since that can lose it: new firmware, settings reset.
    read_back_matches
        Whether the last read-back, after whatever may have lost it, was the very setting; None without one.
    """
    if lost:
        return Held.LOST if read_back_matches is None else Held.DIFFERS
    if origin not in SHOWN_HERE or kept_in_place or confirmed:
        return Held.VERIFIED
    if read_back_matches is None:
        return Held.UNVERIFIED
    return Held.VERIFIED if read_back_matches else Held.DIFFERS
