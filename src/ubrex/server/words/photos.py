"""What is said about photographs."""

from __future__ import annotations

from typing import Final

from ubrex.core.quantity import decimal_text

NO_SUCH_BAND: Final = "This run has no such band."
NOT_A_PHOTO: Final = "This is not a photo that Ubrex can read: PNG, JPEG or WebP."


def too_many_said(most: int) -> str:
    """More photographs than are kept of one thing."""
    return f"There are {most} photographs of it already: take one off first."


def too_large_said(found_mb: float, most_mb: float) -> str:
    """A file larger than a photograph may be."""
    return (
        f"This file has {decimal_text(found_mb, 0)} MB; a photo may have {decimal_text(most_mb, 0)}. Have the camera make "
        "it smaller."
    )


def too_many_points_said(most_millions: float) -> str:
    """A picture with more points than are unpacked."""
    return f"This picture has more than {decimal_text(most_millions, 0)} million points."


def taken_off_said(photo_id: int) -> str:
    """A photograph that is not shown any more."""
    return f"Photograph {photo_id} was taken off."
