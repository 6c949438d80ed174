"""Sums that stand beside the number they belong to: a speed as melt rate, a melt rate as speed, layers as height."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from ubrex.core.bead import Bead
from ubrex.core.chain import Kind
from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import decimal_text
from ubrex.server.store.facts import ValueRow
from ubrex.server.words import sums as words

SPEEDS: Final = (Kind.SPEED_OUTER, Kind.SPEED_INNER, Kind.SPEED_FILL)

SPAN_MM: Final = 10.0
"""Height in which layers are counted."""


def sum_of(kind: Kind, values: Mapping[Kind, ValueRow]) -> str:
    """What one of tonight's numbers comes to with those beside it; nothing where one of them is missing."""
    value = values.get(kind)
    if value is None:
        return ""
    if kind is Kind.LAYER:
        first = values.get(Kind.LAYER_FIRST, value).number
        return words.layers_said(SPAN_MM, 1 + math.ceil((SPAN_MM - first) / value.number - 1e-9))
    area = _area(values)
    if area is None:
        return ""
    if kind in SPEEDS:
        cap = values.get(Kind.TOP_FLOW)
        return words.melt_said(area * value.number, None if cap is None else cap.number)
    if kind is Kind.TOP_FLOW:
        return words.speed_said(decimal_text(value.number / area, 0))
    return ""


def _area(values: Mapping[Kind, ValueRow]) -> float | None:
    """Area of the line that is set [mm2], and so the volume in each mm of it."""
    width, height = values.get(Kind.LINE_WIDTH), values.get(Kind.LAYER)
    if width is None or height is None:
        return None
    try:
        return Bead(width_mm=width.number, height_mm=height.number).area_mm2
    except OutOfRange:
        return None
