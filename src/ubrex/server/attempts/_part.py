"""All attempts at a part side by side: what differed, what it did over the whole of them, and what to print next."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import fsum, sqrt
from typing import Final, Literal, cast

from peewee import fn

from ubrex.core.attempts import qualified, read_series
from ubrex.core.chain import KINDS, Kind
from ubrex.core.quantity import decimal_text
from ubrex.server.attempts._later import due_looks, looks_of
from ubrex.server.attempts._log import newest_print, out_said
from ubrex.server.attempts._part_sums import part_sums, times_with
from ubrex.server.attempts._photos import ALBUM
from ubrex.server.attempts._plans import plan_series, show_plan
from ubrex.server.attempts._rated import most_rated, rating_of
from ubrex.server.attempts._settings import SET_BY_HAND, Around, Held, Ledger, filled, held_of
from ubrex.server.attempts._since import since_of
from ubrex.server.attempts._trials import open_trials, settings_of
from ubrex.server.desk import TypedFields, Work, find
from ubrex.server.profile import tuned_of
from ubrex.server.store.records import PartFacts, Person, Print
from ubrex.server.views.attempts import (
    AttemptCellOut,
    AttemptLineOut,
    AttemptOut,
    AttemptRowOut,
    AttemptsOut,
    FactorOut,
    MarginAttemptsOut,
    OpenPartOut,
    Outcome,
    PartFactsIn,
    PartFactsOut,
    PlanIn,
    PrintPhotoOut,
)
from ubrex.server.views.forms import FormOptionOut
from ubrex.server.words import attempts as words
from ubrex.server.words.numbers import plain
from ubrex.server.words.scales import SCALES, SIGNS
from ubrex.server.workshop import get_setup

MOST_ATTEMPTS: Final = 200
LAST: Final = 3
"""Attempts that stand in the margin of the bench."""

OWN_DOF_MOST: Final = 20.0
"""The most that a person's own repeats weigh (rules, R)."""


def show_part(work: Work, print_id: int, sign: str | None = None) -> AttemptsOut:
    """All attempts at the part of one of them; ``sign``: what is judged, the one looked at most where nobody says."""
    row = find(Print, print_id, "print")
    rows = attempts_of(row.what)
    if row.id not in {one.id for one in rows}:
        rows = [*rows, row]
    ledger = Ledger.of(rows)
    around = [ledger.around(one) for one in rows]
    settings = filled(one.settings for one in around)
    judged = most_rated(rows) if sign is None or sign not in {"", *SIGNS} else sign
    ratings = [rating_of(one, judged) for one in rows]
    decided = [dict(own) | dict(one.parts) for own, one in zip(settings, around, strict=True)]
    scatter = own_scatter(decided, ratings)
    photos = ALBUM.shown(one.id for one in rows)
    people = {one.id: one.name for one in Person.select()}
    last, before = rows[-1], next((one for one in reversed(rows[:-1]) if one.outcome != "stopped"), None)
    factors = _factors(decided, ratings)
    tuned = tuned_of(get_setup(last.setup_id))
    return AttemptsOut(
        what=row.what,
        facts=_facts(row.what),
        sign=judged,
        signs=_signs(rows),
        attempts=[_attempt(one, place, ledger, people, photos) for place, one in enumerate(rows, 1)],
        rows=[*_sign_rows(rows), *_table("setting", settings), *_around_rows(around)],
        factors=factors,
        series=_series(factors, ratings),
        next="" if before is None else since_of(ledger, before, last, scatter=scatter).said,
        qualified=_qualified(rows, decided),
        machines=_elsewhere(rows, ledger),
        trials=open_trials(tuned),
        looks=looks_of(work, rows),
        plan=show_plan(row.what, judged),
        settings=settings_of(tuned),
        sums=part_sums(tuned, last, _newest_facts(row.what)),
        times=times_with(tuned, last),
        smaller=words.SMALLER.get(judged, ""),
    )


def plan_part(work: Work, print_id: int, form: PlanIn) -> AttemptsOut:
    """Plan a series of a part, and show the part with it."""
    plan_series(work, print_id, form)
    return show_part(work, print_id)


