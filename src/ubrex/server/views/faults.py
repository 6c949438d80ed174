"""The wire: cases of faults, what may be behind them, what to look at next and what to try."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import StringConstraints

from ubrex.core.chain import Change
from ubrex.server.views.attempts import PrintPhotoOut
from ubrex.server.views.base import Note, Schema, Typed
from ubrex.server.views.runs import SchoolOut
from ubrex.server.views.workshop import SetupOut

FaultKey = Annotated[str, StringConstraints(min_length=1, max_length=40)]
AnswerText = Annotated[str, StringConstraints(max_length=80)]
AnswerKind = Literal["finding", "also", "unable", "not_so", "remedy", "stopped", "found"]


class ComplaintOut(Schema):
    """Something people see; ``words``: everyday words by which it is found."""

    key: str
    text: str
    words: str


class FaultIn(Schema):
    """A case to open: on which setup, what is seen, the attempt it came with, and where on the part in layers or mm."""

    setup_id: int
    complaint: FaultKey
    print_id: int | None = None
    layer: Typed = ""
    height_mm: Typed = ""
    note: Note = ""


class FaultAnswerIn(Schema):
    """An answer: to a finding, yes or no to a further complaint, how a remedy went, a check that cannot be done.

    ``write_down``: the work of a remedy is logged as well, with all that follows from it.
    """

    kind: AnswerKind
    key: FaultKey
    answer: AnswerText = ""
    unsure: bool = False
    write_down: bool = False
    note: Note = ""


class FaultCloseIn(Schema):
    """What it was."""

    cause: FaultKey
    note: Note = ""


class FaultLineOut(Schema):
    """A case in the list."""

    id: int
    title: str
    machine: str
    leads: str
    closed: bool
    at: datetime
    person: str


class AlsoFoundOut(Schema):
    """Something that was found on the way and is not mended; ``unsafe``: it holds the next job."""

    fault_id: int
    key: str
    machine: str
    text: str
    mend: str
    unsafe: bool


class FaultsOut(Schema):
    """Cases, the open ones first, what was found on the way and is not mended, and what can be seen."""

    cases: list[FaultLineOut]
    found: list[AlsoFoundOut]
    complaints: list[ComplaintOut]


class CauseOut(Schema):
    """A cause on the sheet: how likely, in words and tenths, and what speaks for and against it. ``share`` is 0 to 1.

    ``place``: where it stands on a scale of odds in words, 0 to 1; ``place_before``: before the last answer.
    """

    key: str
    name: str
    share: float
    place: float
    place_before: float | None
    aside: bool
    field: str
    tenths: str
    because: str


class AnswerOut(Schema):
    """An answer that can be given."""

    key: str
    text: str


class AskedOut(Schema):
    """A finding that a check tells, with its answers; the first is what a sound machine shows."""

    key: str
    question: str
    options: list[AnswerOut]


class LookOut(Schema):
    """A look: what to do, how long, in which state, with what, what can hurt, and what it tells."""

    key: str
    do: str
    minutes: float
    state: str
    needs: list[str]
    cautions: list[str]
    asks: list[AskedOut]


class RemedyOut(Schema):
    """What mends: what to do, how long, what it buys, and what must be seen afterwards.

    ``work``: what it is logged as; ``guide``: the one that leads through it; empty where there is none. ``stale``: rows that
    are looked at again then.
    """

    key: str
    do: str
    minutes: float
    buys: str
    seen: str
    cautions: list[str]
    work: str
    guide: str
    stale: list[str]


class StopOut(Schema):
    """What stops everything first: its steps, until somebody says they are done."""

    key: str
    title: str
    steps: list[str]


class AnsweredOut(Schema):
    """An answer that was given, newest first."""

    id: int
    kind: AnswerKind
    text: str
    person: str
    at: datetime


class FactOut(Schema):
    """Something the record knows, and where it stands; ``counts`` is False where somebody said it is not so."""

    key: str
    text: str
    to: str
    counts: bool
    not_so_id: int | None


class FaultSheetOut(Schema):
    """A case as it stands. ``version`` counts its answers; ``said``: the verdict in one sentence; ``where``: on the part.

    ``done_before``: what somebody may have tried before. ``found``, ``can_find``: what was, and can be, found on the way.
    """

    id: int
    version: int
    setup: SetupOut
    complaint: str
    complaint_key: str
    where: str
    note: str
    print_id: int | None
    at: datetime
    person: str
    closed: bool
    cause: str
    verdict: Literal["check", "try", "off_list", "watch"]
    said: str
    stop: list[StopOut]
    first: list[LookOut]
    causes: list[CauseOut]
    next: LookOut | None
    others: list[LookOut]
    remedy: RemedyOut | None
    remedies: list[RemedyOut]
    facts: list[FactOut]
    answered: list[AnsweredOut]
    also: list[ComplaintOut]
    done_before: list[AnswerOut]
    found: list[AlsoFoundOut]
    can_find: list[AnswerOut]
    photos: list[PrintPhotoOut]
    schools: list[SchoolOut]
    reopened: str


class HelpRowOut(Schema):
    """Something by name."""

    name: str
    text: str


class HelpSectionOut(Schema):
    """A part of the page of a case: lines, or things by name."""

    heading: str
    lines: list[str] = []
    rows: list[HelpRowOut] = []


Door = Literal["fault-photos", "print-photos"]


class HelpPhotoOut(Schema):
    """A photograph on the page; ``door``: where it is asked for."""

    door: Door
    id: int
    said: str


class HelpOut(Schema):
    """Everything known of a case, for somebody elsewhere; ``missing``: what they will ask for."""

    fault_id: int
    title: str
    sections: list[HelpSectionOut]
    photos: list[HelpPhotoOut]
    missing: str


class GuideAskOut(Schema):
    """An answer to the question of a step; ``to``: the step that comes then, None where the guide ends with ``said``."""

    text: str
    to: int | None
    said: str


class GuideStepOut(Schema):
    """One step of a guide, its cautions first; ``wait_s``: how long to wait [s]; ``asks``: what is asked at its end."""

    do: str
    cautions: list[str]
    wait_s: float
    asks: list[GuideAskOut]


class GuideOut(Schema):
    """A guide; ``work``: the change it is logged as."""

    key: str
    name: str
    words: str
    work: Change | None
    work_name: str
    steps: list[GuideStepOut]


class LetGoIn(Schema):
    """How a part came off, or what did not help."""

    way: Annotated[str, StringConstraints(max_length=200)]
    worked: bool = True


class GuidesOut(Schema):
    """Guides for a setup."""

    setup: SetupOut
    guides: list[GuideOut]
