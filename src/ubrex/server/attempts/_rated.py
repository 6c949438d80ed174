"""What an attempt is judged by: one sign on its scale, or no more than whether it works."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Final

from ubrex.server.store.records import Print
from ubrex.server.words.scales import SIGNS

RATED: Final = {"good": 3.0, "bad": 1.0}
"""*Works* and *does not* on the scale of 0 to 4 (E): two words apart, which one print each does not prove (rules, N)."""


def rating_of(row: Print, sign: str) -> float | None:
    """0 to 4; None where nobody looked, or it was stopped before that could be told."""
    if sign:
        rated = row.signs.get(sign)
        return None if rated is None else float(rated)
    return RATED.get(row.outcome)


def most_rated(rows: Sequence[Print]) -> str:
    """The sign that was looked at most often, if more than once; else whether it works."""
    seen = Counter(key for row in rows for key in row.signs)
    often = max(SIGNS, key=lambda key: seen[key])
    return often if seen[often] > 1 else ""
