"""Calibrations: each in a room of its own, with its run, its start, its words and its rules for scripts.

``CALIBRATIONS`` is the only list of them. How one is added: ``docs/adding-a-calibration.md``.
"""

from ubrex.server.calibrations._calc import UnusableInput
from ubrex.server.calibrations._calibration import (
    EDITION,
    Begun,
    CalcRule,
    Calibration,
    Filled,
    Incomplete,
    LiveSteps,
    MethodWords,
    Register,
    RunInputs,
    Sides,
    missing_of,
)
from ubrex.server.calibrations._case import Again, Case, Entry, File, with_point
from ubrex.server.calibrations._edits import refuse_others
from ubrex.server.calibrations._measured import JAWS, Answer, Doubt, Gauge, Measured
from ubrex.server.calibrations._rules import RULES, rule_of
from ubrex.server.calibrations._tower import MISSING, SNAPPED, Bands, Tower, place_of
from ubrex.server.calibrations._tower_words import PURPOSE_NAMES
from ubrex.server.calibrations.diameter import DIAMETER
from ubrex.server.calibrations.e_steps import E_STEPS
from ubrex.server.calibrations.first_layer import FIRST_LAYER
from ubrex.server.calibrations.fit import FIT
from ubrex.server.calibrations.flow import FLOW, WEIGHED_BOX
from ubrex.server.calibrations.foaming import FOAMING
from ubrex.server.calibrations.heat import HEAT_PROBE, HEAT_PUSH
from ubrex.server.calibrations.pressure import PRESSURE
from ubrex.server.calibrations.retraction import PULL_SPEED, RETRACTION
from ubrex.server.calibrations.size import SIZE
from ubrex.server.calibrations.supports import SUPPORTS
from ubrex.server.calibrations.temperature import TEMPERATURE
from ubrex.server.calibrations.top_speed import MELT_LADDER
from ubrex.server.calibrations.two_ways import TWO_WAYS

CALIBRATIONS = Register(
    [
        HEAT_PROBE,
        HEAT_PUSH,
        *E_STEPS,
        FIRST_LAYER,
        FOAMING,
        TEMPERATURE,
        FLOW,
        WEIGHED_BOX,
        DIAMETER,
        PRESSURE,
        RETRACTION,
        PULL_SPEED,
        TWO_WAYS,
        FIT,
        SIZE,
        SUPPORTS,
        MELT_LADDER,
    ]
)
"""Every way to measure something, in the order in which a step offers them."""

__all__ = [
    "CALIBRATIONS",
    "EDITION",
    "JAWS",
    "MISSING",
    "PURPOSE_NAMES",
    "RULES",
    "SNAPPED",
    "Again",
    "Answer",
    "Bands",
    "Begun",
    "CalcRule",
    "Calibration",
    "Case",
    "Doubt",
    "Entry",
    "File",
    "Filled",
    "Gauge",
    "Incomplete",
    "LiveSteps",
    "Measured",
    "MethodWords",
    "Register",
    "RunInputs",
    "Sides",
    "Tower",
    "UnusableInput",
    "missing_of",
    "place_of",
    "refuse_others",
    "rule_of",
    "with_point",
]
