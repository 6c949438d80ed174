"""Fit ladder: which gap goes snug, which runs free; supports likewise; and gap against contour (rules, O and P)."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from itertools import pairwise
from typing import Final, TypeAlias

import numpy as np
from scipy.special import ndtr

from ubrex.core.calibrate._rating import BLUNDERS, Array, log_likelihood, normalised
from ubrex.core.calibrate._retraction import GOOD_QUALITY, step_family

FIT_RULE_VERSION: Final = "fit/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

FEWEST_GAPS, FEWEST_ANSWERS = 4, 4
"""So many gaps, and answers, a ladder needs (rules, O)."""

MOST_ANSWER: Final = 3
"""Answers go from 0, does not go, over filing and snug to this, runs free."""

THRESHOLDS: Final = 81
ZONES, SCATTERS = (0.06, 0.12, 0.25, 0.45, 0.8), (0.02, 0.05, 0.1, 0.2)
"""How wide the zones of filing and of snug are, and how far answers scatter [spans], each as likely (rules, O)."""

NINE_OF_TEN: Final = 1.2816
"""Standard deviations above the threshold at which nine of ten run free."""

ODD_BELOW: Final = 0.03
"""An answer less likely than this, judged by all others, is odd; two of them contradict (rules, O)."""

BACK: Final = 2
"""A wider gap that answers so much below a tighter one contradicts (rules, O)."""

SURE_FREE, SURE_SNUG = 0.8, 0.5
"""How sure a printed gap has to be of running free, or of being snug (rules, O)."""

MOST_OFFSET_MM: Final = 0.6
OFFSET_TOLERANCE: Final = 0.05
"""Offsets of contours: a larger one is a mistake; one surely beyond this is typed [mm] (rules, I and O)."""


class FitVerdict(StrEnum):
    """What a ladder says."""

    PICK = "pick"
    EXTEND_TIGHTER = "extend_tighter"
    EXTEND_WIDER = "extend_wider"
    FINER_STEPS = "finer_steps"
    DOES_NOT_DISCRIMINATE = "does_not_discriminate"
    CONTRADICTORY = "contradictory"
    CONFLICT = "conflict"
    REFUSE = "refuse"


@dataclass(frozen=True, slots=True, kw_only=True)
class FitResult:
    """The gaps at which it goes snug and runs free [mm] with 95 % intervals, and the printed gap to design."""

    verdict: FitVerdict
    reason: str
    snug_gap_mm: float | None = None
    snug_low_mm: float | None = None
    snug_high_mm: float | None = None
    free_gap_mm: float | None = None
    free_low_mm: float | None = None
    free_high_mm: float | None = None
    p_snug: tuple[float, ...] | None = None
    p_free: tuple[float, ...] | None = None
    odd: tuple[int, ...] = ()
    gap_mm: float | None = None


Answers: TypeAlias = Sequence[int | Sequence[int | None] | None]
"""An answer for each gap, or one for each copy of it; None where nobody tried."""


@dataclass(frozen=True, slots=True)
class _Ladder:
    """Hypotheses: where it runs free from, where snug begins, how far answers scatter; likelihood by answer."""

    snug_from: Array
    free_from: Array
    scatter: Array
    likely: Mapping[int, Array]


@lru_cache(maxsize=16)
def _ladder(gaps_mm: tuple[float, ...]) -> _Ladder:
    gaps = np.array(gaps_mm)
    span = gaps[-1] - gaps[0]
    thresholds = np.linspace(gaps[0] - span / 2, gaps[-1] + span / 2, THRESHOLDS)
    zones = span * np.array(ZONES)
    axes = np.meshgrid(thresholds, zones, zones, span * np.array(SCATTERS), indexing="ij")
    free, snug_zone, file_zone, scatter = (axis.ravel() for axis in axes)
    snug = free - snug_zone
    above = [ndtr((gaps - start[:, None]) / scatter[:, None]) for start in (snug - file_zone, snug, free)]
    cells = (1 - above[0], above[0] - above[1], above[1] - above[2], above[2])
    likely = {answer: np.clip((1 - BLUNDERS) * cell + BLUNDERS / 4, 1e-9, 1) for answer, cell in enumerate(cells)}
    return _Ladder(snug_from=snug, free_from=free, scatter=scatter, likely=likely)


def _each(answers: Answers) -> list[tuple[int, int]]:
    """Gap and answer of every copy that was tried."""
    copies = [[one] if one is None or isinstance(one, int) else one for one in answers]
    return [(place, answer) for place, row in enumerate(copies) for answer in row if answer is not None]


def _posterior(ladder: _Ladder, said: Sequence[tuple[int, int]]) -> tuple[Array, tuple[int, ...]]:
    """Weights of the hypotheses, and gaps whose answers the others contradict."""
    terms = [np.log(ladder.likely[answer][:, place]) for place, answer in said]
    total = np.sum(terms, axis=0)
    odd = {
        place
        for (place, answer), term in zip(said, terms, strict=True)
        if float(normalised(total - term) @ ladder.likely[answer][:, place]) < ODD_BELOW
    }
    return normalised(total), tuple(sorted(odd))


def _interval(values: Array, weights: Array) -> tuple[float, float, float]:
    """Median and 95 % interval of weighted values: the smallest value whose cumulated weight reaches each."""
    order = np.argsort(values, kind="stable")
    reached = np.cumsum(weights[order])
    places = (int(np.searchsorted(reached, share - 1e-12)) for share in (0.5, 0.025, 0.975))
    middle, low, high = (float(values[order][min(place, len(order) - 1)]) for place in places)
    return middle, low, high


def fit_ladder(gaps_mm: Sequence[float], answers: Answers, *, purpose: str = "snug") -> FitResult:
    """The gap to design: hole minus peg, both sides together [mm]. Method: docs/methods/fit.md.

    ``answers``: 0 does not go, 1 needs filing, 2 snug, 3 free; one or several a gap. ``purpose``: snug or free.
    """
    gaps = tuple(float(gap) for gap in gaps_mm)
    if len(gaps) < FEWEST_GAPS or len(answers) != len(gaps) or any(b <= a for a, b in pairwise(gaps)):
        return FitResult(verdict=FitVerdict.REFUSE, reason="four_rising_gaps_needed")
    said = _each(answers)
    if any(not 0 <= answer <= MOST_ANSWER for _, answer in said):
        return FitResult(verdict=FitVerdict.REFUSE, reason="invalid_answer")
    if len(said) < FEWEST_ANSWERS:
        return FitResult(verdict=FitVerdict.REFUSE, reason="nothing_answered")
    ladder = _ladder(gaps)
    weights, odd = _posterior(ladder, said)
    snug = _interval((ladder.snug_from + ladder.free_from) / 2, weights)
    free = _interval(ladder.free_from + NINE_OF_TEN * ladder.scatter, weights)
    found = FitResult(
        verdict=FitVerdict.PICK, reason="", snug_gap_mm=snug[0], snug_low_mm=snug[1], snug_high_mm=snug[2],
        free_gap_mm=free[0], free_low_mm=free[1], free_high_mm=free[2], odd=odd,
        p_snug=tuple(float(share) for share in weights @ ladder.likely[2]),
        p_free=tuple(float(share) for share in weights @ ladder.likely[3]),
    )  # fmt: skip
    means = [float(np.mean([a for at, a in said if at == place])) for place in sorted({at for at, _ in said})]
    back = max((one - after for place, one in enumerate(means) for after in means[place + 1 :]), default=0.0)
    if back >= BACK or len(odd) >= 2:
        return replace(found, verdict=FitVerdict.CONTRADICTORY, reason="tighter_went_and_wider_did_not")
    alike = {answer for _, answer in said}
    if len(alike) == 1:
        return _all_alike(found, alike.pop(), gaps[0], free=purpose == "free")
    return _free(found, gaps) if purpose == "free" else _snug(found, gaps)


def _all_alike(found: FitResult, answer: int, tightest_mm: float, *, free: bool) -> FitResult:
    if answer == MOST_ANSWER:
        gap = tightest_mm if free else None
        return replace(found, verdict=FitVerdict.EXTEND_TIGHTER, reason="all_free", gap_mm=gap)
    if answer < 2 or free:
        return replace(found, verdict=FitVerdict.EXTEND_WIDER, reason="all_the_same")
    return replace(found, verdict=FitVerdict.DOES_NOT_DISCRIMINATE, reason="all_the_same", gap_mm=tightest_mm)


def _free(found: FitResult, gaps: tuple[float, ...]) -> FitResult:
    sure = [gap for gap, share in zip(gaps, found.p_free or (), strict=True) if share >= SURE_FREE]
    if not sure:
        return replace(found, verdict=FitVerdict.EXTEND_WIDER, reason="none_runs_free")
    return replace(found, verdict=FitVerdict.PICK, reason="smallest_that_runs_free", gap_mm=sure[0])


def _snug(found: FitResult, gaps: tuple[float, ...]) -> FitResult:
    shares = found.p_snug or ()
    best = max(range(len(gaps)), key=lambda place: shares[place])
    middle = found.snug_gap_mm or 0.0
    if shares[best] >= SURE_SNUG:
        return replace(found, verdict=FitVerdict.PICK, reason="most_likely_snug", gap_mm=gaps[best])
    if middle > gaps[-1]:
        return replace(found, verdict=FitVerdict.EXTEND_WIDER, reason="none_snug")
    if middle < gaps[0]:
        return replace(found, verdict=FitVerdict.EXTEND_TIGHTER, reason="none_snug")
    return replace(found, verdict=FitVerdict.FINER_STEPS, reason="snug_lies_between_two_gaps")


@dataclass(frozen=True, slots=True, kw_only=True)
class FitCombined:
    """How much of a gap is fat lines and small holes, what to type as contours per side, and what to design [mm]."""

    verdict: str
    reason: str
    explained_mm: float
    explained_half_width_mm: float
    rest_mm: float
    rest_half_width_mm: float
    contour_outer_mm: float
    contour_hole_mm: float
    model_gap_mm: float | None = None


def fit_combine(
    ladder_gap_mm: float, ladder_half_width_mm: float, outer_offset_mm: float, inner_offset_mm: float,
    outer_half_width_mm: float, inner_half_width_mm: float, *, tolerance_mm: float = OFFSET_TOLERANCE,
) -> FitCombined:  # fmt: skip
    """The gap of a ladder beside the offsets of a size piece: both in full would correct an error twice (rules, O)."""
    explained = outer_offset_mm - inner_offset_mm
    half = math.hypot(outer_half_width_mm, inner_half_width_mm)
    rest = ladder_gap_mm - explained
    found = FitCombined(
        verdict="gap_only", reason="offset_not_proven", explained_mm=explained, explained_half_width_mm=half,
        rest_mm=rest, rest_half_width_mm=math.hypot(ladder_half_width_mm, half), contour_outer_mm=-outer_offset_mm / 2,
        contour_hole_mm=inner_offset_mm / 2, model_gap_mm=ladder_gap_mm,
    )  # fmt: skip
    if max(abs(outer_offset_mm), abs(inner_offset_mm)) > MOST_OFFSET_MM:
        return replace(found, verdict="refuse", reason="implausible", model_gap_mm=None)
    if abs(explained) - half > tolerance_mm:
        return replace(found, verdict="contour_and_rest", reason="offset_is_real", model_gap_mm=rest)
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class SupportResult:
    """How sure each gap comes off, how good the underside is expected [0 to 4], and the gap to take [mm]."""

    verdict: FitVerdict
    reason: str
    p_releases: tuple[float, ...] | None = None
    underside: tuple[float, ...] | None = None
    p_underside_good: tuple[float, ...] | None = None
    odd: tuple[int, ...] = ()
    gap_mm: float | None = None


SUPPORT_NEEDS: Final[Mapping[str, tuple[int, float]]] = {"easy": (2, 0.7), "clean": (1, 0.7), "hidden": (2, 0.9)}
"""Which answer a purpose needs at least, and how surely (rules, P)."""

AS_CLEAN_WITHIN: Final = 0.25
"""Undersides within so much of the best are as good: the wider gap is taken (rules, P)."""


def support_gap(
    gaps_mm: Sequence[float], release: Sequence[int | None], underside: Sequence[int | None], *, purpose: str = "easy"
) -> SupportResult:
    """The gap under a roof [mm]: it comes off, and is as smooth as can be. Method: docs/methods/supports.md.

    ``release``: 0 fused, 1 with a tool, 2 by hand, 3 falls off; ``underside``: 0 to 4; ``purpose``: easy, clean or hidden.
    """
    gaps = tuple(float(gap) for gap in gaps_mm)
    if (
        len(gaps) < FEWEST_GAPS
        or not len(release) == len(underside) == len(gaps)
        or any(b <= a for a, b in pairwise(gaps))
    ):
        return SupportResult(verdict=FitVerdict.REFUSE, reason="four_rising_gaps_needed")
    tried = [answer for answer in release if answer is not None]
    if len(tried) < FEWEST_ANSWERS or sum(word is not None for word in underside) < FEWEST_ANSWERS - 1:
        return SupportResult(verdict=FitVerdict.REFUSE, reason="nothing_rated")
    if any(not 0 <= one <= 3 for one in tried) or any(word is not None and not 0 <= word <= 4 for word in underside):
        return SupportResult(verdict=FitVerdict.REFUSE, reason="invalid_answer")
    need, surely = SUPPORT_NEEDS[purpose]
    ladder = _ladder(gaps)
    weights, odd = _posterior(ladder, _each(release))
    comes_off = tuple(
        float(sum(weights @ ladder.likely[answer][:, place] for answer in range(need, 4))) for place in range(len(gaps))
    )
    # A wider gap is never smoother below: its underside is believed to fall, or to stay.
    falling = step_family(gaps, rising=False)
    believed = normalised(falling.prior + log_likelihood(falling.likely, [underside]))
    smooth = tuple(float(value) for value in believed @ falling.curves)
    good = tuple(float(share) for share in believed @ (falling.curves >= GOOD_QUALITY))
    found = SupportResult(
        verdict=FitVerdict.PICK, reason="best_underside_that_comes_off", p_releases=comes_off, underside=smooth,
        p_underside_good=good, odd=odd,
    )  # fmt: skip
    # Where a tight gap came off and a wider one did not, it is no ladder.
    back = max(one - after for place, one in enumerate(tried) for after in tried[place:])
    if back >= BACK or len(odd) >= 2:
        return replace(found, verdict=FitVerdict.CONTRADICTORY, reason="tighter_came_off_and_wider_did_not")
    loose = [place for place, share in enumerate(comes_off) if share >= surely]
    if not loose:
        return replace(found, verdict=FitVerdict.EXTEND_WIDER, reason="none_comes_off")
    best = max(smooth[place] for place in loose)
    # As clean as the best, nearly: then the widest comes off easiest.
    pick = max(place for place in loose if smooth[place] >= best - AS_CLEAN_WITHIN)
    if purpose == "clean" and pick == 0 and good[0] < 0.5:
        return replace(found, verdict=FitVerdict.EXTEND_TIGHTER, reason="underside_still_poor")
    if good[pick] < 0.5 and loose[0] == 0:
        return replace(found, verdict=FitVerdict.EXTEND_TIGHTER, reason="comes_off_everywhere")
    if good[pick] < 0.5:
        return replace(found, verdict=FitVerdict.CONFLICT, reason="comes_off_only_when_rough", gap_mm=gaps[pick])
    return replace(found, gap_mm=gaps[pick])
