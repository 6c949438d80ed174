"""The start form of a heat check."""

from __future__ import annotations

from typing import Final, Literal

from ubrex.core.chain import Kind
from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import Unit, parse_entry
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations.heat import _words as words
from ubrex.server.calibrations.heat._limits import NEAREST_LIMIT_C, hottest_c
from ubrex.server.calibrations.heat._run import HeatInputs
from ubrex.server.calibrations.heat._tests import first_test
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import choice_field, number_field
from ubrex.server.profile import Tuned
from ubrex.server.store.records import RoomReading
from ubrex.server.views.forms import FieldOut

USUAL_SETS_C: Final = (150.0, 200.0, 250.0)
"""Set temperatures that are asked for, as far as the hotend may go (rules, L)."""

COOLEST_SET_C, MOST_SETS = 100.0, 5


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before a probe is seated."""
    top = hottest_c(tuned)
    sets = [celsius for celsius in USUAL_SETS_C if celsius < top - NEAREST_LIMIT_C]
    if sets[-1] < top - 4 * NEAREST_LIMIT_C:
        sets.append(top - NEAREST_LIMIT_C)
    room = RoomReading.select().order_by(RoomReading.id.desc()).first()
    hotend = tuned.setup.toolhead.hotend_id
    second = next((key for key, method in _AFTER.items() if first_test(hotend, method) is not None), "first")
    return [
        choice_field("contact", words.CONTACT, words.CONTACTS, "4", words.CONTACT_HINT),
        FieldOut(
            name="sets", label=words.SETS, kind="text", value=words.sets_said(sets), unit="°C", hint=words.SETS_HINT
        ),
        number_field("room", words.ROOM, "°C", "", words.room_hint(room and room.temperature_c, room and room.at)),
        number_field("cold", words.COLD, "°C", "", words.COLD_HINT),
        choice_field("second", words.SECOND, words.SECONDS, second, words.SECOND_HINT),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    typed, fields = form.typed, form.fields
    sets = _read_sets(typed.get("sets", ""), hottest_c(form.tuned))
    if sets is None:
        fields.add(FieldProblem("sets", "not_temperatures", words.SETS_WRONG))
    room = fields.number(
        "room",
        typed.get("room", ""),
        what=words.ROOM,
        low=-10,
        high=60,
        why="rooms are 0 to 40 °C warm",
        unit=Unit.CELSIUS,
    )
    cold = None
    # It may be left out; a wrong one is asked about all the same.
    if typed.get("cold", "").strip():
        cold = fields.number(
            "cold",
            typed["cold"],
            what=words.COLD,
            low=-30,
            high=100,
            why="a cold machine is as warm as its room",
            unit=Unit.CELSIUS,
        )
    # A second test is held against the last one of this hotend by the method that it follows.
    second = typed.get("second", "first")
    first = first_test(form.tuned.setup.toolhead.hotend_id, _AFTER.get(second, "heat_probe"))
    if second not in _SECONDS or typed.get("contact", "4") not in words.CONTACTS:
        fields.add(FieldProblem("second", "unknown", words.CHOOSE))
    if second != "first" and first is None:
        fields.add(FieldProblem("second", "no_first", words.NO_FIRST))
    if fields.any or sets is None or room is None:
        return None
    checked = form.tuned.values.get(Kind.HEAT_BIAS)
    contact = typed.get("contact", "4")
    inputs = HeatInputs(
        current=None if checked is None else checked.number, asked=2 * len(sets), sets=sets,
        contact_pct=float(contact), room_c=room, cold_c=cold, second=_SECONDS[second],
        confirms=first.id if first is not None and second != "first" else None,
    )  # fmt: skip
    return Begun(inputs=inputs)


_SECONDS: Final[dict[str, Literal["first", "reseated", "other", "push"]]] = {
    "first": "first", "reseated": "reseated", "other": "other", "push": "push",
}  # fmt: skip

_AFTER: Final = {"reseated": "heat_probe", "push": "heat_push"}
"""Which method the test was made by that a second one follows."""


def _read_sets(text: str, top_c: float) -> list[float] | None:
    """Set temperatures as typed, rising; None where they cannot be."""
    try:
        found = [parse_entry(part.strip(), Unit.CELSIUS) for part in text.replace("/", ";").split(";") if part.strip()]
    except UnreadableEntry:
        return None
    fits = 1 <= len(found) <= MOST_SETS and all(COOLEST_SET_C <= one <= top_c for one in found)
    return sorted(set(found)) if fits else None
