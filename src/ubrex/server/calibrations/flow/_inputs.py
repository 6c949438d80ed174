"""What a flow run keeps besides its readings, and the box it is printed as."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, Literal

from ubrex.core.bead import Bead
from ubrex.core.calibrate import FLOW_TOLERANCE_PCT
from ubrex.core.chain import Kind
from ubrex.core.gcode import Heat, Manner
from ubrex.core.gcode.pieces import POSITIONS_A_WALL, WALLS, BoxOptions, Piece, Place, hollow_box
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import RunInputs
from ubrex.server.printing import Printing, machine_limits, manner_of, printed_on
from ubrex.server.profile import Tuned

GROUPS: Final[dict[str, tuple[int, ...]]] = {"one": (1,), "two": (2,), "both": (1, 2)}
"""Numbers of lines that are printed, by what was chosen."""

GROUP_NAMES: Final = {1: "one line", 2: "two lines"}
"""What the drawing of the box calls them."""


class FlowInputs(RunInputs):
    """What a flow run keeps besides its readings; ``current`` is the flow it was printed with [%].

    ``walked``: the walls in the order in which somebody really went round, for the first ``walked_to`` readings.
    ``box_told``: the run whose box these walls were said to be, or not to be.
    ``softly``: what places read with the jaws only just touching [mm], the last of a place counts; ``soft``: the same beside
    what they had read as usual, as it was kept before places were named.
    ``tolerance_pct``: what was worth a change for the purpose of the setup when it began.
    """

    current: float
    unit: Unit = Unit.PERCENT
    places: int = 1
    walls: Literal["one", "two", "both"]
    own: bool = True
    line_width_mm: float
    layer_mm: float
    first_layer_mm: float
    spacing_mm: float | None = None
    nozzle_c: float
    bed_c: float | None = None
    first_nozzle_c: float | None = None
    first_bed_c: float | None = None
    fan_pct: float = 0.0
    verifies: int | None = None
    rescaled: str = ""
    box_told: int | None = None
    soft: tuple[tuple[float, float], ...] = ()
    softly: tuple[tuple[str, float], ...] = ()
    walked: str = "".join(WALLS)
    walked_to: int = 0
    tolerance_pct: float = FLOW_TOLERANCE_PCT

    @property
    def printed_with(self) -> Sequence[tuple[Kind, float]]:
        """Line, layers, heat, bed and fan."""
        asked = (
            (Kind.LINE_WIDTH, self.line_width_mm),
            (Kind.LAYER, self.layer_mm),
            (Kind.LAYER_FIRST, self.first_layer_mm),
            (Kind.NOZZLE_FIRST, self.first_nozzle_c or self.nozzle_c),
            (Kind.NOZZLE, self.nozzle_c),
            (Kind.BED, self.bed_c),
            (Kind.BED_FIRST, self.first_bed_c or self.bed_c),
            (Kind.FAN, self.fan_pct),
        )
        return [(kind, number) for kind, number in asked if number is not None]

    @property
    def bead(self) -> Bead:
        """The line of the walls."""
        return Bead(width_mm=self.line_width_mm, height_mm=self.layer_mm)

    @property
    def groups(self) -> tuple[int, ...]:
        """Numbers of lines that were printed."""
        return GROUPS[self.walls]

    @property
    def order(self) -> list[str]:
        """Places in walking order: one on each wall first, then two more."""
        return [
            f"{lines}{wall}{number}"
            for number in range(1, POSITIONS_A_WALL + 1)
            for lines in self.groups
            for wall in WALLS
        ]

    @property
    def printing(self) -> Printing:
        """How the piece is printed."""
        heat = Heat(
            nozzle_c=self.nozzle_c,
            bed_c=self.bed_c,
            first_nozzle_c=self.first_nozzle_c,
            first_bed_c=self.first_bed_c,
        )
        return Printing(heat=heat, fan_pct=self.fan_pct, flow=self.current / 100)


def box_of(tuned: Tuned, inputs: FlowInputs) -> tuple[Piece, Manner]:
    """The box of a run, and how it is printed.

    Raises
    ------
    OutOfRange
        If line, layer or size do not go with the bore or the bed.
    """
    held = machine_limits(tuned, still=True)
    manner = manner_of(tuned, inputs.bead, inputs.current / 100, held)
    on = inputs.on or printed_on(tuned)
    return hollow_box(options_of(tuned, inputs), on.volume, manner), manner


def options_of(tuned: Tuned, inputs: FlowInputs) -> BoxOptions:
    """The box of a run, without the bed it stands on."""
    return BoxOptions(
        bore_mm=(inputs.on or printed_on(tuned)).bore_mm,
        line_width_mm=inputs.line_width_mm,
        layer_mm=inputs.layer_mm,
        first_layer_mm=inputs.first_layer_mm,
        walls=inputs.walls,
        fan_pct=inputs.fan_pct,
    )


def spots_of(piece: Piece) -> dict[str, Place]:
    """Places of a box by their key: lines, wall, which time round."""
    lines = {name: number for number, name in GROUP_NAMES.items()}
    return {f"{lines[place.group]}{place.name}": place for place in piece.plan.places}
