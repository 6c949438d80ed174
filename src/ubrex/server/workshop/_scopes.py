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

_SHAPES: Final = {
    shape: tuple((thing, column[0]) for thing, column in _COLUMNS.items() if thing in shape)
    for shape in {row.belongs for row in KINDS.values()}
}
"""What a key of each shape is put together from, and the letter of each thing."""


def owner_ids(setup: Setup) -> dict[Belongs, int | None]:
    """Ids of everything a value of this setup can belong to."""
    head = setup.toolhead
    return {
        Belongs.MACHINE: head.machine_id,
        Belongs.TOOLHEAD: head.id,
        Belongs.HOTEND: head.hotend_id,
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
    unsaid = {thing for thing, key in ids.items() if key is None}
    return {
        shape: "".join([f"{letter}{ids[thing]}" for thing, letter in parts])
        for shape, parts in _SHAPES.items()
        if not unsaid & shape
    }
