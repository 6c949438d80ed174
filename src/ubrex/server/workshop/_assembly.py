"""Putting a setup together from what stands in the workshop: each choice shows what results before it goes on the bench."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from peewee import fn

from ubrex.core.chain import KINDS, Change, Kind, Purpose
from ubrex.core.materials import family
from ubrex.server.desk import FieldProblem, Missing, TypedFields, Work
from ubrex.server.store.database import database
from ubrex.server.store.records import (
    Filament,
    Hotend,
    LoggedChange,
    Machine,
    Nozzle,
    Revision,
    Setup,
    Spool,
    Surface,
    Toolhead,
)
from ubrex.server.views.records import AssemblyIn, PickOut
from ubrex.server.views.workshop import SetupOut
from ubrex.server.words import assembly as words
from ubrex.server.words.profile import PURPOSES, purpose_moves
from ubrex.server.workshop._scopes import scope_keys
from ubrex.server.workshop._setups import get_setup, nozzle_text, select_setups, setup_out, setup_title, surface_detail

Pickable = Literal["machine", "nozzle", "surface", "filament", "purpose"]


@dataclass(frozen=True, slots=True)
class _Choice:
    """One thing to choose, and the setup it would make."""

    text: str
    beside: str
    form: AssemblyIn
    setup: Setup


def list_picks(_work: Work, setup_id: int, part: Pickable) -> list[PickOut]:
    """What can be chosen for one part of a setup, and what each choice results in."""
    setup = get_setup(setup_id)
    chosen = {
        "machine": _machines,
        "nozzle": _nozzles,
        "surface": _surfaces,
        "filament": _filaments,
        "purpose": _purposes,
    }[part](setup)
    rows = list(chosen)
    known = {_key(row): row for row in select_setups()}
    counted: Any = Revision.select(Revision.setup, fn.MAX(Revision.number)).group_by(Revision.setup)
    numbers: dict[int, int] = dict(counted.tuples())
    kinds = _kinds_by_scope(row.setup for row in rows)
    found = []
    for row in rows:
        there = known.get(_key(row.setup))
        found.append(
            PickOut(
                text=row.text,
                beside=row.beside,
                form=row.form,
                title=setup_title(row.setup),
                setup_id=None if there is None else there.id,
                result=_result(there, numbers, kinds, row.setup, part),
                now=there is not None and there.id == setup_id and row.form.purpose == setup.purpose
                and row.form.spool_id == setup.spool_id,
            )
        )  # fmt: skip
    return found


def _result(
    there: Setup | None, numbers: dict[int, int], kinds: dict[str, set[str]], setup: Setup, part: Pickable
) -> str:
    if part == "purpose":
        return words.PURPOSE_MOVES
    if part == "filament" and there is not None and there.spool_id not in {None, setup.spool_id}:
        return words.OTHER_SPOOL
    if there is not None:
        count = numbers.get(there.id, 0)
        return words.on_record_said(count)
    brought = {kind for key in scope_keys(setup).values() for kind in kinds.get(key, ())}
    names = [KINDS[kind].name for kind in Kind if kind.value in brought and KINDS[kind].main]
    return words.new_setup_said(names)


def _kinds_by_scope(rows: Iterable[Setup]) -> dict[str, set[str]]:
    keys = sorted({key for row in rows for key in scope_keys(row).values()})
    found: dict[str, set[str]] = {}
    sql = "SELECT DISTINCT scope, kind FROM tuned_value WHERE scope = ANY(%s)"
    for scope, kind in database.execute_sql(sql, (keys,)):
        found.setdefault(scope, set()).add(kind)
    return found


def _key(setup: Setup) -> tuple[int, int, int, int | None]:
    return (setup.toolhead_id, setup.nozzle_id, setup.filament_id, setup.surface_id)


def _form(setup: Setup, **changed: int | str | None) -> AssemblyIn:
    return AssemblyIn.model_validate(
        {
            "toolhead_id": setup.toolhead_id,
            "nozzle_id": setup.nozzle_id,
            "surface_id": setup.surface_id,
            "filament_id": setup.filament_id,
            "spool_id": setup.spool_id,
            "purpose": setup.purpose,
        }
        | changed
    )


def _imagined(
    *,
    toolhead: Toolhead,
    nozzle: Nozzle,
    filament: Filament,
    surface: Surface | None,
    spool: Spool | None,
    purpose: str,
) -> Setup:
    """A setup that is only thought of."""
    return Setup(toolhead=toolhead, nozzle=nozzle, filament=filament, surface=surface, spool=spool, purpose=purpose)


def _heads() -> list[Toolhead]:
    query = Toolhead.select(Toolhead, Machine, Hotend).join(Machine).switch(Toolhead).join(Hotend)
    return list(query.where(Machine.retired_at.is_null()).order_by(Machine.name, Toolhead.id))


def _machines(setup: Setup) -> Iterable[_Choice]:
    nozzles: dict[int, Nozzle] = {}
    for nozzle in Nozzle.select().where(Nozzle.retired_at.is_null()).order_by(Nozzle.id.desc()):
        nozzles[nozzle.toolhead_id or 0] = nozzle
    surfaces: dict[int, Surface] = {}
    for surface in Surface.select().where(Surface.retired_at.is_null()).order_by(Surface.id.desc()):
        surfaces[surface.machine_id] = surface
    for head in _heads():
        same = head.id == setup.toolhead_id
        nozzle_there = setup.nozzle if same else nozzles.get(head.id)
        on = setup.surface if head.machine_id == setup.toolhead.machine_id else surfaces.get(head.machine_id)
        if nozzle_there is None:
            continue
        yield _Choice(
            head.machine.name,
            head.hotend.name,
            _form(setup, toolhead_id=head.id, nozzle_id=nozzle_there.id, surface_id=None if on is None else on.id),
            _imagined(
                toolhead=head,
                nozzle=nozzle_there,
                filament=setup.filament,
                surface=on,
                spool=setup.spool,
                purpose=setup.purpose,
            ),
        )


def _with(setup: Setup, *, nozzle: Nozzle | None = None, surface: Surface | None = None) -> Setup:
    return _imagined(
        toolhead=setup.toolhead,
        nozzle=nozzle or setup.nozzle,
        filament=setup.filament,
        surface=surface or setup.surface,
        spool=setup.spool,
        purpose=setup.purpose,
    )


def _nozzles(setup: Setup) -> Iterable[_Choice]:
    rows = (
        Nozzle.select()
        .where(Nozzle.toolhead == setup.toolhead_id, Nozzle.retired_at.is_null())
        .order_by(Nozzle.bore_mm)
    )
    for row in rows:
        yield _Choice(nozzle_text(row), "", _form(setup, nozzle_id=row.id), _with(setup, nozzle=row))


def _surfaces(setup: Setup) -> Iterable[_Choice]:
    machine_id = setup.toolhead.machine_id
    rows = Surface.select().where(Surface.machine == machine_id, Surface.retired_at.is_null()).order_by(Surface.name)
    for row in rows:
        yield _Choice(row.name, surface_detail(row), _form(setup, surface_id=row.id), _with(setup, surface=row))


def _filaments(setup: Setup) -> Iterable[_Choice]:
    spools: dict[int, list[Spool]] = {}
    for spool in Spool.select().where(Spool.retired_at.is_null()).order_by(Spool.name):
        spools.setdefault(spool.filament_id, []).append(spool)
    for row in Filament.select().where(Filament.retired_at.is_null()).order_by(Filament.name):
        options: list[Spool | None] = [*spools.get(row.id, [])] or [None]
        for one in options:
            yield _Choice(
                row.name if one is None else f"{row.name}, spool {one.name}",
                family(row.family).name,
                _form(setup, filament_id=row.id, spool_id=None if one is None else one.id),
                _imagined(
                    toolhead=setup.toolhead,
                    nozzle=setup.nozzle,
                    filament=row,
                    surface=setup.surface,
                    spool=one,
                    purpose=setup.purpose,
                ),
            )


def _purposes(setup: Setup) -> Iterable[_Choice]:
    for purpose in Purpose:
        yield _Choice(PURPOSES[purpose], purpose_moves(purpose), _form(setup, purpose=purpose.value), _with(setup))


def assemble_setup(work: Work, form: AssemblyIn) -> SetupOut:
    """The setup with these parts, made if need be; it may go on the bench."""
    work.person()
    fields = TypedFields()
    toolhead = Toolhead.get_or_none(Toolhead.id == form.toolhead_id)
    nozzle = Nozzle.get_or_none(Nozzle.id == form.nozzle_id)
    filament = Filament.get_or_none(Filament.id == form.filament_id)
    surface = None if form.surface_id is None else Surface.get_or_none(Surface.id == form.surface_id)
    spool = None if form.spool_id is None else Spool.get_or_none(Spool.id == form.spool_id)
    for field, row in (("toolhead_id", toolhead), ("nozzle_id", nozzle), ("filament_id", filament)):
        if row is None:
            fields.add(FieldProblem(field, "missing", words.GONE))
    if form.surface_id is not None and surface is None:
        fields.add(FieldProblem("surface_id", "missing", words.GONE))
    if form.spool_id is not None and spool is None:
        fields.add(FieldProblem("spool_id", "missing", words.GONE))
    fields.refuse_if_any()
    if toolhead is None or nozzle is None or filament is None:
        raise Missing(words.GONE)
    # Parts that are there, but not on one machine.
    if nozzle.toolhead_id != toolhead.id:
        where = None if nozzle.toolhead_id is None else _head_name(nozzle.toolhead_id)
        said = words.nozzle_elsewhere_said(where)
        fields.add(FieldProblem("nozzle_id", "other_machine", said))
    if surface is not None and surface.machine_id != toolhead.machine_id:
        fields.add(FieldProblem("surface_id", "other_machine", words.SURFACE_ELSEWHERE))
    if spool is not None and spool.filament_id != filament.id:
        fields.add(FieldProblem("spool_id", "other_filament", words.SPOOL_OTHER))
    fields.refuse_if_any()
    setup: Setup
    setup, made = Setup.get_or_create(
        toolhead=toolhead,
        nozzle=nozzle,
        filament=filament,
        surface=surface,
        defaults={"created_at": work.now, "spool": spool, "purpose": form.purpose.value},
    )
    # The same parts once more are the same setup: it comes back, with this spool and for this purpose.
    if not made:
        _log_new_spool(work, setup, spool)
        Setup.update(removed_at=None, spool=spool, purpose=form.purpose.value, version=Setup.version + 1).where(
            Setup.id == setup.id
        ).execute()
    return setup_out(get_setup(setup.id))


def _log_new_spool(work: Work, setup: Setup, spool: Spool | None) -> None:
    """A newer spool takes the place of another of the same filament: a change, logged once; going back is none."""
    if spool is None or setup.spool_id is None or spool.id <= setup.spool_id:
        return
    note = f"Spool {spool.name} put on."
    kind = Change.SPOOL_SAME.value
    same = (LoggedChange.filament == spool.filament_id) & (LoggedChange.kind == kind) & (LoggedChange.note == note)
    if LoggedChange.select().where(same).exists():
        return
    LoggedChange.create(
        filament=spool.filament_id, kind=kind, note=note, happened_at=work.now, person=work.person(), logged_at=work.now
    )


def _head_name(toolhead_id: int) -> str:
    head = Toolhead.select(Toolhead, Machine).join(Machine).where(Toolhead.id == toolhead_id).get()
    name: str = head.machine.name
    return name
