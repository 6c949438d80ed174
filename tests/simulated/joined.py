"""Corrections that reach into each other, made in turn until nothing is to be changed: one meets what the other leaves."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from tests.simulated.boxes import CHECKED, LINE, WAYS, Evening, left_of, sheet_of
from tests.simulated.tally import Row, Trial, row
from ubrex.core.calibrate import (
    FLOW_TOLERANCE_PCT,
    DiameterSample,
    FoamSample,
    evaluate_diameter,
    evaluate_flow,
    evaluate_foaming,
)
from ubrex.core.quantity import Verdict

NOMINAL_MM = 1.75
MOST_BOXES = 8
TRUTHS = (0.0, 6.0, 12.0)
CHANGES = frozenset({Verdict.APPLY, Verdict.TRY})

Loop = Callable[[np.random.Generator, float], Trial]


class _Boxes:
    """Boxes of one evening, printed and corrected; ``delivered`` says what comes out at a flow of 1."""

    def __init__(self, rng: np.random.Generator) -> None:
        self.rng, self.evening = rng, Evening.of(rng, WAYS[0])
        self.flow, self.prints, self.first = 1.0, 0, 1.0
        self.verdict = Verdict.REPEAT

    def settle(self, delivered: float) -> None:
        """Print, measure and set, until the box says to leave it."""
        while self.prints < MOST_BOXES:
            box = self.evening.box(self.rng, self.flow * delivered)
            found = evaluate_flow(box)
            self.prints += 1
            if self.prints == 1:
                self.first = sheet_of(box)
            self.verdict = found.verdict
            if found.verdict not in CHANGES:
                return
            self.flow *= found.to_set

    def trial(self, delivered: float, sheet_left: float) -> Trial:
        """What is left in the end."""
        return Trial(
            verdict=self.verdict, covered=True, left=left_of(100 * (1 / delivered - 1), self.flow), sheet=sheet_left,
            readings=4 * self.prints, prints=self.prints,
        )  # fmt: skip


def _entered(rng: np.random.Generator, thick_mm: float) -> float:
    """The diameter that is entered after three places were read with a checked calliper."""
    zero = rng.uniform(-CHECKED.max_permissible_error, CHECKED.max_permissible_error)
    read = np.round(thick_mm + zero + rng.normal(0, 0.012, (2, 3)), 2)
    found = evaluate_diameter(
        DiameterSample(
            widest=tuple(map(float, read.max(axis=0))), across=tuple(map(float, read.min(axis=0))),
            nominal_mm=NOMINAL_MM, tool=CHECKED,
        )
    )  # fmt: skip
    assert found.figures is not None
    return found.figures.diameter_mm if found.verdict in CHANGES else NOMINAL_MM


def diameter_and_flow(rng: np.random.Generator, truth_pct: float, *, flow_first: bool = False) -> Trial:
    """A third of the error is the filament's; entered before the first box, or after the flow had swallowed it."""
    own = 1 / (1 + 2 * truth_pct / 300)
    thick = NOMINAL_MM / (1 + truth_pct / 300) ** 0.5
    boxes = _Boxes(rng)
    if flow_first:
        boxes.settle(own * (thick / NOMINAL_MM) ** 2)
    entered = _entered(rng, thick)
    delivered = own * (thick / entered) ** 2
    boxes.settle(delivered)
    return boxes.trial(delivered, left_of(100 * (1 / delivered - 1), boxes.first))


def temperature_and_flow(rng: np.random.Generator, truth_pct: float) -> Trial:
    """The flow is set, the tower moves the temperature, and the gear slips a little less or more at the new one."""
    before = 1 / (1 + truth_pct / 100)
    after = before * (1 + rng.uniform(-0.03, 0.03))
    boxes = _Boxes(rng)
    boxes.settle(before)
    boxes.settle(after)
    return boxes.trial(after, left_of(100 * (1 / after - 1), boxes.first))


MOST_TOWERS = 4


def foaming(rng: np.random.Generator, swell_pct: float, *, sharp: bool = False) -> Trial:
    """Towers at the flow of now, until the flow they were printed with is as good as the one they say."""
    evening = Evening.of(rng, WAYS[0])
    peak, width = rng.uniform(225, 245), rng.uniform(12, 20) if sharp else rng.uniform(18, 28)
    celsius = np.arange(205.0, 266.0, 6.0)

    def swollen(at: np.ndarray | float) -> np.ndarray:
        # Rises slowly and collapses faster.
        side = np.where(np.asarray(at) < peak, width, (0.7 if sharp else 0.85) * width)
        return 1 + swell_pct / 100 * np.exp(-(((np.asarray(at) - peak) / side) ** 2))

    def tower(flow: float, chosen_c: float | None) -> FoamSample:
        middle = LINE.deficit_mm + flow * LINE.solid_mm * swollen(celsius) + rng.normal(0, 0.008, len(celsius))
        read = np.round(middle[:, None] + evening.zero + rng.normal(0, 0.006, (len(celsius), 3)), 2)
        widths = tuple(tuple(float(one) for one in line) for line in read)
        return FoamSample(
            temperatures_c=tuple(map(float, celsius)), widths_mm=widths, bead=LINE, flow=flow, tool=CHECKED,
            chosen_c=chosen_c,
        )  # fmt: skip

    flow, towers, settled, by_hand = 1.0, 0, False, 0.0
    at: float | None = None
    while not settled and towers < MOST_TOWERS:
        sample = tower(flow, at)
        figures = evaluate_foaming(sample).figures
        towers += 1
        assert figures is not None
        assert figures.flow is not None
        assert figures.flow_low is not None
        assert figures.flow_high is not None
        assert figures.chosen_c is not None
        if towers == 1:
            widest = int(np.argmax(figures.band_means_mm))
            set_by_hand = LINE.solid_mm / (figures.band_means_mm[widest] - LINE.deficit_mm)
            by_hand = left_of(100 * (1 / float(swollen(celsius[widest])) - 1), set_by_hand)
        settled = towers > 1 and figures.flow_low <= flow <= figures.flow_high
        flow, at = flow if settled else figures.flow, figures.chosen_c
    assert at is not None
    return Trial(
        verdict=Verdict.KEEP if settled else Verdict.REPEAT, covered=True,
        left=left_of(100 * (1 / float(swollen(at)) - 1), flow), sheet=by_hand, readings=33 * towers, prints=towers,
    )  # fmt: skip


def _flow_first(rng: np.random.Generator, truth_pct: float) -> Trial:
    return diameter_and_flow(rng, truth_pct, flow_first=True)


def _sharp(rng: np.random.Generator, swell_pct: float) -> Trial:
    return foaming(rng, swell_pct, sharp=True)


LOOPS: tuple[tuple[str, str, Loop, tuple[float, ...]], ...] = (
    ("diameter and flow loop", "diameter first", diameter_and_flow, TRUTHS),
    ("diameter and flow loop", "flow first", _flow_first, TRUTHS),
    ("temperature and flow loop", "flow, temperature, flow", temperature_and_flow, TRUTHS),
    ("foaming loop", "towers", foaming, (40.0, 80.0)),
    ("foaming loop", "collapses within a band or two", _sharp, (40.0, 80.0)),
)


def loops(trials: int) -> Iterator[Row]:
    """Every pair, from several true errors [%]; of foam, from how much it swells [%]."""
    for place, (rule, world, loop, truths) in enumerate(LOOPS):
        for truth in truths:
            rng = np.random.default_rng([20261202, place, int(truth)])
            done = [loop(rng, truth) for _ in range(trials)]
            yield row(rule, world, truth, FLOW_TOLERANCE_PCT, done, on_model=True)
