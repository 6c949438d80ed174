"""Seeded simulations of rules E, F and G: truths are described in docs/methods; figures are printed, bounds are held."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import pytest

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    DEMANDS,
    Criterion,
    Demand,
    FoamSample,
    FoamVerdict,
    RetractionSample,
    RetractionVerdict,
    TowerSample,
    TowerVerdict,
    evaluate_foaming,
    evaluate_retraction,
    evaluate_tower,
)
from ubrex.core.chain import Purpose
from ubrex.core.quantity import Tool

pytestmark = pytest.mark.slow

CELSIUS = tuple(200.0 + 5 * band for band in range(7))
RATED = (
    Criterion.BOND,
    Criterion.STRINGING,
    Criterion.SURFACE,
    Criterion.OVERHANG,
    Criterion.BRIDGING,
    Criterion.BLOBS,
)
Curve = Callable[[np.ndarray], np.ndarray]


def rated(rng: np.random.Generator, quality: np.ndarray) -> tuple[int, ...]:
    """What a person says of such qualities: a mood of 0.6, rounded, and one in fifty a blunder."""
    said = np.clip(np.rint(quality + rng.normal(0, 0.6, len(quality))), 0, 4)
    blunder = rng.random(len(quality)) < 0.02
    return tuple(int(value) for value in np.where(blunder, rng.integers(0, 5, len(quality)), said))


@dataclass
class Truth:
    """A filament: quality of each criterion at any temperature."""

    curves: dict[Criterion, Curve]

    def score(self, celsius: np.ndarray, demand: Demand) -> np.ndarray:
        """The score of the rule, with the truth known."""
        whole = sum(demand.weights.values())
        total = np.zeros(len(celsius))
        for criterion, curve in self.curves.items():
            quality = curve(celsius)
            total += demand.weights.get(criterion, 0.0) / whole * quality
            if criterion in demand.minimum:
                total -= 4.0 * (quality < demand.minimum[criterion])
        return total


def rising(middle: float, width: float, top: float) -> Curve:
    """Better with heat (or worse, for a width below 0)."""
    return lambda celsius: top / (1 + np.exp(-(celsius - middle) / width))


def hump(middle: float, width: float, top: float) -> Curve:
    """Best at one place."""
    return lambda celsius: top * np.exp(-0.5 * ((celsius - middle) / width) ** 2)


def level(quality: float) -> Curve:
    """The same everywhere."""
    return lambda celsius: np.full(len(celsius), quality)


def filament(rng: np.random.Generator, shift: float = 0.0) -> Truth:
    """Bond sets in at the cool end, strings and sagging at the hot one, the surface is best in between."""
    curves: dict[Criterion, Curve] = {
        Criterion.BOND: rising(rng.uniform(198, 216) + shift, rng.uniform(3, 7), rng.uniform(3.5, 4)),
        Criterion.SURFACE: hump(rng.uniform(205, 225) + shift, rng.uniform(8, 25), rng.uniform(3.3, 4)),
    }
    for criterion in RATED:
        if criterion not in curves:
            curves[criterion] = rising(rng.uniform(212, 235) + shift, -rng.uniform(3, 9), rng.uniform(3.3, 4))
    return Truth(curves)


def tower(rng: np.random.Generator, truth: Truth) -> TowerSample:
    """A tower of that filament, rated by one person."""
    at = np.array(CELSIUS)
    return TowerSample(
        temperatures_c=CELSIUS,
        raters=({criterion: rated(rng, curve(at)) for criterion, curve in truth.curves.items()},),
    )


@pytest.mark.parametrize("purpose", [Purpose.EVERYDAY, Purpose.LOOKS, Purpose.STRENGTH])
def test_the_pick_of_a_tower_loses_less_than_its_best_rated_band(purpose: Purpose) -> None:
    """Regret below that of the best weighted sum, and the interval holds a best temperature in 92 of 100."""
    rng = np.random.default_rng(20261125)
    demand, grid, at = DEMANDS[purpose], np.arange(CELSIUS[0], CELSIUS[-1] + 1), np.array(CELSIUS)
    whole = sum(demand.weights.values())
    ours, rival, held, wrong, trials = [], [], 0, 0, 600
    for _ in range(trials):
        truth = filament(rng)
        sample = tower(rng, truth)
        result = evaluate_tower(sample, demand)
        assert result.figures is not None
        best = truth.score(grid, demand)
        table = sample.raters[0]
        rough = [
            sum(demand.weights.get(row, 0.0) / whole * (table[row][band] or 0) for row in RATED)
            - sum(4.0 * ((table[row][band] or 0) < least) for row, least in demand.minimum.items())
            for band in range(len(at))
        ]
        offered = result.figures.offered
        ours.append(float(best.max() - truth.score(at[[offered]], demand)[0]))
        rival.append(float(best.max() - truth.score(at[[int(np.argmax(rough))]], demand)[0]))
        inside = (grid >= result.figures.low_c) & (grid <= result.figures.high_c)
        held += bool(best[inside].max() >= best.max() - 1e-6)
        hottest, coldest = int(np.argmax(best)) == len(grid) - 1, int(np.argmax(best)) == 0
        wrong += (result.verdict is TowerVerdict.EXTEND_HOTTER and coldest) or (
            result.verdict is TowerVerdict.EXTEND_COOLER and hottest
        )
    print(
        f"\n{purpose}: regret {np.mean(ours):.3f}, best rated band {np.mean(rival):.3f}; interval {held / trials:.3f}; "
        f"wrong way {wrong / trials:.3f}"
    )
    assert np.mean(ours) < np.mean(rival)
    assert held / trials >= 0.92
    assert wrong / trials <= 0.05


def test_a_flat_tower_is_called_flat() -> None:
    """Where all bands are alike: at least six in ten are called so, hardly any is extended."""
    rng = np.random.default_rng(7)
    flat = extended = 0
    trials = 600
    for _ in range(trials):
        truth = Truth({criterion: level(rng.uniform(2.5, 3.8)) for criterion in RATED})
        verdict = evaluate_tower(tower(rng, truth), DEMANDS[Purpose.EVERYDAY]).verdict
        flat += verdict is TowerVerdict.DOES_NOT_DISCRIMINATE
        extended += verdict in {TowerVerdict.EXTEND_HOTTER, TowerVerdict.EXTEND_COOLER}
    print(f"\nflat tower: called flat {flat / trials:.3f}, extended {extended / trials:.3f}")
    assert flat / trials >= 0.6
    assert extended / trials <= 0.05


@pytest.mark.parametrize("shift", [-35.0, 35.0])
def test_a_tower_in_the_wrong_place_is_hardly_ever_extended_the_wrong_way(shift: float) -> None:
    """The best lies beyond one end: the other end is asked for in at most one of twenty."""
    rng = np.random.default_rng(11)
    wrong, right, trials = 0, 0, 400
    for _ in range(trials):
        verdict = evaluate_tower(tower(rng, filament(rng, shift)), DEMANDS[Purpose.EVERYDAY]).verdict
        hotter, cooler = verdict is TowerVerdict.EXTEND_HOTTER, verdict is TowerVerdict.EXTEND_COOLER
        wrong += cooler if shift > 0 else hotter
        right += hotter if shift > 0 else cooler
    print(f"\nbest {shift:+g} °C away: right way {right / trials:.3f}, wrong way {wrong / trials:.3f}")
    assert wrong / trials <= 0.05


def test_strings_that_respond_are_told_from_strings_that_do_not() -> None:
    """No response: said in nine of ten, a distance is picked in hardly any; a response is hardly ever missed."""
    rng = np.random.default_rng(3)
    distance = np.linspace(0.2, 2.0, 8)
    said = picked = missed = stringing = 0
    trials = 500
    for _ in range(trials):
        deaf = np.full(8, rng.uniform(0.3, 1.8))
        result = evaluate_retraction(RetractionSample(distances_mm=tuple(distance), strings=(rated(rng, deaf),)))
        said += result.verdict is RetractionVerdict.DOES_NOT_RESPOND
        picked += result.figures is not None and result.figures.distance_mm is not None
        curve = rng.uniform(0, 1.2) + (4 - rng.uniform(0, 1.2)) / (
            1 + np.exp(-(distance - rng.uniform(0.5, 1.6)) / rng.uniform(0.05, 0.25))
        )
        curve = np.minimum(curve, 4.0)
        result = evaluate_retraction(RetractionSample(distances_mm=tuple(distance), strings=(rated(rng, curve),)))
        missed += result.verdict is RetractionVerdict.DOES_NOT_RESPOND
        if result.figures is not None and result.figures.distance_mm is not None:
            stringing += curve[int(np.argmin(np.abs(distance - result.figures.distance_mm)))] < 2.5
    print(
        f"\nno response: said {said / trials:.3f}, picked {picked / trials:.3f}; response: missed {missed / trials:.3f}, "
        f"picked one that strings {stringing / trials:.3f}"
    )
    assert said / trials >= 0.9
    assert picked / trials <= 0.05
    assert missed / trials <= 0.08
    assert stringing / trials <= 0.2


def test_peak_and_flow_of_foam_lie_inside_their_intervals() -> None:
    """A skewed peak inside the tower: both 95 % intervals hold the truth in 93 of 100 or more."""
    rng = np.random.default_rng(5)
    celsius = np.array([195.0 + 5 * band for band in range(9)])
    bead, flow = Bead(width_mm=0.45, height_mm=0.2), 0.6
    peaks = held = flowed = answered = 0
    trials = 600
    for _ in range(trials):
        peak, rise = rng.uniform(207, 223), rng.uniform(0.1, 0.2)
        skew = rng.uniform(0.8, 1.25)

        def swollen(at: np.ndarray, peak: float = peak, rise: float = rise, skew: float = skew) -> np.ndarray:
            side = np.where(at < peak, 16.0, 16.0 * skew)
            return 0.40 + rise * np.exp(-0.5 * ((at - peak) / side) ** 2)

        zero = rng.uniform(-0.01, 0.01)
        means = swollen(celsius) + rng.normal(0, 0.008, 9) + zero
        widths = tuple(tuple(np.round(mean + rng.normal(0, 0.006, 4), 2)) for mean in means)
        result = evaluate_foaming(
            FoamSample(
                temperatures_c=tuple(celsius),
                widths_mm=widths,
                bead=bead,
                flow=flow,
                tool=Tool(resolution=0.01, max_permissible_error=0.01),
                chosen_c=210.0,
            )
        )
        figures = result.figures
        assert figures is not None
        if result.verdict is FoamVerdict.PEAK and figures.peak_low_c is not None and figures.peak_high_c is not None:
            peaks += 1
            held += figures.peak_low_c <= peak <= figures.peak_high_c
        if figures.flow_low is not None and figures.flow_high is not None:
            answered += 1
            wanted = flow * bead.solid_mm / (float(swollen(np.array([210.0]))[0]) - bead.deficit_mm)
            flowed += figures.flow_low <= wanted <= figures.flow_high
    print(f"\nfoam: peak said {peaks / trials:.3f}, interval {held / max(peaks, 1):.3f}, flow {flowed / answered:.3f}")
    assert peaks / trials >= 0.6
    assert held / peaks >= 0.93
    assert flowed / answered >= 0.93


def test_filament_that_does_not_foam_is_known() -> None:
    """Nothing but scatter, in nineteen of twenty."""
    rng = np.random.default_rng(9)
    none, trials = 0, 500
    for _ in range(trials):
        means = 0.45 + rng.normal(0, 0.008, 8)
        result = evaluate_foaming(
            FoamSample(
                temperatures_c=tuple(200.0 + 5 * band for band in range(8)),
                widths_mm=tuple(tuple(np.round(mean + rng.normal(0, 0.006, 4), 2)) for mean in means),
                bead=Bead(width_mm=0.45, height_mm=0.2),
                flow=1.0,
                tool=Tool(resolution=0.01, max_permissible_error=0.01),
            )
        )
        none += result.verdict is FoamVerdict.NO_RESPONSE
    print(f"\nno foam: said {none / trials:.3f}")
    assert none / trials >= 0.95 - 2 * math.sqrt(0.95 * 0.05 / trials)
