"""The wire: forms. Every screen that asks for something gets its fields from here, with what they mean."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, StringConstraints

from ubrex.server.views.base import Schema, kept

FieldKind = Literal["text", "lines", "number", "choice", "check", "several", "ranges", "moment"]

Answers = dict[str, Annotated[str, AfterValidator(kept), StringConstraints(max_length=8000)]]
"""What was typed or chosen, by the name of its field."""


class WhenOut(Schema):
    """Another field on which it depends whether this one is asked for; ``value`` None: as soon as anything is in it."""

    field: str
    value: str | None = None


class FormOptionOut(Schema):
    """A choice; ``sets``: what other fields are filled with once it is chosen."""

    value: str
    text: str
    sets: dict[str, str] = {}


class FieldOut(Schema):
    """One field. ``usual``: what the family, the label or the trade says; ``offer``: a number to begin with from there.

    ``needed``: it must not be empty. ``word``: what may be asked about it, by its key among the words explained.
    """

    name: str
    label: str
    kind: FieldKind
    value: str
    unit: str = ""
    hint: str = ""
    group: str = ""
    usual: str = ""
    offer: str = ""
    options: list[FormOptionOut] = []
    when: WhenOut | None = None
    needed: bool = False
    word: str = ""
