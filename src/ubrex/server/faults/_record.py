"""What the record knows of a fault: what was done since it was good, how old things are, what is outside the usual."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Final

from ubrex.core.chain import Change, Kind, Standing, Step, Wearing
from ubrex.core.judge import Code
from ubrex.core.materials import family
from ubrex.server.desk import Work
from ubrex.server.faults._spool_facts import spool_facts
from ubrex.server.profile import Standings, judged_values, standing_of
from ubrex.server.store.facts import ChangeRow, fetch_changes
from ubrex.server.store.records import Fault, FaultEnd, Print
from ubrex.server.words import faults as words
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.numbers import day, plain
from ubrex.server.workshop import room_before, show_counters

MOST_CHANGES: Final = 200
JAMS_WITHIN: Final = timedelta(days=14)
JAMS: Final = 2
"""So many stops before this one, within two weeks, are no chance (diagnosis, 2)."""

COLD_C: Final = 18.0

CHANGED: Final[Mapping[str, frozenset[Change]]] = {
    "r_nozzle": frozenset({
        Change.NOZZLE_SAME, Change.NOZZLE_OTHER, Change.HOTEND, Change.HEATER_SENSOR, Change.SOCK, Change.TOOLHEAD,
    }),
    "r_tube": frozenset({Change.FEED_TUBE}),
    "r_gear": frozenset({Change.EXTRUDER, Change.GEAR_TENSION}),
    "r_plate": frozenset({Change.SURFACE_OTHER, Change.PLATE_TWIN, Change.PLATE_WASHED}),
    "r_firmware": frozenset({Change.FIRMWARE}),
    "r_program": frozenset({Change.SLICING_PROGRAM, Change.LINE_SHAPE}),
    "r_spool": frozenset({Change.SPOOL_SAME, Change.COLOUR_OTHER, Change.FILAMENT_OTHER}),
    "r_speed": frozenset({Change.MELT_RATE, Change.ACCELERATION}),
    "r_moved": frozenset({Change.MOVED, Change.CRASH, Change.FRAME, Change.MECHANICS, Change.PROBE}),
}  # fmt: skip
"""Which work answers which question."""

WORN: Final[Mapping[str, frozenset[Wearing]]] = {
    "r_wash": frozenset({Wearing.PLATE}),
    "r_wear": frozenset({Wearing.NOZZLE, Wearing.NOZZLE_ABRASIVE}),
    "r_hours": frozenset({Wearing.TUBE, Wearing.BELTS, Wearing.FAN}),
}
"""Which counters answer which question."""


BENCH, TIMELINE, PARTS = "/", "/profiles", "/machines"
"""Where entries stand: values and room, changes, counters."""


@dataclass(frozen=True, slots=True)
class Fact:
    """A finding that the record answers, the entry it rests on, and the screen where that stands."""

    finding: str
    answer: str
    text: str
    to: str = BENCH


def facts_of(work: Work, fault: Fault, seen: Fault | FaultEnd, opened: Fault | FaultEnd) -> list[Fact]:
    """Everything on record that tells something. What was done after the fault began cannot be its cause.

    ``seen``: what it was seen on last; ``opened``: the case, or how it came again after it was gone.
    """
    setup = fault.setup
    began = opened.at if opened.print is None else opened.print.happened_at
    good = (
        Print.select()
        .where(Print.setup == setup.id, Print.standing(), Print.outcome == "good", Print.happened_at < began)
        .order_by(Print.happened_at.desc())
        .first()
    )
    changes = [row for row in fetch_changes(setup, MOST_CHANGES) if not row.withdrawn and row.at_s <= began.timestamp()]
    found = [] if good is None else _changed(changes, good.happened_at)
    found += _jams(changes, began)
    standings = standing_of(setup, work.now)
    fed = [Fact(*told) for told in spool_facts(work, fault, seen.print, standings, began)]
    return [*found, *_worn(work, setup.id), *_standing(standings), *_values(standings), *fed, *_room(began)]


def _changed(changes: list[ChangeRow], good: datetime) -> list[Fact]:
    found = []
    for finding, kinds in CHANGED.items():
        rows = [row for row in changes if row.at_s > good.timestamp() and Change(row.kind) in kinds]
        if rows:
            newest = rows[0]
            said = CHANGES[Change(newest.kind)].name
            when = day(datetime.fromtimestamp(newest.at_s, good.tzinfo))
            found.append(Fact(finding, "yes", f"{said}, {when}", TIMELINE))
        else:
            found.append(Fact(finding, "no", words.unchanged_said(finding, day(good)), TIMELINE))
    return found


def _jams(changes: list[ChangeRow], began: datetime) -> list[Fact]:
    since = (began - JAMS_WITHIN).timestamp()
    rows = [row for row in changes if row.at_s > since and Change(row.kind) is Change.BLOCKAGE]
    if len(rows) < JAMS:
        return []
    return [Fact("r_jams", "yes", words.jams_said(len(rows)), TIMELINE)]


def _worn(work: Work, setup_id: int) -> list[Fact]:
    due = {row.part: row for row in show_counters(work, setup_id).counters if row.due}
    found = []
    for finding, parts in WORN.items():
        rows = [due[part] for part in parts if part in due]
        if rows:
            found.append(Fact(finding, "yes", f"{rows[0].name}: {rows[0].used}", PARTS))
    return found


_SOUND: Final = frozenset({Standing.FRESH, Standing.AGEING})


def _standing(standings: Standings) -> list[Fact]:
    found = []
    for step, finding, sound, other in (
        (Step.Z_OFFSET, "r_zstale", "no", "yes"),
        (Step.FLOW, "r_flow", "fresh", "stale or never measured"),
        (Step.HEAT, "r_heat", "fresh", "stale or never measured"),
    ):
        is_sound = standings.steps[step].standing in _SOUND
        found.append(Fact(finding, sound if is_sound else other, words.stands_said(step, is_sound=is_sound)))
    return found


_OUTSIDE: Final = frozenset({Code.OUTSIDE_LABEL, Code.OUTSIDE_FAMILY})


def _values(standings: Standings) -> list[Fact]:
    """Heat, plate and fan against label and family."""
    findings, found = judged_values(standings), []
    for kind, finding, sound in (
        (Kind.NOZZLE, "r_temp", "inside"),
        (Kind.BED, "r_bed", "no"),
        (Kind.FAN, "r_fan", "no"),
    ):
        value = standings.values.get(kind)
        if value is None:
            continue
        off = next((one for one in findings.get(kind, []) if one.code in _OUTSIDE), None)
        answer, said = sound, words.within_said(kind, plain(value.number))
        if off is not None and off.low is not None and off.high is not None:
            below = value.number < off.low
            said = words.outside_said(kind, plain(value.number), plain(off.low), plain(off.high))
            if kind is Kind.NOZZLE:
                answer = "below" if below else "above"
            elif kind is Kind.FAN or below:
                answer = "yes"
        found.append(Fact(finding, answer, said))
    return found


def _room(began: datetime) -> list[Fact]:
    row = room_before(began)
    if row is None:
        return []
    cold = row.temperature_c < COLD_C or row.draught
    said = words.room_said(plain(row.temperature_c), draught=row.draught, when=day(row.at))
    return [Fact("r_room", "yes" if cold else "no", said)]


def context_of(fault: Fault) -> list[str]:
    """What kind of machine and filament it is, as the knowledge of faults tells them apart."""
    setup = fault.setup
    machine, hotend, filament = setup.toolhead.machine, setup.toolhead.hotend, setup.filament
    row = family(filament.family)
    tags = {
        "direct" if machine.feed_path == "direct" else "tube": True,
        "allmetal" if hotend.liner == "all_metal" else "lined": True,
        "bed_moves": machine.kinematics == "moving_bed",
        "open" if machine.enclosure == "none" else "closed": True,
        "heated": machine.chamber_max_c is not None,
        "hygro": row.hygroscopic,
        "flex": filament.family == "tpu",
        "foam": row.foaming,
        "filled": "filled" in filament.flags,
        "glitter": "glitter" in filament.flags,
        "shrinky": filament.family in {"abs", "asa", "pc", "pa"},
        filament.family: filament.family in {"abs", "asa", "pc", "petg", "pla", "tpu"},
    }
    return sorted(tag for tag, there in tags.items() if there)
