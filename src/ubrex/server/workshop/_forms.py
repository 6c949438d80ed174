"""Forms of the records: what each field is, how far it may lie, and why. Screens draw them; nothing is checked elsewhere."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Final

from ubrex.core.chain import Grade, Step
from ubrex.core.errors import UnreadableEntry
from ubrex.core.gcode import Heat, HeatCap, MachineLimits, RefusedFile, Volume, fill_block
from ubrex.core.materials import FAMILIES, LINED_LIMIT_C, UNSTATED_BED_C, UNSTATED_NOZZLE_C, Liner, read_hardness
from ubrex.core.quantity import MOST_ERROR, USUAL_STEP, ToolKind, Unit, parse_entry, usual_error
from ubrex.server.desk import FieldProblem, TypedFields
from ubrex.server.store.records import Entered, Filament, Hotend, Instrument, Machine, Nozzle, Record, Spool, Surface
from ubrex.server.views.forms import FieldKind, FieldOut, FormOptionOut
from ubrex.server.views.records import RecordKind
from ubrex.server.words import forms as words
from ubrex.server.words.forms import TOOL_NAMES, USUAL_PLACES
from ubrex.server.words.machine import Keeping
from ubrex.server.words.numbers import plain, unit_text
from ubrex.server.words.standing import STEP_NAMES


@dataclass(frozen=True, slots=True, kw_only=True)
class FormField:
    """One field. Numbers have bounds and their reason; ``needed``: it must not be empty.

    ``sets``: what other fields are filled with once one of its options is chosen.
    """

    name: str
    label: str
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


def _number(name: str, label: str, unit: Unit | None, low: float, high: float, why: str, **more: Any) -> FormField:
    return FormField(name=name, label=label, kind="number", unit=unit, low=low, high=high, why=why, **more)


def _check(name: str, label: str, **more: Any) -> FormField:
    return FormField(name=name, label=label, kind="check", **more)


def _choice(name: str, label: str, options: Mapping[str, str], **more: Any) -> FormField:
    return FormField(name=name, label=label, kind="choice", options=options, **more)


_NAME: Final = FormField(name="name", label="What you call it", needed=True)
_MM: Final = Unit.MM
_C: Final = Unit.CELSIUS

_MAY_LACK: Final = (Step.HEAT, Step.E_STEPS, Step.LEVEL, Step.Z_OFFSET, Step.FLOW, Step.PRESSURE)


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
    RecordKind.MACHINE: RecordForm(
        model=Machine,
        noun="machine",
        judge=_judge_machine,
        fields=(
            FormField(name="name", label="What you call it", needed=True, group="Machine"),
            _choice(
                "kinematics", "How it moves",
                {"moving_bed": "The bed moves to and fro", "still_bed": "The bed moves only up and down",
                 "other": "Otherwise"},
            ),
            _number("width_mm", "Width it prints", _MM, 20, 3000, "beds are 20 to 3000 mm wide"),
            _number("depth_mm", "Depth it prints", _MM, 20, 3000, "beds are 20 to 3000 mm deep"),
            _number("height_mm", "Height it prints", _MM, 20, 3000, "machines print 20 to 3000 mm high"),
            _check("can_pause", "It can pause in the middle of a print"),
            _choice("enclosure", "Round the print", {"none": "Open", "passive": "Enclosed", "heated": "Heated chamber"},
                    group="Heat"),
            _number("bed_max_c", "Maker's limit of the bed", _C, 30, 200, "beds are stated for 30 to 200 °C"),
            _number("chamber_max_c", "Limit of the chamber", _C, 20, 120, "chambers are stated for 20 to 120 °C"),
            _choice(
                "runaway", "If its temperature sensor fails, does it stop heating?",
                {"unknown": "Nobody knows", "maker_says": "The maker says so", "tested": "Yes, tested as the maker says"},
                hint="While nobody knows, nothing that heats is offered.",
            ),
            FormField(name="runaway_note", label="Where that is written, or how it was tested"),
            _choice("feed_path", "How filament is fed",
                    {"direct": "Direct: on the hotend", "bowden": "Bowden: through a tube"}, group="Feed and settings"),
            _number("tube_mm", "Length of the tube", _MM, 0, 3000, "tubes are up to 3000 mm long"),
            _check("bypass_for_soft", "Soft filament has to bypass a feeder"),
            _choice(
                "keeps_setting", "How it keeps its e-steps",
                {
                    Keeping.COMMAND_PAIR.value: "By command, then saved",
                    Keeping.TURN_IN_FILE.value: "In a file, mm per motor turn",
                    Keeping.MENU.value: "Only in its own menu",
                },
                sets={keeping.value: {"setting_places": str(places)} for keeping, places in USUAL_PLACES.items()},
                hint="Decides what you are told to type. The machine's manual says it.",
            ),
            _choice("setting_places", "Decimals it keeps", {str(n): str(n) for n in range(7)}, usual="2",
                    hint="Values are rounded to what the machine can hold."),
            _check("measures_offset", "It measures its Z-offset with the nozzle itself"),
            _number("max_speed_mm_s", "Highest speed", Unit.MM_PER_S, 5, 1000, "machines move at 5 to 1000 mm/s",
                    group="Files written for it", hint="Empty: 150 mm/s."),
            _number("acceleration_mm_s2", "Acceleration, mm/s²", None, 10, 50000, "machines take 10 to 50000 mm/s²",
                    hint="For times only. Empty: 1000."),
            _check("relative_feed", "Filament is counted from move to move", usual="yes"),
            _check("centred", "Its zero is the middle of the bed"),
            FormField(name="start_block", label="Lines to run before each piece", kind="lines",
                      hint="After homing and heating. {nozzle_c}, {bed_c}, {width_mm}, {depth_mm}, {height_mm} are filled."),
            FormField(name="end_block", label="Lines to run after each piece", kind="lines",
                      hint="After heaters and fan are off."),
            FormField(name="screws", label="Where its bed screws are", hint="x y; x y; x y, in mm. Empty: none to turn."),
            _number("screw_pitch_mm", "One turn of a screw lifts", _MM, 0.2, 3, "screws climb 0.2 to 3 mm a turn"),
            FormField(
                name="lacks", label="What it does not offer", kind="several",
                options={step.value: STEP_NAMES[step] for step in _MAY_LACK},
                hint="Such a row is shown as “not on this machine”, and the next one carries the load.",
            ),
        ),
    ),
    RecordKind.HOTEND: RecordForm(
        model=Hotend,
        noun="hotend",
        parent="machine",
        judge=_judge_hotend,
        fields=(
            _NAME,
            _choice(
                "liner", "Where its liner ends",
                {"unknown": "Nobody knows", "lined": "In the hot zone", "above": "Above the hot zone",
                 "all_metal": "There is none: all metal"},
            ),
            FormField(name="liner_note", label="How you know"),
            _number("max_c", "Maker's limit", _C, 150, 600, "makers state 150 to 600 °C"),
            _number("printed_parts_max_c", "Printed parts round it soften at", _C, 40, 600,
                    "printed parts soften at 40 to 600 °C"),
            _number("heater_w", "Heater power, W", Unit.G, 5, 500, "heaters have 5 to 500 W"),
            FormField(name="sensor", label="Sensor"),
            _check("sock", "It wears a sock"),
        ),
    ),
    RecordKind.NOZZLE: RecordForm(
        model=Nozzle,
        noun="nozzle",
        parent="toolhead",
        fields=(
            _number("bore_mm", "Bore", _MM, 0.1, 2.0, "nozzles have 0.1 to 2 mm", needed=True, usual="0.4"),
            _choice("material", "Material",
                    {name: name for name in ("brass", "plated", "steel", "hardened", "other")}),
        ),
    ),
    RecordKind.SURFACE: RecordForm(
        model=Surface,
        noun="build surface",
        parent="machine",
        fields=(
            _NAME,
            _choice(
                "kind", "Kind",
                {"spring_sheet": "Spring steel sheet", "glass": "Glass", "plastic_sheet": "Plastic sheet", "tape": "Tape",
                 "bare_metal": "Bare metal", "other": "Other"},
            ),
            _check("textured", "Textured"),
            _number("max_c", "Its own limit", _C, 30, 200, "sheets stand 30 to 200 °C",
                    hint="Magnets, glued foils and plastic sheets let go early."),
            _number("stack_mm", "Thickness of the whole stack", _MM, 0, 50, "stacks are up to 50 mm thick"),
            FormField(name="adhesive", label="Adhesive in use"),
            _choice("adhesive_purpose", "What it is for",
                    {"none": "No adhesive", "grip": "To grip", "release": "To release"}),
        ),
    ),
    RecordKind.FILAMENT: RecordForm(
        model=Filament,
        noun="filament",
        judge=_judge_filament,
        fields=(
            FormField(name="name", label="What you call it", needed=True, group="Filament"),
            FormField(name="maker", label="Maker"),
            _choice("family", "Family", {row.key: row.name for row in FAMILIES}),
            FormField(name="colour", label="Colour"),
            _choice("diameter_mm", "Diameter", {"1.75": "1.75 mm", "2.85": "2.85 mm"}),
            _number("density_g_cm3", "Density, g/cm³", Unit.G, 0.3, 5, "filament has 0.3 to 5 g/cm³"),
            FormField(
                name="label", label="Nozzle range on the label, °C", kind="ranges", group="Label",
                hint="Like 195-220. More rows where it depends on speed: 195-220; 210-235 from 80 mm/s.",
            ),
            _number("bed_low_c", "Bed on the label, from", _C, 0, 150, "beds hold 0 to 150 °C"),
            _number("bed_high_c", "to", _C, 0, 150, "beds hold 0 to 150 °C"),
            _number("dry_c", "Drying on the label", _C, 30, 120, "dryers hold 30 to 120 °C"),
            _number("dry_h", "for", Unit.HOURS, 0, 72, "three days dry anything"),
            FormField(name="hardness", label="Shore hardness, of a flexible", group="Kind",
                      hint="A number and its scale, off the label: 95 A, or 40 D."),
            FormField(
                name="flags", label="It is", kind="several",
                options={"filled": "filled", "abrasive": "abrasive", "glitter": "glitter", "foaming": "foaming",
                         "silky": "silky", "fast": "made for speed"},
                hint="Filled and abrasive ones want a hardened nozzle and a mask when sanded.",
            ),
        ),
    ),
    RecordKind.SPOOL: RecordForm(
        model=Spool,
        noun="spool",
        parent="filament",
        fields=(
            FormField(name="name", label="Number or mark on it", needed=True),
            _number("full_g", "Filament on it when full", Unit.G, 1, 20000, "spools hold 1 g to 20 kg", needed=True,
                    usual="1000"),
            FormField(name="stored", label="Stored how"),
        ),
    ),
    RecordKind.INSTRUMENT: RecordForm(
        model=Instrument,
        noun="measuring tool",
        fields=(
            _NAME,
            _choice("kind", "Kind", {kind.value: TOOL_NAMES[kind] for kind in USUAL_STEP},
                    sets={kind.value: {"resolution": plain(step)} for kind, step in USUAL_STEP.items()}),
            _number("resolution", "Its step", None, 0.0001, 10, "tools show steps of 0.001 to 1", needed=True, usual="0.01",
                    hint="The smallest difference its display or scale shows, in its unit."),
            _number("max_permissible_error", "Permissible error, if the maker says one", None, 0, MOST_ERROR,
                    "even a ruler is good to 1 mm",
                    hint="Left empty: three steps for a calliper, two for a scale, one for a ruler."),
        ),
        judge=_judge_instrument,
    ),
}  # fmt: skip
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

_SAFETY_FORM: Final = Form(
    fields=(
        _of(RecordKind.MACHINE, "runaway", hint=""),
        _of(RecordKind.HOTEND, "liner"),
        _of(RecordKind.MACHINE, "runaway_note", name="note"),
    )
)


def safety_fields(machine: Machine, hotend: Hotend) -> list[FieldOut]:
    """What the card *safe to tune* asks, with what is known."""
    held = {"runaway": machine.runaway, "liner": hotend.liner, "note": machine.runaway_note}
    return fields_out(_SAFETY_FORM, held)


def fields_out(form: Form, values: Mapping[str, str]) -> list[FieldOut]:
    """The fields of a form as a screen draws them, with what they hold."""
    return [
        FieldOut(
            name=row.name,
            label=row.label,
            kind=row.kind,
            unit=_unit_of(row),
            hint=row.hint,
            group=row.group,
            options=[
                FormOptionOut(value=value, text=text, sets=dict(row.sets.get(value, {})))
                for value, text in row.options.items()
            ],
            value=values[row.name],
        )
        for row in form.fields
    ]


def _unit_of(row: FormField) -> str:
    """The unit beside a field; where the label says it, none."""
    return "" if row.kind != "number" or row.unit is None or "," in row.label else unit_text(row.unit.value)


LONGEST: Final = {"lines": 4000}
"""Most characters of a field that is not a line."""

_RANGE: Final = re.compile(
    r"(?P<low>[\d.,]+)\s*[-–to]+\s*(?P<high>[\d.,]+)\s*(?P<unit>°?[CF]?)(?:\s*from\s*(?P<speed>.+))?", re.I
)

LABEL_LOW_C: Final = 120.0
LABEL_HIGH_C: Final = 450.0


def read_form(form: Form, typed: Mapping[str, str], fields: TypedFields, *, prefix: str = "") -> dict[str, Any]:
    """What a form says, by the name of its fields; problems are noted in ``fields``, their names after ``prefix``."""
    own = TypedFields()
    found = {row.name: _read_field(row, typed.get(row.name, "").strip(), own) for row in form.fields}
    if form.judge is not None and not own.any:
        form.judge(found, own)
    fields.take(own, prefix)
    return found


def form_values(form: Form, record: Record | None) -> dict[str, str]:
    """What the fields hold: a record's values as they would be typed, or what is usual."""
    if record is None:
        return {row.name: row.usual or next(iter(row.options), "") * (row.kind == "choice") for row in form.fields}
    return {row.name: _shown_field(row, getattr(record, row.name)) for row in form.fields}


