"""A flow run: walls of a hollow box by place, and what they say."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from functools import cached_property, partial
from typing import Any, ClassVar, Final

from ubrex.core.calibrate import (
    FLOW_TOLERANCE_PCT,
    FlowReason,
    FlowResult,
    PairResult,
    Pressed,
    Reprint,
    WallSample,
    evaluate_flow,
    evaluate_pair,
    half_width_of_width,
    judge_reprint,
    pressed_in,
    same_box,
    softly_first,
)
from ubrex.core.chain import Kind, Step
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode.pieces import WALLS, box_bodies
from ubrex.core.materials import foams
from ubrex.core.quantity import Reason, Tool, ToolKind, Unit, Verdict, decimal_text
from ubrex.server.calibrations._bodies import body_files, written
from ubrex.server.calibrations._case import (
    BEST_KNOWN,
    Again,
    File,
    best_known,
    coarsest,
    left_out_remarks,
    with_point,
    zero_remarks,
)
from ubrex.server.calibrations._edits import read_skip
from ubrex.server.calibrations._measured import Answer, Doubt, Gauge, Measured
from ubrex.server.calibrations._places import places_out
from ubrex.server.calibrations.flow import _soft_words as soft_words
from ubrex.server.calibrations.flow import _words as words
from ubrex.server.calibrations.flow._inputs import GROUP_NAMES, FlowInputs, options_of, spots_of
from ubrex.server.calibrations.flow._start import SAME_FLOW_PCT, as_of_now
from ubrex.server.desk import Clash, FieldProblem, Refused, TypedFields
from ubrex.server.printing import printed_on, write_piece
from ubrex.server.profile import NewValue, newest_revision, readings_of
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Decision, Reading, Run
from ubrex.server.views.base import CellOut
from ubrex.server.views.pieces import PlaceOut
from ubrex.server.views.runs import Action, MeasuredBody, ResultOut, RunEditIn, SoftPlaceOut
from ubrex.server.words.numbers import day, plain, plus_minus, step_places
from ubrex.server.words.readings import NOT_HERE, SOMETHING_WRONG, title_said

OPPOSITE_WALLS: Final = 2
"""From this edition on the scatter of a box is that of its opposite walls."""

BY_A_DIGIT: Final = 3
"""From this edition on no flow is applied that hangs on the last digit of one reading."""

ZERO_VOUCHES: Final = 3
"""From this edition on a zero that is known vouches for the jaws where one and two lines are off alike."""

EVENING: Final = timedelta(hours=12)
"""Boxes of one flow that were begun within this time are of one evening."""

MOST_PRESSED_MM: Final = 0.1
"""A wall read again that is farther off than this was another place."""

EARLIER_RUNS: Final = 6
"""So many runs before are looked at."""

_EARLIER: Final[Prepared[Run]] = Prepared(
    lambda setup_id, run_id, method: (
        Run.select()
        .where(Run.setup == setup_id, Run.step == Step.FLOW.value, Run.id < run_id, Run.method == method)
        .order_by(Run.id.desc())
        .limit(EARLIER_RUNS)
    )
)

STUCK: Final = 8
"""So many readings that are all the same are a stuck calliper rather than a perfect wall."""

ROUNDS: Final = tuple(
    "".join(way[(start + step) % len(way)] for step in range(len(way)))
    for way in (WALLS, WALLS[::-1])
    for start in range(len(way))
)
"""Orders in which somebody can go round a box: from any wall, either way."""


@dataclass(frozen=True)
class FlowCase(Measured[FlowInputs]):
    """A flow run with its readings."""

    inputs_type = FlowInputs
    noun = "wall"
    edits: ClassVar[tuple[Action, ...]] = ("zero", "soft", "walked", "skip", "old_box", "new_box")
    rounds: ClassVar[tuple[str, ...]] = ROUNDS

    @property
    def asked(self) -> int:
        """Readings asked for before a result is shown."""
        first = self.inputs.order[: self.inputs.asked]
        return self.inputs.asked - len(set(first) & set(self.inputs.skipped))

    @property
    def blind(self) -> bool:
        """Whether the readings first asked for are not in yet: whoever knows the wanted width squeezes until it fits."""
        return self.run.state == "open" and len(self.readings) < self.asked

    def allows(self, edit: Action) -> bool:
        """A wall can be passed over while one is next; another order matters once something was read."""
        if edit == "skip":
            return self.next_place() is not None
        if edit in {"old_box", "new_box"}:
            return self.old_box is not None
        return edit not in {"walked", "soft"} or bool(self.readings)

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """A zero, a wall passed over, or the order in which somebody went round until now."""
        edit = super().edited(form) | read_skip(form, self.next_place(), self.inputs.skipped)
        if form.soft is not None:
            edit |= self._read_softly(form.soft)
        if form.walked is not None:
            if form.walked not in ROUNDS:
                raise Refused(FieldProblem("walked", "no_such_order", words.NO_SUCH_ORDER))
            edit |= {"walked": form.walked, "walked_to": self.inputs.walked_to or len(self.rows)}
        if form.box is not None:
            edit |= self._box_told(form.box)
        return edit

    def _usual(self) -> dict[str, Reading]:
        """What was read last at each place, as usual."""
        return {reading.place: reading for reading in self.readings if reading.place}

    def _to_read_softly(self) -> list[SoftPlaceOut]:
        """Places as they were read, those read as usual only before the others; the last one first: there the jaws are."""
        softly, rows = dict(self.inputs.softly), list(self._usual().items())[::-1]
        rows.sort(key=lambda one: one[0] in softly)
        return [
            SoftPlaceOut(
                place=place,
                label=place_said(self.place_of(row), both=self.inputs.walls == "both"),
                text=decimal_text(row.number, step_places(row.resolution)),
                soft=decimal_text(softly[place], step_places(row.resolution)) if place in softly else "",
            )
            for place, row in rows
        ]

    def _read_softly(self, typed: Mapping[str, str]) -> dict[str, Any]:
        """Places read again with the jaws only just touching."""
        usual, fields, softly = self._usual(), TypedFields(), list(self.inputs.softly)
        for place, text in typed.items():
            if place not in usual:
                raise Clash(NOT_HERE["soft"][1], code="nothing_read")
            if not text.strip():
                continue
            row = usual[place]
            low, high = row.number - MOST_PRESSED_MM, row.number + MOST_PRESSED_MM
            why = soft_words.other_place_why(decimal_text(row.number, step_places(row.resolution)))
            told = with_point(text, self.implied)
            number = fields.number(place, told, what=soft_words.SOFTLY, low=low, high=high, unit=Unit.MM, why=why)
            if number is not None:
                softly.append((place, number))
        if not fields.any and len(softly) == len(self.inputs.softly):
            fields.add(FieldProblem(next(iter(typed), "soft"), "empty", soft_words.SOFT_EMPTY))
        fields.refuse_if_any()
        return {"softly": softly}

    @cached_property
    def _soft_pairs(self) -> dict[int, list[tuple[float, float]]]:
        """What walls of so many lines read as usual, and softly; two lines do not give way as one does."""
        usual = self._usual()
        softly = {place: soft for place, soft in self.inputs.softly if place in usual}
        by_place = [(place, (usual[place].number, soft)) for place, soft in softly.items()]
        return {
            lines: [*self.inputs.soft, *(pair for place, pair in by_place if place.startswith(str(lines)))]
            for lines in self.inputs.groups
        }

    @cached_property
    def pressed(self) -> dict[int, Pressed]:
        """How far the hand presses walls of so many lines in, where somebody looked."""
        step = self.run.instrument.resolution
        return {lines: pressed_in(pairs, step) for lines, pairs in self._soft_pairs.items() if pairs}

    @property
    def first(self) -> Action | None:
        """What comes before a change: walls read softly, where the hand may have pressed them in."""
        found, kind = self.pair or self.single, ToolKind(self.run.instrument.kind)
        asks = self.run.state == "open" and any(
            softly_first(
                found.verdict,
                found.reason,
                ratchet=kind is ToolKind.MICROMETER,
                pairs=len(pairs),
                real=self.given_way_mm(lines) != 0.0,
            )
            for lines, pairs in self._soft_pairs.items()
        )
        return "soft" if asks else None

    def given_way_mm(self, lines: int) -> float:
        """What is added to readings of walls of so many lines, since they were pressed in while they were read [mm]."""
        found = self.pressed.get(lines)
        return found.by_mm if found is not None and found.real else 0.0

    def at(self, reading: Reading) -> float:
        """Where a reading stands: what was read, a wrong zero taken off, and by how much the wall gave way put back."""
        return super().at(reading) + self.given_way_mm(int((reading.place or "1")[0]))

    def _tool(self, taken: Sequence[Reading], lines: int) -> Tool:
        """The coarsest tool, with the doubt of how far walls gave way."""
        tool = coarsest(taken, self.run)
        if not self.given_way_mm(lines):
            return tool
        # A limit is taken as rectangular: its third root is what it is worth as a standard uncertainty.
        return replace(
            tool,
            max_permissible_error=math.hypot(tool.max_permissible_error, math.sqrt(3) * self.pressed[lines].std_mm),
        )

    def _box_told(self, box: str) -> dict[str, Any]:
        """Whether the walls are those of the box that was asked about: then it is judged at its own flow, of now."""
        old = self.old_box
        if old is None:
            raise Clash(NOT_HERE["old_box"][1], code="no_question")
        if box == "new":
            return {"box_told": old.run.id}
        flow, rescaled = as_of_now(self.tuned, old.inputs.current, old.run.started_at)
        said = words.was_box_said(old.run.id, decimal_text(flow, 1))
        return {
            "box_told": old.run.id, "current": round(flow, 2), "verifies": None,
            "rescaled": "; ".join(filter(None, [said, words.rescaled_by_said(rescaled or "")])),
        }  # fmt: skip

    @cached_property
    def _earlier(self) -> list[FlowCase]:
        """Runs on the same box before this one, newest first: the same walls, line, layer and way to be written."""
        found = (self._as_case(run) for run in _EARLIER.rows(self.run.setup_id, self.run.id, self.run.method))
        alike = ("walls", "own", "line_width_mm", "layer_mm", "spacing_mm")
        return [one for one in found if all(getattr(one.inputs, key) == getattr(self.inputs, key) for key in alike)]

    def _as_case(self, run: Run) -> FlowCase:
        run.setup = self.run.setup
        return FlowCase(self.calibration, run, readings_of(run.id), self.work)

    @cached_property
    def old_box(self) -> FlowCase | None:
        """The run whose box these walls seem to be, where nobody was asked yet; None while they are read blind."""
        last = next(iter(self._earlier), None)
        if last is None or self.blind or self.run.state != "open" or self.inputs.box_told == last.run.id:
            return None
        sample = self._sample(self.shown, ())
        before, after = evaluate_flow(last._sample(self.shown, ())), evaluate_flow(sample)
        ratio = self.inputs.current / as_of_now(self.tuned, last.inputs.current, last.run.started_at)[0]
        return last if same_box(before, after, sample, ratio) else None

    @cached_property
    def _beside(self) -> list[FlowCase]:
        """Boxes of the same flow, printed the same evening, that could not tell by themselves: judged with this one."""
        return [
            one
            for one in self._earlier
            if self.run.started_at - one.run.started_at <= EVENING
            and one.inputs.printed_with == self.inputs.printed_with
            and one.inputs.current == self.inputs.current
            and len(one.readings) >= one.asked
            and evaluate_flow(one._sample(self.shown, ())).verdict is Verdict.REPEAT
            and self.inputs.verifies == one.inputs.verifies
            and self.inputs.box_told != one.run.id
            and not self._adds_doubt(one)
        ]

    def _adds_doubt(self, other: FlowCase) -> bool:
        """Whether the zero was known less well for another box: together they would tell less than this one."""
        if self.inputs.edition < BEST_KNOWN or not self.readings:
            return False
        theirs, own = (coarsest(one._widths(self.shown)[1], one.run) for one in (other, self))
        return theirs.std > own.std

    def place_of(self, reading: Reading) -> str:
        """Where a reading was really taken: not where it was asked for, if somebody went round in another order."""
        place = reading.place or ""
        if not place or reading.position > self.inputs.walked_to:
            return place
        return place[0] + self.inputs.walked[WALLS.index(place[1])] + place[2:]

    def place_label(self, place: str) -> str:
        """The wall and which time round; how many lines it has is told by the drawing."""
        return place[1:] if len(place) == len("1A1") else place

    def sample(self, lines: int) -> WallSample:
        """The walls of so many lines, as the core judges them, with those of boxes alike; the coarsest tool counts."""
        return self._sample(lines, () if self.blind else self._beside)

    @cached_property
    def counted(self) -> Sequence[Reading]:
        """Readings of each group of walls: those whose zero is known best, where they are of all four walls."""
        return [
            row
            for lines in self.inputs.groups
            for row in best_known(
                [row for row in self.readings if self.place_of(row).startswith(str(lines))],
                self._of_all_walls,
            )
        ]

    def _of_all_walls(self, rows: Sequence[Reading]) -> bool:
        return self.inputs.edition >= BEST_KNOWN and len({self.place_of(row)[1] for row in rows}) == len(WALLS)

    def walls(self, lines: int) -> list[list[Reading]]:
        """Readings that count of walls of so many lines, by wall."""
        return [[row for row in self.counted if self.place_of(row).startswith(f"{lines}{wall}")] for wall in WALLS]

    def _sample(self, lines: int, beside: Sequence[FlowCase]) -> WallSample:
        rows, taken = self._widths(lines)
        for one in beside:
            others, read = one._widths(lines)
            # The same hand with the same tool presses their walls in as well, though it was seen on these.
            if lines not in one.pressed and one.run.instrument_id == self.run.instrument_id:
                others = [[width + self.given_way_mm(lines) for width in row] for row in others]
            if all(others) and all(rows):
                rows, taken = rows + others, taken + read
        filament = self.run.setup.filament
        return WallSample(
            readings=tuple(tuple(row) for row in rows),
            bead=self.inputs.bead,
            tool=self._tool(taken, lines),
            lines=lines,
            spacing_mm=self.inputs.bead.solid_mm if self.inputs.own else self.inputs.spacing_mm,
            foaming=foams(filament.family, filament.flags),
            boxes=self.inputs.edition >= OPPOSITE_WALLS and all(rows),
            sure_by_digit=self.inputs.edition >= BY_A_DIGIT,
        )

    def _widths(self, lines: int) -> tuple[list[list[float]], list[Reading]]:
        walls = self.walls(lines)
        return [[self.at(row) for row in wall] for wall in walls], [row for wall in walls for row in wall]

    @cached_property
    def pair(self) -> PairResult | None:
        """What one and two lines say together, where both were printed."""
        if self.inputs.walls != "both":
            return None
        return evaluate_pair(
            self.sample(1), self.sample(2), tolerance_pct=self.inputs.tolerance_pct,
            vouched=self.inputs.edition >= ZERO_VOUCHES,
        )  # fmt: skip

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
    def factor(self) -> float:
        """What multiplies the flow for the value to type."""
        return (self.pair or self.single).to_set

    @property
    def whole_factor(self) -> float:
        """What the walls alone say multiplies it."""
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
        earlier = FlowCase(self.calibration, before, readings_of(before.id), self.work)
        if earlier.inputs.walls != self.inputs.walls:
            return None
        ratio = self.inputs.current / earlier.inputs.current
        return judge_reprint(evaluate_flow(earlier.sample(self.shown)), self.sample(self.shown), ratio)

    def method_name(self) -> str:
        """How it is measured."""
        return words.method_said(self.inputs.walls, self.inputs.verifies)

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        return self.calibration.words.reads if place is None else place_said(place, both=self.inputs.walls == "both")

    @property
    def walk(self) -> Sequence[str]:
        """Walls in the order in which they are measured."""
        return self.inputs.order

    def spots(self) -> list[PlaceOut]:
        """Walls of the box, as far as the box can be drawn."""
        try:
            drawn = spots_of(self.made[0])
        except OutOfRange:
            return []
        inputs = self.inputs
        texts = {self.place_of(row): decimal_text(row.number, step_places(row.resolution)) for row in self.readings}
        walked = {key: drawn[key] for key in inputs.order if key in drawn}
        return places_out(walked | drawn, inputs.order[: inputs.asked], texts, self.next_place(), inputs.skipped)

    def cells(self) -> list[CellOut]:
        """Flow it was printed with, line, heat; the width of a line only when nobody can aim for it any more."""
        return box_cells(self.inputs, blind=self.blind)

    def doubt(self) -> Doubt:
        """The width a wall should have; nearer to the other box is asked about as such."""
        place = self.next_place() or self.inputs.order[0]
        lines = int(place[0])
        expected, other = self.sample(lines).expected_mm, self.sample(3 - lines).expected_mm

        def far(number: float) -> str:
            mixed_up = abs(number - other) < abs(number - expected)
            return words.far_said(number, GROUP_NAMES[lines], GROUP_NAMES[3 - lines] if mixed_up else "")

        return Doubt(
            noun="width", usual=expected, low=expected / 5, high=expected * 5, impossible=words.NO_WALL, far=far,
            keeps_slips=False,
        )  # fmt: skip

    def finding(self) -> str | None:
        """One reading far from the rest, or readings that are too much alike; told by the place."""
        numbers = [reading.number for reading in self.readings]
        if len(numbers) >= STUCK and len(set(numbers)) == 1 and self.inputs.walls != "both":
            return words.stuck_said(len(numbers), numbers[0])
        figures = evaluate_flow(self._sample(self.shown, ())).figures
        if figures is None or not figures.flagged or len(self.readings) < self.asked:
            return None
        row = [row for wall in self.walls(self.shown) for row in wall][figures.flagged[0]]
        return words.off_said(self.place_label(self.place_of(row)), self.at(row) - figures.wall.mean_mm)

    def answer(self) -> Answer | None:
        """The flow at which walls are as wide as they should be."""
        found, old = self.pair or self.single, self.old_box
        verdict, reason, figures = found.verdict, found.reason, self.single.figures
        proposal = decimal_text(self.proposal, 1)
        if old is not None:
            flow = decimal_text(old.inputs.current, 1)
            return Answer(
                verdict=Verdict.REFUSE, reason=FlowReason.SAME_BOX, title=words.same_box_title(old.run.id),
                sentence=words.same_box_said(old.run.id, flow, decimal_text(self.inputs.current, 1)),
                number=self.inputs.current, half_width=None, refused=True,
            )  # fmt: skip
        if self.reprint is Reprint.CONTRADICTED:
            return Answer(
                verdict=Verdict.REFUSE, reason=FlowReason.CONTRADICTED, title=SOMETHING_WRONG,
                sentence=words.REFUSALS[FlowReason.CONTRADICTED], number=self.inputs.current, half_width=None, refused=True,
            )  # fmt: skip
        return Answer(
            verdict=verdict,
            reason=reason,
            title=title_said(verdict, reason, proposal, self.more),
            sentence=self._sentence(proposal),
            number=self.proposal,
            half_width=self.half_width_pct,
            limited_by=words.NARROWER if reason is Reason.CHANGE_METHOD else "",
            remarks=self._remarks(),
            first=self.first,
            refused=verdict is Verdict.REFUSE or figures is None,
        )

    def body(self, shown: ResultOut | None) -> MeasuredBody:
        """The strip, and the walls that can be read softly yet."""
        return (
            super()
            .body(shown)
            .model_copy(update={"softly": self._to_read_softly() if self.run.state == "open" else []})
        )

    def _sentence(self, proposal: str) -> str:
        found, figures = self.pair or self.single, self.single.figures
        if found.verdict is Verdict.REFUSE or figures is None:
            return words.REFUSALS[found.reason]
        low, high = (decimal_text(self.proposal + sign * (self.half_width_pct or 0.0), 1) for sign in (-1, 1))
        return words.flow_said(
            found.verdict,
            found.reason,
            figures,
            wanted_mm=self.sample(self.shown).width_at(1.0),
            tolerance_pct=self.inputs.tolerance_pct,
            proposal=proposal,
            half_width_pct=self.half_width_pct or 0.0,
            low=low,
            high=high,
            more=self.more,
            finer=words.finer_said(
                ToolKind(self.run.instrument.kind),
                zero_checked=self.zero_checked,
                lines=self.shown,
                fusing=figures.fusing,
            ),
        )

    def _remarks(self) -> list[str]:
        inputs = self.inputs
        figures = self.single.figures
        remarks = (
            [soft_words.soft_said(change=(self.pair or self.single).verdict is not Verdict.REFUSE)]
            if self.first == "soft"
            else []
        )
        if self.reprint is not None:
            remarks.append(words.reprint_said(self.reprint))
        for lines, pressed in self.pressed.items():
            remarks.append(soft_words.pressed_said(pressed, GROUP_NAMES[lines] if len(inputs.groups) > 1 else ""))
        whole = round(inputs.current * self.whole_factor, 1)
        if whole != self.proposal:
            remarks.append(words.shrunk_said(decimal_text(whole, 1)))
        recorded = self.tuned.values.get(Kind.FLOW)
        beside = self.run.state == "open" and recorded is not None
        if beside and recorded is not None and abs(recorded.number - self.proposal) < SAME_FLOW_PCT:
            remarks.append(words.on_record_said(decimal_text(self.proposal, 1)))
        elif beside and recorded is not None and abs(recorded.number - inputs.current) >= SAME_FLOW_PCT:
            remarks.append(words.keeps_said(decimal_text(inputs.current, 1), decimal_text(recorded.number, 1)))
        if figures is not None and figures.wall.sides_mm is not None:
            remarks.append(words.sides_said(figures.wall.sides_mm))
        if self._beside and not self.blind:
            remarks.append(words.other_boxes_said([one.run.id for one in self._beside]))
        if inputs.tolerance_pct != FLOW_TOLERANCE_PCT:
            seen = None if figures is None else figures.half_width_95_pct
            remarks.append(words.tolerance_said(inputs.tolerance_pct, seen))
        if inputs.rescaled:
            remarks.append(inputs.rescaled)
        if inputs.walked_to:
            remarks.append(words.walked_said(inputs.walked))
        remarks += zero_remarks(self.counted, inputs.zero_mm)
        remarks += left_out_remarks(len(self.readings) - len(self.counted))
        if self.pair is not None and self.pair.both is not None:
            single, double = (
                None if found.figures is None else inputs.current * found.figures.factor
                for found in (self.pair.single, self.pair.double)
            )
            remarks.append(words.both_said(single, double))
        return remarks

    def gauge(self) -> Gauge | None:
        """The walls against the width they should have."""
        sample, figures = self.sample(self.shown), self.single.figures
        if figures is None:
            return None
        places, group = max(2, step_places(sample.tool.resolution)), str(self.shown)
        target, half = sample.width_at(1.0), half_width_of_width(figures, sample)
        tolerance = self.inputs.tolerance_pct / 100
        taken = [row for row in self.readings if (row.place or "").startswith(group)]
        return Gauge(
            target=round(target, 3),
            low=sample.width_at(1 / (1 + tolerance)),
            high=sample.width_at(1 / (1 - tolerance)),
            mean=figures.wall.mean_mm,
            half_width=half,
            step=sample.tool.resolution,
            places=places,
            at=self.at,
            taken=taken,
            rows=[row for row in self.rows if (row.place or "").startswith(group)],
            mean_note=f"mean {decimal_text(figures.wall.mean_mm, 3)} {plus_minus(half)}",
            move_note=words.moved_said(figures.wall.mean_mm - target),
            proposal_name="Flow to set, %",
            measured_name="wall, mm",
            reading_places=places,
            sentence=words.strip_said(len(taken), GROUP_NAMES[self.shown], figures.wall.mean_mm, half, target),
        )

    def files(self) -> list[File]:
        """The file that prints the box, or the box as a body for a person's own slicing program."""
        if self.inputs.own:
            return [self.piece_file(partial(write_box, self))]
        return body_files(self._body, words.SLICED_ELSEWHERE)

    def _body(self, form: str) -> bytes:
        return written(box_bodies(options_of(self.tuned, self.inputs)), form)

    def again(self) -> Again | None:
        """The box printed with the new flow, once one was applied."""
        flow = self.tuned.values.get(Kind.FLOW)
        applied = flow is not None and flow.number != self.inputs.current
        if self.run.state != "decided" or flow is None or not applied:
            return None
        first = {"skipped": [], "rescaled": "", "walked_to": 0, "zero_mm": 0.0, "box_told": None}
        with_new = {"current": flow.number, "verifies": self.run.id, "own": True, "on": printed_on(self.tuned)}
        text = decimal_text(flow.number, 1)
        return Again(
            inputs=self.inputs.model_copy(update=first | with_new),
            label=words.reprint_label(text),
            sentence=words.reprint_why(text),
        )

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
        return [self.new_value(Kind.FLOW, number, self.half_width_pct, decision, Unit.PERCENT)]

    def overtaken(self) -> str:
        """Whether e-steps or diameter were changed since the piece was printed."""
        return changed_since(self)


