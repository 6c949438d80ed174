"""E-steps: how much filament the extruder really feeds, and what to set instead (rules, section A).

Correction factor c = commanded / mean fed; new steps per mm = old x c. Scatter is divided by the root of the number of
repeats; the error of the tool is common to all of them and is not.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final, TypeAlias

from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import (
    IMPOSSIBLE_FACTOR,
    RECTANGULAR_HALF,
    RECTANGULAR_STEP,
    Component,
    Reason,
    Spread,
    SpreadHistory,
    Tool,
    Unit,
    Verdict,
    combine,
    decide,
    further_repeats,
    spread_of,
    student_quantile,
)

ESTEPS_RULE_VERSION: Final = "e-steps/2"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

DEFAULT_COMMANDED_MM: Final = 100.0
"""Length to command [mm] unless a person asks for another (job, chain row 2)."""

ESTEPS_FIRST_ASKED: Final = 3
"""Readings asked for before any result is shown (rules, A: ask for 3)."""

ESTEPS_TOLERANCE_PCT: Final = 1.0
"""Smallest change worth making [%]: no flow sample can see less, and flow takes up the rest (rules, A)."""

ESTEPS_TARGET_PCT: Final = 1.0
"""Half-width that makes the answer usable [%]; a marked filament and a ruler still reach it (rules, A)."""

ESTEPS_REFUSE_PCT: Final = 20.0
"""Beyond this [%] it is no calibration error: neither wear nor slip does that (rules, A)."""

IRREGULAR_PCT: Final = 2.0
"""Scatter of today's repeats [%] above which the feed is at fault: hand cuts on 100 mm repeat to 1 mm (rules, A)."""

IRREGULAR_STEPS_OF_SCALE: Final = 3.0
"""The same for a weighing, at least so many steps: a coarse scale scatters by itself (evidence.md)."""

ENOUGH_WITHOUT_HISTORY: Final = 5
"""Readings asked for where today's scatter more than earlier ones: of fewer, one slip moves the mean far (evidence.md)."""

FEWEST_FOR_DRIFT: Final = 5
"""Readings from which on a slope over them can be seen (evidence.md)."""

DRIFT_QUANTILE: Final = 0.995
"""A slope counts where Student's t of it is beyond this quantile: 1 %, two-sided (evidence.md)."""

DRIFT_MATTERS_PCT: Final = ESTEPS_TOLERANCE_PCT / 2
"""A drift over all readings of less than this [%] moves no verdict."""

PAIR_DISAGREES_PCT: Final = 2.8
"""Two readings farther apart than this [% of their mean] cannot both be right: sqrt(2) x ``IRREGULAR_PCT``."""

USUAL_SPREAD_MM: Final = 0.5
"""Usual standard deviation of one cut or mark by hand [mm], for one or two readings without a history (rules, A)."""

USUAL_SPREAD_STEPS_OF_SCALE: Final = 2.0
"""The same for a weighing, in steps of the scale (rules, A)."""

RATIOS_OF_A_WRONG_SETTING: Final = (0.25, 0.5, 2.0, 4.0)
"""Correction factors that a wrong microstep or gear setting gives."""

RATIO_MATCH: Final = 0.05
"""How near (relative) a correction must be to one of those ratios to be named."""

CIRCLE: Final = math.pi / 4
"""Area of a circle per square of its diameter."""

CM3_PER_MM3: Final = 1e-3


class EStepsMethod(StrEnum):
    """How the fed length is found."""

    OPEN_AIR = "open_air"
    MARKED = "marked"
    WEIGHED = "weighed"


class SettingForm(StrEnum):
    """What the machine keeps: motor steps per mm, or mm per motor turn."""

    STEPS_PER_MM = "steps/mm"
    MM_PER_TURN = "mm/turn"


class EStepsReason(StrEnum):
    """Why e-steps are refused, or measured again, beside the reasons that all calibrations share."""

    IRREGULAR_FEED = "irregular_feed"
    DRIFTING = "drifting"
    METHODS_DIFFER = "methods_differ"
    MICROSTEP_OR_GEAR_RATIO = "microstep_or_gear_ratio"


