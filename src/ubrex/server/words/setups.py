"""What is said about setups."""

from __future__ import annotations

from typing import Final

from ubrex.server.words.numbers import plain

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
        f"{name} is known with another feed path, or another way to keep its e-steps. Give this machine a name of its own, "
        "or change that one with Save."
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
