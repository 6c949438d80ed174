"""A heat check with a probe: two readings at each set temperature, and the test it confirms."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Final, Literal

from ubrex.core.chain import Kind
from ubrex.core.heat import HeatConfirm, HeatPoint, HeatProbe, HeatTest, HeatVerdict, heat_confirm, heat_probe, heat_use
from ubrex.core.quantity import Reason, Unit, Verdict, decimal_text
from ubrex.server.calibrations._calibration import RunInputs
from ubrex.server.calibrations._measured import Answer, Doubt, Gauge, Measured
from ubrex.server.calibrations.heat import _words as words
from ubrex.server.calibrations.heat._tests import PAIRS, half_of, pushed_before
from ubrex.server.profile import NewValue, readings_of
from ubrex.server.store.records import Decision, Reading, Run
from ubrex.server.views.base import CellOut
from ubrex.server.words.numbers import plain, plus_minus, step_places

HEAT_RULE_VERSION: Final = "heat/1"
"""Name of this rule as it stands; kept with every decision, changed when a result could change."""

USE_AT_C: Final = 205.0
"""The true temperature that the sentence gives as an example."""

MOST_OFF_C: Final = 80.0
"""A probe farther from the display than this is not in the hotend."""


class HeatInputs(RunInputs):
    """What a heat check keeps besides its readings; ``current``: what the display is recorded to show too much [°C].

    ``confirms``: the run of the first test, where this is the second.
    """

    current: float | None
    unit: Unit = Unit.CELSIUS
    places: int = 1
    asked: int
    sets: list[float]
    contact_pct: float
    room_c: float
    cold_c: float | None = None
    second: Literal["first", "reseated", "other", "push"] = "first"
    confirms: int | None = None


@dataclass(frozen=True)
class HeatCase(Measured[HeatInputs]):
    """A heat check with its readings."""

    inputs_type = HeatInputs
    unit = Unit.CELSIUS
    noun = "temperature"
    edits = ()

    @property
    def implied(self) -> str:
        """Digits stand for themselves."""
        return ""

    @property
    def walk(self) -> Sequence[str]:
        """Each set temperature, twice."""
        return [f"{plain(celsius)}.{number}" for celsius in self.inputs.sets for number in range(1, PAIRS + 1)]

    def place_label(self, place: str) -> str:
        """The set temperature."""
        return place.rpartition(".")[0]

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        if place is None:
            return self.calibration.words.reads
        celsius, _, number = place.rpartition(".")
        return words.reads_said(float(celsius), int(number))

    def _shown(self) -> float:
        """What the display shows while the next one is read."""
        return float((self.next_place() or self.walk[-1]).rpartition(".")[0])

    def at(self, reading: Reading) -> float:
        """True less shown [°C]."""
        place = (reading.place or "").rpartition(".")[0]
        return reading.number - (float(place) if place else 0.0)

    @cached_property
    def evaluated(self) -> HeatProbe:
        """What the readings say at the middle of the set temperatures."""
        by_set: dict[float, list[float]] = {}
        for row in self.readings:
            by_set.setdefault(float((row.place or "0.1").rpartition(".")[0]), []).append(row.number)
        points = [
            HeatPoint(shown_c=[celsius] * len(read), probe_c=read)
            for celsius, read in sorted(by_set.items())
            if len(read) > 1
        ]
        inputs = self.inputs
        return heat_probe(
            points, probe_accuracy_c=self.tool.max_permissible_error, resolution_c=self.tool.resolution,
            contact_pct=inputs.contact_pct, room_c=inputs.room_c, cold_shown_c=inputs.cold_c,
        )  # fmt: skip

    @cached_property
    def first(self) -> HeatTest | None:
        """The test that this one confirms."""
        if self.inputs.confirms is None:
            return None
        before = Run.get_or_none(Run.id == self.inputs.confirms)
        if before is None:
            return None
        if before.method == "heat_push":
            return pushed_before(before)
        before.setup = self.run.setup
        return HeatCase(self.calibration, before, readings_of(before.id), self.work).as_test()

    def as_test(self) -> HeatTest | None:
        """What another check is held against; None where it says nothing."""
        found = self.evaluated
        if (
            found.bias_c is None
            or found.std_uncertainty_c is None
            or found.verdict not in {HeatVerdict.FINE, HeatVerdict.SUSPECT}
        ):
            return None
        return HeatTest(
            method="probe", bias_c=found.bias_c, std_uncertainty_c=found.std_uncertainty_c, dof=found.dof,
            common_std_uncertainty_c=found.common_std_uncertainty_c or 0.0,
        )  # fmt: skip

    @cached_property
    def confirmed(self) -> HeatConfirm | None:
        """What both tests say together; None for a first one, or where one of them says nothing."""
        first, second = self.first, self.as_test()
        if first is None or second is None:
            return None
        return heat_confirm(first, second, same_probe=self.inputs.second == "reseated", reseated=True)

    @property
    def said(self) -> tuple[HeatVerdict, float, float]:
        """Verdict, true less shown, and its 95 % half-width [°C]: of both tests where there are two."""
        found, both = self.evaluated, self.confirmed
        sound = found.verdict in {HeatVerdict.FINE, HeatVerdict.SUSPECT}
        if both is not None and sound:
            bias = found.bias_c if both.bias_c is None else both.bias_c
            return both.verdict, bias or 0.0, both.half_width_95_c or 0.0
        return found.verdict, found.bias_c or 0.0, found.half_width_95_c or 0.0

    def doubt(self) -> Doubt:
        """Near what the display shows."""
        shown = self._shown()
        return Doubt(
            noun="temperature", usual=shown, low=shown - MOST_OFF_C, high=shown + MOST_OFF_C, impossible=words.IMPOSSIBLE,
            far=None, keeps_slips=False,
        )  # fmt: skip

    def cells(self) -> list[CellOut]:
        """Where the probe sits, and what is recorded."""
        inputs = self.inputs
        now = "nothing" if inputs.current is None else f"{decimal_text(inputs.current, 1)} °C"
        contact = words.CONTACTS[plain(inputs.contact_pct)]
        return [
            CellOut(label="Probe", value=contact.lower(), detail=f"room {plain(inputs.room_c)} °C"),
            CellOut(label="Shows too much", value=now, detail="on record"),
        ]

    def answer(self) -> Answer | None:
        """What the display shows too much."""
        found = self.evaluated
        if not self.readings:
            return None
        verdict, bias, half = self.said
        at = found.at_c or USE_AT_C
        use = heat_use(USE_AT_C, bias_c=bias, confirmed=verdict is HeatVerdict.CONFIRMED)
        refused = found.bias_c is None or verdict in _REFUSED
        remarks = [] if self.first is None else [words.first_said(self.first.bias_c, half_of(self.first))]
        return Answer(
            verdict=_VERDICTS.get(verdict, Verdict.REPEAT), reason=_REASON.get(verdict, Reason.MORE_REPEATS),
            title=words.title_said(verdict, at, bias), sentence=words.heat_said(found, verdict, at, bias, half, use.set_c),
            number=-bias, half_width=None if found.bias_c is None else half, limited_by=words.LIMIT, remarks=remarks,
            change=" ", refused=refused, applies=verdict is HeatVerdict.CONFIRMED,
            keeps=verdict in {HeatVerdict.FINE, HeatVerdict.NOT_PROVEN},
        )  # fmt: skip

    def gauge(self) -> Gauge | None:
        """How far the probe was from the display."""
        found = self.evaluated
        if found.bias_c is None:
            return None
        _, bias, half = self.said
        places = step_places(self.tool.resolution)
        return Gauge(
            target=0.0, low=-5.0, high=5.0, mean=bias, half_width=half, step=self.tool.resolution, places=1, at=self.at,
            taken=self.readings, rows=self.rows, mean_note=f"{decimal_text(bias, 1)} {plus_minus(half)}", move_note="",
            proposal_name="Shows too much, °C", measured_name="true − shown", reading_places=places, unit="°C",
            sentence=words.strip_said(len(self.readings), bias, half),
        )  # fmt: skip

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        verdict, bias, half = self.said
        return {
            "count": len(self.readings), "said": verdict.value, "bias_c": bias, "half_width_95_c": half,
            "slope_per_c": self.evaluated.slope_per_c, "confirms": self.inputs.confirms,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """What the display shows too much: applied when it is confirmed, kept at nothing where it can be believed."""
        _, bias, half = self.said
        if decision.action == "apply":
            made = self.new_value(Kind.HEAT_BIAS, round(-bias, 1), half, decision, Unit.CELSIUS)
            return [replace(made, beside=round(self.evaluated.at_c or USE_AT_C))]
        number = 0.0 if self.inputs.current is None else self.inputs.current
        return [self.new_value(Kind.HEAT_BIAS, number, half, decision, Unit.CELSIUS)]


_REFUSED: Final = frozenset({HeatVerdict.REFUSE, HeatVerdict.SENSOR_TABLE_WRONG, HeatVerdict.CONTRADICTED})

_VERDICTS: Final = {
    HeatVerdict.FINE: Verdict.KEEP, HeatVerdict.CONFIRMED: Verdict.APPLY, HeatVerdict.SUSPECT: Verdict.REPEAT,
    HeatVerdict.NOT_PROVEN: Verdict.KEEP, HeatVerdict.REFUSE: Verdict.REFUSE,
    HeatVerdict.SENSOR_TABLE_WRONG: Verdict.REFUSE, HeatVerdict.CONTRADICTED: Verdict.REFUSE,
}  # fmt: skip

_REASON: Final = {
    HeatVerdict.FINE: Reason.WITHIN_TOLERANCE, HeatVerdict.CONFIRMED: Reason.OUTSIDE_TOLERANCE,
    HeatVerdict.SUSPECT: Reason.MORE_REPEATS, HeatVerdict.NOT_PROVEN: Reason.NO_ERROR_FOUND,
    HeatVerdict.REFUSE: Reason.INVALID_READING, HeatVerdict.SENSOR_TABLE_WRONG: Reason.IMPLAUSIBLE,
    HeatVerdict.CONTRADICTED: Reason.IMPLAUSIBLE,
}  # fmt: skip
