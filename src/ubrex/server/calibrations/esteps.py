"""The e-steps calibration as a person meets it: its start form, its readings, its result."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from functools import cached_property, lru_cache
from typing import Any, Final

from peewee import JOIN, fn
from pydantic import BaseModel, ConfigDict

from ubrex.core.calibrate import (
    DEFAULT_COMMANDED_MM,
    FIRST_ASKED,
    RULE_VERSION,
    TOLERANCE_PCT,
    EStepsResult,
    EStepsSample,
    ExtruderSetting,
    Method,
    ReferencePiece,
    SettingForm,
    corrected,
    disagreement,
    evaluate_esteps,
    fed_length,
    feed_ratio,
    possible_readings,
)
from ubrex.core.chain import SHOWN_HERE, Kind, Origin, Standing, Step
from ubrex.core.materials import FeedHeat, family, feed_heat
from ubrex.core.quantity import (
    HISTORY_DOF_CAP,
    EntryFinding,
    FarOff,
    Impossible,
    Reason,
    Slip,
    SpreadHistory,
    Tool,
    ToolKind,
    Unit,
    Verdict,
    check_entry,
    decimal_text,
    pooled_history,
)
from ubrex.server.desk import Clash, FieldProblem, TypedFields, Work, find
from ubrex.server.printing import write_feed
from ubrex.server.profile import (
    Evidence,
    NewValue,
    counting,
    evidence_of,
    newest_esteps,
    newest_heat,
    newest_of_head,
    nozzle_limits_of,
    strike_of,
    tuned_of,
    value_out,
)
from ubrex.server.store.facts import MeasuredRow, TakenRow, ValueRow
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Decision, Instrument, Reading, Run, Setup, Strike, TunedValue
from ubrex.server.views.base import CautionOut, CellOut
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.runs import EStepsStartIn, EStepsStartOut, MethodOut, ResultOut, RunEditIn
from ubrex.server.views.values import PlateOut, StripOut, StripReadingOut, StripStruckOut
from ubrex.server.views.workshop import InstrumentOut
from ubrex.server.words import esteps as words
from ubrex.server.words.machine import Keeping, how_to_read
from ubrex.server.words.numbers import ago, day, plain, plus_minus, step_places, unit_text
from ubrex.server.workshop import all_instruments, setup_out, unit_of_setting, usable_setup

DEFAULT_MARK_MM: Final = 120.0
"""Mark a fifth farther than what is fed, so that the remainder can be read with a calliper."""

LONGEST_FEED_MM: Final = 2000.0
"""Longest length [mm] a person would feed for one reading."""

SETTING_RANGE: Final = {Unit.STEPS_PER_MM: (5.0, 20000.0), Unit.MM_PER_TURN: (0.5, 200.0)}
"""Extruder settings that are possible at all: geared and ungeared motors at every common microstep."""

SETTING_NEAR: Final = 0.20
"""A typed current setting farther (relative) than this from the record is asked about."""

HISTORY_RUNS: Final = 10
"""Earlier runs whose scatter is pooled; more would only repeat what the cap on its weight cuts off."""

NO_RUN: Final = 2**62
"""No run has a number as high: all that are decided are earlier."""

KINDS: Final = {
    Method.OPEN_AIR: (ToolKind.CALLIPER, ToolKind.RULER),
    Method.MARKED: (ToolKind.CALLIPER, ToolKind.RULER),
    Method.WEIGHED: (ToolKind.SCALE,),
}
"""Tools a method can be read with."""


class Reference(BaseModel):
    """A weighed and measured piece of the same spool."""

    model_config = ConfigDict(frozen=True)

    mass_g: float
    length_mm: float
    length_step_mm: float
    length_error_mm: float


class EStepsInputs(BaseModel):
    """What an e-steps run keeps besides its readings."""

    model_config = ConfigDict(frozen=True)

    current: float
    unit: Unit
    places: int
    commanded_mm: float
    mark_at_mm: float | None = None
    reference: Reference | None = None

    @property
    def setting(self) -> ExtruderSetting:
        """The setting the machine had while it fed."""
        return ExtruderSetting(number=self.current, form=SettingForm(self.unit.value))


@dataclass(frozen=True)
class EStepsRun:
    """A run with all its readings: everything its result is worked out from."""

    run: Run
    rows: Sequence[Reading]
    history: SpreadHistory | None
    of_head: Mapping[Kind, TunedValue]
    """Newest e-steps of its toolhead, and heat check of its hotend."""

    @cached_property
    def readings(self) -> Sequence[Reading]:
        """The readings that count."""
        return counting(self.rows)

    @cached_property
    def inputs(self) -> EStepsInputs:
        """Its inputs, typed."""
        return EStepsInputs.model_validate(self.run.inputs)

    @cached_property
    def sample(self) -> EStepsSample:
        """The run as the core judges it; readings of several tools by the coarsest of them."""
        return _sample(
            Method(self.run.method),
            self.inputs,
            self.readings,
            self.run.instrument.to_core(),
            self.history if self.run.use_history else None,
        )

    @cached_property
    def result(self) -> EStepsResult:
        """What the readings say."""
        return evaluate_esteps(self.sample)

    @property
    def proposal(self) -> float:
        """Setting to apply: the corrected one, rounded to what the machine can hold."""
        figures = self.result.figures
        if figures is None:
            return self.inputs.current
        return round(corrected(self.inputs.setting, figures.factor).number, self.inputs.places)

    @property
    def proposal_half_width(self) -> float | None:
        """95 % half-width of the proposal, in its unit."""
        figures = self.result.figures
        return None if figures is None else self.proposal * figures.relative_half_width


def _sample(
    method: Method,
    inputs: EStepsInputs,
    taken: Sequence[Reading] | Sequence[TakenRow],
    usual: Tool,
    history: SpreadHistory | None,
) -> EStepsSample:
    tools = [Tool(resolution=r.resolution, max_permissible_error=r.max_permissible_error) for r in taken]
    reference = inputs.reference
    return EStepsSample(
        method=method,
        commanded_mm=inputs.commanded_mm,
        readings=tuple(reading.number for reading in taken),
        tool=max(tools or [usual], key=lambda tool: tool.std),
        mark_at_mm=inputs.mark_at_mm,
        strand=None
        if reference is None
        else ReferencePiece(
            mass_g=reference.mass_g,
            length_mm=reference.length_mm,
            length_tool=Tool(resolution=reference.length_step_mm, max_permissible_error=reference.length_error_mm),
        ),
        history=history,
    )


def load(run: Run, rows: Sequence[Reading]) -> EStepsRun:
    """A run with its readings, the scatter of earlier ones, and what its toolhead runs with now."""
    return EStepsRun(run, list(rows), _history(run), newest_of_head(run.setup.toolhead))


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


def scatter(setup: Setup, method: str, instrument_id: int, commanded_mm: float, before: int = NO_RUN) -> dict[str, Any]:
    """Scatter of the last runs on the same toolhead with the same method, tool and length, as a run keeps it.

    It is what was known when the run began: what is decided elsewhere meanwhile does not move its result.
    """
    rows = _EARLIER_READINGS.tuples(setup.toolhead_id, method, instrument_id, before, HISTORY_RUNS)
    groups: dict[int, list[float]] = {}
    for run_id, number, fed_mm in rows:
        if fed_mm == commanded_mm:
            groups.setdefault(run_id, []).append(number)
    found = pooled_history(groups.values())
    return {"scatter": None if found is None else asdict(found)}


def _history(run: Run) -> SpreadHistory | None:
    """The scatter a run began with; looked up for one from before it was kept."""
    kept = run.inputs
    if "scatter" not in kept:
        kept = scatter(run.setup, run.method, run.instrument_id, run.inputs["commanded_mm"], run.id)
    return None if kept["scatter"] is None else SpreadHistory(**kept["scatter"])


def heat_of(setup: Setup, checked: ValueRow | TunedValue | None) -> FeedHeat:
    """How hot this hotend may be made to feed this filament; ``checked``: its heat check."""
    return feed_heat(family(setup.filament.family), nozzle_limits_of(setup, checked))


def cautions(setup: Setup, method: Method, checked: ValueRow | TunedValue | None) -> list[CautionOut]:
    """Cautions for feeding by ``method`` on this setup; ``checked``: the heat check of its hotend."""
    return list(_cautions(heat_of(setup, checked), method))


@lru_cache(maxsize=64)
def _cautions(heat: FeedHeat, method: Method) -> tuple[CautionOut, ...]:
    return tuple(CautionOut(lead=row.lead, text=row.text) for row in words.cautions(heat, method))


def start_form(work: Work, setup_id: int) -> EStepsStartOut:
    """What the start form offers: methods with reasons, tools, and the value on record."""
    setup = usable_setup(setup_id)
    machine = setup.toolhead.machine
    recorded = newest_esteps(setup.toolhead_id)
    unit = unit_of_setting(machine)
    tools = all_instruments(work)
    checked = newest_heat(setup)
    methods = [_method(method, [tool for tool in tools if tool.kind in KINDS[method]]) for method in Method]
    open_run = Run.select(Run.id).where(Run.setup == setup, Run.step == Step.E_STEPS.value, Run.state == "open").first()
    return EStepsStartOut(
        setup=setup_out(setup),
        methods=methods,
        method=_usual_method(work, methods),
        recorded=None if recorded is None else value_out(evidence_of(recorded, machine), machine, work),
        setting_name=words.setting_name(SettingForm(unit.value)),
        unit_text=unit_text(unit.value),
        how_to_read=how_to_read(Keeping(machine.keeps_setting)),
        commanded=plain(DEFAULT_COMMANDED_MM),
        mark=plain(DEFAULT_MARK_MM),
        cautions={method: cautions(setup, method, checked) for method in Method},
        open_run_id=None if open_run is None else open_run.id,
    )


def _method(method: Method, tools: list[InstrumentOut]) -> MethodOut:
    said = words.METHODS[method]
    kinds = " or ".join(kind.value for kind in KINDS[method])
    return MethodOut(
        method=method,
        name=said.name,
        why=list(said.why),
        procedure=list(said.procedure),
        reads=said.reads,
        instruments=tools,
        missing="" if tools else f"Needs a {kinds}: add one below.",
    )


def _usual_method(work: Work, methods: list[MethodOut]) -> Method:
    """The method this person chose last, else open air; never one there is no tool for."""
    last = (
        Run.select(Run.method)
        .where(Run.step == Step.E_STEPS.value, Run.person == work.person_id)
        .order_by(Run.id.desc())
        .first()
    )
    usable = [row.method for row in methods if row.instruments]
    wanted = Method(last.method) if last is not None else Method.OPEN_AIR
    return wanted if wanted in usable or not usable else usable[0]


def read_start(work: Work, form: EStepsStartIn, setup: Setup) -> tuple[EStepsInputs, Instrument]:
    """The inputs of a run to start, every field judged.

    Raises
    ------
    Refused
        With a problem for each field that needs another look.
    """
    fields = TypedFields()
    machine = setup.toolhead.machine
    recorded = newest_esteps(setup.toolhead_id)
    instrument = find(Instrument, form.instrument_id, "measuring tool")
    if ToolKind(instrument.kind) not in KINDS[form.method]:
        fields.add(
            FieldProblem("instrument_id", "wrong_kind", f"{instrument.name} cannot read this: choose another tool.")
        )
    unit = unit_of_setting(machine)
    current = _read_current(form, fields, unit, recorded.number if recorded and recorded.unit == unit.value else None)
    commanded = fields.number(
        "commanded",
        form.commanded,
        what="The length to feed",
        low=10,
        high=LONGEST_FEED_MM,
        why="feed 10 to 2000 mm; 100 mm is usual",
    )
    mark = _read_mark(form, fields, commanded) if form.method is Method.MARKED else None
    reference = _read_reference(form, fields) if form.method is Method.WEIGHED else None
    if form.fed_at is not None:
        _judge_fed_at(form.fed_at, work.now, recorded.at if recorded else None, fields)
    fields.refuse_if_any()
    return EStepsInputs(
        current=current,
        unit=unit,
        places=machine.setting_places,
        commanded_mm=commanded,
        mark_at_mm=mark,
        reference=reference,
    ), instrument


def _read_current(form: EStepsStartIn, fields: TypedFields, unit: Unit, recorded: float | None) -> float:
    low, high = SETTING_RANGE[unit]
    current = fields.number(
        "current",
        form.current,
        what="The current setting",
        low=low,
        high=high,
        unit=unit,
        why=f"extruders have {plain(low)} to {plain(high)} {unit_text(unit.value)}; read it from the machine again",
    )
    if current == 0.0 or recorded is None or form.current_as_typed:
        return current
    if abs(current / recorded - 1) > SETTING_NEAR:
        slip = next(
            (
                plain(s)
                for p in (10, 100, 1000, 0.1, 0.01, 0.001)
                if abs((s := current * p) / recorded - 1) < SETTING_NEAR
            ),
            None,
        )
        hint = (
            f"Did you mean {slip}?"
            if slip
            else "Was it reset, or was the wrong line read? Send it again if it is right."
        )
        fields.add(
            FieldProblem(
                "current",
                "unit_slip" if slip else "far_off",
                f"{plain(current)} is far from the {plain(recorded)} on record. {hint}",
                suggested=slip,
                confirmable=True,
            )
        )
    return current


def _read_mark(form: EStepsStartIn, fields: TypedFields, commanded: float) -> float:
    mark = fields.number(
        "mark", form.mark, what="The mark", low=1, high=LONGEST_FEED_MM + 500, why="marks sit within arm's reach"
    )
    if mark and commanded and mark <= commanded:
        fields.add(
            FieldProblem(
                "mark",
                "nearer_than_commanded",
                f"A mark at {plain(mark)} mm goes inside when {plain(commanded)} mm are fed. Put it at "
                f"{plain(commanded * 1.2)} mm or farther.",
                suggested=plain(commanded * 1.2),
            )
        )
    return mark


def _read_reference(form: EStepsStartIn, fields: TypedFields) -> Reference:
    mass = fields.number(
        "reference_mass",
        form.reference_mass,
        what="The mass of the reference piece",
        low=0.01,
        high=50,
        why="a metre of filament weighs about 3 g",
        unit=Unit.G,
    )
    length = fields.number(
        "reference_length",
        form.reference_length,
        what="The length of the reference piece",
        low=20,
        high=5000,
        why="use a piece of 20 mm to 5 m",
    )
    tool = (
        None
        if form.reference_length_instrument_id is None
        else Instrument.get_or_none(Instrument.id == form.reference_length_instrument_id)
    )
    if tool is None or ToolKind(tool.kind).unit is not Unit.MM:
        fields.add(
            FieldProblem("reference_length_instrument_id", "missing", "Choose what the reference was measured with.")
        )
        return Reference(mass_g=mass, length_mm=length, length_step_mm=1, length_error_mm=1)
    return Reference(
        mass_g=mass, length_mm=length, length_step_mm=tool.resolution, length_error_mm=tool.max_permissible_error
    )


def _judge_fed_at(fed_at: datetime, now: datetime, changed_at: datetime | None, fields: TypedFields) -> None:
    if fed_at > now:
        fields.add(FieldProblem("fed_at", "in_future", "That lies in the future: when were the pieces fed?"))
    elif changed_at is not None and fed_at < changed_at:
        fields.add(
            FieldProblem(
                "fed_at",
                "sample_too_old",
                f"E-steps were changed on {day(changed_at)}, after these pieces were fed: they would correct the same "
                "error twice. Feed new ones.",
            )
        )


def question(run: EStepsRun, number: float) -> EntryFinding | None:
    """What to ask about a reading before it is taken."""
    sample = run.sample
    low, high = possible_readings(sample)
    return check_entry(
        number, fed=lambda reading: fed_length(sample, reading), commanded=sample.commanded_mm, low=low, high=high
    )


def problem_of(found: EntryFinding, run: EStepsRun, number: float) -> FieldProblem:
    """The question in words, at the field."""
    unit = unit_text(reading_unit(run.run).value)
    shown = f"{plain(number)} {unit}"
    match found:
        case Slip(suggested=suggested):
            message = f"{shown} looks like a slipped point. Did you mean {plain(suggested)} {unit}?"
            return FieldProblem(
                "typed", found.code, message, suggested=plain(suggested), confirmable=_keepable(run, number)
            )
        case Impossible() if number <= 0 and run.sample.method is not Method.MARKED:
            return FieldProblem(
                "typed", "not_above_zero", f"A {words.METHODS[run.sample.method].reads.split()[0]} is above 0."
            )
        case Impossible() if run.sample.method is Method.MARKED:
            message = (
                "The mark cannot be inside: place it farther up and feed again."
                if number < 0
                else f"{shown} is farther away than the mark was: nothing would have been fed. Look again."
            )
            return FieldProblem("typed", found.code, message)
        case Impossible():
            message = (
                f"{shown} cannot come from a feed of {plain(run.sample.commanded_mm)} mm. "
                "Look again; Enter takes it as typed."
            )
            return FieldProblem("typed", found.code, message, confirmable=True)
        case FarOff(error=error):
            fed = plain(round(run.sample.commanded_mm * (1 + error), 1))
            message = (
                f"{shown} means {fed} mm came out of {plain(run.sample.commanded_mm)}: no wear or slip does that. "
                "Look again; Enter takes it as typed."
            )
            return FieldProblem("typed", found.code, message, confirmable=True)


def _keepable(run: EStepsRun, number: float) -> bool:
    low, high = possible_readings(run.sample)
    return low <= number < high and number > 0


def reading_unit(run: Run) -> Unit:
    """Unit of the readings of a run."""
    return Unit.G if run.method == Method.WEIGHED.value else Unit.MM


def finding(run: EStepsRun) -> str | None:
    """A remark beside the verdict: two readings that cannot both be right."""
    apart = disagreement(run.sample.readings, run.sample)
    if apart is None:
        return None
    places = step_places(run.sample.tool.resolution)
    first, second = (decimal_text(number, places) for number in run.sample.readings)
    return words.pair_disagrees(first, second, apart)


def result_view(run: EStepsRun, *, early: bool) -> ResultOut | None:
    """The result as shown; None before the readings first asked for are in, unless it was asked for early."""
    count = len(run.readings)
    if count == 0 or (count < FIRST_ASKED and not early):
        return None
    result, inputs = run.result, run.inputs
    figures = result.figures
    unit = unit_text(inputs.unit.value)
    proposal = decimal_text(run.proposal, inputs.places)
    half_width = run.proposal_half_width
    edges = (
        (proposal, proposal)
        if half_width is None
        else tuple(decimal_text(edge, inputs.places) for edge in (run.proposal - half_width, run.proposal + half_width))
    )
    said = words.verdict(
        result, proposal=proposal, low=edges[0], high=edges[1], unit=unit, commanded_mm=inputs.commanded_mm
    )
    remarks = []
    if count < FIRST_ASKED and run.sample.history is None:
        remarks.append("The ± comes from a usual scatter: fewer than three readings are in.")
    if run.sample.history is not None:
        remarks.append(words.history_said(min(HISTORY_DOF_CAP, run.sample.history.dof)))
    if len({(reading.resolution, reading.max_permissible_error) for reading in run.readings}) > 1:
        remarks.append(words.tools_mixed())
    refused = result.verdict is Verdict.REFUSE or figures is None
    return ResultOut(
        verdict=result.verdict,
        reason=result.reason,
        title=said.title,
        sentence=said.sentence,
        limits=said.limits,
        remarks=remarks,
        so_far=count < FIRST_ASKED or result.reason is Reason.MORE_REPEATS,
        blue=result.verdict is Verdict.APPLY,
        proposal=proposal,
        half_width_text="" if half_width is None else plus_minus(half_width),
        change=words.change_said(inputs.setting, run.proposal, inputs.places),
        unit_text=unit,
        can_apply=not refused,
        can_keep=not refused,
        ask_before=words.asks_before_proof(result, proposal),
        keep_text=decimal_text(inputs.current, inputs.places),
    )


def strip(run: EStepsRun, result: ResultOut | None) -> StripOut:
    """The strip of a run: fed lengths [mm] against the length commanded. Bare until a result may be seen."""
    sample = run.sample
    per_reading = abs(fed_length(sample, 1.0) - fed_length(sample, 0.0))
    step = sample.tool.resolution * per_reading
    places = step_places(sample.tool.resolution)
    figures = run.result.figures if result is not None else None
    if result is None or figures is None:
        return StripOut(
            unit="mm",
            places=max(1, places),
            step=step,
            sentence="The strip stays bare until the first readings asked for are in.",
            standing=Standing.NEVER,
        )
    newest = run.readings[-1].id
    return StripOut(
        unit="mm",
        places=max(1, places),
        step=step,
        target=sample.commanded_mm,
        low=sample.commanded_mm / (1 + TOLERANCE_PCT / 100),
        high=sample.commanded_mm / (1 - TOLERANCE_PCT / 100),
        readings=[
            StripReadingOut(
                number=fed_length(sample, reading.number),
                text=decimal_text(reading.number, places),
                newest=reading.id == newest,
            )
            for reading in run.readings
        ],
        struck=[
            StripStruckOut(
                number=fed_length(sample, row.number),
                note=f"{decimal_text(row.number, places)} struck out: {strike.reason}",
            )
            for row in run.rows
            if (strike := strike_of(row)) is not None and not strike.at_once
        ],
        mean=figures.fed_mm,
        half_width=figures.fed_half_width_mm,
        usual_scatter=len(run.readings) < FIRST_ASKED and sample.history is None,
        mean_note=f"mean {decimal_text(figures.fed_mm, 2)} {plus_minus(figures.fed_half_width_mm)}",
        move_to=sample.commanded_mm if result.blue else None,
        move_note=words.error_said(figures, sample.commanded_mm) if result.blue else "",
        plate=PlateOut(text=result.proposal, beside=result.change),
        proposal_name=f"To set, {result.unit_text}",
        standing=Standing.FRESH,
        sentence=(
            f"{figures.count} readings, mean {decimal_text(figures.fed_mm, 2)} {plus_minus(figures.fed_half_width_mm)} mm "
            f"of {plain(sample.commanded_mm)} commanded; good enough is within 1 %. {result.title}."
        ),
    )


def recorded_strip(found: Evidence, run: MeasuredRow | None, standing: Standing, work: Work) -> StripOut | None:
    """The strip of a value on record: the readings it rests on, as they come out at that value.

    None for a value without a run, which has nothing to show.
    """
    value = found.value
    if run is None or value.half_width_95 is None:
        return None
    inputs = EStepsInputs.model_validate(run.inputs)
    usual = Tool(resolution=run.resolution, max_permissible_error=run.max_permissible_error)
    sample = _sample(Method(run.method), inputs, run.readings, usual, None)
    relative = value.half_width_95 / value.number
    per_old = feed_ratio(inputs.current, value.number, inputs.unit)
    lengths = [fed_length(sample, reading) * per_old for reading in sample.readings]
    mean = math.fsum(lengths) / len(lengths) if lengths else inputs.commanded_mm
    return StripOut(
        unit="mm",
        places=1,
        step=sample.tool.resolution,
        target=inputs.commanded_mm,
        low=inputs.commanded_mm / (1 + TOLERANCE_PCT / 100),
        high=inputs.commanded_mm / (1 - TOLERANCE_PCT / 100),
        readings=[StripReadingOut(number=length, text=decimal_text(length, 2), newest=False) for length in lengths],
        mean=mean,
        half_width=mean * relative,
        standing=standing,
        sentence=(
            f"Run {run.id}, {ago((work.now - found.shown_true_at).total_seconds() / 86400)}: at "
            f"{decimal_text(value.number, 2)} the same feeds come to {decimal_text(mean, 2)} "
            f"{plus_minus(mean * relative)} mm of {plain(inputs.commanded_mm)}."
        ),
    )


@dataclass(frozen=True)
class EStepsCase:
    """An e-steps run as the one frame of all runs sees it."""

    loaded: EStepsRun
    work: Work

    rule_version = RULE_VERSION
    edits = ()
    asked = FIRST_ASKED
    implied = ""

    @property
    def run(self) -> Run:
        """The run itself."""
        return self.loaded.run

    @property
    def rows(self) -> Sequence[Reading]:
        """All readings, struck ones too."""
        return self.loaded.rows

    @property
    def readings(self) -> Sequence[Reading]:
        """The readings that count."""
        return self.loaded.readings

    @property
    def tools(self) -> tuple[ToolKind, ...]:
        """What can read it."""
        return tuple(KINDS[Method(self.run.method)])

    @property
    def unit(self) -> Unit:
        """What is read."""
        return reading_unit(self.run)

    @property
    def proven(self) -> bool:
        """Whether a change is proven to be worth making."""
        return self.loaded.result.verdict is Verdict.APPLY

    @property
    def has_history(self) -> bool:
        """Whether earlier scatter is there to be pooled in."""
        return self.loaded.history is not None

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """Another tool has a scatter of its own."""
        run = self.run
        if form.instrument_id is None:
            return {}
        return scatter(run.setup, run.method, run.instrument_id, self.loaded.inputs.commanded_mm)

    def with_reading(self, reading: Reading) -> EStepsCase:
        """The same run with one more reading."""
        return EStepsCase(replace(self.loaded, rows=[*self.rows, reading]), self.work)

    def place_text(self, reading: Reading) -> str:  # noqa: ARG002
        """A feed has no places."""
        return ""

    def method_name(self) -> str:
        """How it is measured."""
        return words.METHODS[Method(self.run.method)].name

    def procedure(self) -> list[str]:
        """How it goes."""
        return list(words.METHODS[Method(self.run.method)].procedure)

    def reads(self) -> str:
        """What is read."""
        return words.METHODS[Method(self.run.method)].reads

    def cells(self) -> list[CellOut]:
        """Length commanded, and the setting it was fed at."""
        inputs = self.loaded.inputs
        setting = f"{decimal_text(inputs.current, inputs.places)} {unit_text(inputs.unit.value)}"
        return [
            CellOut(label="To be fed", value=f"{plain(inputs.commanded_mm)} mm", detail="commanded"),
            CellOut(label="Setting while fed", value=setting, detail="read from the machine"),
        ]

    def cautions(self) -> list[CautionOut]:
        """What can hurt."""
        return cautions(self.run.setup, Method(self.run.method), self.loaded.of_head.get(Kind.HEAT_BIAS))

    def question(self, number: float) -> FieldProblem | None:
        """What to ask about a number before it is taken."""
        found = question(self.loaded, number)
        return None if found is None else problem_of(found, self.loaded, number)

    def finding(self) -> str | None:
        """A remark beside the verdict."""
        return finding(self.loaded)

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown."""
        return result_view(self.loaded, early=early)

    def strip(self, shown: ResultOut | None) -> StripOut:
        """The strip of fed lengths."""
        return strip(self.loaded, shown)

    def next_place(self) -> str | None:
        """A feed has no places."""
        return None

    def piece(self) -> PieceOut | None:
        """Nothing is printed."""
        return None

    def file(self) -> str:
        """Text of a file that heats and feeds once; only where the family says how hot that is."""
        setup = self.run.setup
        heat = heat_of(setup, self.loaded.of_head.get(Kind.HEAT_BIAS))
        if heat.target_c is None:
            raise Clash(
                "The family of this filament does not say how hot it is fed: heat to what its label says, by hand.",
                code="no_heat",
            )
        found = tuned_of(setup)
        return write_feed(found, self.loaded.inputs.commanded_mm, heat.target_c, self.cautions())

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self.loaded.result.figures
        if figures is None:
            return {"count": len(self.readings)}
        return {
            "count": figures.count,
            "fed_mm": figures.fed_mm,
            "factor": figures.factor,
            "error_pct": figures.error_pct,
            "half_width_95_pct": figures.half_width_95_pct,
        }

    def decided(self, decision: Decision) -> list[NewValue]:
        """The proposal, or the setting that was found right if it is not on record as measured yet."""
        inputs, applied = self.loaded.inputs, decision.action == "apply"
        number = self.loaded.proposal if applied else inputs.current
        recorded = newest_esteps(self.run.setup.toolhead_id)
        same = recorded is not None and recorded.number == number and recorded.unit == inputs.unit.value
        if not applied and same and recorded is not None and Origin(recorded.origin) in SHOWN_HERE:
            return []
        return [
            NewValue(
                kind=Kind.E_STEPS,
                number=number,
                unit=inputs.unit,
                half_width_95=self.loaded.proposal_half_width,
                origin=Origin.MEASURED,
                run_id=self.run.id,
                decision_id=decision.id,
            )
        ]

    def overtaken(self) -> str:
        """Whether the setting was changed since the pieces were fed, or the form in which the machine keeps it."""
        machine = self.run.setup.toolhead.machine
        if self.loaded.inputs.unit is not unit_of_setting(machine):
            return (
                f"{machine.name} keeps its setting in another form since: leave this run, and start one with the "
                "number that stands there now."
            )
        newest = self.loaded.of_head.get(Kind.E_STEPS)
        fed_since: datetime = self.run.fed_at or self.run.started_at
        if newest is None or newest.at <= fed_since:
            return ""
        return (
            f"E-steps of {machine.name} were changed on {day(newest.at)}, after this run was "
            "started. Its readings would correct the same error twice: leave this run and feed again."
        )
