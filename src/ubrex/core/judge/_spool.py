"""Whether a spool is enough, and whether a print on record can be true."""

from __future__ import annotations

from typing import Final

from ubrex.core.judge._findings import Code, Finding

RESERVE_G: Final = 10.0
"""What has to be left on a spool beside what a print needs [g] (job, section 8), unless somebody set another reserve."""

NEW_SPOOL_SLACK_G: Final = 10.0
"""A spool may hold so much more [g] than it was sold with: makers wind generously (E)."""

TIGHT_COIL: Final = 0.25
"""The last quarter of a spool lies in tight coils, which pull at a feeder (job, section 7)."""

FASTEST_MELT_MM3_S: Final = 100.0
"""No hobby hotend melts more (job, section 5; E)."""

S_PER_H: Final = 3600.0
MM3_PER_CM3: Final = 1000.0


def judge_spool(
    *,
    left_g: float | None,
    weighed: bool,
    full_g: float,
    need_g: float | None = None,
    reserve_g: float = RESERVE_G,
    tube: bool = False,
) -> list[Finding]:
    """Whether what is left on a spool [g] is enough.

    Parameters
    ----------
    left_g, weighed, full_g
        What should be left, whether anybody weighed it, and what a full one holds. ``left_g`` None: no spool is named.
    need_g, reserve_g
        What the print takes, None where nobody knows; and what has to be left beside it.
    tube
        Whether a feeder pulls it through a tube.
    """
    if left_g is None:
        return []
    if not weighed:
        return [Finding(code=Code.SPOOL_UNWEIGHED, value=left_g)]
    if left_g <= 0:
        return [Finding(code=Code.SPOOL_EMPTY)]
    found = []
    if need_g is not None and need_g > left_g:
        found.append(Finding(code=Code.SPOOL_SHORT, value=need_g, high=left_g))
    elif (need_g or 0.0) + reserve_g > left_g:
        found.append(Finding(code=Code.SPOOL_RESERVE, value=need_g or 0.0, low=reserve_g, high=left_g))
    if tube and left_g < TIGHT_COIL * full_g:
        found.append(Finding(code=Code.SPOOL_END, value=left_g, high=full_g))
    return found


def judge_print(*, hours: float, grams: float, density_g_cm3: float, full_g: float | None) -> list[Finding]:
    """Whether a print on record can be true: its mass against the spool, and against its time."""
    found = []
    if full_g is not None and grams > full_g + NEW_SPOOL_SLACK_G:
        found.append(Finding(code=Code.MORE_THAN_SPOOL, value=grams, high=full_g))
    rate = grams / density_g_cm3 * MM3_PER_CM3 / (hours * S_PER_H)
    if rate > FASTEST_MELT_MM3_S:
        found.append(Finding(code=Code.FASTER_THAN_MELT, value=rate, high=FASTEST_MELT_MM3_S))
    return found
