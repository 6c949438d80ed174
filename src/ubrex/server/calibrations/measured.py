"""What runs share that are measured with jaws: their readings, their inputs, and the tools that can take them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar, Final, Generic, Self, TypeVar

from pydantic import BaseModel

from ubrex.core.quantity import Tool, ToolKind, Unit
from ubrex.server.calibrations import edits, placed
from ubrex.server.desk import Work
from ubrex.server.profile import counting
from ubrex.server.store.records import Reading, Run
from ubrex.server.views.runs import RunEditIn

Inputs = TypeVar("Inputs", bound=BaseModel)

JAWS: Final = (ToolKind.CALLIPER, ToolKind.MICROMETER)
"""What reads a wall, a patch or a strand."""


@dataclass(frozen=True)
class MeasuredCase(Generic[Inputs]):
    """A run measured with a calliper or a micrometer, with its readings."""

    run: Run
    rows: Sequence[Reading]
    work: Work

    inputs_kind: ClassVar[type[BaseModel]]
    tools: ClassVar[tuple[ToolKind, ...]] = JAWS
    unit: ClassVar[Unit] = Unit.MM
    has_history: ClassVar[bool] = False
    edits: ClassVar[tuple[str, ...]] = ("zero",)

    @cached_property
    def readings(self) -> Sequence[Reading]:
        """The readings that count."""
        return counting(self.rows)

    @cached_property
    def inputs(self) -> Inputs:
        """Its inputs, typed."""
        return self.inputs_kind.model_validate(self.run.inputs)  # type: ignore[return-value]

    @property
    def implied(self) -> str:
        """Digits without a point: 491 is 0.491."""
        return "0."

    @property
    def tool(self) -> Tool:
        """The coarsest tool of the run."""
        return placed.coarsest(self.readings, self.run.instrument)

    def place_text(self, reading: Reading) -> str:
        """The place as its name stands on the piece."""
        return reading.place or ""

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """A zero that was found wrong afterwards."""
        return edits.zero(form)

    def with_reading(self, reading: Reading) -> Self:
        """The same run with one more reading."""
        return type(self)(self.run, [*self.rows, reading], self.work)
