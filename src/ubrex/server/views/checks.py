"""The wire: checks of a machine."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import AfterValidator, StringConstraints

from ubrex.server.views.base import Note, Schema, kept
from ubrex.server.views.forms import FieldOut
from ubrex.server.views.workshop import SetupOut

Grade = Literal["good", "open", "bad"]
"""How a check came out: it can be trusted, it cannot be told yet, something is wrong."""


class CheckKindOut(Schema):
    """A kind of check: what it is for, how it goes, and what is typed."""

    kind: str
    name: str
    why: str
    procedure: list[str]
    fields: list[FieldOut]


class CheckOut(Schema):
    """A check as it was taken. ``mesh``: heights, the front row first; ``change``: the work it belongs to."""

    id: int
    kind: str
    name: str
    grade: Grade
    title: str
    sentence: str
    remarks: list[str]
    mesh: list[list[float]]
    change: str
    note: str
    person: str
    at: datetime
    withdrawn: bool


class ChecksOut(Schema):
    """What can be checked on the machine of a setup, and what was, newest first."""

    setup: SetupOut
    kinds: list[CheckKindOut]
    done: list[CheckOut]


class CheckIn(Schema):
    """What was typed for a check; a log may be long."""

    kind: str
    values: dict[str, Annotated[str, AfterValidator(kept), StringConstraints(max_length=400_000)]]
    note: Note = ""