def _shown_field(row: FormField, value: Any) -> str:
    if value is None:
        return ""
    if row.kind == "ranges":
        return "; ".join(
            f"{plain(one['low_c'])}-{plain(one['high_c'])}"
            + (f" from {plain(one['from_mm_s'])} mm/s" if one.get("from_mm_s") else "")
            for one in value
        )
    if row.kind == "several":
        return ",".join(value)
    if row.kind == "check":
        return "yes" if value else ""
    return plain(value) if isinstance(value, int | float) else str(value)


def _read_field(row: FormField, typed: str, fields: TypedFields) -> Any:
    match row.kind:
        case "check":
            return typed == "yes"
        case "several":
            return [one for one in typed.split(",") if one in row.options]
        case "ranges":
            return _read_ranges(row, typed, fields)
        case "choice":
            if typed not in row.options:
                fields.add(FieldProblem(row.name, "unknown", "Choose one from the list."))
                return next(iter(row.options))
            return float(typed) if row.name == "diameter_mm" else int(typed) if row.name == "setting_places" else typed
        case "number":
            if not typed and not row.needed:
                return None
            unit = row.unit or Unit.MM
            return fields.number(row.name, typed, what=row.label, low=row.low, high=row.high, why=row.why, unit=unit)
    if not typed and row.needed:
        fields.add(FieldProblem(row.name, "empty", "This is still empty."))
    longest = LONGEST.get(row.kind, 80) if row.name not in {"runaway_note", "screws"} else 200
    if len(typed) > longest:
        fields.add(FieldProblem(row.name, "too_long", f"At most {longest} characters, please."))
    return typed


