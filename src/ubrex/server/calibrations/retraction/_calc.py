"""``ubrex calc retraction-tower``: rule F, JSON in and JSON out."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ubrex.core.calibrate import (
    RetractionSample,
    evaluate_retraction,
)
from ubrex.core.materials import Stiffness
from ubrex.server.calibrations._calc import (
    Bands,
    Count,
    Json,
    NotNegative,
    Rating,
    tower_answer,
)


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
    out_bands: Bands = []
    in_use_mm: NotNegative | None = None


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
        out=frozenset(given.out_bands),
        in_use=given.in_use_mm,
    )
    result = evaluate_retraction(sample)
    figures = result.figures
    answer = tower_answer(result.verdict) | {"cap_mm": sample.cap.distance_mm, "max_speed_mm_s": sample.cap.speed_mm_s}
    if figures is None:
        return answer
    return answer | {
        "distance_mm": figures.distance_mm,
        "p_good": list(figures.p_good),
        "p_gap": list(figures.p_gap),
        "p_no_response": figures.p_no_response,
        "in_use_stays": figures.in_use_stays,
    }
