"""The wire: runs from their start form to their decision."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ubrex.core.calibrate import Method
from ubrex.core.chain import Purpose, Step
from ubrex.core.quantity import Reason, ToolKind, Verdict
from ubrex.server.views.base import CautionOut, CellOut, Note, OptionOut, RunState, Schema, Typed
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.towers import TowerOut
from ubrex.server.views.values import StripOut, ValueOut
from ubrex.server.views.workshop import InstrumentOut, SetupOut


class RunLineOut(Schema):
    """A run in a list."""

    id: int
    step: Step
    name: str
    state: RunState
    setup_id: int
    setup: str
    started_at: datetime
    person: str
    outcome: str
    readings: int


class RunsOut(Schema):
    open: list[RunLineOut]
    ended: list[RunLineOut]
    next_cursor: int | None


class MethodOut(Schema):
    method: Method
    name: str
    why: list[str]
    procedure: list[str]
    reads: str
    instruments: list[InstrumentOut]
    missing: str


class EStepsStartOut(Schema):
    """What the start form of an e-steps run offers."""

    setup: SetupOut
    methods: list[MethodOut]
    method: Method
    recorded: ValueOut | None
    setting_name: str
    unit_text: str
    how_to_read: str
    commanded: str
    mark: str
    cautions: dict[Method, list[CautionOut]]
    open_run_id: int | None


class EStepsStartIn(Schema):
    """A run to start; numbers as typed. ``current_as_typed``: the current setting is right although it looks wrong."""

    setup_id: int
    method: Method
    instrument_id: int
    current: Typed
    commanded: Typed
    mark: Typed = ""
    reference_mass: Typed = ""
    reference_length: Typed = ""
    reference_length_instrument_id: int | None = None
    fed_at: datetime | None = None
    current_as_typed: bool = False


class ReadingIn(Schema):
    """One reading; ``as_typed`` names the question it is taken in spite of."""

    typed: Typed
    taken_at: datetime
    as_typed: Literal["unit_slip", "impossible", "far_off"] | None = None


class ReadingListIn(Schema):
    """Readings written down elsewhere, one a line; ``as_typed`` names the question they are taken in spite of."""

    text: Annotated[str, StringConstraints(max_length=200_000)]
    taken_at: datetime
    as_typed: Literal["unit_slip", "impossible", "far_off"] | None = None


class ReadingOut(Schema):
    id: int
    position: int
    number: float
    text: str
    instrument: str
    person: str
    taken_at: datetime
    struck: str | None
    taken_back: bool
    odd: bool
    place: str


class StrikeIn(Schema):
    reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]


class EntryOut(Schema):
    """How the entry field behaves: what it reads, with which tools, in what, with how many decimals, what comes next; what
    is set now, and the usual ``slips``, for which a reading is struck out.
    """

    reads: str
    unit: str
    places: int
    next: int
    asked: int
    place: str = ""
    implied: str = ""
    current: float = 0.0
    tools: list[ToolKind]
    slips: list[str]


class ResultOut(Schema):
    """What readings say. ``further``: fields of the tower that goes where a better one would lie; empty where none does."""

    verdict: Verdict
    reason: Reason
    title: str
    sentence: str
    limits: str
    remarks: list[str]
    so_far: bool
    blue: bool
    proposal: str
    half_width_text: str
    change: str
    unit_text: str
    can_apply: bool
    can_keep: bool
    ask_before: str | None
    keep_text: str
    further: dict[str, str] = {}


class InstructionOut(Schema):
    text: str
    send: str | None


class DecisionOut(Schema):
    """What was decided. ``beside``: values that came with the first, as the flow of foam with its temperature.

    ``superseded``: why nothing is to be done at the machine any more.
    """

    action: Literal["apply", "keep"]
    sentence: str
    person: str
    at: datetime
    note: str
    value: ValueOut | None
    beside: list[ValueOut]
    instructions: list[InstructionOut]
    superseded: str


class StartFieldOut(Schema):
    """One field of a start form; ``when`` another field holds a value (``own=no``), or anything (``printed_at``)."""

    name: str
    label: str
    unit: str
    value: str
    hint: str
    options: list[OptionOut]
    when: str = ""


class StartMethodOut(Schema):
    """A way to go through a step: what it is, why, how, with which tools and which fields."""

    method: str
    name: str
    why: str
    procedure: list[str]
    reads: str
    fields: list[StartFieldOut]
    instruments: list[InstrumentOut]
    missing: str
    prints: bool


class SchoolOut(Schema):
    """A disagreement of practitioners: both sides, the usual way, what would decide, and the side taken."""

    key: str
    topic: str
    one: str
    other: str
    usual: str
    test: str
    side: Literal["usual", "one", "other"]


class SchoolsOut(Schema):
    schools: list[SchoolOut]


class SideIn(Schema):
    side: Literal["usual", "one", "other"]


class WetTestOut(Schema):
    """The test that a run of thirsty filament opens with: why, and what was found last. ``spool``: where it is written."""

    sentence: str
    wet: bool
    found: str
    spool_id: int | None


class WetTestIn(Schema):
    """What was heard: how many pops in 50 mm; 0 is smooth and silent."""

    pops: Annotated[int, Field(ge=0, le=999)]


class StartOut(Schema):
    """The start of a run: the ways to go through it, cautions, and what it rests on; the wet test where it comes first."""

    setup: SetupOut
    step: Step
    name: str
    methods: list[StartMethodOut]
    cautions: list[CautionOut]
    rests_on: str
    wet_test: WetTestOut | None
    schools: list[SchoolOut]
    open_run_id: int | None


class PieceIn(Schema):
    """A piece to look at before it is printed; numbers as typed."""

    method: str
    values: dict[str, Annotated[str, StringConstraints(max_length=200)]]


class RunStartIn(PieceIn):
    """A run to start."""

    setup_id: int
    step: Step
    instrument_id: int


class RunOut(Schema):
    id: int
    version: int
    step: Step
    name: str
    state: RunState
    setup: SetupOut
    method: str
    method_name: str
    procedure: list[str]
    cautions: list[CautionOut]
    instrument: InstrumentOut
    cells: list[CellOut]
    piece: PieceOut | None
    tower: TowerOut | None
    file_name: str
    sliced: str
    verify: str
    use_history: bool
    has_history: bool
    started_at: datetime
    person: str
    readings: list[ReadingOut]
    entry: EntryOut
    finding: str | None
    strip: StripOut
    result: ResultOut | None
    decision: DecisionOut | None


class RunEditIn(Schema):
    """What may change while a run is open."""

    instrument_id: int | None = None
    use_history: bool | None = None
    skip: str | None = None
    zero: Typed | None = None
    purpose: Purpose | None = None
    swap: Annotated[list[int], Field(min_length=2, max_length=2)] | None = None
    walked: Annotated[str, Field(max_length=4)] | None = None


class DecisionIn(Schema):
    action: Literal["apply", "keep"]
    note: Note = ""
    before_proof: bool = False
