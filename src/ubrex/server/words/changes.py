"""What was done, and what that makes of which step, in words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from ubrex.core.chain import EFFECTS, FOLLOWS, Change, Effect, Step
from ubrex.core.materials import Hazard, caution
from ubrex.server.words.numbers import ago
from ubrex.server.words.standing import STEP_NAMES

IN_FUTURE: Final = "That lies in the future: when was it done?"
LOGGED_ALREADY: Final = "That is logged for this day already. Say in the note what was different."
WITHDRAWN_ALREADY: Final = "This entry was taken back already."
FOLLOWS_BY_ITSELF: Final = "This follows by itself when the value is written: nothing has to be logged."
NO_SURFACE: Final = "This setup does not say what it prints on. Choose its build surface first."


@dataclass(frozen=True, slots=True)
class ChangeWords:
    """A change as it is picked from a list, as the cause of a standing, and why it matters."""

    name: str
    done: str
    why: str


CHANGES: Final[dict[Change, ChangeWords]] = {
    Change.NOZZLE_SAME: ChangeWords(
        "Nozzle changed, same size and material", "the nozzle was changed for its like",
        "a bore is never quite its number, and each nozzle ends at its own height",
    ),
    Change.NOZZLE_OTHER: ChangeWords(
        "Nozzle changed, other size or material", "a nozzle of a different size or material was fitted",
        "a different bore melts, squeezes and stops differently",
    ),
    Change.HOTEND: ChangeWords(
        "Hotend or heat break replaced", "the hotend or its heat break was replaced",
        "it melts at its own rate and shows its own degrees",
    ),
    Change.HEATER_SENSOR: ChangeWords(
        "Heater or temperature sensor replaced", "the heater or its sensor was replaced",
        "the same number is a different heat now",
    ),
    Change.SOCK: ChangeWords("Sock put on, off or renewed", "the sock was changed", "it keeps the fan off the block"),
    Change.HEAT_SINK_FAN: ChangeWords(
        "Heat-sink fan replaced", "the heat-sink fan was replaced", "without it heat climbs and the filament jams",
    ),
    Change.TOOLHEAD: ChangeWords(
        "Whole toolhead replaced", "the toolhead was replaced", "gear, motor, heater and nozzle are others",
    ),
    Change.EXTRUDER: ChangeWords(
        "Extruder, gear or motor replaced", "the extruder, its gear or motor was replaced",
        "a new gear feeds a different length in each turn",
    ),
    Change.GEAR_TENSION: ChangeWords(
        "Gear cleaned, or its tension changed", "the gear was cleaned or its tension changed",
        "tension and dirt move the feed a little, or not at all",
    ),
    Change.FEED_TUBE: ChangeWords(
        "Feed tube replaced, reseated or cut", "the feed tube was replaced or reseated",
        "its slack is what retraction takes up",
    ),
    Change.FEED_PATH: ChangeWords(
        "Feed path changed: guide, bearing, feeder", "the feed path was changed", "friction before the gear costs filament",
    ),
    Change.SURFACE_OTHER: ChangeWords(
        "Build surface of another kind", "a different kind of surface was put on", "its thickness and grip differ",
    ),
    Change.PLATE_TWIN: ChangeWords(
        "Plate swapped for its twin", "the plate was swapped for its twin", "twins differ by a few hundredths",
    ),
    Change.TOOLHEAD_SWAPPED: ChangeWords(
        "Different toolhead put on, with its own numbers", "a different toolhead was put on",
        "its e-steps and its offset have to be entered again",
    ),
    Change.LEVELLED_BY_HAND: ChangeWords(
        "Levelled by hand, until it came to rest", "it was levelled by hand", "screws move the bed under the nozzle",
    ),
    Change.LEVELLED_BY_MACHINE: ChangeWords(
        "Levelled by the machine itself", "it levelled itself", "levelling does not set the offset",
    ),
    Change.LEVEL_UNSETTLED: ChangeWords(
        "Levelling tried, it did not come to rest", "levelling did not come to rest",
        "a bed that moves between rounds is not level",
    ),
    Change.MECHANICS: ChangeWords(
        "Mechanics gone through", "the mechanics were gone through", "a loose machine cannot be tuned",
    ),
    Change.PLATE_WASHED: ChangeWords("Plate washed or glued", "the plate was washed or glued", "its prints count from here"),
    Change.MOVED: ChangeWords(
        "Levelling screws turned, bed or machine moved", "screws were turned, or the machine was moved",
        "the bed stands differently under the nozzle",
    ),
    Change.PROBE: ChangeWords("Probe moved or re-shimmed", "the probe was moved", "it finds the bed at a different height"),
    Change.CRASH: ChangeWords(
        "Crash, or a blob round the nozzle", "there was a crash, or a blob round the nozzle",
        "leads, block and bed may have shifted",
    ),
    Change.BLOCKAGE: ChangeWords("Blockage cleared", "a blockage was cleared", "a crumb may still be in there"),
    Change.FIRMWARE: ChangeWords(
        "Firmware flashed, or settings reset", "the firmware was flashed or its settings reset",
        "the stored value may be lost",
    ),
    Change.SLICING_PROGRAM: ChangeWords(
        "Slicing program changed or updated", "the slicing program was changed",
        "it may space lines and end them differently",
    ),
    Change.LINE_SHAPE: ChangeWords(
        "Line width or layer height changed",
        "line width or layer height was changed",
        "a different line needs a different squeeze",
    ),
    Change.FILAMENT_OTHER: ChangeWords(
        "Filament of a different maker or family",
        "a different filament was taken",
        "it melts, sticks and shrinks in its own way",
    ),
    Change.SPOOL_SAME: ChangeWords(
        "New spool: same filament, same colour", "a new spool was opened",
        "one wet test and one wall tell whether it is the same",
    ),
    Change.COLOUR_OTHER: ChangeWords(
        "Other colour, or diameter off by over 0.02 mm", "a different colour or diameter was taken",
        "pigment and diameter move heat and flow a little",
    ),
    Change.WET: ChangeWords(
        "Filament got wet", "the filament got wet",
        "steam foams the melt: nothing measured on it is true",
    ),
    Change.DRIED: ChangeWords("Filament dried", "the filament was dried", "dry filament strings less"),
    Change.MELT_RATE: ChangeWords(
        "Melt rate raised by over 20 %", "the melt rate was raised", "faster melt wants more heat",
    ),
    Change.ACCELERATION: ChangeWords("Acceleration raised", "acceleration was raised", "corners and frame feel it"),
    Change.TEMPERATURE_MOVED: ChangeWords(
        "Temperature moved by 5 to 9 °C", "the temperature was moved", "hotter melt oozes more",
    ),
    Change.TEMPERATURE_MOVED_FAR: ChangeWords(
        "Temperature moved by 10 °C or more", "the temperature was moved far", "melt, flow and ooze move with it",
    ),
    Change.FOAM_TEMPERATURE_MOVED: ChangeWords(
        "Temperature of foaming filament moved", "the temperature was moved", "it sets how much the foam expands",
    ),
    Change.FLOW_CHANGED: ChangeWords("Flow changed", "flow was changed", "pressure and sizes follow it"),
    Change.E_STEPS_CHANGED: ChangeWords(
        "E-steps changed", "e-steps were changed", "flow was rescaled so that nothing is corrected twice",
    ),
    Change.Z_OFFSET_CHANGED: ChangeWords("Z-offset changed", "the Z-offset was changed", "the foot of a part follows it"),
    Change.BELTS: ChangeWords(
        "Belts tightened or replaced", "the belts were touched",
        "a step is a different length on a different belt",
    ),
    Change.FRAME: ChangeWords(
        "Frame, wheels or rails adjusted", "frame, wheels or rails were adjusted",
        "the axes run differently",
    ),
    Change.PART_FAN: ChangeWords(
        "Part fan or its duct changed", "the part fan was changed",
        "it cools part and nozzle differently",
    ),
    Change.ROOM: ChangeWords(
        "Enclosure or room changed", "the enclosure or room changed",
        "parts lift and cool with their air",
    ),
    Change.HEATER_CONTROL: ChangeWords(
        "Heater control retuned", "heater control was retuned",
        "it may hold the heat better, or worse",
    ),
    Change.STOOD_STILL: ChangeWords("Stood still for months", "the machine stood still", "screws and contacts creep"),
    Change.GREASED: ChangeWords("Rails or screws greased", "the rails were greased", "its hours count from here"),
}  # fmt: skip
"""Every row of the matrix."""

CARE: Final = {
    Change.HOTEND: (Hazard.COOLING_DOWN, Hazard.MAINS), Change.HEATER_SENSOR: (Hazard.COOLING_DOWN, Hazard.MAINS),
    Change.HEAT_SINK_FAN: (Hazard.COOLING_DOWN, Hazard.MAINS), Change.TOOLHEAD: (Hazard.COOLING_DOWN, Hazard.MAINS),
    Change.EXTRUDER: (Hazard.MAINS, Hazard.PINCH), Change.NOZZLE_SAME: (Hazard.HEAT,), Change.NOZZLE_OTHER: (Hazard.HEAT,),
    Change.BLOCKAGE: (Hazard.COLD_PULL, Hazard.HEAT), Change.PLATE_WASHED: (Hazard.SOLVENTS,), Change.BELTS: (Hazard.PINCH,),
    Change.SURFACE_OTHER: (Hazard.GLASS, Hazard.BLADES), Change.CRASH: (Hazard.HEAT, Hazard.FIRE),
    Change.FIRMWARE: (Hazard.FIRE,), Change.LEVELLED_BY_HAND: (Hazard.PINCH,), Change.GREASED: (Hazard.PINCH,),
}  # fmt: skip
"""What can hurt in the work that is logged: said with it, for whoever does it next time."""


def care_said(change: Change) -> str:
    """What can hurt in a piece of work; empty where nothing does."""
    rows = [caution(hazard) for hazard in CARE.get(change, ())]
    return " ".join(f"{row.lead} {row.text}" for row in rows)


LOGGABLE: Final = tuple(change for change in Change if change not in FOLLOWS)
"""What a person logs; the rest follows from values written here."""


def change_said(change: Change, days: float) -> str:
    """What was done, and when, as the cause of a standing."""
    return f"{CHANGES[change].done} {ago(days)}"


_ASKED: Final = {
    Effect.HOLD: ("wait until the filament is dry", "Dry it first."),
    Effect.REDO: ("stale", "Measure it anew."),
    Effect.RE_ENTER: ("to be looked up", "Read the value back, and enter it again if it differs."),
    Effect.RESCALE: ("rescaled, and to be checked", "One piece tells."),
    Effect.CHECK: ("to be checked", "A quick look tells."),
}


def touched(step: Step, effect: Effect, change: Change) -> str:
    """What a change makes of a step, with its reason."""
    asked, answer = _ASKED[effect]
    return f"{STEP_NAMES[step]}: {asked}, because {CHANGES[change].why}. {answer}"


def freed(step: Step) -> str:
    """What a change makes of a step that waited, where it asks nothing else of it."""
    return f"{STEP_NAMES[step]}: waited for dry filament, and need not any more."


def consequence(change: Change) -> str:
    """What a change makes of the chain in general, the gravest first, in one line; said before it is saved."""
    effects = EFFECTS[change]
    if not effects:
        return f"Nothing goes stale: {CHANGES[change].why}."
    words = {
        Effect.HOLD: "Waits until dry",
        Effect.REDO: "Stale",
        Effect.RE_ENTER: "To look up in the machine",
        Effect.RESCALE: "Rescaled, to check",
        Effect.CHECK: "To check",
    }
    parts = [
        f"{said}: {', '.join(STEP_NAMES[step] for step, one in effects.items() if one is effect)}."
        for effect, said in words.items()
        if effect in effects.values()
    ]
    why = CHANGES[change].why
    return f"{' '.join(parts)} {why[0].upper()}{why[1:]}."
