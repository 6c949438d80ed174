"""``ubrex calc`` for towers: temperature, retraction, foaming filament."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    Criterion,
    Demand,
    FoamSample,
    FoamVerdict,
    RetractionSample,
    RetractionVerdict,
    TowerSample,
    TowerVerdict,
    evaluate_foaming,
    evaluate_retraction,
    evaluate_tower,
)
from ubrex.core.materials import Stiffness
from ubrex.core.quantity import Tool
from ubrex.server.calc.calc_types import Json, NotNegative, Number, Positive, UnusableInput

Rating = Annotated[int, Field(ge=0, le=4)] | None
Count = Annotated[int, Field(ge=0)] | None
Bands = Annotated[list[Annotated[int, Field(ge=0)]], Field(max_length=100)]

REFUSALS = {"too_few_bands", "nothing_rated", "no_band_left"}


class TemperatureCalcIn(BaseModel):
    """Inputs of rule E; ``ratings`` of one person by criterion, of several as a list of such tables."""

    model_config = ConfigDict(extra="forbid", strict=True)

    temperatures_c: Annotated[list[Number], Field(max_length=100)]
    ratings: dict[str, list[Rating]] | list[dict[str, list[Rating]]]
    weights: dict[str, NotNegative]
    minimum: dict[str, Number] = {}
    failed_bands: Bands = []


def _criterion(name: str) -> Criterion:
    if name not in set(Criterion):
        raise UnusableInput(f"{name}: no criterion; there is {', '.join(Criterion)}")
    return Criterion(name)


def _verdict(verdict: TowerVerdict | RetractionVerdict | FoamVerdict) -> dict[str, Json]:
    if verdict.value in REFUSALS:
        return {"verdict": "refuse", "reason": verdict.value}
    return {"verdict": verdict.value}


def calc_temperature(inputs: Json) -> dict[str, Json]:
    """Rule E on its inputs."""
    given = TemperatureCalcIn.model_validate(inputs)
    tables = given.ratings if isinstance(given.ratings, list) else [given.ratings]
    sample = TowerSample(
        temperatures_c=tuple(given.temperatures_c),
        raters=tuple({_criterion(name): row for name, row in table.items()} for table in tables),
        failed=frozenset(given.failed_bands),
    )
    demand = Demand(
        weights={_criterion(name): weight for name, weight in given.weights.items()},
        minimum={_criterion(name): least for name, least in given.minimum.items()},
    )
    result = evaluate_tower(sample, demand)
    figures = result.figures
    answer = _verdict(result.verdict)
    if figures is None:
        return answer
    return answer | {
        "direction": figures.direction,
        "temperature_c": figures.pick_c,
        "offered_c": sample.temperatures_c[figures.offered],
        "low_c": figures.low_c,
        "high_c": figures.high_c,
        "half_width_95_c": figures.half_width_c,
        "best_anywhere_c": figures.best_anywhere_c,
        "gain_outside": figures.gain_outside,
        "edge_slope": figures.edge_slope,
        "edge_sd": figures.edge_std,
        "score": figures.score,
        "feasible": figures.feasible,
        "band_scores": [band.score for band in figures.bands],
        "band_score_sd": [band.std for band in figures.bands],
        "contradictions": [
            {"rater": rater, "criterion": criterion.value, "band": band}
            for rater, criterion, band in figures.contradictions
        ],
    }


class RetractionCalcIn(BaseModel):
    """Inputs of rule F; mm. ``strings`` are ratings, or counts where ``crossings`` is given."""

    model_config = ConfigDict(extra="forbid", strict=True)

    distances_mm: Annotated[list[NotNegative], Field(max_length=100)]
    strings: list[Count]
    gap: list[Rating] | None = None
    crossings: Annotated[int, Field(ge=1)] | None = None
    feed: Literal["direct", "bowden"] = "direct"
    material: Literal["rigid", "semi", "flexible"] = "rigid"
    vetoed_bands: Bands = []


def calc_retraction(inputs: Json) -> dict[str, Json]:
    """Rule F on its inputs."""
    given = RetractionCalcIn.model_validate(inputs)
    sample = RetractionSample(
        distances_mm=tuple(given.distances_mm),
        strings=(given.strings,),
        gaps=() if given.gap is None else (given.gap,),
        crossings=given.crossings,
        direct=given.feed == "direct",
        stiffness=Stiffness(given.material),
        vetoed=frozenset(given.vetoed_bands),
    )
    result = evaluate_retraction(sample)
    figures = result.figures
    answer = _verdict(result.verdict) | {"cap_mm": sample.cap.distance_mm, "max_speed_mm_s": sample.cap.speed_mm_s}
    if figures is None:
        return answer
    return answer | {
        "distance_mm": figures.distance_mm,
        "p_good": list(figures.p_good),
        "p_gap": list(figures.p_gap),
        "p_no_response": figures.p_no_response,
    }


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
    answer = _verdict(result.verdict)
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
