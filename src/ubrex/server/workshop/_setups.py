"""Setups: a toolhead, a nozzle and a filament that are tuned together."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from typing import Any, Final

from peewee import JOIN

from ubrex.core.chain import KINDS, Kind, Purpose
from ubrex.core.materials import FAMILIES, Liner, family
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
from ubrex.server.views.workshop import FamilyOut, FirstSetupIn, FirstSetupOut, SetupIn, SetupOut, WorkshopOut
from ubrex.server.words.machine import Keeping
from ubrex.server.words.numbers import plain
from ubrex.server.words.profile import PURPOSES
from ubrex.server.workshop._instruments import create_instrument
from ubrex.server.workshop._people import add_person, all_people

STRAND_VARIES: Final = 0.1
"""Share of its stated diameter by which filament is thicker or thinner at most; makers promise a fiftieth."""

MM_PER_TURN_BOUNDS: Final = (0.5, 200.0)
"""Extruder settings in mm per motor turn that are possible at all."""

DEFAULT_WORKSHOP_NAME = "Workshop"

LINER_NAMES: Final = {
    Liner.LINED: "lined hotend",
    Liner.ABOVE: "hotend, liner above the hot zone",
    Liner.ALL_METAL: "all-metal hotend",
    Liner.UNKNOWN: "hotend, liner not known",
}
"""Names of hotends that nobody named otherwise."""

_KEEPS = {
    Keeping.COMMAND_PAIR: "keeps its setting by command",
    Keeping.TURN_IN_FILE: "keeps its setting in a file",
    Keeping.MENU: "keeps its setting in a menu",
}
_FEED = {"direct": "direct feed", "remote": "feed through a tube"}


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
        raise Missing(f"There is no setup {setup_id} in this workshop.", id=setup_id)
    return setup


def usable_setup(setup_id: int) -> Setup:
    """A setup that new work may be done on."""
    setup = get_setup(setup_id)
    if setup.removed_at is not None:
        raise Clash(
            f"{setup_title(setup)} was removed from the workshop. Its record is kept; nothing new can be measured on it.",
            code="setup_removed",
        )
    return setup


def nozzle_text(nozzle: Nozzle) -> str:
    """A nozzle in two words."""
    return f"{plain(nozzle.bore_mm)} {nozzle.material}"


def setup_title(setup: Setup) -> str:
    """A setup in one line."""
    head = setup.toolhead
    surface = "" if setup.surface is None else f", {setup.surface.name}"
    return f"{head.machine.name}, {head.hotend.name}, {nozzle_text(setup.nozzle)}{surface}, {setup.filament.name}"


def setup_out(setup: Setup) -> SetupOut:
    """A setup as a screen shows it, with what the form that changes it starts from."""
    machine, hotend, nozzle = setup.toolhead.machine, setup.toolhead.hotend, setup.nozzle
    limit = "no limit stated" if hotend.max_c is None else f"never above {plain(hotend.max_c)} °C"
    return SetupOut(
        id=setup.id,
        version=setup.version,
        title=setup_title(setup),
        machine=machine.name,
        machine_detail=f"{_FEED[machine.feed_path]}, {_KEEPS[Keeping(machine.keeps_setting)]}",
        hotend=hotend.name[:1].upper() + hotend.name[1:],
        hotend_detail=limit,
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


def surface_detail(surface: Surface) -> str:
    """A build surface in one line."""
    limit = "" if surface.max_c is None else f", never above {plain(surface.max_c)} °C"
    return f"{SURFACES[surface.kind]}{', textured' if surface.textured else ''}{limit}"


SURFACES: Final = {
    "spring_sheet": "spring steel sheet",
    "glass": "glass",
    "plastic_sheet": "plastic sheet",
    "tape": "tape",
    "bare_metal": "bare metal",
    "other": "other surface",
}
"""Kinds of build surface, in words."""


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


def list_families(_work: Work) -> list[FamilyOut]:
    """The filament families, the commonest first."""
    return [FamilyOut(key=row.key, name=row.name) for row in FAMILIES]


def ensure_workshop(work: Work, name: str) -> None:
    """Give the workshop its identity, once."""
    if not Workshop.select().exists():
        Workshop.create(id=uuid.uuid4(), name=name.strip() or DEFAULT_WORKSHOP_NAME, created_at=work.now)


def first_setup(work: Work, form: FirstSetupIn) -> FirstSetupOut:
    """An empty workshop gets its first setup, tool and person in one go."""
    fields = TypedFields()
    parts = _read(form.setup, fields, prefix="setup.")
    if not form.person.name:
        fields.add(FieldProblem("person.name", "empty", "Your name is still empty: every entry carries one."))
    create_instrument(form.instrument, fields, prefix="instrument.")
    ensure_workshop(work, form.workshop)
    return FirstSetupOut(setup_id=_create_setup(work, form.setup, parts).id, person=add_person(work, form.person))


def create_setup(work: Work, form: SetupIn) -> SetupOut:
    """A setup added; machine, hotend and filament of the same name are the ones already there, and must be the same."""
    fields = TypedFields()
    parts = _read(form, fields, prefix="")
    _judge_known(form, fields)
    fields.refuse_if_any()
    return setup_out(get_setup(_create_setup(work, form, parts).id))


def _judge_known(form: SetupIn, fields: TypedFields) -> None:
    """Refuse a form that says something else about a machine or filament of that name: it would be ignored."""
    machine = Machine.get_or_none(Machine.name == form.machine)
    typed = (form.feed_path, form.keeps_setting.value, form.setting_places)
    if machine is not None and (machine.feed_path, machine.keeps_setting, machine.setting_places) != typed:
        fields.add(
            FieldProblem(
                "machine",
                "known_otherwise",
                f"{form.machine} is known with another feed path, or another way to keep its e-steps. Give this machine "
                "a name of its own, or change that one with Save.",
            )
        )
    filament = Filament.get_or_none(Filament.name == form.filament)
    if filament is not None and filament.family != form.family:
        fields.add(
            FieldProblem(
                "filament",
                "known_otherwise",
                f"{form.filament} is known as {family(filament.family).name}. Give this one a name of its own, or change "
                "that one with Save.",
            )
        )


def remove_setup(work: Work, setup_id: int, version: int) -> SetupOut:
    """Take a setup out of use; everything recorded on it stays."""
    work.person()
    setup = usable_setup(setup_id)
    if setup.version != version:
        raise Outdated("Somebody changed this setup since you opened it. Look again before you remove it.")
    Setup.update(removed_at=work.now, version=Setup.version + 1).where(Setup.id == setup_id).execute()
    return setup_out(get_setup(setup_id))


def _read(form: SetupIn, fields: TypedFields, *, prefix: str) -> tuple[float, float | None]:
    """Bore [mm] and hotend limit [°C] of a setup form, its problems noted under ``prefix``."""
    fields.text(f"{prefix}machine", form.machine, what="The name of the machine")
    fields.text(f"{prefix}filament", form.filament, what="The name of the filament")
    bore = fields.number(f"{prefix}bore", form.bore, what="The bore", low=0.1, high=2.0, why="nozzles have 0.1 to 2 mm")
    max_c = None
    if form.hotend_max.strip():
        max_c = fields.number(
            f"{prefix}hotend_max",
            form.hotend_max,
            what="The limit",
            low=150,
            high=600,
            why="makers state 150 to 600 °C",
        )
    if form.family not in {row.key for row in FAMILIES}:
        fields.add(FieldProblem(f"{prefix}family", "unknown", "Choose a family from the list; Other is one."))
    return bore, max_c


def _create_setup(work: Work, form: SetupIn, parts: tuple[float, float | None]) -> Setup:
    bore, max_c = parts
    machine, _ = Machine.get_or_create(
        name=form.machine,
        defaults={
            "feed_path": form.feed_path,
            "keeps_setting": form.keeps_setting.value,
            "setting_places": form.setting_places,
            "runaway": form.runaway.value,
        },
    )
    filament, _ = Filament.get_or_create(name=form.filament, defaults={"family": form.family})
    toolhead = (
        Toolhead.select()
        .join(Hotend)
        .where(
            Toolhead.machine == machine,
            Hotend.liner == form.liner.value,
            Hotend.max_c.is_null() if max_c is None else Hotend.max_c == max_c,
        )
        .first()
    )
    if toolhead is None:
        hotend = Hotend.create(name=LINER_NAMES[form.liner], liner=form.liner.value, max_c=max_c)
        toolhead = Toolhead.create(machine=machine, hotend=hotend)
    nozzle = (
        Nozzle.select()
        .join(Setup)
        .where(Setup.toolhead == toolhead, Nozzle.bore_mm == bore, Nozzle.material == form.nozzle_material)
        .first()
    ) or Nozzle.create(bore_mm=bore, material=form.nozzle_material, toolhead=toolhead)
    setup: Setup
    setup, _ = Setup.get_or_create(
        toolhead=toolhead,
        nozzle=nozzle,
        filament=filament,
        surface=_surface(machine, form.surface),
        defaults={"created_at": work.now},
    )
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


def strands_of(stated_mm: float) -> tuple[float, float]:
    """Diameters [mm] that filament of a stated one has; what is thicker or thinner is of the other kind."""
    return round((1 - STRAND_VARIES) * stated_mm, 3), round((1 + STRAND_VARIES) * stated_mm, 3)


def bounds_of(kind: Kind, setup: Setup) -> tuple[float, float]:
    """How far a value of this kind may lie on a setup, in its unit; both ends allowed."""
    if unit_of(kind, setup.toolhead.machine) is Unit.MM_PER_TURN:
        return MM_PER_TURN_BOUNDS
    if kind is Kind.DIAMETER:
        return strands_of(setup.filament.diameter_mm)
    return KINDS[kind].low, KINDS[kind].high
