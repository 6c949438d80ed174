"""At the number and just beyond it, for every number of the judgement that names a source."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from tests.core.judge.cases import (
    ASA,
    PLA,
    TPU,
    dried_in_parts,
    dry,
    drying,
    entered,
    has,
    of_parts,
    on_label,
    printed,
    shore,
    slipped,
    spool,
)

from ubrex.core.bead import USUAL_LAYER, USUAL_LINE
from ubrex.core.chain import Kind
from ubrex.core.judge import Code, Entry, judge_tool, line_of, speed_of
from ubrex.core.materials import Found, Hardness, Shore, Window
from ubrex.core.quantity import ToolKind


def fast(a: float) -> Any:
    """Whether 24 mm/s are too fast for a flexible of so many Shore A."""
    return has(Code.FLEXIBLE_TOO_FAST, replace(TPU, hardness=shore(a)), Kind.SPEED_OUTER)(24)


def blocks(flag: str) -> Any:
    """Whether a bore is too small for filament that is so, as a function of the bore."""
    return lambda bore: Code.SMALL_BORE in of_parts(replace(PLA, bore_mm=bore, flags=frozenset({flag})))


EDGES: dict[str, list[tuple[Any, float, float, object, object]]] = {
    "NARROWEST": [(has(Code.LINE_FAR, PLA, Kind.LINE_WIDTH), 0.36, 0.359, False, True)],
    "WIDEST": [(has(Code.LINE_FAR, PLA, Kind.LINE_WIDTH), 0.5, 0.501, False, True)],
    "USUAL_NARROWEST": [(has(Code.LINE_UNUSUAL, PLA, Kind.LINE_WIDTH), 0.42, 0.419, False, True)],
    "LEAST_LINE": [(has(Code.LINE_IMPOSSIBLE, PLA, Kind.LINE_WIDTH), 0.3, 0.299, False, True)],
    "MOST_LINE": [(has(Code.LINE_IMPOSSIBLE, PLA, Kind.LINE_WIDTH), 0.8, 0.801, False, True)],
    "THINNEST": [(has(Code.LAYER_TOO_THIN, PLA, Kind.LAYER), 0.06, 0.059, False, True)],
    "THICKEST": [
        (has(Code.LAYER_TOO_HIGH, PLA, Kind.LAYER), 0.32, 0.321, False, True),
        (has(Code.LAYER_TOO_HIGH, PLA, Kind.LAYER_FIRST), 0.32, 0.321, False, True),
    ],
    "SEMI_FROM_A": [(lambda a: replace(TPU, hardness=shore(a)).cap.distance_mm, 97.0, 96.9, 5.0, 3.0)],
    "SOFT_BELOW_A": [
        (fast, 90.0, 89.9, False, True)
    ],
    "SOFT_TUBE_MM_S": [(has(Code.FLEXIBLE_TOO_FAST, TPU, Kind.SPEED_OUTER), 25.0, 25.1, False, True)],
    "SOFTEST_TUBE_MM_S": [
        (has(Code.FLEXIBLE_TOO_FAST, replace(TPU, hardness=shore(80)), Kind.SPEED_OUTER), 20.0, 20.1, False, True)
    ],
    "HYGROSCOPIC_HOLD_H": [(lambda hours: dry("petg", (Found.SILENT, hours)), 168.0, 168.1, "dry", "overdue")],
    "DRY_HOLD_H": [(lambda hours: dry("pla", (Found.DRIED, hours)), 720.0, 720.1, "dry", "overdue")],
    "LEAST_SHARE": [(lambda hours: drying("nylon", hours, 80.0), 6.0, 5.9, "", "too_short")],
    "COOLER_C": [(lambda celsius: drying("nylon", 8.0, celsius), 75.0, 74.9, "", "too_cool")],
    "HOTTER_C": [
        (lambda celsius: drying("pla", 6.0, celsius), 60.0, 60.1, "", "too_hot"),
        (lambda celsius: "dry_c" in on_label(dry_c=celsius), 60.0, 60.1, False, True),
    ],
    "TOGETHER_H": [(dried_in_parts, 24.0, 24.1, 1, 0)],
    "USUAL_ENTRIES": [
        (entered(Entry.PRINTED_PARTS_MAX), 150.0, 150.1, "", "unusual"),
        (entered(Entry.BED_MAX), 50.0, 49.9, "", "unusual"),
        (entered(Entry.HOTEND_MAX), 200.0, 199.9, "", "unusual"),
        (entered(Entry.MAX_SPEED), 40.0, 39.9, "", "unusual"),
        (entered(Entry.SURFACE_MAX), 160.0, 160.1, "", "unusual"),
        (entered(Entry.DRY_HOURS), 1.0, 0.9, "", "unusual"),
        (entered(Entry.FULL), 50.0, 49.9, "", "unusual"),
        (entered(Entry.ROOM), 5.0, 4.9, "", "unusual"),
        (entered(Entry.HUMIDITY), 8.0, 7.9, "", "unusual"),
    ],
    "USUAL_STEPS": [
        (lambda step: judge_tool(ToolKind.CALLIPER, step, None).keys(), 0.01, 0.009, set(), {"resolution"}),
        (lambda step: judge_tool(ToolKind.MICROMETER, step, None).keys(), 0.01, 0.011, set(), {"resolution"}),
        (lambda step: judge_tool(ToolKind.RULER, step, None).keys(), 0.5, 0.49, set(), {"resolution"}),
        (lambda step: judge_tool(ToolKind.SCALE, step, None).keys(), 0.001, 0.0009, set(), {"resolution"}),
        (lambda step: judge_tool(ToolKind.THERMOMETER, step, None).keys(), 0.1, 0.09, set(), {"resolution"}),
    ],
    "USUAL_ERRORS": [
        (lambda off: bool(judge_tool(ToolKind.CALLIPER, 0.01, off)), 0.01, 0.009, False, True),
        (lambda off: bool(judge_tool(ToolKind.MICROMETER, 0.001, off)), 0.001, 0.0009, False, True),
        (lambda off: bool(judge_tool(ToolKind.RULER, 0.5, off)), 0.05, 0.049, False, True),
        (lambda off: bool(judge_tool(ToolKind.SCALE, 0.01, off)), 5.0, 5.1, False, True),
        (lambda off: bool(judge_tool(ToolKind.THERMOMETER, 0.1, off)), 0.1, 0.09, False, True),
    ],
    "FAR_FROM_FAMILY_C": [
        (lambda low: "label" in on_label(nozzle=[Window(low=low, high=low + 10)]), 255.0, 255.1, False, True),
        (lambda low: "bed_low_c" in on_label(bed=Window(low=low, high=low + 10)), 80.0, 80.1, False, True),
    ],
    "DENSITY_FAR": [
        (lambda times: "density_g_cm3" in on_label(density_g_cm3=1.24 * times), 1.349, 1.351, False, True),
        (lambda times: "density_g_cm3" in on_label(density_g_cm3=1.24 * times, filled=True), 1.349, 3.0, False, False),
    ],
    "FAST_CEILING_C": [
        (has(Code.OUTSIDE_FAMILY, replace(PLA, flags=frozenset({"silky"})), Kind.NOZZLE), 235.0, 235.1, False, True)
    ],
    "FAN_FAR": [(has(Code.FAN_FAR, ASA, Kind.FAN), 20.0, 20.1, False, True)],
    "HIGH_FLOW": [(has(Code.MELT_CLAIM, PLA, Kind.TOP_FLOW), 24.0, 24.1, False, True)],
    "SETTING_NEAR": [(slipped(Kind.E_STEPS, 100.0), 120.0, 120.1, "", "far_from_record")],
    "OFFSET_NEAR_MM": [(slipped(Kind.Z_OFFSET, -1.0), -0.5, -0.49, "", "far_from_record")],
    "USUAL": [
        (slipped(Kind.FLOW, 96.0), 74.0, 73.9, "", "unusual"),
        (slipped(Kind.FLOW_THIN, 110.0), 134.0, 134.1, "", "unusual"),
        (slipped(Kind.FLOW_SOLID, 96.0), 74.0, 73.9, "", "unusual"),
        (slipped(Kind.FAN, 40.0), 5.0, 4.9, "", "unusual"),
        (slipped(Kind.FAN_BRIDGE, 40.0), 5.0, 4.9, "", "unusual"),
        (slipped(Kind.TOP_FLOW, 6.0), 1.0, 0.9, "", "unusual"),
        (slipped(Kind.SPEED_OUTER, 60.0), 3.0, 2.9, "", "unusual"),
        (slipped(Kind.SPEED_INNER, 60.0), 3.0, 2.9, "", "unusual"),
        (slipped(Kind.SPEED_FILL, 60.0), 1000.0, 1000.1, "", "unusual"),
        (slipped(Kind.RETRACTION, 4.0), 0.1, 0.09, "", "unusual"),
        (slipped(Kind.RETRACTION_SPEED, 30.0), 5.0, 4.9, "", "unusual"),
        (slipped(Kind.Z_HOP, 0.5), 0.03, 0.029, "", "unusual"),
    ],
    "SLIP_WITHIN": [
        (slipped(Kind.LAYER, 0.1), 1.148, 1.149, "slip", ""),
        (entered(Entry.FULL, 1000.0), 100.0, 750.0, "slip", ""),
        (entered(Entry.FULL, 40.0), 40.0, 41.0, "", "unusual"),
    ],
    "SIGN_WITHIN": [(slipped(Kind.Z_OFFSET, -0.2), 0.24, 0.25, "sign", "")],
    "GLITTER_BORE_MM": [
        (blocks("glitter"), 0.6, 0.59, False, True)
    ],
    "FIBRE_BORE_MM": [
        (blocks("filled"), 0.4, 0.41, True, False)
    ],
    "DAMP_PCT": [(lambda pct: Code.DAMP in of_parts(TPU, humidity_pct=pct), 50.0, 49.9, True, False)],
    "RESERVE_G": [(lambda need: Code.SPOOL_RESERVE in spool(100, need), 90.0, 90.1, False, True)],
    "NEW_SPOOL_SLACK_G": [(lambda grams: Code.MORE_THAN_SPOOL in printed(40, grams), 1010.0, 1010.1, False, True)],
    "TIGHT_COIL": [(lambda left: Code.SPOOL_END in spool(left, 1, tube=True), 250.0, 249.9, False, True)],
    "FASTEST_MELT_MM3_S": [
        (lambda grams: Code.FASTER_THAN_MELT in printed(1, grams, None), 446.0, 447.0, False, True)
    ],
}  # fmt: skip
"""By name: what is asked, at the number, just beyond, and the two answers."""

EXACT: dict[str, tuple[object, object]] = {
    "USUAL_LINE": (line_of(PLA, {})[0], 0.4 * 1.05),
    "USUAL_LAYER": (line_of(PLA, {})[1], 0.4 * 0.5),
    "USUAL_SPEED_MM_S": (speed_of({}), 40.0),
    "_D_OF": ([Hardness(number, Shore.D).as_a for number in (16, 30, 35, 40, 46, 58, 75)], [65, 80, 85, 90, 95, 98, 100]),
}  # fmt: skip
"""By name: a result that it scales, and what that has to be."""

assert (USUAL_LINE, USUAL_LAYER) == (1.05, 0.5)
