"""``ubrex calc temperature-tower``: rule E, JSON in and JSON out."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from ubrex.core.calibrate import (
    Criterion,
    Demand,
    Stays,
    TowerSample,
    break_to_look_at,
    evaluate_tower,
    in_use_stays,
)
from ubrex.server.calibrations._calc import (
    Bands,
    Json,
    NotNegative,
    Number,
    Rating,
    UnusableInput,
    tower_answer,
)


class TemperatureCalcIn(BaseModel):
    """Inputs of rule E; ``ratings`` of one person by criterion, of several as a list of such tables.

    ``torn``: by band, whether its break runs across the layers, null where nobody looked.
    """

    model_config = ConfigDict(extra="forbid", strict=True)

    temperatures_c: Annotated[list[Number], Field(max_length=100)]
    ratings: dict[str, list[Rating]] | list[dict[str, list[Rating]]]
    weights: dict[str, NotNegative]
    minimum: dict[str, Number] = {}
    failed_bands: Bands = []
    unanchored: bool = False
    torn: Annotated[list[bool | None], Field(max_length=100)] = []
    in_use_c: Number | None = None


def _criterion(name: str) -> Criterion:
    if name not in set(Criterion):
        raise UnusableInput(f"{name}: no criterion; there is {', '.join(Criterion)}")
    return Criterion(name)


def calc_temperature(inputs: Json) -> dict[str, Json]:
    """Rule E on its inputs."""
    given = TemperatureCalcIn.model_validate(inputs)
    # One person's ratings may be given as they are; below they are the first of several.
    tables = given.ratings if isinstance(given.ratings, list) else [given.ratings]
    sample = TowerSample(
        temperatures_c=tuple(given.temperatures_c),
        raters=tuple({_criterion(name): row for name, row in table.items()} for table in tables),
        failed=frozenset(given.failed_bands),
        unanchored=given.unanchored,
        torn={band: torn for band, torn in enumerate(given.torn) if torn is not None},
    )
    demand = Demand(
        weights={_criterion(name): weight for name, weight in given.weights.items()},
        minimum={_criterion(name): least for name, least in given.minimum.items()},
    )
    result = evaluate_tower(sample, demand)
    figures = result.figures
    answer = tower_answer(result.verdict)
    if figures is None:
        return answer
    look = break_to_look_at(sample, result, given.in_use_c)
    if given.in_use_c is not None:
        stays = in_use_stays(sample, figures, given.in_use_c)
        answer |= {"in_use_stays": None if stays is Stays.LOOK_AT_BREAK else stays is Stays.YES}
    return answer | {
        "look_at_break_of_c": None if look is None else sample.temperatures_c[look],
        "stays_low_c": figures.stays_c[0],
        "stays_high_c": figures.stays_c[1],
        "end": figures.end,
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
