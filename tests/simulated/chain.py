"""Heat, pressure, fit, supports, sizes, melt rate, drift and touches of a probe, against truths of our own."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from ubrex.core.calibrate import evaluate_size, fit_ladder, pressure_tower, retraction_speed, support_gap, top_flow
from ubrex.core.checks import drift, repeatability
from ubrex.core.heat import HeatPoint, HeatTest, HeatVerdict, heat_confirm, heat_probe, heat_push
from ubrex.core.quantity import Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class ChainRow:
    """One world of one rule: how often its interval holds the truth, and how often it claims something there is not.

    ``left``: what is still off in the end, beside what the naive way leaves. None where a rule has no such figure.
    """

    rule: str
    world: str
    trials: int
    coverage: float | None = None
    false: float | None = None
    found: float | None = None
    left: float | None = None
    naive: float | None = None


@dataclass(frozen=True, slots=True)
class _Seen:
    """One trial; None where it does not say."""

    covered: bool | None = None
    false: bool | None = None
    found: bool | None = None
    left: float | None = None
    naive: float | None = None


Rng = np.random.Generator

HEADS = ("rule", "world", "covers", "claims what is not", "sees what is", "left", "naive way")


def cells(one: ChainRow) -> list[str]:
    """A row as text."""
    shares = ("" if share is None else f"{share:.3f}" for share in (one.coverage, one.false, one.found))
    sizes = ("" if size is None else f"{size:.3f}" for size in (one.left, one.naive))
    return [one.rule, one.world, *shares, *sizes]


def _probe(rng: Rng, true_bias: float, *, contact_pct: float) -> HeatTest | None:
    """A probe of ±1 °C that touches as it was said, seated once, at three temperatures."""
    zero, reads_low, seat = rng.uniform(-1, 1), rng.uniform(0, contact_pct / 100), rng.normal(0, 1.5)
    points = []
    for shown in (150.0, 200.0, 245.0):
        really = shown + true_bias + seat
        read = [round(really - reads_low * (really - 22) + zero + rng.normal(0, 0.4), 1) for _ in range(2)]
        points.append(HeatPoint(shown_c=[shown] * 2, probe_c=read))
    found = heat_probe(points, probe_accuracy_c=1.0, contact_pct=contact_pct, room_c=22.0)
    if found.bias_c is None or found.std_uncertainty_c is None:
        return None
    return HeatTest(
        method="probe", bias_c=found.bias_c, std_uncertainty_c=found.std_uncertainty_c, dof=found.dof,
        common_std_uncertainty_c=found.common_std_uncertainty_c or 0.0,
    )  # fmt: skip


def _heat(true_bias: float, contact_pct: float) -> Callable[[Rng], _Seen]:
    """Two seats of a probe; naive: the first reading is believed as it stands."""

    def trial(rng: Rng) -> _Seen:
        first, second = (_probe(rng, true_bias, contact_pct=contact_pct) for _ in range(2))
        if first is None or second is None:
            return _Seen(covered=False)
        both = heat_confirm(first, second, same_probe=True)
        confirmed = both.verdict is HeatVerdict.CONFIRMED
        covered = None
        if both.bias_c is not None and both.half_width_95_c is not None:
            covered = abs(both.bias_c - true_bias) <= both.half_width_95_c
        left = true_bias - (both.bias_c or 0.0) if confirmed else true_bias
        raw = first.bias_c - contact_pct / 200 * (198 - 22)
        return _Seen(
            covered=covered, false=confirmed if abs(true_bias) <= 1 else None,
            found=confirmed if abs(true_bias) >= 8 else None, left=left, naive=true_bias - raw,
        )  # fmt: skip

    return trial


def _push(true_bias: float) -> Callable[[Rng], _Seen]:
    """A hand that errs by 4 °C on both hotends; its answers sharp to 3 °C."""

    def trial(rng: Rng) -> _Seen:
        knee, hand, there = 195.0, rng.normal(0, 4), rng.normal(0, 4)
        sets, answers = [], []
        for celsius in np.arange(165.0, 236.0, 5.0):
            off = celsius + true_bias + hand - knee + rng.normal(0, 2)
            sets.append(float(celsius))
            answers.append(2 if off > 0 else 1 if off > -9 else 0)
            if answers[-2:] == [2, 2]:
                break
        found = heat_push(sets, answers, reference_knee_c=knee + there)
        if found.bias_c is None or found.half_width_95_c is None:
            return _Seen()
        suspect = found.verdict is HeatVerdict.SUSPECT
        return _Seen(
            covered=abs(found.bias_c - true_bias) <= found.half_width_95_c,
            false=suspect if true_bias == 0 else None, found=suspect if abs(true_bias) >= 20 else None,
        )  # fmt: skip

    return trial


def _word(value: float, rng: Rng, low: int = -2, high: int = 2) -> int:
    return int(np.clip(round(value + rng.normal(0, 0.5)), low, high))


def _pressure(*, responds: bool) -> Callable[[Rng], _Seen]:
    """A rater whose middle is up to 0.3 off; naive: the first band that looks right."""

    def trial(rng: Rng) -> _Seen:
        bands = np.linspace(0, 0.1, 11)
        zero, middle = rng.uniform(0.02, 0.08), rng.uniform(-0.3, 0.3)
        wide = rng.uniform(0.02, 0.06)
        level = rng.uniform(-1, 1)
        rated = [_word((2 * math.tanh((zero - band) / wide) if responds else level) + middle, rng) for band in bands]
        found = pressure_tower([float(band) for band in bands], rated)
        if not responds:
            return _Seen(false=found.band_s is not None and found.verdict.value == "pick")
        covered = None
        if found.low_s is not None and found.high_s is not None:
            covered = found.low_s <= zero <= found.high_s
        naive = next((float(band) for band, word in zip(bands, rated, strict=True) if word == 0), 0.1)
        left = None if found.band_s is None else (found.band_s - zero) / 0.1
        return _Seen(covered=covered, left=left, naive=(naive - zero) / 0.1 if left is not None else None)

    return trial


def _fit(scatter_mm: float) -> Callable[[Rng], _Seen]:
    """Nine holes from 0.10 to 0.50 mm; naive: the first that went as wanted."""

    def trial(rng: Rng) -> _Seen:
        gaps = [round(0.1 + 0.05 * step, 2) for step in range(9)]
        free_from = rng.uniform(0.25, 0.4)
        snug_from = free_from - rng.uniform(0.06, 0.14)
        file_from = snug_from - rng.uniform(0.04, 0.1)
        answers = []
        for gap in gaps:
            felt = gap + rng.normal(0, scatter_mm)
            answers.append(3 if felt > free_from else 2 if felt > snug_from else 1 if felt > file_from else 0)
        found = fit_ladder(gaps, answers, purpose="snug")
        middle = (snug_from + free_from) / 2
        covered = None
        if found.snug_low_mm is not None and found.snug_high_mm is not None:
            covered = found.snug_low_mm <= middle <= found.snug_high_mm
        if found.gap_mm is None:
            return _Seen(covered=covered)
        naive = next((gap for gap, answer in zip(gaps, answers, strict=True) if answer == 2), gaps[-1])
        return _Seen(covered=covered, left=found.gap_mm - middle, naive=naive - middle)

    return trial


def _supports(scatter_mm: float) -> Callable[[Rng], _Seen]:
    """Six bays of 1 to 6 layers of 0.2 mm; what is left: marks lost on the underside, all of them where the next support
    does not come off by hand; naive: the first that did.
    """

    def trial(rng: Rng) -> _Seen:
        gaps = [round(0.2 * layers, 1) for layers in range(1, 7)]
        by_hand = rng.uniform(0.3, 0.9)
        by_tool, falls = by_hand - rng.uniform(0.15, 0.35), by_hand + rng.uniform(0.15, 0.4)
        slope = rng.uniform(1.0, 4.0)

        def smooth(gap: float) -> float:
            return 4 - slope * max(0.0, gap - 0.2)

        def comes_off(gap: float) -> int:
            felt = gap + rng.normal(0, scatter_mm)
            return sum(felt > start for start in (by_tool, by_hand, falls))

        released = [comes_off(gap) for gap in gaps]
        seen = [int(np.clip(round(smooth(gap) + rng.normal(0, 0.5)), 0, 4)) for gap in gaps]
        found = support_gap(gaps, released, seen)
        if found.gap_mm is None:
            return _Seen()
        best = smooth(min((gap for gap in gaps if gap >= by_hand), default=gaps[-1]))
        naive = next((gap for gap, answer in zip(gaps, released, strict=True) if answer >= 2), gaps[-1])
        off, also = comes_off(found.gap_mm) >= 2, comes_off(naive) >= 2
        return _Seen(
            found=off, left=best - (smooth(found.gap_mm) if off else 0), naive=best - (smooth(naive) if also else 0)
        )

    return trial


def _size(scale_pct: float, offset_mm: float) -> Callable[[Rng], _Seen]:
    """A calliper of ±0.03 on the stairs; naive: one cube of 20 mm, all of it taken for scale."""

    def trial(rng: Rng) -> _Seen:
        jaws, inside = rng.uniform(-0.03, 0.03), rng.uniform(-0.03, 0.03)

        def read(nominal: float, offset: float, error: float) -> tuple[float, float]:
            return nominal, round(nominal * (1 + scale_pct / 100) + offset + error + rng.normal(0, 0.02), 2)

        outer = [read(nominal, offset_mm, jaws) for nominal in (120.0, 80.0, 40.0, 20.0)]
        inner = [read(nominal, -offset_mm, inside) for nominal in (40.0, 20.0, 12.0)]
        found = evaluate_size(outer, inner, max_permissible_error_outer_mm=0.03)
        if found is None:
            return _Seen(covered=False)
        applied = found.scale_verdict is Verdict.APPLY
        left = scale_pct - found.scale_pct if applied else scale_pct
        cube = 100 * (outer[-1][1] / 20 - 1)
        return _Seen(
            covered=abs(found.scale_pct - scale_pct) <= found.scale_half_width_95_pct,
            false=applied if abs(scale_pct) <= 0.05 else None, found=applied if abs(scale_pct) >= 0.4 else None,
            left=left, naive=scale_pct - cube,
        )  # fmt: skip

    return trial


def _melt(*, gradual: bool) -> Callable[[Rng], _Seen]:
    """Ten steps weighed to 0.02 g of 3 g; false: what is called safe loses more than 2 %. Naive: the last within 3 %."""

    def trial(rng: Rng) -> _Seen:
        knee, slope, power = rng.uniform(9, 15), rng.uniform(0.02, 0.05), rng.uniform(3, 6)

        def share(flow: float) -> float:
            return 1 - 0.02 * (flow / knee) ** power if gradual else 1 - slope * max(0.0, flow - knee)

        flows = [4.0 + 1.6 * step for step in range(10)]
        masses = [round(3 * share(flow) + rng.normal(0, 0.01), 2) for flow in flows]
        found = top_flow(flows, masses)
        if found.safe_mm3_s is None:
            return _Seen()
        limit = knee if gradual else knee + 0.02 / slope
        naive = max(
            (flow for flow, mass in zip(flows, masses, strict=True) if mass >= 0.97 * masses[0]), default=flows[0]
        )
        return _Seen(
            false=found.safe_mm3_s > limit, left=max(0.0, found.safe_mm3_s - limit), naive=max(0.0, naive - limit),
        )  # fmt: skip

    return trial


def _drifts(step_pct: float) -> Callable[[Rng], _Seen]:
    """Sixteen corrections of 1 % scatter; from the ninth on they move by so much each."""

    def trial(rng: Rng) -> _Seen:
        values = [100 + rng.normal(0, 1) + step_pct * max(0, place - 7) for place in range(16)]
        alarm = drift(values).verdict == "alarm"
        return _Seen(false=alarm if step_pct == 0 else None, found=alarm if step_pct else None)

    return trial


def _touches(std_mm: float) -> Callable[[Rng], _Seen]:
    """Ten touches; naive: the range of five under 0.02 is called good."""

    def trial(rng: Rng) -> _Seen:
        touches = [round(float(rng.normal(0, std_mm)), 4) for _ in range(10)]
        found = repeatability(touches, 0.001)
        expected = 3.078 * std_mm
        covered = None
        if found.range_of_ten_high is not None:
            covered = expected <= found.range_of_ten_high
        return _Seen(
            covered=covered, false=found.verdict == "good" if expected > 0.02 else None,
            found=found.verdict == "good" if expected < 0.012 else None,
        )  # fmt: skip

    return trial


def _pull_speed(rng: Rng) -> _Seen:
    """Strings that end somewhere between 15 and 45 mm/s; naive: the fastest, which grinds sooner."""
    speeds = [10.0, 20.0, 30.0, 40.0, 50.0]
    middle = rng.uniform(15, 45)
    strings = [_word(4 / (1 + math.exp(-(speed - middle) / 4)), rng, 0, 4) for speed in speeds]
    found = retraction_speed(speeds, strings)
    if found.speed_mm_s is None:
        return _Seen()

    def quality(speed: float) -> float:
        return 4 / (1 + math.exp(-(speed - middle) / 4))

    naive = next((speed for speed, word in zip(speeds, strings, strict=True) if word >= 3), speeds[-1])
    return _Seen(
        left=max(0.0, quality(50.0) - quality(found.speed_mm_s)), naive=max(0.0, quality(50.0) - quality(naive))
    )


WORLDS: tuple[tuple[str, str, Callable[[Rng], _Seen]], ...] = (
    ("heat, two seats", "right, in the melt", _heat(0.0, 2.0)),
    ("heat, two seats", "10 too cold, in the melt", _heat(-10.0, 2.0)),
    ("heat, two seats", "10 too hot, dry bore", _heat(10.0, 4.0)),
    ("heat, push", "right", _push(0.0)),
    ("heat, push", "25 too hot", _push(25.0)),
    ("pressure", "responds", _pressure(responds=True)),
    ("pressure", "does not", _pressure(responds=False)),
    ("retraction speed", "strings end at 15 to 45", _pull_speed),
    ("fit, snug", "tries scatter by 0.01", _fit(0.01)),
    ("fit, snug", "tries scatter by 0.03", _fit(0.03)),
    ("size", "right, walls 0.1 too fat", _size(0.0, 0.1)),
    ("size", "0.5 % short", _size(-0.5, 0.05)),
    ("melt", "sharp", _melt(gradual=False)),
    ("melt", "gradual", _melt(gradual=True)),
    ("drift", "none", _drifts(0.0)),
    ("drift", "1.5 % each time", _drifts(1.5)),
    ("touches", "range of ten 0.010", _touches(0.00325)),
    ("touches", "range of ten 0.030", _touches(0.0097)),
    ("supports", "release scatters by 0.03", _supports(0.03)),
    ("supports", "release scatters by 0.10", _supports(0.10)),
)


def _share(found: list[bool | None]) -> float | None:
    said = [one for one in found if one is not None]
    return sum(said) / len(said) if said else None


def _rms(found: list[float | None]) -> float | None:
    said = [one for one in found if one is not None]
    return math.sqrt(math.fsum(one * one for one in said) / len(said)) if said else None


def rows(trials: int) -> Iterator[ChainRow]:
    """Every world, each with numbers of its own."""
    for seed, (rule, world, trial) in enumerate(WORLDS):
        rng = np.random.default_rng(7_000 + seed)
        seen = [trial(rng) for _ in range(trials)]
        yield ChainRow(
            rule=rule, world=world, trials=trials, coverage=_share([one.covered for one in seen]),
            false=_share([one.false for one in seen]), found=_share([one.found for one in seen]),
            left=_rms([one.left for one in seen]), naive=_rms([one.naive for one in seen]),
        )  # fmt: skip
