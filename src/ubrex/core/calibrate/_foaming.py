"""Foaming filament: at which temperature it swells most, and the flow that goes with it (rules, section G).

Delivered over commanded is not the point here: a wall is swollen on purpose, its outside is what must fit.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from typing import Final

import numpy as np

from ubrex.core.bead import Bead
from ubrex.core.calibrate._rating import Array
from ubrex.core.errors import OutOfRange
from ubrex.core.quantity import Component, Tool, combine, student_quantile

FOAMING_RULE_VERSION: Final = "foaming/2"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

FEWEST_FOAM_BANDS: Final = 6

WINDOW: Final = 5
"""Bands that the curve is laid through, round the widest or the chosen one (rules, G)."""

BAND_STD_MM: Final = 0.008
BAND_DOF: Final = 4.0
"""How well the mean of a band repeats [mm], and what that is worth in degrees of freedom (rules, G)."""

BENT_WINDOW: Final = 3
"""Bands that bend more than five can follow (simulation, docs/methods/evidence.md)."""

BENT: Final = 3.0
"""Three bands are taken where five leave so many times the square of a band (simulation, docs/methods/evidence.md)."""

RESPONSE: Final = 1.5
"""Widths have to differ by so many guards before there is anything to see (rules, G)."""


class FoamVerdict(StrEnum):
    """What a foaming tower says."""

    PEAK = "peak"
    PLATEAU = "plateau"
    EXTEND_HOTTER = "extend_hotter"
    EXTEND_COOLER = "extend_cooler"
    NO_RESPONSE = "no_foaming_response"
    TOO_FEW_BANDS = "too_few_bands"
    NO_BAND_LEFT = "no_band_left"


@dataclass(frozen=True, slots=True, kw_only=True)
class FoamSample:
    """Widths of single walls [mm] by band, coldest first, at one flow and one speed.

    ``flow``: the ratio all bands were printed with. ``vetoed``: bands with dark drops, a sour smell or walls that snap: they
    and all hotter ones are out. ``chosen_c``: a temperature to give the flow for, instead of the peak.
    """

    temperatures_c: tuple[float, ...]
    widths_mm: tuple[tuple[float, ...], ...]
    bead: Bead
    flow: float
    tool: Tool
    vetoed: frozenset[int] = frozenset()
    chosen_c: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class FoamFigures:
    """Band means [mm] and their scatter; the peak and its 95 % interval [°C]; width and flow at the chosen temperature.

    ``flow_low`` to ``flow_high``: 95 %. ``density_ratio``: cross-section of the coldest band over that at the chosen
    temperature: how much lighter.
    """

    band_means_mm: tuple[float, ...]
    band: Component
    widest_c: float
    peak_c: float | None = None
    peak_low_c: float | None = None
    peak_high_c: float | None = None
    chosen_c: float | None = None
    width_mm: float | None = None
    width_std_mm: float | None = None
    flow: float | None = None
    flow_std: float | None = None
    flow_low: float | None = None
    flow_high: float | None = None
    density_ratio: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class FoamResult:
    """Verdict of a foaming tower; figures are None where nothing can be said."""

    verdict: FoamVerdict
    figures: FoamFigures | None = None


@dataclass(frozen=True, slots=True)
class _Parabola:
    """Width = a + b x + c x² by least squares, and the covariance factors of a, b and c."""

    a: float
    b: float
    c: float
    factors: Array


def _parabola(x: Array, y: Array) -> _Parabola:
    columns = np.c_[np.ones(len(x)), x, x * x]
    factors = np.linalg.inv(columns.T @ columns)
    a, b, c = factors @ columns.T @ y
    return _Parabola(float(a), float(b), float(c), factors)


def evaluate_foaming(sample: FoamSample) -> FoamResult:
    """Peak, plateau or neither, and the flow at the chosen temperature. Method: docs/methods/foaming.md.

    Raises
    ------
    OutOfRange
        If bands are not in order of temperature, a band has no reading, or a width is not above 0.
    """
    _check(sample)
    if len(sample.temperatures_c) < FEWEST_FOAM_BANDS:
        return FoamResult(verdict=FoamVerdict.TOO_FEW_BANDS)
    if sample.vetoed and min(sample.vetoed) == 0:
        return FoamResult(verdict=FoamVerdict.NO_BAND_LEFT)
    found = _response(sample)
    if found.figures is None:
        return found
    figures = found.figures
    chosen = sample.chosen_c if sample.chosen_c is not None else figures.peak_c
    if sample.chosen_c is None and sample.vetoed:
        hottest = sample.temperatures_c[min(sample.vetoed) - 1]
        chosen = min(chosen if chosen is not None else figures.widest_c, hottest)
    chosen = figures.widest_c if chosen is None else chosen
    if not sample.temperatures_c[0] <= chosen <= sample.temperatures_c[-1]:
        return found
    return replace(found, figures=_flow_at(sample, figures, chosen))


def _check(sample: FoamSample) -> None:
    if any(after <= before for before, after in pairwise(sample.temperatures_c)):
        raise OutOfRange("bands go from cold to hot", name="temperatures_c")
    if len(sample.widths_mm) != len(sample.temperatures_c) or any(not row for row in sample.widths_mm):
        raise OutOfRange("each band has its readings", name="widths_mm")
    if any(width <= 0 for row in sample.widths_mm for width in row):
        raise OutOfRange("a width is above 0", name="widths_mm")


def _response(sample: FoamSample) -> FoamResult:
    celsius = np.array(sample.temperatures_c)
    width = np.array([statistics.fmean(row) for row in sample.widths_mm])
    count, top = len(celsius), int(np.argmax(width))
    step = float(np.median(np.diff(celsius)))
    band = _band_noise(sample, celsius, width, step)
    # Told apart, one-sided and two-sided, two band means differ by at least this.
    fall = student_quantile(0.95, band.dof) * math.sqrt(2) * band.std
    start = min(max(0, top - WINDOW // 2), count - WINDOW)
    near = slice(start, start + WINDOW)
    curve = _parabola(celsius[near] - celsius[top], width[near])
    figures = FoamFigures(band_means_mm=tuple(float(value) for value in width), band=band, widest_c=float(celsius[top]))
    after, before = (float(width[top] - side.min(initial=width[top])) for side in (width[top + 1 :], width[:top]))
    if float(np.ptp(width)) < RESPONSE * student_quantile(0.975, band.dof) * math.sqrt(2) * band.std:
        return FoamResult(verdict=FoamVerdict.NO_RESPONSE, figures=figures)
    if top == count - 1 or (after < fall and curve.b >= 0 and top >= count - 2):
        return FoamResult(verdict=FoamVerdict.EXTEND_HOTTER, figures=figures)
    if top == 0 or (before < fall and curve.b <= 0 and top <= 1):
        return FoamResult(verdict=FoamVerdict.EXTEND_COOLER, figures=figures)
    # Only a curve that surely bends down has a top to speak of.
    bend = math.sqrt(curve.factors[2, 2]) * band.std
    if not (curve.c < 0 and -curve.c / bend > student_quantile(0.95, band.dof)):
        alike = celsius[width >= width[top] - fall]
        return FoamResult(
            verdict=FoamVerdict.PLATEAU,
            figures=replace(
                figures,
                peak_c=float(celsius[top]),
                peak_low_c=float(alike.min()),
                peak_high_c=float(alike.max()),
            ),
        )
    x = celsius[near] - celsius[top]
    low, high = _fieller(curve, band) or (float(x[0]), float(x[-1]))
    # Half a step on each side for skew: rise and collapse differ, the parabola does not know.
    peak = float(celsius[top] + min(max(-curve.b / (2 * curve.c), x[0]), x[-1]))
    lowest = max(celsius[top] + low - step / 2, celsius[start] - step)
    highest = min(celsius[top] + high + step / 2, celsius[start + WINDOW - 1] + step)
    return FoamResult(
        verdict=FoamVerdict.PEAK,
        figures=replace(
            figures, peak_c=peak, peak_low_c=min(float(lowest), peak), peak_high_c=max(float(highest), peak)
        ),
    )


def _band_noise(sample: FoamSample, celsius: Array, width: Array, step: float) -> Component:
    """How well a band mean repeats: a usual value pooled with a cubic's residuals, never below what is seen within bands."""
    count = len(celsius)
    columns = np.vander((celsius - celsius.mean()) / step, 4)
    rest = width - columns @ np.linalg.lstsq(columns, width, rcond=None)[0]
    dof = count - 4
    spare = sum(len(row) - 1 for row in sample.widths_mm)
    within = 0.0
    if spare:
        readings = count / sum(1 / len(row) for row in sample.widths_mm)
        squares = sum(sum((value - statistics.fmean(row)) ** 2 for value in row) for row in sample.widths_mm)
        within = squares / spare / readings
    pooled = (BAND_DOF * BAND_STD_MM**2 + float(rest @ rest)) / (BAND_DOF + dof)
    return Component(math.sqrt(max(pooled, within, sample.tool.resolution**2 / 12)), BAND_DOF + dof)


