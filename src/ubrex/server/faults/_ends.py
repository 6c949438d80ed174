"""How a case was closed and opened again, and what it was seen on last."""

from __future__ import annotations

from ubrex.server.store.records import Fault, FaultEnd


def ended(row: Fault) -> FaultEnd | None:
    """How a case was closed; None for one that is open."""
    last: FaultEnd | None = FaultEnd.select().where(FaultEnd.fault == row.id).order_by(FaultEnd.id.desc()).first()
    return last if last is not None and last.closed else None


def opened_again(row: Fault) -> FaultEnd | None:
    """A closed case as it was opened again last."""
    last: FaultEnd | None = (
        FaultEnd.select().where(FaultEnd.fault == row.id, ~FaultEnd.closed).order_by(FaultEnd.id.desc()).first()
    )
    return last


def seen_on(row: Fault) -> Fault | FaultEnd:
    """What a case was seen on last: an attempt, a place on the part. One that only came again is where it was before."""
    told = (FaultEnd.print.is_null(False)) | (FaultEnd.layer.is_null(False)) | (FaultEnd.height_mm.is_null(False))
    last: FaultEnd | None = FaultEnd.select().where(FaultEnd.fault == row.id, told).order_by(FaultEnd.id.desc()).first()
    return row if last is None else last
