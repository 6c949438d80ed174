"""Whether filament counts as dry: what a wet test and a drying are worth, and for how long."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.materials._families import Family

HYGROSCOPIC_HOLD_H: Final = 168.0
"""So long [h] thirsty filament that was dried, or silent in the air, counts as dry (job, section 4: 7 days)."""

DRY_HOLD_H: Final = 720.0
"""The same for any other [h] (job, section 4: 30 days)."""


class Found(StrEnum):
    """What a spool's log says of wet and dry."""

    DRIED = "dried"
    SILENT = "silent"
    POPS = "pops"


class Dryness(StrEnum):
    """Whether filament counts as dry.

    ``UNTESTED``: nobody dried it or listened to it. ``OVERDUE``: that was too long ago. ``NEVER_DRIED``: it was silent, and
    is of a family that wants drying all the same.
    """

    DRY = "dry"
    UNTESTED = "untested"
    OVERDUE = "overdue"
    NEVER_DRIED = "never_dried"
    WET = "wet"


@dataclass(frozen=True, slots=True)
class DryEntry:
    """What was found, and how many hours ago."""

    found: Found
    hours_ago: float


def dryness(filament: Family, entries: Iterable[DryEntry]) -> Dryness:
    """Whether filament counts as dry, by the newest entries of its spool.

    Pops count until it was dried, and a silent strand does not take them back: a nozzle can be quiet for a metre. Families
    that always want drying pass by drying alone, new and sealed too (job, section 5).
    """
    rows = sorted(entries, key=lambda row: row.hours_ago)
    dried = next((row for row in rows if row.found is Found.DRIED), None)
    since = [row for row in rows if dried is None or row.hours_ago < dried.hours_ago]
    if any(row.found is Found.POPS for row in since):
        return Dryness.WET
    if not rows:
        return Dryness.UNTESTED
    holds = HYGROSCOPIC_HOLD_H if filament.hygroscopic else DRY_HOLD_H
    if filament.dry_always:
        if dried is None:
            return Dryness.NEVER_DRIED
        return Dryness.DRY if dried.hours_ago <= holds else Dryness.OVERDUE
    return Dryness.DRY if rows[0].hours_ago <= holds else Dryness.OVERDUE
