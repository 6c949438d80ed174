"""A run with its readings, as the one frame that all runs go through sees it."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING, Any, ClassVar, Final, Generic, Self, TypeVar, cast

from ubrex.core.calibrate import is_less_known
from ubrex.core.chain import Kind, Origin
from ubrex.core.gcode import Manner
from ubrex.core.gcode.pieces import Piece
from ubrex.core.quantity import Tool, ToolKind, Unit, decimal_text
from ubrex.server.calibrations._calibration import Calibration, RunInputs
from ubrex.server.desk import FieldProblem, Work
from ubrex.server.profile import NewValue, Tuned, counting, tuned_of
from ubrex.server.store.records import Decision, Reading, Run
from ubrex.server.views.base import CautionOut, CellOut
from ubrex.server.views.pieces import PlaceOut
from ubrex.server.views.runs import Action, CurveOut, MeasuredBody, RatedBody, ResultOut, RunEditIn
from ubrex.server.words.files import TAKE_FILE
from ubrex.server.words.numbers import NBSP, plus_minus, unit_text
from ubrex.server.words.readings import held_up_said, left_out_said, less_known_said, zero_check_said, zero_said

if TYPE_CHECKING:
    from ubrex.server.calibrations._tower import Bands

Inputs = TypeVar("Inputs", bound=RunInputs)


@dataclass(frozen=True, slots=True, kw_only=True)
class File:
    """A file that a run offers. ``write``: its content. ``drawn``: it is moves, and can be looked at layer by layer.

    ``note``: what to mind where it is sliced by another program.
    """

    key: str
    label: str
    ending: str
    write: Callable[[], str | bytes]
    media: str
    drawn: bool = False
    note: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Again:
    """The same piece once more, to see whether what was applied is right."""

    inputs: RunInputs
    label: str
    sentence: str


def with_point(typed: str, implied: str) -> str:
    """What a display shows: digits alone mean what stands behind the point, where the calibration says which point."""
    text = typed.strip()
    if not implied or not text.isdigit() or len(text) < 2 or text.startswith("0"):
        return typed
    whole = implied.rstrip(".")
    return f"{implied}{text.removeprefix(whole) if whole != '0' else text}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """How numbers are read in for a run as it stands.

    ``implied``: what stands before digits without a point, "0." for walls. ``place``: where the next one is read; None
    where there are no places. ``ahead``: every place still to be read, in walking order, and how it is asked for.
    ``full``: every place has its reading.
    """

    reads: str
    unit: Unit
    asked: int
    question: Callable[[float], FieldProblem | None]
    implied: str = ""
    place: str | None = None
    ahead: Sequence[tuple[str, str]] = ()
    full: bool = False
    spots: Callable[[], list[PlaceOut]] = list


@dataclass(frozen=True)
class Case(ABC, Generic[Inputs]):
    """A run with its readings, and everything its calibration makes of them.

    ``here``: the place that a number is judged at, where it is not the one that is next.
    """

    calibration: Calibration
    run: Run
    rows: Sequence[Reading]
    work: Work
    here: str | None = None

    inputs_type: ClassVar[type[RunInputs]]
    edits: ClassVar[tuple[Action, ...]] = ()
    rounds: ClassVar[tuple[str, ...]] = ()
    """Orders in which somebody can go round its piece; none where that makes no difference."""

    @cached_property
    def readings(self) -> Sequence[Reading]:
        """The readings that count."""
        return counting(self.rows)

    @cached_property
    def inputs(self) -> Inputs:
        """Its inputs, typed."""
        return cast("Inputs", self.inputs_type.model_validate(self.run.inputs))

    @cached_property
    def tuned(self) -> Tuned:
        """The setup with its newest values."""
        return tuned_of(self.run.setup)

    @cached_property
    def made(self) -> tuple[Piece, Manner]:
        """The piece, and how it is printed; only where there is one.

        Raises
        ------
        OutOfRange
            If its numbers do not go with the nozzle or the machine.
        """
        assert self.calibration.piece is not None
        return self.calibration.piece(self.tuned, self.inputs)

    def with_reading(self, reading: Reading) -> Self:
        """The same run with one more reading."""
        return replace(self, rows=[*self.rows, reading], here=None)

    def at_place(self, place: str) -> Self:
        """The same run as it is asked at one of the places that are still to be read."""
        return replace(self, here=place)

    @property
    def walk(self) -> Sequence[str]:
        """Places in walking order; none where readings have no places."""
        return ()

    def place_of(self, reading: Reading) -> str:
        """Where a reading was really taken; "" where there are no places."""
        return reading.place or ""

    def open_places(self) -> list[str]:
        """Places, in walking order, that were neither read nor passed over."""
        done = {*map(self.place_of, self.readings), *self.inputs.skipped}
        return [place for place in self.walk if place not in done]

    def next_place(self) -> str | None:
        """The place that is measured next; None where there are none, or all are done."""
        return self.here or next(iter(self.open_places()), None)

    def reads(self) -> str:
        """What is read next."""
        return self.calibration.words.reads

    def ahead(self) -> list[tuple[str, str]]:
        """Places still to be read, and how each is asked for."""
        return [(place, self.at_place(place).reads()) for place in self.open_places()]

    def read_at(self, place: str) -> Reading | None:
        """The reading that counts at a place; None where there is none."""
        return next((row for row in self.readings if self.place_of(row) == place), None)

    @property
    def entry(self) -> Entry | None:
        """How numbers are read in; None where nothing is measured."""
        return None

    @property
    def tower(self) -> Bands[Any] | None:
        """The run as a tower whose bands are rated or marked; None where it has no bands."""
        return None

    @abstractmethod
    def body(self, shown: ResultOut | None) -> MeasuredBody | RatedBody:
        """What is drawn of the run beside the result that is shown: a strip, or a tower."""

    @abstractmethod
    def result(self, *, early: bool) -> ResultOut | None:
        """The result; None before the readings first asked for are in, unless it was asked for early."""

    @property
    @abstractmethod
    def proven(self) -> bool:
        """Whether the readings prove that a change is worth making."""

    def curve(self) -> CurveOut | None:
        """What was found over its values, to look at; None where a strip says as much."""
        return None

    @abstractmethod
    def cells(self) -> list[CellOut]:
        """What stands in the title block beside name and tool."""

    @abstractmethod
    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""

    @abstractmethod
    def decided(self, decision: Decision) -> list[NewValue]:
        """The values a decision makes."""

    @property
    def tools(self) -> tuple[ToolKind, ...]:
        """What can read it; eyes where it is looked at."""
        return self.calibration.tools or (ToolKind.EYES,)

    @property
    def has_history(self) -> bool:
        """Whether earlier scatter is there to be pooled in."""
        return False

    def method_name(self) -> str:
        """How it is measured, in a few words."""
        return self.calibration.words.short

    def cautions(self) -> list[CautionOut]:
        """What can hurt."""
        return self.calibration.cautions(self.tuned)

    def finding(self) -> str | None:
        """A remark beside the verdict."""
        return None

    def overtaken(self) -> str:
        """Why its readings no longer count for a decision; empty if they do."""
        return ""

    def place_label(self, place: str) -> str:
        """A place, as the list of readings says it."""
        return place

    def actions(self) -> Sequence[Action]:
        """What can be done with it while it is open, beside what all runs share."""
        return [edit for edit in self.edits if self.allows(edit)]

    def allows(self, edit: Action) -> bool:
        """Whether something that it has can be done as it stands."""
        del edit
        return True

    def edited(self, form: RunEditIn) -> Mapping[str, Any]:
        """The inputs that an edit changes; the tool of the run is the new one already."""
        del form
        return {}

    def again(self) -> Again | None:
        """What would show whether the value that was applied is right; None where nothing was, or nothing would."""
        return None

    def files(self) -> list[File]:
        """Files that it offers."""
        return []

    def piece_file(self, write: Callable[[], str]) -> File:
        """The file that prints the piece of a run."""
        return File(
            key="piece", label=TAKE_FILE, ending="gcode", write=write, media="text/x-gcode; charset=utf-8",
            drawn=self.calibration.piece is not None,
        )  # fmt: skip

    def less_known(self, half_width: float | None) -> str:
        """What is said where a result is known less well than the value on record that it replaces; "" where it is not."""
        row = self.tuned.values.get(self.calibration.kinds[0])
        unit, places = self.inputs.unit.value, self.inputs.places
        if row is None or row.unit != unit or not is_less_known(half_width, row.half_width_95):
            return ""
        recorded = f"{decimal_text(row.number, places)}{NBSP}{unit_text(unit)}".rstrip()
        return less_known_said(recorded, plus_minus(row.half_width_95 or 0.0), plus_minus(half_width or 0.0))

    def new_value(
        self, kind: Kind, number: float, half_width_95: float | None, decision: Decision, unit: Unit
    ) -> NewValue:
        """A value as this run measured it."""
        return NewValue(
            kind=kind,
            number=number,
            unit=unit,
            half_width_95=half_width_95,
            origin=Origin.MEASURED,
            run_id=self.run.id,
            decision_id=decision.id,
        )


def coarsest(taken: Sequence[Reading], run: Run) -> Tool:
    """The tool that readings of thin sizes by several are judged by; that of the run while there are none.

    There the zero is all that matters: one that was checked before a reading counts for it.
    """
    return max([*map(_on_thin, taken)] or [run.instrument.to_core()], key=lambda tool: tool.std)


MUCH_COARSER: Final = 1.5
"""Readings whose zero is known so much less well than that of others hold the doubt up."""

BEST_KNOWN: Final = 3
"""From this edition on readings that would only add doubt are left out."""


def best_known(taken: Sequence[Reading], enough: Callable[[Sequence[Reading]], bool]) -> list[Reading]:
    """Readings by the tool whose zero is known best, where they are enough by themselves: others would only add doubt."""
    finest = min((_on_thin(row).std for row in taken), default=0.0)
    kept = [row for row in taken if _on_thin(row).std <= finest]
    return kept if enough(kept) else list(taken)


def _on_thin(reading: Reading) -> Tool:
    known = reading.zero_error_mm
    error = reading.max_permissible_error if known is None else min(reading.max_permissible_error, known)
    return Tool(resolution=reading.resolution, max_permissible_error=error)


def without_zero(reading: Reading, found_mm: float) -> float:
    """What was read on a thin size [mm], the zero taken off: the one found afterwards, else that of the check before."""
    return reading.number - (found_mm or reading.zero_off_mm)


def left_out_remarks(count: int) -> list[str]:
    """That readings do not count whose zero was known less well; () where all do."""
    return [left_out_said(count)] if count else []


def zero_remarks(taken: Sequence[Reading], found_mm: float) -> list[str]:
    """What is taken off readings, and why; and what to do with those that were read before their zero was known."""
    tools = [_on_thin(row).std for row in taken]
    before = sum(std > MUCH_COARSER * min(tools) for std in tools)
    held = [held_up_said(before)] if before else []
    if found_mm:
        return [zero_said(found_mm), *held]
    return [*(zero_check_said(off) for off in dict.fromkeys(row.zero_off_mm for row in taken) if off), *held]
