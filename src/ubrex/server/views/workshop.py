"""The wire: people, measuring tools, setups, the room, and what went wrong."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, StringConstraints

from ubrex.core.chain import Purpose
from ubrex.core.quantity import ToolKind
from ubrex.server.views.base import FieldNames, Name, Schema, Typed, on_one_line
from ubrex.server.views.forms import Answers, FieldOut
from ubrex.server.views.values import StripOut


class PersonIn(Schema):
    name: Annotated[str, AfterValidator(on_one_line), StringConstraints(max_length=60)]


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


class InstrumentOut(Schema):
    id: int
    name: str
    kind: ToolKind
    unit: str
    detail: str
    zero_checked: str
    closes: bool
    sees_mm: float
    sees: str = ""


class ZeroIn(Schema):
    """A zero check: the size it was read on, "" or 0 for closed jaws, and what was read, both in mm as typed."""

    known: Typed = ""
    read: Typed


class FirstSetupIn(Schema):
    workshop: Name = ""
    setup: Answers
    instrument: Answers
    person: PersonIn
    as_typed: FieldNames = []


class SampleReadingOut(Schema):
    """A reading as typed, and why it was struck; empty where it counts."""

    text: str
    struck: str


class SampleRunOut(Schema):
    """A run of the sample workshop that ended: what it measured on, what was read, what it said, what was done."""

    name: str
    setup: str
    method: str
    readings: list[SampleReadingOut]
    strip: StripOut
    title: str
    sentence: str
    limited_by: str
    note: str


class FirstSetupFormOut(Schema):
    """The forms of an empty workshop: of its first setup, and of a measuring tool. ``sample``: how a run ends."""

    setup: list[FieldOut]
    instrument: list[FieldOut]
    sample: SampleRunOut


class FirstSetupOut(Schema):
    setup_id: int
    person: PersonOut


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


class RoomIn(Schema):
    temperature: Typed
    humidity: Typed = ""
    draught: bool = False
    as_typed: FieldNames = []


class RoomOut(Schema):
    """``detail``: what stands below the temperature: how damp it is, or when that was, where it is long ago."""

    sentence: str
    detail: str
    temperature: str
    humidity: str
    draught: bool


class HealthOut(Schema):
    status: Literal["ok", "database_down"]
    database: bool
    version: str


class SessionIn(Schema):
    passphrase: Annotated[str, StringConstraints(max_length=200)]


class SessionOut(Schema):
    needed: bool
    signed_in: bool


class FieldProblemOut(Schema):
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
    fields: list[FieldProblemOut] = []
