"""The wire: attempts at a part, what differs between them, what was changed for a trial, and what is looked at again."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ubrex.core.chain import Kind
from ubrex.server.views.base import Moment, Name, Note, Schema, Typed
from ubrex.server.views.forms import FormOptionOut
from ubrex.server.views.towers import ScaleOut
from ubrex.server.views.workshop import SetupOut

Outcome = Literal["good", "bad", "stopped"]
Fit = Literal["free", "snug", "filing", "no"]
Reach = Literal["all", "first", "above", "once"]

Revision = Annotated[str, StringConstraints(max_length=40, pattern=r"^[^\r\n]*$")]


class TrialIn(Schema):
    """A setting that was another in this attempt alone; ``reach``: where in the print, from a height in mm or a layer on."""

    kind: Kind
    typed: Typed
    reach: Reach = "all"
    from_mm: Typed = ""
    from_layer: Typed = ""


class PrintIn(Schema):
    """An attempt: whether it works; all else where somebody said so. ``signs``: what was looked at, 0 to 4, 4 is best.

    ``stopped_layer`` or ``stopped_mm``: where it was stopped. ``counts``: signs counted or measured. ``plan_id`` with
    ``plan_place``: which print of a planned series it was. ``file_id``: the checked file it was printed from, whose numbers
    win. ``begun_id``: what was said when it began. ``as_typed``: what was asked about and is right as it stands.
    """

    what: Name
    revision: Revision = ""
    hours: Typed = ""
    grams: Typed = ""
    outcome: Outcome
    looks: Literal["good", "bad"] | None = None
    signs: dict[str, Annotated[int, Field(ge=0, le=4)]] = Field(default={}, max_length=20)
    counts: dict[str, Typed] = Field(default={}, max_length=20)
    stopped_layer: Typed = ""
    stopped_mm: Typed = ""
    fit: Fit | None = None
    trials: list[TrialIn] = Field(default=[], max_length=20)
    plan_id: int | None = None
    plan_place: Annotated[int, Field(ge=0, le=100)] | None = None
    look_again: Annotated[str, StringConstraints(max_length=200)] = ""
    look_in_days: Typed = ""
    file_id: int | None = None
    begun_id: int | None = None
    note: Note = ""
    happened_at: Moment | None = None
    as_typed: list[Literal["grams"]] = []


class LoggedOut(Schema):
    """The attempt that was written down."""

    id: int


class PrintOut(Schema):
    """An attempt as it was written down. ``said``: how it came out; ``took``: time and filament, as far as said."""

    id: int
    what: str
    outcome: Outcome
    said: str
    signs: list[str]
    took: str
    note: str
    spool: str
    revision: int | None
    person: str
    happened_at: datetime
    withdrawn: bool


class SettingOut(Schema):
    """A setting that can be another in one attempt; ``text``: what it is now, with its unit beside."""

    kind: Kind
    name: str
    text: str
    unit_text: str


class CountOut(Schema):
    """A sign that can be counted, or measured in mm."""

    key: str
    name: str
    unit_text: str


class TrialOut(Schema):
    """A setting that was tried and is neither put back nor kept; ``otherwise``: what stands in the profile."""

    id: int
    kind: Kind
    name: str
    text: str
    number_text: str
    otherwise: str
    reach: Reach
    from_mm: float | None
    can_keep: bool
    what: str


class PlannedSettingOut(Schema):
    """What one setting is to be in a planned print."""

    kind: Kind
    typed: str


class PlannedOut(Schema):
    """The next print of a planned series: what to set for it."""

    plan_id: int
    place: int
    count: int
    said: str
    settings: list[PlannedSettingOut]


class CheckedFileOut(Schema):
    """A file that was checked on a setup. ``likely``: nothing was printed since. ``differs``: what it sets otherwise."""

    id: int
    name: str
    at: datetime
    likely: bool
    minutes: int
    differs: list[str]


class BegunIn(Schema):
    """An attempt that begins to print. ``remind_in_min``: when something is to be changed, where somebody knows better."""

    what: Name
    revision: Revision = ""
    trials: list[TrialIn] = Field(default=[], max_length=20)
    file_id: int | None = None
    remind_in_min: Typed = ""


class BegunTrialOut(Schema):
    """A setting of an attempt that is printing, as it was typed."""

    kind: Kind
    typed: str
    reach: Reach
    from_mm: str
    from_layer: str


class BegunOut(Schema):
    """An attempt that is printing. ``change``: what is to be changed on the way; ``due``: now."""

    id: int
    setup_id: int
    machine: str
    what: str
    revision: str
    file_id: int | None
    trials: list[BegunTrialOut]
    started_at: datetime
    change: str
    remind_at: datetime | None
    due: bool


class BegunsOut(Schema):
    """All attempts that are printing."""

    begun: list[BegunOut]


class AttemptFormOut(Schema):
    """What an attempt is written down with: parts, the newest first; the last one of this setup; signs; settings.

    ``trials``: what is still set for a trial. ``planned``: next of a series of the last part. ``files``: checked last.
    ``begun``: what is printing.
    """

    setup: SetupOut
    signs: list[ScaleOut]
    counts: list[CountOut]
    parts: list[str]
    what: str
    revision: str
    settings: list[SettingOut]
    trials: list[TrialOut]
    planned: PlannedOut | None
    files: list[CheckedFileOut]
    begun: BegunOut | None


class PrintsOut(Schema):
    """Attempts on a setup. ``qualified``: how far it can be relied on since something was set last."""

    setup: SetupOut
    qualified: str
    prints: list[PrintOut]


class ChangedOut(Schema):
    """Something that differs between two attempts; ``before`` is empty for what was done in between."""

    name: str
    before: str
    after: str


class SinceOut(Schema):
    """What changed since the same part was printed last; ``before`` is empty where it was not."""

    before: str
    changed: list[ChangedOut]
    said: str


class TrialEndIn(Schema):
    """What becomes of a setting after its trial; ``note``: why a number that is asked about is meant."""

    how: Literal["put_back", "kept"]
    note: Note = ""


class LookAgainOut(Schema):
    """Something of an attempt that shows only later; ``outcome`` None: nobody has looked yet."""

    id: int
    print_id: int
    what: str
    at_what: str
    due_at: datetime
    due: bool
    outcome: Literal["good", "bad"] | None
    note: str
    said: str


class LookAgainIn(Schema):
    """What to look at again, and in how many days."""

    at_what: Annotated[str, StringConstraints(max_length=200)]
    days: Typed


class LookedIn(Schema):
    """What was found when somebody looked again."""

    outcome: Literal["good", "bad"]
    note: Note = ""


class PrintPhotoOut(Schema):
    """A photograph of an attempt."""

    id: int
    width: int
    height: int
    note: str
    person: str
    at: datetime


class PrintPhotosOut(Schema):
    """Photographs of an attempt."""

    photos: list[PrintPhotoOut]


class LooksOut(Schema):
    """What of an attempt is looked at again."""

    looks: list[LookAgainOut]


class TrialsOut(Schema):
    """What is still set for a trial on a setup."""

    trials: list[TrialOut]


class DroppedOut(Schema):
    """A plan that was dropped."""

    id: int


class AttemptOut(Schema):
    """One attempt among all of its part; ``number``: counted from the first one."""

    id: int
    number: int
    setup_id: int
    setup: str
    outcome: Outcome
    said: str
    note: str
    person: str
    happened_at: datetime
    photos: list[PrintPhotoOut]


class AttemptCellOut(Schema):
    """What one attempt had; ``changed``: the attempt before had something else."""

    text: str
    changed: bool


class AttemptRowOut(Schema):
    """A sign, a setting or a part of the setup over all attempts, in their order."""

    name: str
    of: Literal["sign", "setting", "around"]
    cells: list[AttemptCellOut]


class FactorOut(Schema):
    """What one setting did over a whole series, with its 95 %; ``low`` to ``high`` on the scale that is judged."""

    name: str
    effect: float
    low: float
    high: float
    verdict: Literal["probably_helped", "probably_hurt", "cannot_tell"]
    said: str


class PlanPlaceOut(Schema):
    """One print of a planned series: what it gets, and the attempt that was made of it."""

    text: str
    print_id: int | None
    rating: str


class SeriesPlanOut(Schema):
    """A planned series; ``said``: what it tells, or how many prints are missing."""

    id: int
    name: str
    places: list[PlanPlaceOut]
    said: list[str]


class PartFactsIn(Schema):
    """What is known of a part."""

    purpose: Annotated[str, StringConstraints(max_length=40)] = ""
    file: Annotated[str, StringConstraints(max_length=200)] = ""
    grams: Typed = ""
    height_mm: Typed = ""


class PartFactsOut(Schema):
    """What is known of a part, as it was typed last."""

    purpose: str
    file: str
    grams: str
    height_mm: str


class AttemptsOut(Schema):
    """All attempts at a part, the first one first: side by side, what differs, what it did, and what to print next.

    ``sign``: what is judged; ``""`` whether it works. ``series``: one sentence on the whole of it. ``machines``: why
    the same part has other numbers elsewhere. ``sums``, ``times``: what it costs, and takes with other lines. ``smaller``:
    the smallest piece that answers what is judged.
    """

    what: str
    facts: PartFactsOut
    sign: str
    signs: list[FormOptionOut]
    attempts: list[AttemptOut]
    rows: list[AttemptRowOut]
    factors: list[FactorOut]
    series: str
    next: str
    qualified: str
    machines: list[str]
    trials: list[TrialOut]
    looks: list[LookAgainOut]
    plan: SeriesPlanOut | None
    settings: list[SettingOut]
    sums: list[str]
    times: list[str]
    smaller: str


class PlanIn(Schema):
    """A series to print: ``design`` *one* for one setting with three to six numbers, else two numbers for each setting."""

    design: Literal["one", "3in4", "3in8"]
    kinds: list[Kind] = Field(max_length=3)
    typed: list[Annotated[str, StringConstraints(max_length=120)]] = Field(max_length=3)


class AttemptLineOut(Schema):
    """An attempt in the margin of the bench."""

    id: int
    number: int
    said: str
    happened_at: datetime


class OpenPartOut(Schema):
    """The part that was printed last on a setup, with its last attempts, the newest first."""

    print_id: int
    what: str
    attempts: list[AttemptLineOut]


class MarginAttemptsOut(Schema):
    """What of attempts is open on a setup: the part, what to put back, and what is to be looked at again."""

    part: OpenPartOut | None
    trials: list[TrialOut]
    looks: list[LookAgainOut]
