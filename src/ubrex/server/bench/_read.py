"""What the bench rests on, read again after a write; and what of it grows no older, worked out once for what was read."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from functools import cached_property, lru_cache
from typing import Final

from ubrex.core.chain import Kind, Step
from ubrex.core.judge import Finding
from ubrex.server.attempts import trials_now
from ubrex.server.bench._cards import first_words
from ubrex.server.bench._tonight import TimelessLine, timeless_lines
from ubrex.server.calibrations import CALIBRATIONS
from ubrex.server.profile import Given, asked_for, changes_out, drifts_said, given_from, judged_values
from ubrex.server.runs import recent_lines
from ubrex.server.store.database import database, seen
from ubrex.server.store.facts import fact_rows
from ubrex.server.store.margin import Fetched, MarginRows, fetch_all, fetch_parts, margin_rows
from ubrex.server.store.records import Machine, Setup
from ubrex.server.views.bench import ChangeOut, LastRevisionOut, SetupNoteOut
from ubrex.server.views.runs import RunLineOut
from ubrex.server.views.workshop import SetupOut
from ubrex.server.words.history import revision_cause
from ubrex.server.workshop import get_setup, setup_out

RECENT: Final = 5

KEPT: Final = 16
"""Setups whose rows are kept as they were read: those that a workshop goes to and fro between."""


@dataclass(frozen=True)
class Read:
    """What the database knows of a setup, whatever the time."""

    given: Given
    margin: MarginRows
    drifts: list[str]

    @cached_property
    def machine(self) -> Machine:
        """The machine of the setup."""
        machine: Machine = self.given.setup.toolhead.machine
        return machine

    @cached_property
    def trials(self) -> Mapping[Kind, str]:
        """What is set for a trial alone, as it is typed."""
        return trials_now(self.margin.trials, self.machine)

    @cached_property
    def findings(self) -> Mapping[Kind, list[Finding]]:
        """What is said against the values as they stand."""
        return judged_values(self.given.tuned)

    @cached_property
    def tonight(self) -> list[TimelessLine]:
        """Tonight's numbers, as far as they grow no older."""
        return timeless_lines(self.given.tuned, self.findings, self.trials)

    @cached_property
    def setup(self) -> SetupOut:
        """The setup as a screen shows it."""
        return setup_out(self.given.setup)

    @cached_property
    def recent(self) -> list[RunLineOut]:
        """Its last runs."""
        return recent_lines(self.given.setup, self.margin.runs)

    @cached_property
    def changes(self) -> list[ChangeOut]:
        """What was done to its parts last."""
        return changes_out(self.margin.changes)

    @cached_property
    def notes(self) -> list[SetupNoteOut]:
        """What was noted last."""
        return [
            SetupNoteOut(text=row.text, person=row.person, at=datetime.fromtimestamp(row.at_s, UTC))
            for row in self.margin.notes
        ]

    @cached_property
    def revision(self) -> LastRevisionOut | None:
        """Its newest revision."""
        row = self.margin.revision
        if row is None:
            return None
        at = datetime.fromtimestamp(row.at_s, UTC)
        return LastRevisionOut(
            number=row.number, cause=revision_cause(row.cause, row.from_number), person=row.person, at=at
        )

    @cached_property
    def cares(self) -> Mapping[Step, list[str]]:
        """The first words of what can hurt in each step that can be run."""
        ways = {step: next(iter(CALIBRATIONS.of_step(step))) for step in CALIBRATIONS.steps}
        return {step: first_words(way.cautions(self.given.tuned)) for step, way in ways.items()}


@dataclass(frozen=True, slots=True)
class _Kept:
    """What was read of a setup last, the name of the state it was read in, and the text that it was made from."""

    state: str | None
    setup: Setup
    text: Fetched
    read: Read


def read_now(setup_id: int) -> Read:
    """What the database knows now: read again only if something was written, anywhere in it, since it was read last.

    Rows that come as they came before are not taken apart again.
    """
    state, place = seen(), _place(database.obj, setup_id)
    before = place[0] if place else None
    if before is None or state is None or before.state != state:
        before = _read(setup_id, state, before)
        place[:] = [before]
    return before.read


@lru_cache(maxsize=KEPT)
def _place(_database: object, _setup_id: int) -> list[_Kept]:
    """Where it is kept what was read of a setup last."""
    return []


def _read(setup_id: int, state: str | None, before: _Kept | None) -> _Kept:
    if before is None:
        # Asked for before the setup itself: what is changed between the two is another text at the next look.
        parts = fetch_parts(setup_id)
        setup = get_setup(setup_id)
    else:
        parts, setup = before.text.parts, before.setup
    text = fetch_all(setup, *asked_for([setup]), RECENT)
    if before is None:
        return _made(state, setup, text._replace(parts=parts), None)
    if text.parts != parts:
        return _read(setup_id, state, None)
    return replace(before, state=state) if text == before.text else _made(state, setup, text, before)


def _made(state: str | None, setup: Setup, text: Fetched, before: _Kept | None) -> _Kept:
    """What the text says; facts that are as they were ``before`` are kept with all that was worked out from them."""
    if before is not None and before.text.facts == text.facts:
        given = before.read.given
    else:
        (given,) = given_from([setup], fact_rows(json.loads(text.facts)))
    margin = margin_rows(json.loads(text.margin))
    drifts = _drifts(database.obj, margin.decided, setup.toolhead.machine.version, setup)
    return _Kept(state, setup, text, Read(given, margin, drifts))


@lru_cache(maxsize=KEPT)
def _drifts(_database: object, _decided: tuple[int | None, ...], _machine_version: int, setup: Setup) -> list[str]:
    """What drifts: it rests on values and decisions, which are added and never changed, and on how its machine counts."""
    return drifts_said(setup)
