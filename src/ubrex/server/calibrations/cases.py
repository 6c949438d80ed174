"""What every calibration offers to the one frame that runs go through, and which module each comes from."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any, Protocol, runtime_checkable

from ubrex.core.chain import Step
from ubrex.core.quantity import ToolKind, Unit
from ubrex.server.calibrations import diameter, esteps, first_layer, foam, rated, towers, walls
from ubrex.server.desk import FieldProblem, Work
from ubrex.server.profile import NewValue, readings_of
from ubrex.server.store.records import Decision, Reading, Run
from ubrex.server.views.base import CautionOut, CellOut
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.runs import ResultOut, RunEditIn
from ubrex.server.views.values import StripOut


class Case(Protocol):
    """A run with its readings, and everything its calibration makes of them."""

    @property
    def run(self) -> Run:
        """The run itself."""

    @property
    def rows(self) -> Sequence[Reading]:
        """All readings, struck ones too."""

    @property
    def readings(self) -> Sequence[Reading]:
        """The readings that count."""

    @property
    def rule_version(self) -> str:
        """Name of the rule as it stands."""

    @property
    def tools(self) -> tuple[ToolKind, ...]:
        """What can read it."""

    @property
    def unit(self) -> Unit:
        """What is read."""

    @property
    def asked(self) -> int:
        """Readings asked for before a result is shown."""

    @property
    def implied(self) -> str:
        """What stands before digits without a point: "0." for walls, "" where nothing does."""

    @property
    def proven(self) -> bool:
        """Whether the readings prove that a change is worth making."""

    @property
    def has_history(self) -> bool:
        """Whether earlier scatter is there to be pooled in."""

    @property
    def edits(self) -> Collection[str]:
        """What of ``RunEditIn`` it has beside tool and history."""

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """The inputs that an edit changes; the tool of the run is the new one already."""

    def with_reading(self, reading: Reading) -> Case:
        """The same run with one more reading."""

    def method_name(self) -> str:
        """How it is measured, in a few words."""

    def procedure(self) -> list[str]:
        """How it goes, step by step."""

    def reads(self) -> str:
        """What is read next."""

    def cells(self) -> list[CellOut]:
        """What stands in the title block beside name and tool."""

    def cautions(self) -> list[CautionOut]:
        """What can hurt."""

    def question(self, number: float) -> FieldProblem | None:
        """What to ask about a number before it is taken."""

    def finding(self) -> str | None:
        """A remark beside the verdict."""

    def result(self, *, early: bool) -> ResultOut | None:
        """The result; None before the readings first asked for are in, unless it was asked for early."""

    def strip(self, shown: ResultOut | None) -> StripOut:
        """The strip; bare until a result may be seen."""

    def next_place(self) -> str | None:
        """The place of the piece that is measured next; None where there is no piece or all are done."""

    def place_text(self, reading: Reading) -> str:
        """Where a reading belongs, as the list of readings says it; "" where there are no places."""

    def piece(self) -> PieceOut | None:
        """The piece with its places, if one is printed."""

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""

    def decided(self, decision: Decision) -> list[NewValue]:
        """The values a decision makes."""

    def overtaken(self) -> str:
        """Why its readings no longer count for a decision; empty if they do."""


@runtime_checkable
class Printed(Protocol):
    """A run whose piece is written as a file."""

    def file(self) -> str:
        """Text of the file."""


def load(run: Run, work: Work) -> Case:
    """A run with its readings."""
    return of(run, readings_of(run.id), work)


def of(run: Run, rows: Sequence[Reading], work: Work) -> Case:
    """A run with these readings."""
    match Step(run.step), run.method:
        case Step.FLOW, diameter.METHOD:
            return diameter.DiameterCase(run, rows, work)
        case Step.FLOW, _:
            return walls.WallCase(run, rows, work)
        case Step.Z_OFFSET, _:
            return first_layer.PatchCase(run, rows, work)
        case Step.TEMPERATURE, towers.FOAM_METHOD:
            return foam.FoamCase(run, rows, work)
        case Step.TEMPERATURE, _:
            return rated.TemperatureCase(run, rows, work)
        case Step.RETRACTION, _:
            return rated.PullCase(run, rows, work)
        case _:
            return esteps.EStepsCase(esteps.load(run, rows), work)


def prints(run: Run) -> bool:
    """Whether a file can be written for a run."""
    return run.method != diameter.METHOD and not sliced_elsewhere(run)


def sliced_elsewhere(run: Run) -> bool:
    """Whether a person slices the piece of a run with a program of their own."""
    return run.method == walls.METHOD and not run.inputs.get("own", True)
