"""Sentences are true to their numbers: every verdict over a grid of results, and what its sentence claims."""

from __future__ import annotations

import re
from collections.abc import Iterator
from itertools import product

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    DIAMETER_TOLERANCE_PCT,
    ESTEPS_TOLERANCE_PCT,
    FLOW_TOLERANCE_PCT,
    OFFSET_TOLERANCE_MM,
    DiameterSample,
    EStepsMethod,
    EStepsSample,
    FlowReason,
    FlowResult,
    PatchSample,
    WallSample,
    evaluate_diameter,
    evaluate_esteps,
    evaluate_first_layer,
    evaluate_flow,
    evaluate_pair,
)
from ubrex.core.gcode.pieces import POSITIONS_A_WALL
from ubrex.core.quantity import Tool, ToolKind, Verdict
from ubrex.server.calibrations.diameter import _words as diameter
from ubrex.server.calibrations.e_steps import _words as esteps
from ubrex.server.calibrations.first_layer import _words as first_layer
from ubrex.server.calibrations.flow import _words as flow

LINE = Bead(width_mm=0.45, height_mm=0.2)
TOOLS = {
    ToolKind.CALLIPER: Tool(resolution=0.01, max_permissible_error=0.03),
    ToolKind.MICROMETER: Tool(resolution=0.001, max_permissible_error=0.003),
}
ERRORS = (-0.12, -0.04, -0.01, -0.004, 0.0, 0.002, 0.006, 0.012, 0.02, 0.05, 0.09)


def percent_in(text: str, before: str) -> float:
    """The percentage behind some words."""
    found = re.search(rf"{before}\D*([\d.]+)", text)
    assert found, text
    return float(found[1])


def assert_claims(said: str, verdict: Verdict, error: float, half: float, guard: float, tolerance: float) -> str:
    """What any sentence claims of an error, its interval and what is worth a change; the kind of claim it was."""
    size = abs(error)
    if said.startswith("Within"):
        assert verdict is Verdict.KEEP, said
        assert size + guard <= tolerance, said
        return "within"
    if said.startswith("No error found"):
        assert verdict is Verdict.KEEP, said
        assert size <= min(half, tolerance), said
        return "none"
    if "less than is worth a change" in said:
        assert verdict is Verdict.KEEP, said
        assert half < size <= tolerance, said
        return "small"
    if "may be chance" in said:
        assert verdict is Verdict.TRY, said
        assert tolerance < size <= half, said
        return "chance"
    if "last digit" in said:
        assert verdict is Verdict.TRY, said
        assert half + tolerance < size, said
        return "digit"
    if "robably" in said:
        assert verdict is Verdict.TRY, said
        assert max(half, tolerance) < size <= half + tolerance, said
        return "probably"
    return "other"


def boxes() -> Iterator[tuple[ToolKind, int, FlowResult]]:
    """Walls about the width they should have, alike and scattered, of one and two lines."""
    for (kind, tool), lines, off, scatter in product(TOOLS.items(), (1, 2), ERRORS, (0.0, 0.006, 0.02)):
        middle = LINE.wall_mm(lines, LINE.solid_mm) + 0.01 + off
        rows = tuple((round(middle + scatter * way, 4),) for way in (1.0, -0.6, -1.0, 0.6))
        sample = WallSample(
            readings=rows, bead=LINE, tool=tool, lines=lines, spacing_mm=LINE.solid_mm, boxes=True, sure_by_digit=True
        )
        yield kind, lines, evaluate_flow(sample)


def test_sentences_on_walls_are_true_to_their_numbers() -> None:
    """Figures said are those of the result, advice can be followed, and nothing is advised that was done."""
    seen = set()
    for kind, lines, found in boxes():
        figures = found.figures
        if figures is None or found.verdict is Verdict.REFUSE:
            continue
        points = 90 * figures.half_width_95_pct / 100
        finer = flow.finer_said(kind, zero_checked=False, lines=lines, fusing=figures.fusing)
        said = flow.flow_said(
            found.verdict, found.reason, figures, wanted_mm=0.46, tolerance_pct=FLOW_TOLERANCE_PCT,
            proposal=f"{90 * found.to_set:.1f}", half_width_pct=points, low=f"{90 * found.to_set - points:.1f}",
            high=f"{90 * found.to_set + points:.1f}", more=found.more_readings, finer=finer,
        )  # fmt: skip
        claim = assert_claims(
            said, found.verdict, figures.error_pct, figures.half_width_95_pct, figures.guard_pct, FLOW_TOLERANCE_PCT
        )
        if claim == "none":
            assert percent_in(said, "under") >= figures.half_width_95_pct
        if found.verdict is Verdict.APPLY:
            low, high = (float(edge) for edge in re.findall(r"([\d.]+)", said.rpartition(":")[2])[:2])
            assert not low <= 90 <= high, said
        if found.verdict is Verdict.REPEAT and found.more_readings:
            assert f"{found.more_readings} more" in said
            assert 4 + found.more_readings <= 4 * POSITIONS_A_WALL
        if "can be seen here" in said:
            assert ("micrometer" in said) == (kind is not ToolKind.MICROMETER and not figures.fusing)
            assert ("one line would tell" in said) == figures.fusing
        if found.verdict is Verdict.TRY:
            assert 0 < abs(found.to_set - 1) < abs(figures.factor - 1)
        else:
            assert found.to_set == figures.factor
        seen |= {claim, found.verdict.value}
    assert {"none", "chance", "probably", "digit", "apply", "repeat"} <= seen


