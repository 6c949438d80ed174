"""Photographs, as they are kept: upright, made smaller, and without what a camera writes in."""

from __future__ import annotations

import io
from threading import Lock
from typing import Final

from PIL import Image, ImageOps, UnidentifiedImageError

from ubrex.server.desk import FieldProblem, Refused
from ubrex.server.words import photos as words

LARGEST_PHOTO: Final = 12_000_000
"""Bytes of a photograph as it comes from a camera."""

MOST_PIXELS: Final = 60_000_000
LONGEST_SIDE, SMALL_SIDE = 1600, 320
"""Longest side of what is kept, and of what stands in a list [points]."""
QUALITY: Final = 85
_ONE_AT_A_TIME: Final = Lock()
"""Held while a photograph is unpacked: several at once would need the memory of each."""

FORMATS: Final = ("JPEG", "PNG", "WEBP")


def read_photo(content: bytes) -> tuple[bytes, tuple[int, int]]:
    """A photograph as it is kept: upright, at most 1600 pixels long, no place, no camera, no date in it; and its size."""
    if len(content) > LARGEST_PHOTO:
        said = words.too_large_said(len(content) / 1e6, LARGEST_PHOTO / 1e6)
        raise Refused(FieldProblem("photo", "too_large", said))
    try:
        with Image.open(io.BytesIO(content), formats=FORMATS) as image:
            if image.width * image.height > MOST_PIXELS:
                raise Refused(FieldProblem("photo", "too_large", words.too_many_points_said(MOST_PIXELS / 1e6)))
            with _ONE_AT_A_TIME:
                # A JPEG is read at a fraction of its size from the start: 60 million points are 180 MB otherwise.
                image.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
                image.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
                upright = ImageOps.exif_transpose(image).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise Refused(FieldProblem("photo", "not_a_photo", words.NOT_A_PHOTO)) from error
    # A new picture of the same points: nothing that stood beside them comes along.
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    return _jpeg(clean), clean.size


def small_photo(kept: bytes) -> bytes:
    """A kept photograph as it stands in a list."""
    with Image.open(io.BytesIO(kept)) as image:
        image.thumbnail((SMALL_SIDE, SMALL_SIDE))
        return _jpeg(image)


def _jpeg(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()
