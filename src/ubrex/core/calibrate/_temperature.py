"""Temperature tower: which temperature serves a purpose, and how far one can stray from it (rules, section E).

What is known beforehand: bond only gets better with heat, strings, overhangs, bridges and blobs only worse, and the surface
has one best place. Every such curve counts alike until the ratings come in.
"""

from __future__ import annotations

import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from itertools import pairwise
from typing import Final

import numpy as np

from ubrex.core.calibrate._rating import (
    STRICTNESS,
    Array,
    Row,
    contradicting,
    log_likelihood,
    log_table,
    normalised,
    rating_likelihood,
    strict_or_mild,
)
from ubrex.core.chain import Purpose
from ubrex.core.errors import OutOfRange

TEMPERATURE_RULE_VERSION: Final = "temperature/3"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

FEWEST_BANDS: Final = 3

NEAR_Z: Final = 1.28
"""A temperature will do as well when it is worse than the pick by no more than so many standard deviations (rules, E)."""

STAYS_Z: Final = 1.8
"""The same for what is in use: a change is told of no more than 5 % that are right (evidence.md)."""

BREAK_TELLS: Final = (2.0, 3.0)
"""Between these two bonds it is told by the break itself, for every rater alike: it runs along a layer, or across layers."""

SPLITS: Final = 0
"""A band whose bond is rated so came apart by itself: what is in use there never stays (evidence.md)."""

HALF_WIDTH_Z: Final = 1.96
"""The same for the 95 % half-width that a value is kept with."""

BEYOND_C: Final = 15.0
"""The score is looked at so far beyond the tower on either side."""

LEAST_GAIN: Final = 0.10
"""The best beyond the tower has to be better by more than this before a further tower is asked for (rules, E)."""

LEAST_SLOPE: Final = 0.15
"""And the score has to rise by more than this over the last two bands (rules, E)."""

FLAT_SHARE: Final = 0.7
"""A tower of which so much will do as well does not tell temperatures apart (rules, E)."""

EVEN: Final = 0.5
"""A must-have is met, and what will do meets it, where that is likelier than not (rules, E)."""

MAY_WELL: Final = 0.01
"""Nothing in use stays that is less likely than this to meet a must-have (evidence.md)."""

MISSED: Final = 4.0
"""A missed must-have costs the whole scale."""

_CENTRES_BEYOND_C: Final = 40.0
_CENTRE_STEP_C: Final = 5.0
_WIDTHS_C: Final = (3.0, 6.0, 12.0, 24.0)
_TOPS: Final = (4.0, 3.2)


class Criterion(StrEnum):
    """What is looked at on a band; 4 is best for each."""

    BOND = "bond"
    STRINGING = "stringing"
    OVERHANG = "overhang"
    BRIDGING = "bridging"
    SURFACE = "surface"
    BLOBS = "blobs"
    DETAIL = "detail"


