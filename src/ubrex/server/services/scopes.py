"""What a value belongs to, and the key under which the database finds it again."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import KINDS, Belongs, Kind
from ubrex.server.store.records import Setup

_COLUMNS: Final = {
    Belongs.MACHINE: "machine",
    Belongs.TOOLHEAD: "toolhead",
    Belongs.HOTEND: "hotend",
    Belongs.NOZZLE: "nozzle",
    Belongs.SURFACE: "surface",
    Belongs.FILAMENT: "filament",
}
"""Column of each thing, in the order in which the key is put together."""

_SHAPES: Final = frozenset(row.belongs for row in KINDS.values())


def owner_ids(setup: Setup) -> dict[Belongs, int | None]:
    """Ids of everything a value of this setup can belong to."""
    return {
        Belongs.MACHINE: setup.toolhead.machine_id,
        Belongs.TOOLHEAD: setup.toolhead_id,
        Belongs.HOTEND: setup.toolhead.hotend_id,
        Belongs.NOZZLE: setup.nozzle_id,
        Belongs.SURFACE: setup.surface_id,
        Belongs.FILAMENT: setup.filament_id,
    }


def owners(kind: Kind, setup: Setup) -> dict[str, int | None]:
    """Columns of a value of this kind, with the ids of this setup. An id is None where the setup does not say."""
    ids = owner_ids(setup)
    return {column: ids[thing] for thing, column in _COLUMNS.items() if thing in KINDS[kind].belongs}


def scope_keys(setup: Setup) -> dict[frozenset[Belongs], str]:
    """Key of each shape of scope that this setup has; shapes with something it does not say are left out."""
    ids = owner_ids(setup)
    return {
        shape: "".join(f"{column[0]}{ids[thing]}" for thing, column in _COLUMNS.items() if thing in shape)
        for shape in _SHAPES
        if all(ids[thing] is not None for thing in shape)
    }
