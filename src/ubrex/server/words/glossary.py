"""Words of the trade and of Ubrex, each in two sentences and some with a drawing, for whoever presses one."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final, NamedTuple


class Word(NamedTuple):
    """A word, what it means, and the drawing that shows it; empty where none does."""

    name: str
    text: str
    drawing: str = ""


GLOSSARY: Final[Mapping[str, Word]] = {
    "e_steps": Word(
        "E-steps",
        "How many motor steps the machine counts for 1 mm of filament. If the number is wrong, it feeds more or "
        "less than it was told, on every line of every part.",
        "feed",
    ),
    "heat": Word(
        "Heat check",
        "What the display shows against what is really there, in the melt. Every temperature of a label or a tower "
        "is read off that display.",
    ),
    "level": Word(
        "Level",
        "Whether the bed is as far from the nozzle everywhere. What is out of level cannot be mended by the "
        "Z-offset: one corner stays too high, another too low.",
    ),
    "z_offset": Word(
        "Z-offset",
        "How far the nozzle stands from where the machine believes the bed is. It sets how hard the first layer is "
        "pressed on.",
        "first_lines",
    ),
    "temperature": Word(
        "Temperature",
        "How hot the nozzle is for this filament. A tower prints a range of temperatures in one piece, and you rate "
        "each band.",
    ),
    "flow": Word(
        "Flow",
        "By how much the slicing program scales all it feeds, in percent. It is set after e-steps, from walls that "
        "were measured.",
        "walls",
    ),
    "pressure": Word(
        "Pressure compensation",
        "The melt is springy: pressure builds up and runs on. The machine feeds ahead of a corner by this much to "
        "make up for it.",
        "corners",
    ),
    "retraction": Word(
        "Retraction",
        "How far filament is taken back before the nozzle travels. Too little leaves strings; too much grinds it, "
        "or blocks a lined hotend.",
        "strings",
    ),
    "size": Word(
        "Size and fit",
        "What a part measures against its drawing. A share is shrinkage; the same amount on every size is a wall "
        "too fat or a hole too tight.",
    ),
    "top_speed": Word(
        "Top speed",
        "How much plastic the hotend melts in a second, in mm³. Above it lines starve, whatever speed is typed.",
    ),
    "liner": Word(
        "Liner",
        "A tube inside the hotend that guides the filament. One that reaches into the hot zone gives off fumes "
        "above 240 °C: the maker's page says where it ends, or a look from above into the cold, unplugged hotend: "
        "white down to the nozzle is lined.",
        "liner",
    ),
    "feed_path": Word(
        "Feed path",
        "Where the gear that pushes the filament sits. Directly above the hotend it pushes over some centimetres; "
        "through a tube over half a metre that gives, so that more has to be taken back.",
        "feed_paths",
    ),
    "runaway": Word(
        "Runaway protection",
        "The machine switches the heater off by itself when the temperature does not do what it should. Without it "
        "a loose sensor can set the machine on fire; the maker's papers say whether it is there.",
    ),
    "bore": Word(
        "Bore",
        "The hole of the nozzle, in mm; it is stamped on it or written on its bag. Lines are about as wide as it, "
        "or a little wider.",
    ),
    "interval": Word(
        "±",
        "How far the number may be off: the truth lies between number minus and number plus this, in 95 of 100 "
        "cases. It holds what the readings scatter and what the tool cannot see.",
        "interval",
    ),
    "fresh": Word(
        "Fresh",
        "Measured here, read back from the machine, and nothing was done since that touches it. It may be used as "
        "it stands.",
    ),
    "ageing": Word(
        "Ageing",
        "Still believed, but long ago or much printed since. A quick look tells whether it still holds.",
    ),
    "assumed": Word(
        "Assumed",
        "Typed, copied, read from a label or a file, never measured here. It is used, and whatever rests on it says so.",
    ),
    "check": Word("Check", "Something was done that may have moved it, or not. A few readings tell."),
    "stale": Word(
        "Stale",
        "Something was done that made it wrong for sure, or for all anybody knows. Measure it again before anything "
        "rests on it.",
    ),
    "re_enter": Word(
        "Re-enter",
        "The number is right, but the machine has lost it: firmware flashed, settings reset. Type it in again and "
        "read it back.",
    ),
    "out": Word(
        "Out",
        "The last run found it off by more than its tolerance, and it was kept. What follows inherits the error.",
    ),
    "hold": Word(
        "Hold",
        "Nothing that rests on it is measured before something else is seen to: wet filament, a safety question, a limit.",
    ),
    "safety": Word(
        "Safe to tune",
        "What has to be known before anything heats: whether the machine switches off by itself, and where the liner ends.",
    ),
    "seam": Word(
        "Seam",
        "Where each loop of a wall starts and ends. How it ends, and how the nozzle travels on, decides what one "
        "sees of it.",
    ),
    "bed": Word(
        "Bed",
        "How warm the surface is. Too cool and parts come off while they print; too warm and their foot spreads.",
    ),
    "never": Word(
        "Never measured",
        "Nobody measured it on this setup. What is usual is used where a number is needed.",
    ),
    "not_on_machine": Word(
        "Not on this machine",
        "This machine does not offer it, so there is nothing to set.",
    ),
    "scatter": Word(
        "Scatter",
        "How far readings of the same thing lie apart. More readings make their mean surer; they do not make a tool finer.",
    ),
    "seam_gap": Word(
        "Seam gap",
        "How much before the end of a closed loop the feeding stops, so that start and end do not make a bump.",
    ),
    "read_back": Word(
        "Read back",
        "Ask the machine what it holds, and type what it says. Only then is it sure that the number arrived.",
    ),
}
"""By key: steps of the chain, standings, and words that forms and screens use."""

WORDS_OF_FIELDS: Final[Mapping[str, str]] = {
    "liner": "liner", "feed_path": "feed_path", "keeps_setting": "e_steps", "runaway": "runaway", "bore": "bore",
    "bore_mm": "bore",
}  # fmt: skip
"""The word that a field of a form asks about."""
