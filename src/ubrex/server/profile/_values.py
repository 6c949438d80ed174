"""Values and revisions: written once, at the level they belong to, never changed."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from peewee import fn

from ubrex.core.calibrate import diameter_ratio, feed_ratio
from ubrex.core.chain import KINDS, SHOWN_HERE, Belongs, Kind, Origin
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.desk import Work
from ubrex.server.profile._evidence import select_values
from ubrex.server.store.database import database
from ubrex.server.store.facts import ValueRow
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Revision, RevisionValue, Run, Setup, Surface, Toolhead, TunedValue
from ubrex.server.words.values import diameter_said, rescaled_said
from ubrex.server.workshop import get_setup, owners, scope_keys, select_setups

VALUES_LOCK: Final = 0x0B4F
"""Key of the advisory lock that lets one write of values happen at a time."""


def _newest(kind: str, toolhead_id: int) -> Any:
    return (
        select_values()
        .where(TunedValue.kind == kind, TunedValue.toolhead == toolhead_id)
        .order_by(TunedValue.id.desc())
        .limit(1)
    )


def _of_head(toolhead_id: int, hotend_id: int) -> Any:
    esteps = (TunedValue.kind == Kind.E_STEPS.value) & (TunedValue.toolhead == toolhead_id)
    heat = (TunedValue.kind == Kind.HEAT_BIAS.value) & (TunedValue.hotend == hotend_id)
    newest_value = TunedValue.select(fn.MAX(TunedValue.id)).where(esteps | heat).group_by(TunedValue.kind)
    return TunedValue.select().where(TunedValue.id.in_(newest_value))


_NEWEST: Final[Prepared[TunedValue]] = Prepared(_newest)
_OF_HEAD: Final[Prepared[TunedValue]] = Prepared(_of_head)


def newest_esteps(toolhead_id: int) -> TunedValue | None:
    """The e-steps a toolhead is recorded to run with."""
    return _NEWEST.first(Kind.E_STEPS.value, toolhead_id)


def newest_of_head(head: Toolhead) -> dict[Kind, TunedValue]:
    """The e-steps of a toolhead and the heat check of its hotend, as far as there are any."""
    return {Kind(value.kind): value for value in _OF_HEAD.rows(head.id, head.hotend_id)}


@dataclass(frozen=True, slots=True, kw_only=True)
class NewValue:
    """A value to write, at the level its kind belongs to."""

    kind: Kind
    number: float
    unit: Unit
    origin: Origin
    half_width_95: float | None = None
    run_id: int | None = None
    decision_id: int | None = None
    restored_from_id: int | None = None
    carried_from_id: int | None = None
    beside: float | None = None
    note: str = ""


def write_values(
    work: Work,
    setup: Setup,
    new: Sequence[NewValue],
    *,
    cause: str,
    note: str,
    from_number: int | None = None,
    stay: Collection[Kind] = (),
) -> None:
    """Write values of a setup, what follows from them, and a revision for every setup they are true for.

    ``from_number``: the revision of this very setup that is gone back to. ``stay``: kinds that are right beside the new
    values as they are, so that new e-steps do not rescale them. The caller holds the values (``lock_values``).
    """
    before, thick = newest_esteps(setup.toolhead_id), _diameter(setup)
    written = {_create(work, setup, value).id for value in new}
    after, thin = newest_esteps(setup.toolhead_id), _diameter(setup)
    touched = {setup.id: setup} | {
        row.id: row for value in new for row in _sharing(setup, KINDS[value.kind].belongs) if row.removed_at is None
    }
    if before is not None and after is not None and before.id != after.id and before.unit == after.unit:
        ratio, done = 1 / feed_ratio(before.number, after.number, Unit(after.unit)), set(written)
        for row in touched.values():
            kinds = _moving(row, setup, stay)
            done |= _rescale_flow(
                work, row, kinds, ratio, done, lambda flow: rescaled_said(flow, before.number, after.number)
            )
    if thick != thin:
        ratio, done = 1 / diameter_ratio(thick, thin), set(written)
        for row in touched.values():
            kinds = _moving(row, setup, stay)
            done |= _rescale_flow(work, row, kinds, ratio, done, lambda flow: diameter_said(flow, thick, thin))
    for row in touched.values():
        _write_revision(work, row, cause=cause, note=note, from_number=from_number if row.id == setup.id else None)


def _create(work: Work, setup: Setup, value: NewValue) -> TunedValue:
    own = owners(value.kind, setup)
    replaced = (
        TunedValue.select(TunedValue.id)
        .where(
            TunedValue.kind == value.kind.value, *(getattr(TunedValue, column) == key for column, key in own.items())
        )
        .order_by(TunedValue.id.desc())
        .first()
    )
    created: TunedValue = TunedValue.create(
        kind=value.kind.value,
        number=value.number,
        unit=value.unit.value,
        half_width_95=value.half_width_95,
        origin=value.origin.value,
        run=value.run_id,
        decision=value.decision_id,
        restored_from=value.restored_from_id,
        replaces=replaced,
        carried_from=value.carried_from_id,
        beside=value.beside,
        note=value.note,
        person=work.person(),
        at=work.now,
        **own,
    )
    return created


def _sharing(setup: Setup, belongs: frozenset[Belongs]) -> list[Setup]:
    """Setups in use that a value with this home is true for as well."""
    conditions = {
        Belongs.MACHINE: Toolhead.machine == setup.toolhead.machine_id,
        Belongs.TOOLHEAD: Setup.toolhead == setup.toolhead_id,
        Belongs.HOTEND: Toolhead.hotend == setup.toolhead.hotend_id,
        Belongs.NOZZLE: Setup.nozzle == setup.nozzle_id,
        Belongs.SURFACE: Setup.surface == setup.surface_id,
        Belongs.FILAMENT: Setup.filament == setup.filament_id,
    }
    return list(
        select_setups().where(Setup.removed_at.is_null(), *(conditions[thing] for thing in belongs)).order_by(Setup.id)
    )


FLOWS: Final = (Kind.FLOW, Kind.FLOW_THIN, Kind.FLOW_SOLID)


def _diameter(setup: Setup) -> float:
    """Diameter of the filament [mm] that the slicing program is recorded to hold."""
    return diameter_of(setup, newest_value(Kind.DIAMETER, setup))


def diameter_of(setup: Setup, value: ValueRow | TunedValue | None) -> float:
    """Diameter of the filament [mm] with this value for it: its stated one where there is none."""
    return setup.filament.diameter_mm if value is None else value.number


def _moving(setup: Setup, written: Setup, stay: Collection[Kind]) -> list[Kind]:
    """Flows of a setup that new e-steps move: not those that ``written`` has too and that are to stay."""
    return [kind for kind in FLOWS if kind not in stay or owners(kind, setup) != owners(kind, written)]


def _rescale_flow(
    work: Work, setup: Setup, kinds: Sequence[Kind], ratio: float, done: Collection[int], note: Callable[[float], str]
) -> set[int]:
    """Give a setup the flow that feeds as much as before: otherwise one error is corrected twice.

    ``done``: values that were written beside, or have been moved for a setup that shares them. Returns what was written.
    """
    written: set[int] = set()
    if ratio == 1:
        return written
    for kind in kinds:
        flow = newest_value(kind, setup)
        if flow is None or flow.id in done:
            continue
        shown_here = Origin(flow.origin) in SHOWN_HERE
        value = NewValue(
            kind=kind,
            number=flow.number * ratio,
            unit=Unit.PERCENT,
            half_width_95=None if flow.half_width_95 is None else flow.half_width_95 * ratio,
            origin=Origin.RESCALED if shown_here else Origin(flow.origin),
            run_id=flow.run_id,
            carried_from_id=flow.id,
            note=note(flow.number),
        )
        written.add(_create(work, setup, value).id)
    return written


def newest_heat(setup: Setup) -> TunedValue | None:
    """The heat check of a setup's hotend."""
    return newest_of_head(setup.toolhead).get(Kind.HEAT_BIAS)


