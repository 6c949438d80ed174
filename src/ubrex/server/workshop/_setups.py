"""Setups: a toolhead, a nozzle and a filament that are tuned together."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Mapping
from functools import cache
from pathlib import Path
from typing import Any, Final

from peewee import JOIN

from ubrex.core.chain import KINDS, Kind, Purpose
from ubrex.core.materials import LINED_LIMIT_C, Limit, Liner, family, nozzle_limits, strictest
from ubrex.core.quantity import Unit
from ubrex.server.desk import Clash, FieldProblem, Missing, Outdated, TypedFields, Work
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import (
    Filament,
    Hotend,
    Machine,
    Nozzle,
    Record,
    Setup,
    Spool,
    Surface,
    Toolhead,
    Workshop,
)
from ubrex.server.views.forms import Answers
from ubrex.server.views.records import RecordKind
from ubrex.server.views.workshop import (
    FirstSetupFormOut,
    FirstSetupIn,
    FirstSetupOut,
    SampleRunOut,
    SetupOut,
    WorkshopOut,
)
from ubrex.server.words import forms
from ubrex.server.words import setups as words
from ubrex.server.words.machine import Keeping
from ubrex.server.words.numbers import plain
from ubrex.server.words.profile import PURPOSES
from ubrex.server.workshop._form_tables import FORMS, SETUP_FORM
from ubrex.server.workshop._forms import fields_out, form_values, read_form
from ubrex.server.workshop._instruments import create_instrument
from ubrex.server.workshop._people import add_person, all_people

DIAMETER_VARIES: Final = 0.1
"""Share of its stated diameter by which filament is thicker or thinner at most; makers promise a fiftieth."""

MM_PER_TURN_BOUNDS: Final = (0.5, 200.0)
"""Extruder settings in mm per motor turn that are possible at all."""

DEFAULT_WORKSHOP_NAME = "Workshop"

_SAMPLE_RUN: Final = Path(__file__).with_name("sample_run.json")


def select_setups() -> Any:
    """Query for setups with everything they consist of, in one go."""
    return (
        Setup.select(Setup, Toolhead, Machine, Hotend, Nozzle, Filament, Surface, Spool)
        .join(Toolhead)
        .join(Machine)
        .switch(Toolhead)
        .join(Hotend)
        .switch(Setup)
        .join(Nozzle, on=(Setup.nozzle == Nozzle.id))
        .switch(Setup)
        .join(Filament, on=(Setup.filament == Filament.id))
        .switch(Setup)
        .join(Surface, JOIN.LEFT_OUTER, on=(Setup.surface == Surface.id))
        .switch(Setup)
        .join(Spool, JOIN.LEFT_OUTER, on=(Setup.spool == Spool.id))
    )


_ONE: Final[Prepared[Setup]] = Prepared(lambda setup_id: select_setups().where(Setup.id == setup_id))
_IN_USE: Final[Prepared[Setup]] = Prepared(lambda: Setup.select().where(Setup.removed_at.is_null()).order_by(Setup.id))
_PARTS: Final[Mapping[type[Record], Prepared[Any]]] = {
    kind: Prepared(kind.select) for kind in (Machine, Hotend, Toolhead, Nozzle, Filament, Surface, Spool)
}


def setups_in_use() -> list[Setup]:
    """Setups that were not removed, oldest first; those with the same part share its record."""
    rows = _IN_USE.rows()
    parts = {kind: {row.id: row for row in found.rows()} for kind, found in _PARTS.items()}
    for head in parts[Toolhead].values():
        head.machine, head.hotend = parts[Machine][head.machine_id], parts[Hotend][head.hotend_id]
    for setup in rows:
        setup.toolhead, setup.nozzle = parts[Toolhead][setup.toolhead_id], parts[Nozzle][setup.nozzle_id]
        setup.filament = parts[Filament][setup.filament_id]
        setup.surface, setup.spool = parts[Surface].get(setup.surface_id), parts[Spool].get(setup.spool_id)
    return rows


def get_setup(setup_id: int) -> Setup:
    """A setup with its parts, removed or not.

    Raises
    ------
    Missing
        If there is none.
    """
    setup = _ONE.first(setup_id)
    if setup is None:
        raise Missing(words.no_setup_said(setup_id), id=setup_id)
    return setup


def usable_setup(setup_id: int) -> Setup:
    """A setup that new work may be done on."""
    setup = get_setup(setup_id)
    if setup.removed_at is not None:
        raise Clash(
            words.setup_removed_said(setup_title(setup)),
            code="setup_removed",
        )
    return setup


def nozzle_text(nozzle: Nozzle) -> str:
    """A nozzle in two words."""
    return f"{plain(nozzle.bore_mm)} {nozzle.material}"


def feed_said(machine: Machine) -> str:
    """How filament is fed on a machine, in words."""
    tube = "" if machine.tube_mm is None or machine.feed_path == "direct" else f" of {plain(machine.tube_mm)} mm"
    return f"{words.FEEDS[machine.feed_path]}{tube}"


def setup_title(setup: Setup) -> str:
    """A setup in one line."""
    head = setup.toolhead
    surface = "" if setup.surface is None else f", {setup.surface.name}"
    return f"{head.machine.name}, {head.hotend.name}, {nozzle_text(setup.nozzle)}{surface}, {setup.filament.name}"


def setup_out(setup: Setup) -> SetupOut:
    """A setup as a screen shows it, with what the form that changes it starts from."""
    machine, hotend, nozzle = setup.toolhead.machine, setup.toolhead.hotend, setup.nozzle
    return SetupOut(
        id=setup.id,
        version=setup.version,
        title=setup_title(setup),
        machine=machine.name,
        machine_detail=f"{words.FEEDS[machine.feed_path]}, {words.KEEPS[Keeping(machine.keeps_setting)]}",
        hotend=hotend.name[:1].upper() + hotend.name[1:],
        hotend_detail=words.hotend_said(hotend_limit(hotend).max_c, stated=hotend.max_c is not None),
        nozzle=nozzle_text(nozzle),
        surface="not said" if setup.surface is None else setup.surface.name,
        surface_detail="" if setup.surface is None else surface_detail(setup.surface),
        filament=setup.filament.name,
        filament_detail=family(setup.filament.family).name
        + ("" if setup.spool is None else f", spool {setup.spool.name}"),
        purpose=Purpose(setup.purpose),
        purpose_name=PURPOSES[Purpose(setup.purpose)],
        removed=setup.removed_at is not None,
    )


def hotend_limit(hotend: Hotend) -> Limit:
    """The strictest limit of a hotend by itself: its liner may hold below what it is sold for."""
    limit = strictest(nozzle_limits(liner=Liner(hotend.liner), hotend_max_c=hotend.max_c))
    assert limit is not None, "a hotend always has one"
    return limit


def surface_detail(surface: Surface) -> str:
    """A build surface in one line."""
    return words.surface_said(surface.kind, surface.max_c, textured=surface.textured)


def list_setups(_work: Work) -> list[SetupOut]:
    """Setups in use."""
    return [setup_out(setup) for setup in setups_in_use()]


def show_setup(_work: Work, setup_id: int) -> SetupOut:
    """One setup."""
    return setup_out(get_setup(setup_id))


def show_workshop(work: Work) -> WorkshopOut:
    """The workshop, and which setup to show to a browser that has none on its bench: the oldest."""
    row = Workshop.select().first()
    first = Setup.select(Setup.id).where(Setup.removed_at.is_null()).order_by(Setup.id).first()
    return WorkshopOut(
        id=str(row.id) if row else "",
        name=row.name if row else DEFAULT_WORKSHOP_NAME,
        empty=first is None,
        first_setup_id=first.id if first else None,
        people=all_people(work),
    )


def ensure_workshop(work: Work, name: str) -> None:
    """Give the workshop its identity, once."""
    if not Workshop.select().exists():
        Workshop.create(id=uuid.uuid4(), name=name.strip() or DEFAULT_WORKSHOP_NAME, created_at=work.now)


@cache
def sample_run() -> SampleRunOut:
    """A run of the sample workshop, kept as it was answered: ``tools/sample_run.py`` writes it, a test holds it true."""
    return SampleRunOut.model_validate_json(_SAMPLE_RUN.read_bytes())


def show_first_setup(_work: Work) -> FirstSetupFormOut:
    """The forms of an empty workshop."""
    tool = FORMS[RecordKind.INSTRUMENT]
    name, *others = fields_out(tool, form_values(tool, None))
    return FirstSetupFormOut(
        setup=fields_out(SETUP_FORM, form_values(SETUP_FORM, None)),
        instrument=[name.model_copy(update={"label": words.TOOL, "value": words.USUAL_TOOL}), *others],
        sample=sample_run(),
    )


def first_setup(work: Work, form: FirstSetupIn) -> FirstSetupOut:
    """An empty workshop gets its first setup, tool and person in one go."""
    fields = TypedFields()
    parts = _read(form.setup, fields, prefix="setup.", as_typed=form.as_typed)
    _judge_liner(parts, fields, prefix="setup.")
    if not form.person.name:
        fields.add(FieldProblem("person.name", "empty", words.NAME_EMPTY))
    create_instrument(form.instrument, fields, prefix="instrument.", as_typed=form.as_typed)
    ensure_workshop(work, form.workshop)
    return FirstSetupOut(setup_id=_create_setup(work, parts).id, person=add_person(work, form.person))


def create_setup(work: Work, typed: Answers) -> SetupOut:
    """A setup added; machine, hotend and filament of the same name are the ones already there, and must be the same."""
    fields = TypedFields()
    parts = _read(typed, fields, prefix="")
    _judge_liner(parts, fields, prefix="")
    if not fields.any:
        _judge_known(parts, fields)
    fields.refuse_if_any()
    return setup_out(get_setup(_create_setup(work, parts).id))


def _read(
    typed: Answers, fields: TypedFields, *, prefix: str, as_typed: Collection[str] | None = None
) -> dict[str, Any]:
    """The parts of a setup as they were typed; what was left out is as usual."""
    return read_form(SETUP_FORM, form_values(SETUP_FORM, None) | typed, fields, prefix=prefix, as_typed=as_typed)


def _judge_liner(parts: Mapping[str, Any], fields: TypedFields, *, prefix: str) -> None:
    """Refuse a limit that the liner does not stand, as the record of a hotend does."""
    limit = parts.get("hotend_max")
    if parts.get("liner") == Liner.LINED.value and limit is not None and limit > LINED_LIMIT_C:
        fields.add(FieldProblem(f"{prefix}hotend_max", "above_liner", forms.above_liner_said()))


def _judge_known(parts: Mapping[str, Any], fields: TypedFields) -> None:
    """Refuse a form that says something else about a machine or filament of that name: it would be ignored."""
    machine = Machine.get_or_none(Machine.name == parts["machine"])
    said = tuple(parts[name] for name in ("feed_path", "keeps_setting", "setting_places"))
    if machine is not None and (machine.feed_path, machine.keeps_setting, machine.setting_places) != said:
        fields.add(FieldProblem("machine", "known_otherwise", words.machine_known_said(parts["machine"])))
    filament = Filament.get_or_none(Filament.name == parts["filament"])
    if filament is not None and filament.family != parts["family"]:
        known = words.filament_known_said(parts["filament"], family(filament.family).name)
        fields.add(FieldProblem("filament", "known_otherwise", known))


def remove_setup(work: Work, setup_id: int, version: int) -> SetupOut:
    """Take a setup out of use; everything recorded on it stays."""
    work.person()
    setup = usable_setup(setup_id)
    if setup.version != version:
        raise Outdated(words.SETUP_CHANGED)
    Setup.update(removed_at=work.now, version=Setup.version + 1).where(Setup.id == setup_id).execute()
    return setup_out(get_setup(setup_id))


def _create_setup(work: Work, parts: Mapping[str, Any]) -> Setup:
    own = ("feed_path", "keeps_setting", "setting_places", "runaway")
    machine, made = Machine.get_or_create(
        name=parts["machine"], defaults={name: parts[name] for name in own} | {"bed_max_c": parts["bed_max"]}
    )
    # A limit completes a machine that had none; one that is on record is changed only with the machine.
    if not made and parts["bed_max"] is not None and machine.bed_max_c is None:
        Machine.update(bed_max_c=parts["bed_max"], version=Machine.version + 1).where(
            Machine.id == machine.id
        ).execute()
    filament, _ = Filament.get_or_create(name=parts["filament"], defaults={"family": parts["family"]})
    max_c, liner = parts["hotend_max"], Liner(parts["liner"])
    # The same hotend as far as was said here: a second spool of an evening makes no second machine.
    toolhead = (
        Toolhead.select()
        .join(Hotend)
        .where(
            Toolhead.machine == machine,
            Hotend.liner == liner.value,
            Hotend.max_c.is_null() if max_c is None else Hotend.max_c == max_c,
        )
        .first()
    )
    if toolhead is None:
        hotend = Hotend.create(name=words.LINER_NAMES[liner], liner=liner.value, max_c=max_c)
        toolhead = Toolhead.create(machine=machine, hotend=hotend)
    bore, material = parts["bore"], parts["nozzle_material"]
    nozzle = (
        Nozzle.select()
        .join(Setup)
        .where(Setup.toolhead == toolhead, Nozzle.bore_mm == bore, Nozzle.material == material)
        .first()
    ) or Nozzle.create(bore_mm=bore, material=material, toolhead=toolhead)
    setup: Setup
    setup, _ = Setup.get_or_create(
        toolhead=toolhead,
        nozzle=nozzle,
        filament=filament,
        surface=_surface(machine, parts["surface"]),
        defaults={"created_at": work.now},
    )
    # The same parts once more bring the setup back, with all that was found on it.
    if setup.removed_at is not None:
        setup.removed_at = None
        setup.version += 1
        setup.save()
    return setup


def _surface(machine: Machine, name: str) -> Surface | None:
    """The machine's surface of this name, new if need be; None where nothing was said."""
    if not name:
        return None
    surface: Surface
    surface, _ = Surface.get_or_create(machine=machine, name=name, defaults={"kind": "spring_sheet"})
    return surface


