"""First layer: offset, tilt and warp from the thickness of nine patches (rules, section D).

Thickness = commanded + offset error + a plane + what no screw can cure + noise, by least squares.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Final

import numpy as np
from scipy.special import chdtri, fdtri

from ubrex.core.quantity import Component, Reason, Tool, Verdict, combine, decide

FIRST_LAYER_RULE_VERSION: Final = "first-layer/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

OFFSET_TOLERANCE_MM: Final = 0.02
"""Smallest change of the offset worth making [mm]: a tenth of a usual first layer (rules, D)."""

OFFSET_TARGET_MM: Final = 0.03
"""Half-width that makes the offset usable [mm] (rules, D)."""

TILT_TOLERANCE_MM: Final = 0.04
"""Tilt at a screw that is worth a turn [mm]: a fifth of the layer, about the smallest move a hand makes (rules, D)."""

PATCH_STD_MM: Final = 0.012
"""Usual scatter of one patch [mm]; more than that between neighbours is a bent plate (rules, D)."""

TOO_THICK, TOO_THIN = 1.0, 0.6
"""An error of more than the layer itself, or of so much of it below, is no offset error (rules, D)."""

COARSE: Final = 0.4
"""Errors beyond this share of the layer are not in proportion to the squeeze: correct, print again (rules, D)."""

WARP_BAD: Final = 0.5
"""Warp beyond this share of the layer that screws cannot cure (rules, D)."""

SIXTEENTH: Final = 1 / 16
"""Screws are told in sixteenths of a turn: what a hand can do; eighths leave one bed in nine out of level (evidence.md)."""


class Tilt(StrEnum):
    """What to do about the screws."""

    LEVEL = "level"
    ADJUST = "adjust"
    NOT_DISTINGUISHABLE = "not_distinguishable"
    REPEAT = "repeat"


@dataclass(frozen=True, slots=True, kw_only=True)
class PatchSample:
    """Thickness [mm] of 3 by 3 patches, ``thickness[row of y][column of x]``, and where the screws are [mm].

    ``offset_mm``: more negative is nearer to the bed. ``fixed_screw``: the one that nobody turns, if any.
    """

    x_mm: tuple[float, float, float]
    y_mm: tuple[float, float, float]
    thickness: tuple[tuple[float, ...], ...]
    commanded_mm: float
    offset_mm: float
    screws_mm: tuple[tuple[float, float], ...]
    pitch_mm: float
    tool: Tool
    fixed_screw: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Screw:
    """How far the bed is to be raised at a screw [mm] (negative: lowered), and by how many turns."""

    raise_mm: float
    std_mm: float
    guard_mm: float
    turns: float
    turns_std: float

    @property
    def sixteenths(self) -> int:
        """Turns in whole sixteenths."""
        return round(self.turns / SIXTEENTH)


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstLayerFigures:
    """The numbers behind the verdicts [mm]; slopes in mm per mm. ± is the 95 % half-width."""

    mean_mm: float
    slopes: tuple[float, float]
    slopes_std: tuple[float, float]
    residual_std_mm: float
    used: Component
    offset_error_mm: float
    offset_std_mm: float
    dof: float
    half_width_95_mm: float
    new_offset_mm: float
    new_offset_unturned_mm: float
    coarse: bool
    screws: tuple[Screw, ...]
    warp_range_mm: float
    warp_detected: bool
    warp_bad: bool
    bow_mm: float
    bow_std_mm: float
    plane_range_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstLayerResult:
    """What the patches say of the offset and of the screws."""

    verdict: Verdict
    reason: Reason
    tilt: Tilt | None = None
    figures: FirstLayerFigures | None = None


def evaluate_first_layer(
    sample: PatchSample,
    *,
    tolerance_mm: float = OFFSET_TOLERANCE_MM,
    target_mm: float = OFFSET_TARGET_MM,
    tilt_tolerance_mm: float = TILT_TOLERANCE_MM,
) -> FirstLayerResult:
    """What nine patches say. All screws are decided at once (Scheffe). Method: docs/methods/first-layer.md."""
    z = np.asarray(sample.thickness, float)
    if z.min() <= 0:
        return FirstLayerResult(verdict=Verdict.REFUSE, reason=Reason.INVALID_READING)
    x, y = (grid.ravel() for grid in np.meshgrid(sample.x_mm, sample.y_mm))
    fit = _Plane(x, y, z.ravel(), PATCH_STD_MM**2 + sample.tool.resolution**2 / 12)
    error = fit.mean - sample.commanded_mm
    total = combine([Component(math.sqrt(fit.covariance[0, 0]), fit.used.dof), Component(sample.tool.std)])
    # More patches help only where the tool alone does not keep the doubt above the target.
    decision = decide(
        error, total, tolerance=tolerance_mm, target=target_mm, more_helps=1.96 * sample.tool.std <= target_mm
    )
    # All screws are judged at once: with this reach one false turn in twenty is the most, however many there are.
    reach = math.sqrt(2 * float(fdtri(2, fit.used.dof, 0.95)))
    moves = [(*fit.raised(screw), reach) for screw in sample.screws_mm]
    fixed = 0.0 if sample.fixed_screw is None else moves[sample.fixed_screw][0]
    screws = tuple(
        Screw(
            raise_mm=up,
            std_mm=std,
            guard_mm=reach * std,
            turns=(up - fixed) / sample.pitch_mm,
            turns_std=std / sample.pitch_mm,
        )
        for up, std, reach in moves
    )
    # A bowl or a hill: the middle against the corners. No screw takes that away.
    corners = float(z[0, 0] + z[0, 2] + z[2, 0] + z[2, 2]) / 4
    figures = FirstLayerFigures(
        mean_mm=fit.mean,
        slopes=fit.slopes,
        slopes_std=(math.sqrt(fit.covariance[1, 1]), math.sqrt(fit.covariance[2, 2])),
        residual_std_mm=fit.residual_std,
        used=fit.used,
        offset_error_mm=error,
        offset_std_mm=total.std,
        dof=total.dof,
        half_width_95_mm=decision.half_width_95,
        new_offset_mm=sample.offset_mm - (error + fixed),
        new_offset_unturned_mm=sample.offset_mm - error,
        coarse=abs(error) > COARSE * sample.commanded_mm,
        screws=screws,
        warp_range_mm=fit.warp_range,
        warp_detected=fit.warped,
        warp_bad=fit.warped and fit.warp_range > WARP_BAD * sample.commanded_mm,
        bow_mm=float(z[1, 1]) - corners,
        bow_std_mm=fit.used.std * math.sqrt(1.25),
        plane_range_mm=abs(fit.slopes[0]) * float(np.ptp(x)) + abs(fit.slopes[1]) * float(np.ptp(y)),
    )
    verdict, reason = decision.verdict, decision.reason
    if not -TOO_THIN * sample.commanded_mm <= error <= TOO_THICK * sample.commanded_mm:
        verdict, reason = Verdict.REFUSE, Reason.IMPLAUSIBLE
    return FirstLayerResult(verdict=verdict, reason=reason, tilt=_tilt(screws, tilt_tolerance_mm), figures=figures)


class _Plane:
    """Least-squares plane through the patches; ``noise``: variance that reading alone explains [mm2]."""

    def __init__(self, x: Any, y: Any, z: Any, noise: float) -> None:
        self._centre = (float(x.mean()), float(y.mean()))
        across, along = x - self._centre[0], y - self._centre[1]
        plane = np.column_stack([np.ones(len(z)), across, along])
        inverse = np.linalg.inv(plane.T @ plane)
        beta = inverse @ plane.T @ z
        rest = z - plane @ beta
        squares, free = float(rest @ rest), len(z) - 3
        self.mean = float(beta[0])
        self.slopes = (float(beta[1]), float(beta[2]))
        self.residual_std = math.sqrt(squares / free)
        self.warp_range = float(rest.max() - rest.min())
        self.warped = bool(squares / noise > chdtri(free, 0.05))
        self.used = Component(self.residual_std, float(free))
        if self.warped:
            # Bow and twist out of the noise: a full quadratic; on a square grid the plane itself stays as it is.
            full = np.column_stack([plane, across**2, along**2, across * along])
            left = z - full @ np.linalg.lstsq(full, z, rcond=None)[0]
            self.used = Component(math.sqrt(max(float(left @ left) / 3, noise)), 3.0)
        self.covariance = inverse * self.used.std**2

    def raised(self, screw: tuple[float, float]) -> tuple[float, float]:
        """How far the bed is too low at a screw [mm], and its standard uncertainty."""
        arm = np.array([0.0, screw[0] - self._centre[0], screw[1] - self._centre[1]])
        return float(arm[1:] @ np.array(self.slopes)), math.sqrt(float(arm @ self.covariance @ arm))


def _tilt(screws: Sequence[Screw], tolerance: float) -> Tilt | None:
    """What to do about the screws; None where a bed has none."""
    if not screws:
        return None
    if all(abs(screw.raise_mm) + screw.guard_mm <= tolerance for screw in screws):
        return Tilt.LEVEL
    if any(abs(screw.raise_mm) - screw.guard_mm > tolerance for screw in screws):
        return Tilt.ADJUST
    if all(screw.guard_mm <= tolerance for screw in screws):
        return Tilt.NOT_DISTINGUISHABLE
    return Tilt.REPEAT


def offset_for_surface(offset_mm: float, *, thinner_mm: float) -> float:
    """Offset after a change of the build surface [mm]: one that is thinner by so much lets the nozzle come down by it.

    For machines whose offset does not follow the surface. A thicker sheet (negative) needs a higher nozzle: the old offset
    would drive it into the sheet.
    """
    return offset_mm - thinner_mm


LIVE_WAIT_S: Final = 12.0
"""After a tick the line under the nozzle is the old one for so long [s]: wait before the next (job, section 3)."""

LIVE_STEPS_MM: Final = (0.01, 0.02, 0.05)
"""Steps by which an offset is moved while it prints [mm]: a step of 0.02 can be seen, more than 0.05 can dig in (D)."""

USUAL_LIVE_STEP_MM: Final = 0.02

USUAL_SCREW_PITCH_MM: Final = 0.7
"""One turn of a bed screw lifts so much [mm] where nobody entered it: an M4 screw (ISO 261, coarse)."""


def moved_offset(offset_mm: float, steps_mm: Sequence[float]) -> float:
    """Offset [mm] after the steps it was moved by while printing; negative steps bring the nozzle down."""
    return offset_mm + math.fsum(steps_mm)
