"""The wire: what a screen sends (…In) and gets (…Out). Numbers carry their text, so that a screen never computes."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum
from typing import Annotated, Literal, TypeAlias

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from ubrex.core.calibrate import Method
from ubrex.core.chain import Change, Danger, Grade, Kind, NextReason, Origin, Part, Purpose, Standing, Step, Wearing
from ubrex.core.materials import Liner
from ubrex.core.quantity import Reason, ToolKind, Unit, Verdict
from ubrex.server.words.machine import Keeping

Typed = Annotated[str, StringConstraints(max_length=40)]
"""A number as it was typed; read and judged by the services, so that the answer can name the field."""

Name = Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)]
ChangeKind: TypeAlias = Change
"""A row of the matrix, as an address names it."""

StepKind: TypeAlias = Step
"""A step of the chain, as an address names it."""

RunState = Literal["open", "decided", "left"]
Note = Annotated[str, StringConstraints(max_length=2000)]


class Schema(BaseModel):
    """Base of everything on the wire."""

    model_config = ConfigDict(extra="forbid", frozen=True, json_schema_serialization_defaults_required=True)


class PersonIn(Schema):
    name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)]


class PersonOut(Schema):
    id: int
    name: str


class WorkshopOut(Schema):
    """The workshop; ``empty``: no setup yet, the first-setup form comes first."""

    id: str
    name: str
    empty: bool
    first_setup_id: int | None
    people: list[PersonOut]


MeasuringKind: TypeAlias = Literal[
    ToolKind.CALLIPER, ToolKind.MICROMETER, ToolKind.RULER, ToolKind.SCALE, ToolKind.THERMOMETER
]
"""What can be added as a measuring tool; eyes and fingers are there by themselves."""


class InstrumentIn(Schema):
    name: Name
    kind: MeasuringKind
    step: Typed
    permissible_error: Typed = ""


class InstrumentOut(Schema):
    id: int
    name: str
    kind: ToolKind
    unit: str
    detail: str
    zero_checked: str | None


class SetupIn(Schema):
    """What the first-setup form holds of machine, hotend, nozzle, surface and filament."""

    machine: Name
    feed_path: Literal["direct", "remote"]
    keeps_setting: Keeping
    setting_places: Annotated[int, Field(ge=0, le=6)] = 2
    runaway: Grade = Grade.UNKNOWN
    liner: Liner
    hotend_max: Typed = ""
    bore: Typed
    nozzle_material: Literal["brass", "plated", "steel", "hardened", "other"] = "brass"
    surface: Name = ""
    filament: Name
    family: str


class FirstSetupIn(Schema):
    workshop: Name = ""
    setup: SetupIn
    instrument: InstrumentIn
    person: PersonIn


class FirstSetupOut(Schema):
    setup_id: int
    person: PersonOut


class FamilyOut(Schema):
    key: str
    name: str


class SetupOut(Schema):
    """A setup as it stands in the title block."""

    id: int
    version: int
    title: str
    machine: str
    machine_detail: str
    hotend: str
    hotend_detail: str
    nozzle: str
    surface: str
    surface_detail: str
    filament: str
    filament_detail: str
    purpose: Purpose
    purpose_name: str
    removed: bool


class StripReadingOut(Schema):
    number: float
    text: str
    newest: bool


class StripStruckOut(Schema):
    number: float
    note: str


class PlateOut(Schema):
    text: str
    beside: str


class StripOut(Schema):
    """What a gauge strip shows. All positions are numbers in ``unit``; words are ready to be set."""

    unit: str
    places: int
    step: float
    target: float | None = None
    low: float | None = None
    high: float | None = None
    readings: list[StripReadingOut] = []
    struck: list[StripStruckOut] = []
    mean: float | None = None
    half_width: float | None = None
    usual_scatter: bool = False
    mean_note: str = ""
    before_mean: float | None = None
    before_half_width: float | None = None
    move_to: float | None = None
    move_note: str = ""
    plate: PlateOut | None = None
    proposal_name: str = ""
    measured_name: str = "fed, mm"
    standing: Standing = Standing.FRESH
    sentence: str


class ProvenanceOut(Schema):
    origin: Origin
    sentence: str
    run_id: int | None
    instrument: str | None
    readings: str
    rule_version: str | None
    note: str


class ReadBackOut(Schema):
    """``state`` of a value on the machine: unverified until what was read back matches."""

    state: Literal["verified", "unverified", "differs"]
    sentence: str


class ValueOut(Schema):
    id: int
    kind: Kind
    name: str
    number: float
    unit: str
    unit_text: str
    half_width_95: float | None
    text: str
    half_width_text: str
    setting: str
    person: str
    at: datetime
    age: str
    provenance: ProvenanceOut
    read_back: ReadBackOut


class StepOut(Schema):
    """One of the nine rows of the chain. ``can_run``: it is measured here; otherwise it takes typed values."""

    step: Step
    name: str
    number: int
    standing: Standing
    standing_word: str
    cause: str
    unverified: bool
    value: ValueOut | None
    strip: StripOut | None
    is_next: bool
    next_sentence: str
    rests_on: str
    minutes: int
    grams: float
    can_run: bool
    care: list[str]
    open_run_id: int | None


class CautionOut(Schema):
    lead: str
    text: str


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


class ChangeIn(Schema):
    kind: Change
    note: Note = ""
    happened_at: datetime | None = None


class ChangeKindOut(Schema):
    """Work that can be logged, on which part, and what it makes of the chain in general."""

    kind: Change
    name: str
    part: Part
    part_name: str
    consequence: str


class StepMoveOut(Schema):
    """What becomes of one step, and why."""

    step: Step
    name: str
    was: str
    becomes: str
    why: str


class ConsequenceOut(Schema):
    setup_id: int
    setup: str
    moves: list[StepMoveOut]


class PreviewOut(Schema):
    """What logging a change will make of each setup that shares the part."""

    kind: Change
    consequence: str
    setups: list[ConsequenceOut]


class ChangeOut(Schema):
    id: int
    kind: Change
    name: str
    note: str
    happened_at: datetime
    person: str
    withdrawn: bool


class CribLineOut(Schema):
    """A number for the slicing program: the value, or what is usual while there is none."""

    kind: Kind
    name: str
    value: ValueOut | None
    text: str
    unit_text: str
    half_width_text: str
    usual: str
    remark: str
    standing: Standing
    standing_word: str
    typed_in: bool


class GoodForOut(Schema):
    """Whether a setup is good enough for a kind of part, and what is missing."""

    purpose: Purpose
    name: str
    good: bool
    why: str
    chosen: bool


class PlanLineOut(Schema):
    step: Step
    name: str
    minutes: int
    grams: float


class PlanOut(Schema):
    """What still asks for something, and what all of it takes."""

    lines: list[PlanLineOut]
    total: str


class DangerOut(Schema):
    danger: Danger
    sentence: str


class NextOut(Schema):
    """The one next step; ``step`` is None when nothing can be measured now."""

    step: Step | None
    row: Step | None
    reason: NextReason
    sentence: str
    rests_on: str


class SafetyOut(Schema):
    """The card that comes before everything that heats, as it was filled in last."""

    standing: Standing
    standing_word: str
    cause: str
    runaway: Grade
    liner: Liner
    note: str


class BeforeOut(Schema):
    """A card that comes before the numbers: mechanics, filament. ``good``: nothing is to be done."""

    key: Literal["mechanics", "filament"]
    said: str
    why: str
    good: bool


class WaitingOut(Schema):
    """What has to pass before something can go on; ``until``: when it is over, where that is known."""

    sentence: str
    until: datetime | None = None


class SetupNoteIn(Schema):
    text: Note


class SetupNoteOut(Schema):
    """What a person wanted to remember of a setup."""

    text: str
    person: str
    at: datetime


class LastRevisionOut(Schema):
    """The newest revision of a setup."""

    number: int
    cause: str
    person: str
    at: datetime


class BenchOut(Schema):
    setup: SetupOut
    safety: SafetyOut
    before: list[BeforeOut]
    next: NextOut
    dangers: list[DangerOut]
    crib: list[CribLineOut]
    good_for: list[GoodForOut]
    steps: list[StepOut]
    plan: PlanOut
    waiting: list[WaitingOut]
    recent: list[RunLineOut]
    changes: list[ChangeOut]
    notes: list[SetupNoteOut]
    last_revision: LastRevisionOut | None


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
    """How the entry field behaves: what it reads, with which tools, in what, with how many decimals, what comes next; and
    what is set now.
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
    """What was decided. ``beside``: values that came with the first, as the flow of foam with its temperature."""

    action: Literal["apply", "keep"]
    sentence: str
    person: str
    at: datetime
    note: str
    value: ValueOut | None
    beside: list[ValueOut]
    instructions: list[InstructionOut]


