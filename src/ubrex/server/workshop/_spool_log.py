"""What is found on a spool, written down: weighed, dried, its diameter, a wet test."""

from __future__ import annotations

from ubrex.core.chain import Change
from ubrex.core.judge import NEW_SPOOL_SLACK_G, slip_from
from ubrex.core.materials import DryingFault, drying_fault
from ubrex.server.desk import FieldProblem, TypedFields, Work, find
from ubrex.server.store.facts import fetch_on_spools
from ubrex.server.store.records import Filament, LoggedChange, Spool, SpoolEntry
from ubrex.server.views.records import FilamentsOut, SpoolEntryIn
from ubrex.server.words import records as said
from ubrex.server.words.inventory import ENTRIES, drying_doubted_said
from ubrex.server.workshop._drying import dried_that_count, drying_asked
from ubrex.server.workshop._inventory import list_filaments
from ubrex.server.workshop._setups import diameters_of


def add_spool_entry(work: Work, spool_id: int, form: SpoolEntryIn) -> FilamentsOut:
    """Write down what was found on a spool: weighed, dried, its diameter, a wet test."""
    person = work.person()
    spool = find(Spool, spool_id, "spool")
    what = ENTRIES[form.kind]
    fields = TypedFields()
    number = fields.number(
        "number", form.number, what=what.number, low=what.low, high=what.high, why=what.why, unit=what.unit
    )
    second = None
    if what.second:
        second = fields.number(
            "second", form.second, what=what.second, low=what.second_low, high=what.second_high, why=what.second_why,
            unit=what.second_unit,
        )  # fmt: skip
    at = form.at or work.now
    if at > work.now:
        fields.add(FieldProblem("at", "in_future", said.IN_FUTURE))
    if form.kind == "weighed" and number is not None and number > spool.full_g + NEW_SPOOL_SLACK_G:
        fields.add(FieldProblem("number", "heavier_than_full", said.heavier_than_full_said(number, spool.full_g)))
    if form.kind == "weighed" and number is not None and not form.note.strip():
        left = fetch_on_spools([spool.id])[spool.id].left_g
        if slip_from(number, left) is not None:
            fields.add(FieldProblem("number", "slip", said.weighs_far_said(number, left)))
    if form.kind == "diameter":
        low, high = diameters_of(spool.filament.diameter_mm)
        for field, across in (("number", number), ("second", second)):
            if across is not None and not low <= across <= high:
                fields.add(
                    FieldProblem(field, "other_strand", said.not_so_thick_said(across, spool.filament.diameter_mm))
                )
    if form.kind in {"drying", "dried"} and number is not None and second is not None:
        _judge_drying(spool.filament, form, number, second, fields)
    fields.refuse_if_any()
    assert number is not None
    entry = SpoolEntry.create(
        spool=spool, kind=form.kind, number=number, second=second, note=form.note.strip(), at=at, person=person,
        logged_at=work.now,
    )  # fmt: skip
    _log_wetness(work, spool, form, entry)
    return FilamentsOut(filaments=list_filaments(work))


def _judge_drying(filament: Filament, form: SpoolEntryIn, hours: float, celsius: float, fields: TypedFields) -> None:
    """Ask about a drying that dries nothing, or softens the spool; a note lets it be written down."""
    asked = drying_asked(filament)
    fault = drying_fault(asked, hours, celsius)
    if asked is None or fault is None or form.note.strip():
        return
    field = "number" if fault is DryingFault.TOO_SHORT else "second"
    message = drying_doubted_said(fault, hours, celsius, asked, filament.name)
    fields.add(FieldProblem(field, fault.value, message))


def _log_wetness(work: Work, spool: Spool, form: SpoolEntryIn, entry: SpoolEntry) -> None:
    """What a spool's log says of wet and dry counts for every setup of its filament; a drying only if it dries."""
    change, at = None, entry.at
    if form.kind == "dried":
        log = SpoolEntry.select().where(SpoolEntry.spool == spool.id, SpoolEntry.kind == "dried", SpoolEntry.at <= at)
        if entry.id in {row.id for row in dried_that_count(log, spool.filament)}:
            change = Change.DRIED
    elif form.kind == "wet_test" and entry.number > 0:
        change = Change.WET
    if change is not None:
        LoggedChange.create(
            filament=spool.filament_id,
            kind=change.value,
            note=f"Spool {spool.name}. {form.note.strip()}".strip(),
            happened_at=at,
            person=work.person(),
            logged_at=work.now,
        )
