"""``ubrex calc filament-diameter``: rule C, JSON in and JSON out."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from ubrex.core.calibrate import (
    DIAMETER_TARGET_PCT,
    DIAMETER_TOLERANCE_PCT,
    READ_STD_MM,
    DiameterSample,
    evaluate_diameter,
)
from ubrex.core.quantity import SpreadHistory, Tool
from ubrex.server.calibrations._calc import (
    Json,
    NotNegative,
    Number,
    Positive,
    UnusableInput,
    finite,
)


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
        "dof": finite(figures.dof),
        "half_width_95_pct": figures.half_width_95_pct,
        "guard_pct": figures.guard_pct,
        "ovality_rms_mm": figures.ovality_mm,
        "ovality_detected": figures.oval_detected,
        "ovality_bad": figures.oval_bad,
        "spread_mm": figures.spread_mm,
        "more_repeats": result.more_repeats,
    }
