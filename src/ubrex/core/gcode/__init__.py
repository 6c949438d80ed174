"""Files for machines: typed moves, a writer that keeps every limit, and a reader that understands what others wrote."""

from ubrex.core.gcode._check import (
    FAN_OFF_LAYERS,
    FileFacts,
    FileFinding,
    Flaw,
    SettingChange,
    check_file,
    compare_settings,
    facts_of,
    is_same,
)
from ubrex.core.gcode._commands import Deed
from ubrex.core.gcode._machine import (
    USUAL_ACCELERATION_MM_S2,
    USUAL_SPEED_MM_S,
    Breach,
    Dialect,
    HeatCap,
    MachineLimits,
    RefusedFile,
    Volume,
)
from ubrex.core.gcode._manner import MELT_SHARE, OwnManner, careful_manner
from ubrex.core.gcode._moves import CIRCLE, Feed, Go, Manner, Move, Pause, Pen, Push, Remark, Set, SetWhat, printed
from ubrex.core.gcode._reader import Gcode, HeatLine, read_gcode
from ubrex.core.gcode._strokes import STROKES, strokes_of
from ubrex.core.gcode._writer import Heat, Job, check_pressure_line, fill_block, write_gcode

__all__ = [
    "CIRCLE",
    "FAN_OFF_LAYERS",
    "MELT_SHARE",
    "STROKES",
    "USUAL_ACCELERATION_MM_S2",
    "USUAL_SPEED_MM_S",
    "Breach",
    "Deed",
    "Dialect",
    "Feed",
    "FileFacts",
    "FileFinding",
    "Flaw",
    "Gcode",
    "Go",
    "Heat",
    "HeatCap",
    "HeatLine",
    "Job",
    "MachineLimits",
    "Manner",
    "Move",
    "OwnManner",
    "Pause",
    "Pen",
    "Push",
    "RefusedFile",
    "Remark",
    "Set",
    "SetWhat",
    "SettingChange",
    "Volume",
    "careful_manner",
    "check_file",
    "check_pressure_line",
    "compare_settings",
    "facts_of",
    "fill_block",
    "is_same",
    "printed",
    "read_gcode",
    "strokes_of",
    "write_gcode",
]
