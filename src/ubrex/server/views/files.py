"""The wire: sliced files from elsewhere."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ubrex.core.chain import Kind
from ubrex.server.views.base import Note, OptionOut, Schema
from ubrex.server.views.pieces import FileViewOut
from ubrex.server.words.files import CheckEnd


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
    """Values to take from a file of a program; ``note`` says why, where one lies outside what is usual."""

    program: Annotated[str, StringConstraints(max_length=80)]
    values: Annotated[list[FileValueIn], Field(min_length=1, max_length=40)]
    note: Note = ""


class FileCheckOut(Schema):
    """A file held against a setup."""

    end: CheckEnd
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
