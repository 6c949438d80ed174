"""Everything that the standing of setups rests on, in one statement, for one setup or for all.

A screen that asked for each of these by itself would wait for ten answers; PostgreSQL gives them as JSON in one.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Final, NamedTuple, TypeVar

from ubrex.server.store.database import database
from ubrex.server.store.records import Setup

Row = TypeVar("Row")

WEAR_DAYS: Final = 180
"""Longest usual limit in days: prints older than that, or than a person's own longest, age nothing that is not aged yet."""


class ValueRow(NamedTuple):
    """A value of a profile with what it came from; times in seconds since 1970."""

    id: int
    scope: str
    kind: str
    number: float
    unit: str
    half_width_95: float | None
    origin: str
    at_s: float
    person: str
    run_id: int | None
    method: str | None
    run_ended_s: float | None
    instrument: str | None
    action: str | None
    verdict: str | None
    before_proof: bool | None
    rule_version: str | None
    decision_note: str | None
    beside: float | None
    note: str
    carried_from: int | None


class WrittenRow(NamedTuple):
    """A value that was written: as much of it as says when it moved, and what from."""

    id: int
    scope: str
    kind: str
    number: float
    unit: str
    at_s: float
    run_ended_s: float | None
    carried_from: int | None


class KeptRow(NamedTuple):
    """The newest run of a toolhead that kept its e-steps; none before they were written, which could not confirm them."""

    toolhead_id: int
    at_s: float
    current: float
    verdict: str


class ReadBackRow(NamedTuple):
    """The newest read-back of a value."""

    value_id: int
    at_s: float
    typed: str
    number: float
    matches: bool


class DoneRow(NamedTuple):
    """When a kind of change was last done to a part; ``id``: of the newest entry. One of the five other ids is given."""

    id: int
    kind: str
    at_s: float
    machine_id: int | None
    nozzle_id: int | None
    surface_id: int | None
    filament_id: int | None
    setup_id: int | None


class PrintsRow(NamedTuple):
    """Real prints on one machine, with one nozzle and on one surface, newest first: when, for how long, how much.

    Their numbers stand in a row with blanks between: of hundreds, PostgreSQL makes that in half the time of an array.
    """

    machine_id: int
    nozzle_id: int
    surface_id: int | None
    abrasive: bool
    at_s: str
    hours: str
    grams: str


def _rows(kind: type[tuple[Any, ...]]) -> str:
    """Rows as one array for each field of ``kind``: made and read in half the time of an array for each row."""
    return f"json_build_array({', '.join(f'json_agg({field})' for field in kind._fields)})"  # type: ignore[attr-defined]


_PART_IS_OURS: Final = """(machine_id = ANY(%(machines)s) OR nozzle_id = ANY(%(nozzles)s) OR surface_id = ANY(%(surfaces)s)
        OR filament_id = ANY(%(filaments)s) OR setup_id = ANY(%(setups)s))"""

_VALUES: Final = f"""
(SELECT {_rows(ValueRow)} FROM (
    SELECT v.id, v.scope, v.kind, v.number, v.unit, v.half_width_95, v.origin, date_part('epoch', v.at) AS at_s,
        p.name AS person, v.run_id, r.method, date_part('epoch', coalesce(r.made_at, r.ended_at)) AS run_ended_s,
        i.name AS instrument,
        d.action, d.verdict, d.before_proof, d.rule_version, d.note AS decision_note, v.beside, v.note,
        v.carried_from_id AS carried_from
    FROM tuned_value v
    JOIN person p ON p.id = v.person_id
    LEFT JOIN run r ON r.id = v.run_id LEFT JOIN instrument i ON i.id = r.instrument_id
    LEFT JOIN decision d ON d.id = v.decision_id
    WHERE v.id = ANY(ARRAY(SELECT max(id) FROM tuned_value WHERE scope = ANY(%(scopes)s) GROUP BY scope, kind))) newest)
"""
"""The newest value of each kind in each scope; gathered into an array, which is looked up whatever their number."""

_KEPT_SINCE: Final = """SELECT d.at, d.verdict, r.inputs FROM decision d JOIN run r ON r.id = d.run_id
        JOIN setup s ON s.id = r.setup_id
        WHERE d.action = 'keep' AND d.at > {since} AND r.step = 'e_steps' AND s.toolhead_id = {toolhead}
        ORDER BY d.at DESC LIMIT 1"""
"""The newest run that kept the e-steps of a toolhead after a moment."""

