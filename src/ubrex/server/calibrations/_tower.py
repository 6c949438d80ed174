"""Runs with a tower: its bands, what people said of them, and what every tower shows."""

from __future__ import annotations

from abc import abstractmethod
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar, Final, Self, TypeVar

from ubrex.core.calibrate import BEST_RATING, Criterion, TowerReason
from ubrex.core.chain import Kind, Purpose
from ubrex.core.gcode import HeatCap
from ubrex.core.judge import judge_one
from ubrex.core.quantity import Unit, Verdict, decimal_text
from ubrex.server.calibrations import _tower_words as words
from ubrex.server.calibrations._case import Case, File
from ubrex.server.calibrations._tower_start import BandInputs, TowerInputs
from ubrex.server.desk import FieldProblem, Refused
from ubrex.server.printing import machine_limits, write_piece
from ubrex.server.profile import newest_revision, numbers_of, usual_said_on
from ubrex.server.store.prepared import Prepared
from ubrex.server.store.records import Photo, Reading
from ubrex.server.views.runs import (
    Action,
    CurveMarkOut,
    CurveOut,
    CurvePointOut,
    CurveSeriesOut,
    RatedBody,
    ResultOut,
    RunEditIn,
)
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
from ubrex.server.words.numbers import NBSP, plain, plus_minus, unit_text
from ubrex.server.words.readings import before_proof_said
from ubrex.server.words.scales import SCALES

Inputs = TypeVar("Inputs", bound=BandInputs)
Printed = TypeVar("Printed", bound=TowerInputs)

FEW_BANDS: Final = 4
"""With so few bands it is said that nothing is known of what lies between them."""

FEWEST_DRAWN: Final = 3
"""Points that make a curve."""

WITHOUT_SWAP: Final[tuple[Action, ...]] = ("rate", "clear", "band_out", "photos")
"""What can be done to bands that lie in order by their making: holes and bays that say their gap, ways by turns."""

SNAPPED: Final = "snapped"
MISSING: Final = "missing"

_PICTURES: Final[Prepared[Photo]] = Prepared(
    lambda run_id: Photo.select(Photo.band).where(Photo.run == run_id, Photo.shown())
)


def place_of(band: int, key: str) -> str:
    """Where a rating belongs: band from the bottom, and what is rated."""
    return f"{band}:{key}"


@dataclass(frozen=True)
class Said:
    """What people said of a tower: by person, key and band. A mark that takes a band out counts, whoever made it."""

    by_person: Mapping[int, Mapping[str, Mapping[int, Reading]]]
    names: Mapping[int, str]

    @classmethod
    def of(cls, rows: Sequence[Reading]) -> Said:
        """Readings that count, sorted."""
        table: dict[int, dict[str, dict[int, Reading]]] = defaultdict(lambda: defaultdict(dict))
        names = {}
        for row in rows:
            band, _, key = (row.place or "").partition(":")
            if key and band.isdigit():
                table[row.person_id][key][int(band)] = row
                names[row.person_id] = row.person.name
        return cls(table, names)

    def marked(self, key: str) -> frozenset[int]:
        """Bands that anybody marked with a key."""
        return frozenset(band for table in self.by_person.values() for band in table.get(key, {}))

    def rows(self, key: str, bands: int) -> list[tuple[int, list[int | None]]]:
        """What each person said of a key, by band; people who said nothing of it are left out."""
        return [
            (person, [rating_of(table[key].get(band)) for band in range(bands)])
            for person, table in self.by_person.items()
            if table.get(key)
        ]


def rating_of(row: Reading | None) -> int | None:
    return None if row is None else round(row.number)


