"""All setups side by side: which one tonight?"""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import Next
from ubrex.server.bench._bench import good_for, next_of
from ubrex.server.bench._cards import waiting_lines
from ubrex.server.bench._read import read_now
from ubrex.server.bench._shown import Shown
from ubrex.server.desk import Work
from ubrex.server.profile import judged
from ubrex.server.store.records import Person, Print
from ubrex.server.views.bench import SetupLineOut
from ubrex.server.words.inventory import print_line
from ubrex.server.words.numbers import day
from ubrex.server.words.standing import DANGERS, ROW_NAMES
from ubrex.server.workshop import list_setups

MOST_WAITING: Final = 2
"""So many things that wait are named; the rest is on the bench."""


def show_setups(work: Work) -> list[SetupLineOut]:
    """Each setup in use: what it is good enough for, what is next, what waits, and what was printed last."""
    return [_line(work, setup.id) for setup in list_setups(work)]


def _line(work: Work, setup_id: int) -> SetupLineOut:
    read = read_now(setup_id)
    found = judged(read.given, work.now)
    shown = Shown(found, read, work)
    chosen: Next = shown.next
    following = next_of(found, chosen, work)
    waits = [DANGERS[danger] for danger in found.held] + [row.sentence for row in waiting_lines(found)]
    last = _last_print(setup_id)
    setup = read.given.setup
    return SetupLineOut(
        id=setup_id,
        machine=setup.toolhead.machine.name,
        hotend=setup.toolhead.hotend.name,
        nozzle_mm=setup.nozzle.bore_mm,
        filament=setup.filament.name,
        surface="" if setup.surface is None else setup.surface.name,
        good_for=[row.name for row in good_for(found, read.margin, work) if row.good],
        next_step="" if following.row is None else ROW_NAMES[following.row],
        next_why=following.sentence,
        waits=waits[:MOST_WAITING],
        last_print="" if last is None else print_line(last.what, last.outcome, day(last.happened_at)),
    )


def _last_print(setup_id: int) -> Print | None:
    found: Print | None = (
        Print.select(Print, Person)
        .join(Person, on=(Print.person == Person.id))
        .where(Print.setup == setup_id, Print.standing())
        .order_by(Print.happened_at.desc(), Print.id.desc())
        .first()
    )
    return found
