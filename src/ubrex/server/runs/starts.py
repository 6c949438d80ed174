"""The start of a run: the ways to go through a step, the piece before it is printed, the run itself."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import partial
from typing import Any, Final, TypeAlias

from ubrex.core.chain import Kind, Step, rests_on
from ubrex.core.errors import OutOfRange
from ubrex.core.materials import family
from ubrex.core.quantity import ToolKind
from ubrex.server.calibrations import diameter, first_layer, towers, walls
from ubrex.server.calibrations.measured import JAWS
from ubrex.server.desk import Clash, FieldProblem, Missing, Refused, TypedFields, Work, find
from ubrex.server.printing import printed_on, printing_cautions
from ubrex.server.profile import Tuned, lock_toolhead, newest_value, refuse_danger, standing_of, tuned_of
from ubrex.server.runs import ratings, runs
from ubrex.server.store.records import Instrument, Run, Setup, SpoolEntry
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.records import SpoolEntryIn
from ubrex.server.views.runs import (
    PieceIn,
    RunOut,
    RunStartIn,
    StartFieldOut,
    StartMethodOut,
    StartOut,
    WetTestIn,
    WetTestOut,
)
from ubrex.server.words import towers as tower_words
from ubrex.server.words import walls as words
from ubrex.server.words.inventory import entry_said
from ubrex.server.words.numbers import day, plain
from ubrex.server.words.standing import STEP_NAMES, rests_said
from ubrex.server.workshop import Side, add_spool_entry, all_instruments, schools_out, setup_out, sides_of, usable_setup

Sides: TypeAlias = Mapping[str, Side]
Inputs: TypeAlias = walls.WallInputs | diameter.DiameterInputs | first_layer.PatchInputs | towers.TowerInputs


@dataclass(frozen=True, slots=True, kw_only=True)
class Filled:
    """A start form as somebody filled it in."""

    found: Tuned
    typed: Mapping[str, str]
    fields: TypedFields
    sides: Sides
    now: datetime

    @classmethod
    def of(cls, work: Work, found: Tuned, form: PieceIn) -> Filled:
        """A form that came in; what is wrong with it is gathered in ``fields``."""
        sides = sides_of(work.person_id)
        return cls(found=found, typed=form.values, fields=TypedFields(), sides=sides, now=work.now)


@dataclass(frozen=True, slots=True, kw_only=True)
class Way:
    """A way to go through a step."""

    method: str
    name: str
    why: str
    procedure: tuple[str, ...]
    reads: str
    tools: tuple[ToolKind, ...]
    offer: Callable[[Tuned, Sides], list[StartFieldOut]]
    read: Callable[[Filled], Inputs | None]
    preview: Callable[[Tuned, Any], PieceOut] | None

    @property
    def prints(self) -> bool:
        """Whether something is printed for it."""
        return self.preview is not None


WAYS: Final[Mapping[Step, tuple[Way, ...]]] = {
    Step.FLOW: (
        Way(
            method=walls.METHOD,
            name="Hollow box, walls measured",
            why="What comes out, as your part will have it: four walls, jaws below the rim.",
            procedure=words.BOX_PROCEDURE,
            reads="width of a wall",
            tools=JAWS,
            offer=lambda found, _: walls.start_fields(found),
            read=lambda form: walls.read(form.found, form.typed, form.fields, form.now),
            preview=walls.preview,
        ),
        Way(
            method=diameter.METHOD,
            name="Filament diameter",
            why="Before the box, when the label gives no tolerance. Enter it, or a flow: never both.",
            procedure=words.DIAMETER_PROCEDURE,
            reads="diameter",
            tools=JAWS,
            offer=lambda found, _: diameter.start_fields(found),
            read=lambda form: diameter.read(form.typed, form.fields),
            preview=None,
        ),
    ),
    Step.Z_OFFSET: (
        Way(
            method=first_layer.METHOD,
            name="Nine patches, measured",
            why="Offset, tilt and bend of the plate in one print. The pad comes first if the layer does not hold at all.",
            procedure=words.PATCH_PROCEDURE,
            reads="thickness of a patch",
            tools=JAWS,
            offer=lambda found, _: first_layer.start_fields(found),
            read=lambda form: first_layer.read(form.found, form.typed, form.fields),
            preview=first_layer.preview,
        ),
    ),
    Step.TEMPERATURE: (
        Way(
            method=towers.FOAM_METHOD,
            name="Foaming tower, measured",
            why="Single walls from cold to hot: where it swells most, and the flow that goes with it.",
            procedure=tower_words.FOAM_PROCEDURE,
            reads="width of a wall",
            tools=JAWS,
            offer=partial(towers.heat_fields, foaming=True),
            read=lambda form: towers.read_heat(form.found, form.typed, form.fields, form.sides, foaming=True),
            preview=towers.preview,
        ),
        Way(
            method=towers.TEMPERATURE_METHOD,
            name="Temperature tower, rated",
            why="Bands from cold to hot, each with a bridge, overhangs, a tip, a gap and a tab to snap.",
            procedure=tower_words.TOWER_PROCEDURE,
            reads="ratings of 0 to 4",
            tools=(),
            offer=partial(towers.heat_fields, foaming=False),
            read=lambda form: towers.read_heat(form.found, form.typed, form.fields, form.sides, foaming=False),
            preview=towers.preview,
        ),
    ),
    Step.RETRACTION: (
        Way(
            method=towers.PULL_METHOD,
            name="Retraction tower, rated",
            why="The shortest pull that is good enough; or that it is not the retraction.",
            procedure=tower_words.PULL_PROCEDURE,
            reads="ratings of 0 to 4",
            tools=(),
            offer=towers.pull_fields,
            read=lambda form: towers.read_pulls(form.found, form.typed, form.fields),
            preview=towers.preview,
        ),
    ),
}
"""Steps that are gone through here; e-steps have a start of their own. A way without tools is looked at."""

TEST_HOLDS: Final = timedelta(days=7)
"""So long a spool that was dried, or silent in the air, counts as dry (E)."""


def start_form(work: Work, setup_id: int, step: Step) -> StartOut:
    """What the start form of a step offers."""
    setup = usable_setup(setup_id)
    found = standing_of(setup, work.now)
    tools = all_instruments(work)
    sides = sides_of(work.person_id)
    ways = _ways(step, setup)
    open_run = runs.open_run_of(setup.id, step)
    return StartOut(
        setup=setup_out(setup),
        step=step,
        name=STEP_NAMES[step],
        methods=[
            StartMethodOut(
                method=way.method,
                name=way.name,
                why=way.why,
                procedure=list(way.procedure),
                reads=way.reads,
                fields=way.offer(found, sides),
                instruments=(usable := [tool for tool in tools if tool.kind in way.tools]),
                missing=""
                if usable or not way.tools
                else f"Needs a {' or '.join(kind.value for kind in way.tools)}: add one below.",
                prints=way.prints,
            )
            for way in ways
        ],
        cautions=printing_cautions(setup),
        rests_on=rests_said(rests_on(step, found.states)),
        wet_test=_wet_test(setup, work) if step in {Step.TEMPERATURE, Step.RETRACTION} else None,
        schools=schools_out(
            tuple(dict.fromkeys(key for way in ways for key in towers.SCHOOLS_OF.get(way.method, ()))), sides
        ),
        open_run_id=None if open_run is None else open_run.id,
    )


def _ways(step: Step, setup: Setup) -> tuple[Way, ...]:
    """Ways to go through a step on a setup; what foams is measured first, and only what foams."""
    if step not in WAYS:
        raise Missing(f"{STEP_NAMES[step]} cannot be measured here yet: type its value in.", step=step.value)
    foaming = family(setup.filament.family).foaming or "foaming" in setup.filament.flags
    return tuple(way for way in WAYS[step] if foaming or way.method != towers.FOAM_METHOD)


def _wet_test(setup: Setup, work: Work) -> WetTestOut | None:
    """The test that comes before a tower of thirsty filament; None where it is dry, or does not drink."""
    row = family(setup.filament.family)
    if not row.hygroscopic:
        return None
    last = None
    if setup.spool_id is not None:
        last = (
            SpoolEntry.select()
            .where(SpoolEntry.spool == setup.spool_id, SpoolEntry.kind.in_(("wet_test", "dried")))
            .order_by(SpoolEntry.at.desc(), SpoolEntry.id.desc())
            .first()
        )
    wet = last is not None and last.kind == "wet_test" and last.number > 0
    if last is not None and not wet and work.now - last.at <= TEST_HOLDS:
        return None
    dry = "Dry it as its maker says, then test again."
    if row.dry_c is not None and row.dry_h is not None:
        dry = (
            f"Dry it at {plain(row.dry_c.low)} °C for {plain(row.dry_h.low)} h, or as its maker says, then test again."
        )
    found = "" if last is None else f"{entry_said(last.kind, last.number, last.second)}, {day(last.at)}"
    return WetTestOut(sentence=tower_words.wet_test_said(dry), wet=wet, found=found, spool_id=setup.spool_id)


def note_wet_test(work: Work, setup_id: int, form: WetTestIn) -> StartOut:
    """Write down what 50 mm in the air sounded like; pops hold everything until it is dry."""
    setup = usable_setup(setup_id)
    if setup.spool_id is None:
        raise Clash(
            "This setup does not say which spool is on it, so there is nowhere to write it. Choose the spool on the bench.",
            code="no_spool",
        )
    entry = SpoolEntryIn(kind="wet_test", number=str(form.pops))
    add_spool_entry(work, setup.spool_id, entry)
    return start_form(work, setup_id, Step.TEMPERATURE)


def _way(method: str) -> Way:
    """A way by its name, whatever step it belongs to."""
    found = next((way for ways in WAYS.values() for way in ways if way.method == method), None)
    if found is None:
        raise Missing(f"There is no way named {method}.", method=method)
    return found


def show_piece(work: Work, setup_id: int, form: PieceIn) -> PieceOut:
    """A piece before it is printed: its drawing, size, minutes and grams; or the limit that keeps it from being written."""
    way, found = _way(form.method), tuned_of(usable_setup(setup_id))
    filled = Filled.of(work, found, form)
    inputs = way.read(filled)
    filled.fields.refuse_if_any()
    if way.preview is None or inputs is None:
        raise Clash("Nothing is printed for this.", code="no_file")
    try:
        return way.preview(found, inputs)
    except OutOfRange as error:
        raise Refused(
            FieldProblem(_field_of(error), "out_of_range", f"{str(error)[:1].upper()}{str(error)[1:]}.")
        ) from error


_FIELDS: Final = {
    "line_width_mm": "line_width", "width_mm": "line_width", "layer_mm": "layer", "height_mm": "layer", "bands": "hottest",
}  # fmt: skip


def _field_of(error: OutOfRange) -> str:
    return _FIELDS.get(str(error.details.get("name", "")), "line_width")


def start_run(work: Work, form: RunStartIn) -> RunOut:
    """Start a run of a step; there is one open run for each step of a setup."""
    person = work.person()
    setup = usable_setup(form.setup_id)
    way = next((one for one in _ways(form.step, setup) if one.method == form.method), None)
    if way is None:
        raise Missing(f"There is no way named {form.method}.", method=form.method)
    if way.prints:
        refuse_danger(setup)
    lock_toolhead(setup.toolhead_id)
    filled = Filled.of(work, tuned_of(setup), form)
    fields = filled.fields
    instrument = find(Instrument, form.instrument_id, "measuring tool") if way.tools else ratings.eyes()
    if way.tools and ToolKind(instrument.kind) not in way.tools:
        said = f"{instrument.name} cannot read this: choose another tool."
        fields.add(FieldProblem("instrument_id", "wrong_kind", said))
    inputs = way.read(filled)
    if form.step is Step.Z_OFFSET and setup.surface_id is None:
        said = (
            "An offset belongs to a build surface, and this setup does not say which one is on. Choose it on the bench."
        )
        fields.add(FieldProblem("current", "no_surface", said))
    fields.refuse_if_any()
    if inputs is None:
        raise Clash("Nothing was typed.", code="empty")
    if way.prints:
        show_piece(work, setup.id, form)
    return _create(
        work, Run(setup=setup, step=form.step.value, method=form.method, instrument=instrument), inputs, person.id
    )


def start_reprint(work: Work, run_id: int) -> RunOut:
    """Start the reprint that shows whether an applied flow is right."""
    person = work.person()
    before = runs.get_run(run_id)
    setup = usable_setup(before.setup_id)
    refuse_danger(setup)
    lock_toolhead(setup.toolhead_id)
    flow = newest_value(Kind.FLOW, setup)
    if before.method != walls.METHOD or before.state != "decided" or flow is None:
        raise Clash("There is no new flow to print again with.", code="nothing_to_verify")
    inputs = walls.again(
        walls.WallInputs.model_validate(before.inputs), before.id, flow.number, printed_on(tuned_of(setup))
    )
    run = Run(setup=setup, step=before.step, method=before.method, instrument=before.instrument)
    return _create(work, run, inputs, person.id)


def _create(work: Work, run: Run, inputs: Inputs, person_id: int) -> RunOut:
    open_run = runs.open_run_of(run.setup_id, Step(run.step))
    if open_run is not None:
        raise Clash(
            f"Run {open_run.id} of this step is still open. Go on with it, or leave it first.",
            code="run_open",
            run_id=open_run.id,
        )
    run.inputs = inputs.model_dump(mode="json")
    run.person_id, run.started_at = person_id, work.now
    run.save(force_insert=True)
    return runs.show_run(work, run.id)
