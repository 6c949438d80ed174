"""The wire: machines, filaments and what is worn, entered and put together."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ubrex.core.chain import Grade, Purpose, Wearing
from ubrex.server.views.base import FieldNames, Moment, Note, Schema, Typed
from ubrex.server.views.forms import FieldOut


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


class FoundOut(Schema):
    """Something that was found by a word: what it is, what it is called, and where it is looked at.

    ``setup_id``: what is put on the bench for it; None where that makes no difference.
    """

    what: str
    title: str
    detail: str
    to: str
    setup_id: int | None


class CounterOut(Schema):
    """How much a part was used since it was last seen to, and after how much, or by when, it is worth a look.

    ``before``: what its predecessors saw, newest first.
    """

    part: Wearing
    name: str
    used: str
    due: bool
    advice: str
    before: list[str]


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
    as_typed: FieldNames = []


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
    fields: list[FieldOut]


class RecordIn(Schema):
    """What a record's form holds: fields by name, as typed. ``parent_id``: what the record hangs on.

    ``as_typed``: fields that were asked about, and are right as they stand.
    """

    values: Annotated[dict[str, Annotated[str, StringConstraints(max_length=2000)]], Field(max_length=40)]
    parent_id: int | None = None
    as_typed: FieldNames = []


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
    at: Moment | None = None
