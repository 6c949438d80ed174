"""What is said about lists of readings that were written down elsewhere."""

from __future__ import annotations

from typing import Final

NO_NUMBER: Final = "There is no number in it."
SHOWN_OF_A_LINE: Final = 40


def no_list_said(lines: int) -> str:
    """Text that is no list."""
    return f"This is no list of readings: it has {lines} lines."


def no_number_said(number: int, line: str) -> str:
    """A line without a number."""
    return f"Line {number}, “{line[:SHOWN_OF_A_LINE]}”, holds no number. Nothing was taken."


def too_many_said(count: int) -> str:
    """More readings than any piece has."""
    return f"{count} readings are more than one piece has."


def no_place_left_said(number: int, line: str, place: str) -> str:
    """A line for a place that has all its readings."""
    return f"Line {number}, “{line[:SHOWN_OF_A_LINE]}”: {place} has all its readings. Nothing was taken."
