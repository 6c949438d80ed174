"""Rules give what they gave, over a field of crooked samples: whoever changes one on purpose sees here how far it reaches.

The vectors of the design hold each rule at worked cases; this holds what lies between them.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import product

import pytest
from tests.fingerprints import Fingerprint, assert_unchanged

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    BoxMassSample,
    Criterion,
    DiameterSample,
    EStepsMethod,
    EStepsSample,
    FoamSample,
    PatchSample,
    ReferencePiece,
    RetractionSample,
    TowerSample,
    WallSample,
    evaluate_box_mass,
    evaluate_diameter,
    evaluate_esteps,
    evaluate_first_layer,
    evaluate_flow,
    evaluate_foaming,
    evaluate_pair,
    evaluate_retraction,
    evaluate_tower,
    judge_reprint,
    same_box,
)
from ubrex.core.calibrate._temperature import DEMANDS
from ubrex.core.quantity import SpreadHistory, Tool

CALLIPER = Tool(resolution=0.01, max_permissible_error=0.03)
MICROMETER = Tool(resolution=0.001, max_permissible_error=0.004)
SCALE = Tool(resolution=0.01, max_permissible_error=0.02)
LINE = Bead(width_mm=0.44, height_mm=0.2)


def crooked(count: int, middle: float, by: float, turn: int) -> tuple[float, ...]:
    """Numbers about a middle, scattered in a way that is the same every time and even in none."""
    return tuple(middle + by * ((7 * place * place + 3 * place + 5 * turn) % 11 - 4.6) / 5 for place in range(count))


def esteps() -> Iterator[object]:
    """All three methods, one to five readings, with and without what earlier readings scattered."""
    strand = ReferencePiece(mass_g=2.98, length_mm=1000.0, length_tool=CALLIPER)
    for turn, (count, history) in enumerate(product((1, 2, 3, 5), (None, SpreadHistory(std=0.3, dof=4)))):
        for method, middle, by, tool in (
            (EStepsMethod.OPEN_AIR, 98.7, 0.4, CALLIPER),
            (EStepsMethod.MARKED, 21.9, 0.5, CALLIPER),
            (EStepsMethod.WEIGHED, 0.301, 0.002, SCALE),
        ):
            yield evaluate_esteps(
                EStepsSample(
                    method=method, commanded_mm=100.0, readings=crooked(count, middle, by, turn), tool=tool,
                    mark_at_mm=120.0 if method is EStepsMethod.MARKED else None,
                    strand=strand if method is EStepsMethod.WEIGHED else None,
                    history=history if method is not EStepsMethod.WEIGHED else None,
                )
            )  # fmt: skip


def diameters() -> Iterator[object]:
    """Round and oval filament, at one to five places."""
    for turn, (count, oval) in enumerate(product((1, 2, 3, 5), (0.0, 0.02, 0.05))):
        across = crooked(count, 1.74 - oval, 0.01, turn)
        widest = crooked(count, 1.74 + oval, 0.012, turn + 1)
        yield evaluate_diameter(DiameterSample(widest=widest, across=across, nominal_mm=1.75, tool=MICROMETER))


def wall(turn: int, walls: int, each: int, width: float, lines: int) -> WallSample:
    """Walls that are read unevenly."""
    rows = tuple(crooked(each, width + 0.004 * place, 0.012, turn + place) for place in range(walls))
    return WallSample(
        readings=rows, bead=LINE, tool=CALLIPER, lines=lines, spacing_mm=0.4 if lines > 1 else None,
        foaming=turn % 5 == 0,
    )  # fmt: skip


def flows() -> Iterator[object]:
    """One and two lines, one to four walls, thin to thick; and both together."""
    for turn, (walls, each, by) in enumerate(product((1, 2, 3, 4), (1, 3, 6), (-0.03, 0.0, 0.05))):
        one, two = wall(turn, walls, each, 0.44 + by, 1), wall(turn, walls, each, 0.84 + 1.6 * by, 2)
        yield evaluate_flow(one)
        yield evaluate_flow(two)
        yield evaluate_pair(one, two)
        if walls == 4:
            yield evaluate_flow(replace(one, boxes=True))
            yield evaluate_flow(replace(one, boxes=True, readings=one.readings + two.readings))


def reprints() -> Iterator[object]:
    """Boxes printed again at another flow: they moved as they should, by half, too far, or are the old one."""
    for turn, (lines, ratio, moved) in enumerate(product((1, 2, 3), (0.92, 1.0, 1.05, 1.14), (0.0, 0.5, 1.0, 1.6))):
        width = 0.44 * lines + 0.03
        before = wall(turn, 4, 1, width, lines)
        first = evaluate_flow(before)
        assert first.figures is not None
        by = moved * first.figures.delivered * (ratio - 1) / before.per_mm
        rows = tuple(tuple(width + by for width in row) for row in wall(turn + 1, 4, 1, width, lines).readings)
        after = replace(before, readings=rows)
        yield same_box(first, evaluate_flow(after), after, ratio)
        yield judge_reprint(first, after, ratio)
    refused = evaluate_flow(replace(before, readings=((0.0,),)))
    yield [same_box(refused, first, before, 1.1), same_box(first, refused, before, 1.1)]


def box_masses() -> Iterator[object]:
    """Boxes too light and too heavy, weighed one to five times, evenly and not, against a short strand and a long one."""
    for turn, (count, share, by) in enumerate(
        product((1, 2, 3, 5), (0.7, 0.9, 0.96, 1.0, 1.05, 1.2), (0.0, 0.02, 0.06))
    ):
        strand = ReferencePiece(
            mass_g=0.8 + 0.4 * (turn % 2), length_mm=268.5 * (1 + turn % 2 / 2), length_tool=CALLIPER
        )
        masses = crooked(count, 0.8 * share, by, turn)
        yield evaluate_box_mass(BoxMassSample(masses_g=masses, commanded_mm=268.5, tool=SCALE, reference=strand))


def first_layers() -> Iterator[object]:
    """Level, tilted and bent beds, nozzle high and low, three and four screws, one of which nobody turns."""
    for turn, (tilt, bow, off) in enumerate(product((0.0, 0.05), (0.0, 0.06), (-0.05, 0.01, 0.09))):
        noise = [crooked(3, 0.0, 0.008 + 0.002 * row, turn + 2 * row) for row in range(3)]
        rows = tuple(
            tuple(
                0.2 + off + tilt * (x - 1) - 0.4 * tilt * (y - 1) + bow * (x == y == 1) + noise[y][x] for x in range(3)
            )
            for y in range(3)
        )
        yield evaluate_first_layer(
            PatchSample(
                x_mm=(30.0, 105.0, 190.0), y_mm=(25.0, 100.0, 180.0), thickness=rows, commanded_mm=0.2, offset_mm=-1.42,
                screws_mm=((30.0, 30.0), (190.0, 30.0), (110.0, 190.0), (20.0, 180.0))[: 3 + turn % 2], pitch_mm=0.7,
                tool=CALLIPER, fixed_screw=1 if turn % 3 else None,
            )
        )  # fmt: skip


def foams() -> Iterator[object]:
    """Peaks in the middle and near an end, plateaus, rises and falls, spaced evenly or not, with bands that heat spoiled."""
    shapes = (
        (0.50, 0.54, 0.60, 0.66, 0.65, 0.58, 0.52), (0.50, 0.52, 0.55, 0.57, 0.60, 0.62, 0.65),
        (0.66, 0.64, 0.60, 0.57, 0.54, 0.52, 0.50), (0.50, 0.60, 0.63, 0.635, 0.63, 0.632, 0.58),
        (0.50, 0.51, 0.505, 0.50, 0.51, 0.50, 0.505), (0.50, 0.53, 0.56, 0.59, 0.62, 0.66, 0.655),
        (0.55, 0.58, 0.60, 0.62, 0.64, 0.66, 0.62), (0.655, 0.66, 0.62, 0.59, 0.56, 0.53, 0.50),
        (0.62, 0.66, 0.64, 0.62, 0.60, 0.58, 0.55), (0.50, 0.54, 0.58, 0.62, 0.66, 0.60, 0.658),
    )  # fmt: skip
    for turn, (shape, spacing) in enumerate(product(shapes, (5.0, 10.0))):
        celsius = tuple(200.0 + spacing * band + (band % 3 if turn % 2 else 0) for band in range(len(shape)))
        widths = tuple(crooked(1 + (band + turn) % 3, width, 0.006, turn + band) for band, width in enumerate(shape))
        for vetoed, chosen in ((frozenset[int](), None), (frozenset({5}), None), (frozenset[int](), celsius[2])):
            yield evaluate_foaming(
                FoamSample(
                    temperatures_c=celsius,
                    widths_mm=widths,
                    bead=LINE,
                    flow=0.7,
                    tool=CALLIPER,
                    vetoed=vetoed,
                    chosen_c=chosen,
                )
            )


def retractions() -> Iterator[object]:
    """One and two people, with and without gaps, counted and rated, direct and through a tube."""
    for turn, row in enumerate(
        ((0, 1, 2, 4, 4), (4, 4, 3, 4, 4), (1, 1, 2, 1, 1), (0, 0, 1, 2, 3), (2, None, 3, None, 4))
    ):
        gaps = ((4, 4, 3, 2, 1),) if turn % 2 else ()
        other = tuple(None if one is None else min(4, one + 1) for one in row)
        for direct in (True, False):
            distances = (0.4, 0.8, 1.2, 1.6, 2.0) if direct else (1.0, 2.5, 4.0, 5.5, 7.0)
            sample = RetractionSample(
                distances_mm=distances, strings=(row, other)[: 1 + turn % 2], gaps=gaps, direct=direct
            )
            yield evaluate_retraction(sample)
            yield evaluate_retraction(replace(sample, in_use=distances[turn % 5], out=frozenset({turn % 3})))
            counts = tuple(None if one is None else 5 * (4 - one) for one in row)
            yield evaluate_retraction(
                RetractionSample(distances_mm=distances, strings=(counts,), crossings=20, direct=direct)
            )


def towers() -> Iterator[object]:
    """Every purpose; one and two people; bands that failed."""
    rows = ((4, 4, 3, 3, 2, 1), (1, 2, 3, 4, 4, 4), (2, 3, 4, 4, 3, 2), (4, 4, 4, 4, 3, 3), (3, None, 3, None, 2, 4))
    for turn, demand in enumerate(demand for _ in range(2) for demand in DEMANDS.values()):
        tables = [
            {criterion: rows[(place + turn + 2 * rater) % len(rows)] for place, criterion in enumerate(Criterion)}
            for rater in range(1 + turn % 2)
        ]
        failed = frozenset({turn % 6}) if turn > 3 else frozenset[int]()
        celsius = (195.0, 205.0, 215.0, 225.0, 235.0, 245.0)
        sample = TowerSample(temperatures_c=celsius, raters=tuple(tables), failed=failed)
        yield evaluate_tower(sample, demand)
        yield evaluate_tower(replace(sample, unanchored=True), demand)


RULES: dict[str, Callable[[], Iterator[object]]] = {
    "esteps": esteps, "diameters": diameters, "flows": flows, "first layers": first_layers, "foams": foams,
    "box masses": box_masses, "reprints": reprints, "retractions": retractions, "towers": towers,
}  # fmt: skip

GAVE: dict[str, Fingerprint] = {
    "esteps": (394, 802898209, 134.37149262243892, 10.441657292688886),
    "diameters": (204, 3653551181, 82.6249762652819, 9.42156082950095),
    "flows": (4242, 1643989052, 449.087780836056, 25.56938836608099),
    "first layers": (498, 2436246400, 92.73469981794254, 42.5584624938682),
    "foams": (1221, 1346229697, 278.642078566466, 34.57293534859172),
    "box masses": (852, 3307756863, 208.190156523372, -59.763246327236054),
    "reprints": (98, 992202282, 0.0, 0.0),
    "retractions": (906, 1896175718, 192.35849573436158, -38.95242491966303),
    "towers": (648, 107380074, 207.2096051439687, 5.109975976405044),
}


@pytest.mark.parametrize("name", RULES)
def test_a_rule_gives_what_it_gave(name: str) -> None:
    """Verdicts, reasons and every figure."""
    assert_unchanged(list(RULES[name]()), GAVE[name], rel=1e-7)
