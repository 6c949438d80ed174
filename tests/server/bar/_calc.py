"""``ubrex calc bar``: the rule by itself."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict

from tests.server.bar._rule import evaluate_bar
from ubrex.core.quantity import Tool


class BarCalcIn(BaseModel):
    """Lengths of a bar and what it was drawn with [mm], and the scale it was printed with [%]."""

    model_config = ConfigDict(extra="forbid", strict=True)

    lengths_mm: list[float]
    drawn_mm: float
    scale_pct: float = 100.0


def calc_bar(inputs: Any) -> dict[str, Any]:
    """The rule on its inputs."""
    given = BarCalcIn.model_validate(inputs)
    tool = Tool(resolution=0.01, max_permissible_error=0.03)
    found = evaluate_bar(tuple(given.lengths_mm), drawn_mm=given.drawn_mm, scale_pct=given.scale_pct, tool=tool)
    return {"verdict": found.verdict.value, "scale_pct": found.scale_pct}
