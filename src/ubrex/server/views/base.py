"""The wire: what a screen sends (…In) and gets (…Out). Numbers carry their text, so that a screen never computes."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Final, Literal, TypeAlias
from unicodedata import category

from pydantic import AfterValidator, AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints

from ubrex.core.chain import Change, Step
from ubrex.server.words.desk import NO_SUCH_TIME


def kept(text: str) -> str:
    """Text without what nobody can see and no machine may be sent; lines stay lines, and spaces of every width stay."""
    return "".join(char for char in text if char in "\n\t" or char.isprintable() or category(char) == "Zs")


def on_one_line(text: str) -> str:
    """Text whose line ends and runs of spaces are single spaces."""
    return " ".join(kept(text).split())


Typed = Annotated[str, StringConstraints(max_length=40)]
"""A number as it was typed; read and judged by the services, so that the answer can name the field."""

Name = Annotated[str, AfterValidator(on_one_line), StringConstraints(max_length=80)]

ChangeKind: TypeAlias = Change
"""A row of the matrix, as an address names it."""

StepKind: TypeAlias = Step
"""A step of the chain, as an address names it."""

RunState = Literal["open", "decided", "left"]

Note = Annotated[str, AfterValidator(kept), StringConstraints(max_length=2000)]

FieldNames = Annotated[list[Annotated[str, StringConstraints(max_length=80)]], Field(max_length=40)]
"""Fields of a form, by name."""

EARLIEST: Final = datetime(2000, 1, 1, tzinfo=UTC)
LATEST: Final = datetime(2100, 1, 1, tzinfo=UTC)
"""No print, reading or change lies outside: what does comes from a wrong clock."""


def _in_time(moment: datetime) -> datetime:
    if not EARLIEST <= moment < LATEST:
        raise ValueError(NO_SUCH_TIME)
    return moment


Moment = Annotated[AwareDatetime, AfterValidator(_in_time)]
"""When something happened: with its offset, in this century."""


class Schema(BaseModel):
    """Base of everything on the wire."""

    model_config = ConfigDict(extra="forbid", frozen=True, json_schema_serialization_defaults_required=True)


class CautionOut(Schema):
    lead: str
    text: str


class CellOut(Schema):
    """A cell of a title block."""

    label: str
    value: str
    detail: str = ""


class OptionOut(Schema):
    value: str
    text: str


class InstructionOut(Schema):
    """One thing to do at a machine; ``send``: what to send or type, letter by letter; ``wait_s``: how long to wait [s]."""

    text: str
    send: str | None
    wait_s: float


class StageOut(Schema):
    """A stage of a printed run; ``wait_s``: when to look whether it is over [s], 0 where it takes what it takes."""

    key: str
    name: str
    wait_s: float
