"""The wire: runs from their start form to their decision."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal, TypeAlias

from pydantic import AfterValidator, Field, StringConstraints

from ubrex.core.chain import Purpose, SetAt, Step
from ubrex.core.quantity import ToolKind, Verdict
from ubrex.server.views.base import (
    CautionOut,
    CellOut,
    InstructionOut,
    Moment,
    Note,
    OptionOut,
    RunState,
    Schema,
    StageOut,
    Typed,
    on_one_line,
)
from ubrex.server.views.forms import Answers, FieldOut
from ubrex.server.views.pieces import PieceOut, PlaceOut
from ubrex.server.views.towers import ScaleOut, TowerBandOut, TowerNextOut, TowerOut
from ubrex.server.views.values import StripOut, ValueOut
from ubrex.server.views.workshop import InstrumentOut, SetupOut


class RunLineOut(Schema):
    """A run in a list; ``started_at``: when it happened, which is when its sample was made where that is older."""

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


class ReadingIn(Schema):
    """One reading; ``as_typed`` names the question it is taken in spite of.

    ``place``: the place it was asked for when it was typed; None takes the one that is next.
    """

    typed: Typed
    place: Annotated[str, StringConstraints(max_length=20)] | None = None
    taken_at: Moment
    as_typed: Literal["unit_slip", "impossible", "far_off"] | None = None


class ReadingListIn(Schema):
    """Readings written down elsewhere, one a line; ``as_typed`` names the question they are taken in spite of."""

    text: Annotated[str, StringConstraints(max_length=200_000)]
    taken_at: Moment
    as_typed: Literal["unit_slip", "impossible", "far_off"] | None = None


class ListRowOut(Schema):
    """A number of a list as it would be taken: on which line, at which place, read as what, and what is asked about it."""

    line: int
    typed: str
    place: str
    text: str
    problem: str


class ListPreviewOut(Schema):
    """A list before it is taken. ``confirmable``: what is asked about can be taken as it stands."""

    rows: list[ListRowOut]
    code: str
    confirmable: bool


class TakeBackIn(Schema):
    """Which readings to take back; None: the last one that counts."""

    readings: Annotated[list[int], Field(min_length=1, max_length=100)] | None = None


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
    reason: Annotated[str, AfterValidator(on_one_line), StringConstraints(max_length=200)]


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


class AheadOut(Schema):
    """A place still to be read: its key, its name in the list of readings, and how it is asked for."""

    place: str
    label: str
    reads: str


class EntryOut(Schema):
    """How numbers are read in: what is read, with which tools, in what, with how many decimals, what comes next.

    ``ahead``: the places still to be read, the next one first; none where readings have no places. ``spots``: where on the
    piece to measure. ``slips``: the usual reasons for which a reading is struck out.
    """

    reads: str
    unit: str
    places: int
    next: int
    asked: int
    place: str
    ahead: list[AheadOut]
    implied: str
    tools: list[ToolKind]
    slips: list[str]
    spots: list[PlaceOut]


Action: TypeAlias = Literal[
    "take", "take_back", "strike", "skip", "band_out", "instrument", "zero", "soft", "history", "walked", "list", "early",
    "rate", "clear", "purpose", "swap", "photos", "old_box", "new_box", "apply", "keep", "leave", "reprint",
]  # fmt: skip
"""What a person can do with a run as it stands."""


class ResultOut(Schema):
    """What readings say. ``recommended``: the proposal is worth setting now. ``limited_by``: what would make it surer.

    ``next_run``: fields of the run that goes where a better value would lie; empty where none does. ``first``: what is to be
    done before a change. ``less_known``: what is said where the value on record is known better.
    """

    verdict: Verdict
    reason: str
    title: str
    sentence: str
    limited_by: str
    remarks: list[str]
    so_far: bool
    recommended: bool
    proposal: str
    half_width_text: str
    change: str
    unit_text: str
    can_apply: bool
    can_keep: bool
    less_known: str
    ask_before: str | None
    keep_text: str
    next_run: dict[str, str] = {}
    first: Action | None = None


class ToSetOut(Schema):
    """What is left to do with a value that was applied: where it is set, and how. ``superseded``: why nothing any more."""

    value: ValueOut
    where: SetAt
    sentence: str
    instructions: list[InstructionOut]
    read_back: bool
    superseded: str


class BackOut(Schema):
    """What taking a decision back goes back to: revision ``number``, while ``newest`` is the newest."""

    number: int
    newest: int
    note: str


class DecisionOut(Schema):
    """What was decided, and the values it made. ``to_set``: what is left to do with them.

    ``back``: how it is taken back; None where nothing was set before, or something else was decided since.
    """

    action: Literal["apply", "keep"]
    sentence: str
    person: str
    at: datetime
    note: str
    values: list[ValueOut]
    to_set: list[ToSetOut]
    back: BackOut | None


class SoftPlaceOut(Schema):
    """A place that can be read with the jaws only just touching: its key, its name, what it read as usual, and softly."""

    place: str
    label: str
    text: str
    soft: str


class MeasuredBody(Schema):
    """A run that is read with a tool: its strip. ``softly``: places that can be read softly."""

    kind: Literal["measured"] = "measured"
    strip: StripOut
    softly: list[SoftPlaceOut] = []


class RatedBody(Schema):
    """A run whose bands are looked at: its tower."""

    kind: Literal["rated"] = "rated"
    tower: TowerOut


class FileOut(Schema):
    """A file that can be taken along. ``drawn``: it can be looked at layer by layer."""

    key: str
    label: str
    name: str
    drawn: bool


class ReprintOut(Schema):
    """The same piece once more, with what was applied: what it is for, and what it is called."""

    sentence: str
    label: str


class CurvePointOut(Schema):
    """What was found at a value; ``spread`` 0 where nothing is known of it."""

    x: float
    y: float
    spread: float
    text: str


class CurveSeriesOut(Schema):
    name: str
    points: list[CurvePointOut]


class CurveMarkOut(Schema):
    """A value that has a name: the one offered, the one in use, a limit."""

    x: float
    text: str
    offered: bool


class CurveOut(Schema):
    """What a run found over its values. ``low`` to ``high``: where the answer lies; ``level``: a line to stay at."""

    x_name: str
    y_name: str
    series: list[CurveSeriesOut]
    marks: list[CurveMarkOut]
    low: float | None = None
    high: float | None = None
    level: float | None = None
    level_text: str = ""


class RunOut(Schema):
    id: int
    version: int
    step: Step
    name: str
    state: RunState
    setup: SetupOut
    method: str
    method_name: str
    instrument: InstrumentOut
    cells: list[CellOut]
    use_history: bool
    started_at: datetime
    person: str
    readings: list[ReadingOut]
    entry: EntryOut | None
    finding: str | None
    result: ResultOut | None
    decision: DecisionOut | None
    actions: list[Action]
    body: Annotated[MeasuredBody | RatedBody, Field(discriminator="kind")]
    reprint: ReprintOut | None
    curve: CurveOut | None


class LiveOut(Schema):
    """Steps by which the machine's offset is moved while a pad prints, and how long to wait before looking [s]."""

    steps: list[OptionOut]
    usual: str
    wait_s: int
    moved: int
    now: str


