"""Where use cases are handed in: who asks and when, in which transaction, what was typed, and why it is refused."""

from ubrex.server.desk._access import SIGNED_IN_FOR, Gate, hash_passphrase, is_signed_in, sign_in, sign_out
from ubrex.server.desk._errors import (
    Clash,
    FieldProblem,
    KeyReused,
    Missing,
    NotSignedIn,
    Outdated,
    Refused,
    TooManyTries,
)
from ubrex.server.desk._idempotency import forget_old, once
from ubrex.server.desk._typed import TypedFields, all_of
from ubrex.server.desk._work import Desk, Work, find, utc_now

__all__ = [
    "SIGNED_IN_FOR",
    "Clash",
    "Desk",
    "FieldProblem",
    "Gate",
    "KeyReused",
    "Missing",
    "NotSignedIn",
    "Outdated",
    "Refused",
    "TooManyTries",
    "TypedFields",
    "Work",
    "all_of",
    "find",
    "forget_old",
    "hash_passphrase",
    "is_signed_in",
    "once",
    "sign_in",
    "sign_out",
    "utc_now",
]
