"""Standing of one step. Age alone makes a value ageing, never worse; a change does that."""

from __future__ import annotations

from enum import StrEnum
from typing import Final

E_STEPS_AGEING_DAYS: Final = 180.0
"""Days after which e-steps are worth a look (job section 4, ageing)."""


class Step(StrEnum):
    """Steps of the chain that can be run."""

    E_STEPS = "e_steps"


class Origin(StrEnum):
    """Where a value comes from."""

    MEASURED = "measured"
    TYPED = "typed"
    RESTORED = "restored"


class Standing(StrEnum):
    """How far a value may still be believed."""

    NEVER = "never"
    ASSUMED = "assumed"
    FRESH = "fresh"
    AGEING = "ageing"
    CHECK = "check"
    RE_ENTER = "re_enter"
    STALE = "stale"


class Effect(StrEnum):
    """What a change asks for, the gravest first: measure anew, put the stored value back, or look whether it holds."""

    REDO = "redo"
    RE_ENTER = "re_enter"
    CHECK = "check"


class NextReason(StrEnum):
    """Why a step is next, or that nothing is due."""

    RUN_OPEN = "run_open"
    NEVER_MEASURED = "never_measured"
    ONLY_TYPED = "only_typed"
    NOT_READ_BACK = "not_read_back"
    CHANGED = "changed"
    OLD = "old"
    NOTHING_DUE = "nothing_due"


_AFTER: Final = {Effect.REDO: Standing.STALE, Effect.RE_ENTER: Standing.RE_ENTER, Effect.CHECK: Standing.CHECK}


def standing(
    *, origin: Origin | None, age_days: float, ageing_after_days: float, changed: Effect | None = None
) -> Standing:
    """Standing of a value of this ``origin`` (None: there is no value), ``age_days`` after it was last shown true.

    ``changed``: the gravest effect of what was done to the machine since then.
    """
    if origin is None:
        return Standing.NEVER
    if origin is Origin.TYPED and changed in {None, Effect.CHECK}:
        return Standing.ASSUMED
    if changed is not None:
        return _AFTER[changed]
    return Standing.AGEING if age_days > ageing_after_days else Standing.FRESH


def next_reason(now: Standing, *, verified: bool, run_open: bool) -> NextReason:
    """Why a step with this standing comes next. An open run first: its readings are already paid for."""
    if run_open:
        return NextReason.RUN_OPEN
    if now is Standing.NEVER:
        return NextReason.NEVER_MEASURED
    if now in _AFTER.values():
        return NextReason.CHANGED
    if not verified:
        return NextReason.NOT_READ_BACK
    return {
        Standing.ASSUMED: NextReason.ONLY_TYPED,
        Standing.AGEING: NextReason.OLD,
        Standing.FRESH: NextReason.NOTHING_DUE,
    }[now]
