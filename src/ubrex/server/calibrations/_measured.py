"""What runs share that are measured with a tool: the question about an odd number, the result, the strip."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, ClassVar, Final

from ubrex.core.chain import Standing
from ubrex.core.quantity import (
    FarOff,
    Impossible,
    Reason,
    Slip,
    Tool,
    ToolKind,
    Unit,
    Verdict,
    check_entry,
    decimal_text,
)
from ubrex.server.calibrations._case import Case, Entry, Inputs, coarsest, without_zero
from ubrex.server.calibrations._edits import read_zero
from ubrex.server.desk import FieldProblem
from ubrex.server.profile import strike_of
from ubrex.server.store.records import Reading
from ubrex.server.views.pieces import PlaceOut
from ubrex.server.views.runs import Action, MeasuredBody, ResultOut, RunEditIn
from ubrex.server.views.values import PlateOut, StripOut, StripReadingOut, StripStruckOut
from ubrex.server.words.numbers import plain, plus_minus, step_places, unit_text
from ubrex.server.words.readings import (
    BARE,
    before_proof_said,
    change_said,
    not_above_zero_said,
    slip_said,
    struck_said,
)

JAWS: Final = (ToolKind.CALLIPER, ToolKind.MICROMETER)
"""What reads a wall, a patch or a piece of filament."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Doubt:
    """What a number is held against before it is taken, and what is said if it looks odd.

    ``usual``: what would be read if all were right; ``low`` and ``high``: what can be read at all. ``of_value``: what a
    reading says of the value, where that is not the reading. ``far`` None: what is merely far off is not asked about.
    ``keeps_slips``: what looks like a slip may be taken as it is even beyond what is possible.
    """

    noun: str
    usual: float
    low: float
    high: float
    impossible: str
    far: Callable[[float], str] | None
    of_value: Callable[[float], float] = float
    keeps_slips: bool = True