class Limiting(StrEnum):
    """Largest part of the uncertainty: what to improve first."""

    SCATTER = "scatter"
    TOOL = "tool"


@dataclass(frozen=True, slots=True, kw_only=True)
class ReferencePiece:
    """A weighed and measured piece of the same spool; gives g per mm without any datasheet."""

    mass_g: float
    length_mm: float
    length_tool: Tool

    def __post_init__(self) -> None:
        _above_zero(mass_g=self.mass_g, length_mm=self.length_mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class Datasheet:
    """g per mm from density [g/cm3] (± half-width) and diameter [mm] (standard uncertainty)."""

    density_g_cm3: float
    density_half_width_g_cm3: float
    diameter_mm: float
    diameter_std_mm: float

    def __post_init__(self) -> None:
        _above_zero(density_g_cm3=self.density_g_cm3, diameter_mm=self.diameter_mm)


Strand: TypeAlias = ReferencePiece | Datasheet


@dataclass(frozen=True, slots=True, kw_only=True)
class EStepsSample:
    """What was commanded, what was read, and with what.

    ``readings``: cut lengths [mm] for open air, remainders to the mark [mm] for marked, masses [g] for weighed.
    ``mark_at_mm`` belongs to marked, ``mark_tool`` to what set the mark (None: the tool that reads); ``strand`` to weighed.
    ``history``: scatter of earlier readings of the same method and tool, in the same unit.

    Raises
    ------
    OutOfRange
        If a length is not above 0, the mark is nearer than what is commanded, or what the method needs is missing.
    """

    method: EStepsMethod
    commanded_mm: float
    readings: tuple[float, ...]
    tool: Tool
    mark_at_mm: float | None = None
    mark_tool: Tool | None = None
    strand: Strand | None = None
    history: SpreadHistory | None = None

    def __post_init__(self) -> None:
        _above_zero(commanded_mm=self.commanded_mm)
        if self.method is EStepsMethod.MARKED and (self.mark_at_mm is None or self.mark_at_mm <= self.commanded_mm):
            raise OutOfRange(
                "the mark must be farther away than the length commanded", name="mark_at_mm", value=self.mark_at_mm
            )
        if self.method is EStepsMethod.WEIGHED and self.strand is None:
            raise OutOfRange(
                "weighing needs the mass of 1 mm: a reference piece, or density and diameter", name="strand"
            )


@dataclass(frozen=True, slots=True, kw_only=True)
class EStepsResult:
    """What the readings say. ``figures``: None when a reading cannot be used at all.

    ``more_repeats``: further readings that would bring the half-width to the target, None if none can.
    """

    verdict: Verdict
    reason: Reason | EStepsReason
    figures: EStepsFigures | None = None
    more_repeats: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class EStepsFigures:
    """The numbers behind a verdict; percentages are of the commanded length, ± is the 95 % half-width.

    ``factor`` multiplies the old steps per mm. ``limited_by``: the larger part of the uncertainty. ``own_spread_pct``:
    scatter of today's readings alone; None of one. ``history_left_out``: they scatter more than earlier ones did.
    ``drift_pct``: how far the readings moved from first to last, where that is a slope rather than scatter.
    """

    count: int
    mean_reading: float
    fed_mm: float
    spread_pct: float
    factor: float
    error_pct: float
    std_pct: float
    dof: float
    half_width_95_pct: float
    guard_pct: float
    tool_half_width_pct: float
    limited_by: Limiting
    own_spread_pct: float | None = None
    history_left_out: bool = False
    drift_pct: float | None = None

    @property
    def relative_half_width(self) -> float:
        """95 % half-width of the corrected setting, relative to it [1]."""
        return self.half_width_95_pct / 100 / self.factor

    @property
    def fed_half_width_mm(self) -> float:
        """95 % half-width of the fed length [mm]."""
        return self.fed_mm * self.relative_half_width


@dataclass(frozen=True, slots=True, kw_only=True)
class ExtruderSetting:
    """A setting as the machine keeps it, > 0."""

    number: float
    form: SettingForm

    def __post_init__(self) -> None:
        _above_zero(number=self.number)


def corrected_setting(setting: ExtruderSetting, factor: float) -> ExtruderSetting:
    """Setting after a correction: steps per mm grow with the factor, mm per turn shrink (their product is constant)."""
    _above_zero(factor=factor)
    number = setting.number * factor if setting.form is SettingForm.STEPS_PER_MM else setting.number / factor
    return ExtruderSetting(number=number, form=setting.form)


def mass_per_mm(strand: Strand) -> float:
    """Mass of 1 mm of filament [g/mm]."""
    if isinstance(strand, ReferencePiece):
        return strand.mass_g / strand.length_mm
    return strand.density_g_cm3 * CIRCLE * strand.diameter_mm**2 * CM3_PER_MM3


def expected_reading(sample: EStepsSample) -> float:
    """What the tool would show if the feed were exactly right, in the unit of the readings."""
    match sample.method:
        case EStepsMethod.OPEN_AIR:
            return sample.commanded_mm
        case EStepsMethod.MARKED:
            return _mark(sample) - sample.commanded_mm
        case EStepsMethod.WEIGHED:
            return sample.commanded_mm * mass_per_mm(_strand(sample))


def fed_length(sample: EStepsSample, reading: float) -> float:
    """Length [mm] that one reading, or the mean of several, says was fed."""
    match sample.method:
        case EStepsMethod.OPEN_AIR:
            return reading
        case EStepsMethod.MARKED:
            return _mark(sample) - reading
        case EStepsMethod.WEIGHED:
            return reading / mass_per_mm(_strand(sample))


def possible_readings(sample: EStepsSample) -> tuple[float, float]:
    """Range of readings (``low`` <= reading < ``high``) that can be true of this method at all."""
    if sample.method is EStepsMethod.MARKED:
        return 0.0, _mark(sample)
    expected = expected_reading(sample)
    return expected / IMPOSSIBLE_FACTOR, expected * IMPOSSIBLE_FACTOR


def pair_apart(readings: tuple[float, ...], sample: EStepsSample) -> float | None:
    """How far two readings lie apart [% of their mean fed length], if too far for both to be right; else None."""
    if len(readings) != 2:
        return None
    first, second = (fed_length(sample, reading) for reading in readings)
    if first + second <= 0:
        return None
    apart = 100 * abs(first - second) / ((first + second) / 2)
    return apart if apart > PAIR_DISAGREES_PCT else None


def methods_differ(figures: EStepsFigures, other_half_width_pct: float) -> bool:
    """Whether readings contradict what another method found right, whose 95 % half-width [%] this was.

    The setting in use is that of the other method, so that the error found is the difference (GUM, 5.1.2).
    """
    return abs(figures.error_pct) > math.hypot(figures.half_width_95_pct, other_half_width_pct)


def feed_ratio(before: float, after: float, unit: Unit) -> float:
    """What is fed after e-steps [steps/mm, or mm per turn] are changed, over what was fed before (rules, A)."""
    return after / before if unit is Unit.STEPS_PER_MM else before / after


def diameter_ratio(before_mm: float, after_mm: float) -> float:
    """What is fed after another filament diameter [mm] is entered, over what was before: less for a thicker one (C)."""
    return (before_mm / after_mm) ** 2


def evaluate_esteps(
    sample: EStepsSample, *, tolerance_pct: float = ESTEPS_TOLERANCE_PCT, target_pct: float = ESTEPS_TARGET_PCT
) -> EStepsResult:
    """What the readings say about the extruder setting.

    Uncertainty: scatter (type A) with earlier scatter pooled in, and the tool (type B), combined by
    Welch-Satterthwaite (JCGM 100:2008, G.4.1). EStepsMethod and thresholds: docs/methods/esteps.md.
    """
    lengths = _spread_readings(sample)
    if not lengths or any(value <= 0 for value in lengths):
        return EStepsResult(verdict=Verdict.REFUSE, reason=Reason.INVALID_READING)
    spread = spread_of(lengths, history=sample.history, usual_std=_usual_std(sample))
    fed = spread.mean if sample.method is not EStepsMethod.WEIGHED else fed_length(sample, spread.mean)
    factor = sample.commanded_mm / fed
    error_pct = 100 * (factor - 1)
    # The setting goes with 1 / length: so does its relative doubt.
    to_pct = 100 * factor / spread.mean
    scatter = Component(to_pct * spread.std / math.sqrt(spread.count), spread.dof)
    tool = Component(100 * factor * _relative_tool_std(sample, spread))
    total = combine([scatter, tool])
    repeats = further_repeats(spread, scale=to_pct, tool_std=tool.std, target=target_pct)
    # Earlier scatter that does not fit today's leaves too few readings to know it by.
    if spread.history_left_out and spread.count < ENOUGH_WITHOUT_HISTORY:
        repeats = max(repeats or 0, ENOUGH_WITHOUT_HISTORY - spread.count)
    decision = decide(
        error_pct, total, tolerance=tolerance_pct, target=target_pct, more_helps=bool(repeats), cheap=True
    )
    figures = EStepsFigures(
        count=spread.count,
        mean_reading=math.fsum(sample.readings) / spread.count,
        fed_mm=fed,
        spread_pct=100 * spread.std / spread.mean,
        factor=factor,
        error_pct=error_pct,
        std_pct=total.std,
        dof=total.dof,
        half_width_95_pct=decision.half_width_95,
        guard_pct=decision.guard,
        tool_half_width_pct=1.96 * tool.std,
        limited_by=Limiting.SCATTER if scatter.std > tool.std else Limiting.TOOL,
        own_spread_pct=None if spread.own_std is None else 100 * spread.own_std / spread.mean,
        history_left_out=spread.history_left_out,
        drift_pct=_drift_pct(lengths),
    )
    # What cannot be true, or drifts, says so before any decision counts.
    verdict, reason = _overruled(sample, figures, decision.verdict, decision.reason)
    if verdict is Verdict.APPLY and spread.history_left_out and spread.count < ENOUGH_WITHOUT_HISTORY:
        verdict, reason = Verdict.REPEAT, Reason.MORE_REPEATS
    return EStepsResult(verdict=verdict, reason=reason, figures=figures, more_repeats=repeats)


def _overruled(
    sample: EStepsSample, figures: EStepsFigures, verdict: Verdict, reason: Reason
) -> tuple[Verdict, Reason | EStepsReason]:
    """Verdict after what comes before any statistics: a size no calibration has, a feed that is irregular or drifts."""
    if abs(figures.error_pct) > ESTEPS_REFUSE_PCT:
        near = (abs(figures.factor / ratio - 1) < RATIO_MATCH for ratio in RATIOS_OF_A_WRONG_SETTING)
        return Verdict.REFUSE, EStepsReason.MICROSTEP_OR_GEAR_RATIO if any(near) else Reason.IMPLAUSIBLE
    if figures.count >= ESTEPS_FIRST_ASKED and (figures.own_spread_pct or 0.0) > _irregular_pct(sample, figures):
        return Verdict.REPEAT, EStepsReason.IRREGULAR_FEED
    if figures.drift_pct is not None:
        return Verdict.REPEAT, EStepsReason.DRIFTING
    return verdict, reason


def _irregular_pct(sample: EStepsSample, figures: EStepsFigures) -> float:
    """Scatter of today's readings [%] beyond which the feed is at fault: judged by today, whatever earlier ones were."""
    if sample.method is not EStepsMethod.WEIGHED:
        return IRREGULAR_PCT
    return max(IRREGULAR_PCT, 100 * IRREGULAR_STEPS_OF_SCALE * sample.tool.resolution / figures.mean_reading)


def _drift_pct(lengths: Sequence[float]) -> float | None:
    """How far readings moved from the first to the last [% of their mean]; None where that may be scatter, or is too little.

    Student's test of a slope (Draper and Smith, *Applied Regression Analysis*, 1.4), two-sided at 1 %.
    """
    count = len(lengths)
    if count < FEWEST_FOR_DRIFT:
        return None
    times = [place - (count - 1) / 2 for place in range(count)]
    mean, spread = math.fsum(lengths) / count, math.fsum(time * time for time in times)
    slope = math.fsum(time * length for time, length in zip(times, lengths, strict=True)) / spread
    rest = math.fsum((length - mean - slope * time) ** 2 for time, length in zip(times, lengths, strict=True))
    moved = 100 * slope * (count - 1) / mean
    seen = abs(slope) > student_quantile(DRIFT_QUANTILE, count - 2) * math.sqrt(rest / (count - 2) / spread)
    return moved if seen and abs(moved) > DRIFT_MATTERS_PCT else None


def _spread_readings(sample: EStepsSample) -> tuple[float, ...]:
    """Readings as the quantity that scatters: fed lengths, or masses; () if a mark was read from where it cannot be."""
    if sample.method is not EStepsMethod.MARKED:
        return sample.readings
    if any(reading < 0 for reading in sample.readings):
        return ()
    return tuple(fed_length(sample, reading) for reading in sample.readings)


def _usual_std(sample: EStepsSample) -> float:
    if sample.method is EStepsMethod.WEIGHED:
        return USUAL_SPREAD_STEPS_OF_SCALE * sample.tool.resolution
    return USUAL_SPREAD_MM


def _relative_tool_std(sample: EStepsSample, spread: Spread) -> float:
    """Standard uncertainty of the mean that no repeat can lower, relative [1]."""
    match sample.method:
        case EStepsMethod.OPEN_AIR:
            return sample.tool.std / spread.mean
        case EStepsMethod.MARKED:
            # The mark is set and its remainder read at two places: two independent readings, each with its own tool.
            return math.hypot(sample.tool.std, (sample.mark_tool or sample.tool).std) / spread.mean
        case EStepsMethod.WEIGHED:
            return relative_weighing_std(_strand(sample), sample.tool, spread.mean)


def relative_weighing_std(strand: Strand, scale: Tool, mass_g: float) -> float:
    """Standard uncertainty of a weighed length, relative [1].

    With a reference piece the limit of the scale is in both weighings and cancels as far as the masses are alike; the
    digits of four weighings, two of them tares, do not (evidence.md).
    """
    if isinstance(strand, ReferencePiece):
        limit = scale.max_permissible_error * RECTANGULAR_HALF * abs(1 / mass_g - 1 / strand.mass_g)
        digits = math.sqrt(2) * scale.resolution * RECTANGULAR_STEP * math.hypot(1 / mass_g, 1 / strand.mass_g)
        return math.hypot(limit, digits, strand.length_tool.std / strand.length_mm)
    density = strand.density_half_width_g_cm3 / math.sqrt(3) / strand.density_g_cm3
    return math.hypot(scale.std_of_difference / mass_g, density, 2 * strand.diameter_std_mm / strand.diameter_mm)


def _mark(sample: EStepsSample) -> float:
    if sample.mark_at_mm is None:
        raise OutOfRange("a marked sample needs its mark", name="mark_at_mm")
    return sample.mark_at_mm


def _strand(sample: EStepsSample) -> Strand:
    if sample.strand is None:
        raise OutOfRange("a weighed sample needs the mass of 1 mm", name="strand")
    return sample.strand


def _above_zero(**numbers: float) -> None:
    for name, value in numbers.items():
        if not (math.isfinite(value) and value > 0):
            raise OutOfRange(f"{name} must be above 0", name=name, value=value)