class MethodOut(Schema):
    """What does not change while a run goes on: how it goes, what can hurt, the piece, its files, what is drawn.

    ``stages``: what is done in turn where a piece is printed; empty where none is.
    """

    procedure: list[str]
    cautions: list[CautionOut]
    drawing: str
    piece: PieceOut | None
    files: list[FileOut]
    stages: list[StageOut]
    body_note: str
    rounds: list[OptionOut]
    live: LiveOut | None


class LiveStepIn(Schema):
    """The machine's offset was moved by a step [mm], negative is lower; None takes the last step back."""

    by: Typed | None = None


class RatingOut(Schema):
    """What one rating changed, and nothing else: bands and readings that are not as they were, and what follows.

    ``since`` is the version of the run these changes are to; to any other they cannot be added. ``scales``: all of them,
    where one came or went.
    """

    id: int
    since: int
    version: int
    entry: EntryOut | None
    readings: list[ReadingOut]
    bands: list[TowerBandOut]
    scales: list[ScaleOut] | None
    waiting: list[TowerNextOut]
    left: str
    finding: str | None
    result: ResultOut | None
    actions: list[Action]
    curve: CurveOut | None


class StartMethodOut(Schema):
    """A way to go through a step: what it is, why, how, what can hurt, with which tools and which fields."""

    method: str
    name: str
    why: list[str]
    procedure: list[str]
    reads: str
    cautions: list[CautionOut]
    drawing: str
    fields: list[FieldOut]
    instruments: list[InstrumentOut]
    instrument_kind: ToolKind | None
    missing: str
    prints: bool


class StartOut(Schema):
    """The start of a run: the ways to go through it, and what it rests on; the wet test where it comes first.

    ``method``: the way that is proposed. ``recorded``: the value on record, where it has to be read from the machine first.
    """

    setup: SetupOut
    step: Step
    name: str
    methods: list[StartMethodOut]
    method: str
    rests_on: str
    wet_test: WetTestOut | None
    schools: list[SchoolOut]
    open_run_id: int | None


class PieceIn(Schema):
    """A piece to look at before it is printed; as typed. ``as_typed``: fields that are right although they look odd."""

    method: str
    values: Answers
    as_typed: list[str] = []


class RunStartIn(PieceIn):
    """A run to start; ``instrument_id`` None where it is only looked at."""

    setup_id: int
    step: Step
    instrument_id: int | None = None


class RunEditIn(Schema):
    """What may change while a run is open."""

    instrument_id: int | None = None
    use_history: bool | None = None
    skip: str | None = None
    zero: Typed | None = None
    soft: Annotated[dict[str, Typed], Field(max_length=24)] | None = None
    purpose: Purpose | None = None
    swap: Annotated[list[int], Field(min_length=2, max_length=2)] | None = None
    walked: Annotated[str, Field(max_length=4)] | None = None
    box: Literal["old", "new"] | None = None


class DecisionIn(Schema):
    action: Literal["apply", "keep"]
    note: Note = ""
    before_proof: bool = False
