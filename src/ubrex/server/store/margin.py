"""What the bench rests on, in one statement: where a setup stands, and beside it runs, notes, the room, the spool."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Final, NamedTuple

from ubrex.server.store.database import database
from ubrex.server.store.facts import CHANGES_SQL, FACTS_SQL, ChangeRow, facts_given
from ubrex.server.store.prepared import Long
from ubrex.server.store.records import Setup
from ubrex.server.store.trials import OPEN_TRIALS

MOST_DRY: Final = 12
"""Entries of a spool's log of wet and dry that are looked at: more of them are of another summer."""

_E_STEPS: Final = (
    "(SELECT {field} FROM tuned_value WHERE kind = 'e_steps' AND toolhead_id = %(head)s ORDER BY id DESC LIMIT 1)"
)

_MARGIN: Final = f"""
json_build_array(
{CHANGES_SQL},
(SELECT json_agg(json_build_array(r.id, r.step, r.state, r.inputs, date_part('epoch', r.started_at), p.name,
        d.action,
        (SELECT v.number FROM tuned_value v WHERE v.decision_id = d.id ORDER BY v.id LIMIT 1),
        (SELECT count(*) FROM reading x LEFT JOIN strike s ON s.reading_id = x.id WHERE x.run_id = r.id AND s.id IS NULL))
        ORDER BY r.id DESC)
    FROM (SELECT * FROM run WHERE setup_id = %(setup)s ORDER BY id DESC LIMIT %(most)s) r
    JOIN person p ON p.id = r.person_id LEFT JOIN decision d ON d.run_id = r.id),
(SELECT json_agg(json_build_array(n.text, p.name, date_part('epoch', n.at)) ORDER BY n.id DESC)
    FROM (SELECT * FROM note WHERE setup_id = %(setup)s ORDER BY id DESC LIMIT %(most)s) n
    JOIN person p ON p.id = n.person_id),
(SELECT json_build_array(v.number, v.cause, v.from_number, p.name, date_part('epoch', v.at))
    FROM revision v JOIN person p ON p.id = v.person_id WHERE v.setup_id = %(setup)s ORDER BY v.number DESC LIMIT 1),
(SELECT json_build_array(s.name, e.kind, e.number, e.second, date_part('epoch', e.at))
    FROM spool_entry e JOIN spool s ON s.id = e.spool_id
    WHERE s.filament_id = %(filament)s AND s.retired_at IS NULL AND e.kind IN ('drying', 'dried')
    ORDER BY e.at DESC, e.id DESC LIMIT 1),
(SELECT json_agg(json_build_array(e.kind, e.number, e.second, date_part('epoch', e.at)) ORDER BY e.at DESC, e.id DESC)
    FROM (SELECT * FROM spool_entry WHERE spool_id = %(spool)s AND kind IN ('wet_test', 'dried')
        ORDER BY at DESC, id DESC LIMIT {MOST_DRY}) e),
(SELECT json_agg(one.outcome = 'good' ORDER BY one.happened_at DESC) FROM (
    SELECT outcome, happened_at FROM print WHERE setup_id = %(setup)s
        AND id NOT IN (SELECT print_id FROM print_off) ORDER BY happened_at DESC LIMIT %(most)s) one),
(SELECT json_agg(date_part('epoch', c.happened_at)) FROM change c
    WHERE c.machine_id = ANY(%(machines)s) AND c.kind = 'blockage' AND c.id NOT IN (SELECT change_id FROM withdrawal)),
(SELECT json_build_array(draught, humidity_pct, date_part('epoch', at)) FROM room_reading ORDER BY id DESC LIMIT 1),
(SELECT json_build_array(r.id, r.method, r.inputs, i.resolution, i.max_permissible_error,
        (SELECT json_agg(json_build_array(x.typed, x.number, x.resolution, x.max_permissible_error) ORDER BY x.position)
            FROM reading x LEFT JOIN strike s ON s.reading_id = x.id WHERE x.run_id = r.id AND s.id IS NULL))
    FROM run r JOIN instrument i ON i.id = r.instrument_id WHERE r.id = {_E_STEPS.format(field="run_id")}),
(SELECT b.number FROM tuned_value v JOIN tuned_value b ON b.id = v.replaces_id
    WHERE v.id = {_E_STEPS.format(field="id")}),
(SELECT json_agg(json_build_array(t.kind, t.number) ORDER BY t.id)
    FROM {OPEN_TRIALS} AND t.reach = 'all'),
(SELECT max(id) FROM tuned_value), (SELECT max(id) FROM decision))
"""

