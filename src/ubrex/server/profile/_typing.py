"""The values of a setup: typing them, within every limit; ticking what is in the slicing program; the safety card."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Final

from ubrex.core.bead import usual_layer_mm, usual_line_mm
from ubrex.core.chain import DISPLAY_OFF_C, KINDS, Grade, Kind, Origin, Step
from ubrex.core.judge import Code, Finding, Whose
from ubrex.core.materials import Limit, family
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.desk import Clash, FieldProblem, Refused, TypedFields, Work, find
from ubrex.server.profile._parts import TunedLike, judged_change, limit_on, refuse_findings, usual_on, usual_said_on
from ubrex.server.profile._tuned import Tuned, dangers_of, dangers_with, tuned_of
from ubrex.server.profile._values import NewValue, lock_values, write_values
from ubrex.server.store.facts import ValueRow
from ubrex.server.store.records import Hotend, Machine, SafetyCheck, Setup, TunedValue, TypedIn
from ubrex.server.views.forms import FieldOut
from ubrex.server.views.values import (
    SafetyDoneOut,
    SafetyIn,
    TickIn,
    TypedFormOut,
    TypedValuesIn,
)
from ubrex.server.views.workshop import SetupOut
from ubrex.server.words import typing as words
from ubrex.server.words.judgement import limit_said
from ubrex.server.words.numbers import plain, unit_text
from ubrex.server.words.setups import LINER_NAMES
from ubrex.server.words.standing import DANGERS, ROW_NAMES
from ubrex.server.words.values import AS_SHOWN
from ubrex.server.workshop import bounds_of, get_setup, owners, places_of, setup_out, unit_of, usable_setup

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
    limit = limit_on(tuned, kind)
    return [
        FieldOut(
            name=kind.value,
            label=KINDS[kind].name,
            kind="number",
            unit=unit,
            value="" if value is None else decimal_text(value.number, places_of(kind, machine)),
            usual=usual_said_on(tuned, kind),
            offer=offer_on(tuned, kind),
            hint="" if limit is None else limit_said(limit.max_c, limit.of),
        )
    ]


def offer_on(tuned: TunedLike, kind: Kind) -> str:
    """What is usual for a value as one number, ready to be taken; empty where nothing is, or it could not be set here."""
    offer = family_default(tuned, kind, limit_on(tuned, kind))
    if offer is None or owners(kind, tuned.setup).get("surface", 0) is None:
        return ""
    return decimal_text(offer, places_of(kind, tuned.setup.toolhead.machine))


def type_values(work: Work, setup_id: int, form: TypedValuesIn) -> SetupOut:
    """Write values typed by hand, read off a label or usual for the family; all of them, or none if one is refused.

    What was taken as usual and then typed over counts as typed.
    """
    work.person()
    setup = usable_setup(setup_id)
    lock_values()
    fields = TypedFields()
    typed = {name: text for name, text in form.values.items() if text.strip()}
    heat = {name: typed.pop(name) for name in (Kind.HEAT_BIAS.value, TRUE_HEAT) if name in typed}
    now = tuned_of(setup)
    read = [_read(now, name, text, form, fields) for name, text in typed.items()]
    if heat:
        read.append(_read_heat(now, heat, form, fields))
    new = {value.kind: value for value in read if value is not None}
    numbers = {kind: value.number for kind, value in new.items()}
    findings = judged_change(setup, now.values, numbers, typed=numbers)
    if form.origin == Origin.LABEL.value:
        _refuse_false_labels(findings, fields)
    refuse_findings(findings, fields, {kind: kind.value for kind in new}, note=form.note)
    fields.refuse_if_any()
    if not new:
        raise Refused(FieldProblem("values", "empty", words.NOTHING_TYPED))
    write_values(work, setup, list(new.values()), cause="typed", note=form.note.strip())
    return setup_out(setup)


def _refuse_false_labels(findings: Sequence[Finding], fields: TypedFields) -> None:
    """Refuse a value that is said to stand on the label and lies outside it, whatever the note."""
    for one in findings:
        if one.code is Code.OUTSIDE_LABEL and one.kind is not None:
            fields.add(FieldProblem(one.kind.value, "not_of_label", words.not_of_label_said(one.low, one.high)))


def read_value(setup: Setup, kind: Kind, field: str, typed: str, fields: TypedFields) -> float | None:
    """A value of a setup as typed or read, within what is possible at all; None where it cannot be.

    What is wrong with it is said at its ``field``. Limits and what is usual are judged with all values together.
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
    return fields.number(field, typed, what=what.name, low=low, high=high, why=what.why, unit=unit)