FACTS_SQL: Final = f"""
json_build_array({_VALUES},
(SELECT {_rows(WrittenRow)} FROM (
    SELECT v.id, v.scope, v.kind, v.number, v.unit, date_part('epoch', v.at) AS at_s,
        date_part('epoch', coalesce(r.made_at, r.ended_at)) AS run_ended_s, v.carried_from_id AS carried_from
    FROM tuned_value v LEFT JOIN run r ON r.id = v.run_id
    WHERE v.scope = ANY(%(scopes)s) AND v.kind = ANY(%(followed)s)) written),
(SELECT json_agg(json_build_array(k.toolhead_id, date_part('epoch', k.at), k.current, k.verdict)) FROM (
    SELECT asked.toolhead_id, d.at, (d.inputs->>'current')::float8 AS current, d.verdict
    FROM unnest(%(toolheads)s::bigint[]) AS asked(toolhead_id) JOIN LATERAL (
        SELECT at FROM tuned_value WHERE kind = 'e_steps' AND toolhead_id = asked.toolhead_id
        ORDER BY id DESC LIMIT 1) value ON true
    JOIN LATERAL (
        {_KEPT_SINCE.format(since="value.at", toolhead="asked.toolhead_id")}) d ON true) k),
(SELECT json_agg(json_build_array(b.value_id, date_part('epoch', b.at), b.typed, b.number, b.matches)) FROM (
    SELECT DISTINCT ON (b.value_id) b.* FROM read_back b
    WHERE b.value_id IN (SELECT id FROM tuned_value WHERE kind = ANY(%(read_back)s) AND scope = ANY(%(scopes)s))
    ORDER BY b.value_id, b.id DESC) b),
(SELECT {_rows(DoneRow)} FROM (
    SELECT max(id) AS id, kind, date_part('epoch', max(happened_at)) AS at_s,
        machine_id, nozzle_id, surface_id, filament_id, setup_id
    FROM change WHERE {_PART_IS_OURS} AND id NOT IN (SELECT change_id FROM withdrawal)
    GROUP BY kind, machine_id, nozzle_id, surface_id, filament_id, setup_id) newest),
(SELECT {_rows(PrintsRow)} FROM (
    SELECT machine_id, nozzle_id, surface_id, abrasive, string_agg(at_s::text, ' ') AS at_s,
        string_agg(hours::text, ' ') AS hours, string_agg(grams::text, ' ') AS grams
    FROM (
        SELECT machine_id, nozzle_id, surface_id, abrasive, date_part('epoch', happened_at) AS at_s, hours, grams
        FROM print WHERE machine_id = ANY(%(machines)s) AND id NOT IN (SELECT print_id FROM print_off)
            AND happened_at > now() - interval '1 day'
            * greatest({WEAR_DAYS}, (SELECT max(days) FROM ageing_limit))
        ORDER BY machine_id, nozzle_id, surface_id, abrasive, happened_at DESC) newest_first
    GROUP BY machine_id, nozzle_id, surface_id, abrasive) alike),
(SELECT json_agg(json_build_array(step, days)) FROM ageing_limit),
(SELECT json_agg(json_build_array(k.machine_id, date_part('epoch', k.at))) FROM (
    SELECT machine_id, max(at) AS at FROM safety_check WHERE machine_id = ANY(%(machines)s) GROUP BY machine_id) k),
(SELECT json_agg(json_build_array(setup_id, step, id)) FROM run
    WHERE setup_id = ANY(%(setups)s) AND ended_at IS NULL),
(SELECT json_agg(json_build_array(t.value_id, t.ticked)) FROM (
    SELECT DISTINCT ON (t.value_id) t.value_id, t.ticked FROM typed_in t JOIN tuned_value v ON v.id = t.value_id
    WHERE v.scope = ANY(%(scopes)s) ORDER BY t.value_id, t.id DESC) t))
"""
"""Everything on some setups as one array; ``facts_given`` gives what it asks for, ``fact_rows`` reads it."""


@dataclass(frozen=True, slots=True)
class FactRows:
    """What the database knows of some setups, in no order.

    Of values, and of changes of one kind to one part, only the newest is here; ``written``: every value of the kinds that
    are followed, the newest too.
    """

    values: list[ValueRow]
    written: list[WrittenRow]
    kept: list[KeptRow]
    read_backs: list[ReadBackRow]
    done: list[DoneRow]
    prints: list[PrintsRow]
    limits: dict[str, float]
    safe_at: dict[int, float]
    open_runs: dict[tuple[int, str], int]
    typed_in: dict[int, bool]


