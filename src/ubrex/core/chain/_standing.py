"""Standing of one step. Age alone makes a value ageing, never worse; a change does that."""

from __future__ import annotations

from enum import StrEnum
from typing import Final

from ubrex.core.chain._changes import Effect
from ubrex.core.chain._steps import AgeingLimits, Since


class Origin(StrEnum):
    """Where a value comes from."""

    MEASURED = "measured"
    LABEL = "label"
    FAMILY = "family"
    COPIED = "copied"
    TYPED = "typed"
    READ_FROM_FILE = "read_from_file"
    RESCALED = "rescaled"
    RESTORED = "restored"
    ATTEMPT = "attempt"


class Standing(StrEnum):
    """How far a value may still be believed."""

    NEVER = "never"
    ASSUMED = "assumed"
    FRESH = "fresh"
    AGEING = "ageing"
    CHECK = "check"
    RE_ENTER = "re_enter"
    STALE = "stale"
    HOLD = "hold"
    OUT = "out"
    NOT_ON_MACHINE = "not_on_machine"


SHOWN_HERE: Final = frozenset({Origin.MEASURED, Origin.RESTORED, Origin.RESCALED})
"""Origins of values that were measured on this very setup; all others are assumed until they are."""

_AFTER: Final = {
    Effect.HOLD: Standing.HOLD,
    Effect.REDO: Standing.STALE,
    Effect.RE_ENTER: Standing.RE_ENTER,
    Effect.RESCALE: Standing.CHECK,
    Effect.CHECK: Standing.CHECK,
}

_LIGHT: Final = frozenset({None, Effect.RESCALE})
"""What leaves an assumed value as it is: a guess that is rescaled is as good a guess."""


def standing(
    *,
    origin: Origin | None,
    since: Since,
    limits: AgeingLimits,
    asked: Effect | None = None,
    out: bool = False,
    untold: bool = False,
    beyond_limit: bool = False,
    other_form: bool = False,
    on_machine: bool = True,
) -> Standing:
    """Standing of the value of a step.

    Parameters
    ----------
    origin
        Where the value comes from; None: there is none.
    since, limits
        What happened since it was last shown true, and how much of that it may see before it is worth a look.
    asked
        The gravest effect of what was changed since then.
    out
        The last measurement found it outside its tolerance, and it was kept.
    untold
        The last measurement could not tell, and it was kept: nobody has shown it true.
    beyond_limit
        It is hotter than a limit that holds now: said before anything else that is wrong with it.
    other_form
        It is kept in a form that its machine does not have any more, and cannot be entered there.
    on_machine
        Whether this machine offers the step at all.
    """
    if not on_machine:
        return Standing.NOT_ON_MACHINE
    # The gravest first: what can hurt, what cannot be entered, what was never told, what asks for work, and age.
    if beyond_limit:
        return Standing.OUT
    if asked is Effect.HOLD:
        return Standing.HOLD
    if other_form:
        return Standing.STALE
    if origin is None:
        return Standing.NEVER
    # A look asked of what nobody ever showed true here says less than that nobody did.
    if origin not in SHOWN_HERE and asked in _LIGHT:
        return Standing.ASSUMED
    if asked in {Effect.REDO, Effect.RE_ENTER}:
        return _AFTER[asked]
    if out:
        return Standing.OUT
    if asked is not None:
        return _AFTER[asked]
    if untold:
        return Standing.CHECK
    return Standing.AGEING if since.exceeds(limits) else Standing.FRESH
