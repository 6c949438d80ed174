"""Tonight's numbers: what is typed into the slicing program, in the order in which it is typed."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import (
    KINDS,
    SHOWN_HERE,
    Kind,
    Origin,
    SetAt,
    Standing,
)
from ubrex.core.materials import family
from ubrex.core.quantity import decimal_text
from ubrex.server.bench._shown import Shown
from ubrex.server.profile import (
    Standings,
    beyond_retraction_cap,
    effective_flow,
)
from ubrex.server.store.facts import ValueRow
from ubrex.server.views.bench import (
    TonightLineOut,
)
from ubrex.server.words.numbers import unit_text
from ubrex.server.words.profile import limit_said, usual_said
from ubrex.server.words.standing import (
    standing_word,
)

_ALWAYS_THERE: Final = (Kind.LINE_WIDTH, Kind.LAYER, Kind.NOZZLE, Kind.BED, Kind.FLOW, Kind.FAN)
"""Numbers that no slicing program does without: shown with what is usual while there is no value."""

_CHOSEN: Final = frozenset({Kind.LINE_WIDTH, Kind.LAYER, Kind.LAYER_FIRST})
"""Numbers that somebody decided on: nothing measures them, and nothing makes them stale."""


def tonight_lines(show: Shown) -> list[TonightLineOut]:
    """Numbers for the slicing program, in the order in which they are typed."""
    return [
        _tonight_line(kind, show)
        for kind, what in KINDS.items()
        if what.set_at is SetAt.SLICER and kind is not Kind.FLOW_BIAS and (kind in show.values or kind in _ALWAYS_THERE)
    ]


def _tonight_line(kind: Kind, show: Shown) -> TonightLineOut:
    found, shown = show.found, show.values.get(kind)
    value, setup = found.values.get(kind), found.setup
    text, remark = _tonight_text(kind, value, found)
    now, word = _tonight_standing(kind, value, found)
    if value is not None and not remark:
        remark = beyond_retraction_cap(setup, kind, value.number)
    beyond = found.beyond.get(kind)
    if beyond is not None:
        now, word, remark = Standing.OUT, "Too hot", limit_said(beyond.max_c, beyond.of)
    return TonightLineOut(
        kind=kind,
        name=KINDS[kind].name,
        value=shown,
        text=text,
        unit_text=unit_text(KINDS[kind].unit.value),
        half_width_text="" if shown is None else shown.half_width_text,
        usual="" if value is not None else usual_said(kind, family(setup.filament.family), setup.nozzle.bore_mm),
        remark=remark,
        standing=now,
        standing_word=word,
        typed_in=value is not None and found.typed_in.get(value.id, False),
    )


def _tonight_standing(kind: Kind, value: ValueRow | None, found: Standings) -> tuple[Standing, str]:
    if value is None:
        return Standing.NEVER, "Not set"
    if kind in _CHOSEN:
        return Standing.ASSUMED, "Chosen"
    facts = found.steps.get(KINDS[kind].step)
    now = facts.standing if facts is not None else Standing.ASSUMED
    if now in {Standing.FRESH, Standing.AGEING} and Origin(value.origin) not in SHOWN_HERE:
        now = Standing.ASSUMED
    return now, standing_word(now)


def _tonight_text(kind: Kind, value: ValueRow | None, found: Standings) -> tuple[str, str]:
    """The number to type, and a word on it: flow is typed with its bias in it."""
    if value is None:
        return "", ""
    places = KINDS[kind].places
    bias = found.values.get(Kind.FLOW_BIAS)
    if kind is Kind.FLOW and bias is not None and bias.number != 100:
        calibrated = decimal_text(value.number, places)
        typed = effective_flow(list(found.values.values())) or value.number
        return decimal_text(
            typed, places
        ), f"calibrated {calibrated}, {decimal_text(bias.number, 0)} % of it on purpose"
    return decimal_text(value.number, places), ""
