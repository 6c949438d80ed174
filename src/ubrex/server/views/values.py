"""The wire: a value with its evidence, and values typed by hand."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ubrex.core.chain import Grade, Kind, Origin, Standing, Step
from ubrex.core.materials import Liner
from ubrex.server.views.base import Note, Schema, Typed
from ubrex.server.views.forms import Answers, FieldOut


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
    """What a gauge strip shows. All positions are numbers in ``unit``; words are ready to be set.

    ``title``: what it is of, where it stands beside other things.
    """

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
    title: str = ""
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


class TypedValuesIn(Schema):
    """Values typed by hand, off the label or as usual for the family, by kind; an empty one is left alone.

    ``heat_bias`` is what the display shows, ``heat_bias_true`` what is really there. ``note`` says why one lies outside
    what is usual.
    """

    values: Answers
    origin: Literal["typed", "label", "family"] = "typed"
    note: Note = ""


class TypedFormOut(Schema):
    step: Step
    name: str
    fields: list[FieldOut]


class TickIn(Schema):
    ticked: bool


class SafetyIn(Schema):
    """The card *safe to tune* as it was filled in."""

    runaway: Grade
    liner: Liner
    note: Note = ""


class SafetyDoneOut(Schema):
    """What the card came to: ``holds`` is what still keeps everything that heats; empty where nothing does."""

    holds: list[str]


class ReadBackIn(Schema):
    typed: Typed
