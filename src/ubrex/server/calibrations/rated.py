"""Runs that are rated: a temperature or a retraction tower with what people said of its bands."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar, Final, Self

from ubrex.core.calibrate import (
    BEST_RATING,
    DEMANDS,
    RETRACTION_RULE_VERSION,
    SURE_OF_GAP,
    SURE_OF_STRINGS,
    TEMPERATURE_RULE_VERSION,
    Criterion,
    Demand,
    RetractionResult,
    RetractionSample,
    RetractionVerdict,
    Row,
    TowerResult,
    TowerSample,
    TowerVerdict,
    could_change,
    evaluate_retraction,
    evaluate_tower,
    in_race,
    next_ratings,
)
from ubrex.core.chain import Kind, Origin, Standing
from ubrex.core.gcode import Manner
from ubrex.core.gcode.pieces import Piece
from ubrex.core.materials import Stiffness, family
from ubrex.core.quantity import Reason, ToolKind, Unit, Verdict, decimal_text
from ubrex.server.calibrations import towers
from ubrex.server.calibrations.towers import TowerInputs
from ubrex.server.desk import FieldProblem, Refused, Work
from ubrex.server.printing import machine_limits, piece_out, printing_cautions, write_piece
from ubrex.server.profile import NewValue, Tuned, counting, label_window, newest_revision, tuned_of
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Decision, Photo, Reading, Run
from ubrex.server.views.base import CautionOut, CellOut
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.runs import ResultOut, RunEditIn
from ubrex.server.views.towers import (
    CellRatingOut,
    OtherRatingOut,
    ScaleOut,
    TowerBandOut,
    TowerNextOut,
    TowerOut,
    TowerPurposeOut,
    TowerVetoOut,
)
from ubrex.server.views.values import StripOut
from ubrex.server.words import towers as words
from ubrex.server.words.numbers import DASH, NBSP, plain, plus_minus, unit_text
from ubrex.server.words.profile import window_said

TOOLS: Final = (ToolKind.EYES,)
SNAPPED: Final = "snapped"
MISSING: Final = "missing"

FURTHER_BANDS: Final = 5
"""How many bands beyond its end a further tower goes."""

FEW_LEFT: Final = 2
"""With so few ratings left it is worked out whether they could still change anything."""

WORTH_SAYING: Final = 0.005
"""A belief below this shows as 0 %."""

_REASONS: Final = {
    TowerVerdict.EXTEND_HOTTER: Reason.BEST_BEYOND,
    TowerVerdict.EXTEND_COOLER: Reason.BEST_BEYOND,
    TowerVerdict.MINIMUM_NOT_MET: Reason.MUST_NOT_MET,
    TowerVerdict.DOES_NOT_DISCRIMINATE: Reason.ALL_ALIKE,
    TowerVerdict.TOO_FEW_BANDS: Reason.TOO_FEW_BANDS,
    TowerVerdict.NOTHING_RATED: Reason.NOTHING_RATED,
    TowerVerdict.NO_BAND_LEFT: Reason.NO_BAND_LEFT,
}

_PULL_REASONS: Final = {
    RetractionVerdict.DOES_NOT_RESPOND: Reason.NOT_THE_LEVER,
    RetractionVerdict.BEYOND_LIMIT: Reason.BEYOND_CAP,
    RetractionVerdict.AT_LIMIT: Reason.BEYOND_CAP,
    RetractionVerdict.CONFLICT_GAP: Reason.STARVED,
    RetractionVerdict.UNCLEAR: Reason.FINER,
    RetractionVerdict.EXTEND_LONGER: Reason.LONGER,
    RetractionVerdict.TOO_FEW_BANDS: Reason.TOO_FEW_BANDS,
    RetractionVerdict.NOTHING_RATED: Reason.NOTHING_RATED,
    RetractionVerdict.NO_BAND_LEFT: Reason.NO_BAND_LEFT,
}


_PICTURES: Final[Prepared[Photo]] = Prepared(
    lambda run_id: Photo.select(Photo.band).where(Photo.run == run_id, Photo.shown())
)


def place_of(band: int, key: str) -> str:
    """Where a rating belongs: band from the bottom, and what is rated."""
    return f"{band}:{key}"


@dataclass(frozen=True)
class Said:
    """What people said of a tower: by person, key and band. What takes a band out counts whoever said it."""

    by_person: Mapping[int, Mapping[str, Mapping[int, Reading]]]
    names: Mapping[int, str]

    @classmethod
    def of(cls, rows: Sequence[Reading]) -> Said:
        """Readings that count, sorted."""
        found: dict[int, dict[str, dict[int, Reading]]] = defaultdict(lambda: defaultdict(dict))
        names = {}
        for row in rows:
            band, _, key = (row.place or "").partition(":")
            if key and band.isdigit():
                found[row.person_id][key][int(band)] = row
                names[row.person_id] = row.person.name
        return cls(found, names)

    def marked(self, key: str) -> frozenset[int]:
        """Bands that anybody marked with a key."""
        return frozenset(band for table in self.by_person.values() for band in table.get(key, {}))

    def rows(self, key: str, bands: int) -> list[tuple[int, list[int | None]]]:
        """What each person said of a key, by band; people who said nothing of it are left out."""
        return [
            (person, [_number(table[key].get(band)) for band in range(bands)])
            for person, table in self.by_person.items()
            if table.get(key)
        ]


def _number(row: Reading | None) -> int | None:
    return None if row is None else round(row.number)


@dataclass(frozen=True)
class TowerCase(ABC):
    """A run with a tower: its bands, what was said of them, and what every tower shows."""

    run: Run
    rows: Sequence[Reading]
    work: Work

    tools: ClassVar[tuple[ToolKind, ...]] = TOOLS
    unit: ClassVar[Unit] = Unit.RATING
    implied: ClassVar[str] = ""
    has_history: ClassVar[bool] = False
    edits: ClassVar[tuple[str, ...]] = ("purpose", "swap")
    vetoes: ClassVar[tuple[str, ...]] = ("failed", MISSING)
    kind: ClassVar[Kind] = Kind.NOZZLE
    score_places: ClassVar[int] = 1

    @cached_property
    def readings(self) -> Sequence[Reading]:
        """The readings that count."""
        return counting(self.rows)

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """What it is rated for, or two bands that were printed the other way round."""
        edit: dict[str, Any] = {}
        if form.purpose is not None:
            if all(row.purpose is not form.purpose for row in self.purposes()):
                raise Refused(FieldProblem("purpose", "not_here", "A tower like this is not rated for that."))
            edit["purpose"] = form.purpose.value
        if form.swap is not None:
            first, second = form.swap
            if first == second or not all(0 <= band < self.count for band in form.swap):
                raise Refused(FieldProblem("swap", "no_such_band", f"Choose two of the {self.count} bands."))
            bands = list(self.inputs.values)
            bands[first], bands[second] = bands[second], bands[first]
            edit["values"] = bands
            edit["swapped"] = [*self.inputs.swapped, f"{self.text(first)} and {self.text(second)}"]
        return edit

    def with_reading(self, reading: Reading) -> Self:
        """The same run with one more reading."""
        return type(self)(self.run, [*self.rows, reading], self.work)

    @cached_property
    def inputs(self) -> TowerInputs:
        """Its inputs, typed."""
        return TowerInputs.model_validate(self.run.inputs)

    @cached_property
    def said(self) -> Said:
        """What people said of its bands."""
        return Said.of(self.readings)

    @cached_property
    def tuned(self) -> Tuned:
        """The setup with its values."""
        return tuned_of(self.run.setup)

    @cached_property
    def made(self) -> tuple[Piece, Manner]:
        """The tower and how it is printed."""
        return towers.tower_of(self.tuned, self.inputs)

    @property
    def speed_mm_s(self) -> float:
        """Speed it is really printed at: the one wanted, where melt rate and machine allow it."""
        return self.made[1].speed_mm_s

    @property
    def asked(self) -> int:
        """Ratings before anything can be said."""
        return self.inputs.asked

    @property
    def count(self) -> int:
        """How many bands there are."""
        return len(self.inputs.values)

    @property
    @abstractmethod
    def keys(self) -> tuple[str, ...]:
        """What is rated."""

    @property
    def out(self) -> frozenset[int]:
        """Bands that are no candidates."""
        return frozenset().union(*(self.said.marked(key) for key in self.vetoes))

    @property
    def viewer(self) -> int | None:
        """Whose ratings stand in the grid: whoever asks; once a run has ended, its first rater for one who rated nothing."""
        said = self.said.by_person
        if self.run.state == "open" or self.work.person_id in said:
            return self.work.person_id
        return next(iter(said), None)

    @property
    def mine(self) -> Mapping[str, Mapping[int, Reading]]:
        """What stands in the grid; a second person begins with an empty one."""
        return {} if self.viewer is None else self.said.by_person.get(self.viewer, {})

    def place_text(self, reading: Reading) -> str:
        """The band, and what was rated or marked on it."""
        band, _, key = (reading.place or "").partition(":")
        if not key:
            return ""
        said = words.SCALES[key].name if key in words.SCALES else words.VETOES.get(key, (key, ""))[0]
        return f"{self.text(int(band))} {said}"

    def next_place(self) -> str | None:
        """No place of a piece: bands are rated."""
        return None

    def question(self, number: float) -> FieldProblem | None:  # noqa: ARG002
        """Nothing is asked about a rating: it is what a person says."""
        return None

    def reads(self) -> str:
        """What is read next."""
        return "ratings of 0 to 4"

    def piece(self) -> PieceOut | None:
        """The tower from above, with its bands."""
        made, manner = self.made
        return piece_out(made, self.tuned, manner, [], [])

    def file(self) -> str:
        """Text of the file that prints it."""
        made, manner = self.made
        head = [("run", str(self.run.id)), *towers.heading(made, self.inputs)]
        revision = newest_revision(self.run.setup_id)
        return write_piece(self.tuned, made, self.inputs.printing, manner, head, revision=revision)

    def cautions(self) -> list[CautionOut]:
        """What can hurt when it is printed and broken."""
        snap = CautionOut(lead="Splinters.", text="Snap tabs over a cloth, away from the face, with eyes covered.")
        return [*printing_cautions(self.run.setup), snap]

    def strip(self, shown: ResultOut | None) -> StripOut:  # noqa: ARG002
        """Ratings have no strip: the tower itself is drawn."""
        return StripOut(
            unit=unit_text(self.inputs.unit.value), places=self.inputs.places, step=1.0, standing=Standing.NEVER,
            sentence="A tower is rated, not measured along a line.", measured_name="",
        )  # fmt: skip

    def text(self, band: int) -> str:
        """The value of a band as its wall says it."""
        return decimal_text(self.inputs.values[band], self.inputs.places)

    def cell(self, key: str, band: int, odd: frozenset[tuple[int, str, int]]) -> CellRatingOut:
        """One cell of the grid."""
        own = self.mine.get(key, {}).get(band)
        rating = _number(own)
        others = [
            OtherRatingOut(person=self.said.names[person], rating=round(table[key][band].number))
            for person, table in self.said.by_person.items()
            if person != self.viewer and band in table.get(key, {})
        ]
        word = ""
        if rating is not None:
            counted = self.most(key) != BEST_RATING
            word = ("string" if rating == 1 else "strings") if counted else words.SCALES[key].words[rating]
        said_by = [person for person in self.said.by_person if (person, key, band) in odd]
        return CellRatingOut(key=key, rating=rating, word=word, others=others, odd=bool(said_by))

    def most(self, key: str) -> int:  # noqa: ARG002
        """The highest number of a scale; more than the best rating where something is counted."""
        return BEST_RATING

    def scale(self, key: str) -> ScaleOut:
        """The scale of a key."""
        row = words.SCALES[key]
        return ScaleOut(
            key=key, name=row.name, look=row.look, counts=self.counts(key), words=list(row.words),
            sentences=list(row.sentences), most=self.most(key),
        )  # fmt: skip

    def counts(self, key: str) -> str:  # noqa: ARG002
        """How much a key counts, in two words."""
        return ""

    def facts(self) -> list[str]:
        """What the drawing has to say beside the bands: label, limit, fan, melt rate."""
        inputs, setup = self.inputs, self.run.setup
        window, whose = label_window(setup, Kind.NOZZLE)
        cap = machine_limits(self.tuned, still=True).nozzle
        speed = self.speed_mm_s
        rate = speed * inputs.bead.area_mm2 * inputs.flow / 100
        said = [f"never above {plain(cap.max_c)}{NBSP}°C: {cap.why}", f"fan {plain(inputs.fan_pct)}{NBSP}%"]
        if window is not None:
            said.insert(0, f"{window_said(window, '°C')} {whose}")
        return [
            *said,
            f"{plain(round(rate, 1))}{NBSP}mm³/s at {plain(round(speed, 1))}{NBSP}mm/s",
            *(f"bands {row} swapped" for row in inputs.swapped),
        ]

    def overtaken(self) -> str:
        """A tower is judged by itself: whatever is changed meanwhile is seen on its row."""
        return ""

    @abstractmethod
    def pick(self) -> tuple[frozenset[int], int | None]:
        """Bands that will do, and the one that is offered."""

    @abstractmethod
    def scores(self) -> Sequence[tuple[float, float] | None]:
        """Score of each band, and its standard deviation."""

    @abstractmethod
    def waiting(self) -> list[TowerNextOut]:
        """Cells still asked for, in order."""

    def odd(self) -> frozenset[tuple[int, str, int]]:
        """Ratings the others make unlikely: person, key, band."""
        return frozenset()

    def left(self) -> str:
        """How many ratings are still asked for."""
        return words.left_said(len(self.waiting()), matters=True)

    def remark(self, band: int) -> str:
        """What is to be said of one band: outside the label, beyond the cap."""
        window, whose = label_window(self.run.setup, Kind.NOZZLE)
        value = self.inputs.values[band]
        if self.kind is not Kind.NOZZLE or window is None or value in window:
            return ""
        return f"outside {whose.removeprefix('of ').removeprefix('usual for ')}"

    def purposes(self) -> list[TowerPurposeOut]:
        """What it can be rated for."""
        return []

    def score_name(self) -> str:
        """What stands over the scores."""
        return "Good enough"

    def snapping(self) -> bool:
        """Whether its tabs are snapped."""
        return Criterion.BOND.value in self.keys

    def widths(self, band: int) -> str:  # noqa: ARG002
        """Widths measured on a band; none where it is only looked at."""
        return ""

    def tower(self) -> TowerOut:
        """The tower with its ratings, top band first."""
        inside, offered = self.pick()
        scores, odd, out = self.scores(), self.odd(), self.out
        pictures: dict[int | None, int] = defaultdict(int)
        for row in _PICTURES.rows(self.run.id):
            pictures[row.band] += 1
        missing, snapped = self.said.marked(MISSING), self.said.marked(SNAPPED)
        marked = {key: self.said.marked(key) for key in self.vetoes}

        def band_out(band: int) -> TowerBandOut:
            score = scores[band]
            vetoes = [key for key in self.vetoes if band in marked[key]]
            return TowerBandOut(
                index=band,
                text=self.text(band),
                cells=[self.cell(key, band, odd) for key in self.keys],
                vetoes=vetoes,
                said=", ".join(words.VETOES[key][0] for key in vetoes),
                missing=band in missing,
                out=band in out,
                snapped=band in snapped,
                remark=self.remark(band),
                score=None if score is None else round(score[0], 3),
                score_text="" if score is None else decimal_text(max(0.0, score[0]), self.score_places),
                spread=0.0 if score is None else round(score[1], 3),
                inside=band in inside,
                offered=band == offered,
                in_use=self.inputs.in_use and self.inputs.values[band] == self.inputs.current,
                widths=self.widths(band),
                photos=pictures[band],
            )

        return TowerOut(
            unit=unit_text(self.inputs.unit.value),
            score_name=self.score_name(),
            purpose=self.inputs.purpose if self.purposes() else None,
            purposes=self.purposes(),
            scales=[self.scale(key) for key in self.keys],
            bands=[band_out(band) for band in reversed(range(self.count))],
            vetoes=[
                TowerVetoOut(key=key, word=words.VETOES[key][0], sentence=words.VETOES[key][1]) for key in self.vetoes
            ],
            waiting=self.waiting(),
            left=self.left(),
            facts=self.facts(),
            can_swap=self.run.state == "open",
        )

    def new_value(self, kind: Kind, number: float, half: float | None, decision: Decision) -> NewValue:
        """A value as this run measured it."""
        return NewValue(
            kind=kind,
            number=number,
            unit=self.inputs.unit,
            half_width_95=half,
            origin=Origin.MEASURED,
            run_id=self.run.id,
            decision_id=decision.id,
        )

    def answer(
        self,
        verdict: Verdict,
        reason: Reason,
        *,
        sentence: str,
        proposal: float | None,
        half: float | None,
        limits: str = "",
        remarks: Sequence[str] = (),
        ask: str | None = None,
        same: bool = True,
        further: Mapping[str, float] | None = None,
    ) -> ResultOut:
        """The result of a tower in the form of all results.

        ``proposal`` None: nothing can be applied; ``same``: nor can what is in use already, it can only be kept. Nor can a
        temperature that may not be set any more, since a limit was changed after the tower was printed.
        """
        inputs, cap = self.inputs, machine_limits(self.tuned, still=True).nozzle
        if self.kind is Kind.NOZZLE and proposal is not None and proposal > cap.max_c:
            said = f"{plain(proposal)} °C may not be set here any more: {cap.why}, {plain(cap.max_c)} °C."
            remarks = [said, *remarks]
            verdict, reason, proposal, half, ask = Verdict.REPEAT, Reason.BEYOND_CAP, None, None, None
        unit = unit_text(inputs.unit.value)
        shown = "" if proposal is None else decimal_text(proposal, inputs.places)
        change = 0.0 if proposal is None else proposal - inputs.current
        was = ""
        if proposal is not None and inputs.in_use:
            was = f"was {decimal_text(inputs.current, inputs.places)}"
            if change:
                was += f", {'up' if change > 0 else 'down'} {decimal_text(abs(change), inputs.places)}"
        so_far = bool(self.waiting())
        return ResultOut(
            verdict=verdict,
            reason=reason,
            title=words.tower_title(verdict, reason, f"{shown}{NBSP}{unit}"),
            sentence=sentence,
            limits=limits,
            remarks=list(remarks),
            so_far=so_far,
            blue=verdict is Verdict.APPLY and not so_far,
            proposal=shown,
            half_width_text="" if half is None else plus_minus(half),
            change=was,
            unit_text=unit,
            can_apply=proposal is not None and not (inputs.in_use and proposal == inputs.current and same),
            can_keep=inputs.in_use,
            ask_before=ask,
            keep_text=decimal_text(inputs.current, inputs.places) if inputs.in_use else "",
            further={name: plain(round(value, 2)) for name, value in (further or {}).items()},
        )


class TemperatureCase(TowerCase):
    """A temperature tower with its ratings."""

    rule_version = TEMPERATURE_RULE_VERSION

    @property
    def demand(self) -> Demand:
        """What its purpose asks."""
        return DEMANDS[self.inputs.purpose]

    @property
    def keys(self) -> tuple[str, ...]:
        """What is rated: what counts for the purpose, what was rated for another, and the bond last."""
        counted = [row for row in Criterion if self.demand.weights.get(row, 0) > 0 or self.said.marked(row.value)]
        counted.sort(key=lambda row: row is Criterion.BOND)
        return tuple(row.value for row in counted)

    @cached_property
    def sample(self) -> TowerSample:
        """The tower as the core judges it."""
        tables: dict[int, dict[Criterion, Row]] = defaultdict(dict)
        for criterion in Criterion:
            for person, row in self.said.rows(criterion.value, self.count):
                tables[person][criterion] = row
        return TowerSample(temperatures_c=tuple(self.inputs.values), raters=tuple(tables.values()), failed=self.out)

    @cached_property
    def raters(self) -> tuple[int, ...]:
        """People in the order of the sample."""
        found: dict[int, None] = {}
        for criterion in Criterion:
            found |= dict.fromkeys(person for person, _ in self.said.rows(criterion.value, self.count))
        return tuple(found)

    @cached_property
    def found(self) -> TowerResult:
        """What the tower says."""
        return evaluate_tower(self.sample, self.demand)

    @property
    def proven(self) -> bool:
        """Whether a change is shown to be worth making."""
        return self.found.verdict is TowerVerdict.PICK and not self._in_use_will_do

    @property
    def _in_use_will_do(self) -> bool:
        figures = self.found.figures
        return (
            figures is not None
            and self.inputs.in_use
            and figures.will_do_c[0] <= self.inputs.current <= figures.will_do_c[1]
        )

    def counts(self, key: str) -> str:
        """How much a criterion counts for the purpose."""
        weight = self.demand.weights.get(Criterion(key), 0)
        return f"counts {plain(weight)}×" if weight else "counts for nothing here"

    def method_name(self) -> str:
        """How it is found."""
        return f"temperature tower, {self.count} bands"

    def procedure(self) -> list[str]:
        """How it goes."""
        return list(words.TOWER_PROCEDURE)

    def cells(self) -> list[CellOut]:
        """Bands printed, and the range of the maker."""
        inputs = self.inputs
        ends = f"{plain(min(inputs.values))}{DASH}{plain(max(inputs.values))} °C"
        below = "hottest below" if inputs.values[0] > inputs.values[-1] else "coldest below"
        in_use = f"{plain(inputs.current)} °C" if inputs.in_use else "nothing yet"
        return [
            CellOut(label="Printed", value=ends, detail=f"{self.count} bands, {below}"),
            CellOut(label="In use", value=in_use, detail=f"printed at {plain(round(self.speed_mm_s, 1))} mm/s"),
        ]

    def finding(self) -> str | None:
        """Ratings that contradict the rest, by name."""
        figures = self.found.figures
        if figures is None or not figures.contradictions:
            return None
        named = [
            f"{words.SCALES[criterion.value].name} at {self.text(band)}"
            + (f" ({self.said.names[self.raters[rater]]})" if len(self.raters) > 1 else "")
            for rater, criterion, band in figures.contradictions[:3]
        ]
        return f"{', '.join(named)}: unlikely beside the other bands. Look again; it is kept as it is."

    def odd(self) -> frozenset[tuple[int, str, int]]:
        """Ratings the others make unlikely."""
        figures = self.found.figures
        if figures is None:
            return frozenset()
        return frozenset((self.raters[rater], row.value, band) for rater, row, band in figures.contradictions)

    def pick(self) -> tuple[frozenset[int], int | None]:
        """Bands inside what will do, and the one that is offered."""
        figures = self.found.figures
        if figures is None:
            return frozenset(), None
        inside = frozenset(
            band
            for band, value in enumerate(self.inputs.values)
            if figures.will_do_c[0] <= value <= figures.will_do_c[1] and band not in self.out
        )
        return inside, self._offered(inside, figures.offered)

    def _offered(self, inside: frozenset[int], best: int) -> int:
        """The best printed band, or the end of what will do that a person prefers to err towards."""
        if not inside or self.inputs.err == "usual":
            return best
        value = self.inputs.values.__getitem__
        return max(inside, key=value) if self.inputs.err == "one" else min(inside, key=value)

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """Score of each band for the purpose."""
        figures = self.found.figures
        if figures is None:
            return [None] * self.count
        return [None if band in self.out else (row.score, row.std) for band, row in enumerate(figures.bands)]

    @cached_property
    def _waiting(self) -> list[tuple[Criterion, int]]:
        own: dict[Criterion, Row] = {
            criterion: [_number(self.mine.get(criterion.value, {}).get(band)) for band in range(self.count)]
            for criterion in Criterion
        }
        sample = TowerSample(temperatures_c=tuple(self.inputs.values), raters=(own,), failed=self.out)
        race = in_race(self.sample, self.found)
        return next_ratings(sample, self.demand, race, self.said.marked(MISSING))

    def waiting(self) -> list[TowerNextOut]:
        """Cells still asked for: the ends, then the race; bond last."""
        return [TowerNextOut(band=band, key=criterion.value) for criterion, band in self._waiting]

    def left(self) -> str:
        """How many are left, and whether they matter."""
        few = len(self._waiting) <= FEW_LEFT and self.found.figures is not None
        matters = not few or any(
            could_change(self.sample, self.demand, criterion, band) for criterion, band in self._waiting
        )
        return words.left_said(len(self._waiting), matters=matters)

    def purposes(self) -> list[TowerPurposeOut]:
        """What it can be rated for."""
        return [
            TowerPurposeOut(purpose=purpose, name=name, why=words.PURPOSE_WHY[purpose])
            for purpose, name in words.PURPOSE_NAMES.items()
        ]

    def score_name(self) -> str:
        """The purpose."""
        return words.PURPOSE_NAMES[self.inputs.purpose]

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before enough is rated to say anything."""
        found, inputs = self.found, self.inputs
        if found.figures is None:
            if found.verdict is TowerVerdict.NOTHING_RATED:
                return None
            return self.answer(
                Verdict.REFUSE, _REASONS[found.verdict], sentence=self._sentence(), proposal=None, half=None
            )
        if len(self.readings) < self.asked and not early:
            return None
        _, offered = self.pick()
        proposal = None if offered is None else inputs.values[offered]
        verdict, reason = Verdict.APPLY, Reason.BEST_BAND
        if self._in_use_will_do and found.verdict in {TowerVerdict.PICK, TowerVerdict.DOES_NOT_DISCRIMINATE}:
            verdict, reason = Verdict.KEEP, Reason.WILL_DO
        elif found.verdict is TowerVerdict.DOES_NOT_DISCRIMINATE:
            verdict, reason = (Verdict.KEEP if inputs.in_use else Verdict.TRY), Reason.ALL_ALIKE
        elif found.verdict is not TowerVerdict.PICK:
            verdict, reason = Verdict.REPEAT, _REASONS[found.verdict]
        remarks = [words.SAFER.get(self.run.setup.filament.family, ""), inputs.moved]
        ask = None
        if verdict is Verdict.REPEAT:
            ask = f"The tower says the best is elsewhere. Set {plain(proposal or 0)} °C until then?"
        elif verdict is Verdict.KEEP and proposal is not None and inputs.in_use:
            ask = (
                f"{plain(inputs.current)} °C is as good, and a change costs flow, retraction and top speed. Change it?"
            )
        return self.answer(
            verdict,
            reason,
            sentence=self._sentence(),
            proposal=proposal,
            half=found.figures.half_width_c,
            limits=words.OVERRIDE,
            remarks=[remark for remark in remarks if remark],
            ask=ask,
            further=self._further(),
        )

    def _further(self) -> dict[str, float]:
        """Ends of the tower that goes where the best would lie, one band of this one in it; none beyond a limit."""
        figures, values_c = self.found.figures, sorted(self.inputs.values)
        if figures is None or figures.direction == 0:
            return {}
        held = machine_limits(self.tuned, still=True)
        step = values_c[1] - values_c[0]
        if figures.direction > 0:
            top = min(values_c[-1] + FURTHER_BANDS * step, held.nozzle.max_c)
            return {"coldest": values_c[-1] - step, "hottest": top} if top > values_c[-1] else {}
        foot = max(values_c[0] - FURTHER_BANDS * step, held.feeds_from_c)
        return {"coldest": foot, "hottest": values_c[0] + step} if foot < values_c[0] else {}

    def _sentence(self) -> str:
        figures, inputs = self.found.figures, self.inputs
        _, offered = self.pick()
        return words.temperature_said(
            self.found.verdict,
            offered_c=inputs.current if offered is None else inputs.values[offered],
            low_c=0.0 if figures is None else figures.will_do_c[0],
            high_c=0.0 if figures is None else figures.will_do_c[1],
            direction=0 if figures is None else figures.direction,
            ends_c=(min(inputs.values), max(inputs.values)),
            purpose=inputs.purpose,
            in_use_c=inputs.current if inputs.in_use else None,
        )

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self.found.figures
        kept: dict[str, Any] = {"count": len(self.readings), "purpose": self.inputs.purpose.value}
        if figures is not None:
            kept |= {
                "said": self.found.verdict.value, "pick_c": figures.pick_c, "low_c": figures.low_c,
                "high_c": figures.high_c, "score": figures.score, "best_anywhere_c": figures.best_anywhere_c,
            }  # fmt: skip
        return kept

    def decided(self, decision: Decision) -> list[NewValue]:
        """The temperature, applied or kept."""
        figures = self.found.figures
        _, offered = self.pick()
        number = self.inputs.current
        if decision.action == "apply" and offered is not None:
            number = self.inputs.values[offered]
        return [self.new_value(Kind.NOZZLE, number, None if figures is None else figures.half_width_c, decision)]


