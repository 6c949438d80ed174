"""Forms of the records: what each field is, how far it may lie, and why. Screens draw them; nothing is checked elsewhere."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from typing import Any, Final

from ubrex.core.errors import UnreadableEntry
from ubrex.core.judge import Finding, judge_entered
from ubrex.core.quantity import Unit, parse_entry
from ubrex.server.desk import FieldProblem, TypedFields
from ubrex.server.store.records import Hotend, Machine, Record
from ubrex.server.views.base import on_one_line
from ubrex.server.views.forms import FieldOut, FormOptionOut
from ubrex.server.words.glossary import WORDS_OF_FIELDS
from ubrex.server.words.judgement import entered_said
from ubrex.server.words.numbers import plain, unit_text
from ubrex.server.workshop._form_tables import _SAFETY_FORM, _SIZE_FORM, LABEL_HIGH_C, LABEL_LOW_C, Form, FormField


def size_fields(machine: Machine) -> list[FieldOut]:
    """What is asked of a machine before anything is drawn for it; nothing where somebody has said how large it prints."""
    held = {row.name: getattr(machine, row.name) for row in _SIZE_FORM.fields}
    return fields_out(_SIZE_FORM, dict.fromkeys(held, "")) if None in held.values() else []


def read_size(machine: Machine, typed: Mapping[str, str], fields: TypedFields, as_typed: Collection[str]) -> None:
    """Give a machine the size that was typed for it, without keeping it; problems are noted in ``fields``."""
    for name, number in read_form(_SIZE_FORM, typed, fields, as_typed=as_typed).items():
        setattr(machine, name, number)


def keep_size(machine: Machine) -> None:
    """Keep the size a machine was given."""
    size = {row.name: getattr(machine, row.name) for row in _SIZE_FORM.fields}
    Machine.update(**size, version=Machine.version + 1).where(Machine.id == machine.id).execute()


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
            needed=row.needed,
            word=WORDS_OF_FIELDS.get(row.name, ""),
        )
        for row in form.fields
    ]


def _unit_of(row: FormField) -> str:
    """The unit beside a field; where the label says it, none."""
    return "" if row.kind != "number" or row.unit is None else unit_text(row.unit.value)


LONGEST: Final = {"lines": 4000}
"""Most characters of a field that is not a line."""

_RANGE: Final = re.compile(
    r"(?P<low>[\d.,]+)\s*[-–to]+\s*(?P<high>[\d.,]+)\s*(?P<unit>°?[CF]?)(?:\s*from\s*(?P<speed>.+))?", re.I
)


def read_form(
    form: Form,
    typed: Mapping[str, str],
    fields: TypedFields,
    *,
    prefix: str = "",
    before: Record | None = None,
    as_typed: Collection[str] | None = None,
) -> dict[str, Any]:
    """What a form says, by the name of its fields; problems are noted in ``fields``, their names after ``prefix``.

    ``before``: the record that it changes. ``as_typed``: fields that were asked about and are right as they stand; None
    where nobody is there to be asked.
    """
    own = TypedFields()
    found = {row.name: _read_field(row, _typed_in(row, typed), own) for row in form.fields}
    if form.judge is not None and not own.any:
        form.judge(found, own)
    fields.take(own, prefix)
    if as_typed is not None:
        _ask_entered(form, found, fields, prefix, before, as_typed)
    return found


def _ask_entered(
    form: Form,
    found: Mapping[str, Any],
    fields: TypedFields,
    prefix: str,
    before: Record | None,
    as_typed: Collection[str],
) -> None:
    """Ask about each number that looks slipped."""
    for row in form.fields:
        field, number = f"{prefix}{row.name}", found[row.name]
        if row.entry is not None and number is not None and not fields.has(field) and field not in as_typed:
            was = None if before is None else getattr(before, row.name)
            ask(judge_entered(row.entry, number, was), field, _unit_of(row) or row.label.partition(", ")[2], fields)


def ask(one: Finding | None, field: str, unit: str, fields: TypedFields, kin: str = "") -> None:
    """Ask about a number that looks slipped, at its field; ``kin``: the family that it does not look like."""
    if one is not None:
        meant = None if one.fits is None else plain(one.fits)
        said = entered_said(one, unit, kin)
        fields.add(FieldProblem(field, one.code.value, said, suggested=meant, confirmable=True))


def _typed_in(row: FormField, typed: Mapping[str, str]) -> str:
    """What stands in a field; only a field of lines has line ends: a name with one would end a remark in a file."""
    text = typed.get(row.name, "")
    return text.strip() if row.kind == "lines" else on_one_line(text)


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
