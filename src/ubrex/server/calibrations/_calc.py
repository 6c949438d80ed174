"""What the rules of ``ubrex calc`` take and give, whatever they are about."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import Annotated, Any, Final

from pydantic import Field

from ubrex.core.errors import UbrexError

Json = Any
"""What JSON can say."""


class UnusableInput(UbrexError, ValueError):
    """The input is not what the rule takes; the message is one line."""

    code = "unusable_input"


Number = Annotated[float, Field(allow_inf_nan=False)]
Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0, allow_inf_nan=False)]

Rating = Annotated[int, Field(ge=0, le=4)] | None
Count = Annotated[int, Field(ge=0)] | None
Bands = Annotated[list[Annotated[int, Field(ge=0)]], Field(max_length=100)]

_REFUSALS: Final = {"too_few_bands", "nothing_rated", "no_band_left"}


def tower_answer(verdict: StrEnum) -> dict[str, Json]:
    """What a tower says, as an answer begins: some verdicts are refusals with a reason."""
    if verdict.value in _REFUSALS:
        return {"verdict": "refuse", "reason": verdict.value}
    return {"verdict": verdict.value}


def finite(dof: float) -> float | None:
    """Degrees of freedom as JSON can say them: None where there is no end to them."""
    return dof if math.isfinite(dof) else None
