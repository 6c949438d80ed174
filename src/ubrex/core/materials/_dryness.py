"""Whether filament counts as dry: what a wet test and a drying are worth, and for how long."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.materials._families import Family, Window

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


LEAST_SHARE: Final = 0.75
"""Of the shortest time that dries a family, so much has to be reached for a drying to count (E)."""

COOLER_C: Final = 5.0
"""So much cooler [°C] than what dries a family still does (E)."""

HOTTER_C: Final = 10.0
"""So much hotter [°C] it softens: the turns on the spool stick to each other (E)."""

TOGETHER_H: Final = 24.0
"""Dryings that ended within so long [h] count as one: two short ones, weighed in between (job, chain)."""


class DryingFault(StrEnum):
    """Why a drying is doubted; the first two dry nothing that could be counted on."""

    TOO_SHORT = "too_short"
    TOO_COOL = "too_cool"
    TOO_HOT = "too_hot"


@dataclass(frozen=True, slots=True)
class Drying:
    """What dries a filament: temperatures [°C] and times [h]."""

    celsius: Window
    hours: Window


def drying_of(filament: Family, label_c: float | None, label_h: float | None) -> Drying | None:
    """What dries a filament: what its label says before what is usual for its family; None where neither says."""
    celsius = filament.dry_c if label_c is None else Window(low=label_c, high=label_c)
    hours = filament.dry_h if label_h is None else Window(low=label_h, high=label_h)
    return None if celsius is None or hours is None else Drying(celsius, hours)


def drying_fault(asked: Drying | None, hours: float, celsius: float) -> DryingFault | None:
    """What is doubtful about a drying of so many hours at a temperature; nothing where nobody knows what is asked."""
    if asked is None:
        return None
    if celsius > asked.celsius.high + HOTTER_C:
        return DryingFault.TOO_HOT
    if celsius < asked.celsius.low - COOLER_C:
        return DryingFault.TOO_COOL
    return DryingFault.TOO_SHORT if hours < LEAST_SHARE * asked.hours.low else None


@dataclass(frozen=True, slots=True)
class DryEntry:
    """What was found, and how many hours ago; of a drying also how long [h] and how hot [°C]."""

    found: Found
    hours_ago: float
    hours: float = 0.0
    celsius: float = 0.0


def that_count(entries: Iterable[DryEntry], asked: Drying | None) -> list[DryEntry]:
    """Entries without dryings that were too cool, or too short with all that ended within a day before; the newest first."""
    rows = sorted(entries, key=lambda row: row.hours_ago)
    warm = [
        row
        for row in rows
        if row.found is Found.DRIED and drying_fault(asked, row.hours, row.celsius) is not DryingFault.TOO_COOL
    ]

    def counts(row: DryEntry) -> bool:
        if row.found is not Found.DRIED:
            return True
        together = sum(one.hours for one in warm if 0 <= one.hours_ago - row.hours_ago <= TOGETHER_H)
        return row in warm and drying_fault(asked, together, row.celsius) is not DryingFault.TOO_SHORT

    return [row for row in rows if counts(row)]


def dryness(filament: Family, entries: Iterable[DryEntry]) -> Dryness:
    """Whether filament counts as dry, by the newest entries of its spool; only those ``that_count``.

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
