"""Flow from the width of walls: how much of what is commanded comes out (rules, section B).

Delivered over commanded f = 1 + x g / (w - delta), x the excess of the wall over what its lines should make; the new flow
is the old one over f.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from scipy.special import fdtr, fdtri

from ubrex.core.bead import Bead
from ubrex.core.chain import Purpose
from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import Component, Reason, Tool, Verdict, combine, decide, shrunk, student_quantile

FLOW_RULE_VERSION: Final = "flow/2"
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

ENVELOPE_MM: Final = 0.02
"""How far jaws may rest on the high spots of wavy layers [mm]; 0 where only one layer is measured (rules, B)."""

USUAL_WALL_STD_MM: Final = 0.015
"""Usual scatter from wall to wall [mm], where too few walls were measured to show their own (rules, B)."""

DELIVERED_LOW, DELIVERED_HIGH = 0.75, 1.35
"""Delivered over commanded outside this is no flow error: line width or e-steps are wrong (rules, B)."""

FOAM_LOW, FOAM_HIGH = 0.9, 4.0
"""The same for filament that foams: it is commanded at 30 to 80 %, and swells (rules, B and G)."""

LINES_MATCH: Final = 0.08
"""How near (relative) a wall must be to half or twice the expected width for a wrong number of lines to be named."""

VERIFY_MARGIN_PCT: Final = 5.0
"""A reprint within this of what was asked is confirmed (rules, B)."""

CHANGE_MARGIN_MM: Final = 0.015
"""How far a wall may move otherwise than predicted and still count as consistent [mm] (rules, B)."""

CHANGE_DOF: Final = 6.0
"""Usual weight of the scatter of two walls compared with each other (rules, B)."""

AGREE_Z, AGREE_BIAS_MM = 2.0, 0.03
"""One and two walls agree within so many standard uncertainties, and so much additive error [mm] (rules, B)."""

POOL_BELOW: Final = 0.75
"""Walls whose F statistic lies below this quantile are not told apart: all their readings are pooled (p > 0.25)."""

MOST_A_WALL: Final = 3
"""Places that a wall of a box has: more readings than this are those of a second box."""

SIDES: Final = 4
"""Walls of a box, in the order in which they stand: the first is opposite the third."""

USUAL_SIDE_STD_MM: Final = 0.011
"""Usual scatter of opposite walls of one box, one reading each [mm]; between 0.010 and 0.012 (evidence.md)."""

USUAL_WITHIN_STD_MM: Final = 0.008
"""How much of it is the scatter along one wall [mm]; between 0.006 and 0.010 (evidence.md)."""

USUAL_DOF: Final = 4.0
"""Weight of a usual scatter of walls [degrees of freedom] (evidence.md)."""

SIDES_ALIKE: Final = 0.95
"""The usual scatter counts while that of opposite walls over it is not above this quantile of F (evidence.md)."""

AXES_QUANTILE, AXES_MATTER_MM = 0.995, 0.03
"""Walls along x and y differ where Student's t is beyond this quantile, and by no less than so much: mechanics."""

SAME_BOX_STD_MM: Final = 0.008
"""How far the mean of the walls of one box moves when it is measured again [mm] (evidence.md)."""

SAME_BOX_FROM: Final = 2.0
"""Log-likelihood ratio from which on a box is rather the old one than one printed anew (evidence.md)."""

REREAD_STD_MM: Final = 0.006
"""Usual scatter of reading one place of a wall again [mm], beside the step of the tool (evidence.md)."""

_CUTS: Final = ((30, 4.8), (20, 5.2), (16, 5.6), (12, 6.4), (10, 7.0), (8, 8.2), (6, 10.8), (5, 19.0))
"""Fewest readings and the cut for them: 99 % of normal samples hold no reading beyond it (rules, B, *outliers*)."""

_MAD_TO_STD: Final = 1.4826


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