def _read(now: Tuned, name: str, typed: str, form: TypedValuesIn, fields: TypedFields) -> NewValue | None:
    if name not in set(Kind):
        fields.add(FieldProblem(name, "unknown", words.NO_SUCH_VALUE))
        return None
    kind, setup = Kind(name), now.setup
    number = read_value(setup, kind, name, typed, fields)
    if number is None:
        return None
    unit = unit_of(kind, setup.toolhead.machine)
    origin = Origin(form.origin)
    if origin is Origin.FAMILY and (kind in USUAL_OF_BORE or number != family_default(now, kind, limit_on(now, kind))):
        origin = Origin.TYPED
    return NewValue(kind=kind, number=number, unit=unit, origin=origin, note=form.note.strip())


USUAL_OF_BORE: Final[Mapping[Kind, Callable[[float], float]]] = {
    Kind.LINE_WIDTH: usual_line_mm,
    Kind.LAYER: usual_layer_mm,
}
"""What a line is usually like on a bore [mm]."""

_GRAIN: Final = {Unit.CELSIUS: 5.0, Unit.PERCENT: 5.0}
"""Steps in which people set such a number; halves of anything else."""


def family_default(tuned: TunedLike, kind: Kind, limit: Limit | None) -> float | None:
    """The middle of what is usual for the family, never beyond a limit, or for the bore.

    None where nothing is usual, or the label says.
    """
    if kind is Kind.FLOW and not family(tuned.setup.filament.family).foaming:
        return 100.0
    if kind in USUAL_OF_BORE:
        return USUAL_OF_BORE[kind](tuned.setup.nozzle.bore_mm)
    usual = usual_on(tuned, kind)
    if usual is None or usual.whose is Whose.LABEL:
        return None
    grain = _GRAIN.get(KINDS[kind].unit, 0.5)
    middle = grain * math.floor((usual.window.low + usual.window.high) / 2 / grain)
    return middle if limit is None else min(middle, limit.max_c)


CHECKED_C: Final = (100.0, 450.0)
"""Temperatures at which a hotend is checked [°C]."""


def _read_heat(now: Tuned, typed: Mapping[str, str], form: TypedValuesIn, fields: TypedFields) -> NewValue | None:
    """A heat check: what the display shows, and what is really there; what was left alone of it stays as it is."""
    if typed.get(Kind.HEAT_BIAS.value) == AS_SHOWN:
        return NewValue(
            kind=Kind.HEAT_BIAS,
            number=0.0,
            half_width_95=DISPLAY_OFF_C,
            unit=Unit.CELSIUS,
            origin=Origin.TYPED,
            note=form.note.strip() or words.TAKEN_AS_TRUE,
        )
    held = {field.name: field.value for field in _fields(now, Kind.HEAT_BIAS)}
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


def tick_value(work: Work, value_id: int, form: TickIn) -> TickIn:
    """Say whether a value is in the slicing program."""
    value = find(TunedValue, value_id, "value")
    TypedIn.create(value=value, ticked=form.ticked, person=work.person(), at=work.now)
    return form


def check_safety(work: Work, setup_id: int, form: SafetyIn) -> SafetyDoneOut:
    """Go through the card *safe to tune*. What is known is kept; the card counts as gone through once nothing holds."""
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
    Setup.update(version=Setup.version + 1).where(Setup.toolhead == setup.toolhead_id).execute()
    holds = dangers_with(get_setup(setup_id), stale=False)
    if not holds:
        SafetyCheck.create(
            machine=machine, runaway=form.runaway.value, liner=form.liner.value, note=note, person=person, at=work.now
        )
    return SafetyDoneOut(holds=[DANGERS[danger] for danger in holds])


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