class CellOut(Schema):
    """A cell of a title block."""

    label: str
    value: str
    detail: str = ""


class PlaceOut(Schema):
    """Where on a piece to measure [mm]; ``across_x``, ``across_y``: which way the jaws close, both 0 for a patch."""

    name: str
    group: str
    x: float
    y: float
    across_x: float
    across_y: float
    state: Literal["taken", "next", "skipped", "asked", "later"]
    text: str


class PointOut(Schema):
    x: float
    y: float


class OutlineOut(Schema):
    """A line of a plan [mm]; ``bold``: part of what is measured."""

    points: list[PointOut]
    bold: bool


class PieceBandOut(Schema):
    """A band of a tower: its value, from where to where [mm], and from where on the nozzle has settled."""

    text: str
    from_mm: float
    to_mm: float
    settled: str


class PieceOut(Schema):
    """A test piece: seen from above, how big, how long and how heavy; why it cannot be written, where it cannot."""

    name: str
    outlines: list[OutlineOut]
    places: list[PlaceOut]
    width_mm: float
    depth_mm: float
    height_mm: float
    size: str
    minutes: str
    grams: str
    remarks: list[str]
    bands: list[PieceBandOut]
    refused: str
    field: str


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


class LayerOut(Schema):
    """One layer of a file: its height [mm], and its lines as x0, y0, x1, y1 in hundredths of mm, one after the other."""

    z_mm: float
    lines: list[int]