def question_of(number: float, doubt: Doubt, unit: Unit) -> FieldProblem | None:
    """What to ask about a number before it is taken; None if nothing."""
    found = check_entry(number, fed=doubt.of_value, commanded=doubt.usual, low=doubt.low, high=doubt.high)
    shown = f"{plain(number)} {unit_text(unit.value)}"
    possible = doubt.low <= number < doubt.high
    match found:
        case None:
            return None
        case FarOff() if doubt.far is None:
            return None
        case Slip(suggested=suggested):
            keep = number > 0 and (doubt.keeps_slips or possible)
            said = slip_said(shown, suggested, unit)
            return FieldProblem("typed", found.code, said, suggested=plain(suggested), confirmable=keep)
        case Impossible() | FarOff() if number <= 0:
            return FieldProblem("typed", found.code, not_above_zero_said(doubt.noun))
        case FarOff() if doubt.far is not None:
            return FieldProblem("typed", found.code, doubt.far(number), confirmable=True)
    return FieldProblem("typed", found.code, f"{shown} {doubt.impossible}", confirmable=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """What the readings of a run say of its value, in the form in which every measured run is shown.

    ``number``: the value to set; ``half_width`` None where the readings say nothing at all. ``change`` "": as usual.
    ``applies``, ``keeps``: whether it may be set, or what is in use kept, as it stands. ``first``: what comes before that.
    """

    verdict: Verdict
    reason: StrEnum
    title: str
    sentence: str
    number: float
    half_width: float | None
    limited_by: str = ""
    remarks: Sequence[str] = ()
    change: str = ""
    refused: bool = False
    applies: bool = True
    keeps: bool = True
    first: Action | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Gauge:
    """Where readings stand on a strip; all in its unit.

    ``at``: where a reading stands. ``taken``: those that are drawn, of ``rows`` with struck ones.
    """

    target: float
    low: float
    high: float
    mean: float
    half_width: float
    step: float
    places: int
    at: Callable[[Reading], float]
    taken: Sequence[Reading]
    rows: Sequence[Reading]
    mean_note: str
    move_note: str
    proposal_name: str
    measured_name: str
    sentence: str
    reading_places: int
    unit: str = "mm"
    usual_scatter: bool = False


def strip_of(gauge: Gauge, shown: ResultOut) -> StripOut:
    """The strip of a run whose result may be seen."""
    newest = gauge.taken[-1].id if gauge.taken else None
    return StripOut(
        unit=gauge.unit,
        places=gauge.places,
        step=gauge.step,
        target=gauge.target,
        low=gauge.low,
        high=gauge.high,
        readings=[
            StripReadingOut(
                number=gauge.at(row), text=decimal_text(row.number, gauge.reading_places), newest=row.id == newest
            )
            for row in gauge.taken
        ],
        struck=[
            StripStruckOut(
                number=gauge.at(row), note=struck_said(decimal_text(row.number, gauge.reading_places), strike.reason)
            )
            for row in gauge.rows
            if (strike := strike_of(row)) is not None and not strike.at_once
        ],
        mean=gauge.mean,
        half_width=gauge.half_width,
        usual_scatter=gauge.usual_scatter,
        mean_note=gauge.mean_note,
        move_to=gauge.target if shown.recommended else None,
        move_note=gauge.move_note if shown.recommended else "",
        plate=PlateOut(text=shown.proposal, beside=shown.change) if shown.can_apply else None,
        proposal_name=gauge.proposal_name,
        measured_name=gauge.measured_name,
        standing=Standing.FRESH,
        sentence=f"{gauge.sentence} {shown.title}.",
    )


@dataclass(frozen=True)
class Measured(Case[Inputs]):
    """A run that is read number by number, with what it makes of them."""

    unit: ClassVar[Unit] = Unit.MM
    bare: ClassVar[str] = BARE
    noun: ClassVar[str] = "length"
    edits: ClassVar[tuple[Action, ...]] = ("zero",)

    @property
    def read_in(self) -> Unit:
        """Unit of its readings."""
        return self.unit

    @property
    def implied(self) -> str:
        """What stands before digits that are typed without a point."""
        return "0."

    @property
    def asked(self) -> int:
        """Readings asked for before a result is shown."""
        return self.inputs.asked

    @property
    def tool(self) -> Tool:
        """The coarsest tool of the readings that count."""
        return coarsest(self.counted, self.run)

    @property
    def counted(self) -> Sequence[Reading]:
        """Readings that the result is made of."""
        return self.readings

    @property
    def zero_checked(self) -> bool:
        """Whether the zero of the tool was checked before every reading that counts."""
        return bool(self.counted) and all(row.zero_error_mm is not None for row in self.counted)

    @abstractmethod
    def reads(self) -> str:
        """What is read next."""

    @abstractmethod
    def doubt(self) -> Doubt:
        """What the next number is held against."""

    @abstractmethod
    def answer(self) -> Answer | None:
        """What the readings say; None where they say nothing yet."""

    @abstractmethod
    def gauge(self) -> Gauge | None:
        """Where the readings stand; None where there is nothing to draw."""

    def question(self, number: float) -> FieldProblem | None:
        """What to ask about a number before it is taken."""
        return question_of(number, self.doubt(), self.read_in)

    @property
    def entry(self) -> Entry:
        """How the next number is read in."""
        place = self.next_place()
        return Entry(
            reads=self.reads(), unit=self.read_in, asked=self.asked, question=self.question, implied=self.implied,
            place=place, ahead=self.ahead(),
            full=bool(self.walk) and place is None, spots=self.spots,
        )  # fmt: skip

    def spots(self) -> list[PlaceOut]:
        """Where on the piece to measure; nothing where nobody draws it."""
        return []

    @property
    def proven(self) -> bool:
        """Whether the readings prove that a change is worth making."""
        found = self.answer()
        return found is not None and found.verdict is Verdict.APPLY

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """A zero that was found wrong afterwards."""
        return read_zero(form)

    def at(self, reading: Reading) -> float:
        """Where a reading stands on the strip: what was read, a wrong zero taken off."""
        return without_zero(reading, self.inputs.zero_mm)

    def result(self, *, early: bool) -> ResultOut | None:
        """The result; None before the readings first asked for are in, unless it was asked for early."""
        count, found = len(self.readings), self.answer()
        if count == 0 or found is None or (count < self.asked and not early):
            return None
        inputs = self.inputs
        current = inputs.current or 0.0
        places = inputs.places
        proposal, less_known = decimal_text(found.number, places), self.less_known(found.half_width)
        return ResultOut(
            verdict=found.verdict,
            reason=found.reason.value,
            title=found.title,
            sentence=found.sentence,
            limited_by=found.limited_by,
            remarks=list(found.remarks),
            so_far=count < self.asked or found.reason is Reason.MORE_REPEATS,
            recommended=found.verdict is Verdict.APPLY,
            proposal=proposal,
            half_width_text="" if found.half_width is None else plus_minus(found.half_width),
            change=found.change or change_said(current, found.number, places),
            unit_text=unit_text(inputs.unit.value),
            can_apply=found.applies and not found.refused,
            can_keep=found.keeps and not found.refused,
            less_known=less_known,
            ask_before=before_proof_said(found.verdict, proposal, less_known=bool(less_known)),
            keep_text=decimal_text(current, places),
            first=found.first,
        )

    def body(self, shown: ResultOut | None) -> MeasuredBody:
        """The strip; bare until a result may be seen."""
        gauge = None if shown is None else self.gauge()
        if shown is None or gauge is None:
            tool = self.tool
            strip = StripOut(
                unit="mm", places=max(1, step_places(tool.resolution)), step=tool.resolution, sentence=self.bare,
                standing=Standing.NEVER, measured_name=f"{self.noun}, {unit_text(self.read_in.value)}",
            )  # fmt: skip
            return MeasuredBody(strip=strip)
        return MeasuredBody(strip=strip_of(gauge, shown))
