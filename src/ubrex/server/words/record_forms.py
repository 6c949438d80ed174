"""What the forms of the records ask: labels, hints, choices, and why a number cannot be."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final

from ubrex.core.chain import Step
from ubrex.core.materials import FAMILIES
from ubrex.core.quantity import USUAL_STEP
from ubrex.server.words.forms import TOOL_NAMES
from ubrex.server.words.machine import Keeping
from ubrex.server.words.standing import STEP_NAMES


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """A field in words. ``why``: why a number outside its bounds cannot be; ``group``: what begins with it."""

    label: str
    hint: str = ""
    why: str = ""
    group: str = ""
    options: Mapping[str, str] = field(default_factory=dict)


SIZE_HINT: Final = "Nobody has said how large this machine prints. It is kept with the machine."

MAY_LACK: Final = (Step.HEAT, Step.E_STEPS, Step.LEVEL, Step.Z_OFFSET, Step.FLOW, Step.PRESSURE)
"""Steps that a machine may not offer."""

NOUNS: Final = {
    "machine": "machine",
    "hotend": "hotend",
    "nozzle": "nozzle",
    "surface": "build surface",
    "filament": "filament",
    "spool": "spool",
    "instrument": "measuring tool",
}
"""What a record is called."""

ASKED: Final[Mapping[str, Mapping[str, Asked]]] = {
    "machine": {
        "name": Asked(label="What you call it", group="Machine"),
        "kinematics": Asked(
            label="How it moves",
            options={
                "moving_bed": "The bed moves to and fro",
                "still_bed": "The bed moves only up and down",
                "other": "Otherwise",
            },
        ),
        "width_mm": Asked(label="Width it prints", why="beds are 20 to 3000 mm wide"),
        "depth_mm": Asked(label="Depth it prints", why="beds are 20 to 3000 mm deep"),
        "height_mm": Asked(label="Height it prints", why="machines print 20 to 3000 mm high"),
        "can_pause": Asked(label="It can pause in the middle of a print"),
        "enclosure": Asked(
            label="Round the print",
            options={"none": "Open", "passive": "Enclosed", "heated": "Heated chamber"},
            group="Heat",
        ),
        "bed_max_c": Asked(label="Maker's limit of the bed", why="beds are stated for 30 to 200 °C"),
        "chamber_max_c": Asked(label="Limit of the chamber", why="chambers are stated for 20 to 120 °C"),
        "runaway": Asked(
            label="If its temperature sensor fails, does it stop heating?",
            options={
                "unknown": "Nobody knows",
                "maker_says": "The maker says so",
                "tested": "Yes, tested as the maker says",
            },
            hint="While nobody knows, nothing that heats is offered.",
        ),
        "runaway_note": Asked(label="Where that is written, or how it was tested"),
        "feed_path": Asked(
            label="How filament is fed",
            options={"direct": "Direct: on the hotend", "bowden": "Bowden: through a tube"},
            group="Feed and settings",
        ),
        "tube_mm": Asked(label="Length of the tube", why="tubes are up to 3000 mm long"),
        "bypass_for_soft": Asked(label="Soft filament has to bypass a feeder"),
        "keeps_setting": Asked(
            label="How it keeps its e-steps",
            options={
                Keeping.COMMAND_PAIR.value: "By command, then saved",
                Keeping.TURN_IN_FILE.value: "In a file, mm per motor turn",
                Keeping.MENU.value: "Only in its own menu",
            },
            hint="Decides what you are told to type. The machine's manual says it.",
        ),
        "setting_places": Asked(
            label="Decimals it keeps",
            options={str(n): str(n) for n in range(7)},
            hint="Values are rounded to what the machine can hold.",
        ),
        "measures_offset": Asked(label="It measures its Z-offset with the nozzle itself"),
        "max_speed_mm_s": Asked(
            label="Highest speed",
            why="machines move at 5 to 1000 mm/s",
            hint="Empty: 150 mm/s.",
            group="Files written for it",
        ),
        "acceleration_mm_s2": Asked(
            label="Acceleration, mm/s²", why="machines take 10 to 50000 mm/s²", hint="For times only. Empty: 1000."
        ),
        "relative_feed": Asked(label="Filament is counted from move to move"),
        "centred": Asked(label="Its zero is the middle of the bed"),
        "start_block": Asked(
            label="Lines to run before each piece",
            hint="After homing and heating. {nozzle_c}, {bed_c}, {width_mm}, {depth_mm}, {height_mm} are filled.",
        ),
        "end_block": Asked(label="Lines to run after each piece", hint="After heaters and fan are off."),
        "screws": Asked(label="Where its bed screws are", hint="x y; x y; x y, in mm. Empty: none to turn."),
        "screw_pitch_mm": Asked(label="One turn of a screw lifts", why="screws climb 0.2 to 3 mm a turn"),
        "lacks": Asked(
            label="What it does not offer",
            hint="Such a row is shown as “not on this machine”, and the next one carries the load.",
            options={step.value: STEP_NAMES[step] for step in MAY_LACK},
        ),
    },
    "hotend": {
        "name": Asked(label="What you call it"),
        "liner": Asked(
            label="Where its liner ends",
            options={
                "unknown": "Nobody knows",
                "lined": "In the hot zone",
                "above": "Above the hot zone",
                "all_metal": "There is none: all metal",
            },
        ),
        "liner_note": Asked(label="How you know"),
        "max_c": Asked(label="Maker's limit", why="makers state 150 to 600 °C"),
        "printed_parts_max_c": Asked(
            label="Printed parts round it soften at", why="printed parts soften at 40 to 600 °C"
        ),
        "heater_w": Asked(label="Heater power, W", why="heaters have 5 to 500 W"),
        "sensor": Asked(label="Sensor"),
        "sock": Asked(label="It wears a sock"),
    },
    "nozzle": {
        "bore_mm": Asked(label="Bore", why="nozzles have 0.1 to 2 mm"),
        "material": Asked(
            label="Material", options={name: name for name in ("brass", "plated", "steel", "hardened", "other")}
        ),
    },
    "surface": {
        "name": Asked(label="What you call it"),
        "kind": Asked(
            label="Kind",
            options={
                "spring_sheet": "Spring steel sheet",
                "glass": "Glass",
                "plastic_sheet": "Plastic sheet",
                "tape": "Tape",
                "bare_metal": "Bare metal",
                "other": "Other",
            },
        ),
        "textured": Asked(label="Textured"),
        "max_c": Asked(
            label="Its own limit",
            why="sheets stand 30 to 200 °C",
            hint="Magnets, glued foils and plastic sheets let go early.",
        ),
        "stack_mm": Asked(label="Thickness of the whole stack", why="stacks are up to 50 mm thick"),
        "adhesive": Asked(label="Adhesive in use"),
        "adhesive_purpose": Asked(
            label="What it is for", options={"none": "No adhesive", "grip": "To grip", "release": "To release"}
        ),
    },
    "filament": {
        "name": Asked(label="What you call it", group="Filament"),
        "maker": Asked(label="Maker"),
        "family": Asked(label="Family", options={row.key: row.name for row in FAMILIES}),
        "colour": Asked(label="Colour"),
        "diameter_mm": Asked(label="Diameter", options={"1.75": "1.75 mm", "2.85": "2.85 mm"}),
        "density_g_cm3": Asked(label="Density, g/cm³", why="filament has 0.3 to 5 g/cm³"),
        "label": Asked(
            label="Nozzle range on the label, °C",
            hint="Like 195-220. More rows where it depends on speed: 195-220; 210-235 from 80 mm/s.",
            group="Label",
        ),
        "bed_low_c": Asked(label="Bed on the label, from", why="beds hold 0 to 150 °C"),
        "bed_high_c": Asked(label="to", why="beds hold 0 to 150 °C"),
        "dry_c": Asked(label="Drying on the label", why="dryers hold 30 to 120 °C"),
        "dry_h": Asked(label="for", why="three days dry anything"),
        "hardness": Asked(
            label="Shore hardness, of a flexible",
            hint="A number and its scale, off the label: 95 A, or 40 D.",
            group="Kind",
        ),
        "flags": Asked(
            label="It is",
            hint="Filled and abrasive ones want a hardened nozzle and a mask when sanded.",
            options={
                "filled": "filled",
                "abrasive": "abrasive",
                "glitter": "glitter",
                "foaming": "foaming",
                "silky": "silky",
                "fast": "made for speed",
            },
        ),
    },
    "spool": {
        "name": Asked(label="Number or mark on it"),
        "full_g": Asked(label="Filament on it when full", why="spools hold 1 g to 20 kg"),
        "price": Asked(
            label="Price", why="between 0.01 and 100 000", hint="In your money: what a part costs stands beside it."
        ),
        "stored": Asked(label="Stored how"),
    },
    "instrument": {
        "name": Asked(label="What you call it"),
        "kind": Asked(label="Kind", options={kind.value: TOOL_NAMES[kind] for kind in USUAL_STEP}),
        "resolution": Asked(
            label="Its step",
            why="tools show steps of 0.001 to 1",
            hint="The smallest difference its display or scale shows, in its unit.",
        ),
        "max_permissible_error": Asked(
            label="Permissible error, if the maker says one",
            why="even a ruler is good to 1 mm",
            hint="Left empty: three steps for a calliper, two for a scale, one for a ruler.",
        ),
    },
}
"""By record and field."""
