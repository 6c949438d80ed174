"""What is said about requests, whatever they ask."""

from __future__ import annotations

from datetime import timedelta
from typing import Final

NO_SUCH_TIME: Final = "That is no day of this century: look at the clock of this device."
CANNOT_BE_KEPT: Final = "Something in this is larger than can be kept, or holds a character that cannot. Type it anew."
ADDED_AT_ONCE: Final = "Somebody added just this at the same moment. It is there now."
FAILED: Final = (
    "Ubrex could not answer this: that is a fault of Ubrex. Nothing was changed; what you typed is still here."
)
DISK_FULL: Final = "The disk is full. Make room; until then nothing can be stored, and readings wait in the browser."
DATABASE_DOWN: Final = "The database does not answer. Readings wait in the browser and are sent again."

WHO_IS_IT: Final = "Say who you are first: every entry carries a name."
KEY_REUSED: Final = "This idempotency key was used for a different request."
DONE_BEFORE: Final = "This was done before Ubrex was updated: look whether it is there before you send it again."
TOO_MANY_TRIES: Final = "Too many wrong passphrases from here. Wait a minute."
WRONG_PASSPHRASE: Final = "That is not the passphrase of this workshop."  # noqa: S105


def too_short_said(least: int) -> str:
    """A passphrase that is too short."""
    return f"Use at least {least} characters; a few words are easy to type on a phone."


def not_there_said(what: str, key: int) -> str:
    """A record that is not there."""
    return f"There is no {what} {key} in this workshop."


CLOCK_OFF: Final = timedelta(minutes=2)
"""By how much a clock may stand before the newest entry until it is spoken of: clocks are set a little back every day."""


def clock_said(behind: timedelta) -> list[str]:
    """The clock of the machine Ubrex runs on, where it stands before the newest entry."""
    if behind < CLOCK_OFF:
        return []
    hours = behind.total_seconds() / 3600
    far = f"{hours:.0f} h" if hours >= 1.5 else f"{behind.total_seconds() / 60:.0f} min"
    return [
        f"the clock of this Ubrex stands {far} before its newest entry. What is written now counts as written after that "
        "one; set the clock right."
    ]
