"""Strips of values on record: how well one is known, beside what is worth a change."""

from __future__ import annotations

from ubrex.core.calibrate import LeastChange, least_change
from ubrex.core.chain import Purpose, Standing
from ubrex.core.quantity import decimal_text
from ubrex.server.views.values import StripOut, ValueOut
from ubrex.server.words.history import strip_said
from ubrex.server.words.numbers import plus_minus
from ubrex.server.words.values import known_said, strip_title


def value_strip(
    value: ValueOut, places: int, purpose: Purpose, standing: Standing, before: ValueOut | None = None
) -> StripOut | None:
    """A value with its ±, and round it, or round the one ``before`` it, the band of what is not worth a change.

    None where no rule says what that is, or where the value was never measured and replaces none.
    """
    about = value if before is None else before
    least = least_change(value.kind, about.number, purpose)
    if least is None or (before is None and value.half_width_95 is None):
        return None
    return StripOut(
        unit=about.unit,
        places=places,
        step=10**-places,
        target=None if before is not None else value.number,
        low=about.number - least.amount,
        high=about.number + least.amount,
        before_mean=None if before is None else before.number,
        before_half_width=None if before is None else before.half_width_95,
        mean=value.number,
        half_width=value.half_width_95,
        standing=standing,
        title=strip_title(value.name, value.unit_text),
        sentence=_said(value, places, least) if before is None else _between(before, value),
    )


def _said(value: ValueOut, places: int, least: LeastChange) -> str:
    return known_said(value.setting, value.unit_text, value.half_width_95 or 0.0, decimal_text(least.amount, places))


def _between(before: ValueOut, now: ValueOut) -> str:
    half = "" if before.half_width_95 is None else plus_minus(before.half_width_95)
    return strip_said(f"{before.setting} {half}".rstrip(), now.setting)