class FileViewOut(Schema):
    """A file drawn layer by layer."""

    width_mm: float
    depth_mm: float
    left_mm: float
    front_mm: float
    layers: list[LayerOut]
    every: int


class FileFindingOut(Schema):
    """Something wrong with a file: a first word, the sentence, and where."""

    code: str
    harmful: bool
    lead: str
    text: str
    where: str
    line: int
    z_mm: float


class FileMatchOut(Schema):
    """One of tonight's numbers beside what a file's commands say."""

    kind: Kind
    name: str
    file: str
    tonight: str
    same: bool
    known: bool


class FileSettingOut(Schema):
    """A setting as a remark of a file says it; ``kind``: what it means, where that was confirmed for this program."""

    name: str
    value: str
    is_number: bool
    kind: Kind | None


class FileValueIn(Schema):
    """A setting of a file, and what it means."""

    name: Annotated[str, StringConstraints(min_length=1, max_length=80)]
    value: Annotated[str, StringConstraints(max_length=200)]
    kind: Kind


class FileValuesIn(Schema):
    """Values to take from a file of a program."""

    program: Annotated[str, StringConstraints(max_length=80)]
    values: Annotated[list[FileValueIn], Field(min_length=1, max_length=40)]


class FileCheckOut(Schema):
    """A file held against a setup."""

    verdict: str
    harmful: bool
    findings: list[FileFindingOut]
    matches: list[FileMatchOut]
    remarks: list[str]
    program: str
    settings: list[FileSettingOut]
    meanings: list[OptionOut]
    lines: int
    view: FileViewOut


