"""Flow from the walls of a hollow box: the piece, its readings by place, and what they say."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property
from typing import Any, Final, Literal

from pydantic import BaseModel, ConfigDict

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    FLOW_RULE_VERSION,
    FLOW_TOLERANCE_PCT,
    FLOW_TOLERANCES_PCT,
    ZERO_CHECKED_ERROR_MM,
    FlowResult,
    PairResult,
    Reprint,
    WallSample,
    evaluate_flow,
    evaluate_pair,
    feed_ratio,
    judge_reprint,
)
from ubrex.core.chain import Kind, Origin, Purpose, Standing
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import Heat
from ubrex.core.gcode.pieces import POSITIONS_A_WALL, WALLS, BoxOptions, Piece, Place, hollow_box
from ubrex.core.materials import family
from ubrex.core.quantity import (
    FarOff,
    Impossible,
    Reason,
    Slip,
    Tool,
    Unit,
    Verdict,
    check_entry,
    decimal_text,
)
from ubrex.server.calibrations import edits, placed
from ubrex.server.calibrations.measured import MeasuredCase
from ubrex.server.desk import FieldProblem, Refused, TypedFields
from ubrex.server.printing import (
    Offer,
    PrintedOn,
    Printing,
    StartReader,
    choice,
    field,
    machine_limits,
    manner_of,
    no_piece,
    piece_out,
    printed_on,
    printing_cautions,
    write_piece,
)
from ubrex.server.profile import (
    NewValue,
    Tuned,
    esteps_at,
    newest_esteps,
    newest_revision,
    readings_of,
    strike_of,
    tuned_of,
)
from ubrex.server.store.records import Decision, Instrument, Reading, Run
from ubrex.server.views.base import CautionOut, CellOut
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.runs import ResultOut, RunEditIn, StartFieldOut
from ubrex.server.views.values import PlateOut, StripOut, StripReadingOut, StripStruckOut
from ubrex.server.words import walls as words
from ubrex.server.words.numbers import NBSP, day, plain, plus_minus, signed, step_places, unit_text

METHOD: Final = "box"
FIRST_A_WALL: Final = 1
ZERO_HOLDS: Final = timedelta(hours=12)
"""A zero that was checked counts for the evening."""

STUCK: Final = 8
"""So many readings that are all the same are a stuck calliper rather than a perfect wall."""

ROUNDS: Final = {
    "".join(way[(start + step) % 4] for step in range(4)) for way in (WALLS, WALLS[::-1]) for start in range(4)
}
"""Orders in which somebody can go round a box: from any wall, either way."""

GROUPS: Final[dict[str, tuple[int, ...]]] = {"one": (1,), "two": (2,), "both": (1, 2)}
GROUP_NAMES: Final = {1: "one line", 2: "two lines"}


class WallInputs(BaseModel):
    """What a flow run keeps besides its readings; ``current`` is the flow it was printed with [%].

    ``walked``: the walls in the order in which somebody really went round, for the first ``walked_to`` readings.
    ``tolerance_pct``: what was worth a change for the purpose of the setup when it began.
    """

    model_config = ConfigDict(frozen=True)

    current: float
    unit: Unit = Unit.PERCENT
    places: int = 1
    asked: int
    walls: Literal["one", "two", "both"]
    own: bool = True
    line_width_mm: float
    layer_mm: float
    first_layer_mm: float
    spacing_mm: float | None = None
    nozzle_c: float
    bed_c: float | None = None
    first_nozzle_c: float | None = None
    first_bed_c: float | None = None
    fan_pct: float = 0.0
    verifies: int | None = None
    zero_mm: float = 0.0
    skipped: list[str] = []
    rescaled: str = ""
    walked: str = "".join(WALLS)
    walked_to: int = 0
    tolerance_pct: float = FLOW_TOLERANCE_PCT
    on: PrintedOn | None = None

    @property
    def bead(self) -> Bead:
        """The line of the walls."""
        return Bead(width_mm=self.line_width_mm, height_mm=self.layer_mm)

    @property
    def groups(self) -> tuple[int, ...]:
        """Numbers of lines that were printed."""
        return GROUPS[self.walls]

    @property
    def order(self) -> list[str]:
        """Places in walking order: one on each wall first, then two more."""
        return [
            f"{lines}{wall}{number}"
            for number in range(1, POSITIONS_A_WALL + 1)
            for lines in self.groups
            for wall in WALLS
        ]

    @property
    def printing(self) -> Printing:
        """How the piece is printed."""
        heat = Heat(
            nozzle_c=self.nozzle_c,
            bed_c=self.bed_c,
            first_nozzle_c=self.first_nozzle_c,
            first_bed_c=self.first_bed_c,
        )
        return Printing(heat=heat, fan_pct=self.fan_pct, flow=self.current / 100)


@dataclass(frozen=True)
class WallCase(MeasuredCase[WallInputs]):
    """A flow run with its readings."""

    rule_version = FLOW_RULE_VERSION
    inputs_kind = WallInputs
    edits = ("zero", "walked", "skip")

    @property
    def asked(self) -> int:
        """Readings asked for before a result is shown."""
        first = self.inputs.order[: self.inputs.asked]
        return self.inputs.asked - len(set(first) & set(self.inputs.skipped))

    @property
    def blind(self) -> bool:
        """Whether the readings first asked for are not in yet: whoever knows the wanted width squeezes until it fits."""
        return self.run.state == "open" and len(self.readings) < self.asked

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """A zero, a wall passed over, or the order in which somebody went round until now."""
        edit = super().edited(form) | edits.skip(form, self.next_place(), self.inputs.skipped)
        if form.walked is not None:
            if form.walked not in ROUNDS:
                said = "One goes round from any wall, one way or the other."
                raise Refused(FieldProblem("walked", "no_such_order", said))
            edit |= {"walked": form.walked, "walked_to": self.inputs.walked_to or len(self.rows)}
        return edit

    def place_of(self, reading: Reading) -> str:
        """Where a reading was really taken: not where it was asked for, if somebody went round in another order."""
        place = reading.place or ""
        if not place or reading.position > self.inputs.walked_to:
            return place
        return place[0] + self.inputs.walked[WALLS.index(place[1])] + place[2:]

    def place_text(self, reading: Reading) -> str:
        """The wall and which time round; how many lines it has is told by the drawing."""
        place = self.place_of(reading)
        return place[1:] if len(place) == len("1A1") else place

    def sample(self, lines: int) -> WallSample:
        """The walls of so many lines, as the core judges them; the coarsest tool counts."""
        rows: dict[str, list[float]] = {wall: [] for wall in WALLS}
        tools = []
        for reading in self.readings:
            place = self.place_of(reading)
            if place.startswith(str(lines)):
                rows[place[1]].append(reading.number - self.inputs.zero_mm)
                tools.append(_tool(reading, self.run.instrument))
        usual = self.run.instrument.to_core()
        return WallSample(
            readings=tuple(tuple(row) for row in rows.values()),
            bead=self.inputs.bead,
            tool=max(tools or [usual], key=lambda tool: tool.std),
            lines=lines,
            spacing_mm=self.inputs.bead.solid_mm if self.inputs.own else self.inputs.spacing_mm,
            foaming=family(self.run.setup.filament.family).foaming or "foaming" in self.run.setup.filament.flags,
        )

    @cached_property
    def pair(self) -> PairResult | None:
        """What one and two lines say together, where both were printed."""
        if self.inputs.walls != "both":
            return None
        return evaluate_pair(self.sample(1), self.sample(2), tolerance_pct=self.inputs.tolerance_pct)

    @cached_property
    def single(self) -> FlowResult:
        """What the walls of the group that is shown say."""
        return evaluate_flow(self.sample(self.shown), tolerance_pct=self.inputs.tolerance_pct)

    @property
    def shown(self) -> int:
        """Lines of the walls that the strip shows: those of the last reading."""
        last = next(reversed(self.readings), None)
        return self.inputs.groups[0] if last is None or not last.place else int(last.place[0])

    @property
    def verdict(self) -> tuple[Verdict, Reason]:
        """Verdict and reason of the whole run."""
        found = self.pair or self.single
        return found.verdict, found.reason

    @property
    def factor(self) -> float:
        """What multiplies the flow."""
        if self.pair is not None and self.pair.both is not None:
            return self.pair.both.factor
        return 1.0 if self.single.figures is None else self.single.figures.factor

    @property
    def half_width_pct(self) -> float | None:
        """95 % half-width of the proposal [% of flow]."""
        if self.pair is not None:
            return None if self.pair.both is None else self.inputs.current * self.pair.half_width_95_pct / 100
        figures = self.single.figures
        return None if figures is None else self.inputs.current * figures.half_width_95_pct / 100

    @property
    def proposal(self) -> float:
        """Flow to apply [%], as it is typed."""
        return round(self.inputs.current * self.factor, 1)

    @property
    def proven(self) -> bool:
        """Whether a change is proven to be worth making."""
        return self.verdict[0] is Verdict.APPLY

    @property
    def more(self) -> int | None:
        """Readings that would settle it."""
        if self.pair is None:
            return self.single.more_readings
        wanted = [found.more_readings for found in (self.pair.single, self.pair.double)]
        return None if None in wanted else sum(count or 0 for count in wanted)

    @cached_property
    def reprint(self) -> Reprint | None:
        """What this reprint says of the value it was printed with; None for a first print."""
        if self.inputs.verifies is None or self.pair is not None:
            return None
        before = Run.get_or_none(Run.id == self.inputs.verifies)
        if before is None:
            return None
        earlier = WallCase(before, readings_of(before.id), self.work)
        if earlier.inputs.walls != self.inputs.walls:
            return None
        ratio = self.inputs.current / earlier.inputs.current
        return judge_reprint(evaluate_flow(earlier.sample(self.shown)), self.sample(self.shown), ratio)

    def method_name(self) -> str:
        """How it is measured."""
        lines = {"one": "walls of one line", "two": "walls of two lines", "both": "one and two lines"}[
            self.inputs.walls
        ]
        return (
            f"{'reprint of run ' + str(self.inputs.verifies) + ', ' if self.inputs.verifies else ''}hollow box, {lines}"
        )

    def procedure(self) -> list[str]:
        """How it goes."""
        return list(words.BOX_PROCEDURE)

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        return "width of a wall" if place is None else place_said(place, both=self.inputs.walls == "both")

    def cells(self) -> list[CellOut]:
        """Flow it was printed with, line, heat; the width of a line only when nobody can aim for it any more."""
        inputs = self.inputs
        bed = "bed not heated" if inputs.bed_c is None else f"bed {plain(inputs.bed_c)} °C"
        return [
            CellOut(label="Printed with flow", value=f"{decimal_text(inputs.current, 1)} %", detail=inputs.rescaled),
            CellOut(
                label="Layer" if self.blind else "Line",
                value=f"{plain(inputs.layer_mm)} mm"
                if self.blind
                else f"{plain(inputs.line_width_mm)} x {plain(inputs.layer_mm)} mm",
                detail=f"nozzle {plain(inputs.nozzle_c)} °C, {bed}",
            ),
        ]

    def cautions(self) -> list[CautionOut]:
        """What can hurt when it is printed and taken off."""
        return printing_cautions(self.run.setup)

    def question(self, number: float) -> FieldProblem | None:
        """What to ask about a width before it is taken."""
        place = self.next_place() or self.inputs.order[0]
        lines = int(place[0])
        expected = self.sample(lines).expected_mm
        found = check_entry(number, fed=lambda width: width, commanded=expected, low=expected / 5, high=expected * 5)
        shown = f"{plain(number)} mm"
        match found:
            case None:
                return None
            case Slip(suggested=suggested):
                return FieldProblem(
                    "typed", found.code, f"{shown} looks like a slipped point. Did you mean {plain(suggested)} mm?",
                    suggested=plain(suggested), confirmable=expected / 5 <= number < expected * 5,
                )  # fmt: skip
            case Impossible():
                said = (
                    "A width is above 0."
                    if number <= 0
                    else f"{shown} cannot be a wall of this box. Enter takes it as typed."
                )
                return FieldProblem("typed", found.code, said, confirmable=number > 0)
            case FarOff():
                other = self.sample(3 - lines).expected_mm
                said = (
                    f"{shown} is far from what any flow would make of this wall. Look again; Enter takes it as typed."
                )
                if abs(number - other) < abs(number - expected):
                    said = (
                        f"{shown} is nearer to {GROUP_NAMES[3 - lines]} than to {GROUP_NAMES[lines]}. Is this the right "
                        "box, and wall? Enter takes it as typed."
                    )
                return FieldProblem("typed", found.code, said, confirmable=True)

    def finding(self) -> str | None:
        """One reading far from the rest, or readings that are too much alike; told by the place."""
        numbers = [reading.number for reading in self.readings]
        if len(numbers) >= STUCK and len(set(numbers)) == 1 and self.inputs.walls != "both":
            return f"All {len(numbers)} read {plain(numbers[0])}: is the calliper stuck, or locked?"
        figures = self.single.figures
        if figures is None or not figures.flagged or len(self.readings) < self.asked:
            return None
        sample = self.sample(self.shown)
        flat = [(wall, index) for wall, row in zip(WALLS, sample.readings, strict=True) for index in range(len(row))]
        wall, index = flat[figures.flagged[0]]
        value = sample.readings[WALLS.index(wall)][index]
        off = value - figures.wall.mean_mm
        where = "above" if off > 0 else "below"
        return (
            f"{wall}{index + 1} is {decimal_text(abs(off), 2)} {where} the rest: seam, blob or corner? Measure it again, "
            "or strike it out with its cause."
        )

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown."""
        count = len(self.readings)
        if count == 0 or (count < self.asked and not early):
            return None
        verdict, reason = self.verdict
        figures = self.single.figures
        half = self.half_width_pct
        refused = verdict is Verdict.REFUSE or figures is None
        proposal = decimal_text(self.proposal, 1)
        low, high = (decimal_text(self.proposal + sign * (half or 0.0), 1) for sign in (-1, 1))
        sentence = words.REFUSALS[reason] if refused or figures is None else ""
        if not refused and figures is not None:
            sentence = words.flow_said(
                verdict,
                reason,
                figures,
                wanted_mm=self.sample(self.shown).width_at(1.0),
                tolerance_pct=self.inputs.tolerance_pct,
                proposal=proposal,
                low=low,
                high=high,
                more=self.more,
            )
        change = self.proposal - self.inputs.current
        remarks = [words.reprint_said(self.reprint)] if self.reprint is not None else []
        if self.inputs.tolerance_pct != FLOW_TOLERANCE_PCT:
            remarks.append(words.tolerance_said(self.inputs.tolerance_pct))
        if self.inputs.rescaled:
            remarks.append(self.inputs.rescaled)
        if self.inputs.walked_to:
            remarks.append(words.walked_said(self.inputs.walked))
        if self.inputs.zero_mm:
            remarks.append(words.zero_said(self.inputs.zero_mm))
        if self.pair is not None and self.pair.both is not None:
            remarks.append(
                f"One line alone says {_pct(self.inputs.current, self.pair.single)}, two say "
                f"{_pct(self.inputs.current, self.pair.double)}."
            )
        return ResultOut(
            verdict=verdict,
            reason=reason,
            title=words.title_said(verdict, reason, proposal, self.more),
            sentence=sentence,
            limits=words.NARROWER if reason is Reason.CHANGE_METHOD else "",
            remarks=remarks,
            so_far=count < self.asked or reason is Reason.MORE_REPEATS,
            blue=verdict is Verdict.APPLY,
            proposal=proposal,
            half_width_text="" if half is None else plus_minus(half),
            change=f"was {decimal_text(self.inputs.current, 1)}, {'up' if change > 0 else 'down'} "
            f"{decimal_text(abs(change), 1)}",
            unit_text=unit_text(Unit.PERCENT.value),
            can_apply=not refused,
            can_keep=not refused,
            ask_before=words.before_proof_said(verdict, proposal),
            keep_text=decimal_text(self.inputs.current, 1),
        )

    def strip(self, shown: ResultOut | None) -> StripOut:
        """The strip of the walls against the width they should have."""
        sample = self.sample(self.shown)
        places = max(2, step_places(sample.tool.resolution))
        figures = self.single.figures
        if shown is None or figures is None:
            return StripOut(
                unit="mm", places=places, step=sample.tool.resolution,
                sentence="The strip stays bare until the first readings asked for are in.", standing=Standing.NEVER,
                measured_name="wall, mm",
            )  # fmt: skip
        group = str(self.shown)
        taken = [row for row in self.readings if row.place and row.place.startswith(group)]
        target = sample.width_at(1.0)
        half = figures.half_width_95_pct / 100 / figures.factor**2 / sample.per_mm
        return StripOut(
            unit="mm",
            places=places,
            step=sample.tool.resolution,
            target=round(target, 3),
            low=sample.width_at(1 / (1 + self.inputs.tolerance_pct / 100)),
            high=sample.width_at(1 / (1 - self.inputs.tolerance_pct / 100)),
            readings=[
                StripReadingOut(
                    number=row.number - self.inputs.zero_mm,
                    text=decimal_text(row.number, places),
                    newest=row is taken[-1],
                )
                for row in taken
            ],
            struck=[
                StripStruckOut(
                    number=row.number - self.inputs.zero_mm,
                    note=f"{decimal_text(row.number, places)} struck out: {strike.reason}",
                )
                for row in self.rows
                if (strike := strike_of(row)) is not None
                and not strike.at_once
                and row.place
                and row.place.startswith(group)
            ],
            mean=figures.wall.mean_mm,
            half_width=half,
            mean_note=f"mean {decimal_text(figures.wall.mean_mm, 3)} {plus_minus(half)}",
            move_to=round(target, 3) if shown.blue else None,
            move_note=f"{signed(figures.wall.mean_mm - target, 3)}{NBSP}mm" if shown.blue else "",
            plate=PlateOut(text=shown.proposal, beside=shown.change) if shown.can_apply else None,
            proposal_name="Flow to set, %",
            measured_name="wall, mm",
            standing=Standing.FRESH,
            sentence=(
                f"{len(taken)} readings of {GROUP_NAMES[self.shown]}, mean {decimal_text(figures.wall.mean_mm, 3)} "
                f"{plus_minus(half)} mm; jaws would read {decimal_text(target, 2)} mm at the right flow. {shown.title}."
            ),
        )

    def next_place(self) -> str | None:
        """The place that is measured next."""
        return placed.first_open(self.inputs.order, map(self.place_of, self.readings), self.inputs.skipped)

    def piece(self) -> PieceOut | None:
        """The box with its places."""
        found = tuned_of(self.run.setup)
        try:
            made, manner = box_of(found, self.inputs)
        except OutOfRange as error:
            return no_piece("Hollow box", str(error), "line_width")
        spots = _spots(made)
        texts = {self.place_of(row): decimal_text(row.number, step_places(row.resolution)) for row in self.readings}
        shown = placed.places_out(
            spots, self.inputs.order[: self.inputs.asked], texts, self.next_place(), self.inputs.skipped
        )
        return piece_out(made, found, manner, shown, [])

    def file(self) -> str:
        """Text of the file that prints it."""
        found = tuned_of(self.run.setup)
        made, manner = box_of(found, self.inputs)
        head = [("piece", self.method_name()), ("run", str(self.run.id)), *heading(made)]
        revision = newest_revision(self.run.setup_id)
        return write_piece(found, made, self.inputs.printing, manner, head, revision=revision)

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self.single.figures
        kept: dict[str, Any] = {"count": len(self.readings), "factor": self.factor}
        if figures is not None:
            kept |= {
                "wall_mm": figures.wall.mean_mm, "expected_mm": figures.expected_mm, "error_pct": figures.error_pct,
                "half_width_95_pct": figures.half_width_95_pct,
            }  # fmt: skip
        if self.reprint is not None:
            kept["reprint"] = self.reprint.value
        return kept

    def decided(self, decision: Decision) -> list[NewValue]:
        """The flow, applied or kept: measured here either way."""
        number = self.proposal if decision.action == "apply" else self.inputs.current
        return [
            NewValue(
                kind=Kind.FLOW,
                number=number,
                unit=Unit.PERCENT,
                half_width_95=self.half_width_pct,
                origin=Origin.MEASURED,
                run_id=self.run.id,
                decision_id=decision.id,
            )
        ]

    def overtaken(self) -> str:
        """Whether the e-steps were changed since the piece was printed."""
        newest = newest_esteps(self.run.setup.toolhead_id)
        since: datetime = self.run.fed_at or self.run.started_at
        if newest is None or newest.at <= since:
            return ""
        return (
            f"E-steps of {self.run.setup.toolhead.machine.name} were changed on {day(newest.at)}, after this piece was "
            "printed. Its walls would correct the same error twice: leave this run and print again, or start one with the "
            "flow rescaled."
        )


