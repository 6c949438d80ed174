"""What work on a machine, a filament or a setting makes of the values that rest on it (job, section 4)."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.chain._steps import Step


class Effect(StrEnum):
    """What a change asks of a step, the gravest first.

    Wait until the filament is dry; measure anew; put the stored value back; take the rescaled value and look; look.
    """

    HOLD = "hold"
    REDO = "redo"
    RE_ENTER = "re_enter"
    RESCALE = "rescale"
    CHECK = "check"


_GRAVITY: Final = {effect: place for place, effect in enumerate(Effect)}


class Part(StrEnum):
    """What a change is done to; every setup with that very part is touched."""

    MACHINE = "machine"
    NOZZLE = "nozzle"
    SURFACE = "surface"
    FILAMENT = "filament"
    SETUP = "setup"


class Change(StrEnum):
    """One row of the matrix."""

    NOZZLE_SAME = "nozzle_same"
    NOZZLE_OTHER = "nozzle_other"
    HOTEND = "hotend"
    HEATER_SENSOR = "heater_sensor"
    SOCK = "sock"
    HEAT_SINK_FAN = "heat_sink_fan"
    TOOLHEAD = "toolhead"
    EXTRUDER = "extruder"
    GEAR_TENSION = "gear_tension"
    FEED_TUBE = "feed_tube"
    FEED_PATH = "feed_path"
    SURFACE_OTHER = "surface_other"
    PLATE_TWIN = "plate_twin"
    PLATE_WASHED = "plate_washed"
    MOVED = "moved"
    PROBE = "probe"
    CRASH = "crash"
    BLOCKAGE = "blockage"
    FIRMWARE = "firmware"
    SLICING_PROGRAM = "slicing_program"
    LINE_SHAPE = "line_shape"
    FILAMENT_OTHER = "filament_other"
    SPOOL_SAME = "spool_same"
    COLOUR_OTHER = "colour_other"
    WET = "wet"
    DRIED = "dried"
    MELT_RATE = "melt_rate"
    ACCELERATION = "acceleration"
    TEMPERATURE_MOVED = "temperature_moved"
    TEMPERATURE_MOVED_FAR = "temperature_moved_far"
    FOAM_TEMPERATURE_MOVED = "foam_temperature_moved"
    FLOW_CHANGED = "flow_changed"
    E_STEPS_CHANGED = "e_steps_changed"
    Z_OFFSET_CHANGED = "z_offset_changed"
    BELTS = "belts"
    FRAME = "frame"
    PART_FAN = "part_fan"
    ROOM = "room"
    HEATER_CONTROL = "heater_control"
    STOOD_STILL = "stood_still"
    GREASED = "greased"
    MECHANICS = "mechanics"
    TOOLHEAD_SWAPPED = "toolhead_swapped"
    LEVELLED_BY_HAND = "levelled_by_hand"
    LEVELLED_BY_MACHINE = "levelled_by_machine"
    LEVEL_UNSETTLED = "level_unsettled"


_LETTERS: Final = {"R": Effect.REDO, "c": Effect.CHECK, "e": Effect.RE_ENTER, "s": Effect.RESCALE, "h": Effect.HOLD}

_MATRIX: Final[Mapping[Change, str]] = {
    #                              Sa He Es Le Zo Te Fl Pr Re Se Si Sp Be
    Change.NOZZLE_SAME:            ".  .  .  .  R  c  R  c  c  .  .  c  .",
    Change.NOZZLE_OTHER:           ".  c  .  .  R  R  R  R  R  c  c  R  .",
    Change.HOTEND:                 "c  R  .  .  R  R  R  R  R  .  .  R  .",
    Change.HEATER_SENSOR:          "R  R  .  .  c  R  c  .  .  .  .  c  .",
    Change.SOCK:                   ".  c  .  .  .  c  .  .  .  .  .  .  .",
    Change.HEAT_SINK_FAN:          "R  .  .  .  .  c  c  .  c  .  .  .  .",
    Change.TOOLHEAD:               "R  R  R  c  R  R  R  R  R  .  c  R  .",
    Change.EXTRUDER:               ".  .  R  .  .  .  R  c  R  .  .  c  .",
    Change.GEAR_TENSION:           ".  .  c  .  .  .  c  .  .  .  .  .  .",
    Change.FEED_TUBE:              ".  .  .  .  .  .  c  R  R  .  .  c  .",
    Change.FEED_PATH:              ".  .  .  .  .  .  c  .  .  .  .  c  .",
    Change.SURFACE_OTHER:          ".  .  .  R  R  .  .  .  .  .  .  .  R",
    Change.PLATE_TWIN:             ".  .  .  .  c  .  .  .  .  .  .  .  .",
    Change.PLATE_WASHED:           ".  .  .  .  .  .  .  .  .  .  .  .  .",
    Change.MOVED:                  ".  .  .  R  R  .  .  .  .  .  .  .  .",
    Change.PROBE:                  ".  .  .  R  R  .  .  .  .  .  .  .  .",
    Change.CRASH:                  "R  R  .  R  R  .  c  .  .  .  .  .  .",
    Change.BLOCKAGE:               ".  .  .  .  .  c  c  .  c  .  .  .  .",
    Change.FIRMWARE:               "R  e  e  e  e  .  .  e  .  .  .  .  .",
    Change.SLICING_PROGRAM:        ".  .  .  .  .  .  c  c  c  R  c  .  .",
    Change.LINE_SHAPE:             ".  .  .  .  c  .  c  c  .  .  .  c  .",
    Change.FILAMENT_OTHER:         ".  .  .  .  .  R  R  R  R  c  c  R  R",
    Change.SPOOL_SAME:             ".  .  .  .  .  .  c  .  .  .  .  .  .",
    Change.COLOUR_OTHER:           ".  .  .  .  .  c  c  .  c  .  .  .  .",
    Change.WET:                    ".  .  .  .  .  h  h  .  h  .  .  .  .",
    Change.DRIED:                  ".  .  .  .  .  .  .  .  c  .  .  .  .",
    Change.MELT_RATE:              ".  .  .  .  .  R  c  c  .  .  .  .  .",
    Change.ACCELERATION:           ".  .  .  .  .  .  .  R  .  c  c  .  .",
    Change.TEMPERATURE_MOVED:      ".  .  .  .  .  .  .  .  c  .  .  .  .",
    Change.TEMPERATURE_MOVED_FAR:  ".  .  .  .  .  .  c  c  c  .  .  c  .",
    Change.FOAM_TEMPERATURE_MOVED: ".  .  .  .  .  .  R  .  .  .  .  .  .",
    Change.FLOW_CHANGED:           ".  .  .  .  .  .  .  c  .  .  c  .  .",
    Change.E_STEPS_CHANGED:        ".  .  .  .  .  .  s  .  .  .  .  c  .",
    Change.Z_OFFSET_CHANGED:       ".  .  .  .  .  .  .  .  .  .  c  .  .",
    Change.BELTS:                  ".  .  .  .  .  .  .  .  .  .  R  .  .",
    Change.FRAME:                  ".  .  .  R  c  .  .  .  .  .  R  .  .",
    Change.PART_FAN:               ".  .  .  .  .  c  .  .  .  .  .  c  .",
    Change.ROOM:                   ".  .  .  .  .  c  .  .  .  .  .  .  R",
    Change.HEATER_CONTROL:         "c  c  .  .  .  .  .  .  .  .  .  .  .",
    Change.STOOD_STILL:            "c  .  .  c  c  .  .  .  .  .  .  .  .",
    Change.GREASED:                ".  .  .  .  .  .  .  .  .  .  .  .  .",
    Change.MECHANICS:              ".  .  .  .  .  .  .  .  .  .  .  .  .",
    Change.TOOLHEAD_SWAPPED:       "c  .  e  .  e  .  .  e  .  .  .  .  .",
    Change.LEVELLED_BY_HAND:       ".  .  .  .  R  .  .  .  .  .  .  .  .",
    Change.LEVELLED_BY_MACHINE:    ".  .  .  .  c  .  .  .  .  .  .  .  .",
    Change.LEVEL_UNSETTLED:        ".  .  .  R  .  .  .  .  .  .  .  .  .",
}  # fmt: skip
"""R redo, c check, e re-enter, s rescale then check, h hold until dry. The columns are the steps, in their order."""

EFFECTS: Final[Mapping[Change, Mapping[Step, Effect]]] = {
    change: {step: _LETTERS[letter] for step, letter in zip(Step, row.split(), strict=True) if letter != "."}
    for change, row in _MATRIX.items()
}
"""The matrix of job, section 4: light where the trade is light. A toolhead with its own numbers has them entered again;
levelling by screws moves the bed under the nozzle, levelling by the machine does not set its offset (job, chain row 3)."""

SHOWS: Final[Mapping[Change, Step]] = {
    Change.LEVELLED_BY_HAND: Step.LEVEL,
    Change.LEVELLED_BY_MACHINE: Step.LEVEL,
}
"""Work that shows a step to be right on the day it is done."""

_PARTS: Final[Mapping[Part, tuple[Change, ...]]] = {
    Part.NOZZLE: (Change.NOZZLE_SAME, Change.NOZZLE_OTHER),
    Part.SURFACE: (Change.PLATE_TWIN, Change.PLATE_WASHED),
    Part.FILAMENT: (
        Change.FILAMENT_OTHER,
        Change.SPOOL_SAME,
        Change.COLOUR_OTHER,
        Change.WET,
        Change.DRIED,
    ),
    Part.SETUP: (
        Change.LINE_SHAPE,
        Change.MELT_RATE,
        Change.TEMPERATURE_MOVED,
        Change.TEMPERATURE_MOVED_FAR,
        Change.FOAM_TEMPERATURE_MOVED,
        Change.FLOW_CHANGED,
        Change.E_STEPS_CHANGED,
        Change.Z_OFFSET_CHANGED,
    ),
}

PART_OF: Final[Mapping[Change, Part]] = {
    change: next((part for part, rows in _PARTS.items() if change in rows), Part.MACHINE) for change in Change
}
"""What each change is done to; the machine where nothing narrower is meant."""

FOLLOWS: Final = frozenset(
    {
        Change.TEMPERATURE_MOVED,
        Change.TEMPERATURE_MOVED_FAR,
        Change.FOAM_TEMPERATURE_MOVED,
        Change.FLOW_CHANGED,
        Change.E_STEPS_CHANGED,
        Change.Z_OFFSET_CHANGED,
    }
)
"""Changes that follow from a value written here: nobody has to log them."""

_ENDS_WET: Final = frozenset({Change.DRIED, Change.SPOOL_SAME, Change.COLOUR_OTHER, Change.FILAMENT_OTHER})

TEMPERATURE_MOVED_C: Final = 5.0
"""A move smaller than this [°C] is within what a hotend drifts."""

TEMPERATURE_MOVED_FAR_C: Final = 10.0
"""From here on [°C] flow, pressure compensation and top speed are touched too."""


@dataclass(frozen=True, slots=True)
class Done:
    """A change that happened; ``at_day`` counts days on any one scale, ``key`` finds it again in the log."""

    change: Change
    at_day: float
    key: int = 0


def temperature_change(before_c: float, after_c: float, *, foaming: bool) -> Change | None:
    """Which row of the matrix a moved nozzle temperature is; None if it is too small a move to count."""
    moved = abs(after_c - before_c)
    if moved < TEMPERATURE_MOVED_C:
        return None
    if foaming:
        return Change.FOAM_TEMPERATURE_MOVED
    return Change.TEMPERATURE_MOVED_FAR if moved >= TEMPERATURE_MOVED_FAR_C else Change.TEMPERATURE_MOVED


def asked_of(
    step: Step, done: Iterable[Done], *, shown_true_at: float | None, read_back_at: float | None = None
) -> Done | None:
    """The change that asks most of a step, the newest of several; None if nothing since asks anything; see ``all_asked``."""
    return next(iter(all_asked(step, done, shown_true_at=shown_true_at, read_back_at=read_back_at)), None)


def all_asked(
    step: Step, done: Iterable[Done], *, shown_true_at: float | None, read_back_at: float | None = None
) -> list[Done]:
    """All changes since that ask as much of a step as any of them does, newest first; of each kind the newest.

    ``shown_true_at``: the day on which the step's value was last measured or confirmed (None: never). Where only the stored
    value may be lost, a matching read-back on the day ``read_back_at`` answers. Wet filament is answered by drying alone, or
    by another spool.
    """
    rows = list(done)
    dry_at = max((row.at_day for row in rows if row.change in _ENDS_WET), default=-math.inf)
    shown = -math.inf if shown_true_at is None else shown_true_at
    read = -math.inf if read_back_at is None else read_back_at
    later: list[tuple[int, float, int, Done]] = []
    for row in rows:
        effect = EFFECTS[row.change].get(step)
        if effect is None or row.at_day <= (dry_at if effect is Effect.HOLD else shown):
            continue
        if effect is not Effect.RE_ENTER or row.at_day > read:
            later.append((-_GRAVITY[effect], row.at_day, row.key, row))
    if not later:
        return []
    most = max(one[0] for one in later)
    newest: dict[Change, Done] = {}
    for _, _, _, row in sorted((one for one in later if one[0] == most), key=lambda one: one[:3], reverse=True):
        newest.setdefault(row.change, row)
    return list(newest.values())