DIRECTIONS: Final[Mapping[Criterion, int]] = {
    Criterion.BOND: 1,
    Criterion.STRINGING: -1,
    Criterion.OVERHANG: -1,
    Criterion.BRIDGING: -1,
    Criterion.SURFACE: 0,
    Criterion.BLOBS: -1,
    Criterion.DETAIL: -1,
}
"""What heat does: 1 better, -1 worse, 0 better and then worse (rules, E)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Demand:
    """What a purpose asks of a temperature: how much each criterion counts, and what must be met."""

    weights: Mapping[Criterion, float]
    minimum: Mapping[Criterion, float]


DEMANDS: Final[Mapping[Purpose, Demand]] = {
    Purpose.EVERYDAY: Demand(
        weights={
            Criterion.BOND: 2, Criterion.STRINGING: 2, Criterion.SURFACE: 2,
            Criterion.OVERHANG: 1, Criterion.BRIDGING: 1, Criterion.BLOBS: 1, Criterion.DETAIL: 1,
        },
        minimum={},
    ),
    Purpose.STRENGTH: Demand(
        weights={
            Criterion.BOND: 5, Criterion.STRINGING: 1, Criterion.SURFACE: 1,
            Criterion.OVERHANG: 1, Criterion.BRIDGING: 1, Criterion.BLOBS: 1, Criterion.DETAIL: 1,
        },
        minimum={Criterion.BOND: 2.5},
    ),
    Purpose.LOOKS: Demand(
        weights={
            Criterion.SURFACE: 4, Criterion.STRINGING: 3, Criterion.OVERHANG: 2, Criterion.BLOBS: 2,
            Criterion.BOND: 1, Criterion.BRIDGING: 1, Criterion.DETAIL: 1,
        },
        minimum={},
    ),
    Purpose.FIT: Demand(
        weights={
            Criterion.BLOBS: 3, Criterion.STRINGING: 2, Criterion.OVERHANG: 2, Criterion.BOND: 2,
            Criterion.SURFACE: 1, Criterion.BRIDGING: 1, Criterion.DETAIL: 1,
        },
        minimum={},
    ),
}  # fmt: skip
"""Purposes that a tower is rated for; lightness is a matter of foam, and of rule G (rules, E)."""


class TowerVerdict(StrEnum):
    """What a tower says."""

    PICK = "pick"
    EXTEND_HOTTER = "extend_hotter"
    EXTEND_COOLER = "extend_cooler"
    MINIMUM_NOT_MET = "no_temperature_meets_minimum"
    DOES_NOT_DISCRIMINATE = "does_not_discriminate"
    TOO_FEW_BANDS = "too_few_bands"
    NOTHING_RATED = "nothing_rated"
    NO_BAND_LEFT = "no_band_left"
    LOOK_AT_BREAK = "look_at_break"


class Stays(StrEnum):
    """Whether what is in use is as good as can be told; or whether that hangs on how strict the raters of its bond are."""

    YES = "yes"
    NO = "no"
    LOOK_AT_BREAK = "look_at_break"


@dataclass(frozen=True, slots=True, kw_only=True)
class TowerSample:
    """Ratings of a tower: one table for each rater, by criterion and band. ``failed``: bands that are no candidates.

    ``unanchored``: nobody knows how strict its raters are. A must-have is read by its plain words nevertheless; where a
    stricter or milder reading says otherwise, the break is looked at. ``torn``: bands whose break was looked at, and
    whether it runs across the layers; None where no break can be looked at.
    """

    temperatures_c: tuple[float, ...]
    raters: tuple[Mapping[Criterion, Row], ...]
    failed: frozenset[int] = frozenset()
    unanchored: bool = False
    torn: Mapping[int, bool] | None = None

    def rows(self, criterion: Criterion) -> list[Row]:
        """What each rater said of a criterion."""
        return [table[criterion] for table in self.raters if criterion in table]

    def rated(self, criterion: Criterion) -> bool:
        """Whether anybody rated it at all."""
        return any(rating is not None for row in self.rows(criterion) for rating in row)


@dataclass(frozen=True, slots=True, kw_only=True)
class BandScore:
    """Score of a printed band for the purpose (0 to 4, less where a must-have is in doubt), and its standard deviation."""

    score: float
    std: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TowerFigures:
    """What a tower says, in °C and on the scale of 0 to 4.

    ``offered``: place of the printed band that is offered. ``low_c`` to ``high_c``: what will do as well as the pick, to a
    degree; ``will_do_c``: the same, with the whole of the band that is offered; ``stays_c``: what is not worth changing
    where it is in use, ``may_stay_c``: the same if raters are stricter or milder than their words; ``weak_c``: whole degrees
    where a must-have is less likely than not.
    ``half_width_c``: the same at 95 %. ``end``: 1 or -1 where the pick is the hot or the cold end. ``nearest``: place of the
    printed band that the pick lies in.
    ``direction``: where a better one would lie, 1 hotter, -1 cooler. ``contradictions``: rater, criterion and band of each
    rating that the others make unlikely.
    """

    pick_c: float
    offered: int
    low_c: float
    high_c: float
    will_do_c: tuple[float, float]
    stays_c: tuple[float, float]
    may_stay_c: tuple[float, float]
    weak_c: tuple[float, ...]
    nearest: int
    end: int
    half_width_c: float
    best_anywhere_c: float
    gain_outside: float
    edge_slope: float
    edge_std: float
    score: float
    feasible: float
    direction: int
    bands: tuple[BandScore, ...]
    contradictions: tuple[tuple[int, Criterion, int], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class TowerResult:
    """Verdict of a tower; figures are None where nothing can be said."""

    verdict: TowerVerdict
    figures: TowerFigures | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class _Tables:
    """Curves of one criterion: on a grid of whole degrees, at the bands, and the log-likelihood of ratings there.

    ``unanchored``: the same for stricter and milder raters.
    """

    grid: Array
    curves: Array
    at_bands: Array
    likely: Array
    unanchored: tuple[Array, ...]


def _curves(direction: int, low: float, high: float, at: Array) -> Array:
    """Quality at temperatures for every curve: shape (curves, len(at)). Logistic, or one hump (rules, E, *model*)."""
    found = []
    for centre in np.arange(low - _CENTRES_BEYOND_C, high + _CENTRES_BEYOND_C + 0.001, _CENTRE_STEP_C):
        for width in _WIDTHS_C:
            if direction == 0:
                shape = np.exp(-0.5 * ((at - centre) / (2 * width)) ** 2)
            else:
                shape = 1 / (1 + np.exp(-direction * (at - centre) / width))
            found += [top * shape for top in _TOPS]
    return np.array(found)


@lru_cache(maxsize=32)
def _tables(temperatures_c: tuple[float, ...], direction: int) -> _Tables:
    low, high = min(temperatures_c), max(temperatures_c)
    grid = np.arange(low - BEYOND_C, high + BEYOND_C + 1e-9, 1.0)
    at_bands = _curves(direction, low, high, np.array(temperatures_c))
    return _Tables(
        grid=grid,
        curves=_curves(direction, low, high, grid),
        at_bands=at_bands,
        likely=log_table(at_bands),
        unanchored=tuple(log_table(at_bands + off) for off in STRICTNESS),
    )


@dataclass(frozen=True, slots=True)
class _Belief:
    """What is believed of one criterion: weights of its curves, and what each contributes to the score."""

    weights: Array
    on_grid: Array
    on_bands: Array

    def spread(self, parts: Array, against: Array | float = 0.0) -> Array:
        """Variance of what it contributes, or of the difference to one place."""
        rest = parts - against
        return np.maximum(0.0, self.weights @ rest**2 - (self.weights @ rest) ** 2)


def evaluate_tower(sample: TowerSample, demand: Demand) -> TowerResult:
    """The temperature for a purpose, and what will do as well. Method: docs/methods/temperature.md.

    Raises
    ------
    OutOfRange
        If a rating is not 0 to 4, or a row has not one place for each band.
    """
    _check(sample)
    if len(sample.temperatures_c) < FEWEST_BANDS:
        return TowerResult(verdict=TowerVerdict.TOO_FEW_BANDS)
    wanted = [row for row in Criterion if demand.weights.get(row, 0) > 0 or row in demand.minimum]
    used = [row for row in wanted if sample.rated(row)]
    if not any(demand.weights.get(row, 0) > 0 for row in used):
        return TowerResult(verdict=TowerVerdict.NOTHING_RATED)
    if len(sample.failed) == len(sample.temperatures_c):
        return TowerResult(verdict=TowerVerdict.NO_BAND_LEFT)
    found = _judge(sample, demand, used)
    if sample.unanchored and found.verdict is TowerVerdict.PICK and found.figures is not None and found.figures.end:
        # How strict a rater is hides a rise towards the end, and does not make one: there the words are taken as they are.
        exact = _judge(replace(sample, unanchored=False), demand, used)
        rises = exact.verdict in {TowerVerdict.EXTEND_HOTTER, TowerVerdict.EXTEND_COOLER}
        if rises and exact.figures is not None and exact.figures.direction == found.figures.end:
            figures = replace(found.figures, direction=exact.figures.direction)
            return TowerResult(verdict=exact.verdict, figures=figures)
    return found


def in_use_stays(sample: TowerSample, figures: TowerFigures, in_use_c: float) -> Stays:
    """Whether a temperature in use is as good as can be told, so that no change is worth making.

    Where that hangs on how strict the raters of a must-have are, the break of its band decides; one that was seen to run
    along a layer always does.
    """
    band = nearest_band(sample.temperatures_c, in_use_c)
    torn = (sample.torn or {}).get(band)
    if torn is False and band != figures.offered:
        return Stays.NO
    surely, perhaps = (low <= in_use_c <= high for low, high in (figures.stays_c, figures.may_stay_c))
    if surely is perhaps:
        return Stays.YES if surely else Stays.NO
    return Stays.LOOK_AT_BREAK if torn is None else Stays.YES


def break_to_look_at(sample: TowerSample, result: TowerResult, in_use_c: float | None) -> int | None:
    """The band whose break decides before anything can be said: of the pick, or of what is in use; None where none does."""
    figures = result.figures
    if figures is None:
        return None
    if result.verdict is TowerVerdict.LOOK_AT_BREAK:
        return figures.nearest
    picked = result.verdict in {TowerVerdict.PICK, TowerVerdict.DOES_NOT_DISCRIMINATE}
    if picked and in_use_c is not None and in_use_stays(sample, figures, in_use_c) is Stays.LOOK_AT_BREAK:
        return nearest_band(sample.temperatures_c, in_use_c)
    return None


def nearest_band(temperatures_c: Sequence[float], celsius: float) -> int:
    """The band that a temperature lies in."""
    return min(range(len(temperatures_c)), key=lambda band: abs(temperatures_c[band] - celsius))


def _check(sample: TowerSample) -> None:
    for table in sample.raters:
        for criterion, row in table.items():
            if len(row) != len(sample.temperatures_c):
                raise OutOfRange("one rating, or none, for each band", name=criterion.value)
            for rating in row:
                if rating is not None and not 0 <= rating <= 4:
                    raise OutOfRange("a rating is 0 to 4", name=criterion.value, value=rating)


def _judge(sample: TowerSample, demand: Demand, used: Sequence[Criterion]) -> TowerResult:
    temperatures = sample.temperatures_c
    low, high = min(temperatures), max(temperatures)
    whole = sum(demand.weights.values())
    # Each criterion has its own curves, weighed by its ratings; where a must-have is missed the whole scale is taken off.
    beliefs: list[_Belief] = []
    unanchored: list[_Belief] = []
    met: dict[Criterion, tuple[Array, Array]] = {}
    contradictions, told_by_break = [], None
    grid = _tables(temperatures, 0).grid
    for criterion in used:
        tables = _tables(temperatures, DIRECTIONS[criterion])
        rows = sample.rows(criterion)
        least = demand.minimum.get(criterion)
        tells = criterion is Criterion.BOND and least is not None and BREAK_TELLS[0] <= least <= BREAK_TELLS[1]
        if tells and sample.torn is not None:
            told_by_break = criterion
        seen = _seen(tables.at_bands, sample.torn or {}) if criterion is told_by_break else 0.0
        said = log_likelihood(tables.likely, rows)
        exact = normalised(said + seen)
        weights = normalised(strict_or_mild(tables.unanchored, rows) + seen) if sample.unanchored else exact
        share = demand.weights.get(criterion, 0.0) / whole
        scored = _Belief(weights, share * tables.curves, share * tables.at_bands)
        if least is not None:
            enough = tables.curves >= least
            # The words of a must-have are plain: how strict a rater is does not move it, but a break is looked at
            # where it would. One that says otherwise than the words shows that they were not meant so.
            doubted = weights if criterion is told_by_break else exact
            by_words = normalised(said) @ (tables.at_bands >= least)
            meant = doubted if _belied(by_words, sample.torn or {}) else exact
            met[criterion] = meant @ enough, doubted @ enough
            missed = _Belief(meant, -MISSED * ~enough, -MISSED * (tables.at_bands < least))
            together = _Belief(exact, scored.on_grid + missed.on_grid, scored.on_bands + missed.on_bands)
            beliefs += [scored, missed] if sample.unanchored else [together]
            unanchored += [scored, replace(missed, weights=doubted)] if sample.unanchored else [together]
        else:
            beliefs.append(scored)
            unanchored.append(scored)
        unlikely = contradicting(tables.likely, rows, np.zeros(len(weights)))
        contradictions += [(rater, criterion, band) for rater, band in unlikely]
    inside = (grid >= low) & (grid <= high)
    # The pick lies within what was printed, and nearest to a band that held.
    allowed = inside & _open(grid, temperatures, sample.failed)
    ranked = _Ranked.of(beliefs, allowed)
    score, pick, std = ranked.score, ranked.pick, ranked.std
    best = int(np.argmax(score))
    plainly = [plain for plain, _ in met.values()]
    near_low, near_high = ranked.near(grid, allowed & _holds(sample, grid, pick, plainly, EVEN), NEAR_Z)
    wide_low, wide_high = ranked.near(grid, allowed, HALF_WIDTH_Z)
    scores = sum(belief.weights @ belief.on_bands for belief in beliefs)
    spreads = np.sqrt(sum(belief.spread(belief.on_bands) for belief in beliefs))
    bands = tuple(
        BandScore(score=float(of), std=float(std)) for of, std in zip(np.asarray(scores), spreads, strict=True)
    )
    step = _step(temperatures)
    first, last = int(np.argmax(inside)), int(np.flatnonzero(inside)[-1])
    # A better one is looked for beyond an end only where the pick lies at that end already.
    side = 1 if pick >= last - 1 and best > last else -1 if pick <= first + 1 and best < first else 0
    inward = min(max(pick - round(2 * step) * (1 if side >= 0 else -1), 0), len(grid) - 1)
    slope, slope_std = float(score[pick] - score[inward]), float(std[inward])
    gain = float(score[best] - score[pick])
    # The must-have that the pick is least likely to meet.
    hardest = min(((float(plain[pick]), row) for row, (plain, _) in met.items()), default=None)
    nearest = nearest_band(temperatures, float(grid[pick]))
    enough_there: bool | None = True
    if hardest is not None:
        plain, if_strict = hardest[0] >= EVEN, bool(met[hardest[1]][1][pick] >= EVEN)
        enough_there = plain if plain is if_strict else None
        if hardest[1] is told_by_break:
            enough_there = (sample.torn or {}).get(nearest, enough_there)
    verdict, direction = TowerVerdict.PICK, 0
    if side and gain > LEAST_GAIN and slope > max(LEAST_SLOPE, NEAR_Z * slope_std):
        verdict, direction = (TowerVerdict.EXTEND_HOTTER if side > 0 else TowerVerdict.EXTEND_COOLER), side
    elif hardest is not None and enough_there is False:
        verdict, direction = TowerVerdict.MINIMUM_NOT_MET, DIRECTIONS[hardest[1]]
    elif enough_there is None:
        verdict = TowerVerdict.LOOK_AT_BREAK
    elif near_high - near_low >= FLAT_SHARE * (high - low):
        verdict = TowerVerdict.DOES_NOT_DISCRIMINATE
    offered = _offered(temperatures, bands, sample.failed, near_low, near_high, float(grid[pick]))

    def stays(by: _Ranked, shares: Sequence[Array]) -> tuple[float, float]:
        from_c, to_c = by.near(grid, allowed & _holds(sample, grid, by.pick, shares, MAY_WELL), STAYS_Z)
        return min(from_c, temperatures[offered]), max(to_c, temperatures[offered])

    # What stays by the words, and what would for stricter and milder raters: both, or either.
    both = [stays(ranked, plainly), stays(_Ranked.of(unanchored, allowed), [doubted for _, doubted in met.values()])]
    figures = TowerFigures(
        pick_c=float(grid[pick]),
        offered=offered,
        will_do_c=(min(near_low, temperatures[offered]), max(near_high, temperatures[offered])),
        stays_c=(max(low for low, _ in both), min(high for _, high in both)),
        may_stay_c=(min(low for low, _ in both), max(high for _, high in both)),
        weak_c=tuple(map(float, grid[allowed & np.any([share < EVEN for share in plainly], axis=0)])),
        nearest=nearest,
        end=(pick >= last - 1) - (pick <= first + 1),
        low_c=near_low,
        high_c=near_high,
        half_width_c=max(float(grid[pick]) - wide_low, wide_high - float(grid[pick]), step / 2),
        best_anywhere_c=float(grid[best]),
        gain_outside=gain,
        edge_slope=slope,
        edge_std=slope_std,
        score=float(score[pick]),
        feasible=float(np.prod([plain[pick] for plain, _ in met.values()])),
        direction=direction,
        bands=bands,
        contradictions=tuple(contradictions),
    )
    return TowerResult(verdict=verdict, figures=figures)


def _seen(at_bands: Array, torn: Mapping[int, bool]) -> Array:
    """Log-likelihood of each curve of the bond given breaks that were looked at: seen through the same mood as a rating."""
    middle = sum(BREAK_TELLS) / 2
    found = np.zeros(len(at_bands))
    for band, across in torn.items():
        likely = rating_likelihood(at_bands[:, band] - middle + 0.5, int(across), best=1)
        found += np.log(likely)
    return found


def _belied(by_words: Array, torn: Mapping[int, bool]) -> bool:
    """Whether a break says otherwise than the words of its band, which meet the must-have with such odds."""
    return any((by_words[band] >= EVEN) != across for band, across in torn.items())


@dataclass(frozen=True, slots=True)
class _Ranked:
    """Temperatures of the grid by score, the best that is allowed, and how well the difference to it is known."""

    score: Array
    pick: int
    std: Array

    @classmethod
    def of(cls, beliefs: Sequence[_Belief], allowed: Array) -> _Ranked:
        """What is believed of all criteria, added up."""
        score = np.asarray(sum(belief.weights @ belief.on_grid for belief in beliefs))
        pick = int(np.flatnonzero(allowed)[np.argmax(score[allowed])])
        spread = sum(belief.spread(belief.on_grid, belief.on_grid[:, [pick]]) for belief in beliefs)
        return cls(score, pick, np.sqrt(spread))

    def near(self, grid: Array, allowed: Array, z: float) -> tuple[float, float]:
        """What is worse than the pick by no more than the doubt of that very difference."""
        return _near(grid, allowed & (self.score[self.pick] - self.score <= z * self.std), allowed, self.pick)


def _holds(sample: TowerSample, grid: Array, pick: int, shares: Sequence[Array], likely: float) -> Array:
    """Where a part may hold: the nearest band did not split when it was snapped, and each must-have is as likely as that.

    ``shares``: how likely each must-have is met; it counts where breaks can be looked at. Everywhere for raters who are
    taken for exact, and always at the pick.
    """
    if not sample.unanchored:
        return np.ones(len(grid), dtype=bool)
    found = ~_splits(sample, grid, pick)
    if sample.torn is not None:
        found &= np.all([share >= likely for share in shares], axis=0)
    found[pick] = True
    return found


def _splits(sample: TowerSample, grid: Array, pick: int) -> Array:
    """Where the nearest band split when somebody snapped it: no part is that strong by chance, whatever it is for."""
    split = {
        band
        for row in sample.rows(Criterion.BOND)
        for band, rating in enumerate(row)
        if rating is not None and rating <= SPLITS
    }
    found = ~_open(grid, sample.temperatures_c, frozenset(split))
    return found if not found[pick] else np.zeros(len(grid), dtype=bool)


def _step(temperatures_c: Sequence[float]) -> float:
    return statistics.median(after - before for before, after in pairwise(sorted(temperatures_c)))


def _open(grid: Array, temperatures_c: Sequence[float], failed: frozenset[int]) -> Array:
    """Where the nearest band did not fail."""
    nearest = np.argmin(np.abs(grid[:, None] - np.array(temperatures_c)[None, :]), axis=1)
    return ~np.isin(nearest, sorted(failed))


def _near(grid: Array, near: Array, allowed: Array, pick: int) -> tuple[float, float]:
    """From the first to the last that will do as well, with no failed band between them and the pick."""
    shut = np.flatnonzero(~allowed)
    low = max(shut[shut < pick], default=-1)
    high = min(shut[shut > pick], default=len(grid))
    found = [place for place in np.flatnonzero(near) if low < place < high]
    return float(grid[found[0]]), float(grid[found[-1]])


def _offered(
    temperatures_c: Sequence[float],
    bands: Sequence[BandScore],
    failed: frozenset[int],
    low_c: float,
    high_c: float,
    pick_c: float,
) -> int:
    """The printed band with the best score among those inside the interval and the one that the pick lies in."""
    left = [place for place in range(len(bands)) if place not in failed]
    own = min(left, key=lambda place: abs(temperatures_c[place] - pick_c))
    inside = {place for place in left if low_c <= temperatures_c[place] <= high_c} | {own}
    return max(inside, key=lambda place: (bands[place].score, place == own))


def next_ratings(
    sample: TowerSample, demand: Demand, race: frozenset[int], missing: frozenset[int] = frozenset()
) -> list[tuple[Criterion, int]]:
    """What to look at next, in order: coldest and hottest first, then the bands still in the race; bond last of all.

    Parameters
    ----------
    sample, demand
        What is rated so far, by one person, and what for.
    race
        Bands that could still be the best, see ``in_race``.
    missing
        Bands that were never printed.
    """
    order = sorted(
        (place for place in range(len(sample.temperatures_c)) if place not in missing),
        key=lambda place: sample.temperatures_c[place],
    )
    counted = [row for row in Criterion if demand.weights.get(row, 0) > 0]
    counted.sort(key=lambda row: row is Criterion.BOND)
    ends = [order[0], order[len(order) // 2], order[-1]] if order else []
    found = []
    for criterion in counted:
        row = next(iter(sample.rows(criterion)), [None] * len(sample.temperatures_c))
        wanted = [*ends, *(place for place in order if place in race)]
        found += [
            (criterion, place) for place in dict.fromkeys(wanted) if row[place] is None and place not in sample.failed
        ]
    return found


def in_race(sample: TowerSample, result: TowerResult) -> frozenset[int]:
    """Bands that could still be the best for the purpose; all of them before anything is rated."""
    every = range(len(sample.temperatures_c))
    if result.figures is None:
        return frozenset(every)
    bands = result.figures.bands
    best = max(bands[place].score for place in every if place not in sample.failed)
    return frozenset(
        place
        for place in every
        if place not in sample.failed and bands[place].score + NEAR_Z * bands[place].std >= best
    )


def could_change(sample: TowerSample, demand: Demand, criterion: Criterion, band: int) -> bool:
    """Whether a rating of one band could move what is offered."""
    before = evaluate_tower(sample, demand)
    if before.figures is None or not sample.raters:
        return True
    for rating in range(5):
        table = dict(sample.raters[0])
        row = list(table.get(criterion, [None] * len(sample.temperatures_c)))
        row[band] = rating
        table[criterion] = row
        after = evaluate_tower(replace(sample, raters=(table, *sample.raters[1:])), demand)
        if after.figures is None or (after.verdict, after.figures.offered) != (before.verdict, before.figures.offered):
            return True
    return False
