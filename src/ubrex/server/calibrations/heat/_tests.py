"""Earlier heat checks, as a second one is held against them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from ubrex.core.heat import HeatPush, HeatTest, HeatVerdict, heat_push
from ubrex.core.quantity import student_quantile
from ubrex.server.profile import readings_of
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Run, Setup, Toolhead

PAIRS: Final = 2
"""Readings at each set temperature (rules, L)."""

FEWEST_STEPS: Final = 4
"""Temperatures at which a push says anything (rules, L)."""

RUNS: Final = "runs"
"""What is said of filament that is pushed at a temperature."""

USUAL_REFERENCE_STD_C: Final = 3.0
"""How well a knee on another hotend is known [°C], where it was found by a push too (rules, L)."""


def _ended(method: str) -> Prepared[Run]:
    return Prepared(
        lambda hotend_id: (
            Run.select(Run)
            .join(Setup)
            .join(Toolhead)
            .where(Toolhead.hotend == hotend_id, Run.method == method, Run.ended_at.is_null(False))
            .order_by(Run.id.desc())
            .limit(1)
        )
    )


_LAST: Final = {method: _ended(method) for method in ("heat_probe", "heat_push")}


def first_test(hotend_id: int, method: str) -> Run | None:
    """The last heat check of a hotend by a method that ended and says something; None where there is none."""
    run = _LAST[method].first(hotend_id)
    if run is None:
        return None
    if method == "heat_push":
        return run if pushed_before(run) is not None else None
    return run if len(readings_of(run.id)) >= run.inputs.get("asked", PAIRS) else None


def pushed(values: Sequence[float], answers: Sequence[int | None], reference_c: float | None) -> HeatPush:
    """What a push says, of the temperatures at which it was tried."""
    tried = [(celsius, answer) for celsius, answer in zip(values, answers, strict=True) if answer is not None]
    return heat_push(
        [celsius for celsius, _ in tried], [answer for _, answer in tried], reference_knee_c=reference_c,
        reference_std_uncertainty_c=USUAL_REFERENCE_STD_C,
    )  # fmt: skip


def push_as_test(found: HeatPush) -> HeatTest | None:
    """A push as another test is held against it; None where it has nothing to compare with."""
    if found.bias_c is None or found.std_uncertainty_c is None:
        return None
    if found.verdict not in {HeatVerdict.FINE, HeatVerdict.SUSPECT}:
        return None
    return HeatTest(method="push", bias_c=found.bias_c, std_uncertainty_c=found.std_uncertainty_c)


def pushed_before(run: Run) -> HeatTest | None:
    """What an earlier push said."""
    values = run.inputs["values"]
    answers: list[int | None] = [None] * len(values)
    for row in readings_of(run.id):
        band, _, key = (row.place or "").partition(":")
        if key == RUNS and band.isdigit() and int(band) < len(values):
            answers[int(band)] = round(row.number)
    return push_as_test(pushed(values, answers, run.inputs.get("reference_c")))


def half_of(test: HeatTest) -> float:
    """95 % half-width of a test [°C]."""
    return student_quantile(0.975, math.inf if test.dof is None else test.dof) * test.std_uncertainty_c
