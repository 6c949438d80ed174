"""Reading e-steps back from the machine after they were set."""

from __future__ import annotations

from ubrex.core.chain import KINDS, Kind
from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import SAME, Unit, parse_entry, same_setting
from ubrex.server.desk import Clash, FieldProblem, Refused, Work, find
from ubrex.server.profile._changes import done_on
from ubrex.server.profile._evidence import evidence_of, value_out
from ubrex.server.profile._values import newest_value
from ubrex.server.store.records import ReadBack, TunedValue
from ubrex.server.views.values import ReadBackIn, ValueOut
from ubrex.server.words import machine as words
from ubrex.server.workshop import places_of, unit_of, usable_setup


def read_back(work: Work, setup_id: int, value_id: int, form: ReadBackIn) -> ValueOut:
    """What the machine says after switching on: the value is verified only if it is the very setting."""
    person = work.person()
    setup = usable_setup(setup_id)
    machine = setup.toolhead.machine
    value = find(TunedValue, value_id, "value")
    kind = Kind(value.kind)
    recorded = newest_value(kind, setup)
    if not KINDS[kind].reads_back or recorded is None or recorded.id != value.id:
        raise Clash(words.REPLACED_SINCE, code="value_replaced")
    if value.unit != unit_of(kind, machine).value:
        raise Clash(words.other_form_said(machine.name), code="other_form")
    try:
        number = value.number if form.typed.strip() == SAME else parse_entry(form.typed, Unit(value.unit))
    except UnreadableEntry as error:
        raise Refused(FieldProblem("typed", "not_a_number", words.no_setting_said(form.typed.strip()))) from error
    if kind is Kind.E_STEPS and number <= 0:
        raise Refused(FieldProblem("typed", "not_above_zero", words.ABOVE_ZERO))
    matches = same_setting(number, value.number, places_of(kind, machine))
    ReadBack.create(value=value, typed=form.typed.strip(), number=number, matches=matches, person=person, at=work.now)
    return value_out(evidence_of(recorded, machine, done=done_on(machine.id)), machine, work)
