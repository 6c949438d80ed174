"""``ubrex calc flow-…``: rule B, JSON in and JSON out."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace
from typing import Annotated, Final

from pydantic import BaseModel, ConfigDict, Field

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    BOX_MASS_TARGET_PCT,
    CHANGE_DOF,
    CHANGE_MARGIN_MM,
    ENVELOPE_MM,
    FLOW_TARGET_PCT,
    FLOW_TOLERANCE_PCT,
    VERIFY_MARGIN_PCT,
    BoxMassSample,
    Equivalence,
    FlowReason,
    ReferencePiece,
    WallSample,
    compare_walls,
    equivalence,
    evaluate_box_mass,
    evaluate_flow,
    flow_of_two_prints,
    reconcile,
)
from ubrex.core.gcode.pieces import WALLS
from ubrex.core.quantity import ZERO_CHECKED_ERROR_MM, Component, Tool, Verdict
from ubrex.server.calibrations._calc import (
    Json,
    NotNegative,
    Number,
    Positive,
    UnusableInput,
    finite,
)


class WallIn(BaseModel):
    """What every rule of section B is told of a box; readings in mm, one row a wall."""

    model_config = ConfigDict(extra="forbid", strict=True)

    line_width_mm: Positive
    layer_height_mm: Positive
    line_spacing_mm: Positive | None = None
    resolution_mm: Positive = 0.01
    max_permissible_error_mm: NotNegative = ZERO_CHECKED_ERROR_MM
    envelope_mm: NotNegative = ENVELOPE_MM

    def sample(self, readings: list[list[float]], lines: int, excluded: Collection[int] = ()) -> WallSample | None:
        """The box as the core judges it; None for a line narrower than its layer, which no bead can be."""
        if self.line_width_mm < self.layer_height_mm:
            return None
        places = sum(len(row) for row in readings)
        if any(not 0 <= place < places for place in excluded):
            raise UnusableInput(f"excluded: places are 0 to {places - 1}")
        return WallSample(
            readings=tuple(tuple(row) for row in readings),
            bead=Bead(width_mm=self.line_width_mm, height_mm=self.layer_height_mm),
            tool=Tool(resolution=self.resolution_mm, max_permissible_error=self.max_permissible_error_mm),
            lines=lines,
            spacing_mm=self.line_spacing_mm,
            envelope_mm=self.envelope_mm,
            excluded=frozenset(excluded),
        )


class FlowCalcIn(WallIn):
    """Inputs of rule B on one box."""

    readings_mm: list[list[Number]]
    lines: Annotated[int, Field(ge=1, le=10)] = 1
    current_flow: Positive = 1.0
    excluded: list[int] = []
    foaming: bool = False
    boxes: bool | None = None
    tolerance_pct: Positive = FLOW_TOLERANCE_PCT
    target_pct: Positive = FLOW_TARGET_PCT


class VerifyCalcIn(WallIn):
    """Inputs of rule B on a reprint."""

    readings_mm: list[list[Number]]
    lines: Annotated[int, Field(ge=1, le=10)] = 1
    current_flow: Positive = 1.0
    excluded: list[int] = []
    margin_pct: Positive = VERIFY_MARGIN_PCT


_NARROW: Final = {"verdict": Verdict.REFUSE.value, "reason": FlowReason.LINE_NARROWER_THAN_LAYER.value}


def calc_flow_wall(inputs: Json) -> dict[str, Json]:
    """Rule B on one box."""
    given = FlowCalcIn.model_validate(inputs)
    sample = given.sample(given.readings_mm, given.lines, given.excluded)
    if sample is None:
        return dict(_NARROW)
    # Four walls read once each are those of a box, in the order in which they stand, unless it is said otherwise.
    once = len(given.readings_mm) == len(WALLS) and all(len(row) == 1 for row in given.readings_mm)
    boxes = once if given.boxes is None else given.boxes
    sample = replace(sample, foaming=given.foaming, boxes=boxes, sure_by_digit=boxes)
    result = evaluate_flow(sample, tolerance_pct=given.tolerance_pct, target_pct=given.target_pct)
    answer: dict[str, Json] = {"verdict": result.verdict.value, "reason": result.reason.value}
    figures = result.figures
    if figures is None:
        return answer
    flow, reach = given.current_flow, figures.half_width_95_pct / 100
    return answer | {
        "expected_mm": figures.expected_mm,
        "mean_mm": figures.wall.mean_mm,
        "corrected_mm": figures.corrected_mm,
        "flagged": list(figures.flagged),
        "pooled": figures.wall.pooled,
        "between_walls_sd_mm": figures.wall.between_std_mm,
        "within_wall_sd_mm": figures.wall.within_std_mm,
        "simple_ratio": figures.simple_ratio,
        "delivered_ratio": figures.delivered,
        "correction_factor": figures.factor,
        "error_pct": figures.error_pct,
        "std_uncertainty_pct": figures.std_pct,
        "dof": finite(figures.dof),
        "half_width_95_pct": figures.half_width_95_pct,
        "guard_pct": figures.guard_pct,
        "new_flow": flow * figures.factor,
        "new_flow_low": flow * (figures.factor - reach),
        "new_flow_high": flow * (figures.factor + reach),
        "new_flow_simple": flow * figures.simple_ratio,
        "to_set_flow": flow * result.to_set,
        "more_readings": result.more_readings,
        "sides_apart_mm": figures.wall.sides_mm,
    }


class WeighedCalcIn(BaseModel):
    """Inputs of rule B on the mass of boxes: g, and mm of filament commanded for all of them together."""

    model_config = ConfigDict(extra="forbid", strict=True)

    masses_g: Annotated[list[Positive], Field(min_length=1)]
    commanded_mm: Positive
    current_flow: Positive = 1.0
    resolution_g: Positive = 0.01
    max_permissible_error_g: NotNegative = 0.02
    reference_mass_g: Positive
    reference_length_mm: Positive
    reference_length_resolution_mm: Positive = 0.5
    reference_length_max_permissible_error_mm: NotNegative = 0.5
    tolerance_pct: Positive = FLOW_TOLERANCE_PCT
    target_pct: Positive = BOX_MASS_TARGET_PCT


def calc_flow_weighed(inputs: Json) -> dict[str, Json]:
    """Rule B on the mass of boxes."""
    given = WeighedCalcIn.model_validate(inputs)
    length_tool = Tool(
        resolution=given.reference_length_resolution_mm,
        max_permissible_error=given.reference_length_max_permissible_error_mm,
    )
    sample = BoxMassSample(
        masses_g=tuple(given.masses_g),
        commanded_mm=given.commanded_mm,
        tool=Tool(resolution=given.resolution_g, max_permissible_error=given.max_permissible_error_g),
        reference=ReferencePiece(
            mass_g=given.reference_mass_g, length_mm=given.reference_length_mm, length_tool=length_tool
        ),
    )
    found = evaluate_box_mass(sample, tolerance_pct=given.tolerance_pct, target_pct=given.target_pct)
    figures, flow = found.figures, given.current_flow
    return {
        "verdict": found.verdict.value,
        "reason": found.reason.value,
        "mean_g": figures.mean_g,
        "expected_g": figures.expected_g,
        "delivered_ratio": figures.delivered,
        "correction_factor": figures.factor,
        "error_pct": figures.error_pct,
        "half_width_95_pct": figures.half_width_95_pct,
        "guard_pct": figures.guard_pct,
        "new_flow": flow * figures.factor,
        "to_set_flow": flow * found.to_set,
        "more_readings": found.more_readings,
    }


_STATUS: Final = {Equivalence.INSIDE: "verified", Equivalence.OUTSIDE: "off", Equivalence.OPEN: "inconclusive"}
_MOVED: Final = {
    Equivalence.INSIDE: "as_predicted",
    Equivalence.OUTSIDE: "not_as_predicted",
    Equivalence.OPEN: "inconclusive",
}


def calc_flow_verify(inputs: Json) -> dict[str, Json]:
    """Rule B on a reprint: an equivalence test."""
    given = VerifyCalcIn.model_validate(inputs)
    sample = given.sample(given.readings_mm, given.lines, given.excluded)
    if sample is None:
        return {"status": "refuse", "reason": _NARROW["reason"]}
    result = evaluate_flow(sample)
    figures = result.figures
    if figures is None or result.verdict is Verdict.REFUSE:
        return {"status": "refuse", "reason": result.reason.value}
    return {
        "status": _STATUS[equivalence(figures.error_pct, figures.guard_pct, given.margin_pct)],
        "error_pct": figures.error_pct,
        "low_90_pct": figures.error_pct - figures.guard_pct,
        "high_90_pct": figures.error_pct + figures.guard_pct,
    }


class VerifyChangeCalcIn(BaseModel):
    """Inputs of rule B on how far a wall moved."""

    model_config = ConfigDict(extra="forbid", strict=True)

    width_before_mm: Number
    before_std_uncertainty_mm: NotNegative
    width_after_mm: Number
    after_std_uncertainty_mm: NotNegative
    predicted_change_mm: Number
    margin_mm: Positive = CHANGE_MARGIN_MM
    dof: Positive = CHANGE_DOF
    resolution_mm: Positive = 0.01


def calc_flow_verify_change(inputs: Json) -> dict[str, Json]:
    """Rule B on how far a wall moved against what was predicted."""
    given = VerifyChangeCalcIn.model_validate(inputs)
    moved = compare_walls(
        Component(given.before_std_uncertainty_mm),
        Component(given.after_std_uncertainty_mm),
        moved_mm=given.width_after_mm - given.width_before_mm,
        predicted_mm=given.predicted_change_mm,
        step_mm=given.resolution_mm,
        margin_mm=given.margin_mm,
        dof=given.dof,
    )
    return {"difference_mm": moved.difference_mm, "guard_mm": moved.guard_mm, "status": _MOVED[moved.found]}


class TwoPrintsCalcIn(BaseModel):
    """Inputs of rule B on two prints at two flows."""

    model_config = ConfigDict(extra="forbid", strict=True)

    width_1_mm: Positive
    width_1_std_uncertainty_mm: NotNegative
    flow_1: Positive
    width_2_mm: Positive
    width_2_std_uncertainty_mm: NotNegative
    flow_2: Positive
    expected_mm: Positive
    common_std_uncertainty_mm: NotNegative


def calc_flow_two_prints(inputs: Json) -> dict[str, Json]:
    """Rule B without a model of the line."""
    given = TwoPrintsCalcIn.model_validate(inputs)
    if given.flow_1 == given.flow_2:
        raise UnusableInput("flow_2: must differ from flow_1")
    found = flow_of_two_prints(
        (given.flow_1, Component(given.width_1_std_uncertainty_mm)),
        (given.flow_2, Component(given.width_2_std_uncertainty_mm)),
        widths_mm=(given.width_1_mm, given.width_2_mm),
        expected_mm=given.expected_mm,
        common=Component(given.common_std_uncertainty_mm),
    )
    if found is None:
        return {"verdict": Verdict.REFUSE.value, "reason": FlowReason.NO_RESPONSE.value}
    return {
        "verdict": "extrapolated" if found.extrapolated else "ok",
        "flow": found.flow,
        "std_uncertainty": found.std,
        "slope_mm_per_unit": found.slope_mm,
        "slope_std_uncertainty": found.slope_std_mm,
    }


class ReconcileCalcIn(WallIn):
    """Inputs of rule B on one and two walls of one print."""

    single_readings_mm: list[list[Number]]
    double_readings_mm: list[list[Number]]


def calc_flow_reconcile(inputs: Json) -> dict[str, Json]:
    """Rule B on one and two walls of one print."""
    given = ReconcileCalcIn.model_validate(inputs)
    samples = [given.sample(given.single_readings_mm, 1), given.sample(given.double_readings_mm, 2)]
    found = []
    for sample in samples:
        if sample is None:
            return dict(_NARROW)
        result = evaluate_flow(sample)
        if result.figures is None or result.verdict is Verdict.REFUSE:
            return {"verdict": Verdict.REFUSE.value, "reason": result.reason.value}
        found.append((sample, result.figures))
    (sample, single), (_, double) = found
    both = reconcile(single, double, sample)
    return {
        "z": both.z,
        "agree": both.agree,
        "weight_of_single": both.weight_of_single,
        "delivered_ratio": both.delivered,
        "std_uncertainty": both.std,
        "correction_factor": both.factor,
        "reading_bias_mm": both.bias_mm,
    }


CALC: Final = {
    "flow-wall": calc_flow_wall,
    "flow-verify": calc_flow_verify,
    "flow-verify-change": calc_flow_verify_change,
    "flow-two-prints": calc_flow_two_prints,
    "flow-reconcile": calc_flow_reconcile,
}
"""Rules by the name they are called with."""
