"""What ways of measuring are called, for the provenance of a value: calibrations say it, and stand above this room."""

from __future__ import annotations

from typing import Final

_NAMES: Final[dict[str, str]] = {}


def name_method(method: str, name: str) -> None:
    """Say what a way of measuring is called, in a few words that fit into a sentence."""
    _NAMES[method] = name


def method_name(method: str) -> str:
    """What a way of measuring is called; its own key for one that no calibration knows any more."""
    return _NAMES.get(method, method)
