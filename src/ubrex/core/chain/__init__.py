"""Where a setup stands: how far a recorded value may still be believed, and what to do next."""

from ubrex.core.chain._changes import EFFECTS, Change, gravest
from ubrex.core.chain._standing import (
    E_STEPS_AGEING_DAYS,
    Effect,
    NextReason,
    Origin,
    Standing,
    Step,
    next_reason,
    standing,
)

__all__ = [
    "EFFECTS",
    "E_STEPS_AGEING_DAYS",
    "Change",
    "Effect",
    "NextReason",
    "Origin",
    "Standing",
    "Step",
    "gravest",
    "next_reason",
    "standing",
]
