"""What is said about setups."""

from __future__ import annotations

from typing import Final

from ubrex.core.materials import Liner
from ubrex.server.words.machine import Keeping
from ubrex.server.words.numbers import plain

LINER_NAMES: Final = {
    Liner.LINED: "lined hotend",
    Liner.ABOVE: "hotend, liner above the hot zone",
    Liner.ALL_METAL: "all-metal hotend",
    Liner.UNKNOWN: "hotend, liner not known",
}
"""Names of hotends that nobody named otherwise."""

KEEPS: Final = {
    Keeping.COMMAND_PAIR: "keeps its setting by command",
    Keeping.TURN_IN_FILE: "keeps its setting in a file",
    Keeping.MENU: "keeps its setting in a menu",
}
FEEDS: Final = {"direct": "direct feed", "bowden": "Bowden feed"}
"""How filament is fed."""

SURFACES: Final = {
    "spring_sheet": "spring steel sheet",
    "glass": "glass",
    "plastic_sheet": "plastic sheet",
    "tape": "tape",
    "bare_metal": "bare metal",
    "other": "other surface",
}
"""Kinds of build surface, in words."""

NAME_EMPTY: Final = "Your name is still empty: every entry carries one."
TOOL: Final = "Tool"
USUAL_TOOL: Final = "Calliper"
"""What a first measuring tool is asked for as, and what it usually is."""
SETUP_CHANGED: Final = "Somebody changed this setup since you opened it. Look again before you remove it."


def no_setup_said(setup_id: int) -> str:
    """A setup that is not there."""
    return f"There is no setup {setup_id} in this workshop."


def setup_removed_said(title: str) -> str:
    """A setup that was removed."""
    return f"{title} was removed from the workshop. Its record is kept; nothing new can be measured on it."


def machine_known_said(name: str) -> str:
    """A machine that is known otherwise."""
    return (
        f"{name} is known with a different feed path, or keeps its e-steps differently. Give this machine a name of "
        "its own, or change that one with Save."
    )


def filament_known_said(name: str, family: str) -> str:
    """A filament that is known as another family."""
    return f"{name} is known as {family}. Give this one a name of its own, or change that one with Save."


def hotend_said(max_c: float, *, stated: bool) -> str:
    """How hot a hotend may be made, and that nobody stated it where nobody did."""
    return f"never above {plain(max_c)} °C{'' if stated else ', none stated'}"


def record_changed_said(noun: str, label: str, before: str, after: str) -> str:
    """What was changed of a record that limits what a setup may do."""
    return f"{noun.capitalize()}: “{label}” was {before}, is {after or 'not said'}"


def surface_said(kind: str, max_c: float | None, *, textured: bool) -> str:
    """A build surface in one line."""
    limit = "" if max_c is None else f", never above {plain(max_c)} °C"
    return f"{SURFACES[kind]}{', textured' if textured else ''}{limit}"
