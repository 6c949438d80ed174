"""A tower of retraction speeds, the distance being fixed: the slowest that is as good as the fastest allowed one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from ubrex.core.calibrate import SpeedResult, SpeedVerdict, TowerReason, retraction_speed
from ubrex.core.chain import Kind
from ubrex.core.materials import Stiffness, family
from ubrex.core.quantity import Unit, Verdict, decimal_text
from ubrex.server.calibrations._tower import FEW_BANDS, MISSING, Tower
from ubrex.server.calibrations._tower_words import few_said
from ubrex.server.calibrations.retraction import _words as words
from ubrex.server.calibrations.retraction._start import PullSpeedInputs
from ubrex.server.profile import NewValue
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.views.runs import ResultOut
from ubrex.server.views.towers import TowerNextOut
from ubrex.server.words.numbers import DASH, plain

PULL_SPEED_RULE_VERSION: Final = "retraction-speed/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

STRINGS: Final = "strings"

_VERDICTS: Final = {
    SpeedVerdict.PICK: (Verdict.APPLY, TowerReason.BEST_BAND),
    SpeedVerdict.NO_DIFFERENCE: (Verdict.APPLY, TowerReason.NOT_THE_LEVER),
    SpeedVerdict.EXTEND_FASTER: (Verdict.REPEAT, TowerReason.LONGER),
    SpeedVerdict.AT_LIMIT: (Verdict.REPEAT, TowerReason.BEYOND_CAP),
    SpeedVerdict.ALL_VETOED: (Verdict.REFUSE, TowerReason.NO_BAND_LEFT),
    SpeedVerdict.REFUSE: (Verdict.REPEAT, TowerReason.NOTHING_RATED),
}


@dataclass(frozen=True)
class SpeedCase(Tower[PullSpeedInputs]):
    """A tower of speeds with its ratings."""

    inputs_type = PullSpeedInputs
    vetoes = ("clicks", "failed", MISSING)
    kind = Kind.RETRACTION_SPEED

    @property
    def keys(self) -> tuple[str, ...]:
        """Strings, and nothing else: the line after is a matter of distance."""
        return (STRINGS,)

    @property
    def out(self) -> frozenset[int]:
        """Bands that failed or clicked, and all faster than one that clicked."""
        clicked = [self.inputs.values[band] for band in self.said.marked("clicks")]
        beyond = {band for band, value in enumerate(self.inputs.values) if clicked and value >= min(clicked)}
        return self.said.marked("failed") | self.said.marked(MISSING) | frozenset(beyond)

    @cached_property
    def _order(self) -> list[int]:
        """Bands from the slowest to the fastest, whatever way round they were printed."""
        return sorted(range(self.count), key=lambda band: self.inputs.values[band])

    @cached_property
    def evaluated(self) -> SpeedResult:
        """What the tower says."""
        rows = self.said.rows(STRINGS, self.count)
        failed = self.said.marked("failed") | self.said.marked(MISSING)
        own = rows[0][1] if rows else [None] * self.count
        setup, clicked = self.run.setup, self.said.marked("clicks")
        return retraction_speed(
            [self.inputs.values[band] for band in self._order],
            [None if band in failed else own[band] for band in self._order],
            vetoed=[band in clicked for band in self._order],
            feed=setup.toolhead.machine.feed_path,
            material=(family(setup.filament.family).stiffness or Stiffness.SEMI).value,
        )

    @property
    def _verdict(self) -> tuple[Verdict, TowerReason]:
        found = self.evaluated
        if found.speed_mm_s is not None and self._stays:
            return Verdict.KEEP, TowerReason.WILL_DO
        return _VERDICTS[found.verdict]

    @property
    def _stays(self) -> bool:
        """Whether what is in use is as good: it is printed, allowed, and surely as good as the fastest."""
        found, now = self.evaluated, self.inputs.current
        if found.verdict not in {SpeedVerdict.PICK, SpeedVerdict.NO_DIFFERENCE} or now is None:
            return False
        if found.verdict is SpeedVerdict.NO_DIFFERENCE:
            return now <= max(self.inputs.values[band] for band in range(self.count) if band not in self.out)
        return now == found.speed_mm_s

    @property
    def proven(self) -> bool:
        """Whether a change is shown to be worth making."""
        return self._verdict[0] is Verdict.APPLY

    def method_name(self) -> str:
        """How it is found."""
        return words.method_said(self.count, "speeds")

    def cells(self) -> list[CellOut]:
        """Bands printed, and what is in use."""
        inputs, now = self.inputs, self.inputs.current
        return [
            CellOut(
                label="Printed", value=f"{self.text(0)}{DASH}{self.text(self.count - 1)} mm/s",
                detail=f"{words.bands_said(self.count, inputs.nozzle_c)}, {plain(inputs.distance_mm)} mm",
            ),
            CellOut(
                label="In use", value="nothing yet" if now is None else f"{decimal_text(now, 0)} mm/s",
                detail=words.most_here_said(self.tuned.parts.cap.speed_mm_s, Unit.MM_PER_S),
            ),
        ]  # fmt: skip

    def pick(self) -> tuple[frozenset[int], int | None]:
        """Bands that are as good as the fastest, and the one that is offered."""
        found = self.evaluated
        if found.p_as_good is None or found.speed_mm_s is None:
            return frozenset(), None
        offered = self.inputs.values.index(found.speed_mm_s)
        as_fast = self._order[self._order.index(offered) :]
        return frozenset(band for band in as_fast if band not in self.out), offered

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """None: the strings themselves are looked at."""
        return [None] * self.count

    def score_name(self) -> str:
        """Nothing: there are no scores."""
        return ""

    def waiting(self) -> list[TowerNextOut]:
        """Both ends and the middle first, then the rest."""
        bands = [band for band in self._order if band not in self.out]
        if not bands:
            return []
        order = dict.fromkeys([bands[0], bands[-1], bands[len(bands) // 2], *bands])
        return [
            TowerNextOut(band=band, key=STRINGS, last=False) for band in order if band not in self.mine.get(STRINGS, {})
        ]

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before enough is rated to say anything."""
        found, inputs = self.evaluated, self.inputs
        if found.verdict is SpeedVerdict.REFUSE or (len(self.readings) < self.asked and not early):
            return None
        verdict, reason = self._verdict
        names = found.verdict in {SpeedVerdict.PICK, SpeedVerdict.NO_DIFFERENCE}
        return self.answer(
            verdict, reason,
            sentence=words.speed_said(
                found, plain(max(inputs.values)), plain(self.tuned.parts.cap.speed_mm_s), self.tuned.parts.cap.why
            ),
            proposal=found.speed_mm_s if names else None, half=None, limited_by=words.AT_DISTANCE,
            remarks=[few_said(self.count)] if self.count <= FEW_BANDS else [], next_run=self._next_run(),
        )  # fmt: skip

    def _next_run(self) -> dict[str, float]:
        """Ends of the tower that goes on where this one ends; none beyond the cap."""
        if self.evaluated.verdict is not SpeedVerdict.EXTEND_FASTER:
            return {}
        ordered = sorted(self.inputs.values)
        return {"slowest": ordered[-2], "fastest": self.tuned.parts.cap.speed_mm_s}

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        found = self.evaluated
        return {
            "count": len(self.readings), "said": found.verdict.value, "p_no_response": found.p_no_response,
            "picked": found.speed_mm_s, "distance_mm": self.inputs.distance_mm,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The speed, applied or kept."""
        picked, number = self.evaluated.speed_mm_s, self.inputs.current
        if decision.action == "apply" and picked is not None:
            number = picked
        if number is None:
            return []
        return [self.new_value(Kind.RETRACTION_SPEED, number, None, decision, Unit.MM_PER_S)]
