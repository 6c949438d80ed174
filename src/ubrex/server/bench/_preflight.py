"""The card before a print, for the setup as it stands: nothing is read out as good that the bench calls otherwise."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import KINDS, Change, Kind, Standing
from ubrex.core.judge import Finding, gravest_first, judge_parts, judge_spool
from ubrex.core.materials import Hazard, caution, family
from ubrex.core.quantity import decimal_text
from ubrex.server.bench._tonight import tonight_standing
from ubrex.server.desk import Work
from ubrex.server.faults import holds_of
from ubrex.server.profile import (
    DAY_S,
    SAFETY_CHANGES,
    Standings,
    alone_said,
    dry_rows,
    dryness_of,
    hours_since_dried,
    judged_values,
    numbers_of,
    said_of,
    standing_of,
    usual_said_on,
)
from ubrex.server.store.facts import fetch_on_spools, fetch_wear
from ubrex.server.store.records import RoomReading
from ubrex.server.views.base import CautionOut
from ubrex.server.views.bench import PreflightOut
from ubrex.server.words import preflight as words
from ubrex.server.words.changes import change_said
from ubrex.server.words.exports import both_units
from ubrex.server.words.judgement import finding_said, told_said
from ubrex.server.words.numbers import ago
from ubrex.server.words.standing import DANGERS
from ubrex.server.workshop import PLATE_COUNTER, get_setup, setup_out

_BELIEVED: Final = frozenset({Standing.FRESH, Standing.AGEING, Standing.ASSUMED})
"""Standings of a number that is read out without a word."""

_READ_OUT: Final = (
    Kind.NOZZLE_FIRST, Kind.NOZZLE, Kind.BED_FIRST, Kind.BED, Kind.FLOW, Kind.RETRACTION, Kind.FAN, Kind.FAN_BRIDGE,
    Kind.SPEED_OUTER, Kind.LINE_WIDTH, Kind.LAYER,
)  # fmt: skip
"""Numbers that a sliced file is looked through for."""

_ATTENDED: Final = (*SAFETY_CHANGES, Change.BLOCKAGE, Change.HOTEND, Change.TOOLHEAD_SWAPPED)
"""Work after which somebody stays for the whole of the next job."""


def show_preflight(work: Work, setup_id: int) -> PreflightOut:
    """Eight ticks for a setup, and what stands before them."""
    setup = get_setup(setup_id)
    found = standing_of(setup, work.now)
    room = RoomReading.select().order_by(RoomReading.id.desc()).first()
    # Nothing is claimed of a room that nobody has looked at.
    draught = room is not None and room.draught
    room_days = 0.0 if room is None else (work.now - room.at).total_seconds() / 86400
    scene = words.Scene(
        family=family(setup.filament.family),
        spool=words.spool_said(setup.filament.name, None if setup.spool is None else setup.spool.name),
        numbers=_numbers(found),
        plate=_plate(found, work),
        adhesive="" if setup.surface is None else setup.surface.adhesive,
        adhesive_purpose="none" if setup.surface is None else setup.surface.adhesive_purpose,
        dried=_dry(found, work),
        dryness=dryness_of(setup, dry_rows(setup), work.now),
        fan=_own(found, Kind.FAN),
        bridges=_own(found, Kind.FAN_BRIDGE),
        enclosure=setup.toolhead.machine.enclosure,
        draught=draught,
        room="" if room is None else f"{both_units(room.temperature_c)} {ago(room_days)}",
        left=_left(found),
        alone=alone_said(found, file_harmless=False),
    )
    parts = judge_parts(
        found.parts,
        numbers_of(found.values),
        draught=draught,
        humidity_pct=None if room is None else room.humidity_pct,
        room_days_ago=room_days,
        fan_in_doubt=found.fan_in_doubt,
    )
    return PreflightOut(
        setup=setup_out(setup),
        holds=[
            *(words.hold_said(DANGERS[danger]) for danger in found.held),
            *map(words.hold_said, holds_of(setup.toolhead.machine)),
            *_first_job(found, work),
            *_not_good(found),
            *map(told_said, gravest_first(parts)),
        ],
        ticks=[CautionOut(lead=row.lead, text=row.text) for row in words.ticks(scene)],
        cautions=[CautionOut(lead=row.lead, text=row.text) for row in map(caution, (Hazard.SOLVENTS, Hazard.USE))],
    )


def _first_job(found: Standings, work: Work) -> list[str]:
    """Work since the last print that somebody has to stay for."""
    printed_s, now_s = found.last_print_s or 0.0, work.now.timestamp()
    rows = [(change, at_s) for change in _ATTENDED if (at_s := found.done_at_s(change)) is not None]
    return [
        words.first_job_said(change_said(change, (now_s - at_s) / DAY_S))
        for change, at_s in sorted(rows, key=lambda row: -row[1])
        if at_s > printed_s
    ]


def _not_good(found: Standings) -> list[str]:
    """Numbers that the bench does not let pass, by the word it has for them; and what is said against those that pass."""
    judged = judged_values(found)
    refused: dict[str, list[str]] = {}
    rows = []
    for kind in _READ_OUT:
        value, findings = found.values.get(kind), judged.get(kind, [])
        if value is None:
            continue
        now, word = tonight_standing(kind, value, found, findings)
        if now in _BELIEVED:
            rows += [told_said(one) for one in findings]
        else:
            number = decimal_text(value.number, KINDS[kind].places)
            refused.setdefault(word, []).append(words.number_said(kind, number, said_of(findings)))
    return [*(words.not_good_said(word, numbers) for word, numbers in refused.items()), *rows]


def _numbers(found: Standings) -> str:
    """What the sliced file has to say: as set, and true where the hotend is known to differ; unset is said to be unset."""
    rows = []
    for first, rest in ((Kind.NOZZLE_FIRST, Kind.NOZZLE), (Kind.BED_FIRST, Kind.BED)):
        shown = [found.values.get(first), found.values.get(rest)]
        if shown == [None, None]:
            rows.append(words.unset_said(rest, usual_said_on(found, rest)))
            continue
        bias = found.parts.trusted_bias_c if rest is Kind.NOZZLE else 0.0
        numbers = [None if value is None else value.number for value in shown]
        rows.append(words.heat_said(rest, numbers[0], numbers[1], bias))
    return words.joined(rows)


def _own(found: Standings, kind: Kind) -> float | None:
    value = found.values.get(kind)
    return None if value is None else value.number


def _plate(found: Standings, work: Work) -> str:
    surface, washed = found.setup.surface, found.done_at_s(Change.PLATE_WASHED)
    when = None if washed is None else ago((work.now.timestamp() - washed) / DAY_S)
    prints = 0.0 if surface is None else fetch_wear(found.setup, [PLATE_COUNTER])[PLATE_COUNTER[0]][0].amount
    return words.plate_said(None if surface is None else surface.name, when, round(prints))


def _dry(found: Standings, work: Work) -> str:
    return words.dried_said(hours_since_dried(found.setup, dry_rows(found.setup), work.now))


def spool_findings(found: Standings, need_g: float | None) -> list[Finding]:
    """Whether the spool of a setup is enough."""
    spool = found.setup.spool
    if spool is None:
        return judge_spool(left_g=None, weighed=False, full_g=0.0)
    row = fetch_on_spools([spool.id])[spool.id]
    return judge_spool(
        left_g=row.left_g, weighed=row.weighed, full_g=spool.full_g, need_g=need_g, tube=not found.parts.direct
    )


def _left(found: Standings) -> str:
    """What is on the spool, as far as anybody knows."""
    spool = found.setup.spool
    findings = [finding_said(one) for one in spool_findings(found, None)]
    if spool is None:
        return words.NO_SPOOL
    if findings:
        return "; ".join(findings)
    row = fetch_on_spools([spool.id])[spool.id]
    return words.left_on_said(row.left_g, row.printed_g)