def _tool(reading: Reading, instrument: Instrument) -> Tool:
    """What a reading can be trusted with: on thin walls only the zero matters, once it was checked that evening."""
    error = reading.max_permissible_error
    checked = instrument.zero_checked_at
    if reading.instrument_id == instrument.id and checked is not None and abs(reading.taken_at - checked) <= ZERO_HOLDS:
        error = min(error, ZERO_CHECKED_ERROR_MM)
    return Tool(resolution=reading.resolution, max_permissible_error=error)


def _pct(current: float, found: FlowResult) -> str:
    return "nothing" if found.figures is None else f"{decimal_text(current * found.figures.factor, 1)} %"


def place_said(place: str, *, both: bool) -> str:
    """A place in words."""
    lines = f", {GROUP_NAMES[int(place[0])]}" if both else ""
    return f"wall {place[1]}, {words.SPANS[place[2]]}{lines}"


def _spots(piece: Piece) -> dict[str, Place]:
    """Places of a box by their key."""
    lines = {name: number for number, name in GROUP_NAMES.items()}
    return {f"{lines[place.group]}{place.name}": place for place in piece.plan.places}


def heading(piece: Piece) -> list[tuple[str, str]]:
    """What the head of a file says of a box."""
    two = piece.bead.wall_mm(2, piece.spacing_mm)
    return [("expected width", f"one line {piece.bead.width_mm:.3f} mm, two lines {two:.3f} mm")]


