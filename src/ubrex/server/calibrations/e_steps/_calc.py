"""``ubrex calc e-steps``: rule A, JSON in and JSON out."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from ubrex.core.calibrate import (
    ESTEPS_TARGET_PCT,
    ESTEPS_TOLERANCE_PCT,
    Datasheet,
    EStepsMethod,
    EStepsSample,
    ReferencePiece,
    Strand,
    evaluate_esteps,
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
    mark_resolution: Positive | None = None
    mark_max_permissible_error: NotNegative | None = None
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
    tolerance_pct: Positive = ESTEPS_TOLERANCE_PCT
    target_pct: Positive = ESTEPS_TARGET_PCT

    def mark_tool(self) -> Tool | None:
        """What set the mark, where that was not the tool that reads."""
        if self.mark_resolution is None or self.mark_max_permissible_error is None:
            return None
        return Tool(resolution=self.mark_resolution, max_permissible_error=self.mark_max_permissible_error)

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
    if given.method not in set(EStepsMethod):
        raise UnusableInput(f"method: one of {', '.join(EStepsMethod)}, not {given.method!r}")
    if given.method == EStepsMethod.MARKED and given.mark_at_mm is None:
        raise UnusableInput("mark_at_mm: missing")
    sample = EStepsSample(
        method=EStepsMethod(given.method),
        commanded_mm=given.commanded_mm,
        readings=tuple(given.readings),
        tool=Tool(resolution=given.resolution, max_permissible_error=given.max_permissible_error),
        mark_at_mm=given.mark_at_mm,
        mark_tool=given.mark_tool(),
        strand=given.strand(),
        history=None if given.history_sd is None else SpreadHistory(std=given.history_sd, dof=given.history_dof),
    )
    result = evaluate_esteps(sample, tolerance_pct=given.tolerance_pct, target_pct=given.target_pct)
    answer: dict[str, Json] = {"verdict": result.verdict.value, "reason": result.reason.value}
    figures = result.figures
    if figures is None:
        return answer
    new = given.current_steps_per_mm * figures.factor
    # Some machines are set by what one turn of the motor feeds: the same number the other way up.
    turn = given.steps_per_motor_turn
    return answer | {
        "n": figures.count,
        "fed_mm": figures.fed_mm,
        "spread_pct": figures.spread_pct,
        "correction_factor": figures.factor,
        "error_pct": figures.error_pct,
        "std_uncertainty_pct": figures.std_pct,
        "dof": finite(figures.dof),
        "half_width_95_pct": figures.half_width_95_pct,
        "guard_pct": figures.guard_pct,
        "more_repeats": result.more_repeats,
        "own_spread_pct": figures.own_spread_pct,
        "history_left_out": figures.history_left_out,
        "drift_pct": figures.drift_pct,
        "new_steps_per_mm": new,
        "new_steps_low": new * (1 - figures.relative_half_width),
        "new_steps_high": new * (1 + figures.relative_half_width),
        **(
            {}
            if turn is None
            else {"current_mm_per_turn": turn / given.current_steps_per_mm, "new_mm_per_turn": turn / new}
        ),
    }
