"""What tonight's numbers come to with those beside them."""

from __future__ import annotations

import math
from typing import Final

from ubrex.server.words.numbers import NBSP, plain

WHOLE: Final = 100
MINUTES: Final = 60


def layers_said(span_mm: float, count: int) -> str:
    """How many layers a height takes."""
    return f"{count} layers to {plain(span_mm)}{NBSP}mm"


def melt_said(rate_mm3_s: float, cap_mm3_s: float | None) -> str:
    """How much a speed asks of the hotend, and of how much that may be."""
    if cap_mm3_s is None:
        return f"asks for {plain(round(rate_mm3_s, 1))}{NBSP}mm³/s"
    most = math.floor(100 * cap_mm3_s / rate_mm3_s)
    asks = f"asks for {plain(round(rate_mm3_s, 1))} of {plain(round(cap_mm3_s, 1))}{NBSP}mm³/s"
    return f"{asks}: override up to {most}{NBSP}%" if most >= WHOLE else f"{asks}: too fast, override to {most}{NBSP}%"


def width_said(share_pct: float, lines: int, brim_mm: float | None) -> str:
    """A line width as a share of the bore, and how wide a brim of such lines is."""
    share = f"{share_pct:.0f}{NBSP}% of the bore"
    return share if brim_mm is None else f"{share}; {lines} brim lines are {brim_mm:.1f}{NBSP}mm"


def cost_said(grams: float, spool: str, price: float, full_g: float) -> str:
    """What a part costs in filament."""
    cost = f"{grams * price / full_g:.2f}"
    return f"{plain(round(grams, 1))}{NBSP}g cost {cost} from spool {spool} ({plain(price)} for {plain(full_g)}{NBSP}g)"


def height_said(height_mm: float, count: int) -> str:
    """A height in layers as they are set."""
    return f"{plain(height_mm)}{NBSP}mm are {count} layers as set"


def took_with_said(bore_mm: float, width_mm: float, layer_mm: float, seconds: float, *, capped: bool) -> str:
    """How long a print would take with other lines."""
    minutes = round(seconds / 60)
    time = f"{minutes // 60}{NBSP}h {minutes % 60:02d}" if minutes >= MINUTES else f"{minutes}{NBSP}min"
    line = f"{plain(bore_mm)}{NBSP}mm nozzle, lines {plain(round(width_mm, 2))} by {plain(round(layer_mm, 2))}"
    return f"{line}: about {time}{', as fast as the hotend melts' if capped else ''}"


def law_said(cap_mm3_s: float | None) -> str:
    """The law that those times go by."""
    until = "" if cap_mm3_s is None else f" until the hotend is at its {plain(round(cap_mm3_s, 1))}{NBSP}mm³/s"
    return f"Time goes with 1 / area of the line{until}. Travels and short lines stay as slow: a real print gains less."


def speed_said(speed: str) -> str:
    """How fast the line that is set can be laid at most."""
    return f"this line up to {speed}{NBSP}mm/s"