def box_of(found: Tuned, inputs: WallInputs) -> tuple[Piece, Any]:
    """The box of a run, and how it is printed.

    Raises
    ------
    OutOfRange
        If line, layer or size do not go with the bore or the bed.
    """
    held = machine_limits(found, still=True)
    manner = manner_of(found, inputs.bead, inputs.current / 100, held)
    on = inputs.on or printed_on(found)
    return hollow_box(options_of(found, inputs), on.volume, manner), manner


def options_of(found: Tuned, inputs: WallInputs) -> BoxOptions:
    """The box of a run, without the bed it stands on."""
    return BoxOptions(
        bore_mm=(inputs.on or printed_on(found)).bore_mm,
        line_width_mm=inputs.line_width_mm,
        layer_mm=inputs.layer_mm,
        first_layer_mm=inputs.first_layer_mm,
        walls=inputs.walls,
        fan_pct=inputs.fan_pct,
    )


def start_fields(found: Tuned) -> list[StartFieldOut]:
    """What is asked before a box is printed, filled in with what the setup has."""
    offer = Offer(found)
    return [
        choice(
            "walls", "Walls", {"one": "One line", "two": "Two lines", "both": "Both, in one print"}, "one",
            "One line is the plainest. Both tell a wrong zero from a wrong flow.",
        ),
        choice("own", "Written by", {"yes": "Ubrex", "no": "my slicing program"}, "yes"),
        field("current", "Printed with flow", "%", offer.flow(), "The calibrated one; a bias on purpose is left out."),
        offer.line_width(),
        offer.layer(),
        offer.first_layer(),
        field("spacing", "Two lines lie apart", "mm", "", "Only for a sliced box: the spacing in its file.", "own=no"),
        *offer.nozzles(),
        *offer.beds(),
        offer.fan(),
        field("printed_at", "Printed already, on", "", "", "Leave empty for a piece still to be printed."),
        choice(
            "rescale", "If e-steps changed since", {"no": "refuse it", "yes": "rescale its flow"}, "no",
            when="printed_at",
        ),
    ]  # fmt: skip