def fetch(
    setups: Sequence[Setup], scopes: Sequence[str], followed: Sequence[str], read_back: Sequence[str]
) -> FactRows:
    """Facts on ``setups``, whose values lie in ``scopes``; the caller holds a connection.

    ``followed``: kinds of values of which each that was ever written is wanted; ``read_back``: those that machines are asked
    for.
    """
    given = facts_given(setups, scopes, followed, read_back)
    (columns,) = database.execute_sql(f"SELECT {FACTS_SQL}", given).fetchone()
    return fact_rows(columns)


def facts_given(
    setups: Sequence[Setup], scopes: Sequence[str], followed: Sequence[str], read_back: Sequence[str]
) -> dict[str, list[Any]]:
    """What ``FACTS_SQL`` asks for."""
    return parts_of(setups) | {"scopes": list(scopes), "followed": list(followed), "read_back": list(read_back)}


def fact_rows(columns: Sequence[Any]) -> FactRows:
    """Facts from the array that ``FACTS_SQL`` makes."""
    values, written, kept, read_backs, done, prints, limits, safe, open_runs, typed_in = (
        part or [] for part in columns
    )
    return FactRows(
        values=_read(ValueRow, values),
        written=_read(WrittenRow, written),
        kept=[KeptRow(*one) for one in kept],
        read_backs=[ReadBackRow(*one) for one in read_backs],
        done=_read(DoneRow, done),
        prints=_read(PrintsRow, prints),
        limits=dict(limits),
        safe_at=dict(safe),
        open_runs={(setup_id, step): run_id for setup_id, step, run_id in open_runs},
        typed_in=dict(typed_in),
    )


def fetch_kept(toolhead_id: int, since: datetime) -> KeptRow | None:
    """The newest run that kept the e-steps of a toolhead after a moment."""
    asked = _KEPT_SINCE.format(since="%(since)s", toolhead="%(toolhead)s")
    row = database.execute_sql(
        f"SELECT date_part('epoch', k.at), (k.inputs->>'current')::float8, k.verdict FROM ({asked}) k",
        {"toolhead": toolhead_id, "since": since},
    ).fetchone()
    return None if row is None else KeptRow(toolhead_id, *row)


def fetch_newest(scopes: Sequence[str]) -> list[ValueRow]:
    """The newest value of each kind in each of these scopes."""
    (columns,) = database.execute_sql(f"SELECT {_VALUES}", {"scopes": list(scopes)}).fetchone()
    return _read(ValueRow, columns)


def parts_of(setups: Sequence[Setup]) -> dict[str, list[Any]]:
    """Everything of these setups that a change can be logged on."""
    return {
        "setups": [setup.id for setup in setups],
        "toolheads": list({setup.toolhead_id for setup in setups}),
        "machines": list({setup.toolhead.machine_id for setup in setups}),
        "nozzles": list({setup.nozzle_id for setup in setups}),
        "surfaces": list({setup.surface_id for setup in setups if setup.surface_id is not None}),
        "filaments": list({setup.filament_id for setup in setups}),
    }


def _read(kind: Callable[..., Row], columns: Sequence[Sequence[Any] | None]) -> list[Row]:
    """Rows of a kind from one array for each of its fields; none where there were none to put into arrays."""
    return [kind(*one) for one in zip(*(column or () for column in columns), strict=True)]


LONG_AGO: Final = datetime(2000, 1, 1, tzinfo=UTC)

_WEAR: Final = """
WITH counter AS (
    SELECT part, measure, string_to_array((%(kinds)s::text[])[place], ' ') AS kinds
    FROM unnest(%(parts)s::text[], %(measures)s::text[]) WITH ORDINALITY AS p(part, measure, place)),
reset AS (
    SELECT DISTINCT p.part, p.measure, c.happened_at AS at FROM counter p JOIN change c ON c.kind = ANY(p.kinds)
    LEFT JOIN withdrawal w ON w.change_id = c.id
    WHERE w.change_id IS NULL AND (c.machine_id = %(machine)s OR c.nozzle_id = %(nozzle)s OR c.surface_id = %(surface)s)),
span AS (
    SELECT part, measure, lag(at) OVER (PARTITION BY part ORDER BY at) AS since, at AS until FROM reset
    UNION ALL
    SELECT p.part, p.measure, (SELECT max(at) FROM reset r WHERE r.part = p.part), NULL FROM counter p),
printed AS (SELECT happened_at, hours, grams, nozzle_id, surface_id, abrasive FROM print
    WHERE machine_id = %(machine)s AND id NOT IN (SELECT print_id FROM print_off))
SELECT s.part, s.since, s.until, sum(CASE s.measure
        WHEN 'plain' THEN CASE WHEN NOT abrasive AND nozzle_id = %(nozzle)s THEN grams END
        WHEN 'abrasive' THEN CASE WHEN abrasive AND nozzle_id = %(nozzle)s THEN grams END
        WHEN 'prints' THEN CASE WHEN surface_id = %(surface)s THEN 1 END
        ELSE hours END), min(happened_at)
FROM span s LEFT JOIN printed
    ON happened_at > coalesce(s.since, '-infinity') AND happened_at <= coalesce(s.until, 'infinity')
GROUP BY s.part, s.since, s.until
"""


