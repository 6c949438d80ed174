"""The wire: people, measuring tools, setups, the room, and what went wrong."""

from __future__ import annotations

from typing import Annotated, Literal, TypeAlias

from pydantic import Field, StringConstraints

from ubrex.core.chain import Grade, Purpose
from ubrex.core.materials import Liner
from ubrex.core.quantity import ToolKind
from ubrex.server.views.base import Name, Schema, Typed
from ubrex.server.words.machine import Keeping


class PersonIn(Schema):
    name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)]


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


MeasuringKind: TypeAlias = Literal[
    ToolKind.CALLIPER, ToolKind.MICROMETER, ToolKind.RULER, ToolKind.SCALE, ToolKind.THERMOMETER
]
"""What can be added as a measuring tool; eyes and fingers are there by themselves."""


class InstrumentIn(Schema):
    name: Name
    kind: MeasuringKind
    step: Typed
    permissible_error: Typed = ""


class InstrumentOut(Schema):
    id: int
    name: str
    kind: ToolKind
    unit: str
    detail: str
    zero_checked: str | None


class SetupIn(Schema):
    """What the first-setup form holds of machine, hotend, nozzle, surface and filament."""

    machine: Name
    feed_path: Literal["direct", "remote"]
    keeps_setting: Keeping
    setting_places: Annotated[int, Field(ge=0, le=6)] = 2
    runaway: Grade = Grade.UNKNOWN
    liner: Liner
    hotend_max: Typed = ""
    bore: Typed
    nozzle_material: Literal["brass", "plated", "steel", "hardened", "other"] = "brass"
    surface: Name = ""
    filament: Name
    family: str


class FirstSetupIn(Schema):
    workshop: Name = ""
    setup: SetupIn
    instrument: InstrumentIn
    person: PersonIn


class FirstSetupOut(Schema):
    setup_id: int
    person: PersonOut


class FamilyOut(Schema):
    key: str
    name: str


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


class RoomOut(Schema):
    sentence: str
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


class FieldOut(Schema):
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
    fields: list[FieldOut] = []
