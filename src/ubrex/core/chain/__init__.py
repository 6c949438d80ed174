"""Where a setup stands: how far a recorded value may still be believed, and what to do next."""

from ubrex.core.chain._standing import E_STEPS_AGEING_DAYS, NextReason, Origin, Standing, Step, next_reason, standing

__all__ = ["E_STEPS_AGEING_DAYS", "NextReason", "Origin", "Standing", "Step", "next_reason", "standing"]
