"""Guides for one setup: the right ones for its hotend, with its temperatures in them."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import Kind
from ubrex.core.materials import UNKNOWN_WINDOW, Liner, family
from ubrex.server.desk import Work
from ubrex.server.profile import Tuned, limit_on, tuned_of, usual_on
from ubrex.server.views.faults import GuideOut, GuidesOut, GuideStepOut
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.faults import CAUTIONS
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
    heats = _heats(tuned)
    return GuidesOut(
        setup=setup_out(setup),
        guides=[_guide(key, row, heats) for key, row in GUIDES.items() if row.lined is None or row.lined is lined],
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


def _guide(key: str, row: Guide, heats: dict[str, str]) -> GuideOut:
    return GuideOut(
        key=key,
        name=row.name,
        words=row.words,
        work=None if row.work is None else row.work,
        work_name="" if row.work is None else CHANGES[row.work].name,
        steps=[
            GuideStepOut(
                do=step.do.format_map(heats), cautions=[CAUTIONS[one] for one in step.cautions], wait_min=step.wait_min
            )
            for step in row.steps
        ],
    )
