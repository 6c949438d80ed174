"""The values of a setup: typing them, within every limit; ticking what is in the slicing program; the safety card."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Final

from ubrex.core.chain import KINDS, Grade, Kind, Origin, Step
from ubrex.core.materials import Limit, Window, family, strictest
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.desk import Clash, FieldProblem, Refused, TypedFields, Work, find
from ubrex.server.profile._limits import beyond_retraction_cap, heat_limits, too_fast
from ubrex.server.profile._tuned import Tuned, dangers_of, tuned_of
from ubrex.server.profile._values import NewValue, lock_toolhead, newest_heat, write_values
from ubrex.server.store.facts import ValueRow
from ubrex.server.store.records import Hotend, Machine, SafetyCheck, Setup, TunedValue, TypedIn
from ubrex.server.views.forms import FieldOut
from ubrex.server.views.values import (
    SafetyIn,
    TickIn,
    TypedFormOut,
    TypedValuesIn,
)
from ubrex.server.views.workshop import SetupOut
from ubrex.server.words import typing as words
from ubrex.server.words.numbers import plain, unit_text
from ubrex.server.words.profile import WINDOWS, beyond_said, limit_said, note_needed_said, usual_said, window_said
from ubrex.server.words.standing import DANGERS, ROW_NAMES
from ubrex.server.workshop import LINER_NAMES, bounds_of, get_setup, owners, places_of, setup_out, unit_of, usable_setup

OF_LABEL: Final = "of the label"


_TYPED_WITH: Final[Mapping[Step, tuple[Step, ...]]] = {
    Step.Z_OFFSET: (Step.LEVEL, Step.Z_OFFSET),
    Step.RETRACTION: (Step.RETRACTION, Step.SEAM),
    Step.TEMPERATURE: (Step.TEMPERATURE, Step.BED),
}
"""Steps whose values are typed on one form."""

TRUE_HEAT: Final = f"{Kind.HEAT_BIAS.value}_true"
"""Field of what a heat check really found, beside what the display shows."""


def typed_form(_work: Work, setup_id: int, step: Step) -> TypedFormOut:
    """The values of one row, as a form to type them into."""
    setup = usable_setup(setup_id)
    now = tuned_of(setup)
    kinds = [kind for kind in Kind if KINDS[kind].step in _TYPED_WITH.get(step, (step,))]
    fields = [field for kind in kinds for field in _fields(now, kind)]
    return TypedFormOut(step=step, name=ROW_NAMES[step], fields=fields)


def _fields(tuned: Tuned, kind: Kind) -> list[FieldOut]:
    """The field of a value, holding what is set now; two of a heat check."""
    setup, value = tuned.setup, tuned.values.get(kind)
    machine, unit = setup.toolhead.machine, unit_text(unit_of(kind, setup.toolhead.machine).value)
    if kind is Kind.HEAT_BIAS:
        shown = None if value is None else value.beside
        true = None if value is None or shown is None else shown - value.number
        return [
            FieldOut(name=name, label=label, kind="number", unit=unit, value="" if held is None else plain(held))
            for name, label, held in ((kind.value, words.SHOWS, shown), (TRUE_HEAT, words.REALLY, true))
        ]
    limit = strictest(heat_limits(setup, kind, tuned.values.get(Kind.HEAT_BIAS)))
    offer = family_default(setup, kind, limit)
    return [
        FieldOut(
            name=kind.value,
            label=KINDS[kind].name,
            kind="number",
            unit=unit,
            value="" if value is None else decimal_text(value.number, places_of(kind, machine)),
            usual=usual_said(kind, family(setup.filament.family), setup.nozzle.bore_mm),
            offer="" if offer is None else decimal_text(offer, places_of(kind, machine)),
            hint="" if limit is None else limit_said(limit.max_c, limit.of),
        )
    ]


def type_values(work: Work, setup_id: int, form: TypedValuesIn) -> SetupOut:
    """Write values typed by hand, read off a label or usual for the family; all of them, or none if one is refused.

    What was taken as usual and then typed over counts as typed.
    """
    work.person()
    setup = usable_setup(setup_id)
    lock_toolhead(setup.toolhead_id)
    fields = TypedFields()
    typed = {name: text for name, text in form.values.items() if text.strip()}
    heat = {name: typed.pop(name) for name in (Kind.HEAT_BIAS.value, TRUE_HEAT) if name in typed}
    read = [_read(setup, name, text, form, fields) for name, text in typed.items()]
    if heat:
        read.append(_read_heat(setup, heat, form, fields))
    fields.refuse_if_any()
    new = [value for value in read if value is not None]
    if not new:
        raise Refused(FieldProblem("values", "empty", words.NOTHING_TYPED))
    write_values(work, setup, new, cause="typed", note=form.note.strip())
    return setup_out(setup)


def read_value(setup: Setup, kind: Kind, field: str, typed: str, fields: TypedFields) -> float | None:
    """A value of a setup as typed or read, within what is possible and every limit; None where it cannot be.

    What is wrong with it is said at its ``field``.
    """
    what = KINDS[kind]
    if what.step in setup.toolhead.machine.lacks:
        fields.add(FieldProblem(field, "not_on_machine", words.not_offered_said(setup.toolhead.machine.name)))
        return None
    if owners(kind, setup).get("surface", 0) is None:
        fields.add(FieldProblem(field, "no_surface", words.NO_SURFACE))
        return None
    low, high = bounds_of(kind, setup)
    unit = unit_of(kind, setup.toolhead.machine)
    number = fields.number(field, typed, what=what.name, low=low, high=high, why=what.why, unit=unit)
    if number is None:
        return None
    _judge_heat(setup, kind, number, fields, field)
    fast = too_fast(setup, kind, number)
    if fast:
        fields.add(FieldProblem(field, "too_fast", words.too_fast_said(what.name, number, fast)))
    return None if fields.has(field) else number


def _read(setup: Setup, name: str, typed: str, form: TypedValuesIn, fields: TypedFields) -> NewValue | None:
    if name not in set(Kind):
        fields.add(FieldProblem(name, "unknown", words.NO_SUCH_VALUE))
        return None
    kind = Kind(name)
    number = read_value(setup, kind, name, typed, fields)
    if number is None:
        return None
    _judge_usual(setup, kind, number, form, fields, name)
    unit = unit_of(kind, setup.toolhead.machine)
    origin = Origin(form.origin)
    if origin is Origin.FAMILY and number != family_default(setup, kind, strictest(_heat_limits(setup, kind))):
        origin = Origin.TYPED
    return NewValue(kind=kind, number=number, unit=unit, origin=origin, note=form.note.strip())


_GRAIN: Final = {Unit.CELSIUS: 5.0, Unit.PERCENT: 5.0}
"""Steps in which people set such a number; halves of anything else."""


def family_default(setup: Setup, kind: Kind, limit: Limit | None) -> float | None:
    """The middle of what is usual for the family, never beyond a limit; None where nothing is usual, or the label says."""
    row = family(setup.filament.family)
    if kind is Kind.FLOW and not row.foaming:
        return 100.0
    window, whose = label_window(setup, kind)
    if kind not in WINDOWS or (window is not None and whose == OF_LABEL):
        return None
    usual = WINDOWS[kind](row)
    if usual is None:
        return None
    grain = _GRAIN.get(KINDS[kind].unit, 0.5)
    middle = grain * math.floor((usual.low + usual.high) / 2 / grain)
    return middle if limit is None else min(middle, limit.max_c)


CHECKED_C: Final = (100.0, 450.0)
"""Temperatures at which a hotend is checked [°C]."""


def _read_heat(setup: Setup, typed: Mapping[str, str], form: TypedValuesIn, fields: TypedFields) -> NewValue | None:
    """A heat check: what the display shows, and what is really there; what was left alone of it stays as it is."""
    held = {field.name: field.value for field in _fields(tuned_of(setup), Kind.HEAT_BIAS)}
    low, high = CHECKED_C
    shown, true = (
        fields.number(
            name, typed.get(name, held[name]), what=what, low=low, high=high, why=words.CHECKED_WHY, unit=Unit.CELSIUS
        )
        for name, what in ((Kind.HEAT_BIAS.value, words.SHOWS_WHAT), (TRUE_HEAT, words.REALLY_WHAT))
    )
    if shown is None or true is None:
        return None
    what = KINDS[Kind.HEAT_BIAS]
    if abs(shown - true) > what.high:
        fields.add(FieldProblem(TRUE_HEAT, "out_of_range", f"{what.why.capitalize()}."))
        return None
    return NewValue(
        kind=Kind.HEAT_BIAS,
        number=shown - true,
        unit=Unit.CELSIUS,
        origin=Origin(form.origin),
        beside=shown,
        note=form.note.strip(),
    )


def _judge_heat(setup: Setup, kind: Kind, number: float, fields: TypedFields, field: str) -> None:
    """Refuse a temperature beyond the strictest limit of what is heated."""
    limit = strictest(_heat_limits(setup, kind))
    if limit is not None and number > limit.max_c:
        fields.add(FieldProblem(field, "too_hot", beyond_said(KINDS[kind].name, number, limit.max_c, limit.of)))


def _heat_limits(setup: Setup, kind: Kind) -> list[Limit]:
    return heat_limits(setup, kind, newest_heat(setup))


def _judge_usual(setup: Setup, kind: Kind, number: float, form: TypedValuesIn, fields: TypedFields, field: str) -> None:
    """Ask for a note where a temperature lies outside the label, or the family's window where the label is silent, and
    where a retraction is longer or faster than feed path and stiffness stand.
    """
    long = beyond_retraction_cap(setup, kind, number)
    if long and not form.note.strip():
        fields.add(FieldProblem(field, "outside_usual", words.say_why(long)))
    window, whose = label_window(setup, kind)
    if window is None or number in window or form.note.strip() or fields.has(field):
        return
    said = note_needed_said(KINDS[kind].name, f"{plain(number)} °C", f"{window_said(window, '°C')} {whose}")
    fields.add(FieldProblem(field, "outside_usual", said))


def label_window(setup: Setup, kind: Kind) -> tuple[Window | None, str]:
    """The range for a temperature: the label's where it says one, else the family's; and whose it is."""
    filament, row = setup.filament, family(setup.filament.family)
    if kind in {Kind.NOZZLE, Kind.NOZZLE_FIRST}:
        if filament.label:
            low = min(one["low_c"] for one in filament.label)
            high = max(one["high_c"] for one in filament.label)
            return Window(low=low, high=high), OF_LABEL
        return row.nozzle, f"usual for {row.name}"
    if kind in {Kind.BED, Kind.BED_FIRST}:
        if filament.bed_low_c is not None and filament.bed_high_c is not None:
            return Window(low=filament.bed_low_c, high=filament.bed_high_c), OF_LABEL
        return row.bed, f"usual for {row.name}"
    return None, ""


def tick_value(work: Work, value_id: int, form: TickIn) -> TickIn:
    """Say whether a value is in the slicing program."""
    value = find(TunedValue, value_id, "value")
    TypedIn.create(value=value, ticked=form.ticked, person=work.person(), at=work.now)
    return form


def check_safety(work: Work, setup_id: int, form: SafetyIn) -> SetupOut:
    """Go through the card *safe to tune*: what is unknown holds everything that heats."""
    person = work.person()
    setup = usable_setup(setup_id)
    fields = TypedFields()
    note = form.note.strip()
    if form.runaway is Grade.MAKER_SAYS and not note:
        fields.add(FieldProblem("note", "empty", words.SAY_WHERE))
    fields.refuse_if_any()
    machine, hotend = setup.toolhead.machine, setup.toolhead.hotend
    Machine.update(runaway=form.runaway.value, runaway_note=note, version=Machine.version + 1).where(
        Machine.id == machine.id
    ).execute()
    name = LINER_NAMES[form.liner] if hotend.name in LINER_NAMES.values() else hotend.name
    Hotend.update(liner=form.liner.value, liner_note=note, name=name).where(Hotend.id == hotend.id).execute()
    SafetyCheck.create(
        machine=machine, runaway=form.runaway.value, liner=form.liner.value, note=note, person=person, at=work.now
    )
    Setup.update(version=Setup.version + 1).where(Setup.toolhead == setup.toolhead_id).execute()
    return setup_out(get_setup(setup_id))


def refuse_danger(setup: Setup) -> None:
    """Refuse what heats while it is unknown whether that is safe.

    Raises
    ------
    Clash
        Naming what has to be said first.
    """
    held = dangers_of(setup)
    if held:
        raise Clash(words.held_said(DANGERS[held[0]]), code="not_safe")


def effective_flow(found: Sequence[ValueRow]) -> float | None:
    """Flow to type [%]: the calibrated one times the bias that is on purpose; None without a flow."""
    by_kind = {row.kind: row.number for row in found}
    flow = by_kind.get(Kind.FLOW)
    return None if flow is None else flow * by_kind.get(Kind.FLOW_BIAS, 100.0) / 100