def box_cells(inputs: FlowInputs, *, blind: bool = False) -> list[CellOut]:
    """What a box was printed with; ``blind``: whoever reads may not aim for its width."""
    line = f"{plain(inputs.layer_mm)} mm"
    if not blind:
        line = f"{plain(inputs.line_width_mm)} x {line}"
    heat = words.heat_said(inputs.nozzle_c, inputs.bed_c)
    return [
        CellOut(label="Printed with flow", value=f"{decimal_text(inputs.current, 1)} %", detail=inputs.rescaled),
        CellOut(label="Layer" if blind else "Line", value=line, detail=heat),
    ]


def write_box(case: Measured[Any]) -> str:
    """The file that prints the box of a run."""
    made, manner = case.made
    head = [("piece", case.method_name()), ("run", str(case.run.id)), *words.heading(made)]
    revision = newest_revision(case.run.setup_id)
    return write_piece(case.tuned, made, case.inputs.printing, manner, head, revision=revision)


def changed_since(case: Measured[Any]) -> str:
    """E-steps, or a diameter, that were changed after the box of a run was printed; empty if none were."""
    run = case.run
    since: datetime = run.fed_at or run.started_at
    for kind, said in (
        (Kind.E_STEPS, words.steps_changed_said(run.setup.toolhead.machine.name)),
        (Kind.DIAMETER, words.DIAMETER_CHANGED),
    ):
        recorded = case.tuned.values.get(kind)
        if recorded is not None and recorded.at_s > since.timestamp():
            return words.changed_since_said(said, day(datetime.fromtimestamp(recorded.at_s, UTC)))
    return ""


def place_said(place: str, *, both: bool) -> str:
    """A place in words."""
    lines = f", {GROUP_NAMES[int(place[0])]}" if both else ""
    return f"wall {place[1]}, {words.SPANS[place[2]]}{lines}"
