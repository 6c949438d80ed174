"""What to send or type into the machine, and what a read-back says."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.chain import Kind
from ubrex.core.waits import HOTEND_COOLS_S, POWER_OFF_S
from ubrex.server.words.numbers import NBSP, plain


class Keeping(StrEnum):
    """How a machine keeps its extruder setting."""

    COMMAND_PAIR = "command_pair"
    TURN_IN_FILE = "turn_in_file"
    MENU = "menu"


@dataclass(frozen=True, slots=True)
class Instruction:
    """One thing to do; ``send`` is what to send or type, letter by letter, ``wait_s`` how long to wait at it [s]."""

    text: str
    send: str | None = None
    wait_s: float = 0.0


def how_to_read(keeping: Keeping) -> str:
    """Where the current setting is found."""
    match keeping:
        case Keeping.COMMAND_PAIR:
            return "Send M503. The answer has a line with M92: the number behind its E is the one."
        case Keeping.TURN_IN_FILE:
            return (
                "Open the machine's configuration file. In the extruder's part stands how many mm one motor turn feeds."
            )
        case Keeping.MENU:
            return "Look in the machine's own menu, where motion settings are, for extruder steps per mm."


_SETS: Final[Mapping[Kind, tuple[str, str]]] = {
    Kind.E_STEPS: ("M92 E{}", "extruder steps per mm"),
    Kind.Z_OFFSET: ("M851 Z{}", "the Z-offset"),
    Kind.PRESSURE: ("M900 K{}", "pressure compensation"),
}
"""What is set at the machine: the command that sets it, and what its menu or file calls it."""

SAVE: Final = "M500"


def command_for(kind: Kind, setting: str) -> str:
    """The command that sets a value on a machine that takes commands."""
    return _SETS[kind][0].format(setting.replace("\N{MINUS SIGN}", "-"))


def how_to_set(kind: Kind, keeping: Keeping, setting: str) -> list[Instruction]:
    """Set, save, and for what can be lost: cool down, switch off and on, in the order in which nothing is harmed."""
    name = "mm per motor turn" if kind is Kind.E_STEPS and keeping is Keeping.TURN_IN_FILE else _SETS[kind][1]
    plain_setting = setting.replace("\N{MINUS SIGN}", "-")
    match keeping:
        case Keeping.COMMAND_PAIR:
            first = [Instruction("Set it:", command_for(kind, setting)), Instruction("Save it:", SAVE)]
        case Keeping.TURN_IN_FILE:
            part = "the extruder's part of " if kind is Kind.E_STEPS else ""
            first = [
                Instruction(f"In {part}the configuration file, set {name} to", plain_setting),
                Instruction("Save the file and restart the machine's firmware service."),
            ]
        case Keeping.MENU:
            first = [
                Instruction(f"In the machine's menu, set {name} to", plain_setting),
                Instruction("Choose the menu's own entry for storing settings; leaving the menu is not enough."),
            ]
    if kind is Kind.Z_OFFSET:
        return [
            *first,
            Instruction("Check the sign with the nozzle high, a hand on the switch, before the next print."),
        ]
    if kind is not Kind.E_STEPS:
        return first
    return [
        *first,
        Instruction(
            f"Heaters off. Wait until the hotend is below 50{NBSP}°C: its fan keeps heat from climbing.",
            wait_s=HOTEND_COOLS_S,
        ),
        Instruction(f"Switch off, wait {plain(POWER_OFF_S)} seconds, switch on.", wait_s=POWER_OFF_S),
        Instruction(f"Read the value back. {how_to_read(keeping)}"),
    ]


def read_back_said(*, setting: str, typed: str, matches: bool, is_old: bool, keeping: Keeping) -> str:
    """What the machine's answer means."""
    if matches:
        return f"Read back: the machine kept {setting}."
    if is_old:
        why = {
            Keeping.COMMAND_PAIR: "the save was not sent, or this machine only saves with its memory card in the slot",
            Keeping.TURN_IN_FILE: "the file was saved elsewhere, or the firmware service was not restarted",
            Keeping.MENU: "the menu was left without storing",
        }[keeping]
        return (
            f"The machine says {typed}, the old value: it was not kept. Most often {why}. Set and save {setting} again."
        )
    return (
        f"The machine says {typed}, not {setting}. Was the right line read, and the number typed without a slip? "
        f"If so, set {setting} again and save."
    )


LOST: Final = "The machine may have lost it: read it back again."
NOT_READ_BACK: Final = "Not read back from the machine yet."
READ_WHEN_MEASURED: Final = "Read from the machine when it was measured."
REPLACED_SINCE: Final = "This value has been replaced since. Read back the newest one."
ABOVE_ZERO: Final = "A machine that works has a setting above 0. Look again."


def no_setting_said(typed: str) -> str:
    """Text that is no setting."""
    return (
        f"“{typed}” is not a number. Type what the machine shows."
        if typed
        else "Type the number that the machine shows."
    )


def other_form_said(machine: str) -> str:
    """A machine that keeps its setting in a different form since."""
    return f"{machine} keeps its setting in a different form since: measure it again."
