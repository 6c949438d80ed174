"""What is said of a value that moves over time."""

from __future__ import annotations

from collections.abc import Sequence

from ubrex.core.checks import Drift


def drift_said(found: Drift, count: int, since: str | None, last: Sequence[str]) -> str:
    """Whether a correction has moved by itself; ``last``: the corrections that went the same way."""
    same = ""
    if last:
        same = f" {len(last) - 1} corrections in the same direction ({', '.join(last)}): look at nozzle and gear."
    match found.verdict:
        case "alarm":
            way = "up" if found.side == "up" else "down"
            return f"Has moved {way} since {since}: check for a partial clog or a worn nozzle before correcting again.{same}"
        case "quiet":
            return f"No drift that these {count} checks can show.{same}"
    return f"Too few checks to judge drift.{same}"


def named(name: str, drift: str) -> str:
    """What is said of the drift of one value, where others stand beside it."""
    return f"{name}: {drift[:1].lower()}{drift[1:]}"
