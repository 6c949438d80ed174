"""How much a hotend melts, and how fast each kind of line may go with it (rules, sections H and Q)."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

import numpy as np
from scipy.special import fdtri

from ubrex.core.bead import ROUNDING, Bead
from ubrex.core.calibrate._rating import Array
from ubrex.core.quantity import student_quantile

MELT_RULE_VERSION: Final = "melt/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

FEWEST_STEPS: Final = 6
KNEES: Final = 400
POWERS: Final = (*(2 + 0.25 * step for step in range(33)), 11.0, 12.0, 14.0, 17.0, 20.0)
"""Exponents of a gradual loss (rules, H)."""

LOSS_PCT, SAFE_SHARE, LEAST_DROP_PCT = 2.0, 0.9, 3.0
"""The loss that is called a limit, the share of it that is safe, and the drop that shows a knee at all (rules, H)."""

_SEEN: Final[Mapping[int, float]] = {6: 6.5, 7: 6.2, 8: 5.9, 10: 5.7, 12: 5.5, 20: 5.3}
"""F of a searched knee beyond which there is one, from so many steps on (simulated; rules, H)."""


class MeltVerdict(StrEnum):
    """What a ladder of flows says."""

    KNEE = "knee"
    NO_KNEE_SEEN = "no_knee_seen"
    START_LOWER = "start_lower"
    REFUSE = "refuse"


@dataclass(frozen=True, slots=True, kw_only=True)
class MeltResult:
    """Where 2 % are lost [mm³/s] with its one-sided 95 % bounds, and what is safe."""

    verdict: MeltVerdict
    reason: str = ""
    shape: str | None = None
    plateau: float | None = None
    knee_mm3_s: float | None = None
    f_ratio: float | None = None
    drop_pct: float | None = None
    loss_flow_mm3_s: float | None = None
    loss_flow_low_mm3_s: float | None = None
    loss_flow_high_mm3_s: float | None = None
    spread_pct: float | None = None
    safe_mm3_s: float | None = None


@dataclass(frozen=True, slots=True)
class _Losses:
    """Curves of one family: where each stands before it loses, how steep, how well it fits, and where it loses 2 %."""

    plateau: Array
    steep: Array
    squares: Array
    at_loss: Array


def top_flow(
    flow_mm3_s: Sequence[float], delivered: Sequence[float], *, kind: str = "mass", layer_height_mm: float | None = None
) -> MeltResult:
    """How much can be fed before less comes out than is commanded. Method: docs/methods/top-flow.md.

    Parameters
    ----------
    flow_mm3_s
        Commanded flow of the steps [mm³/s], even, the first two surely easy.
    delivered, kind, layer_height_mm
        Mass [g] of the same commanded volume, or width of a single wall [mm] with ``kind`` *width* and its layer height.
    """
    flow, came = np.asarray(flow_mm3_s, float), np.asarray(delivered, float)
    if kind == "width":
        came = came - ROUNDING * (layer_height_mm or 0.0)
    count = len(flow)
    if count < FEWEST_STEPS:
        return MeltResult(verdict=MeltVerdict.REFUSE, reason="too_few_points")
    # Feeding gives way at once, or little by little: the shape that fits better speaks.
    knees, hinge, gradual = *_hinges(flow, came), _powers(flow, came)
    sharp, soft = int(np.argmin(hinge.squares)), int(np.argmin(gradual.squares))
    is_sharp = bool(hinge.squares[sharp] <= gradual.squares[soft])
    least = float(min(hinge.squares[sharp], gradual.squares[soft]))
    variance = max(least / (count - 3), 1e-300)
    ratio = (float(((came - came.mean()) ** 2).sum()) - least) / variance
    drop = hinge.steep[sharp] * (flow[-1] - knees[sharp]) / hinge.plateau[sharp]
    if not is_sharp:
        drop = gradual.steep[soft] / gradual.plateau[soft]
    # All curves that fit nearly as well are believed: a safe rate holds for the worst of them.
    limit = least + variance * float(fdtri(1, count - 3, 0.90)) + 1e-15
    believed = np.r_[hinge.at_loss[hinge.squares <= limit], gradual.at_loss[gradual.squares <= limit]]
    point = float(hinge.at_loss[sharp] if is_sharp else gradual.at_loss[soft])
    low = float(believed.min())
    found = MeltResult(
        verdict=MeltVerdict.KNEE, shape="hinge" if is_sharp else "gradual",
        plateau=float(hinge.plateau[sharp] if is_sharp else gradual.plateau[soft]), knee_mm3_s=float(knees[sharp]),
        f_ratio=float(ratio), drop_pct=float(100 * drop), loss_flow_mm3_s=point, loss_flow_low_mm3_s=low,
        loss_flow_high_mm3_s=float(believed.max()), spread_pct=float(100 * math.sqrt(variance) / hinge.plateau[sharp]),
        safe_mm3_s=SAFE_SHARE * low,
    )  # fmt: skip
    # Two shapes with a free knee fit noise too: how much better than a constant, by how many steps there are.
    needed = _SEEN[max(steps for steps in _SEEN if steps <= count)]
    if ratio < needed or 100 * drop < LEAST_DROP_PCT:
        return replace(found, verdict=MeltVerdict.NO_KNEE_SEEN, safe_mm3_s=float(SAFE_SHARE * flow[-1]))
    # Loss that begins before the first step, or runs straight through all, shows no full feed to compare with.
    line = np.polynomial.Polynomial.fit(flow, came, 1)
    straight = float(((came - line(flow)) ** 2).sum())
    if point <= flow[1] or low < flow[0] or straight <= limit:
        return replace(found, verdict=MeltVerdict.START_LOWER, safe_mm3_s=None)
    return found


def _fall(x: Array, came: Array) -> tuple[Array, Array, Array]:
    """For each row of x: the level at 0, how steeply it falls (never rises), and its squares, by least squares."""
    middle = x.mean(axis=1, keepdims=True)
    off = came - came.mean()
    steep = np.maximum(0.0, -((x - middle) * off).sum(axis=1) / ((x - middle) ** 2).sum(axis=1))
    level = came.mean() + steep * middle[:, 0]
    return level, steep, ((came - level[:, None] + steep[:, None] * x) ** 2).sum(axis=1)


def _hinges(flow: Array, came: Array) -> tuple[Array, _Losses]:
    knees = np.linspace(flow[1], flow[-1], KNEES + 1)[:-1]
    level, steep, squares = _fall(np.maximum(0.0, flow - knees[:, None]), came)
    with np.errstate(divide="ignore"):
        loses = knees + LOSS_PCT / 100 * level / steep
    return knees, _Losses(level, steep, squares, np.minimum(loses, flow[-1]))


def _powers(flow: Array, came: Array) -> _Losses:
    powers = np.array(POWERS)
    level, steep, squares = _fall((flow / flow[-1]) ** powers[:, None], came)
    with np.errstate(divide="ignore"):
        loses = flow[-1] * (LOSS_PCT / 100 * level / steep) ** (1 / powers)
    return _Losses(level, steep, squares, np.minimum(loses, flow[-1]))


GAIN_PER_C, GAIN_LOW_PER_C = 0.010, 0.005
"""How much more a hotend melts for each °C, usually and at least (rules, Q)."""

MOST_RAISE_C: Final = 20.0
"""Farther than this no temperature helps (rules, Q)."""

NEAREST_LADDERS_C: Final = 8.0
LEAST_GAIN_PER_C: Final = 0.002
ONE_SIDED_SPAN: Final = 3.29
"""Between two one-sided 95 % bounds lie so many standard deviations."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SpeedLine:
    """A kind of line: its size [mm], the speed wanted [mm/s], its flow, and what limits how fast it gets."""

    name: str
    width_mm: float
    layer_height_mm: float
    wanted_mm_s: float | None = None
    flow: float | None = None
    acceleration_mm_s2: float | None = None
    length_mm: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SpeedOfLine:
    """The fastest a kind of line may go, how fast it really gets [mm/s], and what it needs [mm³/s]."""

    name: str
    speed_mm_s: float
    reached_mm_s: float | None
    needs_mm3_s: float | None
    wanted_is_safe: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class SpeedLimit:
    """Speeds by kind of line, what is needed in all, and how much hotter that would take [°C]."""

    verdict: str
    reason: str
    lines: tuple[SpeedOfLine, ...] = ()
    needs_mm3_s: float | None = None
    raise_c: float | None = None
    raise_high_c: float | None = None


