"""What to send or type into the machine, and what a read-back says."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ubrex.server.words.numbers import NBSP


class Keeping(StrEnum):
    """How a machine keeps its extruder setting."""

    COMMAND_PAIR = "command_pair"
    TURN_IN_FILE = "turn_in_file"
    MENU = "menu"


@dataclass(frozen=True, slots=True)
class Instruction:
    """One thing to do; ``send`` is what to send or type, letter by letter."""

    text: str
    send: str | None = None


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


def how_to_set(keeping: Keeping, setting: str) -> list[Instruction]:
    """Set, save, cool down, switch off and on: the order in which nothing is lost and nothing is harmed."""
    match keeping:
        case Keeping.COMMAND_PAIR:
            first = [
                Instruction("Set it:", f"M92 E{setting}"),
                Instruction("Save it:", "M500"),
            ]
        case Keeping.TURN_IN_FILE:
            first = [
                Instruction("In the extruder's part of the configuration file, set mm per motor turn to", setting),
                Instruction("Save the file and restart the machine's firmware service."),
            ]
        case Keeping.MENU:
            first = [
                Instruction("In the machine's menu, set extruder steps per mm to", setting),
                Instruction("Choose the menu's own entry for storing settings; leaving the menu is not enough."),
            ]
    return [
        *first,
        Instruction(f"Heaters off. Wait until the hotend is below 50{NBSP}°C: its fan keeps heat from climbing."),
        Instruction("Switch off, wait 10 seconds, switch on."),
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
