"""What commands do that no move shows: heat by themselves, change what a machine keeps, take a guard away, wait.

Names of commands and what they do: the common dialect of machines that are told what to do line by line.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class Deed(StrEnum):
    """What a command does to a machine beyond moving, heating and feeding as it says."""

    HEATS_ITSELF = "heats_itself"
    FORGETS = "forgets"
    SETS_E_STEPS = "sets_e_steps"
    SETS_MACHINE = "sets_machine"
    UNGUARDS = "unguards"
    WAITS = "waits"


HARMFUL_DEEDS: Final = frozenset(Deed) - {Deed.WAITS}
"""What outlasts a file, or heats to a number of its own: nothing that is printed holds it, nor a block of an owner."""


@dataclass(frozen=True, slots=True)
class Act:
    """A command that does something of the kind, on which line, at which height; ``number``: what it sets, where it says."""

    deed: Deed
    name: str
    line: int
    z_mm: float
    number: float = 0.0


_ALWAYS: Final[Mapping[str, Deed]] = (
    dict.fromkeys(("M303", "M306"), Deed.HEATS_ITSELF)
    | dict.fromkeys(("M502", "M997"), Deed.FORGETS)
    | dict.fromkeys(("M301", "M304", "M428", "M665", "M666"), Deed.SETS_MACHINE)
    | dict.fromkeys(("M0", "M1", "M25", "M226", "M600", "M601"), Deed.WAITS)
)

QUIET: Final = frozenset({
    "G4", "G29", "M18", "M31", "M73", "M75", "M76", "M77", "M84", "M105", "M110", "M115", "M117", "M118", "M155",
    "M92", "M201", "M203", "M204", "M205", "M206", "M211", "M300", "M302", "M400", "M420", "M500", "M501", "M503", "M851",
    "T0",
})  # fmt: skip
"""Commands that change nothing a file is judged by: waiting, telling, levelling, limits of motion, storing and loading;
and those below with letters that make no difference.
"""


def act_of(name: str, values: Mapping[str, float], line: int, z_mm: float) -> Act | None:
    """What a command does beyond moves, heat and feed; None where it does nothing of the kind.

    ``values``: the numbers behind its letters. A guard that is put back is no deed; any other temperature for it is.
    """
    deed = _ALWAYS.get(name)
    number = 0.0
    if name == "M92" and "E" in values:
        deed, number = Deed.SETS_E_STEPS, values["E"]
    elif (name == "M92" and values.keys() & set("XYZ")) or (name in {"M206", "M851"} and "Z" in values):
        deed = Deed.SETS_MACHINE
    elif (name == "M302" and (values.get("P") or "S" in values)) or (name == "M211" and values.get("S") == 0):
        deed = Deed.UNGUARDS
    return None if deed is None else Act(deed, name, line, z_mm, number)
