"""What a calibration is: one record of everything the frame has to know of it, and the register of all of them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence, Set
from dataclasses import dataclass, field, fields
from datetime import datetime
from typing import TYPE_CHECKING, Any, Final, TypeAlias

from pydantic import BaseModel, ConfigDict

from ubrex.core.chain import KINDS, Belongs, Kind, Standing, Step
from ubrex.core.gcode import Manner
from ubrex.core.gcode.pieces import Piece
from ubrex.core.quantity import ToolKind, Unit
from ubrex.server.desk import TypedFields, Work
from ubrex.server.printing import PrintedOn, printing_cautions
from ubrex.server.profile import Evidence, Tuned, name_method
from ubrex.server.store.margin import MeasuredRow
from ubrex.server.store.records import Instrument, Reading, Run, Setup
from ubrex.server.views.base import CautionOut
from ubrex.server.views.forms import FieldOut
from ubrex.server.views.values import StripOut
from ubrex.server.workshop import Side

if TYPE_CHECKING:
    from ubrex.server.calibrations._case import Case

Sides: TypeAlias = Mapping[str, Side]
"""The sides a person takes where practitioners disagree."""

CalcRule: TypeAlias = Callable[[Any], dict[str, Any]]
"""A rule by itself: JSON in, JSON out."""

Recorded: TypeAlias = Callable[[Evidence, MeasuredRow | None, Standing, Work], StripOut | None]
"""The strip of a value on record."""


EDITION: Final = 3
"""Edition of the rules that new runs are judged by: 2 knows opposite walls of a box, and strict and mild raters; 3 looks at
a break where these decide, and applies no flow that hangs on one digit."""


class RunInputs(BaseModel):
    """What every run keeps besides its readings; each calibration adds what it needs.

    ``current``: the value in use while the sample was made, in ``unit``, None where nothing was; ``places``: its decimals.
    ``asked``: readings first asked for. ``on``: what a piece was drawn for. ``ticks``: steps the machine was moved by [mm].
    ``edition``: how its rules read then; a run of before is shown as it was.
    """

    model_config = ConfigDict(frozen=True)

    current: float | None
    unit: Unit
    places: int
    asked: int
    edition: int = 1
    on: PrintedOn | None = None
    zero_mm: float = 0.0
    skipped: list[str] = []
    ticks: list[float] = []

    @property
    def printed_with(self) -> Sequence[tuple[Kind, float]]:
        """Numbers that a piece is printed with, as the judgement knows them; () where nothing is printed."""
        return ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Begun:
    """What a start form comes to. ``made_at``: when the sample was made, where that was before the run."""

    inputs: RunInputs
    made_at: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Filled:
    """A start form as somebody filled it in; what is wrong with it is gathered in ``fields``.

    ``as_typed``: fields that were asked about, and are right as they stand.
    """

    tuned: Tuned
    method: str
    typed: Mapping[str, str]
    fields: TypedFields
    sides: Sides
    now: datetime
    as_typed: frozenset[str] = frozenset()
    instrument: Instrument | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class MethodWords:
    """What is said of a way to measure. ``name`` heads a choice, ``short`` fits into a sentence.

    ``slips``: why a reading is usually struck out; none where bands are looked at.
    """

    name: str
    short: str
    why: tuple[str, ...]
    procedure: tuple[str, ...]
    reads: str
    slips: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class LiveSteps:
    """Steps by which the machine is moved while a piece prints [mm], and how long to wait before looking [s]."""

    steps_mm: tuple[float, ...]
    usual_mm: float
    wait_s: float


def _always(_setup: Setup) -> bool:
    return True


def _nothing_said(_tuned: Tuned, _tool: Instrument, _now: datetime) -> str:
    return ""


def _printing(tuned: Tuned) -> list[CautionOut]:
    return printing_cautions(tuned.setup)


@dataclass(frozen=True, slots=True, kw_only=True)
class Calibration:
    """One way to measure something, whole: its words, its start, its runs, its rule.

    Attributes
    ----------
    method, step, kinds
        Its key, the row of the chain it belongs to, and the values it makes; the first is what it is about.
    rule
        Version of its rule, kept with every decision.
    tools
        What can read it; () where it is looked at.
    offer, read
        The fields of its start form, and the inputs that a filled one comes to; None where a field needs another look.
    case
        What makes a run of it with its readings.
    piece
        What is printed for its inputs, and how; None where nothing is. Raises ``OutOfRange`` where it cannot be.
    remarks
        What is said of the piece before it is printed.
    cautions
        What can hurt, before the start.
    heats
        Whether it is held back while it is unknown if heating is safe.
    dry_first
        Whether thirsty filament takes the wet test before.
    schools
        Disagreements of practitioners that move it.
    calc
        Its rules by the names under which a script asks for them.
    recorded
        The strip of a value of its kind on record, where there is one to draw.
    drawing
        Name of the drawing that shows how it is measured; "" where the piece shows it.
    live
        Steps by which the machine is moved while a piece prints, where it is.
    fits
        Whether it is offered on a setup.
    suits
        Whether it is the usual one there, of several that are offered.
    sees
        What a tool can tell with it, said before anything is printed.
    """

    method: str
    step: Step
    kinds: tuple[Kind, ...]
    rule: str
    words: MethodWords
    tools: tuple[ToolKind, ...]
    offer: Callable[[Tuned, Sides], list[FieldOut]]
    read: Callable[[Filled], Begun | None]
    case: Callable[[Calibration, Run, Sequence[Reading], Work], Case[Any]]
    piece: Callable[[Tuned, Any], tuple[Piece, Manner]] | None
    calc: Mapping[str, CalcRule]
    remarks: Callable[[Tuned, Any], Sequence[str]] | None = None
    cautions: Callable[[Tuned], list[CautionOut]] = _printing
    heats: bool = True
    dry_first: bool = False
    schools: tuple[str, ...] = ()
    recorded: Recorded | None = None
    drawing: str = ""
    live: LiveSteps | None = None
    fits: Callable[[Setup], bool] = field(default=_always)
    suits: Callable[[Setup], bool] = field(default=_always)
    sees: Callable[[Tuned, Instrument, datetime], str] = field(default=_nothing_said)

    @property
    def needs_surface(self) -> bool:
        """Whether what it measures belongs to a build surface."""
        return any(Belongs.SURFACE in KINDS[kind].belongs for kind in self.kinds)


_MAY_BE_EMPTY: Final = frozenset(
    {"tools", "piece", "remarks", "schools", "recorded", "drawing", "heats", "dry_first", "live"}
)


class Incomplete(TypeError):
    """A calibration lacks something, and Ubrex does not start: the message names it and what is missing."""


def missing_of(calibration: Calibration) -> list[str]:
    """What a calibration lacks, by name; [] if it is whole."""
    lacks = [
        row.name for row in fields(calibration) if row.name not in _MAY_BE_EMPTY and not getattr(calibration, row.name)
    ]
    words = calibration.words
    lacks += [f"words.{row.name}" for row in fields(words) if row.name != "slips" and not getattr(words, row.name)]
    if calibration.tools and not words.slips:
        lacks.append("words.slips")
    wrong = [kind.value for kind in calibration.kinds if not isinstance(kind, Kind)]
    return lacks + [f"kinds: {kind} is no kind of value" for kind in wrong]


class Register:
    """All calibrations, in the order in which they are offered."""

    def __init__(self, calibrations: Iterable[Calibration]) -> None:
        self._by_method: dict[str, Calibration] = {}
        self._by_step: dict[Step, tuple[Calibration, ...]] = {}
        for one in calibrations:
            self.add(one)

    def add(self, calibration: Calibration) -> None:
        """Take a calibration in.

        Raises
        ------
        Incomplete
            If something of it is missing, or there is one of its name.
        """
        lacks = missing_of(calibration)
        if lacks:
            raise Incomplete(f"{calibration.method or 'A calibration'} lacks {', '.join(lacks)}")
        if calibration.method in self._by_method:
            raise Incomplete(f"there are two calibrations named {calibration.method}")
        taken = set(calibration.calc) & set(self.rules)
        rules = {name for name in taken if self.rules[name] is not calibration.calc[name]}
        if rules:
            raise Incomplete(f"{calibration.method}: another calibration has a rule named {', '.join(sorted(rules))}")
        self._by_method[calibration.method] = calibration
        self._by_step[calibration.step] = (*self.of_step(calibration.step), calibration)
        name_method(calibration.method, calibration.words.short)

    def remove(self, method: str) -> None:
        """Forget a calibration."""
        gone = self._by_method.pop(method)
        left = tuple(one for one in self._by_step.pop(gone.step) if one is not gone)
        if left:
            self._by_step[gone.step] = left

    def __iter__(self) -> Iterator[Calibration]:
        return iter(self._by_method.values())

    def __getitem__(self, method: str) -> Calibration:
        return self._by_method[method]

    def get(self, method: str) -> Calibration | None:
        """The calibration of this name, if there is one."""
        return self._by_method.get(method)

    def of_step(self, step: Step) -> tuple[Calibration, ...]:
        """The ways to go through a step."""
        return self._by_step.get(step, ())

    @property
    def steps(self) -> Set[Step]:
        """Steps that can be measured; the others take a typed value."""
        return self._by_step.keys()

    @property
    def rules(self) -> Mapping[str, CalcRule]:
        """Every rule by the name under which a script asks for it."""
        return {name: rule for one in self for name, rule in one.calc.items()}
