"""Anything in the workshop by any words of it: setups, values, runs, prints, notes, changes, spools, cases, what is seen."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any, Final
from urllib.parse import urlencode

from ubrex.core.chain import KINDS, Kind
from ubrex.core.diagnose import knowledge
from ubrex.core.quantity import decimal_text
from ubrex.server.desk import Work
from ubrex.server.store.database import database
from ubrex.server.views.records import FoundOut
from ubrex.server.words import find as words
from ubrex.server.words.causes import CAUSES, COMPLAINTS
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.faults import title_said
from ubrex.server.words.guides import GUIDES
from ubrex.server.words.numbers import day, unit_text
from ubrex.server.words.scales import SCALES, SIGNS
from ubrex.server.words.standing import STEP_NAMES
from ubrex.server.workshop._setups import places_of, select_setups, setup_title

MOST_OF_A_KIND: Final = 6
MOST_WORDS: Final = 8

_PARTS: Final = """setup s JOIN toolhead t ON t.id = s.toolhead_id JOIN machine m ON m.id = t.machine_id
    JOIN filament f ON f.id = s.filament_id"""

_VALUES: Final = """
SELECT v.kind, v.number, v.unit, x.setup_id, p.name, v.at FROM (
    SELECT DISTINCT ON (kind, machine_id, toolhead_id, hotend_id, nozzle_id, surface_id, filament_id) * FROM tuned_value
    ORDER BY kind, machine_id, toolhead_id, hotend_id, nozzle_id, surface_id, filament_id, id DESC) v
    JOIN person p ON p.id = v.person_id JOIN unnest(%(value_kinds)s::text[], %(value_names)s::text[]) AS n(kind, name)
    ON n.kind = v.kind CROSS JOIN LATERAL (
    SELECT s.id AS setup_id, concat_ws(' ', m.name, f.name) AS parts FROM setup s JOIN toolhead t ON t.id = s.toolhead_id
        JOIN machine m ON m.id = t.machine_id JOIN filament f ON f.id = s.filament_id
        WHERE s.removed_at IS NULL AND coalesce(v.machine_id = t.machine_id, true)
            AND coalesce(v.toolhead_id = t.id, true) AND coalesce(v.hotend_id = t.hotend_id, true)
            AND coalesce(v.nozzle_id = s.nozzle_id, true) AND coalesce(v.filament_id = s.filament_id, true)
            AND (v.surface_id IS NULL OR v.surface_id = s.surface_id)
        ORDER BY s.id LIMIT 1) x
WHERE concat_ws(' ', 'value', n.name, v.number, v.note, p.name, x.parts) ILIKE ALL(%(words)s)
ORDER BY v.id DESC LIMIT %(most)s
"""
"""What is set now, with the first setup that it is set on."""

_RUNS: Final = f"""
SELECT r.id, r.step, o.notes, r.setup_id, p.name, r.started_at FROM run r JOIN person p ON p.id = r.person_id JOIN {_PARTS}
    ON s.id = r.setup_id JOIN unnest(%(steps)s::text[], %(names)s::text[]) AS n(step, name) ON n.step = r.step
    CROSS JOIN LATERAL (SELECT concat_ws('; ',
        (SELECT string_agg(d.note, '; ') FROM decision d WHERE d.run_id = r.id AND d.note <> ''),
        (SELECT string_agg(k.reason, '; ') FROM strike k JOIN reading x ON x.id = k.reading_id
            WHERE x.run_id = r.id AND NOT k.at_once),
        (SELECT string_agg(h.note, '; ') FROM photo h WHERE h.run_id = r.id AND h.note <> ''
            AND h.id NOT IN (SELECT photo_id FROM photo_off))) AS notes) o
WHERE concat_ws(' ', 'run', r.id, n.name, r.method, p.name, m.name, f.name, o.notes) ILIKE ALL(%(words)s)
ORDER BY r.id DESC LIMIT %(most)s
"""  # noqa: S608 - put together from constants; what is asked for is a parameter

_PRINTS: Final = f"""
SELECT x.what, x.note, x.setup_id, p.name, x.happened_at FROM print x JOIN person p ON p.id = x.person_id JOIN {_PARTS}
    ON s.id = x.setup_id
WHERE concat_ws(' ', 'print', x.what, x.note, x.outcome, p.name, m.name, f.name, f.family,
    (SELECT string_agg(h.note, ' ') FROM print_photo h WHERE h.print_id = x.id
        AND h.id NOT IN (SELECT photo_id FROM print_photo_off)),
    (SELECT string_agg(l.note, ' ') FROM looked l JOIN look_again a ON a.id = l.look_again_id WHERE a.print_id = x.id),
    (SELECT string_agg(g.said, ' ') FROM jsonb_each_text(x.signs) e
        JOIN unnest(%(signs)s::text[], %(ratings)s::text[], %(seen)s::text[]) AS g(key, rating, said)
        ON g.key = e.key AND g.rating = e.value)) ILIKE ALL(%(words)s) AND x.id NOT IN (SELECT print_id FROM print_off)
