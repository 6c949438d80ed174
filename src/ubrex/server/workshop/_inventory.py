"""What stands in the workshop: machines with their parts, filaments with their spools, tools, and the air they stand in."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection
from typing import Any, Final

from ubrex.core.chain import Grade, Kind
from ubrex.core.judge import judge_label
from ubrex.core.materials import Liner, Window, family
from ubrex.core.quantity import decimal_text
from ubrex.server.desk import Clash, FieldProblem, Outdated, TypedFields, Work, find
from ubrex.server.store.facts import OnSpoolRow, fetch_on_spools
from ubrex.server.store.records import (
    Entered,
    Filament,
    Hotend,
    Machine,
    Note,
    Nozzle,
    Person,
    Record,
    Setup,
    Spool,
    SpoolEntry,
    Surface,
    Toolhead,
    TunedValue,
)
from ubrex.server.views.records import (
    FilamentOut,
    FormOut,
    MachineOut,
    PartOut,
    RecordIn,
    RecordKind,
    SpoolEntryOut,
    SpoolOut,
)
from ubrex.server.words import records as said
from ubrex.server.words import setups as words
from ubrex.server.words.inventory import entry_said, label_said, left_said, machine_said
from ubrex.server.words.numbers import ago, day, plain
from ubrex.server.words.profile import window_said
from ubrex.server.workshop._drying import dried_that_count
from ubrex.server.workshop._form_tables import FORMS, RecordForm
from ubrex.server.workshop._forms import ask, fields_out, form_values, read_form
from ubrex.server.workshop._instruments import all_instruments, ask_tool
from ubrex.server.workshop._setups import (
    diameters_of,
    hotend_limit,
    nozzle_text,
    setup_title,
    setups_in_use,
    surface_detail,
)

_PARENTS: Final[dict[str, type[Record]]] = {"machine": Machine, "toolhead": Toolhead, "filament": Filament}


def show_form(_work: Work, kind: RecordKind, record_id: int | None) -> FormOut:
    """The form of a record, empty or filled."""
    form = FORMS[kind]
    record = None if record_id is None else find(form.model, record_id, form.noun)
    values = form_values(form, record)
    return FormOut(
        kind=kind,
        noun=form.noun,
        id=record_id,
        version=1 if record is None else record.version,
        retired=record is not None and getattr(record, "retired_at", None) is not None,
        can_retire=record is not None and "retired_at" in form.model._meta.fields,
        fields=fields_out(form, values),
    )


def add_record(work: Work, kind: RecordKind, typed: RecordIn) -> FormOut:
    """Add a record."""
    work.person()
    form = FORMS[kind]
    values = _judged(form, kind, typed, record=None)
    if kind is RecordKind.HOTEND:
        machine = find(Machine, typed.parent_id or 0, "machine")
        hotend = Hotend.create(**values)
        Toolhead.create(machine=machine, hotend=hotend)
        return show_form(work, kind, hotend.id)
    if form.parent is not None:
        values[form.parent] = find(_PARENTS[form.parent], typed.parent_id or 0, form.parent)
    return show_form(work, kind, form.model.create(**values).id)


def edit_record(work: Work, kind: RecordKind, record_id: int, version: int, typed: RecordIn) -> FormOut:
    """Change a record; what is known of it changes in every setup that has it."""
    work.person()
    form = FORMS[kind]
    record = find(form.model, record_id, form.noun)
    if record.version != version:
        raise Outdated(said.changed_meanwhile_said(form.noun))
    values = _judged(form, kind, typed, record=record)
    changed = form.model.update(**values, version=form.model.version + 1).where(
        form.model.id == record_id, form.model.version == version
    )
    if not changed.execute():
        raise Outdated(said.changed_just_now_said(form.noun))
    _mark_setups(kind, record_id)
    _note_limits(work, kind, record, record_id)
    return show_form(work, kind, record_id)


_LIMITING: Final = {
    RecordKind.MACHINE: ("bed_max_c", "chamber_max_c", "max_speed_mm_s", "feed_path", "runaway"),
    RecordKind.HOTEND: ("liner", "max_c", "printed_parts_max_c"),
    RecordKind.SURFACE: ("max_c",),
    RecordKind.FILAMENT: ("label", "bed_low_c", "bed_high_c", "family", "hardness"),
}
"""What of a record moves a limit: a correction of what was
said before stands among the notes of every setup that it touches."""


def _note_limits(work: Work, kind: RecordKind, before: Entered, record_id: int) -> None:
    form = FORMS[kind]
    after = find(form.model, record_id, form.noun)
    was, now = form_values(form, before), form_values(form, after)
    changes = [
        words.record_changed_said(form.noun, row.label, row.options.get(was[row.name], was[row.name]),
                                  row.options.get(now[row.name], now[row.name]))
        for row in form.fields
        if row.name in _LIMITING.get(kind, ()) and was[row.name] not in {"", now[row.name]}
    ]  # fmt: skip
    if isinstance(after, Hotend) and after.name in words.LINER_NAMES.values():
        Hotend.update(name=words.LINER_NAMES[Liner(after.liner)]).where(Hotend.id == record_id).execute()
    if changes:
        for setup in setups_in_use():
            if _uses(setup, kind, record_id):
                Note.create(setup=setup, text=". ".join(changes) + ".", person=work.person(), at=work.now)


def retire_record(work: Work, kind: RecordKind, record_id: int, version: int) -> FormOut:
    """Take a record out of use. What refers to it stays, so nothing is ever deleted."""
    work.person()
    form = FORMS[kind]
    record = find(form.model, record_id, form.noun)
    if "retired_at" not in form.model._meta.fields:
        raise Clash(said.retired_with_machine_said(form.noun), code="not_retired_alone")
    if record.version != version:
        raise Outdated(said.changed_before_retiring_said(form.noun))
    using = [setup_title(row) for row in setups_in_use() if _uses(row, kind, record_id)]
    if using:
        raise Clash(said.still_in_use_said(using), code="in_use")
    form.model.update(retired_at=work.now, version=form.model.version + 1).where(form.model.id == record_id).execute()
    return show_form(work, kind, record_id)


def _judged(form: RecordForm, kind: RecordKind, typed: RecordIn, *, record: Entered | None) -> dict[str, Any]:
    fields = TypedFields()
    values = read_form(form, typed.values, fields, before=record, as_typed=typed.as_typed)
    name = values.get("name")
    if name and not fields.has("name") and "name" in form.model._meta.fields:
        model: Any = form.model
        same = model.select().where(model.name == name)
        if kind in {RecordKind.SURFACE, RecordKind.SPOOL} and form.parent is not None:
            parent = typed.parent_id if record is None else getattr(record, f"{form.parent}_id")
            same = same.where(getattr(model, form.parent) == parent)
        if record is not None:
            same = same.where(model.id != record.id)
        if kind is not RecordKind.HOTEND and same.exists():
            fields.add(FieldProblem("name", "taken", said.name_taken_said(form.noun, name)))
    if kind is RecordKind.FILAMENT and record is not None and not fields.has("diameter_mm"):
        _judge_strand(record.id, values["diameter_mm"], fields)
    if kind is RecordKind.FILAMENT:
        _judge_kin(values, record, typed.as_typed, fields)
    if kind is RecordKind.INSTRUMENT:
        ask_tool(values, record, typed.as_typed, fields)
    fields.refuse_if_any()
    return values


def _judge_kin(values: dict[str, Any], before: Entered | None, as_typed: Collection[str], fields: TypedFields) -> None:
    """Ask about what a label says that does not look like its family; not again about what stood there before."""
    kin, low, high = family(values["family"]), values["bed_low_c"], values["bed_high_c"]
    found = judge_label(
        kin,
        nozzle=[Window(low=row["low_c"], high=row["high_c"]) for row in values["label"]],
        bed=None if low is None or high is None else Window(low=low, high=high),
        dry_c=values["dry_c"],
        density_g_cm3=values["density_g_cm3"],
        filled=bool(values["flags"]),
    )
    for field, one in found.items():
        kept = before is not None and all(getattr(before, name) == values[name] for name in (field, "family"))
        if not (kept or fields.has(field) or field in as_typed):
            ask(one, field, "g/cm³" if field == "density_g_cm3" else "°C", fields, kin.name)


def _judge_strand(filament_id: int, stated_mm: float, fields: TypedFields) -> None:
    """Refuse another strand for a filament whose diameter is on record: files would push it two or three times as fast."""
    known = (
        TunedValue.select(TunedValue.number)
        .where(TunedValue.kind == Kind.DIAMETER.value, TunedValue.filament == filament_id)
        .order_by(TunedValue.id.desc())
        .first()
    )
    low, high = diameters_of(stated_mm)
    if known is not None and not low <= known.number <= high:
        fields.add(FieldProblem("diameter_mm", "other_strand", said.other_strand_said(known.number, stated_mm)))


def _uses(setup: Setup, kind: RecordKind, record_id: int) -> bool:
    ids = {
        "machine": setup.toolhead.machine_id,
        "hotend": setup.toolhead.hotend_id,
        "nozzle": setup.nozzle_id,
        "surface": setup.surface_id,
        "filament": setup.filament_id,
        "spool": setup.spool_id,
    }
    return ids.get(kind) == record_id


def _mark_setups(kind: RecordKind, record_id: int) -> None:
    """Let whoever has a form of a setup open see that something in it changed."""
    ids = [row.id for row in setups_in_use() if _uses(row, kind, record_id)]
    Setup.update(version=Setup.version + 1).where(Setup.id.in_(ids)).execute()


def list_machines(_work: Work) -> list[MachineOut]:
    """Machines with their hotends, nozzles and surfaces."""
    hotends: dict[int, list[PartOut]] = defaultdict(list)
    nozzles: dict[int, list[PartOut]] = defaultdict(list)
    # Four queries for the whole shed, not four a machine.
    heads: dict[int, int] = {}
    for head in Toolhead.select(Toolhead, Hotend).join(Hotend).order_by(Toolhead.id):
        heads[head.id] = head.machine_id
        hotends[head.machine_id].append(
            PartOut(kind=RecordKind.HOTEND, id=head.hotend_id, parent_id=head.id, name=head.hotend.name,
                    detail=_hotend_said(head.hotend), retired=False)
        )  # fmt: skip
    for row in Nozzle.select().order_by(Nozzle.bore_mm, Nozzle.id):
        # A nozzle in the drawer belongs to no machine.
        if row.toolhead_id in heads:
            nozzles[heads[row.toolhead_id]].append(
                PartOut(kind=RecordKind.NOZZLE, id=row.id, parent_id=row.toolhead_id, name=nozzle_text(row),
                        detail="", retired=row.retired_at is not None)
            )  # fmt: skip
    surfaces: dict[int, list[PartOut]] = defaultdict(list)
    for surface in Surface.select().order_by(Surface.name):
        surfaces[surface.machine_id].append(
            PartOut(
                kind=RecordKind.SURFACE,
                id=surface.id,
                parent_id=surface.machine_id,
                name=surface.name,
                detail=surface_detail(surface),
                retired=surface.retired_at is not None,
            )
        )
    return [
        MachineOut(
            id=row.id,
            name=row.name,
            detail=machine_said(row.kinematics, row.enclosure, row.feed_path, row.tube_mm, row.bed_max_c),
            runaway=Grade(row.runaway),
            lacks=row.lacks,
            retired=row.retired_at is not None,
            hotends=hotends[row.id],
            nozzles=nozzles[row.id],
            surfaces=surfaces[row.id],
        )
        for row in Machine.select().order_by(Machine.name)
    ]


def _hotend_said(hotend: Hotend) -> str:
    liner = said.LINERS[Liner(hotend.liner)]
    return f"{liner}, {words.hotend_said(hotend_limit(hotend).max_c, stated=hotend.max_c is not None)}"


def list_tools(work: Work) -> list[PartOut]:
    """Measuring tools in use."""
    return [
        PartOut(kind=RecordKind.INSTRUMENT, id=row.id, parent_id=None, name=row.name,
                detail=", ".join(filter(None, [row.kind.value, row.detail, row.zero_checked])), retired=False)
        for row in all_instruments(work)
    ]  # fmt: skip


def list_filaments(work: Work) -> list[FilamentOut]:
    """Filaments with their spools, and what was found on each."""
    entries: dict[int, list[SpoolEntry]] = defaultdict(list)
    for entry in (
        SpoolEntry.select(SpoolEntry, Person).join(Person).order_by(SpoolEntry.at.desc(), SpoolEntry.id.desc())
    ):
        entries[entry.spool_id].append(entry)
    spools: dict[int, list[SpoolOut]] = defaultdict(list)
    filaments = {row.id: row for row in Filament.select().order_by(Filament.name)}
    rows = list(Spool.select().order_by(Spool.name))
    held = fetch_on_spools([spool.id for spool in rows])
    for spool in rows:
        spools[spool.filament_id].append(
            _spool(spool, held[spool.id], entries[spool.id], filaments[spool.filament_id], work)
        )
    return [_filament(row, spools[row.id]) for row in filaments.values()]


def _filament(row: Filament, spools: list[SpoolOut]) -> FilamentOut:
    kin = family(row.family)
    return FilamentOut(
        id=row.id,
        name=row.name,
        maker=row.maker,
        family=kin.name,
        colour=row.colour,
        label=label_said(row.label) or f"{window_said(kin.nozzle, '°C')} usual",
        from_label=bool(row.label),
        bed=f"{plain(row.bed_low_c)}–{plain(row.bed_high_c)} °C"
        if row.bed_low_c is not None and row.bed_high_c is not None
        else f"{window_said(kin.bed, '°C')} usual",
        dry=_dry_said(row),
        flags=", ".join([*row.flags, *([f"{row.hardness}"] if row.hardness else [])]),
        notes=kin.notes,
        retired=row.retired_at is not None,
        spools=spools,
    )


def _dry_said(row: Filament) -> str:
    if row.dry_c is not None and row.dry_h is not None:
        return said.dry_on_label_said(row.dry_c, row.dry_h)
    kin = family(row.family)
    if kin.dry_c is None or kin.dry_h is None:
        return said.AS_THE_LABEL
    return said.dry_usual_said(window_said(kin.dry_c, "°C"), window_said(kin.dry_h, "h"), always=kin.dry_always)


def _dried_said(dried: SpoolEntry | None, work: Work) -> str:
    return said.NEVER_DRIED if dried is None else f"dried {ago((work.now - dried.at).total_seconds() / 86400)}"


def _spool(spool: Spool, held: OnSpoolRow, entries: list[SpoolEntry], filament: Filament, work: Work) -> SpoolOut:
    count = dried_that_count(entries, filament)
    dried, tried = next(iter(count), None), any(entry.kind == "dried" for entry in entries)
    printed = "" if held.printed_g == 0 else decimal_text(held.printed_g, 0)
    return SpoolOut(
        id=spool.id,
        name=spool.name,
        left=said.spool_left_said(left_said(held.left_g, held.printed_g), decimal_text(spool.full_g, 0), printed),
        dried=said.NOT_DRIED if tried and dried is None else _dried_said(dried, work),
        stored=spool.stored,
        retired=spool.retired_at is not None,
        entries=[
            SpoolEntryOut(
                kind=entry.kind,
                sentence=entry_said(
                    entry.kind, entry.number, entry.second, counts=entry.kind != "dried" or entry in count
                ),
                note=entry.note,
                on=day(entry.at),
                person=entry.person.name,
            )
            for entry in entries[:8]
        ],
    )
