"""Towers: what is right and in use, and how often a person is told to change it; strict and mild raters."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from tests.core.calibrate.test_towers_simulated import CELSIUS, filament, rated
from ubrex.core.calibrate import (
    DEMANDS,
    Criterion,
    Demand,
    RetractionSample,
    RetractionVerdict,
    Stays,
    TowerResult,
    TowerSample,
    TowerVerdict,
    break_to_look_at,
    evaluate_retraction,
    evaluate_tower,
    in_use_stays,
)
from ubrex.core.chain import Purpose

DISTANCES = tuple(float(value) for value in np.linspace(0.5, 7.0, 8))


@dataclass(frozen=True, slots=True, kw_only=True)
class TowerRow:
    """One kind of rater at one kind of tower. ``right_changed``: told to change what is right; ``bad_kept``: to keep what is
    clearly worse; ``looked``: a break had to be looked at. ``regret``: score lost [0 to 4], beside the best rated band.
    """  # fmt: skip

    rule: str
    rater: str
    trials: int
    right_changed: float
    bad_kept: float
    looked: float
    regret: float
    by_hand: float


HEADS = ("rule", "rater", "right, told to change", "clearly worse, kept", "break looked at", "score lost", "by hand")


def cells(one: TowerRow) -> list[str]:
    """A row as text."""
    found = (one.right_changed, one.bad_kept, one.looked, one.regret, one.by_hand)
    return [one.rule, one.rater, *("–" if np.isnan(share) else f"{share:.3f}" for share in found)]


def temperatures(trials: int, purpose: Purpose, name: str, strictness: float) -> TowerRow:
    """Towers of made-up filaments for a purpose; what is in use is the best band, or one half a point worse."""
    rng = np.random.default_rng([20261129, list(Purpose).index(purpose), round(10 + 10 * strictness)])
    demand, at = DEMANDS[purpose], np.array(CELSIUS)
    grid = np.arange(CELSIUS[0], CELSIUS[-1] + 1)
    whole = sum(demand.weights.values())
    changed, bad, kept, looked, ours, hand = 0, 0, 0, 0, [], []
    for _ in range(trials):
        truth = filament(rng)
        table = {key: rated(rng, curve(at) + strictness) for key, curve in truth.curves.items()}
        sample = TowerSample(temperatures_c=CELSIUS, raters=(table,), unanchored=True, torn={})
        found = evaluate_tower(sample, demand)
        assert found.figures is not None
        score = truth.score(at, demand)
        best = int(np.argmax(score))
        worse = score[best] - score > 0.5
        bad, bond = bad + int(worse.sum()), truth.curves[Criterion.BOND](at)
        for band in (best, *np.flatnonzero(worse)):
            stays, picked, asked = settled(rng, sample, demand, found, int(band), bond)
            if band == best:
                changed, looked = changed + (picked and not stays), looked + asked
            else:
                kept += stays
        top = truth.score(grid, demand).max()
        rough = [
            sum(demand.weights.get(key, 0.0) / whole * row[band] for key, row in table.items())
            - sum(4.0 * (table[key][band] < least) for key, least in demand.minimum.items())
            for band in range(len(at))
        ]
        ours.append(top - score[found.figures.offered])
        hand.append(top - score[int(np.argmax(rough))])
    return TowerRow(
        rule=f"temperature, {purpose.value}", rater=name, trials=trials, right_changed=changed / trials,
        bad_kept=kept / max(1, bad), looked=looked / trials, regret=float(np.mean(ours)), by_hand=float(np.mean(hand)),
    )  # fmt: skip


PICKED = frozenset({TowerVerdict.PICK, TowerVerdict.DOES_NOT_DISCRIMINATE})


def settled(
    rng: np.random.Generator, sample: TowerSample, demand: Demand, found: TowerResult, in_use: int, bond: np.ndarray
) -> tuple[bool, bool, bool]:
    """What becomes of a band in use, each break looked at that is asked for: it stays, a band is picked, one was asked."""
    torn: dict[int, bool] = {}
    while True:
        assert found.figures is not None
        look = break_to_look_at(sample, found, CELSIUS[in_use])
        if look is None:
            stays = in_use_stays(sample, found.figures, CELSIUS[in_use])
            return stays is not Stays.NO, found.verdict in PICKED, bool(torn)
        assert look not in torn
        # What tears across the layers is told by the break, not by the rater.
        torn[look] = bool(bond[look] + rng.normal(0, 0.6) >= demand.minimum[Criterion.BOND])
        sample = replace(sample, torn=torn)
        found = evaluate_tower(sample, demand)


def retractions(trials: int, name: str, strictness: float) -> TowerRow:
    """Towers of distances up to the cap of a tube; in use is the shortest that is good enough, or one two bands shorter."""
    rng = np.random.default_rng([20261130, round(10 + 10 * strictness)])
    at = np.array(DISTANCES)
    right, changed, short, kept = 0, 0, 0, 0
    for _ in range(trials):
        width = rng.choice([0.3, 0.7, 1.2])
        strings = rng.choice([4.0, 3.5]) / (1 + np.exp(-(at - rng.uniform(0, 5.2)) / width))
        gaps = 4 / (1 + np.exp((at - rng.uniform(6.3, 10)) / width))
        good = np.flatnonzero((strings >= 2.5) & (gaps >= 2.5))
        if not len(good):
            continue
        rows = (rated(rng, strings + strictness),), (rated(rng, gaps + strictness),)
        for band in (int(good[0]), int(good[0]) - 2):
            if band < 0:
                continue
            found = evaluate_retraction(
                RetractionSample(
                    distances_mm=DISTANCES, strings=rows[0], gaps=rows[1], direct=False, in_use=DISTANCES[band]
                )
            )
            picked = found.verdict in {RetractionVerdict.PICK, RetractionVerdict.GOOD_EVERYWHERE}
            stays = not picked or (found.figures is not None and found.figures.in_use_stays)
            if band == good[0]:
                right, changed = right + 1, changed + (not stays)
            else:
                short, kept = short + 1, kept + stays
    return TowerRow(
        rule="retraction", rater=name, trials=right, right_changed=changed / right, bad_kept=kept / short,
        looked=float("nan"), regret=float("nan"), by_hand=float("nan"),
    )  # fmt: skip


def rows(trials: int) -> Iterator[TowerRow]:
    """Raters as the scale says, stricter and milder."""
    for name, strictness in (("exact", 0.0), ("strict", -1.0), ("mild", 1.0)):
        for purpose in (Purpose.EVERYDAY, Purpose.LOOKS, Purpose.STRENGTH):
            yield temperatures(trials, purpose, name, strictness)
        yield retractions(3 * trials, name, strictness)
