"""Retraction speed, its distance being fixed: the slowest that is as good as the fastest allowed one (rules, section N)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from typing import Final

from ubrex.core.calibrate._rating import BEST_RATING, Row, log_likelihood, normalised
from ubrex.core.calibrate._retraction import GOOD_QUALITY, NO_RESPONSE_BELOW, RETRACTION_CAPS, step_family
from ubrex.core.materials import Stiffness

FEWEST_SPEEDS, FEWEST_SPEED_WORDS = 4, 3
"""So many speeds, and words, a tower needs (rules, N)."""

AS_GOOD_WITHIN, SURE_AS_GOOD = 0.5, 0.80
"""As good: within so much of the fastest allowed one, so surely (rules, N)."""

SURE_OF_NO_DIFFERENCE: Final = 0.8
"""So sure that nothing responds, the slowest is taken (rules, N)."""


class SpeedVerdict(StrEnum):
    """What a tower of speeds says."""

    PICK = "pick"
    NO_DIFFERENCE = "no_difference"
    EXTEND_FASTER = "extend_faster"
    AT_LIMIT = "at_limit"
    ALL_VETOED = "all_vetoed"
    REFUSE = "refuse"


@dataclass(frozen=True, slots=True, kw_only=True)
class SpeedResult:
    """The speed to take [mm/s], and how sure each allowed one is to be as good as the fastest."""

    verdict: SpeedVerdict
    reason: str
    p_no_response: float | None = None
    cap_mm_s: float | None = None
    speed_mm_s: float | None = None
    p_as_good: tuple[float, ...] | None = None
    p_best_good: float | None = None


def retraction_speed(
    speeds_mm_s: Sequence[float], strings: Row, *, vetoed: Sequence[bool] | None = None, feed: str = "direct",
    material: str = "rigid", slack: float = AS_GOOD_WITHIN, p_needed: float = SURE_AS_GOOD,
) -> SpeedResult:  # fmt: skip
    """The slowest speed whose strings are as good as the best allowed one's. Method: docs/methods/retraction.md.

    ``strings``: 0 to 4, 4 for none. ``vetoed``: bands that clicked or ground; they and all faster ones are out.
    ``feed``: direct or bowden; ``material``: rigid, semi or flexible.
    """
    speeds = tuple(float(speed) for speed in speeds_mm_s)
    if len(speeds) < FEWEST_SPEEDS or speeds[0] <= 0 or any(after <= before for before, after in pairwise(speeds)):
        return SpeedResult(verdict=SpeedVerdict.REFUSE, reason="four_rising_speeds_needed")
    if any(word is not None and not 0 <= word <= BEST_RATING for word in strings):
        return SpeedResult(verdict=SpeedVerdict.REFUSE, reason="invalid_rating")
    if sum(word is not None for word in strings) < FEWEST_SPEED_WORDS:
        return SpeedResult(verdict=SpeedVerdict.REFUSE, reason="nothing_rated")
    cap = RETRACTION_CAPS[feed == "direct", Stiffness(material)].speed_mm_s
    out = list(vetoed) if vetoed is not None else [False] * len(speeds)
    # What clicked once clicks at every faster band too.
    first_out = out.index(True) if True in out else len(speeds)
    allowed = [place for place in range(first_out) if speeds[place] <= cap + 1e-9]
    family = step_family(speeds, rising=True)
    weights, curves = normalised(family.prior + log_likelihood(family.likely, [strings])), family.curves
    none = float(weights @ (curves[:, -1] - curves[:, 0] < NO_RESPONSE_BELOW))
    found = SpeedResult(verdict=SpeedVerdict.ALL_VETOED, reason="", p_no_response=none, cap_mm_s=cap)
    if not allowed:
        return replace(found, reason="grinds_at_every_speed" if first_out == 0 else "above_the_limit")
    best = curves[:, allowed[-1]]
    as_good = tuple(float(weights @ (best - curves[:, place] <= slack)) for place in allowed)
    good = float(weights @ (best >= GOOD_QUALITY))
    found = replace(found, p_as_good=as_good, p_best_good=good)
    # The best allowed band is as good as itself: there is always one.
    pick = next(place for place, share in zip(allowed, as_good, strict=True) if share >= p_needed)

    def says(verdict: SpeedVerdict, reason: str, speed_mm_s: float | None) -> SpeedResult:
        return replace(found, verdict=verdict, reason=reason, speed_mm_s=speed_mm_s)

    # Where the slowest will do nothing is claimed for speed: the reason for strings is another.
    if pick == allowed[0] or none >= SURE_OF_NO_DIFFERENCE:
        return says(SpeedVerdict.NO_DIFFERENCE, "speed_is_not_the_lever", speeds[allowed[0]])
    if good < 0.5 and allowed[-1] == len(speeds) - 1 and speeds[-1] < cap - 1e-9:
        return says(SpeedVerdict.EXTEND_FASTER, "still_strings", None)
    if good < 0.5:
        ground = first_out < len(speeds)
        return says(
            SpeedVerdict.AT_LIMIT, "grinds_before_it_is_clean" if ground else "limit_before_it_is_clean", speeds[pick]
        )
    return says(SpeedVerdict.PICK, "lowest_as_good", speeds[pick])
