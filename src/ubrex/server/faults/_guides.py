"""Guides for one setup: the right ones for its hotend, with its temperatures in them."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import Kind
from ubrex.core.materials import UNKNOWN_WINDOW, Liner, family
from ubrex.server.attempts import both_of
from ubrex.server.desk import Work
from ubrex.server.profile import Tuned, limit_on, tuned_of, usual_on
from ubrex.server.store.facts import fetch_on_spools
from ubrex.server.store.records import CheckedFile, LetGo, Setup
from ubrex.server.views.faults import GuideAskOut, GuideOut, GuidesOut, GuideStepOut
from ubrex.server.words import guides as words
from ubrex.server.words.attempts import stopped_said
from ubrex.server.words.causes import CAUTIONS
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.guides import GUIDES, Guide
from ubrex.server.words.numbers import plain
from ubrex.server.workshop import get_setup, setup_out

WARMER_C: Final = 10.0
"""By how much more a clog is warmed (E)."""


def show_guides(_work: Work, setup_id: int) -> GuidesOut:
    """Every guide that fits a setup. What is entered of its hotend is asked anew each time."""
    setup = get_setup(setup_id)
    tuned = tuned_of(setup)
    # A liner that nobody described may reach anywhere.
    lined = setup.toolhead.hotend.liner != Liner.ALL_METAL.value
    worked_out = _heats(tuned) | {"latest": _latest(tuned), "let_go": _let_go(setup)}
    return GuidesOut(
        setup=setup_out(setup),
        guides=[_guide(key, row, worked_out) for key, row in GUIDES.items() if row.lined is None or row.lined is lined],
    )


def _heats(tuned: Tuned) -> dict[str, str]:
    """Temperatures of the steps: the value in use, else the label, else the family; none beyond the strictest limit."""
    value, usual, limit = tuned.values.get(Kind.NOZZLE), usual_on(tuned, Kind.NOZZLE), limit_on(tuned, Kind.NOZZLE)
    row = family(tuned.setup.filament.family)
    low = row.nozzle_low_c or UNKNOWN_WINDOW.low
    use = value.number if value is not None else low if usual is None else usual.window.low
    most = UNKNOWN_WINDOW.high if limit is None else limit.max_c
    return {
        name: f"{plain(round(min(celsius, most)))} °C"
        for name, celsius in (("use", use), ("warm", use + WARMER_C), ("most", most))
    }


RESERVE_G: Final = 5.0
"""What stays on a spool: the last windings do not come [g] (E)."""


def _latest(tuned: Tuned) -> str:
    """Until where a print may go on with what is left on the spool, by the file that was checked last."""
    spool = tuned.setup.spool
    held = None if spool is None else fetch_on_spools([spool.id])[spool.id]
    if held is None or not held.weighed:
        return words.LEFT_UNKNOWN
    left_g = max(0.0, held.left_g - RESERVE_G)
    file: CheckedFile | None = (
        CheckedFile.select().where(CheckedFile.setup == tuned.setup.id).order_by(CheckedFile.id.desc()).first()
    )
    left = plain(round(held.left_g))
    if file is None or file.grams <= 0:
        return words.left_said(left)
    need = plain(round(file.grams))
    if left_g >= file.grams:
        return words.enough_said(left, file.name, need)
    layer, height_mm = both_of(tuned, None, round(file.height_mm * left_g / file.grams, 1) or None)
    return words.latest_said(left, file.name, need, stopped_said(layer, height_mm))


MOST_REMEMBERED: Final = 5


def _let_go(setup: Setup) -> str:
    """How parts of this family came off this surface before, the newest first."""
    rows = list(
        LetGo.select()
        .where(LetGo.surface == setup.surface_id, LetGo.family == setup.filament.family)
        .order_by(LetGo.id.desc())
        .limit(MOST_REMEMBERED)
    )
    if not rows:
        return words.NOTHING_REMEMBERED
    return words.remembered_said([row.way for row in rows if row.worked], [row.way for row in rows if not row.worked])


def _guide(key: str, row: Guide, worked_out: dict[str, str]) -> GuideOut:
    places = {step.name: place for place, step in enumerate(row.steps) if step.name}
    return GuideOut(
        key=key,
        name=row.name,
        words=row.words,
        work=None if row.work is None else row.work,
        work_name="" if row.work is None else CHANGES[row.work].name,
        steps=[
            GuideStepOut(
                do=step.do.format_map(worked_out),
                cautions=[CAUTIONS[one] for one in step.cautions],
                wait_s=step.wait_s,
                asks=[
                    GuideAskOut(text=one.text, to=places[one.to] if one.to else None, said=one.said)
                    for one in step.asks
                ],
            )
            for step in row.steps
        ],
    )