_PARTS: Final = """
SELECT (s, t, (SELECT m FROM machine m WHERE m.id = t.machine_id), (SELECT h FROM hotend h WHERE h.id = t.hotend_id),
    (SELECT n FROM nozzle n WHERE n.id = s.nozzle_id), (SELECT f FROM filament f WHERE f.id = s.filament_id),
    (SELECT u FROM surface u WHERE u.id = s.surface_id), (SELECT p FROM spool p WHERE p.id = s.spool_id))::text
FROM setup s JOIN toolhead t ON t.id = s.toolhead_id WHERE s.id = %(setup)s
"""

_ALL: Final = Long(f"SELECT ({FACTS_SQL})::text, ({_MARGIN})::text, ({_PARTS})")


class RunRow(NamedTuple):
    """A run of a setup as a list shows it."""

    id: int
    step: str
    state: str
    inputs: dict[str, Any]
    started_s: float
    person: str
    action: str | None
    number: float | None
    counted: int


class NoteRow(NamedTuple):
    """A note on a setup."""

    text: str
    person: str
    at_s: float


class RevisionRow(NamedTuple):
    """The newest revision of a setup."""

    number: int
    cause: str
    from_number: int | None
    person: str
    at_s: float


class DryerRow(NamedTuple):
    """What was done last with a dryer to any spool of a filament: hours at °C."""

    spool: str
    kind: str
    hours: float
    celsius: float
    at_s: float


class DryRow(NamedTuple):
    """How dry a spool was found last: pops of a wet test, or hours it was dried, at °C."""

    kind: str
    number: float
    celsius: float | None
    at_s: float


class RoomRow(NamedTuple):
    """The air as it was read last."""

    draught: bool
    humidity_pct: float | None
    at_s: float


class TakenRow(NamedTuple):
    """A reading that counts."""

    typed: str
    number: float
    resolution: float
    max_permissible_error: float


class MeasuredRow(NamedTuple):
    """The run a value came from."""

    id: int
    method: str
    inputs: dict[str, Any]
    resolution: float
    max_permissible_error: float
    readings: list[TakenRow]


@dataclass(frozen=True, slots=True)
class MarginRows:
    """What stands beside the chain; ``measured`` and ``replaced`` are those of the e-steps.

    ``dry``: how dry the spool was found, ``outcomes``: whether prints came out well, both newest first. ``blocked_s``: when
    the machine was blocked. ``room``: as it was read last. ``trials``: kind and number of what is set for a trial alone, in
    the whole of a print. ``decided``: the newest value and decision of the workshop.
    """

    changes: list[ChangeRow]
    runs: list[RunRow]
    notes: list[NoteRow]
    revision: RevisionRow | None
    dryer: DryerRow | None
    dry: list[DryRow]
    outcomes: list[bool]
    blocked_s: list[float]
    room: RoomRow
    measured: MeasuredRow | None
    replaced: float | None
    trials: list[tuple[str, float]]
    decided: tuple[int | None, ...]


class Fetched(NamedTuple):
    """All that the bench rests on as text, which is compared before it is read; ``fact_rows`` and ``margin_rows`` read it.

    ``parts``: the setup with all that it consists of; None where there is no such setup.
    """

    facts: str
    margin: str
    parts: str | None


def fetch_parts(setup_id: int) -> str | None:
    """What a setup consists of, as text that another one is only if something of it was changed."""
    row = database.execute_sql(_PARTS, {"setup": setup_id}).fetchone()
    return None if row is None else row[0]


def fetch_all(
    setup: Setup, scopes: Sequence[str], followed: Sequence[str], read_back: Sequence[str], most: int
) -> Fetched:
    """All that the bench rests on, as of one moment; ``most``: of what was done, so many of each kind, newest first."""
    given = facts_given([setup], scopes, followed, read_back) | {
        "setup": setup.id,
        "head": setup.toolhead_id,
        "filament": setup.filament_id,
        "spool": setup.spool_id,
        "most": most,
    }
    return Fetched(*_ALL.first(given))


def margin_rows(columns: Sequence[Any]) -> MarginRows:
    """What stands beside the chain, from the array that was fetched with the facts."""
    changes, runs, notes, revision, dryer, dry, outcomes, blocked, room, measured, replaced, trials, *decided = columns
    found = None
    if measured is not None:
        taken = [TakenRow(*one) for one in measured[-1] or []]
        found = MeasuredRow(*measured)._replace(readings=taken)
    return MarginRows(
        changes=[ChangeRow(*one) for one in changes or []],
        runs=[RunRow(*one) for one in runs or []],
        notes=[NoteRow(*one) for one in notes or []],
        revision=None if revision is None else RevisionRow(*revision),
        dryer=None if dryer is None else DryerRow(*dryer),
        dry=[DryRow(*one) for one in dry or []],
        outcomes=outcomes or [],
        blocked_s=blocked or [],
        room=RoomRow(*room) if room else RoomRow(False, None, 0.0),
        measured=found,
        replaced=replaced,
        trials=[tuple(one) for one in trials or []],
        decided=tuple(decided),
    )
