"""``ubrex calc``: the rules by themselves, JSON in and JSON out, for scripts."""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Collection, Mapping
from dataclasses import replace
from typing import Annotated, Final

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    CHANGE_DOF,
    CHANGE_MARGIN_MM,
    DIAMETER_TARGET_PCT,
    DIAMETER_TOLERANCE_PCT,
    ENVELOPE_MM,
    FLOW_TARGET_PCT,
    FLOW_TOLERANCE_PCT,
    OFFSET_TARGET_MM,
    OFFSET_TOLERANCE_MM,
    READ_STD_MM,
    TARGET_PCT,
    TILT_TOLERANCE_MM,
    TOLERANCE_PCT,
    VERIFY_MARGIN_PCT,
    ZERO_CHECKED_ERROR_MM,
    Datasheet,
    DiameterSample,
    Equivalence,
    EStepsSample,
    Method,
    PatchSample,
    ReferencePiece,
    Strand,
    WallSample,
    compare_walls,
    equivalence,
    evaluate_diameter,
    evaluate_esteps,
    evaluate_first_layer,
    evaluate_flow,
    flow_of_two_prints,
    reconcile,
)
from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import Component, Reason, SpreadHistory, Tool, Verdict
from ubrex.server.calc.calc_towers import calc_foaming, calc_retraction, calc_temperature
from ubrex.server.calc.calc_types import Json, NotNegative, Number, Positive, UnusableInput


class EStepsCalcIn(BaseModel):
    """Inputs of rule A; units stand in the names, readings are in mm or g by method."""

    model_config = ConfigDict(extra="forbid", strict=True)

    method: str
    commanded_mm: Positive
    current_steps_per_mm: Positive
    readings: list[Number]
    resolution: Positive
    max_permissible_error: NotNegative
    mark_at_mm: Positive | None = None
    steps_per_motor_turn: Positive | None = None
    density_g_cm3: Positive | None = None
    density_half_width_g_cm3: NotNegative | None = None
    diameter_mm: Positive | None = None
    diameter_std_uncertainty_mm: NotNegative | None = None
    reference_mass_g: Positive | None = None
    reference_length_mm: Positive | None = None
    reference_length_resolution_mm: Positive = 0.5
    reference_length_max_permissible_error_mm: NotNegative = 0.5
    history_sd: NotNegative | None = None
    history_dof: NotNegative = 0.0
    tolerance_pct: Positive = TOLERANCE_PCT
    target_pct: Positive = TARGET_PCT

    def strand(self) -> Strand | None:
        """The mass of 1 mm, from whichever keys are given; None if none is."""
        if self.reference_mass_g is not None and self.reference_length_mm is not None:
            return ReferencePiece(
                mass_g=self.reference_mass_g,
                length_mm=self.reference_length_mm,
                length_tool=Tool(
                    resolution=self.reference_length_resolution_mm,
                    max_permissible_error=self.reference_length_max_permissible_error_mm,
                ),
            )
        if self.density_g_cm3 is not None and self.diameter_mm is not None:
            return Datasheet(
                density_g_cm3=self.density_g_cm3,
                density_half_width_g_cm3=self.density_half_width_g_cm3 or 0.0,
                diameter_mm=self.diameter_mm,
                diameter_std_mm=self.diameter_std_uncertainty_mm or 0.0,
            )
        return None


def calc_esteps(inputs: Json) -> dict[str, Json]:
    """Rule A on its inputs."""
    given = EStepsCalcIn.model_validate(inputs)
    if given.method not in set(Method):
        raise UnusableInput(f"method: one of {', '.join(Method)}, not {given.method!r}")
    if given.method == Method.MARKED and given.mark_at_mm is None:
        raise UnusableInput("mark_at_mm: missing")
    sample = EStepsSample(
        method=Method(given.method),
        commanded_mm=given.commanded_mm,
        readings=tuple(given.readings),
        tool=Tool(resolution=given.resolution, max_permissible_error=given.max_permissible_error),
        mark_at_mm=given.mark_at_mm,
        strand=given.strand(),
        history=None if given.history_sd is None else SpreadHistory(std=given.history_sd, dof=given.history_dof),
    )
    result = evaluate_esteps(sample, tolerance_pct=given.tolerance_pct, target_pct=given.target_pct)
    answer: dict[str, Json] = {"verdict": result.verdict.value, "reason": result.reason.value}
    figures = result.figures
    if figures is None:
        return answer
    new = given.current_steps_per_mm * figures.factor
    turn = given.steps_per_motor_turn
    return answer | {
        "n": figures.count,
        "fed_mm": figures.fed_mm,
        "spread_pct": figures.spread_pct,
        "correction_factor": figures.factor,
        "error_pct": figures.error_pct,
        "std_uncertainty_pct": figures.std_pct,
        "dof": _finite(figures.dof),
        "half_width_95_pct": figures.half_width_95_pct,
        "guard_pct": figures.guard_pct,
        "more_repeats": result.more_repeats,
        "new_steps_per_mm": new,
        "new_steps_low": new * (1 - figures.relative_half_width),
        "new_steps_high": new * (1 + figures.relative_half_width),
        **(
            {}
            if turn is None
            else {"current_mm_per_turn": turn / given.current_steps_per_mm, "new_mm_per_turn": turn / new}
        ),
    }


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
    tolerance_pct: Positive = FLOW_TOLERANCE_PCT
    target_pct: Positive = FLOW_TARGET_PCT