FileText = Annotated[str, StringConstraints(max_length=60_000_000)]


class FileCompareIn(Schema):
    """Two files, as text."""

    left: FileText
    right: FileText


class FileDifferenceOut(Schema):
    """A setting two files do not agree on; empty: not in that file."""

    name: str
    left: str
    right: str
    by: Literal["commands", "remarks"]


class ScaleOut(Schema):
    """What is rated on each band: its name, where to look, how much it counts, and a word and a sentence for 0 to 4.

    ``most``: the highest number; more than 4 where something is counted.
    """

    key: str
    name: str
    look: str
    counts: str
    words: list[str]
    sentences: list[str]
    most: int


class OtherRatingOut(Schema):
    person: str
    rating: int


class CellRatingOut(Schema):
    """A rating of one band: one's own, and those of others. ``odd``: the others make it unlikely."""

    key: str
    rating: int | None
    word: str
    others: list[OtherRatingOut]
    odd: bool


class TowerBandOut(Schema):
    """A band, top of the tower first. ``index``: from the bottom. ``score``: 0 to 4, None before anything counts."""

    index: int
    text: str
    cells: list[CellRatingOut]
    vetoes: list[str]
    said: str
    missing: bool
    out: bool
    snapped: bool
    remark: str
    score: float | None
    score_text: str
    spread: float
    inside: bool
    offered: bool
    in_use: bool
    widths: str
    photos: int


class TowerPurposeOut(Schema):
    purpose: Purpose
    name: str
    why: str


class TowerNextOut(Schema):
    """The cell that is looked at next."""

    band: int
    key: str


class TowerVetoOut(Schema):
    key: str
    word: str
    sentence: str


class TowerOut(Schema):
    """A tower with its ratings. ``waiting``: what is still asked for, in order."""

    unit: str
    score_name: str
    purpose: Purpose | None
    purposes: list[TowerPurposeOut]
    scales: list[ScaleOut]
    bands: list[TowerBandOut]
    vetoes: list[TowerVetoOut]
    waiting: list[TowerNextOut]
    left: str
    facts: list[str]
    can_swap: bool


class RatingIn(Schema):
    """A rating of a band, or a veto (1); None takes back what stands there. ``key``: a scale, or what takes a band out."""

    band: Annotated[int, Field(ge=0, le=99)]
    key: Annotated[str, StringConstraints(min_length=1, max_length=16)]
    rating: Annotated[int, Field(ge=0, le=999)] | None
    taken_at: datetime


class PhotoOut(Schema):
    id: int
    band: int | None
    band_text: str
    width: int
    height: int
    note: str
    person: str
    at: datetime


class PhotosOut(Schema):
    """Photographs of a run, and of the run before it of the same step on the same setup."""

    photos: list[PhotoOut]
    before_run_id: int | None
    before: list[PhotoOut]


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


class TypedValueIn(Schema):
    """One value as typed; ``second`` is what is really there, of a heat check. Empty ``typed`` leaves the value alone."""

    kind: Kind
    typed: Typed = ""
    second: Typed = ""


class TypedValuesIn(Schema):
    """Values typed by hand, off the label or as usual for the family; ``note`` says why one lies outside what is usual."""

    values: Annotated[list[TypedValueIn], Field(max_length=40)]
    origin: Literal["typed", "label", "family"] = "typed"
    note: Note = ""


class TypedFieldOut(Schema):
    """One field of the form: what is set now, what is usual, and what must not be exceeded.

    ``default``: the family's number to begin with; empty where nothing is usual, or the label says.
    """

    kind: Kind
    name: str
    unit_text: str
    now: str
    second: str
    usual: str
    default: str
    limit: str


class TypedFormOut(Schema):
    step: Step
    name: str
    fields: list[TypedFieldOut]


