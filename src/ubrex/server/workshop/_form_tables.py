"""Which fields each record of the workshop has, and what they are held to."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Final

from ubrex.core.chain import Grade
from ubrex.core.errors import UnreadableEntry
from ubrex.core.gcode import Heat, HeatCap, MachineLimits, RefusedFile, Volume, fill_block
from ubrex.core.judge import Entry
from ubrex.core.materials import LINED_LIMIT_C, UNSTATED_BED_C, UNSTATED_NOZZLE_C, Liner, read_hardness
from ubrex.core.quantity import MOST_ERROR, USUAL_STEP, ToolKind, Unit, parse_entry, usual_error
from ubrex.server.desk import FieldProblem, TypedFields
from ubrex.server.store.records import Entered, Filament, Hotend, Instrument, Machine, Nozzle, Spool, Surface
from ubrex.server.views.forms import FieldKind
from ubrex.server.views.records import RecordKind
from ubrex.server.words import forms as words
from ubrex.server.words.forms import USUAL_PLACES
from ubrex.server.words.numbers import plain
from ubrex.server.words.record_forms import ASKED, NOUNS, SIZE_HINT


@dataclass(frozen=True, slots=True, kw_only=True)
class FormField:
    """One field. Numbers have bounds and their reason; ``needed``: it must not be empty.

    ``sets``: what other fields are filled with once one of its options is chosen. ``entry``: what the judgement knows it as.
    """

    name: str
    label: str = ""
    kind: FieldKind = "text"
    unit: Unit | None = None
    low: float = 0.0
    high: float = 0.0
    why: str = ""
    options: Mapping[str, str] = field(default_factory=dict)
    sets: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    hint: str = ""
    needed: bool = False
    usual: str = ""
    group: str = ""
    entry: Entry | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Form:
    """Fields, and what has to hold between them; ``judge`` notes what does not, and fills in what follows."""

    fields: tuple[FormField, ...]
    judge: Callable[[dict[str, Any], TypedFields], None] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordForm(Form):
    """A kind of record: its table, and what it hangs on."""

    model: type[Entered]
    noun: str
    parent: str | None = None


def _text(name: str, **more: Any) -> FormField:
    return FormField(name=name, **more)


def _number(name: str, unit: Unit | None, low: float, high: float, **more: Any) -> FormField:
    return FormField(name=name, kind="number", unit=unit, low=low, high=high, **more)


def _check(name: str, **more: Any) -> FormField:
    return FormField(name=name, kind="check", **more)


def _choice(name: str, **more: Any) -> FormField:
    return FormField(name=name, kind="choice", **more)


def _form(
    kind: RecordKind,
    *,
    model: type[Entered],
    fields: tuple[FormField, ...],
    parent: str | None = None,
    judge: Callable[[dict[str, Any], TypedFields], None] | None = None,
) -> RecordForm:
    """The form of a record, each field with its words."""
    asked = ASKED[kind.value]
    worded = tuple(
        replace(
            row, label=asked[row.name].label, hint=asked[row.name].hint, why=asked[row.name].why,
            group=asked[row.name].group, options=asked[row.name].options,
            entry=_ENTRIES.get(f"{kind.value}.{row.name}"),
        )
        for row in fields
    )  # fmt: skip
    return RecordForm(model=model, noun=NOUNS[kind.value], parent=parent, judge=judge, fields=worded)


_ENTRIES: Final = {one.value: one for one in Entry}

_NAME: Final = FormField(name="name", needed=True)

_MM: Final = Unit.MM

_C: Final = Unit.CELSIUS


def _judge_hotend(values: dict[str, Any], fields: TypedFields) -> None:
    limit = values["max_c"]
    if values["liner"] == Liner.LINED.value and limit is not None and limit > LINED_LIMIT_C:
        fields.add(FieldProblem("max_c", "above_liner", words.above_liner_said()))


def _judge_machine(values: dict[str, Any], fields: TypedFields) -> None:
    if values["chamber_max_c"] is not None and values["enclosure"] != "heated":
        fields.add(FieldProblem("chamber_max_c", "no_heated_chamber", "Only a heated chamber has a limit of its own."))
    if values["runaway"] == Grade.MAKER_SAYS.value and not values["runaway_note"]:
        fields.add(FieldProblem("runaway_note", "empty", "Say where the maker says so: a page, a line of the papers."))
    try:
        screw_places(values["screws"])
    except UnreadableEntry:
        said = f"“{values['screws']}” is no list of places. Type x and y of each, in mm: 20 20; 200 20; 110 200."
        fields.add(FieldProblem("screws", "not_places", said))
    sizes = [values[name] for name in ("width_mm", "depth_mm", "height_mm")]
    if None in sizes:
        return
    width, depth, height = sizes
    limits = MachineLimits(
        volume=Volume(width_mm=width, depth_mm=depth, height_mm=height, centred=values["centred"]),
        nozzle=HeatCap(max_c=HOTTEST_C, why="hotter than any filament needs"),
        bed=HeatCap(max_c=values["bed_max_c"] or HOTTEST_C, why="the stated maximum of the bed"),
        feeds_from_c=0, melt_mm3_s=0, retraction_mm=0,
    )  # fmt: skip
    for name in ("start_block", "end_block"):
        try:
            fill_block(values[name].splitlines(), Heat(nozzle_c=0, bed_c=0), limits)
        except RefusedFile as error:
            fields.add(FieldProblem(name, error.breach.value, f"{str(error)[:1].upper()}{str(error)[1:]}."))


HOTTEST_C: Final = 500.0


def screw_places(text: str) -> list[tuple[float, float]]:
    """Places of the bed screws [mm] as they are typed.

    Raises
    ------
    UnreadableEntry
        If one of them is not two numbers.
    """
    places = []
    for part in filter(None, (one.strip() for one in text.split(";"))):
        numbers = part.replace(",", ".").split()
        if len(numbers) != 2:
            raise UnreadableEntry("a place is two numbers", text=part)
        places.append((parse_entry(numbers[0], Unit.MM), parse_entry(numbers[1], Unit.MM)))
    return places


def _judge_instrument(values: dict[str, Any], fields: TypedFields) -> None:
    if values["max_permissible_error"] is None:
        values["max_permissible_error"] = usual_error(ToolKind(values["kind"]), values["resolution"])
    if values["max_permissible_error"] is None:
        fields.add(FieldProblem("max_permissible_error", "empty", words.COARSE_TOOL))


def _judge_filament(values: dict[str, Any], fields: TypedFields) -> None:
    try:
        read_hardness(values["hardness"])
    except UnreadableEntry:
        fields.add(FieldProblem("hardness", "no_hardness", words.no_hardness_said(values["hardness"])))
    low, high = values["bed_low_c"], values["bed_high_c"]
    if (low is None) != (high is None):
        fields.add(FieldProblem("bed_high_c", "half", "Type both ends of the label's bed range, or neither."))
    elif low is not None and low > high:
        fields.add(FieldProblem("bed_high_c", "upside_down", f"{plain(low)} to {plain(high)} °C is upside down."))


FORMS: Final[Mapping[RecordKind, RecordForm]] = {
    RecordKind.MACHINE: _form(
        RecordKind.MACHINE,
        model=Machine,
        judge=_judge_machine,
        fields=(
            _text("name", needed=True),
            _choice("kinematics"),
            _number("width_mm", _MM, 20, 3000),
            _number("depth_mm", _MM, 20, 3000),
            _number("height_mm", _MM, 20, 3000),
            _check("can_pause"),
            _choice("enclosure"),
            _number("bed_max_c", _C, 30, 200),
            _number("chamber_max_c", _C, 20, 120),
            _choice("runaway"),
            _text("runaway_note"),
            _choice("feed_path"),
            _number("tube_mm", _MM, 0, 3000),
            _check("bypass_for_soft"),
            _choice(
                "keeps_setting",
                sets={keeping.value: {"setting_places": str(places)} for keeping, places in USUAL_PLACES.items()},
            ),
            _choice("setting_places", usual="2"),
            _check("measures_offset"),
            _number("max_speed_mm_s", Unit.MM_PER_S, 5, 1000),
            _number("acceleration_mm_s2", None, 10, 50000),
            _check("relative_feed", usual="yes"),
            _check("centred"),
            _text("start_block", kind="lines"),
            _text("end_block", kind="lines"),
            _text("screws"),
            _number("screw_pitch_mm", _MM, 0.2, 3),
            _text("lacks", kind="several"),
        ),
    ),
    RecordKind.HOTEND: _form(
        RecordKind.HOTEND,
        model=Hotend,
        parent="machine",
        judge=_judge_hotend,
        fields=(
            _NAME,
            _choice("liner"),
            _text("liner_note"),
            _number("max_c", _C, 150, 600),
            _number("printed_parts_max_c", _C, 40, 600),
            _number("heater_w", None, 5, 500),
            _text("sensor"),
            _check("sock"),
        ),
    ),
    RecordKind.NOZZLE: _form(
        RecordKind.NOZZLE,
        model=Nozzle,
        parent="toolhead",
        fields=(
            _number("bore_mm", _MM, 0.1, 2.0, needed=True, usual="0.4"),
            _choice("material"),
        ),
    ),
    RecordKind.SURFACE: _form(
        RecordKind.SURFACE,
        model=Surface,
        parent="machine",
        fields=(
            _NAME,
            _choice("kind"),
            _check("textured"),
            _number("max_c", _C, 30, 200),
            _number("stack_mm", _MM, 0, 50),
            _text("adhesive"),
            _choice("adhesive_purpose"),
        ),
    ),
    RecordKind.FILAMENT: _form(
        RecordKind.FILAMENT,
        model=Filament,
        judge=_judge_filament,
        fields=(
            _text("name", needed=True),
            _text("maker"),
            _choice("family"),
            _text("colour"),
            _choice("diameter_mm"),
            _number("density_g_cm3", None, 0.3, 5),
            _text("label", kind="ranges"),
            _number("bed_low_c", _C, 0, 150),
            _number("bed_high_c", _C, 0, 150),
            _number("dry_c", _C, 30, 120),
            _number("dry_h", Unit.HOURS, 0, 72),
            _text("hardness"),
            _text("flags", kind="several"),
        ),
    ),
    RecordKind.SPOOL: _form(
        RecordKind.SPOOL,
        model=Spool,
        parent="filament",
        fields=(
            _text("name", needed=True),
            _number("full_g", Unit.G, 1, 20000, needed=True, usual="1000"),
            _number("price", None, 0.01, 100_000),
            _text("stored"),
        ),
    ),
    RecordKind.INSTRUMENT: _form(
        RecordKind.INSTRUMENT,
        model=Instrument,
        judge=_judge_instrument,
        fields=(
            _NAME,
            _choice("kind", sets={kind.value: {"resolution": plain(step)} for kind, step in USUAL_STEP.items()}),
            _number("resolution", None, 0.0001, 10, needed=True, usual="0.01"),
            _number("max_permissible_error", None, 0, MOST_ERROR),
        ),
    ),
}
"""Every kind of record a person enters."""


def _of(kind: RecordKind, column: str, **other: Any) -> FormField:
    """A field of a record, as another form asks for it."""
    return replace(next(row for row in FORMS[kind].fields if row.name == column), **other)


SETUP_FORM: Final = Form(
    fields=(
        _of(RecordKind.MACHINE, "name", name="machine", group="Machine"),
        _of(RecordKind.MACHINE, "feed_path", group=""),
        _of(RecordKind.MACHINE, "keeps_setting"),
        _of(RecordKind.MACHINE, "setting_places"),
        _of(RecordKind.MACHINE, "runaway"),
        _of(
            RecordKind.HOTEND, "liner", label="Where the hotend's liner ends", group="Hotend and nozzle",
            hint=f"One that reaches into the hot zone: never above {plain(LINED_LIMIT_C)} °C.",
        ),
        _of(
            RecordKind.HOTEND, "max_c", name="hotend_max", label="Maker's limit of the hotend, if you know it",
            hint=f"Left empty: never above {plain(UNSTATED_NOZZLE_C)} °C.",
        ),
        _of(
            RecordKind.MACHINE, "bed_max_c", name="bed_max", label="Maker's limit of the bed, if you know it",
            hint=f"Left empty: never above {plain(UNSTATED_BED_C)} °C.",
        ),
        _of(RecordKind.NOZZLE, "bore_mm", name="bore", label="Nozzle bore", hint="0.4 is what most machines come with."),
        _of(RecordKind.NOZZLE, "material", name="nozzle_material", label="Nozzle material"),
        _of(
            RecordKind.SURFACE, "name", name="surface", label="Build surface, if you like", needed=False,
            hint="Z-offset and bed temperature belong to it.",
        ),
        _of(
            RecordKind.FILAMENT, "name", name="filament", label="Maker, kind and colour", group="Filament",
        ),
        _of(
            RecordKind.FILAMENT, "family", label="Family", usual="pla",
            hint="Gives the temperature for feeding; the spool's label wins.",
        ),
    ),
)  # fmt: skip
"""A setup in one go: machine, hotend, nozzle, surface and filament."""

_SIZE_FORM: Final = Form(
    fields=(
        _of(RecordKind.MACHINE, "width_mm", needed=True, hint=SIZE_HINT),
        _of(RecordKind.MACHINE, "depth_mm", needed=True),
        _of(RecordKind.MACHINE, "height_mm", needed=True),
    )
)
"""How large a machine prints, asked where it is needed."""

_SAFETY_FORM: Final = Form(
    fields=(
        _of(RecordKind.MACHINE, "runaway", hint=""),
        _of(RecordKind.HOTEND, "liner"),
        _of(RecordKind.MACHINE, "runaway_note", name="note"),
    )
)

LABEL_LOW_C: Final = 120.0

LABEL_HIGH_C: Final = 450.0