def value_at(kind: Kind, setup: Setup, moment: datetime) -> TunedValue | None:
    """The value of this kind that a setup was recorded to run with at a moment."""
    value: TunedValue | None = (
        TunedValue.select()
        .where(
            TunedValue.kind == kind.value,
            TunedValue.at <= moment,
            *(getattr(TunedValue, column) == key for column, key in owners(kind, setup).items()),
        )
        .order_by(TunedValue.id.desc())
        .first()
    )
    return value


def old_setting_of(value: ValueRow) -> float | None:
    """What a machine held before e-steps that were measured on it, as the run read it; None where no run says so."""
    run = None if value.run_id is None else Run.get_or_none(Run.id == value.run_id)
    return None if run is None or run.inputs.get("unit") != value.unit else run.inputs.get("current")


def newest_revision(setup_id: int) -> int | None:
    """Number of the newest revision of a setup."""
    number: int | None = Revision.select(fn.MAX(Revision.number)).where(Revision.setup == setup_id).scalar()
    return number


def newest_value(kind: Kind, setup: Setup) -> TunedValue | None:
    """The value of this kind that a setup runs with."""
    value: TunedValue | None = (
        select_values()
        .where(
            TunedValue.kind == kind.value,
            *(getattr(TunedValue, column) == key for column, key in owners(kind, setup).items()),
        )
        .order_by(TunedValue.id.desc())
        .first()
    )
    return value