def _fieller(curve: _Parabola, band: Component) -> tuple[float, float] | None:
    """Where the slope b + 2 c x may be 0, at 95 %; None where that is everywhere (Fieller)."""
    reach = (student_quantile(0.975, band.dof) * band.std) ** 2
    square = 4 * (curve.c**2 - reach * curve.factors[2, 2])
    linear = 4 * (curve.b * curve.c - reach * curve.factors[1, 2])
    rest = curve.b**2 - reach * curve.factors[1, 1]
    root = linear**2 - 4 * square * rest
    if square <= 0 or root < 0:
        return None
    return (-linear - math.sqrt(root)) / (2 * square), (-linear + math.sqrt(root)) / (2 * square)


def _curve_at(celsius: Array, width: Array, chosen_c: float) -> _Parabola:
    """The parabola round a temperature: through five bands, or three where five leave more than bands scatter.

    A foam that collapses within a band or two bends too much for five: the parabola would pass below its top.
    """
    nearest = int(np.argmin(np.abs(celsius - chosen_c)))
    for bands in (WINDOW, BENT_WINDOW):
        start = min(max(0, nearest - bands // 2), len(celsius) - bands)
        near = slice(start, start + bands)
        x = celsius[near] - chosen_c
        curve = _parabola(x, width[near])
        rest = width[near] - (curve.a + curve.b * x + curve.c * x * x)
        if float(rest @ rest) <= BENT * (WINDOW - 3) * BAND_STD_MM**2:
            break
    return curve


def _flow_at(sample: FoamSample, figures: FoamFigures, chosen_c: float) -> FoamFigures:
    """Width at a temperature from the bands nearest to it, and the flow that makes the wall as wide as its line."""
    celsius = np.array(sample.temperatures_c)
    width = np.array(figures.band_means_mm)
    coldest = figures.band_means_mm[0] - sample.bead.deficit_mm
    curve = _curve_at(celsius, width, chosen_c)
    swollen = curve.a - sample.bead.deficit_mm
    if swollen <= 0:
        return replace(figures, chosen_c=chosen_c)
    flow = sample.flow * sample.bead.solid_mm / swollen
    total = combine(
        [Component(math.sqrt(curve.factors[0, 0]) * figures.band.std, figures.band.dof), Component(sample.tool.std)]
    )
    std = flow * total.std / swollen
    reach = student_quantile(0.975, total.dof) * std
    return replace(
        figures,
        chosen_c=chosen_c,
        width_mm=curve.a,
        width_std_mm=total.std,
        flow=flow,
        flow_std=std,
        flow_low=flow - reach,
        flow_high=flow + reach,
        density_ratio=swollen / coldest if coldest > 0 else None,
    )


def coolest_alike(temperatures_c: Sequence[float], figures: FoamFigures) -> float | None:
    """The coolest band of a plateau: as much foam with less heat."""
    if figures.peak_low_c is None or figures.peak_high_c is None:
        return None
    inside = [value for value in temperatures_c if figures.peak_low_c <= value <= figures.peak_high_c]
    return min(inside, default=figures.peak_c)
