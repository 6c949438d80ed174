"""How parts came off: remembered for each pair of family and surface; one pair never speaks for another."""

from __future__ import annotations

from ubrex.server.desk import Clash, FieldProblem, Refused, Work
from ubrex.server.faults._guides import show_guides
from ubrex.server.store.records import LetGo
from ubrex.server.views.faults import GuidesOut, LetGoIn
from ubrex.server.words import guides as words
from ubrex.server.workshop import get_setup


def remember_let_go(work: Work, setup_id: int, form: LetGoIn) -> GuidesOut:
    """Write down how a part came off the surface of a setup, or what did not help."""
    person, setup = work.person(), get_setup(setup_id)
    if setup.surface_id is None:
        raise Clash(words.NO_SURFACE, code="no_surface")
    if not form.way.strip():
        raise Refused(FieldProblem("way", "empty", words.EMPTY_WAY))
    LetGo.create(
        family=setup.filament.family, surface=setup.surface_id, way=form.way.strip(), worked=form.worked, person=person,
        at=work.now,
    )  # fmt: skip
    return show_guides(work, setup_id)