_FIELDS: Final = (
    "current", "line_width", "layer", "first_layer", "spacing", "first_nozzle", "nozzle", "first_bed", "bed", "fan",
)  # fmt: skip


def read(found: Tuned, typed: Mapping[str, str], fields: TypedFields, now: datetime) -> WallInputs | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    walls: Literal["one", "two", "both"] = "one"
    match typed.get("walls"):
        case "two":
            walls = "two"
        case "both":
            walls = "both"
        case _:
            pass
    own = typed.get("own", "yes") != "no"
    reader = StartReader(found, typed, fields, still=not own)
    current = reader.value("current", "Flow", Kind.FLOW)
    width, layer = reader.line_width(), reader.layer("layer", "The layer")
    first = reader.layer("first_layer", "The first layer")
    spacing = None
    if not own and walls != "one":
        bore = reader.bore_mm
        spacing = reader.number("spacing", "The spacing", 0.5 * bore, 2 * bore, "lines lie about a line width apart")
    nozzle, bed, fan = reader.nozzle("nozzle", "The nozzle"), reader.bed(), reader.fan()
    first_nozzle, first_bed = reader.first_nozzle(), reader.first_bed()
    rescaled = ""
    if typed.get("printed_at", "").strip():
        current, rescaled = _judge_printed(found, typed, current, fields, now)
    if reader.wrong(*_FIELDS):
        return None
    return WallInputs(
        current=current,
        asked=len(WALLS) * len(GROUPS[walls]) * FIRST_A_WALL,
        walls=walls,
        own=own,
        line_width_mm=width,
        layer_mm=layer,
        first_layer_mm=first,
        spacing_mm=spacing,
        nozzle_c=nozzle,
        bed_c=bed,
        first_nozzle_c=first_nozzle,
        first_bed_c=first_bed,
        fan_pct=fan,
        rescaled=rescaled,
        tolerance_pct=FLOW_TOLERANCES_PCT[Purpose(found.setup.purpose)],
        on=printed_on(found),
    )


