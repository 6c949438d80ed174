"""The values of a profile: what each is, in what, how far it may lie, and what it belongs to."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.chain._steps import Step
from ubrex.core.quantity import Unit


class Kind(StrEnum):
    """One value of a profile, in the order in which they are typed into a slicing program."""

    LINE_WIDTH = "line_width"
    LAYER_FIRST = "layer_first"
    LAYER = "layer"
    NOZZLE_FIRST = "nozzle_first"
    NOZZLE = "nozzle"
    BED_FIRST = "bed_first"
    BED = "bed"
    CHAMBER = "chamber"
    FLOW = "flow"
    FLOW_THIN = "flow_thin"
    FLOW_SOLID = "flow_solid"
    FLOW_BIAS = "flow_bias"
    FAN = "fan"
    FAN_BRIDGE = "fan_bridge"
    TOP_FLOW = "top_flow"
    SPEED_OUTER = "speed_outer"
    SPEED_INNER = "speed_inner"
    SPEED_FILL = "speed_fill"
    RETRACTION = "retraction"
    RETRACTION_SPEED = "retraction_speed"
    UN_RETRACT_EXTRA = "un_retract_extra"
    Z_HOP = "z_hop"
    SEAM_GAP = "seam_gap"
    DETOUR = "detour"
    LAYER_TIME = "layer_time"
    SIZE_SCALE = "size_scale"
    SIZE_OUTER = "size_outer"
    SIZE_INNER = "size_inner"
    FIT_SNUG = "fit_snug"
    FIT_FREE = "fit_free"
    SUPPORT_GAP = "support_gap"
    E_STEPS = "e_steps"
    HEAT_BIAS = "heat_bias"
    HEATER_HOLDS = "heater_holds"
    LEVEL = "level"
    Z_OFFSET = "z_offset"
    PRESSURE = "pressure"
    DRYING = "drying"
    DIAMETER = "diameter"


class Belongs(StrEnum):
    """A thing that a value is true for; one changed there shows in every setup that has it."""

    MACHINE = "machine"
    TOOLHEAD = "toolhead"
    HOTEND = "hotend"
    NOZZLE = "nozzle"
    SURFACE = "surface"
    FILAMENT = "filament"


class SetAt(StrEnum):
    """Where a value is set, once it is known."""

    SLICER = "slicer"
    MACHINE = "machine"
    DRAWING = "drawing"
    NOWHERE = "nowhere"


class Heats(StrEnum):
    """What a temperature is a temperature of: which limits hold for it."""

    NOZZLE = "nozzle"
    BED = "bed"
    CHAMBER = "chamber"


@dataclass(frozen=True, slots=True, kw_only=True)
class ValueKind:
    """What is to be known of a kind of value. ``low`` and ``high`` are in ``unit``, both allowed; ``why`` says why no more.

    ``set_at``: in the slicing program, at the machine, or nowhere: it is only kept. ``main``: its step's row shows it.
    ``reads_back``: the machine can lose it, and is asked what it holds.
    """

    step: Step
    name: str
    unit: Unit
    places: int
    low: float
    high: float
    why: str
    belongs: frozenset[Belongs]
    set_at: SetAt = SetAt.SLICER
    main: bool = False
    reads_back: bool = False
    heats: Heats | None = None


_MELT: Final = frozenset({Belongs.TOOLHEAD, Belongs.NOZZLE, Belongs.FILAMENT})
_BED: Final = frozenset({Belongs.MACHINE, Belongs.SURFACE, Belongs.FILAMENT})
_FIRST: Final = frozenset({Belongs.MACHINE, Belongs.SURFACE, Belongs.NOZZLE})
_LINE: Final = frozenset({Belongs.TOOLHEAD, Belongs.NOZZLE})
_SPEED_WHY: Final = "hobby machines print at 1 to 1000 mm/s"
_FLOW_WHY: Final = "beyond that the line width or the e-steps are wrong, or the filament foams"
_HEAT_WHY: Final = "filament prints at 150 to 450 °C"
_BED_WHY: Final = "beds hold 0 to 150 °C"
_GAP_WHY: Final = "gaps between parts are a few tenths of a mm"
_SIZE_WHY: Final = "a size that is more than 2 mm off is another fault"

DISPLAY_OFF_C: Final = 10.0
"""How far [°C] a display may be off that nobody has checked: 95 % half-width of taking it as true (rules2.md L)."""

KINDS: Final[Mapping[Kind, ValueKind]] = {
    Kind.LINE_WIDTH: ValueKind(
        step=Step.FLOW, name="Line width", unit=Unit.MM, places=2, low=0.1, high=3,
        why="lines are 0.1 to 3 mm wide", belongs=_LINE,
    ),
    Kind.LAYER_FIRST: ValueKind(
        step=Step.Z_OFFSET, name="Layer height, first", unit=Unit.MM, places=2, low=0.05, high=1.5,
        why="layers are 0.05 to 1.5 mm high", belongs=_LINE,
    ),
    Kind.LAYER: ValueKind(
        step=Step.FLOW, name="Layer height", unit=Unit.MM, places=2, low=0.02, high=1.5,
        why="layers are 0.02 to 1.5 mm high", belongs=_LINE,
    ),
    Kind.NOZZLE_FIRST: ValueKind(
        step=Step.TEMPERATURE, name="Nozzle, first layer", unit=Unit.CELSIUS, places=0, low=150, high=450,
        why=_HEAT_WHY, belongs=_MELT, heats=Heats.NOZZLE,
    ),
    Kind.NOZZLE: ValueKind(
        step=Step.TEMPERATURE, name="Nozzle, rest", unit=Unit.CELSIUS, places=0, low=150, high=450,
        why=_HEAT_WHY, belongs=_MELT, main=True, heats=Heats.NOZZLE,
    ),
    Kind.BED_FIRST: ValueKind(
        step=Step.BED, name="Bed, first layer", unit=Unit.CELSIUS, places=0, low=0, high=150,
        why=_BED_WHY, belongs=_BED, heats=Heats.BED,
    ),
    Kind.BED: ValueKind(
        step=Step.BED, name="Bed, rest", unit=Unit.CELSIUS, places=0, low=0, high=150,
        why=_BED_WHY, belongs=_BED, main=True, heats=Heats.BED,
    ),
    Kind.CHAMBER: ValueKind(
        step=Step.BED, name="Chamber", unit=Unit.CELSIUS, places=0, low=0, high=100,
        why="chambers hold 0 to 100 °C", belongs=frozenset({Belongs.MACHINE, Belongs.FILAMENT}), heats=Heats.CHAMBER,
    ),
    Kind.FLOW: ValueKind(
        step=Step.FLOW, name="Flow, walls", unit=Unit.PERCENT, places=1, low=25, high=200,
        why=_FLOW_WHY, belongs=_MELT, main=True,
    ),
    Kind.FLOW_THIN: ValueKind(
        step=Step.FLOW, name="Flow, single lines", unit=Unit.PERCENT, places=1, low=25, high=200,
        why=_FLOW_WHY, belongs=_MELT,
    ),
    Kind.FLOW_SOLID: ValueKind(
        step=Step.FLOW, name="Flow, solid layers", unit=Unit.PERCENT, places=1, low=25, high=200,
        why=_FLOW_WHY, belongs=_MELT,
    ),
    Kind.FLOW_BIAS: ValueKind(
        step=Step.FLOW, name="Flow, on purpose", unit=Unit.PERCENT, places=1, low=80, high=120,
        why="a bias of more than 20 % is another fault", belongs=_MELT,
    ),
    Kind.FAN: ValueKind(
        step=Step.TEMPERATURE, name="Fan", unit=Unit.PERCENT, places=0, low=0, high=100,
        why="a fan turns at 0 to 100 %", belongs=_MELT,
    ),
    Kind.FAN_BRIDGE: ValueKind(
        step=Step.TEMPERATURE, name="Fan, bridges", unit=Unit.PERCENT, places=0, low=0, high=100,
        why="a fan turns at 0 to 100 %", belongs=_MELT,
    ),
    Kind.TOP_FLOW: ValueKind(
        step=Step.TOP_SPEED, name="Melt rate, at most", unit=Unit.MM3_PER_S, places=1, low=0.2, high=100,
        why="hotends melt 0.2 to 100 mm³/s", belongs=_MELT, main=True,
    ),
    Kind.SPEED_OUTER: ValueKind(
        step=Step.TOP_SPEED, name="Speed, outer walls", unit=Unit.MM_PER_S, places=0, low=1, high=1000,
        why=_SPEED_WHY, belongs=_MELT,
    ),
    Kind.SPEED_INNER: ValueKind(
        step=Step.TOP_SPEED, name="Speed, inner walls", unit=Unit.MM_PER_S, places=0, low=1, high=1000,
        why=_SPEED_WHY, belongs=_MELT,
    ),
    Kind.SPEED_FILL: ValueKind(
        step=Step.TOP_SPEED, name="Speed, filling", unit=Unit.MM_PER_S, places=0, low=1, high=1000,
        why=_SPEED_WHY, belongs=_MELT,
    ),
    Kind.RETRACTION: ValueKind(
        step=Step.RETRACTION, name="Retraction", unit=Unit.MM, places=2, low=0, high=10,
        why="more than 10 mm pulls melt into the cold zone", belongs=_MELT, main=True,
    ),
    Kind.RETRACTION_SPEED: ValueKind(
        step=Step.RETRACTION, name="Retraction speed", unit=Unit.MM_PER_S, places=0, low=1, high=100,
        why="gears grind beyond 100 mm/s", belongs=_MELT,
    ),
    Kind.UN_RETRACT_EXTRA: ValueKind(
        step=Step.RETRACTION, name="Extra on un-retract", unit=Unit.MM, places=3, low=-1, high=1,
        why="more than 1 mm is a blob, or a gap", belongs=_MELT,
    ),
    Kind.Z_HOP: ValueKind(
        step=Step.RETRACTION, name="Z-hop", unit=Unit.MM, places=2, low=0, high=5,
        why="hops are 0 to 5 mm", belongs=_MELT,
    ),
    Kind.SEAM_GAP: ValueKind(
        step=Step.SEAM, name="Seam gap", unit=Unit.MM, places=3, low=-1, high=2,
        why="gaps are a few tenths of a mm", belongs=_MELT, main=True,
    ),
    Kind.DETOUR: ValueKind(
        step=Step.RETRACTION, name="Way round, at most", unit=Unit.MM, places=0, low=0, high=500,
        why="nothing goes round for more than half a metre", belongs=_MELT,
    ),
    Kind.LAYER_TIME: ValueKind(
        step=Step.TEMPERATURE, name="Layer time, at least", unit=Unit.SECONDS, places=0, low=0, high=60,
        why="more than a minute a layer is another part beside it", belongs=_MELT,
    ),
    Kind.SIZE_SCALE: ValueKind(
        step=Step.SIZE, name="Size scale", unit=Unit.PERCENT, places=2, low=95, high=110,
        why="filament shrinks by 5 % at most", belongs=_MELT, main=True,
    ),
    Kind.SIZE_OUTER: ValueKind(
        step=Step.SIZE, name="Size offset, outside", unit=Unit.MM, places=3, low=-2, high=2,
        why=_SIZE_WHY, belongs=_MELT,
    ),
    Kind.SIZE_INNER: ValueKind(
        step=Step.SIZE, name="Size offset, inside", unit=Unit.MM, places=3, low=-2, high=2,
        why=_SIZE_WHY, belongs=_MELT,
    ),
    Kind.FIT_SNUG: ValueKind(
        step=Step.SIZE, name="Gap that goes snug", unit=Unit.MM, places=2, low=-0.5, high=3,
        why=_GAP_WHY, belongs=_MELT, set_at=SetAt.DRAWING,
    ),
    Kind.FIT_FREE: ValueKind(
        step=Step.SIZE, name="Gap that runs free", unit=Unit.MM, places=2, low=-0.5, high=3,
        why=_GAP_WHY, belongs=_MELT, set_at=SetAt.DRAWING,
    ),
    Kind.SUPPORT_GAP: ValueKind(
        step=Step.SIZE, name="Gap over supports", unit=Unit.MM, places=2, low=0, high=3,
        why="supports end a few tenths of a mm below", belongs=_MELT,
    ),
    Kind.E_STEPS: ValueKind(
        step=Step.E_STEPS, name="E-steps", unit=Unit.STEPS_PER_MM, places=2, low=5, high=20000,
        why="motors and gears give 5 to 20000 steps per mm", belongs=frozenset({Belongs.TOOLHEAD}), main=True,
        set_at=SetAt.MACHINE, reads_back=True,
    ),
    Kind.HEAT_BIAS: ValueKind(
        step=Step.HEAT, name="Heat check", unit=Unit.CELSIUS, places=0, low=-60, high=60,
        why="a sensor that is more than 60 °C off is broken or loose", belongs=frozenset({Belongs.HOTEND}),
        set_at=SetAt.NOWHERE,
        main=True,
    ),
    Kind.HEATER_HOLDS: ValueKind(
        step=Step.HEAT, name="Heater holds up to", unit=Unit.CELSIUS, places=0, low=100, high=600,
        why="heaters reach 100 to 600 °C", belongs=frozenset({Belongs.HOTEND}), set_at=SetAt.NOWHERE,
    ),
    Kind.LEVEL: ValueKind(
        step=Step.LEVEL, name="Level", unit=Unit.MM, places=2, low=0, high=5,
        why="a bed 5 mm out of level is another fault", belongs=frozenset({Belongs.MACHINE}), main=True,
        set_at=SetAt.NOWHERE,
    ),
    Kind.Z_OFFSET: ValueKind(
        step=Step.Z_OFFSET, name="Z-offset", unit=Unit.MM, places=3, low=-10, high=10,
        why="offsets are a few mm", belongs=_FIRST, main=True,
        set_at=SetAt.MACHINE, reads_back=True,
    ),
    Kind.PRESSURE: ValueKind(
        step=Step.PRESSURE, name="Pressure compensation", unit=Unit.SECONDS, places=3, low=0, high=2,
        why="settings are 0 to 2 s", belongs=_MELT, main=True,
        set_at=SetAt.MACHINE,
    ),
    Kind.DRYING: ValueKind(
        step=Step.SAFETY, name="Drying", unit=Unit.HOURS, places=1, low=0, high=72,
        why="three days dry anything", belongs=frozenset({Belongs.FILAMENT}),
        set_at=SetAt.NOWHERE,
    ),
    Kind.DIAMETER: ValueKind(
        step=Step.FLOW, name="Filament diameter", unit=Unit.MM, places=3, low=1.2, high=3.3,
        why="filament is 1.75 or 2.85 mm thick", belongs=frozenset({Belongs.FILAMENT}),
    ),
}  # fmt: skip
"""All kinds of values. Bounds catch slips of the decimal point; what is usual is said elsewhere."""

MAIN_KIND: Final[Mapping[Step, Kind]] = {row.step: kind for kind, row in KINDS.items() if row.main}
"""The value that a step's row shows; safety is a card and has none."""

SPEAKS_TOO: Final[Mapping[Step, tuple[Kind, ...]]] = {Step.SIZE: (Kind.FIT_SNUG, Kind.FIT_FREE)}
"""Values that show a row was measured where its main one was never found: a part that fits needs no scale."""
