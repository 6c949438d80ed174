"""What a hotend really does: probe and push test, confirming, what to set for a wanted heat, logs, and the margin left."""

from ubrex.core.heat._log import HeatLog, HeatLogVerdict, heat_log
from ubrex.core.heat._margin import HeatMargin, MarginVerdict, heat_margin
from ubrex.core.heat._test import (
    BIAS_TOLERANCE_C,
    HeatConfirm,
    HeatPoint,
    HeatProbe,
    HeatPush,
    HeatTest,
    HeatUse,
    HeatVerdict,
    heat_confirm,
    heat_probe,
    heat_push,
    heat_use,
)

__all__ = [
    "BIAS_TOLERANCE_C",
    "HeatConfirm",
    "HeatLog",
    "HeatLogVerdict",
    "HeatMargin",
    "HeatPoint",
    "HeatProbe",
    "HeatPush",
    "HeatTest",
    "HeatUse",
    "HeatVerdict",
    "MarginVerdict",
    "heat_confirm",
    "heat_log",
    "heat_margin",
    "heat_probe",
    "heat_push",
    "heat_use",
]