def unit_of_setting(machine: Machine) -> Unit:
    """Unit in which a machine keeps its extruder setting."""
    return Unit.MM_PER_TURN if machine.keeps_setting == Keeping.TURN_IN_FILE.value else Unit.STEPS_PER_MM


def unit_of(kind: Kind, machine: Machine) -> Unit:
    """Unit in which a value of this kind is kept; e-steps as the machine keeps them."""
    return unit_of_setting(machine) if kind is Kind.E_STEPS else KINDS[kind].unit


def places_of(kind: Kind, machine: Machine) -> int:
    """Decimals of a value of this kind; of e-steps those that the machine can hold."""
    return machine.setting_places if kind is Kind.E_STEPS else KINDS[kind].places


def diameters_of(stated_mm: float) -> tuple[float, float]:
    """Diameters [mm] that filament of a stated one has; what is thicker or thinner is of the other kind."""
    return round((1 - DIAMETER_VARIES) * stated_mm, 3), round((1 + DIAMETER_VARIES) * stated_mm, 3)


def bounds_of(kind: Kind, setup: Setup) -> tuple[float, float]:
    """How far a value of this kind may lie on a setup, in its unit; both ends allowed."""
    if unit_of(kind, setup.toolhead.machine) is Unit.MM_PER_TURN:
        return MM_PER_TURN_BOUNDS
    if kind is Kind.DIAMETER:
        return diameters_of(setup.filament.diameter_mm)
    return KINDS[kind].low, KINDS[kind].high