def _judge_printed(
    found: Tuned, typed: Mapping[str, str], current: float, fields: TypedFields, now: datetime
) -> tuple[float, str]:
    """Flow of a piece that was printed before, as it would be at the e-steps of now; and the arithmetic."""
    try:
        at = datetime.fromisoformat(typed["printed_at"].strip())
    except ValueError:
        fields.add(FieldProblem("printed_at", "not_a_date", "That is not a day and time."))
        return current, ""
    at = at if at.tzinfo is not None else at.replace(tzinfo=now.tzinfo)
    if at > now:
        fields.add(FieldProblem("printed_at", "in_future", "That lies in the future: when was it printed?"))
        return current, ""
    newest = found.values.get(Kind.E_STEPS)
    if newest is None or at.timestamp() >= newest.at_s:
        return current, ""
    before = esteps_at(found.setup, at)
    if before is None or before.unit != newest.unit:
        fields.add(
            FieldProblem("printed_at", "sample_too_old", "E-steps were changed since, and it is not known from what.")
        )
        return current, ""
    rescaled = round(current / feed_ratio(before.number, newest.number, Unit(newest.unit)), 2)
    sum_said = (
        f"{plain(current)} % at {plain(before.number)} feeds as much as {plain(rescaled)} % at {plain(newest.number)} "
        f"{unit_text(newest.unit)}"
    )
    if typed.get("rescale") != "yes":
        said = f"E-steps were changed since: the same error would be corrected twice. {sum_said}: choose “rescale its flow”."
        fields.add(FieldProblem("printed_at", "sample_too_old", said))
        return current, ""
    return rescaled, f"rescaled: {sum_said}"


def again(inputs: WallInputs, run_id: int, flow: float, on: PrintedOn) -> WallInputs:
    """The reprint that shows whether a new flow is right: the same box at that flow."""
    first = {"skipped": [], "rescaled": "", "walked_to": 0}
    return inputs.model_copy(update=first | {"current": flow, "verifies": run_id, "own": True, "on": on})


def preview(found: Tuned, inputs: WallInputs) -> PieceOut:
    """The box before it is printed."""
    piece, manner = box_of(found, inputs)
    spots = _spots(piece)
    order = inputs.order[: inputs.asked]
    shown = placed.places_out(spots, order, {}, order[0], [])
    return piece_out(piece, found, manner, shown, [])
