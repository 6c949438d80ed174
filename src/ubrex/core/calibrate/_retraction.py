"""Retraction tower: the shortest retraction that is good enough, or that it is not the retraction (rules, section F).

Longer ones can only take strings away and can only starve the line after a travel; or they change nothing at all, which is
believed at three in ten before anything is rated.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from typing import Final

import numpy as np
from scipy.special import betaln

from ubrex.core.calibrate._rating import (
    STRICTNESS,
    Array,
    Row,
    cell_weight,
    contradicting,
    log_likelihood,
    log_table,
    normalised,
    strict_or_mild,
)
from ubrex.core.errors import OutOfRange
from ubrex.core.materials import Stiffness

RETRACTION_RULE_VERSION: Final = "retraction/3"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

FEWEST_DISTANCES: Final = 3

GOOD_QUALITY: Final = 2.5
"""From this quality on, strings and gaps are good enough (rules, F)."""

SURE_OF_STRINGS, SURE_OF_GAP = 0.70, 0.60
"""How sure a distance has to be of being good enough (rules, F)."""

NO_RESPONSE_BELOW: Final = 1.0
"""Strings that get better by less than this over the whole tower do not respond (rules, F)."""

HOPEFUL: Final = 0.4
"""So sure of the longest distance, a finer tower near the end is worth it (rules, F)."""

FLAT_PRIOR: Final = 0.3
"""How much is believed beforehand in no response at all (rules, F)."""

IN_USE_STAYS: Final = 0.13
"""What is in use stays unless it is less likely than this to be good enough: no more than 5 % of what is right is changed
(evidence.md)."""

BANDS_LONGER: Final = 2
"""It stays too where it is longer than the pick by no more than so many bands (evidence.md)."""

ENOUGH_OF_CAP: Final = 0.6
"""A tower that ends below this share of the cap does not show that nothing responds (evidence.md)."""

COUNT_WEIGHT: Final = 19.0
"""Beta-binomial weight of counts: crossings of one band are alike, correlation 0.05 = 1 / (1 + 19) (rules, F)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RetractionCap:
    """Longest retraction [mm] and fastest [mm/s] of a feed path and filament, and why."""

    distance_mm: float
    speed_mm_s: float
    why: str


_BOWDEN_RIGID = "7 mm take up the slack of a bent tube of 1 m, its stretch and its fittings; more only pulls melt cold"
_DIRECT_RIGID = "past about 2 mm melt is drawn into the heat break of a direct extruder"
_SOFT = (
    "soft filament stretches and buckles instead of following: a longer or faster retraction cannot help it, and jams"
)
RETRACTION_CAPS: Final[Mapping[tuple[bool, Stiffness], RetractionCap]] = {
    (True, Stiffness.RIGID): RetractionCap(distance_mm=2.0, speed_mm_s=50, why=_DIRECT_RIGID),
    (True, Stiffness.SEMI): RetractionCap(distance_mm=1.5, speed_mm_s=40, why=_SOFT),
    (True, Stiffness.FLEXIBLE): RetractionCap(distance_mm=1.0, speed_mm_s=25, why=_SOFT),
    (False, Stiffness.RIGID): RetractionCap(distance_mm=7.0, speed_mm_s=60, why=_BOWDEN_RIGID),
    (False, Stiffness.SEMI): RetractionCap(distance_mm=5.0, speed_mm_s=40, why=_SOFT),
    (False, Stiffness.FLEXIBLE): RetractionCap(distance_mm=3.0, speed_mm_s=20, why=_SOFT),
}
"""Caps by whether the extruder sits on the hotend, and by stiffness (rules, F)."""


class RetractionVerdict(StrEnum):
    """What a retraction tower says."""

    PICK = "pick"
    GOOD_EVERYWHERE = "good_everywhere"
    DOES_NOT_RESPOND = "does_not_respond"
    BEYOND_LIMIT = "beyond_limit"
    CONFLICT_GAP = "conflict_gap"
    UNCLEAR = "unclear"
    EXTEND_LONGER = "extend_longer"
    AT_LIMIT = "at_limit"
    TOO_FEW_BANDS = "too_few_bands"
    NOTHING_RATED = "nothing_rated"
    NO_BAND_LEFT = "no_band_left"


@dataclass(frozen=True, slots=True, kw_only=True)
class RetractionSample:
    """Strings and gaps of a tower, by distance [mm], one row for each rater.

    ``strings``: ratings, 4 for none; counts of crossings with a string where ``crossings`` says how many there are.
    ``vetoed``: bands where the extruder clicked or ground: they and all longer ones are out. ``out``: bands that
    failed or were never printed. ``in_use``: the distance that is set now.
    """

    distances_mm: tuple[float, ...]
    strings: tuple[Row, ...]
    gaps: tuple[Row, ...] = ()
    crossings: int | None = None
    direct: bool = True
    stiffness: Stiffness = Stiffness.RIGID
    vetoed: frozenset[int] = frozenset()
    out: frozenset[int] = frozenset()
    in_use: float | None = None

    @property
    def most(self) -> float:
        """The most that is ever picked."""
        return self.cap.distance_mm

    @property
    def cap(self) -> RetractionCap:
        """Longest and fastest retraction here."""
        return RETRACTION_CAPS[self.direct, self.stiffness]