class WearSpan(NamedTuple):
    """What went through or over a part between two times it was seen to; ``until`` None: up to now.

    ``since`` None: from its first print, ``first``, on.
    """

    since: datetime | None
    until: datetime | None
    amount: float
    first: datetime | None


def fetch_wear(setup: Setup, counters: Sequence[tuple[str, str, Sequence[str]]]) -> dict[str, list[WearSpan]]:
    """What went through or over each part, since it was last seen to and before that; the newest span first.

    ``counters``: name, measure (plain, abrasive, prints, hours), and the kinds of change that set it to 0.
    """
    given = {
        "machine": setup.toolhead.machine_id,
        "nozzle": setup.nozzle_id,
        "surface": setup.surface_id or 0,
        "parts": [name for name, _, _ in counters],
        "measures": [measure for _, measure, _ in counters],
        "kinds": [" ".join(kinds) for _, _, kinds in counters],
    }
    found: dict[str, list[WearSpan]] = {name: [] for name, _, _ in counters}
    for part, since, until, amount, first in database.execute_sql(_WEAR, given):
        found[part].append(WearSpan(since, until, float(amount or 0), first))
    for spans in found.values():
        spans.sort(key=lambda span: (span.until is not None, -(span.until or LONG_AGO).timestamp()))
    return found


_ON_SPOOLS: Final = """
SELECT s.id, coalesce(w.number, s.full_g), coalesce(p.grams, 0), w.number IS NOT NULL
FROM spool s
LEFT JOIN LATERAL (SELECT number, at FROM spool_entry WHERE spool_id = s.id AND kind = 'weighed'
    ORDER BY at DESC, id DESC LIMIT 1) w ON true
LEFT JOIN LATERAL (SELECT sum(grams) AS grams FROM print
    WHERE spool_id = s.id AND id NOT IN (SELECT print_id FROM print_off)
        AND happened_at > coalesce(w.at, '-infinity')) p ON true
WHERE s.id = ANY(%(spools)s)
"""


class OnSpoolRow(NamedTuple):
    """What was on a spool [g] when it was weighed last, or was new; and what was printed from it since.

    ``weighed``: whether anybody did; else it is what a new one holds.
    """

    spool_id: int
    weighed_g: float
    printed_g: float
    weighed: bool

    @property
    def left_g(self) -> float:
        """What should be left on it."""
        return max(0.0, self.weighed_g - self.printed_g)


def fetch_on_spools(spools: Sequence[int]) -> dict[int, OnSpoolRow]:
    """What is on each of these spools."""
    return {row[0]: OnSpoolRow(*row) for row in database.execute_sql(_ON_SPOOLS, {"spools": list(spools)})}


CHANGES_SQL: Final = f"""
(SELECT json_agg(json_build_array(c.id, c.kind, c.note, date_part('epoch', c.happened_at), p.name,
        w.change_id IS NOT NULL) ORDER BY c.happened_at DESC, c.id DESC)
    FROM (SELECT * FROM change WHERE {_PART_IS_OURS} ORDER BY happened_at DESC, id DESC LIMIT %(most)s) c
    JOIN person p ON p.id = c.person_id LEFT JOIN withdrawal w ON w.change_id = c.id)
"""


class ChangeRow(NamedTuple):
    """A logged change as a list shows it."""

    id: int
    kind: str
    note: str
    at_s: float
    person: str
    withdrawn: bool


def fetch_changes(setup: Setup, most: int) -> list[ChangeRow]:
    """The last changes to any part of a setup, entries taken back too, newest first; at most ``most``."""
    (found,) = database.execute_sql(f"SELECT {CHANGES_SQL}", parts_of([setup]) | {"most": most}).fetchone()
    return [ChangeRow(*one) for one in found or []]
