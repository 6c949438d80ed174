"""Measuring tools: what they read in, their step, their permissible error, and when their zero was checked."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from datetime import datetime, timedelta
from typing import Any, Final

from ubrex.core.judge import judge_tool
from ubrex.core.quantity import MOST_ZERO_MM, ZERO_HOLDS_HOURS, ToolKind, Unit, zero_error
from ubrex.server.desk import Clash, FieldProblem, TypedFields, Work, find
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Instrument, Record, ZeroCheck
from ubrex.server.views.forms import Answers
from ubrex.server.views.records import RecordIn, RecordKind
from ubrex.server.views.workshop import InstrumentOut, ZeroIn
from ubrex.server.words import tools as words
from ubrex.server.words.forms import name_taken_said
from ubrex.server.words.numbers import unit_text
from ubrex.server.words.readings import zero_why
from ubrex.server.workshop._form_tables import FORMS
from ubrex.server.workshop._forms import ask, read_form

CLOSES: Final = (ToolKind.CALLIPER, ToolKind.MICROMETER)
"""What has jaws to close, or to close on something."""

MOST_KNOWN_MM: Final = 25.0
"""The largest size that tells anything of thin ones."""

_ALL: Final[Prepared[Instrument]] = Prepared(
    lambda: (
        Instrument.select()
        .where(Instrument.retired_at.is_null(), Instrument.kind != ToolKind.EYES.value)
        .order_by(Instrument.name)
    )
)


def instrument_out(instrument: Instrument, work: Work) -> InstrumentOut:
    """An instrument as a screen shows it."""
    kind = ToolKind(instrument.kind)
    checked = instrument.zero_checked_at
    if kind is ToolKind.EYES:
        return InstrumentOut(
            id=instrument.id,
            name=instrument.name,
            kind=kind,
            unit="",
            detail=words.EYES_DETAIL,
            zero_checked="",
            closes=False,
            sees_mm=0.0,
        )
    return InstrumentOut(
        id=instrument.id,
        name=instrument.name,
        kind=kind,
        unit=unit_text(kind.unit),
        detail=_detail(instrument),
        zero_checked=words.zero_said(
            None if checked is None else (work.now - checked).total_seconds() / 86400, instrument.zero_off_mm
        )
        if kind in CLOSES
        else "",
        closes=kind in CLOSES,
        sees_mm=instrument.max_permissible_error,
    )


def _detail(instrument: Instrument) -> str:
    unit = unit_text(ToolKind(instrument.kind).unit)
    return words.tool_said(instrument.resolution, instrument.max_permissible_error, unit)


def all_instruments(work: Work) -> list[InstrumentOut]:
    """Every tool, by name."""
    return [instrument_out(row, work) for row in _ALL.rows()]


def length_tools() -> dict[str, str]:
    """Tools that read a length, by name: their ids, and what a choice says of them."""
    rows = (row for row in _ALL.rows() if ToolKind(row.kind).unit is Unit.MM)
    return {str(row.id): f"{row.name}, {_detail(row)}" for row in rows}


def scale_on_record(step_g: float) -> bool:
    """Whether there is a scale that shows steps as fine as that [g]."""
    return any(row.kind == ToolKind.SCALE.value and row.resolution <= step_g for row in _ALL.rows())


def create_instrument(
    typed: Answers, fields: TypedFields, *, prefix: str = "", as_typed: Collection[str] = ()
) -> Instrument:
    """A tool from its form; everything noted in ``fields`` is refused before it is kept."""
    values = read_form(FORMS[RecordKind.INSTRUMENT], typed, fields, prefix=prefix)
    if Instrument.select().where(Instrument.name == values["name"]).exists():
        fields.add(FieldProblem(f"{prefix}name", "taken", name_taken_said("tool", values["name"])))
    ask_tool(values, None, as_typed, fields, prefix=prefix)
    fields.refuse_if_any()
    instrument: Instrument = Instrument.create(**values)
    return instrument


def ask_tool(
    values: Mapping[str, Any],
    before: Record | None,
    as_typed: Collection[str],
    fields: TypedFields,
    *,
    prefix: str = "",
) -> None:
    """Ask about a tool that does not look like its kind; not again about what stood there ``before``."""
    kind = ToolKind(values["kind"])
    if fields.any:
        return
    for name, one in judge_tool(kind, values["resolution"], values["max_permissible_error"]).items():
        kept = before is not None and all(getattr(before, part) == values[part] for part in (name, "kind"))
        if not kept and f"{prefix}{name}" not in as_typed:
            ask(one, f"{prefix}{name}", unit_text(kind.unit), fields)


def add_instrument(work: Work, typed: RecordIn) -> InstrumentOut:
    """A tool added to the workshop."""
    work.person()
    return instrument_out(create_instrument(typed.values, TypedFields(), as_typed=typed.as_typed), work)


def check_zero(work: Work, instrument_id: int, form: ZeroIn) -> InstrumentOut:
    """What a tool reads on a known size, or closed: taken off what is read with it this evening, from now on."""
    person = work.person()
    instrument = find(Instrument, instrument_id, "measuring tool")
    if ToolKind(instrument.kind) not in CLOSES:
        raise Clash(words.no_jaws_said(instrument.name), code="no_jaws")
    fields = TypedFields()
    known = fields.number(
        "known", form.known.strip() or "0", what=words.KNOWN, low=0, high=MOST_KNOWN_MM, why=words.KNOWN_WHY
    )
    near, why = known or 0.0, zero_why(MOST_ZERO_MM)
    read = fields.number("read", form.read, what=words.READ, low=near - MOST_ZERO_MM, high=near + MOST_ZERO_MM, why=why)
    fields.refuse_if_any()
    assert known is not None
    assert read is not None
    ZeroCheck.create(
        instrument=instrument, typed=form.read.strip(), known_mm=known, read_mm=read, person=person, at=work.now
    )
    instrument.zero_checked_at = work.now
    instrument.zero_off_mm = round(read - known, 4)
    instrument.zero_error_mm = zero_error(known, instrument.to_core())
    instrument.save()
    return instrument_out(instrument, work)


def zero_at(instrument: Instrument, moment: datetime) -> dict[str, float | None]:
    """What is known of the zero of a tool at a moment: of a check before it, the same evening."""
    checked = instrument.zero_checked_at
    if checked is None or not timedelta() <= moment - checked <= timedelta(hours=ZERO_HOLDS_HOURS):
        return {}
    return {"zero_off_mm": instrument.zero_off_mm, "zero_error_mm": instrument.zero_error_mm}
