"""Why a use case refuses.

::

    UbrexError
    ├── Refused         what was typed cannot be taken; carries a problem for each field
    ├── Missing         (LookupError) what is asked for is not there
    ├── Clash           the workshop is not in a state for this
    ├── Outdated        somebody else changed it since it was read
    ├── KeyReused       an idempotency key came back with another request
    └── NotSignedIn     the passphrase is needed
        └── TooManyTries
"""

from __future__ import annotations

from dataclasses import dataclass

from ubrex.core.errors import Detail, UbrexError


@dataclass(frozen=True, slots=True)
class FieldProblem:
    """What is wrong with one field; ``suggested`` is what was probably meant, ``confirmable``: may be taken as typed."""

    field: str
    code: str
    message: str
    suggested: str | None = None
    confirmable: bool = False


class Refused(UbrexError):
    """What was typed cannot be taken as it is."""

    code = "refused"

    def __init__(self, *problems: FieldProblem) -> None:
        super().__init__(problems[0].message if len(problems) == 1 else "Some fields need another look.")
        self.problems = problems


class Missing(UbrexError, LookupError):
    """What is asked for is not in this workshop."""

    code = "missing"


class Clash(UbrexError):
    """The workshop is not in a state for this; the message says what is in the way."""

    code = "clash"

    def __init__(self, message: str, *, code: str, **details: Detail) -> None:
        super().__init__(message, **details)
        self.clash = code


class Outdated(UbrexError):
    """Somebody else changed it since it was read."""

    code = "outdated"


class KeyReused(UbrexError):
    """An idempotency key came back with another request."""

    code = "key_reused"


class NotSignedIn(UbrexError):
    """The passphrase of this workshop is needed."""

    code = "not_signed_in"


class TooManyTries(NotSignedIn):
    """Too many wrong passphrases."""

    code = "too_many_tries"
