"""What several parts of the bench show, made once."""

from __future__ import annotations

from collections.abc import Mapping

from ubrex.core.chain import (
    Kind,
    Next,
    next_step,
)
from ubrex.server.bench._cards import first_words
from ubrex.server.calibrations import CALIBRATIONS
from ubrex.server.desk import Work
from ubrex.server.printing import printing_cautions
from ubrex.server.profile import (
    Standings,
    row_out,
)
from ubrex.server.store.facts import MarginRows
from ubrex.server.views.values import ValueOut


class Shown:
    """What several parts of the bench show, made once."""

    def __init__(self, found: Standings, margin: MarginRows, work: Work) -> None:
        self.found, self.margin, self.work = found, margin, work
        self.next: Next = next_step(found.states, can_run=CALIBRATIONS.steps, held=found.held)
        self.machine = found.setup.toolhead.machine
        self.values: Mapping[Kind, ValueOut] = {
            kind: row_out(value, self.machine, work) for kind, value in found.values.items() if kind is not Kind.E_STEPS
        }
        self.piece_care = first_words(printing_cautions(found.setup))