@dataclass(frozen=True, slots=True, kw_only=True)
class RetractionFigures:
    """Probabilities by band, in the order of the sample: strings and gap good enough; and that nothing responds.

    ``good``: bands that were printed and rated, are good enough in both, and short enough. ``p_stays``: strings good enough,
    however strict the rater. ``in_use_stays``: what is set now may well be good enough, and is not much longer than the
    pick.
    """

    p_good: tuple[float, ...]
    p_gap: tuple[float, ...]
    quality: tuple[float, ...]
    quality_std: tuple[float, ...]
    p_no_response: float
    distance_mm: float | None
    contradictions: tuple[tuple[int, int], ...]
    good: frozenset[int] = frozenset()
    p_stays: tuple[float, ...] = ()
    in_use_stays: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class RetractionResult:
    """Verdict of a retraction tower; figures are None where nothing can be said."""

    verdict: RetractionVerdict
    figures: RetractionFigures | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class StepFamily:
    """Curves of quality over sorted distances, what each is believed beforehand (log), and log-likelihoods of ratings."""

    curves: Array
    prior: Array
    likely: Array
    unanchored: tuple[Array, ...]


@lru_cache(maxsize=32)
def step_family(distances_mm: tuple[float, ...], rising: bool) -> StepFamily:
    """Curves of quality that rise, or fall, over some steps, and those that stay level (rules, F)."""
    distance = np.array(distances_mm)
    span, count = distance[-1] - distance[0], len(distance)
    curves = []
    for middle in np.linspace(distance[0] - span / 4, distance[-1] + span / 4, 3 * count):
        for width in (0.03 * span, 0.08 * span, 0.2 * span):
            slope = (distance - middle) / width * (1 if rising else -1)
            shape = 1 / (1 + np.exp(-np.clip(slope, -50, 50)))
            curves += [bottom + (top - bottom) * shape for top in (4.0, 3.3) for bottom in (0.0, 1.0, 2.0)]
    flat = np.arange(0, 4.01, 0.25)
    every = np.array([*curves, *(np.full(count, level) for level in flat)])
    prior = np.log(
        np.r_[np.full(len(curves), (1 - FLAT_PRIOR) / len(curves)), np.full(len(flat), FLAT_PRIOR / len(flat))]
    )
    unanchored = tuple(log_table(every + off) for off in STRICTNESS)
    return StepFamily(curves=every, prior=prior, likely=log_table(every), unanchored=unanchored)


def evaluate_retraction(sample: RetractionSample) -> RetractionResult:
    """The smallest tested distance that is good enough. Method: docs/methods/retraction.md.

    Raises
    ------
    OutOfRange
        If a rating is not 0 to 4, a count is more than the crossings, or a row has not one place for each distance.
    """
    _check(sample)
    if len(set(sample.distances_mm)) < FEWEST_DISTANCES:
        return RetractionResult(verdict=RetractionVerdict.TOO_FEW_BANDS)
    if not any(value is not None for row in sample.strings for value in row):
        return RetractionResult(verdict=RetractionVerdict.NOTHING_RATED)
    order = sorted(range(len(sample.distances_mm)), key=lambda place: sample.distances_mm[place])
    distance = tuple(sample.distances_mm[place] for place in order)
    rising, falling = step_family(distance, rising=True), step_family(distance, rising=False)
    strings = [[row[place] for place in order] for row in sample.strings]
    gaps = [[row[place] for place in order] for row in sample.gaps]
    weights = normalised(rising.prior + _said_of_strings(rising, strings, sample.crossings))
    p_good = weights @ (rising.curves >= GOOD_QUALITY)
    change = rising.curves[:, -1] - rising.curves[:, 0]
    p_no_response = float(weights @ (change < NO_RESPONSE_BELOW))
    # Strings get fewer with the distance and gaps more: two ladders, read against each other.
    p_gap = np.ones(len(distance))
    if any(value is not None for row in gaps for value in row):
        p_gap = normalised(falling.prior + log_likelihood(falling.likely, gaps)) @ (falling.curves >= GOOD_QUALITY)
    p_stays = p_good
    if sample.crossings is None:
        # What is in use is not changed for a strict rater's sake.
        p_stays = normalised(rising.prior + strict_or_mild(rising.unanchored, strings)) @ (
            rising.curves >= GOOD_QUALITY
        )
    quality = weights @ rising.curves
    ratings = strings if sample.crossings is None else []
    figures = RetractionFigures(
        p_good=_back(p_good, order),
        p_gap=_back(p_gap, order),
        quality=_back(quality, order),
        quality_std=_back(np.sqrt(np.maximum(0, weights @ rising.curves**2 - quality**2)), order),
        p_no_response=p_no_response,
        p_stays=_back(p_stays, order),
        distance_mm=None,
        contradictions=tuple(
            (rater, order[place]) for rater, place in contradicting(rising.likely, ratings, rising.prior)
        ),
    )
    return _judge(sample, order, _Belief(p_good, p_gap, p_stays), figures)


