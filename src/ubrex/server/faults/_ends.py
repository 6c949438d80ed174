"""How a case was closed and opened again, and what it was seen on last."""

from __future__ import annotations

from datetime import datetime

from peewee import JOIN, Expression

from ubrex.server.store.records import Fault, FaultAnswer, FaultAnswerOff, FaultEnd


def ended(row: Fault) -> FaultEnd | None:
    """How a case was closed; None for one that is open."""
    last = _newest(row)
    return last if last is not None and last.closed else None


def opened_again(row: Fault) -> FaultEnd | None:
    """A case as it came again last: after it was closed, or after a remedy it was gone with."""
    gone, again, before = _gone(row), None, FaultEnd(closed=False, at=row.at)
    for end in FaultEnd.select().where(FaultEnd.fault == row.id).order_by(FaultEnd.id):
        if not end.closed and (before.closed or any(before.at <= at <= end.at for at in gone)):
            again = end
        before = end
    return again


def was_gone(row: Fault) -> bool:
    """Whether a remedy had it gone since the case was opened, or opened again."""
    again = opened_again(row)
    return any(at >= (again or row).at for at in _gone(row))


def _gone(row: Fault) -> list[datetime]:
    answers = (
        FaultAnswer.select(FaultAnswer.at)
        .join(FaultAnswerOff, JOIN.LEFT_OUTER, on=(FaultAnswerOff.answer == FaultAnswer.id))
        .where(
            FaultAnswer.fault == row.id, FaultAnswer.kind == "remedy", FaultAnswer.answer == "gone",
            FaultAnswerOff.answer.is_null(),
        )
    )  # fmt: skip
    return [one.at for one in answers]


def seen_again(row: Fault) -> FaultEnd | None:
    """The newest time that somebody saw it again, whether the case was open or not."""
    return _newest(row, ~FaultEnd.closed)


def seen_on(row: Fault) -> Fault | FaultEnd:
    """What a case was seen on last: an attempt, a place on the part. One that only came again is where it was before."""
    told = (FaultEnd.print.is_null(False)) | (FaultEnd.layer.is_null(False)) | (FaultEnd.height_mm.is_null(False))
    return _newest(row, told) or row


def _newest(row: Fault, *asked: Expression) -> FaultEnd | None:
    last: FaultEnd | None = (
        FaultEnd.select().where(FaultEnd.fault == row.id, *asked).order_by(FaultEnd.id.desc()).first()
    )
    return last
