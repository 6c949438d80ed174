"""The start of a run: the ways to go through a step, the piece before it is printed, the run itself."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from datetime import UTC, datetime
from typing import Final

from ubrex.core.chain import Kind, Step, rests_on
from ubrex.core.errors import OutOfRange
from ubrex.core.judge import Code, gravest_first, judge_one, judge_parts
from ubrex.core.materials import Dryness, Stiffness, family
from ubrex.core.quantity import ToolKind
from ubrex.server.calibrations import CALIBRATIONS, EDITION, Begun, Calibration, Filled
from ubrex.server.desk import Clash, FieldProblem, Missing, Refused, TypedFields, Work, find
from ubrex.server.printing import piece_out
from ubrex.server.profile import (
    Tuned,
    dry_rows,
    dryness_of,
    lock_values,
    numbers_of,
    refuse_danger,
    standing_of,
    tuned_of,
)
from ubrex.server.runs._files import refuse_unwritable
from ubrex.server.runs._rate import eyes
from ubrex.server.runs._records import get_run, load_case, open_run_of
from ubrex.server.runs._view import show_run
from ubrex.server.store.records import Instrument, Machine, Run, Setup
from ubrex.server.views.forms import WhenOut
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.records import SpoolEntryIn
from ubrex.server.views.runs import PieceIn, RunOut, RunStartIn, StartMethodOut, StartOut, WetTestIn, WetTestOut
from ubrex.server.views.workshop import InstrumentOut
from ubrex.server.words import runs as words
from ubrex.server.words.judgement import told_said
from ubrex.server.words.preflight import heard_said, wet_test_said
from ubrex.server.words.standing import STEP_NAMES, rests_said
from ubrex.server.workshop import (
    add_spool_entry,
    all_instruments,
    drying_asked,
    keep_size,
    read_size,
    schools_out,
    setup_out,
    sides_of,
    size_fields,
    usable_setup,
)


def start_form(work: Work, setup_id: int, step: Step) -> StartOut:
    """What the start form of a step offers."""
    setup = usable_setup(setup_id)
    standing = standing_of(setup, work.now)
    sides, tools = sides_of(work.person_id), all_instruments(work)
    records = {row.id: row for row in Instrument.select()}
    ways = _ways(step, setup)
    methods = [_method(way, standing, tools, records, sides, work.now) for way in ways]
    open_run = open_run_of(setup.id, step)
    return StartOut(
        setup=setup_out(setup),
        step=step,
        name=STEP_NAMES[step],
        methods=methods,
        method=_usual_method(work, setup, ways, methods),
        rests_on=rests_said(rests_on(step, standing.states)),
        wet_test=_wet_test(setup, work) if any(way.dry_first for way in ways) else None,
        schools=schools_out(
            dict.fromkeys(key for way in ways for key in way.schools),
            sides,
            flexible=standing.parts.stiffness is Stiffness.FLEXIBLE,
        ),
        open_run_id=None if open_run is None else open_run.id,
    )


def _method(
    way: Calibration,
    tuned: Tuned,
    tools: Sequence[InstrumentOut],
    records: Mapping[int, Instrument],
    sides: object,
    now: datetime,
) -> StartMethodOut:
    # What sees most comes first: it is the one that is chosen unless somebody takes another.
    usable = sorted((tool for tool in tools if tool.kind in way.tools), key=lambda tool: tool.sees_mm)
    needs = "" if usable or not way.tools else words.needs_tool_said(" or ".join(kind.value for kind in way.tools))
    if way.piece is not None:
        cannot = [one for one in judge_parts(tuned.parts, numbers_of(tuned.values)) if one.code is Code.CANNOT_PRINT]
        needs = next(map(told_said, cannot), needs)
    offered = way.offer(tuned, sides)  # type: ignore[arg-type]
    size = size_fields(tuned.setup.toolhead.machine) if way.piece is not None else []
    if any(field.name == "own" for field in offered):
        size = [field.model_copy(update={"when": WhenOut(field="own", value="yes")}) for field in size]
    return StartMethodOut(
        method=way.method,
        name=way.words.name,
        why=list(way.words.why),
        procedure=list(way.words.procedure),
        reads=way.words.reads,
        cautions=way.cautions(tuned),
        drawing=way.drawing,
        fields=[*size, *offered],
        instruments=[tool.model_copy(update={"sees": way.sees(tuned, records[tool.id], now)}) for tool in usable],
        instrument_kind=next(iter(way.tools), None),
        missing=needs,
        prints=way.piece is not None,
    )


def _usual_method(work: Work, setup: Setup, ways: Sequence[Calibration], methods: Sequence[StartMethodOut]) -> str:
    """Of ways to the same values the one this person took last, else the first that suits; never one without its tool."""
    usable = [row.method for row in methods if not row.missing] or [row.method for row in methods]
    if len({way.kinds for way in ways}) > 1:
        return usable[0]
    last = (
        Run.select(Run.method)
        .where(Run.step == ways[0].step.value, Run.person == work.person_id)
        .order_by(Run.id.desc())
        .first()
    )
    before = [] if last is None else [str(last.method)]
    suiting = [way.method for way in ways if way.suits(setup)]
    return next((method for method in [*before, *suiting] if method in usable), usable[0])


def _ways(step: Step, setup: Setup) -> tuple[Calibration, ...]:
    """Ways to go through a step on a setup."""
    ways = CALIBRATIONS.of_step(step)
    if not ways:
        raise Missing(words.no_calibration(STEP_NAMES[step]), step=step.value)
    return tuple(way for way in ways if way.fits(setup))


def _wet_test(setup: Setup, work: Work) -> WetTestOut | None:
    """The test that comes before a tower of thirsty filament; None where it is dry, or does not drink."""
    row = family(setup.filament.family)
    if not row.hygroscopic:
        return None
    rows = dry_rows(setup)
    state = dryness_of(setup, rows, work.now)
    if state is Dryness.DRY:
        return None
    last = rows[0] if rows else None
    found = "" if last is None else heard_said(last.kind, last.number, datetime.fromtimestamp(last.at_s, UTC))
    return WetTestOut(
        sentence=wet_test_said(state, drying_asked(setup.filament)),
        wet=state is Dryness.WET,
        found=found,
        spool_id=setup.spool_id,
    )


def note_wet_test(work: Work, setup_id: int, form: WetTestIn, step: Step) -> StartOut:
    """Write down what 50 mm in the air sounded like; pops hold everything until it is dry."""
    setup = usable_setup(setup_id)
    if setup.spool_id is None:
        raise Clash(words.NO_SPOOL, code="no_spool")
    add_spool_entry(work, setup.spool_id, SpoolEntryIn(kind="wet_test", number=str(form.pops)))
    return start_form(work, setup_id, step)


def _asks_size(way: Calibration, machine: Machine, typed: Mapping[str, str]) -> bool:
    """Whether something is drawn for a machine whose size nobody has said; not where the piece is sliced elsewhere."""
    return way.piece is not None and typed.get("own") != "no" and size_fields(machine) != []


def _filled(work: Work, tuned: Tuned, form: PieceIn, instrument: Instrument | None) -> Filled:
    fields, machine = TypedFields(), tuned.setup.toolhead.machine
    way = CALIBRATIONS.get(form.method)
    if way is not None and _asks_size(way, machine, form.values):
        read_size(machine, form.values, fields, form.as_typed)
        fields.refuse_if_any()
    return Filled(
        tuned=tuned,
        method=form.method,
        typed=form.values,
        fields=fields,
        sides=sides_of(work.person_id),
        now=work.now,
        as_typed=frozenset(form.as_typed),
        instrument=instrument,
    )


def show_piece(work: Work, setup_id: int, form: PieceIn) -> PieceOut:
    """A piece before it is printed: its drawing, size, minutes and grams; or the limit that keeps it from being written."""
    way = CALIBRATIONS.get(form.method)
    if way is None:
        raise Missing(words.no_method(form.method), method=form.method)
    filled = _filled(work, tuned_of(usable_setup(setup_id)), form, None)
    begun = way.read(filled)
    filled.fields.refuse_if_any()
    if way.piece is None or begun is None:
        raise Clash(words.NOTHING_PRINTED, code="no_file")
    return _drawn(way, filled, begun)


def _drawn(way: Calibration, filled: Filled, begun: Begun) -> PieceOut:
    assert way.piece is not None
    tuned = filled.tuned
    try:
        piece, manner = way.piece(tuned, begun.inputs)
    except OutOfRange as error:
        said = f"{str(error)[:1].upper()}{str(error)[1:]}."
        raise Refused(FieldProblem(_field_of(error, filled.typed), "out_of_range", said)) from error
    remarks = [] if way.remarks is None else way.remarks(tuned, begun.inputs)
    return piece_out(piece, tuned, manner, [*said_against(tuned, begun.inputs.printed_with), *remarks])


def said_against(tuned: Tuned, numbers: Sequence[tuple[Kind, float]]) -> list[str]:
    """What the judgement says of the numbers a piece is printed with: it is printed all the same, to find out."""
    values = numbers_of(tuned.values) | dict(numbers)
    found = [one for kind, number in numbers for one in judge_one(tuned.parts, values, kind, number)]
    return list(dict.fromkeys(told_said(one) for one in gravest_first(found)))


_FIELDS: Final = {
    "line_width_mm": "line_width", "width_mm": "line_width", "layer_mm": "layer", "height_mm": "layer", "bands": "hottest",
}  # fmt: skip
"""Fields at which it is said what a piece cannot be, by what the core calls it."""


def _field_of(error: OutOfRange, typed: Collection[str]) -> str:
    name = str(error.details.get("name", ""))
    return name if name in typed else _FIELDS.get(name, "line_width")


def start_run(work: Work, form: RunStartIn) -> RunOut:
    """Start a run of a step; there is one open run for each step of a setup."""
    person = work.person()
    setup = usable_setup(form.setup_id)
    way = next((one for one in _ways(form.step, setup) if one.method == form.method), None)
    if way is None:
        raise Missing(words.no_method(form.method), method=form.method)
    if way.heats:
        refuse_danger(setup)
    lock_values()
    instrument = _instrument(way, form)
    unsized = _asks_size(way, setup.toolhead.machine, form.values)
    filled = _filled(work, tuned_of(setup), form, instrument)
    if way.tools and ToolKind(instrument.kind) not in way.tools:
        said = words.wrong_tool_said(instrument.name)
        filled.fields.add(FieldProblem("instrument_id", "wrong_kind", said))
    begun = way.read(filled)
    if way.needs_surface and setup.surface_id is None:
        filled.fields.add(FieldProblem("current", "no_surface", words.NO_SURFACE))
    filled.fields.refuse_if_any()
    if begun is None:
        raise Clash(words.NOTHING_PRINTED, code="empty")
    if way.piece is not None:
        _drawn(way, filled, begun)
    if unsized:
        keep_size(filled.tuned.setup.toolhead.machine)
    run = Run(setup=setup, step=form.step.value, method=form.method, instrument=instrument)
    return _create(work, run, begun, person.id)


def _instrument(way: Calibration, form: RunStartIn) -> Instrument:
    """The tool it is read with; eyes where it is looked at."""
    if not way.tools:
        return eyes()
    if form.instrument_id is None:
        raise Refused(FieldProblem("instrument_id", "missing", words.needs_tool_said(way.tools[0].value)))
    return find(Instrument, form.instrument_id, "measuring tool")


def start_reprint(work: Work, run_id: int) -> RunOut:
    """Start the reprint that shows whether an applied value is right."""
    person = work.person()
    before = get_run(run_id)
    setup = usable_setup(before.setup_id)
    refuse_danger(setup)
    lock_values()
    again = load_case(before, work).again()
    if again is None:
        raise Clash(words.NOTHING_TO_VERIFY, code="nothing_to_verify")
    run = Run(setup=setup, step=before.step, method=before.method, instrument=before.instrument)
    return _create(work, run, Begun(inputs=again.inputs), person.id)


def _create(work: Work, run: Run, begun: Begun, person_id: int) -> RunOut:
    open_run = open_run_of(run.setup_id, Step(run.step))
    if open_run is not None:
        raise Clash(words.still_open_said(open_run.id), code="run_open", run_id=open_run.id)
    run.inputs = begun.inputs.model_dump(mode="json") | {"edition": EDITION}
    run.fed_at = begun.made_at
    run.person_id, run.started_at = person_id, work.now
    run.save(force_insert=True)
    refuse_unwritable(load_case(run, work))
    return show_run(work, run.id)
