"""What is said about backups that cannot be put back."""

from __future__ import annotations

from typing import Final

NOT_EMPTY: Final = "This workshop is not empty. Restore into a new one: choose another --data folder."
UNREADABLE: Final = "This file is not a backup that this version of Ubrex can read."
NEWER: Final = "This backup was made by a newer Ubrex. Update first, then restore."


def too_large_said(name: str) -> str:
    """A file that unpacks to far too much."""
    return f"{name} unpacks to more than any workshop holds."


def no_backup_said(name: str) -> str:
    """A file that is something else."""
    return f"{name} is not a backup of Ubrex, or it is damaged."


def incomplete_said(tables: list[str]) -> str:
    """A backup that lacks rows it had when it was written."""
    named = ", ".join(name.replace("_", " ") for name in tables)
    return f"This backup is not whole: rows of {named} are missing. Nothing was put back."
