"""What is said of a bar."""

from __future__ import annotations

from typing import Final

from ubrex.core.quantity import Verdict, decimal_text
from ubrex.server.calibrations import MethodWords

BAR: Final = MethodWords(
    name="A bar between its ends",
    short="bar",
    why=("How long a part comes out.",),
    procedure=("Print the bar.", "Let it cool.", "Measure it from end to end, three times."),
    reads="the bar, end to end",
    slips=("held askew", "still warm"),
)
IMPOSSIBLE: Final = "is no length of this bar."
LIMIT: Final = "Holds for this filament, as hot as it was printed."


def scale_said(verdict: Verdict, mean_mm: float, drawn_mm: float) -> str:
    """What was found, in one sentence."""
    told = f"Drawn {decimal_text(drawn_mm, 1)} mm, it is {decimal_text(mean_mm, 2)} mm long."
    return told if verdict is Verdict.APPLY else f"{told} That is no reason to change anything."
