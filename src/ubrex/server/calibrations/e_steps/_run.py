"""An e-steps run: its inputs, the scatter of earlier runs, what its readings say."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from functools import cached_property
from typing import Any, ClassVar, Final

from peewee import JOIN, fn
from pydantic import BaseModel, ConfigDict

from ubrex.core.calibrate import (
    ESTEPS_FIRST_ASKED,
    ESTEPS_TOLERANCE_PCT,
    EStepsMethod,
    EStepsReason,
    EStepsResult,
    EStepsSample,
    ExtruderSetting,
    SettingForm,
    corrected_setting,
    evaluate_esteps,
    fed_length,
    feed_ratio,
    methods_differ,
    pair_apart,
    possible_readings,
)
from ubrex.core.chain import SHOWN_HERE, Kind, Origin, Standing, Step
from ubrex.core.quantity import (
    HISTORY_DOF_CAP,
    SpreadHistory,
    Tool,
    ToolKind,
    Unit,
    Verdict,
    decimal_text,
    pooled_history,
)
from ubrex.server.calibrations._calibration import RunInputs
from ubrex.server.calibrations._case import File
from ubrex.server.calibrations._measured import Answer, Doubt, Gauge, Measured, question_of
from ubrex.server.calibrations._reference import Reference
from ubrex.server.calibrations.e_steps import _words as words
from ubrex.server.calibrations.e_steps._feed import feed_cautions, feed_heat_of, feed_speed_of
from ubrex.server.desk import Clash, FieldProblem, Work
from ubrex.server.printing import write_feed
from ubrex.server.profile import Evidence, NewValue, newest_esteps
from ubrex.server.store.margin import MeasuredRow, TakenRow
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Decision, Reading, Run, Setup, Strike, TunedValue
from ubrex.server.views.base import CautionOut, CellOut
from ubrex.server.views.runs import Action, RunEditIn
from ubrex.server.views.values import StripOut, StripReadingOut
from ubrex.server.words.numbers import ago, day, plain, plus_minus, step_places, unit_text
from ubrex.server.words.readings import TOOLS_MIXED
from ubrex.server.workshop import unit_of_setting

HISTORY_RUNS: Final = 10
"""Earlier runs whose scatter is pooled; more would only repeat what the cap on its weight cuts off."""

ROUNDED_AWAY: Final = ESTEPS_TOLERANCE_PCT / 400
"""Rounding to the decimals of a machine that moves a setting by more than this share is said, and is part of the ±."""

NO_RUN: Final = 2**62
"""No run has a number as high: all that are decided are earlier."""

TOOLS: Final[Mapping[EStepsMethod, tuple[ToolKind, ...]]] = {
    EStepsMethod.OPEN_AIR: (ToolKind.CALLIPER, ToolKind.RULER),
    EStepsMethod.MARKED: (ToolKind.CALLIPER, ToolKind.RULER),
    EStepsMethod.WEIGHED: (ToolKind.SCALE,),
}
"""Tools a method can be read with."""


class MarkTool(BaseModel):
    """What set the mark, where it was not the tool that reads what is left."""

    model_config = ConfigDict(frozen=True)

    step_mm: float
    error_mm: float


class OtherMethod(BaseModel):
    """What another method found right, and still is on record: the run, its method and its 95 % half-width [%]."""

    model_config = ConfigDict(frozen=True)

    run_id: int
    method: EStepsMethod
    half_width_pct: float


class Scatter(BaseModel):
    """Scatter of earlier runs, as it was when the run began."""

    model_config = ConfigDict(frozen=True)

    std: float
    dof: float


class EStepsInputs(RunInputs):
    """What an e-steps run keeps besides its readings; ``current`` is the setting the machine had while it fed."""

    current: float
    asked: int = ESTEPS_FIRST_ASKED
    commanded_mm: float
    mark_at_mm: float | None = None
    mark_tool: MarkTool | None = None
    reference: Reference | None = None
    scatter: Scatter | None = None
    other: OtherMethod | None = None

    @property
    def setting(self) -> ExtruderSetting:
        """The setting the machine had while it fed."""
        return ExtruderSetting(number=self.current, form=SettingForm(self.unit.value))


def sample_of(
    method: EStepsMethod,
    inputs: EStepsInputs,
    taken: Sequence[Reading] | Sequence[TakenRow],
    usual: Tool,
    history: SpreadHistory | None,
) -> EStepsSample:
    """A run as the core judges it; readings of several tools by the coarsest of them, ``usual`` while there are none."""
    tools = [Tool(resolution=r.resolution, max_permissible_error=r.max_permissible_error) for r in taken]
    return EStepsSample(
        method=method,
        commanded_mm=inputs.commanded_mm,
        readings=tuple(reading.number for reading in taken),
        tool=max(tools or [usual], key=lambda tool: tool.std),
        mark_at_mm=inputs.mark_at_mm,
        mark_tool=None
        if inputs.mark_tool is None
        else Tool(resolution=inputs.mark_tool.step_mm, max_permissible_error=inputs.mark_tool.error_mm),
        strand=None if inputs.reference is None else inputs.reference.to_core(),
        history=history,
    )


def _earlier_readings(toolhead_id: int, method: str, instrument_id: int, run_id: int, most_runs: int) -> Any:
    earlier = (
        Run.select(Run.id, fn.jsonb_extract_path_text(Run.inputs, "commanded_mm").cast("float8").alias("commanded_mm"))
        .join(Setup)
        .where(
            Setup.toolhead == toolhead_id,
            Run.step == Step.E_STEPS.value,
            Run.state == "decided",
            Run.method == method,
            Run.instrument == instrument_id,
            Run.id < run_id,
        )
        .order_by(Run.id.desc())
        .limit(most_runs)
        .alias("earlier")
    )
    return (
        Reading.select(Reading.run, Reading.number, earlier.c.commanded_mm)
        .join(earlier, on=(Reading.run == earlier.c.id))
        .join(Strike, JOIN.LEFT_OUTER, on=(Strike.reading == Reading.id))
        .where(Strike.id.is_null())
    )


_EARLIER_READINGS: Final[Prepared[Reading]] = Prepared(_earlier_readings)


def scatter_of(setup: Setup, method: str, instrument_id: int, commanded_mm: float, before: int) -> Scatter | None:
    """Scatter of the last runs before ``before`` on the same toolhead with the same method, tool and length.

    A run keeps it as it was when it began: what is decided elsewhere meanwhile does not move its result.
    """
    rows = _EARLIER_READINGS.tuples(setup.toolhead_id, method, instrument_id, before, HISTORY_RUNS)
    groups: dict[int, list[float]] = {}
    for run_id, number, fed_mm in rows:
        if fed_mm == commanded_mm:
            groups.setdefault(run_id, []).append(number)
    pooled = pooled_history(groups.values())
    return None if pooled is None else Scatter(**asdict(pooled))


@dataclass(frozen=True)
class EStepsCase(Measured[EStepsInputs]):
    """An e-steps run with its readings."""

    inputs_type = EStepsInputs
    implied = ""
    noun = "fed"
    edits: ClassVar[tuple[Action, ...]] = ()

    @property
    def method(self) -> EStepsMethod:
        """How the fed length is found."""
        return EStepsMethod(self.run.method)

    @property
    def read_in(self) -> Unit:
        """A mass where it is weighed, else a length."""
        return Unit.G if self.method is EStepsMethod.WEIGHED else Unit.MM

    @cached_property
    def history(self) -> SpreadHistory | None:
        """The scatter it began with; looked up for a run from before it was kept."""
        kept = self.inputs.scatter
        if "scatter" not in self.run.inputs:
            run = self.run
            kept = scatter_of(run.setup, run.method, run.instrument_id, self.inputs.commanded_mm, run.id)
        return None if kept is None else SpreadHistory(std=kept.std, dof=kept.dof)

    @property
    def has_history(self) -> bool:
        """Whether earlier scatter is there to be pooled in."""
        return self.history is not None

    @cached_property
    def sample(self) -> EStepsSample:
        """The run as the core judges it."""
        history = self.history if self.run.use_history else None
        return sample_of(self.method, self.inputs, self.readings, self.run.instrument.to_core(), history)

    @cached_property
    def evaluated(self) -> EStepsResult:
        """What the readings say."""
        return evaluate_esteps(self.sample)

    @property
    def proposal(self) -> float:
        """Setting to apply: the corrected one, rounded to what the machine can hold."""
        return round(self._exact, self.inputs.places)

    @property
    def _exact(self) -> float:
        figures = self.evaluated.figures
        return self.inputs.current if figures is None else corrected_setting(self.inputs.setting, figures.factor).number

    @property
    def _differs(self) -> bool:
        """Whether it would change what another method found right, and nothing happened since."""
        found, other = self.evaluated, self.inputs.other
        return (
            other is not None
            and found.figures is not None
            and found.verdict in {Verdict.APPLY, Verdict.TRY}
            and methods_differ(found.figures, other.half_width_pct)
        )

    @property
    def proven(self) -> bool:
        """Whether the readings prove that a change is worth making."""
        return self.evaluated.verdict is Verdict.APPLY and not self._differs

    @property
    def half_width(self) -> float | None:
        """95 % half-width of the proposal, in its unit; where the machine holds too few decimals, with what they cost."""
        figures, lost = self.evaluated.figures, abs(self.proposal - self._exact)
        if figures is None:
            return None
        return self.proposal * figures.relative_half_width + (lost if self._coarse else 0.0)

    @property
    def _coarse(self) -> bool:
        """Whether the decimals that the machine holds move the setting by something that counts."""
        return abs(self.proposal / self._exact - 1) > ROUNDED_AWAY

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """Another tool has a scatter of its own."""
        run = self.run
        if form.instrument_id is None:
            return {}
        kept = scatter_of(run.setup, run.method, run.instrument_id, self.inputs.commanded_mm, NO_RUN)
        return {"scatter": None if kept is None else kept.model_dump()}

    def reads(self) -> str:
        """What is read."""
        return self.calibration.words.reads

    def cells(self) -> list[CellOut]:
        """Length commanded, and the setting it was fed at."""
        inputs = self.inputs
        setting = f"{decimal_text(inputs.current, inputs.places)} {unit_text(inputs.unit.value)}"
        return [
            CellOut(label="To be fed", value=f"{plain(inputs.commanded_mm)} mm", detail="commanded"),
            CellOut(label="Setting while fed", value=setting, detail="read from the machine"),
        ]

    def cautions(self) -> list[CautionOut]:
        """What can hurt."""
        return feed_cautions(self.tuned, self.method)

    def doubt(self) -> Doubt:
        """The length commanded, and how far a feed can be off at all."""
        sample = self.sample
        low, high = possible_readings(sample)
        return Doubt(
            noun=self.reads().split()[0],
            usual=sample.commanded_mm,
            low=low,
            high=high,
            impossible=words.impossible_said(sample.commanded_mm),
            far=lambda reading: words.far_off_said(
                reading, self.read_in, fed_length(sample, reading), sample.commanded_mm
            ),
            of_value=lambda reading: fed_length(sample, reading),
            keeps_slips=False,
        )

    def question(self, number: float) -> FieldProblem | None:
        """What to ask about a reading; a mark that went inside, or farther away, is never taken."""
        asked = question_of(number, self.doubt(), self.read_in)
        if asked is not None and asked.code == "impossible" and self.method is EStepsMethod.MARKED:
            return FieldProblem("typed", "impossible", words.mark_said(number))
        if asked is not None and asked.code == "impossible" and number <= 0:
            return FieldProblem("typed", "not_above_zero", asked.message)
        return asked

    def finding(self) -> str | None:
        """Two readings that cannot both be right."""
        apart = pair_apart(self.sample.readings, self.sample)
        if apart is None:
            return None
        places = step_places(self.sample.tool.resolution)
        first, second = (decimal_text(number, places) for number in self.sample.readings)
        return words.pair_disagrees(first, second, apart)

    def answer(self) -> Answer | None:
        """The setting that would feed what is commanded."""
        found, inputs, count = self.evaluated, self.inputs, len(self.readings)
        half_width = self.half_width
        edges = [self.proposal + sign * (half_width or 0.0) for sign in (-1, 1)]
        low, high = (decimal_text(edge, inputs.places) for edge in edges)
        said = words.verdict(
            found,
            proposal=decimal_text(self.proposal, inputs.places),
            low=low,
            high=high,
            unit=unit_text(inputs.unit.value),
            commanded_mm=inputs.commanded_mm,
        )
        history, figures = self.sample.history, found.figures
        # Two ways that disagree are compared, and neither is written over the other.
        if self._differs and inputs.other is not None and figures is not None:
            other = inputs.other
            return Answer(
                verdict=Verdict.REPEAT,
                reason=EStepsReason.METHODS_DIFFER,
                title=words.METHODS_DIFFER,
                sentence=words.methods_differ_said(
                    other.run_id,
                    other.method,
                    self.method,
                    figures.error_pct,
                    decimal_text(inputs.current, inputs.places),
                ),
                number=self.proposal,
                half_width=half_width,
            )
        remarks = []
        if inputs.other is not None and figures is not None and found.verdict is not Verdict.REFUSE:
            remarks.append(words.methods_agree_said(inputs.other.run_id, inputs.other.method))
        if count < ESTEPS_FIRST_ASKED and history is None:
            remarks.append(words.USUAL_SCATTER)
        # What the machine can take is rounder than what was found: the page says how far off that leaves it.
        if self._coarse:
            exact = decimal_text(self._exact, inputs.places + 2)
            remarks.append(words.coarse_said(inputs.places, exact, 100 * abs(self.proposal / self._exact - 1)))
        if history is not None and figures is not None and figures.history_left_out:
            remarks.append(words.HISTORY_LEFT_OUT)
        elif history is not None:
            remarks.append(words.history_said(min(HISTORY_DOF_CAP, history.dof)))
        # Each reading keeps the tool it was taken with; the doubt is that of the coarsest.
        if len({(row.resolution, row.max_permissible_error) for row in self.readings}) > 1:
            remarks.append(TOOLS_MIXED)
        return Answer(
            verdict=found.verdict,
            reason=found.reason,
            title=said.title,
            sentence=said.sentence,
            number=self.proposal,
            half_width=half_width,
            limited_by=said.limits,
            remarks=remarks,
            refused=found.verdict is Verdict.REFUSE or found.figures is None,
        )

    def at(self, reading: Reading) -> float:
        """Where a reading stands on the strip: the length it says was fed."""
        return fed_length(self.sample, reading.number)

    def gauge(self) -> Gauge | None:
        """Fed lengths [mm] against the length commanded."""
        sample, figures = self.sample, self.evaluated.figures
        if figures is None:
            return None
        per_reading = abs(fed_length(sample, 1.0) - fed_length(sample, 0.0))
        places = step_places(sample.tool.resolution)
        low, high = good_enough(sample.commanded_mm)
        half = figures.fed_half_width_mm
        return Gauge(
            target=sample.commanded_mm,
            low=low,
            high=high,
            mean=figures.fed_mm,
            half_width=half,
            step=sample.tool.resolution * per_reading,
            places=max(1, places),
            at=self.at,
            taken=self.readings,
            rows=self.rows,
            mean_note=f"mean {decimal_text(figures.fed_mm, 2)} {plus_minus(half)}",
            move_note=words.error_said(figures, sample.commanded_mm),
            proposal_name=f"To set, {unit_text(self.inputs.unit.value)}",
            measured_name="fed, mm",
            reading_places=places,
            usual_scatter=len(self.readings) < ESTEPS_FIRST_ASKED and sample.history is None,
            sentence=words.strip_said(figures, sample.commanded_mm),
        )

    def files(self) -> list[File]:
        """A file that heats and feeds once."""
        heat = feed_heat_of(self.tuned)
        note = (
            ""
            if heat.target_c is None
            else words.file_does(heat.target_c, self.inputs.commanded_mm, feed_speed_of(self.method))
        )
        return [replace(self.piece_file(self._feed_file), note=note)]

    def _feed_file(self) -> str:
        heat = feed_heat_of(self.tuned)
        if heat.target_c is None:
            raise Clash(words.NO_HEAT, code="no_heat")
        return write_feed(
            self.tuned, self.inputs.commanded_mm, heat.target_c, self.cautions(), speed_mm_s=feed_speed_of(self.method)
        )

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self.evaluated.figures
        if figures is None:
            return {"count": len(self.readings)}
        return {
            "count": figures.count, "fed_mm": figures.fed_mm, "factor": figures.factor, "error_pct": figures.error_pct,
            "half_width_95_pct": figures.half_width_95_pct,
        }  # fmt: skip

    @property
    def _recorded(self) -> TunedValue | None:
        """The e-steps its toolhead is recorded to run with."""
        return newest_esteps(self.run.setup.toolhead_id)

    def decided(self, decision: Decision) -> list[NewValue]:
        """The proposal, or the setting that was found right if it is not on record as measured yet."""
        applied, recorded = decision.action == "apply", self._recorded
        number, unit = self.proposal if applied else self.inputs.current, self.inputs.unit
        same = recorded is not None and recorded.number == number and recorded.unit == unit.value
        if not applied and same and recorded is not None and Origin(recorded.origin) in SHOWN_HERE:
            return []
        return [self.new_value(Kind.E_STEPS, number, self.half_width, decision, unit)]

    def overtaken(self) -> str:
        """Whether the setting was changed since the pieces were fed, or the form in which the machine keeps it."""
        machine = self.run.setup.toolhead.machine
        if self.inputs.unit is not unit_of_setting(machine):
            return words.other_form_said(machine.name)
        fed_since: datetime = self.run.fed_at or self.run.started_at
        recorded = self._recorded
        if recorded is None or recorded.at <= fed_since:
            return ""
        return words.changed_since_said(machine.name, day(recorded.at))


def good_enough(commanded_mm: float) -> tuple[float, float]:
    """Fed lengths [mm] that are good enough."""
    return commanded_mm / (1 + ESTEPS_TOLERANCE_PCT / 100), commanded_mm / (1 - ESTEPS_TOLERANCE_PCT / 100)


def recorded_strip(found: Evidence, run: MeasuredRow | None, standing: Standing, work: Work) -> StripOut | None:
    """The strip of a value on record: the readings it rests on, as they come out at that value.

    None for a value without a run, which has nothing to show.
    """
    value = found.value
    if run is None or value.half_width_95 is None:
        return None
    inputs = EStepsInputs.model_validate(run.inputs)
    usual = Tool(resolution=run.resolution, max_permissible_error=run.max_permissible_error)
    sample = sample_of(EStepsMethod(run.method), inputs, run.readings, usual, None)
    relative = value.half_width_95 / value.number
    per_old = feed_ratio(inputs.current, value.number, inputs.unit)
    lengths = [fed_length(sample, reading) * per_old for reading in sample.readings]
    mean = math.fsum(lengths) / len(lengths) if lengths else inputs.commanded_mm
    low, high = good_enough(inputs.commanded_mm)
    days = (work.now - found.shown_true_at).total_seconds() / 86400
    return StripOut(
        unit="mm",
        places=1,
        step=sample.tool.resolution,
        target=inputs.commanded_mm,
        low=low,
        high=high,
        readings=[StripReadingOut(number=length, text=decimal_text(length, 2), newest=False) for length in lengths],
        mean=mean,
        half_width=mean * relative,
        standing=standing,
        measured_name="fed, mm",
        title=words.RECORDED,
        sentence=words.recorded_said(run.id, ago(days), value.number, mean, mean * relative, inputs.commanded_mm),
    )