@dataclass(frozen=True)
class Bands(Case[Inputs]):
    """A run whose bands are rated: what was said of them, and what every such run shows."""

    edits: ClassVar[tuple[Action, ...]] = (*WITHOUT_SWAP, "swap")
    vetoes: ClassVar[tuple[str, ...]] = ("failed", MISSING)
    kind: ClassVar[Kind] = Kind.NOZZLE
    score_places: ClassVar[int] = 1
    score_note: ClassVar[str] = words.SCORE_NOTE

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """Two bands that were printed the other way round."""
        edit: dict[str, Any] = {}
        if form.swap is not None:
            first, second = form.swap
            if first == second or not all(0 <= band < self.count for band in form.swap):
                raise Refused(FieldProblem("swap", "no_such_band", words.two_bands_said(self.count)))
            bands = list(self.inputs.values)
            bands[first], bands[second] = bands[second], bands[first]
            edit["values"] = bands
            edit["swapped"] = [*self.inputs.swapped, words.swapped_said(self.text(first), self.text(second))]
        return edit

    @cached_property
    def said(self) -> Said:
        """What people said of its bands."""
        return Said.of(self.readings)

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

    def first_answers(self, key: str) -> tuple[int | None, list[int | None]]:
        """Who rated a key first, and that person's answers, for rules that read one hand; bands that are out have none."""
        rows = self.said.rows(key, self.count)
        if not rows:
            return None, [None] * self.count
        person, answers = rows[0]
        return person, [None if band in self.out else value for band, value in enumerate(answers)]

    @cached_property
    def out(self) -> frozenset[int]:
        """Bands that are no candidates."""
        return frozenset().union(*(self.said.marked(key) for key in self.vetoes))

    @cached_property
    def viewer(self) -> int | None:
        """Whose ratings stand in the grid: whoever asks; once a run has ended, its first rater for one who rated nothing."""
        said = self.said.by_person
        if self.run.state == "open" or self.work.person_id in said:
            return self.work.person_id
        return next(iter(said), None)

    @cached_property
    def mine(self) -> Mapping[str, Mapping[int, Reading]]:
        """What stands in the grid; a second person begins with an empty one."""
        return {} if self.viewer is None else self.said.by_person.get(self.viewer, {})

    def place_label(self, place: str) -> str:
        """The band, and what was rated or marked on it."""
        band, _, key = place.partition(":")
        if not key:
            return ""
        said = SCALES[key].name if key in SCALES else words.VETOES.get(key, (key, ""))[0]
        return f"{self.text(int(band))} {said}"

    def band_unit(self) -> str:
        """What stands behind the value of a band."""
        return unit_text(self.inputs.unit.value)

    def in_use(self, band: int) -> bool:
        """Whether a band has the value in use."""
        return self.inputs.values[band] == self.inputs.current

    def text(self, band: int) -> str:
        """The value of a band as its wall says it."""
        return decimal_text(self.inputs.values[band], self.inputs.places)

    def cell(self, key: str, band: int, odd: frozenset[tuple[int, str, int]]) -> CellRatingOut:
        """One cell of the grid."""
        own = self.mine.get(key, {}).get(band)
        rating = rating_of(own)
        others = [
            OtherRatingOut(person=self.said.names[person], rating=round(table[key][band].number))
            for person, table in self.said.by_person.items()
            if person != self.viewer and band in table.get(key, {})
        ]
        word = ""
        if rating is not None:
            counted = self.most(key) > BEST_RATING
            word = words.counted_said(rating) if counted else SCALES[key].words[rating]
        said_by = [person for person in self.said.by_person if (person, key, band) in odd]
        return CellRatingOut(key=key, rating=rating, word=word, others=others, odd=bool(said_by))

    def most(self, key: str) -> int:  # noqa: ARG002
        """The highest number of a scale; more than the best rating where something is counted."""
        return BEST_RATING

    def scale(self, key: str) -> ScaleOut:
        """The scale of a key."""
        row = SCALES[key]
        return ScaleOut(
            key=key, name=row.name, look=row.look, counts=self.counts(key), words=list(row.words)[: self.most(key) + 1],
            sentences=list(row.sentences), most=self.most(key),
        )  # fmt: skip

    def counts(self, key: str) -> str:  # noqa: ARG002
        """How much a key counts, in two words."""
        return ""

    def facts(self) -> list[str]:
        """What the drawing has to say beside the bands; nothing where none is printed."""
        return []

    @cached_property
    def _cap(self) -> HeatCap:
        return machine_limits(self.tuned, still=True).nozzle

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
        if self.kind is not Kind.NOZZLE:
            return ""
        values = numbers_of(self.tuned.values)
        found = judge_one(self.tuned.parts, values, Kind.NOZZLE, self.inputs.values[band])
        whose = next((one.whose for one in found if one.whose is not None), None)
        return "" if whose is None else words.outside_said(whose)

    @property
    def purpose(self) -> Purpose | None:
        """What it is rated for; None where that makes no difference."""
        return None

    def purposes(self) -> list[TowerPurposeOut]:
        """What it can be rated for."""
        return []

    def score_name(self) -> str:
        """What stands over the scores."""
        return words.GOOD_ENOUGH

    def score_said(self, score: float) -> str:
        """A score, as it stands beside its bar of 0 to 4."""
        return decimal_text(score, self.score_places)

    def snapping(self) -> bool:
        """Whether its tabs are snapped."""
        return Criterion.BOND.value in self.keys

    def widths(self, band: int) -> str:  # noqa: ARG002
        """Widths measured on a band; none where it is only looked at."""
        return ""

    @property
    def tower(self) -> Self:
        """It is one."""
        return self

    def body(self, shown: ResultOut | None) -> RatedBody:
        """The tower, whatever result is shown."""
        del shown
        return RatedBody(tower=self.drawn())

    @property
    def unit(self) -> Unit:
        """What is read into its list of readings."""
        return Unit.RATING

    def drawn(self) -> TowerOut:
        """The tower with its ratings, top band first."""
        inside, offered = self.pick()
        scores, odd, out = self.scores(), self.odd(), self.out
        # Pictures and marks are read once for the tower, not once a band.
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
                score_text="" if score is None else self.score_said(max(0.0, score[0])),
                spread=0.0 if score is None else round(score[1], 3),
                inside=band in inside,
                offered=band == offered,
                in_use=self.in_use(band),
                widths=self.widths(band),
                photos=pictures[band],
            )

        return TowerOut(
            unit=self.band_unit(),
            score_name=self.score_name(),
            score_note=self.score_note,
            purpose=self.purpose,
            purposes=self.purposes(),
            scales=[self.scale(key) for key in self.keys],
            bands=[band_out(band) for band in reversed(range(self.count))],
            vetoes=[
                TowerVetoOut(key=key, word=words.VETOES[key][0], sentence=words.VETOES[key][1]) for key in self.vetoes
            ],
            waiting=self.waiting(),
            left=self.left(),
            facts=self.facts(),
        )

    def curve(self) -> CurveOut | None:
        """The scores of its bands with their spread, over their values."""
        values, scores, offered = self.inputs.values, self.scores(), self.pick()[1]
        points = [
            CurvePointOut(x=value, y=score[0], spread=score[1], text=f"{self.text(band)}: {self.score_said(score[0])}")
            for band, (value, score) in enumerate(zip(values, scores, strict=True))
            if score is not None
        ]
        if len(points) < FEWEST_DRAWN:
            return None
        marks = [] if offered is None else [CurveMarkOut(x=values[offered], text=words.OFFERED, offered=True)]
        if self.inputs.current is not None and min(values) <= self.inputs.current <= max(values):
            marks.append(CurveMarkOut(x=self.inputs.current, text=words.IN_USE, offered=False))
        points.sort(key=lambda point: point.x)
        return CurveOut(
            x_name=self.band_unit(),
            y_name=self.score_name(),
            series=[CurveSeriesOut(name="", points=points)],
            marks=marks,
        )

    def answer(
        self,
        verdict: Verdict,
        reason: TowerReason,
        *,
        sentence: str,
        proposal: float | None,
        half: float | None,
        limited_by: str = "",
        remarks: Sequence[str] = (),
        ask: str | None = None,
        same: bool = True,
        next_run: Mapping[str, float] | None = None,
    ) -> ResultOut:
        """The result of a tower in the form of all results.

        ``proposal`` None: nothing can be applied; ``same``: nor can what is in use already, it can only be kept. Nor can a
        temperature that may not be set any more, since a limit was changed after the tower was printed.
        """
        inputs, now = self.inputs, self.inputs.current
        # A limit that was found since the tower was printed holds for its answer too.
        if self.kind is Kind.NOZZLE and proposal is not None and not self._cap.allows(proposal):
            remarks = [words.forbidden_said(proposal, self._cap), *remarks]
            verdict, reason, proposal, half, ask = Verdict.REPEAT, TowerReason.BEYOND_CAP, None, None, None
        unit = unit_text(inputs.unit.value)
        shown = "" if proposal is None else decimal_text(proposal, inputs.places)
        change = "" if proposal is None or now is None else words.was_said(now, proposal, inputs.places)
        # Half a tower may say what it leans to, but recommends nothing.
        so_far, less_known = bool(self.waiting()), self.less_known(half)
        return ResultOut(
            verdict=verdict,
            reason=reason.value,
            title=words.tower_title(verdict, reason, f"{shown}{NBSP}{unit}"),
            sentence=sentence,
            limited_by=limited_by,
            remarks=list(remarks),
            so_far=so_far,
            recommended=verdict is Verdict.APPLY and not so_far,
            proposal=shown,
            half_width_text="" if half is None else plus_minus(half),
            change=change,
            unit_text=unit,
            can_apply=proposal is not None and not (proposal == now and same),
            can_keep=now is not None,
            less_known=less_known,
            ask_before=ask or (before_proof_said(verdict, shown, less_known=True) if less_known else None),
            keep_text="" if now is None else decimal_text(now, inputs.places),
            next_run={name: plain(round(value, 2)) for name, value in (next_run or {}).items()},
        )


