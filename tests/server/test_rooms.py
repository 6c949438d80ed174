"""Rooms of the server: a door that lists what it shows, nothing reached behind it, and sentences in one place."""

from __future__ import annotations

import ast
import importlib
import inspect
from pathlib import Path

import pytest

import ubrex.server
from ubrex.server.calibrations import CALIBRATIONS, Calibration, missing_of

SERVER = Path(ubrex.server.__file__).parent
ROOMS = ["desk", "workshop", "profile", "printing", "calibrations", "runs", "bench"]
CALIBRATION_ROOMS = [path.name for path in sorted((SERVER / "calibrations").iterdir()) if (path / "_run.py").exists()]
MODULES = sorted(SERVER.parent.rglob("*.py"))


@pytest.mark.parametrize("room", [*ROOMS, *(f"calibrations.{name}" for name in CALIBRATION_ROOMS)])
def test_a_room_shows_exactly_what_its_door_lists(room: str) -> None:
    """Nothing leaves a room by accident, and nothing it lists is missing."""
    door = importlib.import_module(f"ubrex.server.{room}")
    public = {
        name
        for name, value in vars(door).items()
        if not name.startswith("_") and not inspect.ismodule(value) and (name in door.__all__ or _made_in(value, room))
    }
    assert public == set(door.__all__)


def _made_in(value: object, room: str) -> bool:
    """Whether something was made in a room; what its record is made of, and the records of rooms in it, are not shown."""
    made_in_a_calibration = room.startswith("calibrations.") or isinstance(value, Calibration)
    return not made_in_a_calibration and getattr(value, "__module__", "").startswith(f"ubrex.server.{room}.")


def test_nobody_reaches_behind_a_door() -> None:
    """A private module is imported by its own room only."""
    found = []
    for path in MODULES:
        here = ".".join(("ubrex", *path.relative_to(SERVER.parent).with_suffix("").parts))
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.ImportFrom) or not (node.module or "").startswith("ubrex.server."):
                continue
            parts = (node.module or "").split(".")
            private = next((place for place, part in enumerate(parts) if part.startswith("_")), None)
            if private is not None and not here.startswith(".".join(parts[:private])):
                found.append(f"{here}: {node.module}")
    assert found == []


def test_every_calibration_is_whole_and_has_a_room() -> None:
    """One folder, one record; what the register holds is all there is."""
    assert [missing_of(one) for one in CALIBRATIONS] == [[] for _ in CALIBRATIONS]
    rooms = {one.case.__module__.split(".")[3] for one in CALIBRATIONS}
    assert rooms == set(CALIBRATION_ROOMS)