def speed_limit(
    safe_mm3_s: float, lines: Sequence[SpeedLine], *, temperature_c: float | None = None, window_high_c: float | None = None,
    limit_c: float | None = None, gain_per_c: float = GAIN_PER_C, gain_low_per_c: float = GAIN_LOW_PER_C,
) -> SpeedLimit:  # fmt: skip
    """How fast each kind of line may go with a safe melt rate, or how much hotter it would take (docs/methods/top-flow.md).

    On short lines a machine never gets beyond sqrt(acceleration x length); only what is reached counts.
    """
    if safe_mm3_s <= 0 or any(line.width_mm <= 0 or line.layer_height_mm <= 0 for line in lines):
        return SpeedLimit(verdict="refuse", reason="invalid_reading")
    rows = tuple(_speed_of(line, safe_mm3_s) for line in lines)
    need = max((row.needs_mm3_s or 0.0 for row in rows), default=0.0)
    found = SpeedLimit(verdict="ok", reason="melt_rate_is_enough", lines=rows, needs_mm3_s=need)
    if need <= safe_mm3_s + 1e-9:
        return found
    more = math.log(need / safe_mm3_s)
    raise_c = more / gain_per_c
    found = replace(
        found, raise_c=float(math.ceil(raise_c - 1e-9)),
        raise_high_c=float(math.ceil(more / max(gain_low_per_c, 1e-6) - 1e-9)),
    )  # fmt: skip
    caps = [cap for cap in (window_high_c, limit_c) if cap is not None]
    room = min(caps) - temperature_c if caps and temperature_c is not None else 0.0
    if raise_c <= min(room, MOST_RAISE_C) + 1e-9:
        return replace(found, verdict="raise_temperature", reason="then_measure_again")
    far = raise_c > MOST_RAISE_C
    return replace(found, verdict="slower", reason="too_far_for_temperature" if far else "no_room_to_go_hotter")


