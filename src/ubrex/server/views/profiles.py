"""The wire: history, and profiles that go along or come in."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ubrex.core.chain import Kind, Origin
from ubrex.core.quantity import Unit
from ubrex.server.views.base import Name, Note, Schema
from ubrex.server.views.values import StripOut, ValueOut
from ubrex.server.views.workshop import SetupOut


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
    """A profile as a file: what it was tuned on, and every value with what it is worth.

    Since version 2: hardness, spool, drying, feed path and what was done to it, room, what it was verified for, in words.
    Since version 3: the last attempts, a line each.
    """

    format: Literal["ubrex-profile"]
    version: Literal[1, 2, 3]
    machine: Name
    hotend: Name
    nozzle_bore_mm: Annotated[float, Field(ge=0.1, le=2.0)]
    nozzle_material: Annotated[str, StringConstraints(max_length=40)]
    surface: Name | None = None
    filament: Name
    family: Annotated[str, StringConstraints(max_length=40)]
    hardness: Annotated[str, StringConstraints(max_length=200)] = ""
    spool: Name | None = None
    drying: Note = ""
    feed_path: Note = ""
    feed_changes: Annotated[list[Note], Field(max_length=20)] = []
    room: Note = ""
    verified_for: Note = ""
    attempts: Annotated[list[Note], Field(max_length=100)] = []
    values: Annotated[list[ProfileValue], Field(max_length=60)]


class ExportOut(Schema):
    name: str
    text: str


class ImportIn(Schema):
    """The text of a profile file; ``note`` says why, where something in it lies outside what is usual here."""

    text: str
    note: Note = ""


class CopyIn(Schema):
    """The setup to copy from; ``note`` says why, where something of it lies outside what is usual here."""

    from_setup_id: int
    note: Note = ""


class ImportLineOut(Schema):
    """What becomes of one value that is brought in or gone back to; ``asks``: why it is taken with a note only."""

    kind: Kind
    name: str
    action: Literal["add", "change", "same", "leave"]
    now: str
    becomes: str
    why: str
    asks: str = ""


class ImportPreviewOut(Schema):
    """What bringing a profile in will do; ``count``: how many values it will write."""

    source: str
    onto: str
    warning: str
    lines: list[ImportLineOut]
    count: int
    asks: bool


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


class EventOut(Schema):
    """Something that was done to a machine, or a fault on it that was found and mended; ``fault_id``: its case."""

    key: str
    name: str
    note: str
    happened_at: datetime
    withdrawn: bool
    fault_id: int | None


class HistoryOut(Schema):
    """Revisions, the difference between two of them, and what going back to the left one would write.

    ``about``: spool, drying, feed path, room, and what it was verified for, as a profile file says them too.
    """

    setup: SetupOut
    revisions: list[RevisionOut]
    events: list[EventOut]
    left: int | None
    right: int | None
    differences: list[DifferenceOut]
    go_back_to: int | None
    go_back: list[ImportLineOut]
    then: str
    about: list[str]


class RestoreIn(Schema):
    number: int
    note: Note = ""


class CoursePointOut(Schema):
    """A value as it was set or left [s since 1970]. ``found``: what its readings said, where it was ``measured`` here."""

    at_s: float
    number: float
    found: float
    found_text: str
    half_width: float | None
    text: str
    half_width_text: str
    measured: bool
    person: str


class CourseLineOut(Schema):
    """One value over time. ``drift``: whether it moves by itself; ``alarm``: it does."""

    kind: Kind
    name: str
    unit_text: str
    points: list[CoursePointOut]
    drift: str
    alarm: bool


class CourseEventOut(Schema):
    at_s: float
    name: str
    note: str


class CoursePrintOut(Schema):
    at_s: float
    what: str
    good: bool


class CourseOut(Schema):
    """The values of a setup over a year, what was done to it, and what was printed."""

    setup: SetupOut
    since: datetime
    until: datetime
    lines: list[CourseLineOut]
    events: list[CourseEventOut]
    prints: list[CoursePrintOut]
