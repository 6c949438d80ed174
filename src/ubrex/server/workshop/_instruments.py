"""Measuring tools: what they read in, their step, their permissible error, and when their zero was checked."""

from __future__ import annotations

from typing import Final

from ubrex.core.quantity import ToolKind, Unit
from ubrex.server.desk import FieldProblem, TypedFields, Work, find
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Instrument
from ubrex.server.views.forms import Answers
from ubrex.server.views.records import RecordKind
from ubrex.server.views.workshop import InstrumentOut
from ubrex.server.words import tools as words
from ubrex.server.words.forms import name_taken_said
from ubrex.server.words.numbers import unit_text
from ubrex.server.workshop._forms import FORMS, read_form

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
            id=instrument.id, name=instrument.name, kind=kind, unit="", detail=words.EYES_DETAIL, zero_checked=""
        )
    return InstrumentOut(
        id=instrument.id,
        name=instrument.name,
        kind=kind,
        unit=unit_text(kind.unit),
        detail=_detail(instrument),
        zero_checked=words.zero_said(None if checked is None else (work.now - checked).total_seconds() / 86400),
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


def create_instrument(typed: Answers, fields: TypedFields, *, prefix: str = "") -> Instrument:
    """A tool from its form; everything noted in ``fields`` is refused before it is kept."""
    values = read_form(FORMS[RecordKind.INSTRUMENT], typed, fields, prefix=prefix)
    if Instrument.select().where(Instrument.name == values["name"]).exists():
        fields.add(FieldProblem(f"{prefix}name", "taken", name_taken_said("tool", values["name"])))
    fields.refuse_if_any()
    instrument: Instrument = Instrument.create(**values)
    return instrument


def add_instrument(work: Work, typed: Answers) -> InstrumentOut:
    """A tool added to the workshop."""
    work.person()
    return instrument_out(create_instrument(typed, TypedFields()), work)


def check_zero(work: Work, instrument_id: int) -> InstrumentOut:
    """The zero of a tool was checked just now."""
    work.person()
    instrument = find(Instrument, instrument_id, "measuring tool")
    instrument.zero_checked_at = work.now
    instrument.save()
    return instrument_out(instrument, work)
