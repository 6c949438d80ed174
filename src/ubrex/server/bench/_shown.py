"""What several parts of the bench show, made once."""

from __future__ import annotations

from collections.abc import Mapping

from ubrex.core.chain import (
    Kind,
    Next,
    next_step,
)
from ubrex.server.bench._read import Read
from ubrex.server.calibrations import CALIBRATIONS
from ubrex.server.desk import Work
from ubrex.server.profile import (
    Standings,
    row_out,
)
from ubrex.server.views.values import ValueOut


class Shown:
    """What several parts of the bench show, made once."""

    def __init__(self, found: Standings, read: Read, work: Work) -> None:
        self.found, self.read, self.work = found, read, work
        self.next: Next = next_step(found.states, can_run=CALIBRATIONS.steps, held=found.held)
        self.values: Mapping[Kind, ValueOut] = {
            kind: row_out(value, read.machine, work) for kind, value in found.values.items() if kind is not Kind.E_STEPS
        }