class VerifyCalcIn(WallIn):
    """Inputs of rule B on a reprint."""

    readings_mm: list[list[Number]]
    lines: Annotated[int, Field(ge=1, le=10)] = 1
    current_flow: Positive = 1.0
    excluded: list[int] = []
    margin_pct: Positive = VERIFY_MARGIN_PCT


_NARROW: Final = {"verdict": Verdict.REFUSE.value, "reason": Reason.LINE_NARROWER_THAN_LAYER.value}


def calc_flow_wall(inputs: Json) -> dict[str, Json]:
    """Rule B on one box."""
    given = FlowCalcIn.model_validate(inputs)
    sample = given.sample(given.readings_mm, given.lines, given.excluded)
    if sample is None:
        return dict(_NARROW)
    sample = replace(sample, foaming=given.foaming)
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
        "dof": _finite(figures.dof),
        "half_width_95_pct": figures.half_width_95_pct,
        "guard_pct": figures.guard_pct,
        "new_flow": flow * figures.factor,
        "new_flow_low": flow * (figures.factor - reach),
        "new_flow_high": flow * (figures.factor + reach),
        "new_flow_simple": flow * figures.simple_ratio,
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
        return {"verdict": Verdict.REFUSE.value, "reason": Reason.NO_RESPONSE.value}
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


class DiameterCalcIn(BaseModel):
    """Inputs of rule C; readings in mm."""

    model_config = ConfigDict(extra="forbid", strict=True)

    widest_mm: list[Number]
    across_mm: list[Number]
    nominal_mm: Positive = 1.75
    resolution_mm: Positive = 0.01
    max_permissible_error_mm: NotNegative = 0.02
    reading_sd_mm: Positive = READ_STD_MM
    history_sd: NotNegative | None = None
    history_dof: NotNegative = 0.0
    tolerance_pct: Positive = DIAMETER_TOLERANCE_PCT
    target_pct: Positive = DIAMETER_TARGET_PCT


def calc_diameter(inputs: Json) -> dict[str, Json]:
    """Rule C on its inputs."""
    given = DiameterCalcIn.model_validate(inputs)
    if len(given.widest_mm) != len(given.across_mm):
        raise UnusableInput("across_mm: as many readings as widest_mm")
    sample = DiameterSample(
        widest=tuple(given.widest_mm),
        across=tuple(given.across_mm),
        nominal_mm=given.nominal_mm,
        tool=Tool(resolution=given.resolution_mm, max_permissible_error=given.max_permissible_error_mm),
        history=None if given.history_sd is None else SpreadHistory(std=given.history_sd, dof=given.history_dof),
    )
    result = evaluate_diameter(
        sample, tolerance_pct=given.tolerance_pct, target_pct=given.target_pct, read_std_mm=given.reading_sd_mm
    )
    answer: dict[str, Json] = {"verdict": result.verdict.value, "reason": result.reason.value}
    figures = result.figures
    if figures is None:
        return answer
    return answer | {
        "n": figures.count,
        "diameter_mm": figures.diameter_mm,
        "diameter_std_uncertainty_mm": figures.diameter_std_mm,
        "diameter_low_mm": figures.diameter_mm - figures.diameter_half_width_mm,
        "diameter_high_mm": figures.diameter_mm + figures.diameter_half_width_mm,
        "correction_factor": figures.factor,
        "error_pct": figures.error_pct,
        "std_uncertainty_pct": figures.std_pct,
        "dof": _finite(figures.dof),
        "half_width_95_pct": figures.half_width_95_pct,
        "guard_pct": figures.guard_pct,
        "ovality_rms_mm": figures.ovality_mm,
        "ovality_detected": figures.oval_detected,
        "ovality_bad": figures.oval_bad,
        "spread_mm": figures.spread_mm,
        "more_repeats": result.more_repeats,
    }


Three = Annotated[list[Number], Field(min_length=3, max_length=3)]
Point = Annotated[list[Number], Field(min_length=2, max_length=2)]


class FirstLayerCalcIn(BaseModel):
    """Inputs of rule D; mm, thickness by row of y."""

    model_config = ConfigDict(extra="forbid", strict=True)

    x_mm: Three
    y_mm: Three
    thickness_mm: Annotated[list[Three], Field(min_length=3, max_length=3)]
    commanded_mm: Positive
    current_offset_mm: Number
    screws_mm: list[Point] = []
    screw_pitch_mm: Positive = 0.7
    fixed_screw: Annotated[int, Field(ge=0)] | None = None
    resolution_mm: Positive = 0.01
    max_permissible_error_mm: NotNegative = 0.02
    tolerance_mm: Positive = OFFSET_TOLERANCE_MM
    target_mm: Positive = OFFSET_TARGET_MM
    screw_tolerance_mm: Positive = TILT_TOLERANCE_MM