def _read_ranges(row: FormField, typed: str, fields: TypedFields) -> list[dict[str, float]]:
    """Rows of a label: two temperatures, and from which speed on where the label says so."""
    found = []
    for part in filter(None, (one.strip() for one in typed.split(";"))):
        match = _RANGE.fullmatch(part)
        try:
            if match is None:
                raise UnreadableEntry("no range", text=part)
            low, high = (parse_entry(match[end] + match["unit"], Unit.CELSIUS) for end in ("low", "high"))
            speed = parse_entry(match["speed"], Unit.MM_PER_S) if match["speed"] else None
        except UnreadableEntry:
            said = f"“{part}” is not a range. Type it like 195-220, or 210-235 from 80 mm/s."
            fields.add(FieldProblem(row.name, "not_a_range", said))
            return []
        if low > high:
            fields.add(FieldProblem(row.name, "upside_down", f"{plain(low)} to {plain(high)} °C is upside down."))
            return []
        if low < LABEL_LOW_C or high > LABEL_HIGH_C:
            usual = f"labels say {plain(LABEL_LOW_C)} to {plain(LABEL_HIGH_C)}"
            said = f"{plain(low)} to {plain(high)} °C cannot be right: {usual}."
            fields.add(FieldProblem(row.name, "out_of_range", said))
            return []
        found.append({"low_c": low, "high_c": high} | ({} if speed is None else {"from_mm_s": speed}))
    return found