def _write_revision(work: Work, setup: Setup, *, cause: str, note: str, from_number: int | None) -> None:
    """The values a setup has now, as its next revision."""
    scopes = list(scope_keys(setup).values())
    ids = [
        row[0]
        for row in database.execute_sql(
            "SELECT DISTINCT ON (kind) id FROM tuned_value WHERE scope = ANY(%s) ORDER BY kind, id DESC", (scopes,)
        )
    ]
    revision = Revision.create(
        setup=setup,
        number=(newest_revision(setup.id) or 0) + 1,
        cause=cause,
        from_number=from_number,
        note=note,
        person=work.person(),
        at=work.now,
    )
    RevisionValue.insert_many([{"revision": revision, "value": key} for key in ids]).execute()


@dataclass(frozen=True, slots=True)
class OtherStack:
    """The offset of another surface under the same nozzle, and by how much this one's stack is thinner [mm]."""

    name: str
    offset_mm: float
    thinner_mm: float


def other_stack(setup: Setup) -> OtherStack | None:
    """The newest offset of another surface of the machine under this nozzle, where both stacks are on record."""
    surface = setup.surface
    if surface is None or surface.stack_mm is None:
        return None
    value = (
        TunedValue.select(TunedValue, Surface)
        .join(Surface, on=(TunedValue.surface == Surface.id))
        .where(
            TunedValue.kind == Kind.Z_OFFSET.value,
            TunedValue.machine == setup.toolhead.machine_id,
            TunedValue.nozzle == setup.nozzle_id,
            Surface.id != surface.id,
            Surface.stack_mm.is_null(False),
        )
        .order_by(TunedValue.id.desc())
        .first()
    )
    if value is None:
        return None
    return OtherStack(value.surface.name, value.number, value.surface.stack_mm - surface.stack_mm)


def lock_values() -> None:
    """Let one write of values happen at a time: a value is shared by setups of several machines, and what follows from one
    is read before it is written.
    """
    database.execute_sql("SELECT pg_advisory_xact_lock(%s)", (VALUES_LOCK,))


def recorded_setting(_work: Work, setup_id: int) -> str:
    """The e-steps a setup is recorded to run with, as its machine holds them; empty if there are none."""
    setup = get_setup(setup_id)
    recorded = newest_esteps(setup.toolhead_id)
    return "" if recorded is None else decimal_text(recorded.number, setup.toolhead.machine.setting_places)


def revision_with(value_ids: Sequence[int]) -> Revision | None:
    """The revision that first held one of some values; None where none does."""
    found: Revision | None = (
        Revision.select(Revision)
        .join(RevisionValue, on=(RevisionValue.revision == Revision.id))
        .where(RevisionValue.value.in_(value_ids))
        .order_by(Revision.id)
        .first()
    )
    return found


def revisions_after(revision: Revision) -> list[Revision]:
    """What was written of a setup after one of its revisions."""
    later = (Revision.setup == revision.setup_id, Revision.number > revision.number)
    return list(Revision.select().where(*later).order_by(Revision.number))
