"""Two ways against each other: bands by turns, rated without knowing which is which."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from ubrex.core.attempts import CompareResult, CompareVerdict, compare_two
from ubrex.core.calibrate import TowerReason
from ubrex.core.chain import Kind
from ubrex.core.quantity import Verdict, decimal_text
from ubrex.server.calibrations._tower import WITHOUT_SWAP, Tower
from ubrex.server.calibrations.two_ways import _words as words
from ubrex.server.calibrations.two_ways._start import MOST_ROUNDS, ROUND, WAYS, TwoWaysInputs
from ubrex.server.profile import NewValue
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.views.runs import ResultOut
from ubrex.server.views.towers import TowerNextOut
from ubrex.server.words.numbers import NBSP, unit_text

TWO_WAYS_RULE_VERSION: Final = "two-ways/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

LIFT_MM_S: Final = 10.0
"""How fast a usual machine lifts [mm/s] (E); only what a hop costs is said with it."""

_PROVEN: Final = frozenset({CompareVerdict.BETTER, CompareVerdict.WORSE})
_LIKELY: Final = frozenset({CompareVerdict.PROBABLY_BETTER, CompareVerdict.PROBABLY_WORSE})


@dataclass(frozen=True)
class TwoWaysCase(Tower[TwoWaysInputs]):
    """A comparison with its ratings."""

    inputs_type = TwoWaysInputs
    kind = Kind.SEAM_GAP
    edits = WITHOUT_SWAP

    @property
    def keys(self) -> tuple[str, ...]:
        """The sign that it is about."""
        return (words.SCALES[self.inputs.of],)

    @property
    def _blind(self) -> bool:
        return self.run.state == "open"

    def text(self, band: int) -> str:
        """The number of a band; what it was, once that is decided."""
        way = "" if self._blind else f": {super().text(band)}"
        return f"{band + 1}{way}"

    def band_unit(self) -> str:
        """None behind a number."""
        return "" if self._blind else super().band_unit()

    def in_use(self, band: int) -> bool:
        """Nothing that would say which is which, before that is decided."""
        return not self._blind and super().in_use(band)

    @cached_property
    def evaluated(self) -> CompareResult:
        """What everybody's ratings say."""
        ways: tuple[list[float], list[float]] = ([], [])
        for _, row in self.said.rows(self.keys[0], self.count):
            for band, other in enumerate(self.inputs.is_b):
                rating = row[band]
                if rating is not None and band not in self.out:
                    ways[other].append(float(rating))
        inputs = self.inputs
        cheaper = None
        if WAYS[inputs.of].less_is_quicker:
            cheaper = "a" if inputs.a < inputs.b else "b"
        return compare_two(*ways, cheaper=cheaper)

    @property
    def _chosen(self) -> float | None:
        """The way that is better, or cheaper where that makes no difference."""
        return {"a": self.inputs.a, "b": self.inputs.b}.get(self.evaluated.choose or "")

    @property
    def proven(self) -> bool:
        """Whether one is shown to be better."""
        return self.evaluated.verdict in _PROVEN

    def method_name(self) -> str:
        """How it is found."""
        return f"{words.OFS[self.inputs.of].lower()}, {self.calibration.words.short}"

    def cells(self) -> list[CellOut]:
        """The two ways, and what is in use."""
        inputs = self.inputs
        now = "nothing" if inputs.current is None else self._said(inputs.current)
        return [
            CellOut(label=words.A, value=self._said(inputs.a), detail=self._cost(inputs.a)),
            CellOut(label=words.B, value=self._said(inputs.b), detail=self._cost(inputs.b)),
            CellOut(label="In use", value=now, detail=words.OFS[inputs.of].lower()),
        ]

    def _said(self, number: float) -> str:
        return f"{decimal_text(number, self.inputs.places)}{NBSP}{unit_text(self.inputs.unit.value)}"

    def _cost(self, number: float) -> str:
        """A seam gap as a share of the bore; what a hop costs."""
        if self.inputs.of == "detour":
            return words.DETOUR_COST[number > 0]
        if self.inputs.of == "layer_time":
            return words.LAYER_COST
        if self.inputs.of == "z_hop":
            return words.hop_said(number, LIFT_MM_S)
        return words.percent_said(number, self.run.setup.nozzle.bore_mm)

    def pick(self) -> tuple[frozenset[int], int | None]:
        """Nothing before it is decided: whoever rates may not know."""
        chosen = self._chosen
        if self._blind or chosen is None:
            return frozenset(), None
        return frozenset(band for band, value in enumerate(self.inputs.values) if value == chosen), None

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """None: bands are counted together."""
        return [None] * self.count

    def score_name(self) -> str:
        """Nothing: there are no scores."""
        return ""

    def waiting(self) -> list[TowerNextOut]:
        """Every band, from the bottom."""
        key = self.keys[0]
        return [
            TowerNextOut(band=band, key=key, last=False)
            for band in range(self.count)
            if band not in self.out and band not in self.mine.get(key, {})
        ]

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before every band was rated: a look in between is a look at which is which."""
        del early
        found, inputs = self.evaluated, self.inputs
        if found.verdict is CompareVerdict.REFUSE or self.waiting():
            return None
        verdict, reason = Verdict.REPEAT, TowerReason.FINER
        if found.verdict in _PROVEN:
            verdict, reason = Verdict.APPLY, TowerReason.BEST_BAND
        elif found.verdict in _LIKELY:
            verdict, reason = Verdict.TRY, TowerReason.BEST_BAND
        elif found.verdict is CompareVerdict.NO_REAL_DIFFERENCE:
            verdict, reason = Verdict.KEEP, TowerReason.WILL_DO
        chosen = self._chosen
        if chosen is not None and chosen == inputs.current:
            verdict, reason = Verdict.KEEP, TowerReason.WILL_DO
        named = "" if chosen is None else self._said(chosen)
        rounds = self.count // len(ROUND)
        more = verdict in {Verdict.REPEAT, Verdict.TRY} and rounds < MOST_ROUNDS
        said = self.answer(
            verdict, reason, sentence=words.compare_said(found, named), proposal=chosen, half=None, limited_by=words.DEPENDS,
            next_run={"rounds": rounds + 1} if more else None,
        )  # fmt: skip
        return said.model_copy(update={"title": words.title_said(found, named)})

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        found = self.evaluated
        return {
            "count": len(self.readings), "of": self.inputs.of, "a": self.inputs.a, "b": self.inputs.b,
            "said": found.verdict.value, "difference": found.difference, "half_width_95": found.half_width_95,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The way that was chosen, or the one in use."""
        number = self._chosen if decision.action == "apply" else self.inputs.current
        return (
            []
            if number is None
            else [self.new_value(WAYS[self.inputs.of].kind, number, None, decision, self.inputs.unit)]
        )

    def heading(self) -> list[tuple[str, str]]:
        """What the head of its file says of its bands."""
        return [("bands", f"{self.count}, 1 at the bottom")]
