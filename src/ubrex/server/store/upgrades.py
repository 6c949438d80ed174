"""Rows of an older backup, made into what this version stores: what migrations do to rows that are there already."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from typing import Any, Final, TypeAlias

Row: TypeAlias = dict[str, Any]

_METHODS: Final = {"tower": "temperature", "pulls": "retraction", "foam": "foaming"}


def _names(table: str, row: Row) -> Row:
    if table == "machine" and row.get("feed_path") == "remote":
        return row | {"feed_path": "bowden"}
    if table != "run":
        return row
    inputs = dict(row["inputs"])
    if inputs.pop("in_use", True) is False:
        inputs["current"] = None
    inputs.pop("of", None)
    if row["step"] == "e_steps":
        inputs.setdefault("asked", 3)
    return row | {"method": _METHODS.get(row["method"], row["method"]), "inputs": inputs}


UPGRADES: Final[Mapping[str, Callable[[str, Row], Row]]] = {"0012_names": _names}
"""What a migration does to a row of a table, by its name."""


def upgraded(table: str, row: Row, made_by: Collection[str]) -> Row:
    """A row as this version stores it; ``made_by``: the migrations its backup was made under."""
    for name, upgrade in UPGRADES.items():
        if name not in made_by:
            row = upgrade(table, row)
    return row
