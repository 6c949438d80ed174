"""A setup with its newest values: all that a print is held to. Where it stands is a longer story, told by ``standings``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ubrex.core.chain import Danger, Grade, Kind, dangers
from ubrex.core.materials import Liner
from ubrex.server.store.facts import ValueRow, fetch_newest
from ubrex.server.store.records import Setup
from ubrex.server.workshop import scope_keys


@dataclass(frozen=True)
class Tuned:
    """A setup with the newest value of each kind."""

    setup: Setup
    values: Mapping[Kind, ValueRow]

    @property
    def held(self) -> tuple[Danger, ...]:
        """What holds everything that heats."""
        return dangers_of(self.setup)


def tuned_of(setup: Setup) -> Tuned:
    """A setup with its newest values; the caller holds a connection."""
    rows = fetch_newest(list(scope_keys(setup).values()))
    return Tuned(setup, {Kind(row.kind): row for row in rows})


def dangers_of(setup: Setup) -> tuple[Danger, ...]:
    """What holds everything that heats on this setup."""
    head = setup.toolhead
    return dangers(runaway=Grade(head.machine.runaway), liner_known=head.hotend.liner != Liner.UNKNOWN.value)
