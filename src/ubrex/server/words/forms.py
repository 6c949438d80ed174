"""What is said at a field that needs another look."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from ubrex.core.materials import LINED_LIMIT_C
from ubrex.core.quantity import ToolKind
from ubrex.server.words.machine import Keeping
from ubrex.server.words.numbers import plain


def still_empty(what: str) -> str:
    """Nothing was typed."""
    return f"{what} is still empty."


def not_a_number(typed: str) -> str:
    """What was typed is no number."""
    return f"“{typed}” is not a number Ubrex can read. Type it like 98.4 or 98,4."


def not_above_zero(what: str) -> str:
    """A number that can only be above 0."""
    return f"{what} must be above 0."


def out_of_range(what: str, value: float, why: str) -> str:
    """A number that cannot be, and why."""
    return f"{what} of {plain(value)} cannot be right: {why}."


TOOL_NAMES: Final[Mapping[ToolKind, str]] = {
    ToolKind.CALLIPER: "Calliper",
    ToolKind.MICROMETER: "Micrometer",
    ToolKind.RULER: "Ruler",
    ToolKind.SCALE: "Scale",
    ToolKind.THERMOMETER: "Probe thermometer",
}

USUAL_PLACES: Final[Mapping[Keeping, int]] = {Keeping.COMMAND_PAIR: 2, Keeping.TURN_IN_FILE: 3, Keeping.MENU: 1}
"""Decimals that a machine usually keeps, by how it keeps its setting."""

COARSE_TOOL: Final = "With a step this coarse nothing is usual: type the permissible error that the maker states."


def name_taken_said(noun: str, name: str) -> str:
    """A name that something else has."""
    return f"There is a {noun} named {name} already."


def no_hardness_said(typed: str) -> str:
    """Text that is no Shore hardness."""
    return f"“{typed}” is no Shore hardness. Type a number and its scale, A or D: 95 A is rubber, 40 D is hard plastic."


def above_liner_said() -> str:
    """A limit that a liner in the hot zone does not stand."""
    most = plain(LINED_LIMIT_C)
    return (
        f"A liner in the hot zone stands {most} °C for long, whatever the hotend is sold for. Enter {most} or less, or "
        "say that the liner ends elsewhere."
    )