def shortest_line_mm(speed_mm_s: float, acceleration_mm_s2: float) -> float:
    """Length [mm] of a line on which a machine just gets that fast, from rest to rest (rules, Q: v = sqrt(a L))."""
    return speed_mm_s**2 / acceleration_mm_s2


def _speed_of(line: SpeedLine, safe_mm3_s: float) -> SpeedOfLine:
    area = line.width_mm * line.layer_height_mm * (line.flow or 1.0)
    reached = None
    if line.acceleration_mm_s2 and line.length_mm:
        reached = math.sqrt(line.acceleration_mm_s2 * line.length_mm)
    needs = None
    if line.wanted_mm_s is not None:
        needs = area * (line.wanted_mm_s if reached is None else min(line.wanted_mm_s, reached))
    return SpeedOfLine(
        name=line.name, speed_mm_s=float(math.floor(safe_mm3_s / area + 1e-9)), reached_mm_s=reached, needs_mm3_s=needs,
        wanted_is_safe=None if needs is None else needs <= safe_mm3_s + 1e-9,
    )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class MeltLadder:
    """What a ladder said at a temperature: where it loses 2 %, with its bounds [mm³/s]."""

    temperature_c: float
    loss_flow_mm3_s: float
    low_mm3_s: float
    high_mm3_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MeltGain:
    """How much more is melted for each °C, with its 95 % half-width, and what to use."""

    verdict: str
    reason: str
    gain_per_c: float | None = None
    half_width_95: float | None = None
    use_per_c: float | None = None
    use_low_per_c: float | None = None


def melt_gain(first: MeltLadder, second: MeltLadder) -> MeltGain:
    """How much more a hotend melts for each °C, from two ladders far enough apart (rules, Q)."""
    apart = second.temperature_c - first.temperature_c
    if abs(apart) < NEAREST_LADDERS_C:
        return MeltGain(verdict="refuse", reason="temperatures_too_close")
    gain = math.log(second.loss_flow_mm3_s / first.loss_flow_mm3_s) / apart
    spans = [math.log(one.high_mm3_s / one.low_mm3_s) / ONE_SIDED_SPAN for one in (first, second)]
    half = student_quantile(0.975, math.inf) * math.hypot(*spans) / abs(apart)
    found = MeltGain(
        verdict="not_proven", reason="usual_value_kept", gain_per_c=gain, half_width_95=half, use_per_c=GAIN_PER_C,
        use_low_per_c=GAIN_LOW_PER_C,
    )  # fmt: skip
    if gain - half <= 0:
        return found
    low = max(gain - half, LEAST_GAIN_PER_C)
    return replace(found, verdict="measured", reason="real", use_per_c=gain, use_low_per_c=low)


MOST_WIDTH_READINGS: Final = 12
"""More readings a step nobody takes: a wider line, or a micrometer (rules, Q)."""

WIDTH_STD_MM: Final = 0.008
"""Usual scatter of a wall read by hand [mm] (rules, Q)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class WidthReadings:
    """How many readings of a wall each step needs; None where none would do."""

    verdict: str
    reason: str
    readings: int | None = None


def width_readings(
    width_mm: float, layer_height_mm: float, *, resolution_mm: float = 0.01, reading_sd_mm: float = WIDTH_STD_MM,
    needed_pct: float = LOSS_PCT / 2,
) -> WidthReadings:  # fmt: skip
    """Without a scale: readings of a single wall at which a loss of 2 % is twice the noise (rules, Q)."""
    if width_mm <= 0 or width_mm < layer_height_mm:
        return WidthReadings(verdict="refuse", reason="line_narrower_than_layer")
    solid = Bead(width_mm=width_mm, height_mm=layer_height_mm).solid_mm
    room = (needed_pct / 100 * solid) ** 2 - resolution_mm**2 / 12
    count = math.ceil(reading_sd_mm**2 / room - 1e-9) if room > 0 else None
    if count is None or count > MOST_WIDTH_READINGS:
        return WidthReadings(verdict="wider_line", reason="readings_cannot_see_it")
    return WidthReadings(verdict="ok", reason="enough_with_these", readings=max(count, 2))
