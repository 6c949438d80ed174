"""A heat check without a probe: filament is pushed by hand, from where on it runs freely."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Final

from ubrex.core.calibrate import TowerReason
from ubrex.core.chain import Kind
from ubrex.core.heat import HeatPush, HeatTest, HeatVerdict, heat_confirm
from ubrex.core.quantity import Unit, Verdict, decimal_text
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._case import File
from ubrex.server.calibrations._tower import Bands
from ubrex.server.calibrations._tower_start import BandInputs
from ubrex.server.calibrations.heat import _words as words
from ubrex.server.calibrations.heat._limits import hottest_c
from ubrex.server.calibrations.heat._run import USE_AT_C, HeatCase
from ubrex.server.calibrations.heat._tests import FEWEST_STEPS, RUNS, first_test, half_of, push_as_test, pushed
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import choice_field, number_field
from ubrex.server.profile import NewValue, Tuned, readings_of
from ubrex.server.store.records import Decision, Run
from ubrex.server.views.base import CellOut
from ubrex.server.views.forms import FieldOut
from ubrex.server.views.runs import ResultOut
from ubrex.server.views.towers import TowerNextOut
from ubrex.server.words.numbers import DASH, NBSP, plain

FREELY: Final = 2
STEP_C: Final = 5.0
"""Steps between temperatures; two that run freely end it (rules, L)."""

BELOW_C: Final = 45.0
"""The coolest step below what the filament is printed at."""

MOST_STEPS: Final = 16
COOLEST_C, USUAL_TOP_C = 100.0, 215.0

_VERDICTS: Final = {
    HeatVerdict.FINE: (Verdict.KEEP, TowerReason.WILL_DO),
    HeatVerdict.NOT_PROVEN: (Verdict.KEEP, TowerReason.WILL_DO),
    HeatVerdict.CONFIRMED: (Verdict.APPLY, TowerReason.BEST_BAND),
    HeatVerdict.EXTEND_COOLER: (Verdict.REPEAT, TowerReason.BEST_BEYOND),
    HeatVerdict.EXTEND_HOTTER: (Verdict.REPEAT, TowerReason.BEST_BEYOND),
    HeatVerdict.REFUSE: (Verdict.REFUSE, TowerReason.NOT_THE_LEVER),
    HeatVerdict.CONTRADICTED: (Verdict.REFUSE, TowerReason.NOT_THE_LEVER),
}


class PushInputs(BandInputs):
    """What a push keeps besides its answers. ``reference_c``: where the same filament ran freely on a trusted hotend.

    ``confirms``: the run with a probe that this is the second test of.
    """

    reference_c: float | None = None
    confirms: int | None = None


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before filament is pushed."""
    top = hottest_c(tuned)
    usual = tuned.values.get(Kind.NOZZLE)
    high = min(top, USUAL_TOP_C if usual is None else usual.number)
    after = first_test(tuned.setup.toolhead.hotend_id, "heat_probe") is not None
    return [
        number_field("low", words.FROM, "°C", max(COOLEST_C, high - BELOW_C), words.FROM_HINT),
        number_field("high", words.TO, "°C", high),
        number_field("reference", words.REFERENCE, "°C", "", words.REFERENCE_HINT),
        choice_field("second", words.SECOND, words.PUSH_SECONDS, "probe" if after else "first", words.SECOND_HINT),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    typed, fields, top = form.typed, form.fields, hottest_c(form.tuned)
    why = words.hottest_said(top)

    def celsius(name: str, what: str) -> float | None:
        return fields.number(name, typed.get(name, ""), what=what, low=COOLEST_C, high=top, why=why, unit=Unit.CELSIUS)

    low, high = celsius("low", words.FROM), celsius("high", words.TO)
    reference = celsius("reference", words.REFERENCE) if typed.get("reference", "").strip() else None
    confirms = None
    if typed.get("second") == "probe":
        confirms = first_test(form.tuned.setup.toolhead.hotend_id, "heat_probe")
        if confirms is None:
            fields.add(FieldProblem("second", "no_first", words.NO_FIRST))
        if reference is None and not fields.has("reference"):
            fields.add(FieldProblem("reference", "empty", words.NO_REFERENCE))
    if low is None or high is None or fields.any:
        return None
    count = int((high - low) // STEP_C) + 1
    if not FEWEST_STEPS <= count <= MOST_STEPS:
        fields.add(FieldProblem("high", "too_near" if count < FEWEST_STEPS else "too_far", words.STEPS_WRONG))
        return None
    checked = form.tuned.values.get(Kind.HEAT_BIAS)
    inputs = PushInputs(
        current=None if checked is None else checked.number, unit=Unit.CELSIUS, places=0, asked=FEWEST_STEPS,
        values=[low + STEP_C * place for place in range(count)], reference_c=reference,
        confirms=None if confirms is None else confirms.id,
    )  # fmt: skip
    return Begun(inputs=inputs)


@dataclass(frozen=True)
class PushCase(Bands[PushInputs]):
    """A push with its answers."""

    inputs_type = PushInputs
    kind = Kind.HEAT_BIAS
    edits = ("rate", "clear")
    vetoes = ()

    @property
    def keys(self) -> tuple[str, ...]:
        """How it runs."""
        return (RUNS,)

    def most(self, key: str) -> int:  # noqa: ARG002
        """Nothing runs freer than freely."""
        return FREELY

    @cached_property
    def _answers(self) -> list[int | None]:
        """The answers of whoever pushed first: a second hand is another test."""
        rows = self.said.rows(RUNS, self.count)
        return rows[0][1] if rows else [None] * self.count

    @cached_property
    def evaluated(self) -> HeatPush:
        """What the answers say."""
        return pushed(self.inputs.values, self._answers, self.inputs.reference_c)

    @cached_property
    def first(self) -> HeatTest | None:
        """The test with a probe that this one follows."""
        before = None if self.inputs.confirms is None else Run.get_or_none(Run.id == self.inputs.confirms)
        if before is None:
            return None
        before.setup = self.run.setup
        return HeatCase(self.calibration, before, readings_of(before.id), self.work).as_test()

    @cached_property
    def said_of(self) -> tuple[HeatVerdict, float, float]:
        """Verdict, true less shown, and its 95 % half-width [°C]: of both tests where there are two."""
        found, first, own = self.evaluated, self.first, push_as_test(self.evaluated)
        if first is not None and own is not None:
            both = heat_confirm(first, own, same_probe=False)
            return both.verdict, own.bias_c if both.bias_c is None else both.bias_c, both.half_width_95_c or 0.0
        return found.verdict, found.bias_c or 0.0, found.half_width_95_c or 0.0

    @property
    def proven(self) -> bool:
        """A push alone proves nothing that is set."""
        return self.said_of[0] is HeatVerdict.CONFIRMED

    def method_name(self) -> str:
        """How it is found."""
        return self.calibration.words.short

    def cells(self) -> list[CellOut]:
        """What is pushed through, and what it is held against."""
        inputs = self.inputs
        now = "nothing" if inputs.current is None else f"{decimal_text(inputs.current, 1)} °C"
        trusted = "nothing yet" if inputs.reference_c is None else f"freely from {plain(inputs.reference_c)} °C"
        return [
            CellOut(label="Pushed at", value=f"{self.text(0)}{DASH}{self.text(self.count - 1)}{NBSP}°C", detail=""),
            CellOut(label="Held against", value=trusted, detail="on a hotend that is trusted"),
            CellOut(label="Shows too much", value=now, detail="on record"),
        ]

    def pick(self) -> tuple[frozenset[int], int | None]:
        """None: nothing is chosen among temperatures."""
        return frozenset(), None

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """None: nothing is better than another."""
        return [None] * self.count

    def score_name(self) -> str:
        """Nothing: there are no scores."""
        return ""

    def waiting(self) -> list[TowerNextOut]:
        """From cool to hot, until two run freely."""
        ends = next(
            (band + 1 for band in range(1, self.count) if self._answers[band - 1 : band + 1] == [FREELY, FREELY]),
            self.count,
        )
        return [TowerNextOut(band=band, key=RUNS, last=False) for band in range(ends) if self._answers[band] is None]

    def files(self) -> list[File]:
        """Nothing is printed."""
        return []

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before four temperatures were tried."""
        del early
        found = self.evaluated
        if found.reason == "four_rising_temperatures_needed":
            return None
        told, bias, half = self.said_of
        verdict, reason = _VERDICTS.get(told, (Verdict.REPEAT, TowerReason.FINER))
        sets = told is HeatVerdict.CONFIRMED
        said = self.answer(
            verdict, reason, sentence=words.push_said(told, bias, half), proposal=round(-bias, 1) if sets else None,
            half=half if sets else None, limited_by=words.PUSH_LIMIT,
            remarks=[] if self.first is None else [words.first_said(self.first.bias_c, half_of(self.first))],
        )  # fmt: skip
        keeps = told in {HeatVerdict.FINE, HeatVerdict.NOT_PROVEN}
        return said.model_copy(update={"title": words.push_title(found, told, bias), "can_keep": keeps})

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        told, bias, half = self.said_of
        return {
            "count": len(self.readings), "said": told.value, "knee_c": self.evaluated.knee_c, "bias_c": bias,
            "half_width_95_c": half, "confirms": self.inputs.confirms,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """What the display shows too much where both tests say so; else what was on record, as uncertain as a push."""
        _, bias, half = self.said_of
        if decision.action == "apply":
            made = self.new_value(Kind.HEAT_BIAS, round(-bias, 1), half, decision, Unit.CELSIUS)
            return [replace(made, beside=round(USE_AT_C))]
        number = 0.0 if self.inputs.current is None else self.inputs.current
        return [self.new_value(Kind.HEAT_BIAS, number, half, decision, Unit.CELSIUS)]