def attempts_of(what: str) -> list[Print]:
    """Attempts at a part that nobody took back, the first one first."""
    rows = (
        Print.select()
        .where(Print.standing(), fn.LOWER(fn.TRIM(Print.what)) == what.strip().lower())
        .order_by(Print.happened_at.desc(), Print.id.desc())
        .limit(MOST_ATTEMPTS)
    )
    return list(rows)[::-1]


def _attempt(
    row: Print, place: int, ledger: Ledger, people: Mapping[int, str], photos: Mapping[int, list[PrintPhotoOut]]
) -> AttemptOut:
    return AttemptOut(
        id=row.id,
        number=place,
        setup_id=row.setup_id,
        setup=ledger.shown[row.setup_id].machine,
        outcome=cast("Outcome", row.outcome),
        said=out_said(row),
        note=row.note,
        person=people[row.person_id],
        happened_at=row.happened_at,
        photos=photos.get(row.id, []),
    )


def _signs(rows: Sequence[Print]) -> list[FormOptionOut]:
    seen = {key for row in rows for key in row.signs}
    rated = [FormOptionOut(value=key, text=SCALES[key].name) for key in SIGNS if key in seen]
    return [FormOptionOut(value="", text=words.WORKS), *rated]


def _sign_rows(rows: Sequence[Print]) -> list[AttemptRowOut]:
    """What was seen of each attempt, on scales or counted."""
    found = []
    for key in SIGNS:
        texts = [f"{row.signs[key]} {SCALES[key].words[row.signs[key]]}" if key in row.signs else "" for row in rows]
        found.append((SCALES[key].name, texts))
    for key, (name, unit) in words.COUNTS.items():
        texts = [f"{plain(row.counts[key])} {unit}".strip() if key in row.counts else "" for row in rows]
        found.append((name, texts))
    return [AttemptRowOut(name=name, of="sign", cells=_cells(texts)) for name, texts in found if any(texts)]


def _table(of: Literal["sign", "setting", "around"], held: Sequence[dict[str, Held]]) -> list[AttemptRowOut]:
    """A row for each thing that was not the same all the time."""
    found = []
    for name in dict.fromkeys(name for one in held for name in one):
        texts = [one[name].text if name in one else "" for one in held]
        if len(set(texts)) > 1:
            found.append(AttemptRowOut(name=name, of=of, cells=_cells(texts)))
    return found


def _around_rows(around: Sequence[Around]) -> list[AttemptRowOut]:
    return _table("around", [{**one.parts, **one.around} for one in around])


def _cells(texts: Sequence[str]) -> list[AttemptCellOut]:
    before = ["", *texts]
    return [
        AttemptCellOut(text=text, changed=place > 0 and bool(text) and text != then)
        for place, (text, then) in enumerate(zip(texts, before, strict=False))
    ]


def own_scatter(decided: Sequence[dict[str, Held]], ratings: Sequence[float | None]) -> tuple[float, float] | None:
    """Standard deviation of repeats with nothing changed, and its degrees of freedom; None without any (rules, R)."""
    groups: dict[str, list[float]] = {}
    for one, rating in zip(decided, ratings, strict=True):
        if rating is not None:
            groups.setdefault(repr(sorted((name, held.text) for name, held in one.items())), []).append(rating)
    dof = sum(len(group) - 1 for group in groups.values())
    if dof == 0:
        return None
    squares = fsum((one - fsum(group) / len(group)) ** 2 for group in groups.values() for one in group)
    return sqrt(squares / dof), min(float(dof), OWN_DOF_MOST)


def _factors(decided: Sequence[dict[str, Held]], ratings: Sequence[float | None]) -> list[FactorOut]:
    """What each thing that changed did over all attempts."""
    found = read_series([{name: held.of for name, held in one.items()} for one in decided], ratings)
    words_of = {name for one in decided for name, held in one.items() if isinstance(held.of, str)}
    return [
        FactorOut(
            name=one.factor.replace("=", ": "),
            effect=one.effect,
            low=one.low,
            high=one.high,
            verdict=cast("Literal['probably_helped', 'probably_hurt', 'cannot_tell']", one.verdict),
            said=words.word_factor_said(one) if one.factor.partition("=")[0] in words_of else words.factor_said(one),
        )
        for one in found.factors
    ]


def _series(factors: Sequence[FactorOut], ratings: Sequence[float | None]) -> str:
    rated = sum(one is not None for one in ratings)
    if not factors:
        return words.NOTHING_YET if len(ratings) == rated else words.NOT_RATED
    return words.series_said(rated, sum(one.verdict != "cannot_tell" for one in factors))