class TickIn(Schema):
    ticked: bool


class SafetyIn(Schema):
    """The card *safe to tune* as it was filled in."""

    runaway: Grade
    liner: Liner
    note: Note = ""


class AssemblyIn(Schema):
    """The parts of a setup, by id."""

    toolhead_id: int
    nozzle_id: int
    surface_id: int | None = None
    filament_id: int
    spool_id: int | None = None
    purpose: Purpose = Purpose.EVERYDAY


class PickOut(Schema):
    """One choice for a part, and the setup it results in; ``now``: it is what is on the bench."""

    text: str
    beside: str
    form: AssemblyIn
    title: str
    setup_id: int | None
    result: str
    now: bool


class PreflightOut(Schema):
    """The card before a print: eight ticks."""

    setup: SetupOut
    ticks: list[CautionOut]


class ProfileValue(Schema):
    """One value of a profile file; ``number`` in ``unit``, ``half_width_95`` of its 95 % interval, both exact."""

    kind: Kind
    number: Annotated[float, Field(allow_inf_nan=False)]
    unit: Unit
    half_width_95: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = None
    origin: Origin
    at: datetime
    person: Annotated[str, StringConstraints(max_length=60)]
    beside: Annotated[float, Field(allow_inf_nan=False)] | None = None
    note: Note = ""


class ProfileFile(Schema):
    """A profile as a file: what it was tuned on, and every value with what it is worth."""

    format: Literal["ubrex-profile"]
    version: Literal[1]
    machine: Name
    hotend: Name
    nozzle_bore_mm: Annotated[float, Field(ge=0.1, le=2.0)]
    nozzle_material: Annotated[str, StringConstraints(max_length=40)]
    surface: Name | None = None
    filament: Name
    family: Annotated[str, StringConstraints(max_length=40)]
    values: Annotated[list[ProfileValue], Field(max_length=60)]


class ExportOut(Schema):
    name: str
    text: str


class ImportIn(Schema):
    """The text of a profile file."""

    text: str


class CopyIn(Schema):
    from_setup_id: int


class ImportLineOut(Schema):
    kind: Kind
    name: str
    action: Literal["add", "change", "same", "leave"]
    now: str
    becomes: str
    why: str


class ImportPreviewOut(Schema):
    """What bringing a profile in will do; ``count``: how many values it will write."""

    source: str
    onto: str
    warning: str
    lines: list[ImportLineOut]
    count: int


class BesideRowOut(Schema):
    """One value on two setups; ``said``: how far they lie apart, and whether that is real."""

    kind: Kind
    name: str
    left: ValueOut | None
    right: ValueOut | None
    said: str


class BesideOut(Schema):
    """Two setups side by side."""

    left: str
    right: str
    rows: list[BesideRowOut]


class PrintIn(Schema):
    """A real print and how it came out."""

    what: Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)]
    hours: Typed
    grams: Typed
    outcome: Literal["good", "bad", "stopped"]
    note: Note = ""
    happened_at: datetime | None = None


class CounterOut(Schema):
    """How much a part was used since it was last seen to, and after how much it is worth a look."""

    part: Wearing
    name: str
    amount: str
    limit: str
    due: bool
    advice: str


class CountersOut(Schema):
    counters: list[CounterOut]


class LimitOut(Schema):
    """After how much a value or a part is worth a look; a person may change it."""

    key: str
    name: str
    value: str
    unit: str
    usual: str


class LimitIn(Schema):
    value: Typed


class OptionOut(Schema):
    value: str
    text: str


class FormFieldOut(Schema):
    """One field of a record's form, and what it holds."""

    name: str
    label: str
    kind: Literal["text", "lines", "number", "choice", "check", "several", "ranges"]
    unit: str
    hint: str
    group: str
    options: list[OptionOut]
    value: str