class PullCase(TowerCase):
    """A retraction tower with its ratings."""

    rule_version = RETRACTION_RULE_VERSION
    vetoes = ("clicks", "failed", MISSING)
    kind = Kind.RETRACTION

    @property
    def keys(self) -> tuple[str, ...]:
        """What is rated."""
        return ("strings", "gap")

    @property
    def _foaming(self) -> bool:
        filament = self.run.setup.filament
        return family(filament.family).foaming or "foaming" in filament.flags

    @cached_property
    def sample(self) -> RetractionSample:
        """The tower as the core judges it: a band that failed was never rated, one that clicked cuts all longer ones."""
        inputs, setup = self.inputs, self.run.setup
        failed = self.said.marked("failed") | self.said.marked(MISSING)

        def rows(key: str) -> tuple[Row, ...]:
            return tuple(
                [None if band in failed else value for band, value in enumerate(row)]
                for _, row in self.said.rows(key, self.count)
            )

        return RetractionSample(
            distances_mm=tuple(inputs.values),
            strings=rows("strings"),
            gaps=rows("gap"),
            crossings=inputs.crossings,
            direct=setup.toolhead.machine.feed_path == "direct",
            stiffness=family(setup.filament.family).stiffness or Stiffness.SEMI,
            vetoed=self.said.marked("clicks"),
            of_speed=inputs.of_speed,
        )

    @property
    def out(self) -> frozenset[int]:
        """Bands that failed or clicked, and all longer than one that clicked."""
        clicked = [self.inputs.values[band] for band in self.said.marked("clicks")]
        beyond = {band for band, value in enumerate(self.inputs.values) if clicked and value >= min(clicked)}
        return self.said.marked("failed") | self.said.marked(MISSING) | frozenset(beyond)

    @cached_property
    def found(self) -> RetractionResult:
        """What the tower says."""
        return evaluate_retraction(self.sample)

    @property
    def proven(self) -> bool:
        """Whether a change is shown to be worth making."""
        return self._verdict[0] is Verdict.APPLY

    @property
    def _verdict(self) -> tuple[Verdict, Reason]:
        found, inputs = self.found, self.inputs
        if found.verdict not in {RetractionVerdict.PICK, RetractionVerdict.GOOD_EVERYWHERE}:
            refused = found.figures is None or found.verdict is RetractionVerdict.NO_BAND_LEFT
            return (Verdict.REFUSE if refused else Verdict.REPEAT), _PULL_REASONS[found.verdict]
        picked = None if found.figures is None else found.figures.distance_mm
        if inputs.in_use and picked is not None and abs(picked - inputs.current) < self._step / 2:
            return Verdict.KEEP, Reason.WILL_DO
        return Verdict.APPLY, Reason.BEST_BAND

    @property
    def _step(self) -> float:
        ordered = sorted(self.inputs.values)
        return (ordered[-1] - ordered[0]) / max(1, len(ordered) - 1)

    def most(self, key: str) -> int:
        """Strings that are counted go up to the crossings of a band."""
        return self.inputs.crossings if key == "strings" and self.inputs.crossings is not None else super().most(key)

    def scale(self, key: str) -> ScaleOut:
        """The scale of a key; where strings are counted there are no words to choose from."""
        shown = super().scale(key)
        if shown.most == BEST_RATING:
            return shown
        return shown.model_copy(
            update={
                "look": f"crossings with a string, of {self.inputs.crossings}",
                "words": [],
                "sentences": ["Count one side of the band, layer by layer; type the number, then Enter."],
            }
        )

    def method_name(self) -> str:
        """How it is found."""
        return f"retraction tower, {self.count} {'speeds' if self.inputs.of_speed else 'distances'}"

    def procedure(self) -> list[str]:
        """How it goes."""
        return list(words.PULL_PROCEDURE)

    def cells(self) -> list[CellOut]:
        """Bands printed, and what is in use."""
        inputs, unit = self.inputs, unit_text(self.inputs.unit.value)
        in_use = f"{decimal_text(inputs.current, inputs.places)} {unit}" if inputs.in_use else "nothing yet"
        return [
            CellOut(
                label="Printed",
                value=f"{self.text(0)}{DASH}{self.text(self.count - 1)} {unit}",
                detail=f"{self.count} bands, at {plain(inputs.nozzle_c)} °C",
            ),
            CellOut(label="In use", value=in_use, detail=f"at most {plain(self.sample.most)} {unit} here"),
        ]

    def facts(self) -> list[str]:
        """The cap and its reason, with what towers always say."""
        cap = self.sample.cap
        return [
            f"at most {plain(self.sample.most)} {unit_text(self.inputs.unit.value)}: {cap.why}",
            *super().facts(),
        ]

    def finding(self) -> str | None:
        """Ratings that contradict the rest."""
        figures = self.found.figures
        if figures is None or not figures.contradictions:
            return None
        named = ", ".join(f"strings at {self.text(band)}" for _, band in figures.contradictions[:3])
        return f"{named}: unlikely beside the other bands. Look again; it is kept as it is."

    def odd(self) -> frozenset[tuple[int, str, int]]:
        """Ratings the others make unlikely."""
        figures = self.found.figures
        people = [person for person, _ in self.said.rows("strings", self.count)]
        if figures is None:
            return frozenset()
        return frozenset((people[rater], "strings", band) for rater, band in figures.contradictions)

    def pick(self) -> tuple[frozenset[int], int | None]:
        """Bands that are good enough, and the least of them."""
        figures = self.found.figures
        if figures is None:
            return frozenset(), None
        good = frozenset(
            band
            for band in range(self.count)
            if figures.p_good[band] >= SURE_OF_STRINGS
            and figures.p_gap[band] >= SURE_OF_GAP
            and band not in self.out
            and self.inputs.values[band] <= self.sample.most + 1e-9
        )
        offered = None
        if figures.distance_mm is not None:
            offered = self.inputs.values.index(figures.distance_mm)
        return good, offered

    def scores(self) -> Sequence[tuple[float, float] | None]:
        """Quality of the strings of each band."""
        figures = self.found.figures
        if figures is None:
            return [None] * self.count
        return [
            None if band in self.out else (quality, std)
            for band, (quality, std) in enumerate(zip(figures.quality, figures.quality_std, strict=True))
        ]

    def score_name(self) -> str:
        """What the bars show."""
        return "Strings, all told"

    def waiting(self) -> list[TowerNextOut]:
        """Cells still asked for: strings of both ends and the middle, the rest of them, then the gaps."""
        bands = [band for band in range(self.count) if band not in self.out]
        if not bands:
            return []
        order = dict.fromkeys([bands[0], bands[-1], bands[len(bands) // 2], *bands])
        return [
            TowerNextOut(band=band, key=key)
            for key in self.keys
            for band in order
            if band not in self.mine.get(key, {})
        ]

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before enough is rated to say anything."""
        found, inputs = self.found, self.inputs
        if found.verdict is RetractionVerdict.NOTHING_RATED or (len(self.readings) < self.asked and not early):
            return None
        verdict, reason = self._verdict
        figures = found.figures
        picked = None if figures is None else figures.distance_mm
        unit = unit_text(inputs.unit.value)
        sentence = words.pull_said(
            found.verdict,
            distance="" if picked is None else decimal_text(picked, inputs.places),
            cap=plain(self.sample.most),
            why=self.sample.cap.why,
            last=decimal_text(max(inputs.values), inputs.places),
            foaming=self._foaming,
            unit=unit,
        )
        remarks = []
        if figures is not None and figures.p_no_response >= WORTH_SAYING:
            remarks.append(f"Believed not to respond at all: {plain(round(100 * figures.p_no_response))}{NBSP}%.")
        return self.answer(
            verdict, reason, sentence=sentence, proposal=picked, half=None if picked is None else self._step / 2,
            limits="One change at a time: dry, then cooler, then distance.", remarks=remarks,
            further=self._further(),
        )  # fmt: skip

    def _further(self) -> dict[str, float]:
        """Ends of the tower that goes on where this one ends, or of a finer one near its end; none beyond the cap."""
        ordered = sorted(self.inputs.values)
        low, high = ("slowest", "fastest") if self.inputs.of_speed else ("shortest", "longest")
        match self.found.verdict:
            case RetractionVerdict.EXTEND_LONGER:
                return {low: ordered[-2], high: self.sample.most}
            case RetractionVerdict.UNCLEAR:
                return {low: ordered[-3], high: min(ordered[-1], self.sample.most)}
        return {}

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self.found.figures
        kept: dict[str, Any] = {"count": len(self.readings), "said": self.found.verdict.value}
        if figures is not None:
            kept |= {"p_no_response": figures.p_no_response, "picked": figures.distance_mm}
        return kept

    def decided(self, decision: Decision) -> list[NewValue]:
        """The distance, or the speed, applied or kept."""
        figures = self.found.figures
        number = self.inputs.current
        if decision.action == "apply" and figures is not None and figures.distance_mm is not None:
            number = figures.distance_mm
        kind = Kind.RETRACTION_SPEED if self.inputs.of_speed else Kind.RETRACTION
        return [self.new_value(kind, number, self._step / 2, decision)]
