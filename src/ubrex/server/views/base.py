"""The wire: what a screen sends (…In) and gets (…Out). Numbers carry their text, so that a screen never computes."""

from __future__ import annotations

from typing import Annotated, Literal, TypeAlias

from pydantic import BaseModel, ConfigDict, StringConstraints

from ubrex.core.chain import Change, Step

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
    """One thing to do at a machine; ``send``: what to send or type, letter by letter."""

    text: str
    send: str | None
