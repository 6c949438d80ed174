"""The start form of an e-steps run: the setting read from the machine, what is fed, and when."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Final

from ubrex.core.calibrate import DEFAULT_COMMANDED_MM, EStepsMethod
from ubrex.core.chain import Kind, Standing, Step
from ubrex.core.judge import Code, slip
from ubrex.core.quantity import SAME, ToolKind, Unit, decimal_text
from ubrex.server.calibrations._calibration import Begun, Filled
from ubrex.server.calibrations._moments import read_moment
from ubrex.server.calibrations._reference import read_reference, reference_fields
from ubrex.server.calibrations.e_steps import _words as words
from ubrex.server.calibrations.e_steps._run import (
    NO_RUN,
    EStepsInputs,
    MarkTool,
    OtherMethod,
    scatter_of,
)
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import choice_field, moment_field, number_field
from ubrex.server.profile import Tuned, standing_of
from ubrex.server.store.records import Instrument
from ubrex.server.views.forms import FieldOut
from ubrex.server.words.judgement import told_said
from ubrex.server.words.machine import Keeping, how_to_read
from ubrex.server.words.numbers import day, plain, unit_text
from ubrex.server.workshop import length_tools, unit_of_setting

DEFAULT_MARK_MM: Final = 120.0
"""Mark a fifth farther than what is fed, so that the remainder can be read with a calliper."""

MARK_BEYOND: Final = 1.2
"""Where a mark is proposed, times the length commanded."""

SHORTEST_FEED_MM: Final = 10.0
LONGEST_FEED_MM: Final = 2000.0
"""Lengths [mm] a person would feed for one reading."""

SETTING_RANGE: Final = {Unit.STEPS_PER_MM: (5.0, 20000.0), Unit.MM_PER_TURN: (0.5, 200.0)}
"""Extruder settings that are possible at all: geared and ungeared motors at every common microstep."""


def offer(tuned: Tuned, method: EStepsMethod) -> list[FieldOut]:
    """What is asked before filament is fed."""
    machine = tuned.setup.toolhead.machine
    unit = unit_of_setting(machine)
    fields = [
        number_field("current", words.CURRENT[unit], unit_text(unit.value), "", _where_it_stands(tuned)),
        number_field("commanded", words.COMMANDED, "mm", DEFAULT_COMMANDED_MM),
    ]
    if method is EStepsMethod.MARKED:
        fields += [
            number_field("mark", words.MARK, "mm", DEFAULT_MARK_MM, words.MARK_HINT),
            choice_field("mark_tool", words.MARK_TOOL, {"same": words.SAME_TOOL} | length_tools(), "same"),
        ]
    if method is EStepsMethod.WEIGHED:
        fields += reference_fields()
    return [*fields, moment_field("fed_at", words.FED_EARLIER)]


def _where_it_stands(tuned: Tuned) -> str:
    """Where the setting is read, and what is on record."""
    machine, recorded = tuned.setup.toolhead.machine, tuned.values.get(Kind.E_STEPS)
    on_record = "" if recorded is None else decimal_text(recorded.number, machine.setting_places)
    return words.where_it_stands(how_to_read(Keeping(machine.keeps_setting)), on_record)


def read(form: Filled) -> Begun | None:
    """The inputs of a run to start, every field judged."""
    method, machine = EStepsMethod(form.method), form.tuned.setup.toolhead.machine
    recorded, unit = form.tuned.values.get(Kind.E_STEPS), unit_of_setting(machine)
    current = _read_current(form, unit, recorded.number if recorded and recorded.unit == unit.value else None)
    commanded = form.fields.number(
        "commanded", form.typed.get("commanded", ""), what=words.COMMANDED_WHAT, low=SHORTEST_FEED_MM,
        high=LONGEST_FEED_MM, why=words.COMMANDED_WHY,
    )  # fmt: skip
    mark = _read_mark(form, commanded) if method is EStepsMethod.MARKED else None
    reference = read_reference(form) if method is EStepsMethod.WEIGHED else None
    fed_at = read_moment(form, "fed_at", words.IN_FUTURE)
    if fed_at is not None and recorded is not None and fed_at.timestamp() < recorded.at_s:
        changed = day(datetime.fromtimestamp(recorded.at_s, UTC))
        form.fields.add(FieldProblem("fed_at", "sample_too_old", words.fed_before_said(changed)))
    if current is None or commanded is None or form.instrument is None or form.fields.any:
        return None
    setup, tool = form.tuned.setup, form.instrument
    inputs = EStepsInputs(
        current=current,
        unit=unit,
        places=machine.setting_places,
        commanded_mm=commanded,
        mark_at_mm=mark,
        mark_tool=_mark_tool(form) if method is EStepsMethod.MARKED else None,
        reference=reference,
        scatter=scatter_of(setup, form.method, tool.id, commanded, NO_RUN),
        other=_other_method(form, method, current),
    )
    return Begun(inputs=inputs, made_at=fed_at)


def _mark_tool(form: Filled) -> MarkTool | None:
    """What set the mark; None where that was the tool that reads what is left."""
    chosen = form.typed.get("mark_tool", "same")
    tool = Instrument.get_or_none(Instrument.id == int(chosen)) if chosen.isdecimal() else None
    if tool is None or ToolKind(tool.kind).unit is not Unit.MM:
        return None
    return MarkTool(step_mm=tool.resolution, error_mm=tool.max_permissible_error)


def _other_method(form: Filled, method: EStepsMethod, current: float) -> OtherMethod | None:
    """What another method found right, where that is what is set and nothing was done since that moves it."""
    recorded = form.tuned.values.get(Kind.E_STEPS)
    if recorded is None or recorded.run_id is None or not recorded.half_width_95 or recorded.number != current:
        return None
    if recorded.method in {None, method.value}:
        return None
    standing = standing_of(form.tuned.setup, form.now).steps[Step.E_STEPS].standing
    if standing not in {Standing.FRESH, Standing.AGEING}:
        return None
    half_width_pct = 100 * recorded.half_width_95 / recorded.number
    return OtherMethod(run_id=recorded.run_id, method=EStepsMethod(recorded.method), half_width_pct=half_width_pct)


def _read_current(form: Filled, unit: Unit, recorded: float | None) -> float | None:
    low, high = SETTING_RANGE[unit]
    typed = form.typed.get("current", "").strip()
    if typed == SAME and recorded is not None:
        return recorded
    current = form.fields.number(
        "current", typed, what=words.CURRENT_WHAT, low=low, high=high, unit=unit,
        why=words.setting_why(low, high, unit),
    )  # fmt: skip
    asked = None if current is None else slip(Kind.E_STEPS, current, recorded)
    if asked is None or recorded is None or "current" in form.as_typed:
        return current
    meant = None if asked.fits is None else plain(round(asked.fits, form.tuned.setup.toolhead.machine.setting_places))
    code = "unit_slip" if asked.code is Code.SLIP else "far_off"
    said = words.asked_current_said(told_said(asked))
    form.fields.add(FieldProblem("current", code, said, suggested=meant, confirmable=True))
    return None


def _read_mark(form: Filled, commanded: float | None) -> float | None:
    mark = form.fields.number(
        "mark", form.typed.get("mark", ""), what=words.MARK_WHAT, low=1, high=LONGEST_FEED_MM + 500, why=words.MARK_WHY
    )
    if mark is not None and commanded is not None and mark <= commanded:
        farther = plain(commanded * MARK_BEYOND)
        said = words.mark_inside_said(mark, commanded, farther)
        form.fields.add(FieldProblem("mark", "nearer_than_commanded", said, suggested=farther))
    return mark