def test_what_is_said_of_one_line_and_two_is_true_to_both() -> None:
    """Off alike: thin jaws or a flow that is too low, thick ones or one too high; tried where the zero is known."""
    seen = set()
    for off, apart, known in product((-0.06, -0.04, 0.0, 0.04, 0.06), (0.0, 0.01, 0.02), (0.01, 0.03)):
        tool = Tool(resolution=0.001, max_permissible_error=known)
        one, two = (
            WallSample(
                readings=((LINE.wall_mm(lines, LINE.solid_mm) + 0.01 + off + (lines - 1) * apart,),) * 4, bead=LINE,
                tool=tool, lines=lines, spacing_mm=LINE.solid_mm, boxes=True,
            )
            for lines in (1, 2)
        )  # fmt: skip
        found = evaluate_pair(one, two)
        if found.reason is not FlowReason.RESTS_ON_ZERO:
            continue
        assert found.single.figures is not None
        assert (found.verdict, known) == (Verdict.TRY, 0.01)
        said = flow.flow_said(
            found.verdict, found.reason, found.single.figures, wanted_mm=0.46, tolerance_pct=FLOW_TOLERANCE_PCT,
            proposal=f"{100 * found.to_set:.1f}", half_width_pct=1.0, low="", high="", more=None, finer="",
        )  # fmt: skip
        assert ("read thin" in said) == (off < 0) == (found.to_set > 1)
        assert ("read thick" in said) == (off > 0)
        assert 0 < abs(found.to_set - 1) < abs(found.error_pct) / 100
        seen.add(off)
    assert seen == {-0.06, -0.04, 0.04, 0.06}


def test_sentences_on_the_feed_are_true_to_their_numbers() -> None:
    """The same for e-steps, over errors and scatter of three and five readings."""
    seen = set()
    for off, scatter, count in product((-8.0, -1.6, -0.9, -0.3, 0.0, 0.5, 1.1, 2.5), (0.02, 0.3, 0.9), (3, 5)):
        readings = tuple(round(100 + off + scatter * way, 2) for way in (0.8, -1.0, 0.2, 1.0, -0.9)[:count])
        sample = EStepsSample(
            method=EStepsMethod.OPEN_AIR, commanded_mm=100, readings=readings, tool=TOOLS[ToolKind.CALLIPER]
        )
        found = evaluate_esteps(sample)
        figures = found.figures
        assert figures is not None
        said = esteps.verdict(found, proposal="400", low="398", high="402", unit="steps/mm", commanded_mm=100).sentence
        claim = assert_claims(
            said, found.verdict, figures.error_pct, figures.half_width_95_pct, figures.guard_pct, ESTEPS_TOLERANCE_PCT
        )
        if claim == "none":
            assert percent_in(said, "under") >= figures.half_width_95_pct
        if "more reading" in said and found.more_repeats:
            assert found.more_repeats == 1 or f"{found.more_repeats} more readings" in said
        seen |= {claim, found.verdict.value}
    assert {"within", "small", "apply", "try"} <= seen


def test_sentences_on_filament_and_first_layer_are_true_to_their_numbers() -> None:
    """And advice on the zero is only given where it was not checked."""
    seen = set()
    for (kind, tool), off, checked in product(TOOLS.items(), (-0.05, -0.014, -0.006, 0.0, 0.004, 0.02), (True, False)):
        widest = tuple(round(1.75 + off + way, 3) for way in (0.0, 0.004, -0.004))
        strand = evaluate_diameter(DiameterSample(widest=widest, across=widest, nominal_mm=1.75, tool=tool))
        assert strand.figures is not None
        said = diameter.diameter_said(
            strand.reason, strand.figures, "1.740", "1.75", strand.more_repeats,
            diameter.finer_said(kind, zero_checked=checked),
        )  # fmt: skip
        assert not (checked and "zero" in said), said
        size, half = abs(strand.figures.error_pct), strand.figures.half_width_95_pct
        if "No difference" in said:
            assert size <= min(half, DIAMETER_TOLERANCE_PCT)
        if "may be chance" in said:
            assert DIAMETER_TOLERANCE_PCT < size <= half
        layer = evaluate_first_layer(
            PatchSample(
                x_mm=(0, 80, 160), y_mm=(0, 80, 160), thickness=((0.2 + off,) * 3,) * 3, commanded_mm=0.2, offset_mm=-1.4,
                screws_mm=((0, 0), (160, 0), (80, 160)), pitch_mm=0.7, tool=tool,
            )
        )  # fmt: skip
        assert layer.figures is not None
        text = first_layer.offset_said(
            layer.reason, layer.figures, "-1.400", first_layer.finer_said(kind, zero_checked=checked)
        )
        assert not (checked and "zero" in text), text
        far, reach = abs(layer.figures.offset_error_mm), layer.figures.half_width_95_mm
        if "less than is worth" in text or "No error found" in text or text.startswith("Within"):
            assert far <= OFFSET_TOLERANCE_MM
        if "may be chance" in text:
            assert OFFSET_TOLERANCE_MM < far <= reach
        seen |= {strand.verdict.value, layer.verdict.value}
    assert {"apply", "keep"} <= seen
