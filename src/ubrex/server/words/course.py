"""What is said of a value that moves over time."""

from __future__ import annotations

from collections.abc import Sequence

from ubrex.core.checks import Drift
from ubrex.server.words.numbers import plain


def drift_said(found: Drift, count: int, since: str | None, last: Sequence[float]) -> str:
    """Whether a correction has moved by itself; ``last``: the corrections that went the same way."""
    same = ""
    if last:
        steps = ", ".join(plain(round(number, 3)) for number in last)
        same = f" {len(last) - 1} corrections in the same direction ({steps}): look at nozzle and gear."
    match found.verdict:
        case "alarm":
            way = "up" if found.side == "up" else "down"
            return f"Has moved {way} since {since}: check for a partial clog or a worn nozzle before correcting again.{same}"
        case "quiet":
            return f"No drift that these {count} checks can show.{same}"
    return f"Too few checks to judge drift.{same}"
