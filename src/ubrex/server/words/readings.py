"""What goes wrong with a reading, in the words in which it is struck out."""

from __future__ import annotations

from typing import Final

_WALL: Final = ("on the seam", "on a blob", "jaws not square", "other wall measured")

_SLIPS: Final = {
    "open_air": ("cut at an angle", "filament snagged", "gear slipped", "other piece measured"),
    "marked": ("mark smeared", "filament snagged", "gear slipped", "read from an angle"),
    "weighed": ("an end got lost", "filament snagged", "scale drifted", "other piece weighed"),
    "box": _WALL,
    "foam": _WALL,
    "patches": ("edge curled up", "patch torn off", "jaws not square", "other patch measured"),
    "diameter": ("pressed too hard", "strand not straight", "jaws not square", "other place measured"),
}


def usual_slips(method: str) -> tuple[str, ...]:
    """The usual reasons to strike out a reading of this method; none where readings are ratings."""
    return _SLIPS.get(method, ())
