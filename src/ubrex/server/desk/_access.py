"""Signing in: one passphrase for the workshop, asked for only when Ubrex can be reached from other machines."""

from __future__ import annotations

import hashlib
import secrets
from collections import deque
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from threading import Lock
from typing import Final

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from ubrex.server.desk._errors import FieldProblem, NotSignedIn, Refused, TooManyTries
from ubrex.server.desk._work import Work
from ubrex.server.store.records import SignedIn
from ubrex.server.words.desk import TOO_MANY_TRIES, WRONG_PASSPHRASE, too_short_said

SIGNED_IN_FOR: Final = timedelta(days=30)
SHORTEST_PASSPHRASE: Final = 10
TRIES: Final = 5
TRY_WINDOW: Final = timedelta(minutes=1)


def hash_passphrase(passphrase: str) -> str:
    """Argon2 hash of a passphrase that is long enough.

    Raises
    ------
    Refused
        If it is shorter than ``SHORTEST_PASSPHRASE`` characters.
    """
    if len(passphrase) < SHORTEST_PASSPHRASE:
        raise Refused(FieldProblem("passphrase", "too_short", too_short_said(SHORTEST_PASSPHRASE)))
    return PasswordHasher().hash(passphrase)


@dataclass(slots=True)
class Gate:
    """Checks passphrases, and slows down whoever guesses. ``passphrase_hash`` None: nobody needs to sign in."""

    passphrase_hash: str | None = None
    _failures: dict[str, deque[datetime]] = field(default_factory=dict)
    _lock: Lock = field(default_factory=Lock)

    @property
    def needed(self) -> bool:
        """Whether signing in is needed at all."""
        return self.passphrase_hash is not None

    def check(self, passphrase: str, *, client: str, now: datetime) -> None:
        """Let a right passphrase pass.

        Raises
        ------
        TooManyTries
            After ``TRIES`` wrong ones from one address within a minute.
        NotSignedIn
            If it is wrong.
        """
        with self._lock:
            failures = self._failures.setdefault(client, deque())
            while failures and failures[0] < now - TRY_WINDOW:
                failures.popleft()
            if len(failures) >= TRIES:
                raise TooManyTries(TOO_MANY_TRIES)
            failures.append(now)
        try:
            PasswordHasher().verify(self.passphrase_hash or "", passphrase)
        except (VerificationError, InvalidHashError) as error:
            raise NotSignedIn(WRONG_PASSPHRASE) from error
        with self._lock:
            self._failures.pop(client, None)


def sign_in(work: Work, passphrase_hash: str | None) -> str:
    """Token for a browser that gave the passphrase; it holds as long as the passphrase does."""
    SignedIn.delete().where(SignedIn.expires_at < work.now).execute()
    token = secrets.token_urlsafe(32)
    SignedIn.create(token_hash=_hash(token, passphrase_hash), created_at=work.now, expires_at=work.now + SIGNED_IN_FOR)
    return token


def is_signed_in(work: Work, token: str, passphrase_hash: str | None) -> bool:
    """Whether a token was given out for this passphrase and has not expired."""
    known = SignedIn.token_hash == _hash(token, passphrase_hash)
    return bool(SignedIn.select().where(known, SignedIn.expires_at > work.now).exists())


def sign_out(_work: Work, token: str, passphrase_hash: str | None) -> None:
    """Forget a token."""
    SignedIn.delete().where(SignedIn.token_hash == _hash(token, passphrase_hash)).execute()


def _hash(token: str, passphrase_hash: str | None) -> str:
    return hashlib.sha256(f"{passphrase_hash or ''} {token}".encode()).hexdigest()
