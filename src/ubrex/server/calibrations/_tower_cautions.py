"""What can hurt when a tower is printed and broken."""

from __future__ import annotations

from ubrex.server.calibrations._tower_words import SPLINTERS
from ubrex.server.printing import printing_cautions
from ubrex.server.profile import Tuned
from ubrex.server.views.base import CautionOut


def tower_cautions(tuned: Tuned) -> list[CautionOut]:
    """What every printed piece can do, and splinters."""
    lead, text = SPLINTERS
    return [*printing_cautions(tuned.setup), CautionOut(lead=lead, text=text)]