ORDER BY x.id DESC LIMIT %(most)s
"""  # noqa: S608

_NOTES: Final = f"""
SELECT n.text, n.place, n.setup_id, p.name, n.at FROM (
    SELECT text, '/' AS place, setup_id, person_id, at FROM note
    UNION ALL SELECT note, '/profiles', setup_id, person_id, at FROM revision
    UNION ALL SELECT note, '/setups/' || setup_id || '/checks', setup_id, person_id, at FROM machine_check
        WHERE id NOT IN (SELECT check_id FROM check_off)) n
    JOIN person p ON p.id = n.person_id JOIN {_PARTS} ON s.id = n.setup_id
WHERE n.text <> '' AND concat_ws(' ', 'note', n.text, p.name, m.name, f.name) ILIKE ALL(%(words)s)
ORDER BY n.at DESC LIMIT %(most)s
"""  # noqa: S608

_CHANGES: Final = """
SELECT n.name, c.note, p.name, c.happened_at, (SELECT s.id FROM setup s JOIN toolhead t ON t.id = s.toolhead_id
        WHERE s.removed_at IS NULL AND (t.machine_id = c.machine_id OR s.nozzle_id = c.nozzle_id
            OR s.surface_id = c.surface_id OR s.filament_id = c.filament_id OR s.id = c.setup_id)
        ORDER BY s.id LIMIT 1)
FROM change c JOIN person p ON p.id = c.person_id
    JOIN unnest(%(kinds)s::text[], %(said)s::text[]) AS n(kind, name) ON n.kind = c.kind
WHERE concat_ws(' ', n.name, c.note, p.name) ILIKE ALL(%(words)s) ORDER BY c.id DESC LIMIT %(most)s
"""

_SPOOLS: Final = """
SELECT s.name, f.name FROM spool s JOIN filament f ON f.id = s.filament_id
WHERE concat_ws(' ', 'spool', s.name, s.stored, f.name, f.family,
    (SELECT string_agg(e.note, ' ') FROM spool_entry e WHERE e.spool_id = s.id)) ILIKE ALL(%(words)s)
ORDER BY s.id DESC LIMIT %(most)s
"""


_CASES: Final = f"""
SELECT x.id, x.complaint, m.name, p.name, x.at FROM fault x JOIN person p ON p.id = x.person_id JOIN {_PARTS}
    ON s.id = x.setup_id JOIN unnest(%(complaints)s::text[], %(told)s::text[]) AS n(complaint, said)
    ON n.complaint = x.complaint
WHERE concat_ws(' ', 'case fault', n.said, x.note, p.name, m.name, f.name,
    (SELECT string_agg(a.note, ' ') FROM fault_answer a WHERE a.fault_id = x.id
        AND a.id NOT IN (SELECT answer_id FROM fault_answer_off)),
    (SELECT string_agg(e.note, ' ') FROM fault_end e WHERE e.fault_id = x.id),
    (SELECT string_agg(h.note, ' ') FROM fault_photo h WHERE h.fault_id = x.id
        AND h.id NOT IN (SELECT photo_id FROM fault_photo_off))) ILIKE ALL(%(words)s)
