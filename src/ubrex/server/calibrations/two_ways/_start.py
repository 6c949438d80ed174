"""The start form of two ways against each other."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final, Literal, TypeAlias

from ubrex.core.chain import KINDS, Kind
from ubrex.core.gcode import Manner, Volume
from ubrex.core.gcode.pieces import Piece, TowerOptions, cooling_tower, detour_tower, hop_tower, seam_tower
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._tower_start import (
    USUAL_SPEED_MM_S,
    TowerInputs,
    in_use,
    line_fields,
    options_of,
    read_line,
)
from ubrex.server.calibrations.two_ways import _words as words
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import Offer, StartReader, choice_field, number_field, printed_on
from ubrex.server.profile import Tuned
from ubrex.server.views.forms import FieldOut, WhenOut
from ubrex.server.words.numbers import unit_text

Of: TypeAlias = Literal["seam_gap", "z_hop", "detour", "layer_time"]

MOST_ROUNDS: Final = 3
ROUND: Final = (0, 1, 1, 0)
"""A B B A: what drifts while it is printed falls on both alike (rules, N)."""


@dataclass(frozen=True, slots=True)
class Way:
    """What is compared: the value, its usual two ways, the piece that shows them, and whether less of it saves time."""

    kind: Kind
    usual: tuple[float, float]
    tower: Callable[[TowerOptions, Volume, Manner], Piece]
    less_is_quicker: bool = True


WAYS: Final[Mapping[Of, Way]] = {
    "seam_gap": Way(Kind.SEAM_GAP, (0.0, 0.1), seam_tower, less_is_quicker=False),
    "z_hop": Way(Kind.Z_HOP, (0.0, 0.2), hop_tower),
    "detour": Way(Kind.DETOUR, (0.0, 100.0), detour_tower),
    "layer_time": Way(Kind.LAYER_TIME, (5.0, 15.0), cooling_tower),
}


class TwoWaysInputs(TowerInputs):
    """What a comparison keeps besides its ratings: what is compared, and its two ways [mm, s]."""

    of: Of
    a: float
    b: float

    @property
    def is_b(self) -> list[bool]:
        """Which bands are the other way, bottom up."""
        return [bool(ROUND[band % len(ROUND)]) for band in range(len(self.values))]


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before the piece is printed."""
    filled = Offer(tuned)
    fields = [choice_field("of", words.OF, words.OFS, "seam_gap")]
    for of, way in WAYS.items():
        none, usual = way.usual
        when = WhenOut(field="of", value=of)
        now = in_use(tuned, way.kind)
        unit = unit_text(KINDS[way.kind].unit)
        fields += [
            number_field(f"{of}_a", words.A, unit, none if now is None else now, words.HINTS.get(of, ""), when),
            number_field(f"{of}_b", words.B, unit, usual if now != usual else none, when=when),
        ]
    return [
        *fields,
        number_field("rounds", words.ROUNDS, "", "2", words.ROUNDS_HINT),
        number_field("speed", "Speed", "mm/s", filled.own(Kind.SPEED_OUTER, usual=USUAL_SPEED_MM_S)),
        *filled.nozzles(),
        *line_fields(tuned),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    tuned, fields = form.tuned, form.fields
    reader = StartReader(tuned, form.typed, fields)
    of: Of = next((one for one in WAYS if one == form.typed.get("of")), "seam_gap")
    kind = KINDS[WAYS[of].kind]
    a, b = (
        reader.number(f"{of}_{side}", name, kind.low, kind.high, kind.why, kind.unit)
        for side, name in (("a", words.A), ("b", words.B))
    )
    rounds = reader.number("rounds", words.ROUNDS, 1, MOST_ROUNDS, f"1 to {MOST_ROUNDS} rounds", Unit.COUNT)
    nozzle, first_nozzle = reader.nozzle("nozzle", "The nozzle"), reader.first_nozzle()
    rest = read_line(tuned, reader)
    if a is None or b is None or rounds is None or rest is None or nozzle is None:
        return None
    if a == b:
        fields.add(FieldProblem(f"{of}_b", "the_same", words.SAME))
    if fields.any:
        return None
    inputs = TwoWaysInputs(
        current=in_use(tuned, WAYS[of].kind), unit=kind.unit, places=kind.places, asked=len(ROUND),
        values=[b if other else a for other in ROUND * round(rounds)], nozzle_c=nozzle, first_nozzle_c=first_nozzle, of=of,
        a=a, b=b, **rest,
    )  # fmt: skip
    return Begun(inputs=inputs)


def tower_of(tuned: Tuned, inputs: TwoWaysInputs) -> tuple[Piece, Manner]:
    """The piece of a run, and how it is printed; raises ``OutOfRange`` where it cannot be."""
    options, manner = options_of(tuned, inputs)
    volume = (inputs.on or printed_on(tuned)).volume
    return WAYS[inputs.of].tower(options, volume, manner), manner
