"""What several parts of the bench show, made once."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

from ubrex.core.chain import (
    Kind,
    Next,
    next_step,
)
from ubrex.core.judge import Finding
from ubrex.server.attempts import trials_now
from ubrex.server.calibrations import CALIBRATIONS
from ubrex.server.desk import Work
from ubrex.server.profile import (
    Standings,
    judged_values,
    row_out,
)
from ubrex.server.store.margin import MarginRows
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
        self.findings: Mapping[Kind, list[Finding]] = judged_values(found)

    @cached_property
    def trials(self) -> Mapping[Kind, str]:
        """What is set for a trial alone, as it is typed."""
        return trials_now(self.found.setup)
