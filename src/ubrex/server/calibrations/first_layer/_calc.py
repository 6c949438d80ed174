"""``ubrex calc first-layer``: rule D, JSON in and JSON out."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from ubrex.core.calibrate import (
    OFFSET_TARGET_MM,
    OFFSET_TOLERANCE_MM,
    TILT_TOLERANCE_MM,
    PatchSample,
    evaluate_first_layer,
)
from ubrex.core.quantity import Tool
from ubrex.server.calibrations._calc import (
    Json,
    NotNegative,
    Number,
    Positive,
    UnusableInput,
    finite,
)

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
    # Columns and rows of the patches: a plane is laid through three by three.
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
        "dof": finite(figures.dof),
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