def calc_first_layer(inputs: Json) -> dict[str, Json]:
    """Rule D on its inputs."""
    given = FirstLayerCalcIn.model_validate(inputs)
    for name, places in (("x_mm", given.x_mm), ("y_mm", given.y_mm)):
        if not places[0] < places[1] < places[2]:
            raise UnusableInput(f"{name}: three places, one after the other")
    if given.fixed_screw is not None and given.fixed_screw >= len(given.screws_mm):
        raise UnusableInput(f"fixed_screw: there are {len(given.screws_mm)} screws")
    sample = PatchSample(
        x_mm=(given.x_mm[0], given.x_mm[1], given.x_mm[2]),
        y_mm=(given.y_mm[0], given.y_mm[1], given.y_mm[2]),
        thickness=tuple(tuple(row) for row in given.thickness_mm),
        commanded_mm=given.commanded_mm,
        offset_mm=given.current_offset_mm,
        screws_mm=tuple((place[0], place[1]) for place in given.screws_mm),
        pitch_mm=given.screw_pitch_mm,
        tool=Tool(resolution=given.resolution_mm, max_permissible_error=given.max_permissible_error_mm),
        fixed_screw=given.fixed_screw,
    )
    result = evaluate_first_layer(
        sample,
        tolerance_mm=given.tolerance_mm,
        target_mm=given.target_mm,
        tilt_tolerance_mm=given.screw_tolerance_mm,
    )
    figures = result.figures
    if figures is None:
        return {"verdict": result.verdict.value, "reason": result.reason.value}
    return {
        "mean_mm": figures.mean_mm,
        "slope_x_mm_mm": figures.slopes[0],
        "slope_y_mm_mm": figures.slopes[1],
        "slope_x_std_uncertainty": figures.slopes_std[0],
        "slope_y_std_uncertainty": figures.slopes_std[1],
        "residual_sd_mm": figures.residual_std_mm,
        "sd_used_mm": figures.used.std,
        "sd_dof": figures.used.dof,
        "coarse": figures.coarse,
        "offset_error_mm": figures.offset_error_mm,
        "offset_std_uncertainty_mm": figures.offset_std_mm,
        "dof": _finite(figures.dof),
        "offset_half_width_95_mm": figures.half_width_95_mm,
        "new_offset_mm": figures.new_offset_mm,
        "offset_verdict": result.verdict.value,
        "offset_reason": result.reason.value,
        "tilt": None if result.tilt is None else result.tilt.value,
        "screws": [
            {
                "raise_mm": screw.raise_mm,
                "std_uncertainty_mm": screw.std_mm,
                "guard_mm": screw.guard_mm,
                "turns": screw.turns,
                "turns_std_uncertainty": screw.turns_std,
            }
            for screw in figures.screws
        ],
        "warp_range_mm": figures.warp_range_mm,
        "warp_detected": figures.warp_detected,
        "warp_bad": figures.warp_bad,
        "bow_mm": figures.bow_mm,
        "bow_std_uncertainty_mm": figures.bow_std_mm,
        "plane_range_mm": figures.plane_range_mm,
    }


def _finite(dof: float) -> float | None:
    return dof if math.isfinite(dof) else None


RULES: Final[Mapping[str, Callable[[Json], dict[str, Json]]]] = {
    "e-steps": calc_esteps,
    "flow-wall": calc_flow_wall,
    "flow-verify": calc_flow_verify,
    "flow-verify-change": calc_flow_verify_change,
    "flow-two-prints": calc_flow_two_prints,
    "flow-reconcile": calc_flow_reconcile,
    "filament-diameter": calc_diameter,
    "first-layer": calc_first_layer,
    "temperature-tower": calc_temperature,
    "retraction-tower": calc_retraction,
    "foaming": calc_foaming,
}
"""Rules by the name they are called with."""


def calc(name: str, text: str) -> str:
    """Result of a rule as JSON text.

    Raises
    ------
    UnusableInput
        With one line that says what is wrong: unknown name, no JSON, a key or a value that cannot be used.
    """
    rule = RULES.get(name)
    if rule is None:
        raise UnusableInput(f"no rule is named {name!r}; there is: {', '.join(sorted(RULES))}")
    try:
        inputs = json.loads(text, parse_constant=_no_constant)
    except ValueError as error:
        raise UnusableInput(f"not JSON: {error}") from error
    try:
        return json.dumps(rule(inputs), allow_nan=False)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "input"
        raise UnusableInput(f"{where}: {first['msg']}".replace("\n", " ")) from error
    except OutOfRange as error:
        raise UnusableInput(f"{error.details.get('name', 'input')}: {error}") from error


def _no_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number")
