"""The wire: the bench, and what a change makes of it."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ubrex.core.chain import Change, Danger, Kind, NextReason, Part, Purpose, Standing, Step
from ubrex.server.views.base import CautionOut, InstructionOut, Moment, Note, Schema
from ubrex.server.views.forms import FieldOut
from ubrex.server.views.runs import RunLineOut
from ubrex.server.views.values import StripOut, ValueOut
from ubrex.server.views.workshop import SetupOut


class AssumeOut(Schema):
    """What can be taken without measuring it, by one key: the words on its button, and what is written down."""

    label: str
    values: dict[str, str]


class StepOut(Schema):
    """One of the nine rows of the chain. ``can_run``: it is measured here; otherwise it takes typed values.

    ``reason``: what it asks for, in a line; ``level``: of the row that has one; ``type_first``: what is due in it is typed.
    """

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
    reason: str
    level: str
    rests_on: str
    minutes: int
    grams: float
    can_run: bool
    type_first: bool
    care: list[str]
    open_run_id: int | None
    assume: AssumeOut | None


class ChangeIn(Schema):
    kind: Change
    note: Note = ""
    happened_at: Moment | None = None


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
    """What logging a change will make of each setup that shares the part.

    ``another``: the part that is another one afterwards, so that a person is asked which.
    """

    kind: Change
    consequence: str
    care: str
    another: Literal["nozzle", "surface"] | None
    setups: list[ConsequenceOut]


class ChangeOut(Schema):
    id: int
    kind: Change
    name: str
    note: str
    happened_at: datetime
    person: str
    withdrawn: bool


class TonightLineOut(Schema):
    """A number for the slicing program: the value, or what is usual while there is none.

    ``offer``: the usual one as it can be taken by one press. ``sum``: what it comes to.
    """

    kind: Kind
    step: Step
    name: str
    value: ValueOut | None
    text: str
    unit_text: str
    half_width_text: str
    usual: str
    offer: str
    remark: str
    sum: str
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
    fields: list[FieldOut]


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


class BenchReadBackOut(Schema):
    """A value that its machine may not hold: what is on record, what it says, how to read it, how to write it back."""

    step: Step
    value: ValueOut
    machine_says: str
    how: str
    instructions: list[InstructionOut]


class SetupLineOut(Schema):
    """A setup among all: what it is good enough for, what is next and why, what waits, what was printed last."""

    id: int
    machine: str
    hotend: str
    nozzle_mm: float
    filament: str
    surface: str
    good_for: list[str]
    next_step: str
    next_why: str
    waits: list[str]
    last_print: str


class WordOut(Schema):
    """A word that can be pressed: what it means, and which drawing shows it."""

    key: str
    name: str
    text: str
    drawing: str


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
    minds: list[str]
    tonight: list[TonightLineOut]
    good_for: list[GoodForOut]
    steps: list[StepOut]
    plan: PlanOut
    waiting: list[WaitingOut]
    read_backs: list[BenchReadBackOut]
    recent: list[RunLineOut]
    changes: list[ChangeOut]
    notes: list[SetupNoteOut]
    last_revision: LastRevisionOut | None


class PreflightOut(Schema):
    """The card before a print: what stands before it, eight ticks, and what can hurt."""

    setup: SetupOut
    holds: list[str]
    ticks: list[CautionOut]
    cautions: list[CautionOut]
