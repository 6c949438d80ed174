"""The air the machines stand in: as it was read, and for how long that says anything."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Final

from ubrex.core.judge import Entry, judge_entered
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.desk import TypedFields, Work
from ubrex.server.store.records import Person, RoomReading
from ubrex.server.views.workshop import RoomIn, RoomOut
from ubrex.server.words import records as said
from ubrex.server.words.exports import both_units
from ubrex.server.words.numbers import ago, plain
from ubrex.server.workshop._forms import ask

ROOM_HOLDS: Final = timedelta(days=2)
"""A room that was read longer before something says nothing of it (E)."""


def rooms_read() -> list[RoomReading]:
    """All readings, oldest first."""
    return list(RoomReading.select().order_by(RoomReading.at, RoomReading.id))


def room_at(rooms: Sequence[RoomReading], moment: datetime) -> RoomReading | None:
    """The air at a moment, as it was read last before; None where that was too long before. ``rooms``: oldest first."""
    return _near(next((one for one in reversed(rooms) if one.at <= moment), None), moment)


def room_before(moment: datetime) -> RoomReading | None:
    """The same, where one moment alone is asked about."""
    rows = RoomReading.select().where(RoomReading.at <= moment)
    return _near(rows.order_by(RoomReading.at.desc(), RoomReading.id.desc()).first(), moment)


def _near(row: RoomReading | None, moment: datetime) -> RoomReading | None:
    return row if row is not None and moment - row.at <= ROOM_HOLDS else None


def show_room(work: Work) -> RoomOut:
    """The air as it was read last."""
    row = RoomReading.select(RoomReading, Person).join(Person).order_by(RoomReading.id.desc()).first()
    if row is None:
        return RoomOut(sentence=said.ROOM_UNREAD, temperature="", humidity="", draught=False, detail="")
    damp = "" if row.humidity_pct is None else f"{decimal_text(row.humidity_pct, 0)} % damp"
    draughty = said.DRAUGHTY if row.draught else ""
    when = ago((work.now - row.at).total_seconds() / 86400)
    return RoomOut(
        sentence=f"{', '.join(filter(None, (both_units(row.temperature_c), damp)))}{draughty}; {when}, {row.person.name}",
        temperature=decimal_text(row.temperature_c, 1),
        humidity="" if row.humidity_pct is None else plain(row.humidity_pct),
        draught=row.draught,
        detail=damp if work.now - row.at <= ROOM_HOLDS else said.room_read_said(when),
    )


def read_room(work: Work, form: RoomIn) -> RoomOut:
    """Write down the air the machines stand in; °F may be typed."""
    person = work.person()
    fields = TypedFields()
    temperature = fields.number(
        "temperature", form.temperature, what=said.ROOM, low=-20, high=60, why=said.ROOM_WHY, unit=Unit.CELSIUS
    )
    humidity = None
    if form.humidity.strip():
        humidity = fields.number(
            "humidity", form.humidity, what=said.HUMIDITY, low=0, high=100, why=said.HUMIDITY_WHY, unit=Unit.PERCENT
        )
    for field, entry, number, unit in (
        ("temperature", Entry.ROOM, temperature, "°C"),
        ("humidity", Entry.HUMIDITY, humidity, "%"),
    ):
        if number is not None and field not in form.as_typed:
            ask(judge_entered(entry, number, None), field, unit, fields)
    fields.refuse_if_any()
    RoomReading.create(
        temperature_c=temperature, humidity_pct=humidity, draught=form.draught, at=work.now, person=person
    )
    return show_room(work)