@dataclass(frozen=True)
class Tower(Bands[Printed]):
    """Bands of a printed tower, with the file that prints it."""

    @property
    def speed_mm_s(self) -> float:
        """Speed it is really printed at: the one wanted, where melt rate and machine allow it."""
        return self.made[1].speed_mm_s

    def files(self) -> list[File]:
        """The file that prints it."""
        return [self.piece_file(self._file)]

    def heading(self) -> list[tuple[str, str]]:
        """What the head of its file says of its bands."""
        return words.heading(self.made[0], self.inputs.unit.value, self.inputs.moved)

    def _file(self) -> str:
        made, manner = self.made
        head = [("run", str(self.run.id)), *self.heading()]
        revision = newest_revision(self.run.setup_id)
        return write_piece(self.tuned, made, self.inputs.printing, manner, head, revision=revision)

    def facts(self) -> list[str]:
        """What the drawing has to say beside the bands: label, limit, fan, melt rate."""
        inputs, usual = self.inputs, usual_said_on(self.tuned, Kind.NOZZLE)
        speed = self.speed_mm_s
        rate = speed * inputs.bead.area_mm2 * inputs.flow / 100
        return [*([usual] if usual else []), *words.facts_said(self._cap, inputs.fan_pct, rate, speed, inputs.swapped)]
