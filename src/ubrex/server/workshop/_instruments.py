"""Measuring tools: what they read in, their step, their permissible error, and when their zero was checked."""

from __future__ import annotations

from typing import Final

from ubrex.core.quantity import ToolKind
from ubrex.server.desk import FieldProblem, TypedFields, Work, find
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Instrument
from ubrex.server.views.workshop import InstrumentIn, InstrumentOut
from ubrex.server.words.numbers import ago, plain, plus_minus, unit_text

USUAL_ERROR_STEPS: Final = {
    ToolKind.CALLIPER: 3.0,
    ToolKind.MICROMETER: 4.0,
    ToolKind.RULER: 1.0,
    ToolKind.SCALE: 2.0,
    ToolKind.THERMOMETER: 20.0,
    ToolKind.EYES: 1.0,
}
"""Permissible error in steps where the maker says none: usual for hobby tools; the one typed wins."""

MOST_ERROR: Final = 10.0
"""Largest permissible error of any tool, in its unit."""

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
            id=instrument.id, name=instrument.name, kind=kind, unit="", detail="ratings of 0 to 4", zero_checked=None
        )
    return InstrumentOut(
        id=instrument.id,
        name=instrument.name,
        kind=kind,
        unit=unit_text(kind.unit),
        detail=f"{plain(instrument.resolution)} {unit_text(kind.unit)} step, {plus_minus(instrument.max_permissible_error)}",
        zero_checked=None if checked is None else f"zero checked {ago((work.now - checked).total_seconds() / 86400)}",
    )


def all_instruments(work: Work) -> list[InstrumentOut]:
    """Every tool, by name."""
    return [instrument_out(row, work) for row in _ALL.rows()]


def create_instrument(form: InstrumentIn, fields: TypedFields, *, prefix: str = "") -> Instrument:
    """A tool from its form; the caller asks ``fields`` whether anything was wrong before this is kept."""
    unit = form.kind.unit
    name = fields.text(f"{prefix}name", form.name, what="The name of the tool")
    step = fields.number(
        f"{prefix}step",
        form.step,
        what="The step",
        low=0.0001,
        high=10,
        why="tools show steps of 0.001 to 1",
        unit=unit,
    )
    error = USUAL_ERROR_STEPS[form.kind] * step
    if form.permissible_error.strip():
        error = fields.number(
            f"{prefix}permissible_error",
            form.permissible_error,
            what="The permissible error",
            low=0,
            high=MOST_ERROR,
            why="even a ruler is good to 1 mm",
            unit=unit,
        )
    elif error > MOST_ERROR:
        said = "With a step this coarse nothing is usual: type the permissible error that the maker states."
        fields.add(FieldProblem(f"{prefix}permissible_error", "empty", said))
    if name and Instrument.select().where(Instrument.name == name).exists():
        fields.add(FieldProblem(f"{prefix}name", "taken", f"There is a tool named {name} already."))
    fields.refuse_if_any()
    instrument: Instrument = Instrument.create(
        name=name, kind=form.kind.value, resolution=step, max_permissible_error=error
    )
    return instrument


def add_instrument(work: Work, form: InstrumentIn) -> InstrumentOut:
    """A tool added to the workshop."""
    work.person()
    return instrument_out(create_instrument(form, TypedFields()), work)


def check_zero(work: Work, instrument_id: int) -> InstrumentOut:
    """The zero of a tool was checked just now."""
    work.person()
    instrument = find(Instrument, instrument_id, "measuring tool")
    instrument.zero_checked_at = work.now
    instrument.save()
    return instrument_out(instrument, work)
