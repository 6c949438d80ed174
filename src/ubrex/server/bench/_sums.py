"""Sums that stand beside the number they belong to: a speed as melt rate, a melt rate as speed, layers as height."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from ubrex.core.bead import Bead, Layers, bead_or_none
from ubrex.core.chain import Kind
from ubrex.core.quantity import decimal_text
from ubrex.server.store.facts import ValueRow
from ubrex.server.words import sums as words

SPEEDS: Final = (Kind.SPEED_OUTER, Kind.SPEED_INNER, Kind.SPEED_FILL)

SPAN_MM: Final = 10.0
"""Height in which layers are counted."""


BRIM_LINES: Final = 10
"""Lines that a brim is reckoned in."""


def sum_of(kind: Kind, values: Mapping[Kind, ValueRow], bore_mm: float) -> str:
    """What one of tonight's numbers comes to with those beside it; nothing where one of them is missing."""
    value = values.get(kind)
    if value is None:
        return ""
    if kind is Kind.LAYER:
        layers = Layers(first_mm=values.get(Kind.LAYER_FIRST, value).number, each_mm=value.number)
        return words.layers_said(SPAN_MM, layers.reaching(SPAN_MM))
    line = _line(values)
    if kind is Kind.LINE_WIDTH:
        brim = None if line is None else line.wall_mm(BRIM_LINES, line.solid_mm)
        return words.width_said(100 * value.number / bore_mm, BRIM_LINES, brim)
    if line is None:
        return ""
    if kind in SPEEDS:
        cap = values.get(Kind.TOP_FLOW)
        return words.melt_said(line.area_mm2 * value.number, None if cap is None else cap.number)
    if kind is Kind.TOP_FLOW:
        return words.speed_said(decimal_text(value.number / line.area_mm2, 0))
    return ""


def _line(values: Mapping[Kind, ValueRow]) -> Bead | None:
    """The line that is set."""
    width, height = values.get(Kind.LINE_WIDTH), values.get(Kind.LAYER)
    return bead_or_none(None if width is None else width.number, None if height is None else height.number)