class RecordKind(StrEnum):
    """What a person enters."""

    MACHINE = "machine"
    HOTEND = "hotend"
    NOZZLE = "nozzle"
    SURFACE = "surface"
    FILAMENT = "filament"
    SPOOL = "spool"
    INSTRUMENT = "instrument"


class FormOut(Schema):
    """The form of a record, empty or filled; ``id`` is None for one that is not there yet."""

    kind: RecordKind
    noun: str
    id: int | None
    version: int
    retired: bool
    can_retire: bool
    fields: list[FormFieldOut]


class RecordIn(Schema):
    """What a record's form holds: fields by name, as typed. ``parent_id``: what the record hangs on."""

    values: Annotated[dict[str, Annotated[str, StringConstraints(max_length=2000)]], Field(max_length=40)]
    parent_id: int | None = None


class PartOut(Schema):
    kind: RecordKind
    id: int
    parent_id: int | None
    name: str
    detail: str
    retired: bool


class MachineOut(Schema):
    """A machine with its parts; a nozzle's ``parent_id`` is the toolhead it goes into."""

    id: int
    name: str
    detail: str
    runaway: Grade
    lacks: list[str]
    retired: bool
    hotends: list[PartOut]
    nozzles: list[PartOut]
    surfaces: list[PartOut]


class SpoolEntryOut(Schema):
    kind: str
    sentence: str
    note: str
    on: str
    person: str


class SpoolOut(Schema):
    id: int
    name: str
    left: str
    dried: str
    stored: str
    retired: bool
    entries: list[SpoolEntryOut]


class FilamentOut(Schema):
    """A filament with its spools; ``from_label``: its range is the label's, not the family's."""

    id: int
    name: str
    maker: str
    family: str
    colour: str
    label: str
    from_label: bool
    bed: str
    dry: str
    flags: str
    notes: str
    retired: bool
    spools: list[SpoolOut]


class FilamentsOut(Schema):
    filaments: list[FilamentOut]


class SpoolEntryIn(Schema):
    """What was found on a spool; which numbers it takes depends on its kind."""

    kind: Literal["weighed", "drying", "dried", "diameter", "wet_test"]
    number: Typed
    second: Typed = ""
    note: Note = ""
    at: datetime | None = None


class RoomIn(Schema):
    temperature: Typed
    humidity: Typed = ""
    draught: bool = False


class RoomOut(Schema):
    sentence: str
    temperature: str
    humidity: str
    draught: bool


class ReadBackIn(Schema):
    typed: Typed


class RevisionOut(Schema):
    """A revision; ``good`` and ``bad``: how real prints came out under it."""

    number: int
    good: int
    bad: int
    version: int
    cause: str
    person: str
    at: datetime
    note: str
    newest: bool


class NoteIn(Schema):
    note: Note


class DifferenceOut(Schema):
    """One value in two revisions, and the two questions about the change: is it real, and would one see it?"""

    kind: Kind
    name: str
    left: ValueOut | None
    right: ValueOut | None
    strip: StripOut | None
    change: str
    real: bool | None
    real_sentence: str
    visible: bool | None
    visible_sentence: str


class HistoryOut(Schema):
    setup: SetupOut
    revisions: list[RevisionOut]
    events: list[ChangeOut]
    left: int | None
    right: int | None
    differences: list[DifferenceOut]
    go_back_to: int | None


class RestoreIn(Schema):
    number: int
    note: Note = ""


class HealthOut(Schema):
    status: Literal["ok", "database_down"]
    database: bool
    version: str


class SessionIn(Schema):
    passphrase: Annotated[str, StringConstraints(max_length=200)]


class SessionOut(Schema):
    needed: bool
    signed_in: bool


class FieldOut(Schema):
    field: str
    code: str
    message: str
    suggested: str | None
    confirmable: bool


class ProblemOut(Schema):
    """An error as RFC 9457 has it, with what a screen can attach to its fields."""

    type: str
    title: str
    status: int
    detail: str
    code: str
    fields: list[FieldOut] = []
