"""E-steps: cuts, marks and weighed pieces of feeds whose true error is known, read by hands of several kinds."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from tests.simulated.tally import Row, Trial, row
from ubrex.core.calibrate import (
    ESTEPS_TOLERANCE_PCT,
    EStepsMethod,
    EStepsReason,
    EStepsResult,
    EStepsSample,
    ReferencePiece,
    evaluate_esteps,
)
from ubrex.core.quantity import Reason, SpreadHistory, Tool, Verdict, check_entry

CALLIPER = Tool(resolution=0.01, max_permissible_error=0.03)
RULER = Tool(resolution=0.5, max_permissible_error=0.5)
SCALE = Tool(resolution=0.01, max_permissible_error=0.02)
MOST_READINGS = 12
MOST_FEEDS = 5

Draw = Callable[[np.random.Generator, int], float]
"""Scatter of one cut [mm], by its place in the run."""


@dataclass(frozen=True, kw_only=True)
class Feeding:
    """A way to feed and read: ``draw`` scatters a cut, ``slips`` is the share of readings with two digits swapped."""

    name: str
    draw: Draw
    method: EStepsMethod = EStepsMethod.OPEN_AIR
    tool: Tool = CALLIPER
    commanded_mm: float = 100.0
    history: SpreadHistory | None = None
    mark_tool: Tool | None = None
    slips: float = 0.0
    on_model: bool = True


def _swapped(reading: float) -> float:
    """The number with its second and third digit swapped: 98.41 as 94.81, 101.2 as 110.2."""
    text = f"{reading:.2f}".replace(".", "").rjust(5, "0")
    digits = list(text)
    first = 1 if digits[0] == "0" else 0
    digits[first + 1], digits[first + 2] = digits[first + 2], digits[first + 1]
    return float("".join(digits)) / 100


def _left(truth_pct: float, corrected_pct: float) -> float:
    """Error left [%] of a setting that had to be multiplied by 1 + truth, and was by 1 + what was corrected."""
    return 100 * ((1 + truth_pct / 100) / (1 + corrected_pct / 100) - 1)


def _evening(rng: np.random.Generator, way: Feeding, truth_pct: float) -> Trial:
    fed = way.commanded_mm / (1 + truth_pct / 100)
    bias = rng.uniform(-1, 1) * way.tool.max_permissible_error
    other = way.mark_tool or way.tool
    mark = rng.uniform(-1, 1) * other.max_permissible_error if way.method is EStepsMethod.MARKED else 0.0
    strand, gram = None, 1.0
    if way.method is EStepsMethod.WEIGHED:
        gram = 0.00298
        weighed = round((1000 * gram + bias) / way.tool.resolution) * way.tool.resolution
        strand = ReferencePiece(mass_g=weighed, length_mm=1000.0, length_tool=RULER)
    readings: list[float] = []
    slipped = False

    def read() -> None:
        nonlocal slipped
        length = fed + way.draw(rng, len(readings))
        shown = {
            EStepsMethod.OPEN_AIR: length + bias,
            EStepsMethod.MARKED: 1.2 * way.commanded_mm + mark - length + bias,
            EStepsMethod.WEIGHED: length * gram + bias,
        }[way.method]
        shown = round(shown / way.tool.resolution) * way.tool.resolution
        if rng.random() < way.slips:
            wrong = _swapped(shown)
            found = check_entry(wrong, fed=float, commanded=way.commanded_mm, low=20.0, high=500.0)
            if wrong != shown and found is None:
                shown, slipped = wrong, True
        readings.append(shown)

    def result() -> EStepsResult:
        return evaluate_esteps(
            EStepsSample(
                method=way.method, commanded_mm=way.commanded_mm, readings=tuple(readings), tool=way.tool,
                mark_at_mm=1.2 * way.commanded_mm if way.method is EStepsMethod.MARKED else None,
                mark_tool=way.mark_tool, strand=strand, history=way.history,
            )
        )  # fmt: skip

    for _ in range(3):
        read()
    first = result()
    sheet = 0.0 if first.figures is None else first.figures.error_pct
    found = first
    while found.reason is Reason.MORE_REPEATS and len(readings) < MOST_READINGS:
        read()
        found = result()
    unsure = found.verdict is Verdict.REPEAT
    if found.reason in {EStepsReason.IRREGULAR_FEED, EStepsReason.DRIFTING}:
        # The advice is followed: what was read is struck, and three are fed anew.
        readings.clear()
        slipped = False
        for _ in range(3):
            read()
        found = result()
    figures = found.figures
    error = 0.0 if figures is None else figures.error_pct
    seen = found.reason in {EStepsReason.IRREGULAR_FEED, EStepsReason.DRIFTING}
    changed = found.verdict in {Verdict.APPLY, Verdict.TRY}
    return Trial(
        verdict=found.verdict,
        covered=figures is not None and abs(error - truth_pct) <= figures.half_width_95_pct,
        left=_left(truth_pct, error if changed else 0.0),
        sheet=_left(truth_pct, sheet),
        readings=len(readings),
        slipped=slipped and not seen and changed,
        unsure=unsure,
    )


def _hand(std: float) -> Draw:
    return lambda rng, _: float(rng.normal(0, std))


WAYS = (
    Feeding(name="cut, sd 0.3 mm", draw=_hand(0.3)),
    Feeding(name="cut, earlier scatter on record", draw=_hand(0.3), history=SpreadHistory(std=0.3, dof=6)),
    Feeding(name="marked and read with a calliper", draw=_hand(0.3), method=EStepsMethod.MARKED),
    Feeding(
        name="marked with a ruler, read with a calliper", draw=_hand(0.3), method=EStepsMethod.MARKED, mark_tool=RULER
    ),
    Feeding(
        name="1 m weighed beside 1 m", draw=_hand(0.3), method=EStepsMethod.WEIGHED, tool=SCALE, commanded_mm=1000.0
    ),
    Feeding(
        name="cut, heavy tails", draw=lambda rng, _: float(0.3 * rng.standard_t(3) / np.sqrt(3)), on_model=False
    ),
    Feeding(
        name="cut, a hand of 0.8 after one of 0.3", draw=_hand(0.8), history=SpreadHistory(std=0.3, dof=20), on_model=False
    ),
    Feeding(name="cut, drift of 0.3 mm a reading", draw=lambda rng, k: float(0.3 * k + rng.normal(0, 0.1)), on_model=False),
    Feeding(
        name="cut, 1 in 20 with digits swapped", draw=_hand(0.3), history=SpreadHistory(std=0.3, dof=20), slips=0.05,
        on_model=False,
    ),
)  # fmt: skip

TRUTHS = (0.0, 1.0, 2.0, 4.0)


def loops(trials: int) -> Iterator[Row]:
    """Feed, set what is said, feed again, until nothing is to be changed."""
    way = WAYS[0]
    for truth in (*TRUTHS, 10.0):
        rng = np.random.default_rng([20261202, int(truth)])
        done = []
        for _ in range(trials):
            left, feeds, readings, sheet = truth, 0, 0, 0.0
            while True:
                evening = _evening(rng, way, left)
                sheet = sheet if feeds else evening.sheet
                feeds, readings = feeds + 1, readings + evening.readings
                if evening.verdict not in {Verdict.APPLY, Verdict.TRY} or feeds == MOST_FEEDS:
                    break
                left = evening.left
            done.append(
                Trial(
                    verdict=evening.verdict, covered=evening.covered, left=left, sheet=sheet, readings=readings,
                    prints=feeds,
                )
            )  # fmt: skip
        yield row("e-steps loop", way.name, truth, ESTEPS_TOLERANCE_PCT, done, on_model=True)


def rows(trials: int) -> Iterator[Row]:
    """Every way at every true error [%]."""
    for way in WAYS:
        for truth in TRUTHS:
            rng = np.random.default_rng([20261129, WAYS.index(way), int(10 * truth)])
            done = [_evening(rng, way, truth) for _ in range(trials)]
            yield row("e-steps", way.name, truth, ESTEPS_TOLERANCE_PCT, done, on_model=way.on_model)
