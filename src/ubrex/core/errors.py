"""Errors of the core: few, coded, and carrying what they know.

::

    UbrexError
    ├── OutOfRange      (ValueError)   a number outside what a formula can use
    └── UnreadableEntry (ValueError)   typed text that is not a reading

A measurement that cannot be true is no error: it is a verdict, ``refuse``, with a reason.
"""

from __future__ import annotations

from typing import ClassVar

Detail = str | int | float | bool | None
"""What an error may carry: JSON-safe, so that it can travel to the screen."""


class UbrexError(Exception):
    """Base of all errors of Ubrex; ``code`` is stable, ``details`` are JSON-safe."""

    code: ClassVar[str] = "ubrex_error"

    def __init__(self, message: str, **details: Detail) -> None:
        super().__init__(message)
        self.details = details

    def __reduce__(self) -> tuple[object, ...]:
        return (_rebuild, (type(self), str(self), self.details))


def _rebuild(kind: type[UbrexError], message: str, details: dict[str, Detail]) -> UbrexError:
    return kind(message, **details)


class OutOfRange(UbrexError, ValueError):
    """A number outside what a formula can use; ``name`` and ``value`` say which."""

    code = "out_of_range"


class UnreadableEntry(UbrexError, ValueError):
    """Typed text that is not a reading; ``text`` is what was typed."""

    code = "unreadable_entry"
