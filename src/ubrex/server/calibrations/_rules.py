"""Rules whose inputs are the arguments of a function of the core, as scripts ask for them: JSON in and JSON out."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from enum import Enum
from typing import Any, Final

from pydantic import ConfigDict, validate_call

from ubrex.core.attempts import blame, compare_two, design_best, design_effects, qualified, read_series
from ubrex.core.calibrate import (
    SizeResult,
    compare_axes,
    evaluate_size,
    fit_combine,
    fit_ladder,
    melt_gain,
    pressure_tower,
    retraction_speed,
    speed_limit,
    support_gap,
    top_flow,
    width_readings,
)
from ubrex.core.checks import before_after, drift, levelling_rounds, mesh_shape, repeatability, two_state
from ubrex.core.heat import heat_confirm, heat_log, heat_margin, heat_probe, heat_push, heat_use
from ubrex.server.calibrations._calc import UnusableInput
from ubrex.server.calibrations._calibration import CalcRule


def _as_json(found: Any) -> Any:
    """A result as JSON has it: names of fields are keys, what is infinite or not a number is null."""
    if is_dataclass(found) and not isinstance(found, type):
        return {field.name: _as_json(getattr(found, field.name)) for field in fields(found)}
    if isinstance(found, Enum):
        return found.value
    if isinstance(found, Mapping):
        return {key: _as_json(value) for key, value in found.items()}
    if isinstance(found, list | tuple):
        return [_as_json(value) for value in found]
    if isinstance(found, float) and not math.isfinite(found):
        return None
    return found


def rule_of(name: str) -> CalcRule:
    """A rule whose keys are the names of its function's arguments; what does not fit them is refused."""
    checked = validate_call(config=ConfigDict(allow_inf_nan=False))(FUNCTIONS[name])
    shape = _SHAPES.get(name, _as_json)

    def run(given: Any) -> dict[str, Any]:
        if not isinstance(given, dict):
            raise UnusableInput("input: an object of named values")
        found: dict[str, Any] = shape(checked(**given))
        return found

    return run


def _size_keys(found: SizeResult | None) -> dict[str, Any]:
    """Scale and offsets of one axis, each offset under the name of its kind."""
    if found is None:
        return {"verdict": "refuse", "reason": "sizes_too_few_or_too_close"}
    keys = {field.name: getattr(found, field.name) for field in fields(found) if field.name not in {"outer", "inner"}}
    for name, one in (("outer", found.outer), ("inner", found.inner)):
        if one is not None:
            keys |= {f"{name}_{key}" if key == "per_side_mm" else f"{name}_offset_{key.removeprefix('offset_')}": value
                     for key, value in _as_json(one).items()}  # fmt: skip
    keys |= {"line_part_mm": found.line_part_mm, "hole_part_mm": found.hole_part_mm}
    return {key: _as_json(value) for key, value in keys.items() if value is not None}


FUNCTIONS: Final[Mapping[str, Callable[..., Any]]] = {
    "before-after": before_after, "blame": blame, "compare-two": compare_two, "drift": drift, "factorial": design_effects,
    "factorial-best": design_best, "fit-combine": fit_combine, "fit-ladder": fit_ladder, "heat-confirm": heat_confirm,
    "heat-log": heat_log, "heat-margin": heat_margin, "heat-probe": heat_probe, "heat-push": heat_push,
    "heat-use": heat_use, "levelling-rounds": levelling_rounds, "mesh-shape": mesh_shape,
    "melt-gain": melt_gain, "pressure-tower": pressure_tower,
    "qualified": qualified, "repeatability": repeatability, "retraction-speed": retraction_speed, "series": read_series,
    "size": evaluate_size, "size-axes": compare_axes, "speed-limit": speed_limit, "support-gap": support_gap,
    "top-flow": top_flow, "two-state": two_state, "width-readings": width_readings,
}  # fmt: skip
"""Rules whose inputs are the arguments of a function of the core."""

_SHAPES: Final[Mapping[str, Callable[[Any], Any]]] = {"size": _size_keys}
"""Results that have other keys than their fields."""

RULES: Final[Mapping[str, CalcRule]] = {name: rule_of(name) for name in FUNCTIONS}