def _qualified(rows: Sequence[Print], decided: Sequence[dict[str, Held]]) -> str:
    """How far it can be relied on, by the last attempts with the settings it has now; stopped ones say nothing."""
    outcomes = []
    for row, one in zip(reversed(rows), reversed(decided), strict=True):
        if {name: held.text for name, held in one.items()} != {name: held.text for name, held in decided[-1].items()}:
            break
        if row.outcome != "stopped":
            outcomes.append(row.outcome)
    failed = len(outcomes) - outcomes.count("good")
    return words.qualified_said(qualified(len(outcomes), failed), len(outcomes), failed)


def _elsewhere(rows: Sequence[Print], ledger: Ledger) -> list[str]:
    """Why the same part is printed with other numbers on another machine: the last attempt on each that works."""
    newest: dict[int, Print] = {}
    for row in rows:
        if row.outcome == "good":
            newest[row.machine_id] = row
    if len(newest) < 2:
        return []
    one, other = sorted(newest.values(), key=lambda row: row.happened_at)[-2:]
    here, there = (ledger.numbers_at(row.setup_id, row.happened_at) for row in (one, other))
    names = [ledger.shown[row.setup_id].machine for row in (one, other)]
    return [
        words.elsewhere_said(
            kind,
            KINDS[kind].name,
            names[0],
            held_of(kind, *here[kind]).text,
            names[1],
            held_of(kind, *there[kind]).text,
        )
        for kind in Kind
        if KINDS[kind].set_at in SET_BY_HAND and kind in here and kind in there and here[kind] != there[kind]
    ]


def _newest_facts(what: str) -> PartFacts | None:
    found: PartFacts | None = (
        PartFacts.select()
        .where(fn.LOWER(fn.TRIM(PartFacts.what)) == what.strip().lower())
        .order_by(PartFacts.id.desc())
        .first()
    )
    return found


def _facts(what: str) -> PartFactsOut:
    row = _newest_facts(what)
    if row is None:
        return PartFactsOut(purpose="", file="", grams="", height_mm="")
    grams, height = ("" if one is None else plain(one) for one in (row.grams, row.height_mm))
    return PartFactsOut(purpose=row.purpose, file=row.file, grams=grams, height_mm=height)


def set_part_facts(work: Work, print_id: int, form: PartFactsIn) -> AttemptsOut:
    """Write down what is known of a part; what was known before stays on record."""
    row, fields = find(Print, print_id, "print"), TypedFields()
    grams, height = (
        None if not typed.strip() else fields.number(name, typed, what=what, low=low, high=high, why=why)
        for name, typed, what, low, high, why in (
            ("grams", form.grams, "The mass", 0.01, 20_000, words.WEIGHT_WHY),
            ("height_mm", form.height_mm, "The height", 0.05, 2000, words.HEIGHT_WHY),
        )
    )
    fields.refuse_if_any()
    PartFacts.create(
        what=row.what, revision=row.revision, purpose=form.purpose.strip(), file=form.file.strip(), grams=grams,
        height_mm=height, person=work.person(), at=work.now,
    )  # fmt: skip
    return show_part(work, print_id)


def show_margin_attempts(work: Work, setup_id: int) -> MarginAttemptsOut:
    """The part that was printed last on a setup, what to put back, and what is to be looked at again."""
    setup, last = get_setup(setup_id), newest_print(setup_id)
    part = None
    if last is not None:
        rows = attempts_of(last.what)
        numbered = list(enumerate(rows, 1))[::-1][:LAST]
        part = OpenPartOut(
            print_id=last.id,
            what=last.what,
            attempts=[
                AttemptLineOut(id=row.id, number=number, said=_line(row), happened_at=row.happened_at)
                for number, row in numbered
            ],
        )
    return MarginAttemptsOut(part=part, trials=open_trials(tuned_of(setup)), looks=due_looks(work, setup_id))


def _line(row: Print) -> str:
    """An attempt in a few words: how it came out, and the worst of what was seen."""
    worst = min(row.signs, key=lambda key: row.signs[key], default="")
    seen = f"{SCALES[worst].name.lower()} {decimal_text(row.signs[worst], 0)}" if worst else ""
    return ", ".join(part for part in (out_said(row), seen) if part)
