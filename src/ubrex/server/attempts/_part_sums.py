"""Sums that stand beside what is known of a part: what it costs, its layers, and how long it takes with other lines."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from ubrex.core.bead import bead_or_none, time_with_s, usual_layer_mm, usual_line_mm
from ubrex.core.chain import Kind
from ubrex.server.attempts._settings import layers_of
from ubrex.server.profile import Tuned
from ubrex.server.store.facts import ValueRow
from ubrex.server.store.records import CheckedFile, PartFacts, Print
from ubrex.server.words import sums as words

BORES_MM: Final = (0.25, 0.4, 0.6, 0.8)
"""Nozzles that are held against the one that is fitted."""

FINE, COARSE = 0.3, 0.7
"""Layers of the same nozzle that are held against the ones set, as shares of its bore."""


def part_sums(tuned: Tuned, row: Print, facts: PartFacts | None) -> list[str]:
    """What an attempt costs and how many layers it has, as far as somebody said or a file says."""
    file = row.file if row.file_id is not None else None
    grams = row.grams or (facts.grams if facts else None) or (file.grams if file else None)
    height_mm = (facts.height_mm if facts else None) or (file.height_mm if file else None)
    found = []
    if grams and row.spool is not None and row.spool.price is not None:
        found.append(words.cost_said(grams, row.spool.name, row.spool.price, row.spool.full_g))
    layers = layers_of(tuned)
    if height_mm and layers is not None:
        found.append(words.height_said(height_mm, layers.reaching(height_mm)))
    return found


def times_with(tuned: Tuned, row: Print) -> list[str]:
    """How long an attempt would take with other nozzles and layers, with the law; nothing where no time is known."""
    file: CheckedFile | None = row.file if row.file_id is not None else None
    seconds = row.hours * 3600 or (0.0 if file is None else file.seconds)
    numbers = {kind: value.number for kind, value in tuned.values.items()}
    was = bead_or_none(numbers.get(Kind.LINE_WIDTH), numbers.get(Kind.LAYER))
    if was is None or seconds <= 0:
        return []
    bore, cap = tuned.setup.nozzle.bore_mm, numbers.get(Kind.TOP_FLOW)
    lines = [(bore, was.width_mm, share * bore) for share in (FINE, COARSE)]
    lines += [(other, usual_line_mm(other), usual_layer_mm(other)) for other in BORES_MM if other != bore]
    speed = _speed(tuned.values)
    found = []
    for nozzle, width, height in lines:
        becomes = bead_or_none(width, height)
        if becomes is not None:
            # Without a speed nobody knows when the hotend is at its end: the areas alone speak then.
            time = time_with_s(seconds, was, becomes, speed_mm_s=speed or 1.0, cap_mm3_s=cap if speed else None)
            capped = speed is not None and cap is not None and becomes.area_mm2 * speed > cap
            found.append(words.took_with_said(nozzle, width, height, time, capped=capped))
    return [*found, words.law_said(cap if speed else None)]


def _speed(values: Mapping[Kind, ValueRow]) -> float | None:
    """The speed at which most of a print is laid [mm/s]."""
    kinds = (Kind.SPEED_FILL, Kind.SPEED_INNER, Kind.SPEED_OUTER)
    return next((values[kind].number for kind in kinds if kind in values), None)