def _check(sample: RetractionSample) -> None:
    most = 4 if sample.crossings is None else sample.crossings
    for name, rows, limit in (("strings", sample.strings, most), ("gap", sample.gaps, 4)):
        for row in rows:
            if len(row) != len(sample.distances_mm):
                raise OutOfRange("one number, or none, for each distance", name=name)
            for value in row:
                if value is not None and not 0 <= value <= limit:
                    raise OutOfRange(f"0 to {limit}", name=name, value=value)


def _said_of_strings(family: StepFamily, rows: Sequence[Row], crossings: int | None) -> Array:
    """Log-likelihood of each curve: ratings, or counts as a beta-binomial (rules, F)."""
    if crossings is None:
        return log_likelihood(family.likely, rows)
    share = np.clip((4 - family.curves) / 4, 0.005, 0.995)
    total = np.zeros(len(family.curves))
    for row in rows:
        for place, count in enumerate(row):
            if count is not None:
                here = share[:, place]
                likely = betaln(count + COUNT_WEIGHT * here, crossings - count + COUNT_WEIGHT * (1 - here))
                likely -= betaln(COUNT_WEIGHT * here, COUNT_WEIGHT * (1 - here))
                total += cell_weight(rows, place) * likely
    return total


def _back(values: Array, order: Sequence[int]) -> tuple[float, ...]:
    """Values by sorted distance, in the order of the sample again."""
    found = [0.0] * len(order)
    for value, place in zip(values, order, strict=True):
        found[place] = float(value)
    return tuple(found)


@dataclass(frozen=True, slots=True)
class _Belief:
    """How likely each distance is good enough for strings and gaps; and for strings, however strict its raters are."""

    good: Array
    gap: Array
    stays: Array


def _judge(
    sample: RetractionSample, order: Sequence[int], belief: _Belief, figures: RetractionFigures
) -> RetractionResult:
    distance = [sample.distances_mm[place] for place in order]
    cap = sample.most
    shut = min((sample.distances_mm[place] for place in sample.vetoed), default=float("inf"))
    p_good = belief.good
    clean, fed = p_good >= SURE_OF_STRINGS, belief.gap >= SURE_OF_GAP
    short = np.array([length <= cap + 1e-9 and length < shut for length in distance])
    seen = np.array([place not in sample.out and _rated(sample, place) for place in order])
    good = np.flatnonzero(clean & fed & short & seen)
    verdict, picked = RetractionVerdict.AT_LIMIT, None
    if not short.any():
        verdict = RetractionVerdict.NO_BAND_LEFT
    elif figures.p_no_response >= 0.5 and not clean.all():
        near = distance[-1] < ENOUGH_OF_CAP * cap and shut > cap
        verdict = RetractionVerdict.EXTEND_LONGER if near else RetractionVerdict.DOES_NOT_RESPOND
    elif len(good):
        picked = distance[good[0]]
        every = clean.all() and good[0] == np.flatnonzero(seen)[0]
        verdict = RetractionVerdict.GOOD_EVERYWHERE if every else RetractionVerdict.PICK
    elif clean.any() and not (clean & short).any():
        verdict = RetractionVerdict.BEYOND_LIMIT
    elif clean.any():
        verdict = RetractionVerdict.CONFLICT_GAP
    elif p_good[-1] >= HOPEFUL:
        verdict = RetractionVerdict.UNCLEAR
    elif distance[-1] < min(cap, shut) - 1e-9:
        verdict = RetractionVerdict.EXTEND_LONGER
    allowed = short & ~np.isin(order, list(sample.out))
    stays = bool(len(good)) and _stays(sample, distance, belief.stays * allowed, int(good[0]))
    bands = frozenset(order[int(place)] for place in good)
    return RetractionResult(
        verdict=verdict, figures=replace(figures, distance_mm=picked, good=bands, in_use_stays=stays)
    )


def _rated(sample: RetractionSample, band: int) -> bool:
    return any(row[band] is not None for row in sample.strings)


def _stays(sample: RetractionSample, distance: Sequence[float], p_stays: Array, picked: int) -> bool:
    """Whether what is in use may be good enough, told by the nearest band; never what lies outside the tower."""
    step = (distance[-1] - distance[0]) / (len(distance) - 1)
    if sample.in_use is None or not distance[0] - step / 2 <= sample.in_use <= distance[-1] + step / 2:
        return False
    nearest = min(range(len(distance)), key=lambda place: abs(distance[place] - (sample.in_use or 0.0)))
    return bool(p_stays[nearest] >= IN_USE_STAYS) and nearest - picked <= BANDS_LONGER
