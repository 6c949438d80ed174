"""Flow from the width of walls: how much of what is commanded comes out (rules, section B).

Delivered over commanded f = 1 + x g / (w - delta), x the excess of the wall over what its lines should make; the new flow
is the old one over f.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.calibrate._walls import (
    MOST_A_WALL,
    SIDES,
    USUAL_WALL_STD_MM,
    WallMean,
    WallSample,
    box_mean,
    flagged_readings,
    wall_mean,
)
from ubrex.core.chain import Purpose
from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import Component, Reason, Verdict, combine, decide, shrunk, student_quantile

FLOW_RULE_VERSION: Final = "flow/3"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

FLOW_TOLERANCE_PCT: Final = 3.0
"""Smallest change worth making [%]: about one digit of a calliper on a line of 0.4 mm (rules, B)."""

FLOW_TOLERANCES_PCT: Final[Mapping[Purpose, float]] = {
    Purpose.EVERYDAY: FLOW_TOLERANCE_PCT,
    Purpose.STRENGTH: FLOW_TOLERANCE_PCT,
    Purpose.LOOKS: 2.0,
    Purpose.FIT: 2.0,
    Purpose.LIGHTNESS: FLOW_TOLERANCE_PCT,
}
"""Smallest change worth making [%] for what a part is for (E): a joint counts the excess of two faces, a top surface shows
it before anything else does. Nothing finer: a micrometer could not tell."""

FLOW_TARGET_PCT: Final = 6.0
"""Half-width that makes the answer usable [%]: what a calliper with its zero checked reaches on one line (rules, B)."""

DELIVERED_LOW, DELIVERED_HIGH = 0.75, 1.35
"""Delivered over commanded outside this is no flow error: line width or e-steps are wrong (rules, B)."""

FOAM_LOW, FOAM_HIGH = 0.9, 4.0
"""The same for filament that foams: it is commanded at 30 to 80 %, and swells (rules, B and G)."""

LINES_MATCH: Final = 0.08
"""How near (relative) a wall must be to half or twice the expected width for a wrong number of lines to be named."""

REREAD_STD_MM: Final = 0.006
"""Usual scatter of reading one place of a wall again [mm], beside the step of the tool (evidence.md)."""

SOFT_PLACES: Final = 4
"""Places read softly that tell: nine in ten hands that press by 0.015 mm are seen (evidence.md)."""


class FlowReason(StrEnum):
    """Why walls say nothing, beside the reasons that all calibrations share."""

    LINE_SPACING_NEEDED = "line_spacing_needed"
    LINE_NARROWER_THAN_LAYER = "line_narrower_than_layer"
    WRONG_NUMBER_OF_LINES = "wrong_number_of_lines"
    BEAD_NARROWER_THAN_LAYER = "bead_narrower_than_layer"
    NO_RESPONSE = "no_response"
    WALLS_READ_THICK = "walls_read_thick"
    LINES_NOT_FUSED = "lines_not_fused"
    CONTRADICTED = "contradicted"
    SAME_BOX = "same_box"
    LAST_DIGIT = "last_digit"
    RESTS_ON_ZERO = "rests_on_zero"


@dataclass(frozen=True, slots=True, kw_only=True)
class FlowFigures:
    """The numbers behind a verdict. ``factor`` multiplies the old flow; ± is the 95 % half-width.

    ``flagged``: flat places of readings far from the others; nothing is dropped for that. ``fusing``: how far lines fuse is
    more of the doubt than the tool.
    """

    wall: WallMean
    expected_mm: float
    corrected_mm: float
    flagged: tuple[int, ...]
    simple_ratio: float
    delivered: float
    factor: float
    error_pct: float
    std_pct: float
    dof: float
    half_width_95_pct: float
    guard_pct: float
    tool_half_width_pct: float
    fusing: bool = False

    @property
    def delivered_std(self) -> float:
        """Standard uncertainty of delivered over commanded [1]."""
        return self.std_pct / 100 / self.factor**2


@dataclass(frozen=True, slots=True, kw_only=True)
class FlowResult:
    """What the walls say. ``more_readings``: further readings that would reach the target; None if none can.

    ``to_set``: what multiplies the old flow for the value to type: less than the whole correction where it is only tried.
    """

    verdict: Verdict
    reason: Reason | FlowReason
    figures: FlowFigures | None = None
    more_readings: int | None = None
    to_set: float = 1.0


def evaluate_flow(
    sample: WallSample, *, tolerance_pct: float = FLOW_TOLERANCE_PCT, target_pct: float = FLOW_TARGET_PCT
) -> FlowResult:
    """What the walls say about the flow they were printed with.

    Two lines that are fused move the outside of their wall twice as far as two that just touch: the share of the excess
    that each line shows lies between 1/n and 1, and its doubt is part of the ±. Method: docs/methods/flow.md.
    """
    walls = sample.walls
    if not walls or min(min(row) for row in walls) <= 0:
        return FlowResult(verdict=Verdict.REFUSE, reason=Reason.INVALID_READING)
    if sample.lines > 1 and sample.spacing_mm is None:
        return FlowResult(verdict=Verdict.REFUSE, reason=FlowReason.LINE_SPACING_NEEDED)
    mean = box_mean(walls) if sample.boxes and walls and len(walls) % SIDES == 0 else wall_mean(walls)
    per_mm, tool = sample.per_mm, _tool_std(sample)
    # Jaws rest on the high spots of the layers: half of the envelope is no plastic.
    corrected = mean.mean_mm - sample.envelope_mm / 2
    excess = corrected - sample.expected_mm
    delivered = 1 + excess * per_mm
    if delivered <= 0:
        return FlowResult(verdict=Verdict.REFUSE, reason=Reason.IMPLAUSIBLE)
    factor = 1 / delivered
    to_pct = 100 * factor**2
    # What no repeat can lower: the tool, and how far lines fuse.
    model = _model_std(sample, excess)
    systematic = Component(to_pct * math.hypot(tool * per_mm, model))
    total = combine([Component(to_pct * per_mm * mean.scatter.std, mean.scatter.dof), systematic])
    error_pct = 100 * (factor - 1)
    helps = _Z95 * systematic.std <= target_pct
    decision = decide(error_pct, total, tolerance=tolerance_pct, target=target_pct, more_helps=helps)
    verdict: Verdict = decision.verdict
    reason: Reason | FlowReason = decision.reason
    digit = to_pct * per_mm * sample.tool.resolution / mean.readings
    beyond = abs(error_pct) - decision.half_width_95 - tolerance_pct
    if sample.sure_by_digit and verdict is Verdict.APPLY and beyond <= digit:
        verdict, reason = Verdict.TRY, FlowReason.LAST_DIGIT
    figures = FlowFigures(
        wall=mean,
        expected_mm=sample.expected_mm,
        corrected_mm=corrected,
        flagged=flagged_readings([value for row in sample.readings for value in row], sample.tool.resolution),
        simple_ratio=sample.expected_mm / corrected,
        delivered=delivered,
        factor=factor,
        error_pct=error_pct,
        std_pct=total.std,
        dof=total.dof,
        half_width_95_pct=decision.half_width_95,
        guard_pct=decision.guard,
        tool_half_width_pct=_Z95 * systematic.std,
        fusing=sample.lines > 1 and model > tool * per_mm,
    )
    # What cannot be a flow error goes before any statistics.
    refused = _refused(sample, figures)
    return FlowResult(
        verdict=Verdict.REFUSE if refused else verdict,
        reason=refused or reason,
        figures=figures,
        more_readings=_more_readings(mean, systematic, to_pct * per_mm, target_pct) if helps else None,
        to_set=to_try(verdict, factor, total),
    )


def to_try(verdict: Verdict, factor: float, total: Component) -> float:
    """What multiplies the old flow for the value to type: of a correction that is only tried, the part that is believed."""
    return shrunk(factor, total.std / factor) if verdict is Verdict.TRY else factor


def half_width_of_width(figures: FlowFigures, sample: WallSample) -> float:
    """95 % half-width of the mean wall [mm], from that of the factor: their slopes multiply (GUM, 5.1.2)."""
    return figures.half_width_95_pct / 100 / figures.factor**2 / sample.per_mm


_Z95: Final = student_quantile(0.975, math.inf)


def _tool_std(sample: WallSample) -> float:
    """Standard uncertainty of the mean [mm] that no repeat can lower: calliper and the wave of the layers."""
    return math.hypot(sample.tool.std, sample.envelope_mm / math.sqrt(12))


def _model_std(sample: WallSample, excess: float) -> float:
    """Standard uncertainty of delivered over commanded from the shape of the line and how far lines fuse [1]."""
    shape = sample.bead.deficit_mm / math.sqrt(3) / sample.bead.solid_mm
    return abs(excess) * sample.per_mm * math.hypot(shape, sample.share_doubt)


def _refused(sample: WallSample, figures: FlowFigures) -> Reason | FlowReason | None:
    """What cannot be a flow error, in the order in which a person should think of it."""
    ratio = figures.corrected_mm / figures.expected_mm
    if not sample.foaming and any(abs(ratio / lines - 1) < LINES_MATCH for lines in (0.5, 2.0)):
        return FlowReason.WRONG_NUMBER_OF_LINES
    low, high = (FOAM_LOW, FOAM_HIGH) if sample.foaming else (DELIVERED_LOW, DELIVERED_HIGH)
    if not low <= figures.delivered <= high:
        return Reason.IMPLAUSIBLE
    if sample.lines == 1 and figures.corrected_mm <= sample.bead.height_mm:
        return FlowReason.BEAD_NARROWER_THAN_LAYER
    return None


def _more_readings(mean: WallMean, systematic: Component, to_pct: float, target_pct: float) -> int | None:
    """Fewest further readings, spread evenly over the walls, that reach the target; None: print a second box."""
    a_wall = math.ceil(mean.readings / mean.walls)
    for each in range(a_wall, MOST_A_WALL + 1):
        extra = (each - a_wall) * mean.walls
        scatter = _scatter_with(mean, each, extra)
        total = combine([Component(to_pct * scatter.std, scatter.dof), systematic])
        if student_quantile(0.975, total.dof) * total.std <= target_pct:
            return extra
    return None


def _scatter_with(mean: WallMean, each: int, extra: int) -> Component:
    if extra == 0:
        return mean.scatter
    if mean.pooled and not mean.boxes:
        grown = math.sqrt(mean.readings / (mean.readings + extra))
        return Component(mean.scatter.std * grown, mean.scatter.dof + extra)
    between = USUAL_WALL_STD_MM if mean.between_std_mm is None else mean.between_std_mm
    within = USUAL_WALL_STD_MM if mean.within_std_mm is None else mean.within_std_mm
    return Component(math.sqrt((between**2 + within**2 / each) / mean.walls), mean.scatter.dof)


@dataclass(frozen=True, slots=True, kw_only=True)
class Pressed:
    """By how much a hand presses walls in [mm] and the 95 % half-width of that; ``std_mm``: its standard uncertainty."""

    by_mm: float
    std_mm: float

    @property
    def half_width_mm(self) -> float:
        """95 % half-width [mm]."""
        return student_quantile(0.975, math.inf) * self.std_mm

    @property
    def real(self) -> bool:
        """Whether walls are pressed in at all: softer readings are wider by more than rereading explains."""
        return self.by_mm > self.half_width_mm


def softly_first(verdict: Verdict, reason: StrEnum, *, ratchet: bool, pairs: int, real: bool) -> bool:
    """Whether walls are to be read softly before a change is made of them; see ``pressed_in``.

    What a hand takes off every wall looks like flow that is too low, and no reading shows it; where there are walls of one
    line and of two, they seem not to be fused. A ratchet closes the jaws of a micrometer always alike. ``pairs``: places
    read softly so far; ``real``: they are wider.
    """
    thin = verdict in {Verdict.APPLY, Verdict.TRY} or reason is FlowReason.LINES_NOT_FUSED
    return thin and not (ratchet or real) and pairs < SOFT_PLACES


def pressed_in(pairs: Sequence[tuple[float, float]], resolution_mm: float) -> Pressed:
    """How far walls give way: each pair is one place read as usual, and again with the jaws only just touching [mm].

    A zero check cannot see it: a shank does not give way.

    Raises
    ------
    OutOfRange
        If there is no pair.
    """
    if not pairs:
        raise OutOfRange("a place is read twice", name="pairs")
    one = math.hypot(REREAD_STD_MM, resolution_mm / math.sqrt(12))
    by_mm = math.fsum(soft - usual for usual, soft in pairs) / len(pairs)
    return Pressed(by_mm=by_mm, std_mm=one * math.sqrt(2 / len(pairs)))