@dataclass(frozen=True, slots=True, kw_only=True)
class WallSample:
    """Readings of the walls of a box [mm], one row a wall, and what was commanded.

    ``spacing_mm``: how far apart lines lie side by side; never assumed. ``excluded``: flat places of readings that are left
    out for a cause. ``foaming``: swelling is meant. ``boxes``: rows are the walls of boxes, four by four as they stand.
    """

    readings: tuple[tuple[float, ...], ...]
    bead: Bead
    tool: Tool
    lines: int = 1
    spacing_mm: float | None = None
    envelope_mm: float = ENVELOPE_MM
    excluded: Collection[int] = ()
    foaming: bool = False
    boxes: bool = False

    @property
    def walls(self) -> list[list[float]]:
        """Readings that count, by wall; walls without any are left out."""
        found, place = [], 0
        for row in self.readings:
            kept = [value for index, value in enumerate(row, place) if index not in self.excluded]
            place += len(row)
            if kept:
                found.append(kept)
        return found

    @property
    def per_mm(self) -> float:
        """Change of delivered over commanded per mm of wall [1/mm]."""
        return (1 + 1 / self.lines) / 2 / self.bead.solid_mm

    def width_at(self, delivered: float) -> float:
        """What jaws read [mm] on a wall that got so much of what was commanded."""
        return self.expected_mm + (delivered - 1) / self.per_mm + self.envelope_mm / 2

    @property
    def share_doubt(self) -> float:
        """Relative standard uncertainty of how much of its excess a line shows [1]: none of one line."""
        return (1 - 1 / self.lines) / (2 * math.sqrt(2)) / ((1 + 1 / self.lines) / 2)

    @property
    def expected_mm(self) -> float:
        """Width that the lines should make; of one line when their spacing is not known."""
        return self.bead.wall_mm(self.lines, self.spacing_mm or 0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class WallMean:
    """Mean of wall means [mm] with its scatter; components are None where the readings cannot show them.

    ``sides_mm``: how much wider walls along x are than those along y, where that is more than scatter.
    """

    mean_mm: float
    scatter: Component
    within_std_mm: float | None
    between_std_mm: float | None
    pooled: bool
    walls: int
    readings: int
    boxes: bool = False
    sides_mm: float | None = None


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


def flagged_readings(values: Sequence[float], step_mm: float) -> tuple[int, ...]:
    """Places of readings that lie far from the median of all; never any of fewer than five."""
    cut = next((cut for fewest, cut in _CUTS if len(values) >= fewest), math.inf)
    if math.isinf(cut):
        return ()
    middle = statistics.median(values)
    scale = max(_MAD_TO_STD * statistics.median(abs(value - middle) for value in values), step_mm)
    return tuple(place for place, value in enumerate(values) if abs(value - middle) > cut * scale)


def wall_mean(walls: Sequence[Sequence[float]]) -> WallMean:
    """Mean of the wall means and its scatter, by analysis of variance in two levels.

    Walls that do not differ more than their readings are pooled; one or two walls borrow a usual scatter.
    """
    count, total = len(walls), sum(len(row) for row in walls)
    means = [math.fsum(row) / len(row) for row in walls]
    mean = math.fsum(means) / count
    squares = math.fsum((value - middle) ** 2 for row, middle in zip(walls, means, strict=True) for value in row)
    free = total - count
    within = squares / free if free else None
    per_wall = count / math.fsum(1 / len(row) for row in walls)

    def found(scatter: Component, between: float | None, *, within_std: float | None, pooled: bool = False) -> WallMean:
        return WallMean(
            mean_mm=mean,
            scatter=scatter,
            within_std_mm=within_std,
            between_std_mm=between,
            pooled=pooled,
            walls=count,
            readings=total,
        )

    if count == 1:
        std = math.sqrt(within) if within else USUAL_WALL_STD_MM
        return found(Component(math.hypot(USUAL_WALL_STD_MM, std / math.sqrt(total)), 2.0), None, within_std=std)
    variance = math.fsum((middle - mean) ** 2 for middle in means) / (count - 1)
    share = (within or 0.0) / per_wall
    between = math.sqrt(max(0.0, variance - share))
    within_std = None if within is None else math.sqrt(within)
    if count == 2:
        # One degree of freedom says nothing: a usual scatter of walls with two more is pooled in.
        pooled = (2 * (USUAL_WALL_STD_MM**2 + share) + variance) / 3
        return found(Component(math.sqrt(pooled / 2), 3.0), between, within_std=within_std)
    if within and fdtr(count - 1, free, variance * per_wall / within) < POOL_BELOW:
        both = ((count - 1) * variance * per_wall + squares) / (count - 1 + free)
        scatter = Component(math.sqrt(both / per_wall / count), float(count - 1 + free))
        return found(scatter, between, within_std=within_std, pooled=True)
    return found(Component(math.sqrt(variance / count), count - 1.0), between, within_std=within_std)


def box_mean(walls: Sequence[Sequence[float]]) -> WallMean:
    """Mean of the walls of one or more boxes and its scatter, which only opposite walls show: x and y may differ for good.

    The scatter of opposite walls has two degrees of freedom a box; a usual one with four more is pooled in while an F test
    lets it. Reading along the walls again lowers the part of it that lies along them.
    """
    means = [math.fsum(row) / len(row) for row in walls]
    plain = wall_mean(walls)
    a_wall = len(walls) / math.fsum(1 / len(row) for row in walls)
    free = plain.readings - plain.walls
    along = (USUAL_DOF * USUAL_WITHIN_STD_MM**2 + free * (plain.within_std_mm or 0.0) ** 2) / (USUAL_DOF + free)
    usual = USUAL_SIDE_STD_MM**2 - USUAL_WITHIN_STD_MM**2 + along / a_wall
    pairs = [(means[place], means[place + 2]) for place in range(len(means)) if place % SIDES < SIDES / 2]
    own = math.fsum((first - second) ** 2 for first, second in pairs) / 2 / len(pairs)
    pooled = own <= float(fdtri(len(pairs), USUAL_DOF, SIDES_ALIKE)) * usual
    dof = len(pairs) + (USUAL_DOF if pooled else 0.0)
    variance = (len(pairs) * own + (USUAL_DOF * usual if pooled else 0.0)) / dof
    along_x, along_y = (math.fsum(sum(pair) for pair in pairs[axis::2]) / len(pairs) for axis in (0, 1))
    apart, std = along_x - along_y, math.sqrt(4 * variance / len(means))
    differ = abs(apart) > max(AXES_MATTER_MM, student_quantile(AXES_QUANTILE, dof) * std)
    return WallMean(
        mean_mm=plain.mean_mm,
        scatter=Component(math.sqrt(variance / len(means)), dof),
        within_std_mm=math.sqrt(along),
        between_std_mm=math.sqrt(max(0.0, variance - along / a_wall)),
        pooled=pooled,
        walls=plain.walls,
        readings=plain.readings,
        boxes=True,
        sides_mm=apart if differ else None,
    )


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
        verdict=Verdict.REFUSE if refused else decision.verdict,
        reason=refused or decision.reason,
        figures=figures,
        more_readings=_more_readings(mean, systematic, to_pct * per_mm, target_pct) if helps else None,
        to_set=to_try(decision.verdict, factor, total),
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


class Equivalence(StrEnum):
    """Whether something is shown to be as asked, shown not to be, or neither."""

    INSIDE = "inside"
    OUTSIDE = "outside"
    OPEN = "open"


def equivalence(error: float, guard: float, margin: float) -> Equivalence:
    """Two one-sided tests at 5 %: the 90 % interval inside the margin, outside it, or across its edge."""
    if abs(error) + guard <= margin:
        return Equivalence.INSIDE
    return Equivalence.OUTSIDE if abs(error) - guard > margin else Equivalence.OPEN


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """How a wall moved against what was predicted [mm], same tool before and after."""

    difference_mm: float
    guard_mm: float
    found: Equivalence


def compare_walls(
    before: Component,
    after: Component,
    *,
    moved_mm: float,
    predicted_mm: float,
    step_mm: float = 0.01,
    margin_mm: float = CHANGE_MARGIN_MM,
    dof: float = CHANGE_DOF,
    share_doubt: float = 0.0,
) -> Moved:
    """Whether a wall moved as the new flow should have moved it; errors of the tool are in both, and cancel.

    ``share_doubt``: relative doubt of the prediction, from how far lines fuse (evidence.md).
    """
    total = combine(
        [
            Component(math.hypot(before.std, after.std), dof),
            Component(math.hypot(step_mm / math.sqrt(6), share_doubt * predicted_mm)),
        ]
    )
    guard = student_quantile(0.95, total.dof) * total.std
    difference = moved_mm - predicted_mm
    return Moved(difference_mm=difference, guard_mm=guard, found=equivalence(difference, guard, margin_mm))


class Reprint(StrEnum):
    """What a reprint says of the value it was printed with."""

    CONFIRMED = "confirmed"
    CONSISTENT = "consistent"
    CONTRADICTED = "contradicted"


def judge_reprint(before: FlowResult, sample: WallSample, flow_ratio: float) -> Reprint | None:
    """What a reprint says; None when its readings cannot be used.

    ``flow_ratio``: the new flow over the old. Equivalence alone would leave most honest people without an answer for ever: a
    wall that moved as predicted counts too, since the zero and the wave of the layers are in both.
    """
    after = evaluate_flow(sample)
    if after.figures is None or before.figures is None:
        return None
    met = equivalence(after.figures.error_pct, after.figures.guard_pct, VERIFY_MARGIN_PCT)
    if met is Equivalence.INSIDE:
        return Reprint.CONFIRMED
    predicted = before.figures.delivered * (flow_ratio - 1) / sample.per_mm
    moved = compare_walls(
        before.figures.wall.scatter,
        after.figures.wall.scatter,
        moved_mm=after.figures.wall.mean_mm - before.figures.wall.mean_mm,
        predicted_mm=predicted,
        step_mm=sample.tool.resolution,
        share_doubt=sample.share_doubt,
    )
    if met is Equivalence.OUTSIDE or moved.found is Equivalence.OUTSIDE:
        return Reprint.CONTRADICTED
    return Reprint.CONSISTENT


def same_box(before: FlowResult, after: FlowResult, sample: WallSample, flow_ratio: float) -> bool:
    """Whether walls are rather those of the box measured before than of one printed at ``flow_ratio`` times its flow.

    A wall that did not move, against one that moved as any fusing of its lines would have it: the logarithm of the
    likelihoods' ratio is above 2 (evidence.md). Never where both were printed with the same flow.
    """
    if before.figures is None or after.figures is None:
        return False
    moved = after.figures.wall.mean_mm - before.figures.wall.mean_mm
    predicted = before.figures.delivered * (flow_ratio - 1) / sample.per_mm
    # Lines that are fused move their wall by more than the middle, lines that just touch by less.
    share = (1 + 1 / sample.lines) / 2
    edges = sorted((predicted * share, predicted * share * sample.lines))
    nearest = min(max(moved, edges[0]), edges[1])
    std = math.hypot(SAME_BOX_STD_MM, sample.tool.resolution / math.sqrt(6))
    return ((moved - nearest) ** 2 - moved**2) / (2 * std**2) > SAME_BOX_FROM


@dataclass(frozen=True, slots=True, kw_only=True)
class TwoPrints:
    """Flow at which the wall comes out as expected, from two prints and no model of the line.

    ``extrapolated``: it lies farther than half a step outside the two flows that were printed.
    """

    flow: float
    std: float
    slope_mm: float
    slope_std_mm: float
    extrapolated: bool


def flow_of_two_prints(
    first: tuple[float, Component],
    second: tuple[float, Component],
    *,
    widths_mm: tuple[float, float],
    expected_mm: float,
    common: Component,
) -> TwoPrints | None:
    """Straight line through two prints of one wall, each given as its flow and the scatter of its width [mm].

    ``common``: what is wrong with both alike. None when the wall did not respond: slope under three times its doubt.
    """  # fmt: skip
    (low, low_scatter), (high, high_scatter) = first, second
    slope = (widths_mm[1] - widths_mm[0]) / (high - low)
    slope_std = math.hypot(low_scatter.std, high_scatter.std) / abs(high - low)
    if slope <= 0 or slope < 3 * slope_std:
        return None
    flow = low + (expected_mm - widths_mm[0]) / slope
    along = (flow - low) / (high - low)
    scatter = math.hypot((1 - along) * low_scatter.std, along * high_scatter.std)
    return TwoPrints(
        flow=flow,
        std=math.hypot(scatter, common.std) / slope,
        slope_mm=slope,
        slope_std_mm=slope_std,
        extrapolated=not -0.5 <= along <= 1.5,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Reconciled:
    """One and two walls of one print, put together. ``bias_mm``: the error of reading that would explain them both."""

    z: float
    agree: bool
    weight_of_single: float
    delivered: float
    std: float
    bias_mm: float

    @property
    def factor(self) -> float:
        """What multiplies the old flow."""
        return 1 / self.delivered


def reconcile(single: FlowFigures, double: FlowFigures, sample: WallSample) -> Reconciled:
    """Weighted mean of one and two walls, and whether they agree at all; ``sample``: either of them, for bead and tool.

    Both share the zero of the calliper and the wave of the layers; z alone would miss that, so the bias is judged too.
    """
    shared = 0.75 * (sample.tool.max_permissible_error**2 / 3 + sample.envelope_mm**2 / 12) / sample.bead.solid_mm**2
    one, two = single.delivered_std, double.delivered_std
    apart = one**2 + two**2 - 2 * shared
    z = (single.delivered - double.delivered) / math.sqrt(apart)
    weight = min(1.0, max(0.0, (two**2 - shared) / apart))
    variance = (weight * one) ** 2 + ((1 - weight) * two) ** 2 + 2 * weight * (1 - weight) * shared
    bias = 2 * (single.corrected_mm - single.expected_mm) - (double.corrected_mm - double.expected_mm)
    return Reconciled(
        z=z,
        agree=abs(z) <= AGREE_Z and abs(bias) <= AGREE_BIAS_MM,
        weight_of_single=weight,
        delivered=weight * single.delivered + (1 - weight) * double.delivered,
        std=math.sqrt(max(0.0, variance)),
        bias_mm=bias,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class PairResult:
    """One and two walls of one print, and what both say together; ``both`` is None while one of them says nothing."""

    single: FlowResult
    double: FlowResult
    verdict: Verdict
    reason: Reason | FlowReason
    both: Reconciled | None = None
    error_pct: float = 0.0
    half_width_95_pct: float = 0.0
    guard_pct: float = 0.0
    to_set: float = 1.0


def evaluate_pair(single: WallSample, double: WallSample, *, tolerance_pct: float = FLOW_TOLERANCE_PCT) -> PairResult:
    """What one and two walls say together. Where they disagree nothing is averaged, and the cause is named."""
    one, two = (evaluate_flow(sample, tolerance_pct=tolerance_pct) for sample in (single, double))
    for found in (one, two):
        if found.verdict is Verdict.REFUSE or found.figures is None:
            return PairResult(single=one, double=two, verdict=Verdict.REFUSE, reason=found.reason)
    if one.figures is None or two.figures is None:
        return PairResult(single=one, double=two, verdict=Verdict.REFUSE, reason=Reason.INVALID_READING)
    both = reconcile(one.figures, two.figures, single)
    error_pct, to_pct = 100 * (both.factor - 1), 100 * both.factor**2
    total = Component(to_pct * both.std, min(one.figures.dof, two.figures.dof))
    helps = one.more_readings is not None or two.more_readings is not None
    decision = decide(error_pct, total, tolerance=tolerance_pct, target=FLOW_TARGET_PCT, more_helps=helps)
    verdict: Verdict = decision.verdict
    reason: Reason | FlowReason = decision.reason
    if not both.agree:
        verdict = Verdict.REFUSE
        reason = FlowReason.WALLS_READ_THICK if both.bias_mm > AGREE_BIAS_MM else FlowReason.LINES_NOT_FUSED
    return PairResult(
        single=one,
        double=two,
        verdict=verdict,
        reason=reason,
        both=both,
        error_pct=error_pct,
        half_width_95_pct=decision.half_width_95,
        guard_pct=decision.guard,
        to_set=to_try(decision.verdict, both.factor, total),
    )


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