ORDER BY x.id DESC LIMIT %(most)s
"""  # noqa: S608


_SEEN: Final = [
    (key, str(rating), f"{SCALES[key].name} {word}") for key in SIGNS for rating, word in enumerate(SCALES[key].words)
]
"""What can be seen of a print, by sign and figure."""


def find_all(_work: Work, text: str) -> list[FoundOut]:
    """Everything that holds all of these words, a few of each kind, the newest first."""
    asked = text.split()[:MOST_WORDS]
    if not asked:
        return []
    # What a person reads of a kind stands in the code, not in the rows: each query is given both, side by side.
    given = {
        "words": [f"%{_literally(word)}%" for word in asked],
        "most": MOST_OF_A_KIND,
        "steps": list(STEP_NAMES),
        "names": list(STEP_NAMES.values()),
        "value_kinds": [kind.value for kind in KINDS],
        "value_names": [row.name for row in KINDS.values()],
        "kinds": [kind.value for kind in CHANGES],
        "said": [row.name for row in CHANGES.values()],
        "signs": [key for key, _, _ in _SEEN],
        "ratings": [rating for _, rating, _ in _SEEN],
        "seen": [said for _, _, said in _SEEN],
        "complaints": list(COMPLAINTS),
        "told": [" ".join(said) for said in COMPLAINTS.values()],
    }
    all_setups = list(select_setups())
    titles = {setup.id: setup_title(setup) for setup in all_setups}

    def rows(query: str) -> list[Any]:
        return list(database.execute_sql(query, given).fetchall())

    def about(setup_id: int | None, person: str, at: datetime) -> str:
        return words.by_said("" if setup_id is None else titles[setup_id], person, day(at))

    found = [
        FoundOut(what=words.SETUP, title=titles[setup.id], detail="", to="/", setup_id=setup.id)
        for setup in all_setups
        if setup.removed_at is None and _holds(titles[setup.id], asked)
    ][:MOST_OF_A_KIND]
    machines = {setup.id: setup.toolhead.machine for setup in all_setups}
    for kind, number, unit, setup_id, person, at in rows(_VALUES):
        text = decimal_text(number, places_of(Kind(kind), machines[setup_id]))
        title = words.value_said(KINDS[Kind(kind)].name, text, unit_text(unit))
        detail = about(setup_id, person, at)
        found.append(FoundOut(what=words.VALUE, title=title, detail=detail, to="/", setup_id=setup_id))
    for run_id, step, notes, setup_id, person, at in rows(_RUNS):
        title, detail = (
            words.with_note_said(words.run_said(run_id, STEP_NAMES[step]), notes),
            about(setup_id, person, at),
        )
        found.append(FoundOut(what=words.RUN, title=title, detail=detail, to=f"/runs/{run_id}", setup_id=None))
    for what, note, setup_id, person, at in rows(_PRINTS):
        title, detail = words.with_note_said(what, note), about(setup_id, person, at)
        place = f"/setups/{setup_id}/prints"
        found.append(FoundOut(what=words.PRINT, title=title, detail=detail, to=place, setup_id=None))
    for note, place, setup_id, person, at in rows(_NOTES):
        detail = about(setup_id, person, at)
        found.append(FoundOut(what=words.NOTE, title=note, detail=detail, to=place, setup_id=setup_id))
    for name, note, person, at, setup_id in rows(_CHANGES):
        title, detail = words.with_note_said(name, note), about(setup_id, person, at)
        found.append(FoundOut(what=words.CHANGE, title=title, detail=detail, to="/profiles", setup_id=setup_id))
    for spool, filament in rows(_SPOOLS):
        title = words.spool_said(spool)
        found.append(FoundOut(what=words.SPOOL, title=title, detail=filament, to="/filaments", setup_id=None))
    for fault_id, complaint, machine, person, at in rows(_CASES):
        title, detail = title_said(complaint, machine), about(None, person, at)
        found.append(FoundOut(what=words.CASE, title=title, detail=detail, to=f"/faults/{fault_id}", setup_id=None))
    return [*found, *_of_faults(asked)]


def _of_faults(asked: Sequence[str]) -> list[FoundOut]:
    """What can be seen, what may be behind it, and guides, by everyday words."""
    seen = [text for text, everyday in COMPLAINTS.values() if _holds(f"{text} {everyday}", asked)]
    found = [
        FoundOut(what=words.FAULT, title=text, detail=words.OPENS, to=_complaint(text), setup_id=None)
        for text in seen[:MOST_OF_A_KIND]
    ]
    causes = [(key, name) for key, name in CAUSES.items() if key in SHOWS_AS and _holds(name, asked)]
    for key, name in causes[:MOST_OF_A_KIND]:
        shows = COMPLAINTS[SHOWS_AS[key]][0]
        detail = words.shows_as_said(shows)
        found.append(FoundOut(what=words.CAUSE, title=name, detail=detail, to=_complaint(shows), setup_id=None))
    guides = [(key, row) for key, row in GUIDES.items() if _holds(f"{row.name} {row.words}", asked)]
    for key, row in guides[:MOST_OF_A_KIND]:
        found.append(FoundOut(what=words.GUIDE, title=row.name, detail="", to=f"/guides?guide={key}", setup_id=None))
    return found


def _complaint(text: str) -> str:
    return f"/faults?{urlencode({'said': text})}"


def _shows_as() -> dict[str, str]:
    """The complaint that each cause shows as most surely."""
    base = knowledge()
    surest: dict[str, tuple[float, str]] = {}
    for complaint, causes in base.complaints.items():
        for cause, level in causes.items():
            surest[cause] = max(surest.get(cause, (0.0, "")), (base.levels[level], complaint))
    return {cause: complaint for cause, (_, complaint) in surest.items()}


SHOWS_AS: Final = _shows_as()


def _holds(text: str, asked: Sequence[str]) -> bool:
    return all(word.lower() in text.lower() for word in asked)


def _literally(word: str) -> str:
    """A word whose own % and _ stand for themselves."""
    return word.replace("\\", r"\\").replace("%", r"\%").replace("_", r"\_")
