"""``ubrex calc foaming``: rule G, JSON in and JSON out."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    FoamSample,
    evaluate_foaming,
)
from ubrex.core.quantity import Tool
from ubrex.server.calibrations._calc import (
    Bands,
    Json,
    NotNegative,
    Number,
    Positive,
    tower_answer,
)


class FoamingCalcIn(BaseModel):
    """Inputs of rule G; flows are ratios, widths mm by band."""

    model_config = ConfigDict(extra="forbid", strict=True)

    temperatures_c: Annotated[list[Number], Field(max_length=100)]
    widths_mm: list[Annotated[list[Positive], Field(min_length=1)]]
    line_width_mm: Positive
    layer_height_mm: Positive
    current_flow: Positive
    resolution_mm: Positive = 0.01
    max_permissible_error_mm: NotNegative = 0.01
    chosen_temperature_c: Number | None = None
    vetoed_bands: Bands = []


def calc_foaming(inputs: Json) -> dict[str, Json]:
    """Rule G on its inputs."""
    given = FoamingCalcIn.model_validate(inputs)
    result = evaluate_foaming(
        FoamSample(
            temperatures_c=tuple(given.temperatures_c),
            widths_mm=tuple(tuple(row) for row in given.widths_mm),
            bead=Bead(width_mm=given.line_width_mm, height_mm=given.layer_height_mm),
            flow=given.current_flow,
            tool=Tool(resolution=given.resolution_mm, max_permissible_error=given.max_permissible_error_mm),
            vetoed=frozenset(given.vetoed_bands),
            chosen_c=given.chosen_temperature_c,
        )
    )
    figures = result.figures
    answer = tower_answer(result.verdict)
    if figures is None:
        return answer
    answer |= {
        "band_means_mm": list(figures.band_means_mm),
        "band_sd_mm": figures.band.std,
        "dof": figures.band.dof,
        "widest_band_c": figures.widest_c,
        "peak_c": figures.peak_c,
        "flow": figures.flow,
    }
    if figures.peak_low_c is not None:
        answer |= {"peak_low_c": figures.peak_low_c, "peak_high_c": figures.peak_high_c}
    if figures.flow is not None:
        answer |= {
            "chosen_temperature_c": figures.chosen_c,
            "width_mm": figures.width_mm,
            "width_std_uncertainty_mm": figures.width_std_mm,
            "flow_std_uncertainty": figures.flow_std,
            "flow_low": figures.flow_low,
            "flow_high": figures.flow_high,
            "density_ratio": figures.density_ratio,
        }
    return answer
