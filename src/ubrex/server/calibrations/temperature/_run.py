"""A temperature tower: bands rated for a purpose, and the temperature to set."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar, Final

from ubrex.core.calibrate import (
    DEMANDS,
    Criterion,
    Demand,
    Row,
    Stays,
    TowerReason,
    TowerResult,
    TowerSample,
    TowerVerdict,
    break_to_look_at,
    could_change,
    evaluate_tower,
    in_race,
    in_use_stays,
    nearest_band,
    next_ratings,
)
from ubrex.core.chain import Kind, Purpose
from ubrex.core.judge import Severity, judge_one
from ubrex.core.quantity import Verdict
from ubrex.server.calibrations import _tower_words as tower_words
from ubrex.server.calibrations._tower import FEW_BANDS, MISSING, Tower, rating_of
from ubrex.server.calibrations.temperature import _words as words
from ubrex.server.calibrations.temperature._start import TemperatureInputs
from ubrex.server.desk import FieldProblem, Refused
from ubrex.server.printing import machine_limits
from ubrex.server.profile import NewValue, numbers_of
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.views.runs import Action, ResultOut, RunEditIn
from ubrex.server.views.towers import TowerNextOut, TowerPurposeOut
from ubrex.server.words.judgement import finding_said
from ubrex.server.words.numbers import DASH, plain
from ubrex.server.words.scales import BREAK, SCALES

FURTHER_BANDS: Final = 5
"""How many bands beyond its end a further tower goes."""

STRICT_OR_MILD: Final = 2
"""From this edition on nobody's strictness is taken for granted."""

BREAKS: Final = 3
"""From this edition on a break is looked at where a must-have hangs on how strict its raters are."""

FEW_LEFT: Final = 2
"""With so few ratings left it is worked out whether they could still change anything."""

NAMED: Final = 3
"""Contradictions that are named at most."""

_REASONS: Final = {
    TowerVerdict.EXTEND_HOTTER: TowerReason.BEST_BEYOND,
    TowerVerdict.EXTEND_COOLER: TowerReason.BEST_BEYOND,
    TowerVerdict.MINIMUM_NOT_MET: TowerReason.MUST_NOT_MET,
    TowerVerdict.DOES_NOT_DISCRIMINATE: TowerReason.ALL_ALIKE,
    TowerVerdict.TOO_FEW_BANDS: TowerReason.TOO_FEW_BANDS,
    TowerVerdict.NOTHING_RATED: TowerReason.NOTHING_RATED,
    TowerVerdict.NO_BAND_LEFT: TowerReason.NO_BAND_LEFT,
    TowerVerdict.LOOK_AT_BREAK: TowerReason.LOOK_AT_BREAK,
}


_PICKED: Final = frozenset({TowerVerdict.PICK, TowerVerdict.DOES_NOT_DISCRIMINATE})
"""A band is offered: the best, or one of many that are about as good."""


@dataclass(frozen=True)
class TemperatureCase(Tower[TemperatureInputs]):
    """A temperature tower with its ratings."""

    inputs_type = TemperatureInputs
    edits: ClassVar[tuple[Action, ...]] = (*Tower.edits, "purpose")

    @property
    def demand(self) -> Demand:
        """What its purpose asks."""
        return DEMANDS[self.inputs.purpose]

    @property
    def keys(self) -> tuple[str, ...]:
        """What is rated: what counts for the purpose, what was rated for another, and the bond last."""
        counted = [row for row in Criterion if self.demand.weights.get(row, 0) > 0 or self.said.marked(row.value)]
        counted.sort(key=lambda row: row is Criterion.BOND)
        looked = [BREAK] if self._break_asked is not None or self._weak or self.said.marked(BREAK) else []
        return (*(row.value for row in counted), *looked)

    def most(self, key: str) -> int:
        """A break runs across layers, or it does not."""
        return 1 if key == BREAK else super().most(key)

    @cached_property
    def sample(self) -> TowerSample:
        """The tower as the core judges it."""
        tables: dict[int, dict[Criterion, Row]] = defaultdict(dict)
        for criterion in Criterion:
            for person, row in self.said.rows(criterion.value, self.count):
                tables[person][criterion] = row
        return TowerSample(
            temperatures_c=tuple(self.inputs.values),
            raters=tuple(tables.values()),
            failed=self.out,
            unanchored=self.inputs.edition >= STRICT_OR_MILD,
            torn=self._torn,
        )

    @property
    def _torn(self) -> dict[int, bool] | None:
        """What breaks were seen to do: across the layers only if everybody who looked says so."""
        if self.inputs.edition < BREAKS:
            return None
        seen = [row for _, row in self.said.rows(BREAK, self.count)]
        looked = {band for row in seen for band, said in enumerate(row) if said is not None}
        return {band: all(row[band] != 0 for row in seen) for band in looked}

    @cached_property
    def raters(self) -> tuple[int, ...]:
        """People in the order of the sample."""
        found: dict[int, None] = {}
        for criterion in Criterion:
            found |= dict.fromkeys(person for person, _ in self.said.rows(criterion.value, self.count))
        return tuple(found)

    @cached_property
    def evaluated(self) -> TowerResult:
        """What the tower says."""
        return evaluate_tower(self.sample, self.demand)

    @property
    def proven(self) -> bool:
        """Whether a change is shown to be worth making."""
        return self.evaluated.verdict in _PICKED and self._stays is Stays.NO and not self._all_alike

    @cached_property
    def _stays(self) -> Stays:
        """Whether what is in use is as good as can be told."""
        figures, now = self.evaluated.figures, self.inputs.current
        if figures is None or now is None:
            return Stays.NO
        return in_use_stays(self.sample, figures, now)

    @property
    def _weak(self) -> bool:
        """Whether what is in use and stays is likelier too weak than not, and nobody has seen its break hold."""
        figures, now, torn = self.evaluated.figures, self.inputs.current, self.sample.torn
        if figures is None or now is None or torn is None or self._stays is not Stays.YES:
            return False
        return round(now) in figures.weak_c and not torn.get(nearest_band(self.inputs.values, now), False)

    @cached_property
    def _break_asked(self) -> int | None:
        """The band whose break has to be looked at; None where none has."""
        return break_to_look_at(self.sample, self.evaluated, self.inputs.current)

    @property
    def _all_alike(self) -> bool:
        """Whether nothing tells the bands apart; what is in use outside of them is told apart from them."""
        return self.evaluated.verdict is TowerVerdict.DOES_NOT_DISCRIMINATE and self.inputs.current is None

    def counts(self, key: str) -> str:
        """How much a criterion counts for the purpose."""
        if key == BREAK:
            return words.DECIDES if self.demand.minimum else words.counts_said(0)
        return words.counts_said(self.demand.weights.get(Criterion(key), 0))

    def method_name(self) -> str:
        """How it is found."""
        return words.method_said(self.count)

    @property
    def purpose(self) -> Purpose:
        """What it is rated for."""
        return self.inputs.purpose

    def edited(self, form: RunEditIn) -> dict[str, Any]:
        """What it is rated for, or two bands that were printed the other way round."""
        edit = super().edited(form)
        if form.purpose is None:
            return edit
        if all(row.purpose is not form.purpose for row in self.purposes()):
            raise Refused(FieldProblem("purpose", "not_here", words.NOT_RATED_FOR))
        return edit | {"purpose": form.purpose.value}

    def cells(self) -> list[CellOut]:
        """Bands printed, and the range of the maker."""
        inputs = self.inputs
        ends = f"{plain(min(inputs.values))}{DASH}{plain(max(inputs.values))} °C"
        below = "hottest below" if inputs.values[0] > inputs.values[-1] else "coldest below"
        in_use = "nothing yet" if inputs.current is None else f"{plain(inputs.current)} °C"
        return [
            CellOut(label="Printed", value=ends, detail=f"{self.count} bands, {below}"),
            CellOut(label="In use", value=in_use, detail=f"printed at {plain(round(self.speed_mm_s, 1))} mm/s"),
        ]

    def finding(self) -> str | None:
        """Ratings that contradict the rest, by name."""
        figures = self.evaluated.figures
        if figures is None or not figures.contradictions:
            return None
        named = []
        for rater, criterion, band in figures.contradictions[:NAMED]:
            who = self.said.names[self.raters[rater]] if len(self.raters) > 1 else ""
            named.append(tower_words.cell_said(SCALES[criterion.value].name, self.text(band), who))
        return tower_words.unlikely_said(named)

    def odd(self) -> frozenset[tuple[int, str, int]]:
        """Ratings the others make unlikely."""
        figures = self.evaluated.figures
        if figures is None:
            return frozenset()
        return frozenset((self.raters[rater], row.value, band) for rater, row, band in figures.contradictions)

    def pick(self) -> tuple[frozenset[int], int | None]:
        """Bands inside what will do, and the one that is offered."""
        figures = self.evaluated.figures
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
        figures = self.evaluated.figures
        if figures is None:
            return [None] * self.count
        return [None if band in self.out else (row.score, row.std) for band, row in enumerate(figures.bands)]

    @cached_property
    def _waiting(self) -> list[tuple[Criterion, int]]:
        own: dict[Criterion, Row] = {
            criterion: [rating_of(self.mine.get(criterion.value, {}).get(band)) for band in range(self.count)]
            for criterion in Criterion
        }
        sample = TowerSample(temperatures_c=tuple(self.inputs.values), raters=(own,), failed=self.out)
        race = in_race(self.sample, self.evaluated)
        return next_ratings(sample, self.demand, race, self.said.marked(MISSING))

    def waiting(self) -> list[TowerNextOut]:
        """Cells still asked for: the ends, then the race; bond last."""
        return [
            TowerNextOut(band=band, key=criterion.value, last=criterion is Criterion.BOND)
            for criterion, band in self._waiting
        ] + ([] if self._break_asked is None else [TowerNextOut(band=self._break_asked, key=BREAK, last=True)])

    def left(self) -> str:
        """How many are left, and whether they matter."""
        few = len(self._waiting) <= FEW_LEFT and self.evaluated.figures is not None
        matters = (
            not few
            or self._break_asked is not None
            or any(could_change(self.sample, self.demand, criterion, band) for criterion, band in self._waiting)
        )
        return tower_words.left_said(len(self.waiting()), matters=matters)

    def purposes(self) -> list[TowerPurposeOut]:
        """What it can be rated for."""
        return [
            TowerPurposeOut(purpose=purpose, name=name, why=tower_words.PURPOSE_WHY[purpose])
            for purpose, name in tower_words.PURPOSE_NAMES.items()
        ]

    def score_name(self) -> str:
        """The purpose."""
        return tower_words.PURPOSE_NAMES[self.inputs.purpose]

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown; None before enough is rated to say anything."""
        found, inputs = self.evaluated, self.inputs
        if found.figures is None:
            if found.verdict is TowerVerdict.NOTHING_RATED:
                return None
            return self.answer(
                Verdict.REFUSE, _REASONS[found.verdict], sentence=self._sentence(), proposal=None, half=None
            )
        # A band that is still to be rated may be the best one.
        if len(self.readings) < self.asked and not early:
            return None
        _, offered = self.pick()
        proposal = None if offered is None else inputs.values[offered]
        verdict, reason = Verdict.APPLY, TowerReason.BEST_BAND
        # What is in use is left alone where it is as good as the best, whichever band rated highest.
        if found.verdict in _PICKED and self._stays is Stays.YES:
            verdict, reason = Verdict.KEEP, TowerReason.WILL_DO
        elif found.verdict in _PICKED and self._stays is Stays.LOOK_AT_BREAK:
            verdict, reason = Verdict.REPEAT, TowerReason.LOOK_AT_BREAK
        elif self._all_alike:
            verdict, reason = Verdict.TRY, TowerReason.ALL_ALIKE
        elif found.verdict not in _PICKED:
            verdict, reason = Verdict.REPEAT, _REASONS[found.verdict]
        further = self._next_run()
        # A best band at an end points beyond it only where a tower beyond may be printed.
        end = found.figures.end if found.verdict is TowerVerdict.PICK and further else 0
        remarks = [
            words.end_said(end),
            tower_words.few_said(self.count) if self.count <= FEW_BANDS else "",
            words.SAFER.get(self.run.setup.filament.family, ""),
            inputs.moved,
            self._past_label(further),
            words.weak_said(inputs.current or 0.0) if self._weak else "",
        ]
        ask = None
        if verdict is Verdict.REPEAT and proposal is not None:
            unseen = reason is TowerReason.LOOK_AT_BREAK
            ask = words.not_looked_said(proposal) if unseen else words.elsewhere_said(proposal)
        elif verdict is Verdict.KEEP and proposal is not None and inputs.current is not None:
            ask = words.as_good_said(inputs.current)
        return self.answer(
            verdict,
            reason,
            sentence=self._sentence(),
            proposal=proposal,
            half=found.figures.half_width_c,
            limited_by=words.OVERRIDE,
            remarks=[remark for remark in remarks if remark],
            ask=ask,
            next_run=further,
        )

    def _next_run(self) -> dict[str, float]:
        """Ends of the tower that goes where the best would lie, one band of this one in it; none beyond a limit."""
        figures, values_c = self.evaluated.figures, sorted(self.inputs.values)
        if figures is None:
            return {}
        # A pick at an end may have a better one behind it, though nothing rises there: one band further tells.
        picked = self.evaluated.verdict is TowerVerdict.PICK
        direction = figures.end if picked else figures.direction
        if direction == 0:
            return {}
        step, bands = values_c[1] - values_c[0], 1 if picked else FURTHER_BANDS
        if direction > 0:
            top = min(values_c[-1] + bands * step, self._cap.max_c)
            return {"coldest": values_c[-1] - step, "hottest": top} if top > values_c[-1] else {}
        foot = max(values_c[0] - bands * step, machine_limits(self.tuned, still=True).feeds_from_c)
        return {"coldest": foot, "hottest": values_c[0] + step} if foot < values_c[0] else {}

    def _past_label(self, further: Mapping[str, float]) -> str:
        """That the next tower goes past what the label or the family says; empty if it does not."""
        values = numbers_of(self.tuned.values)
        found = [
            one
            for celsius in further.values()
            for one in judge_one(self.tuned.parts, values, Kind.NOZZLE, celsius)
            if one.severity is Severity.ASKS
        ]
        return words.past_label_said(finding_said(found[0])) if found else ""

    def _sentence(self) -> str:
        figures, inputs = self.evaluated.figures, self.inputs
        _, offered = self.pick()
        return words.temperature_said(
            self.evaluated.verdict,
            offered_c=(inputs.current or 0.0) if offered is None else inputs.values[offered],
            low_c=0.0 if figures is None else figures.will_do_c[0],
            high_c=0.0 if figures is None else figures.will_do_c[1],
            direction=0 if figures is None else figures.direction,
            ends_c=(min(inputs.values), max(inputs.values)),
            purpose=inputs.purpose,
            in_use_c=inputs.current,
            stays=self._stays,
            look_c=None if self._break_asked is None else inputs.values[self._break_asked],
        )

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self.evaluated.figures
        kept: dict[str, Any] = {"count": len(self.readings), "purpose": self.inputs.purpose.value}
        if figures is not None:
            kept |= {
                "said": self.evaluated.verdict.value, "pick_c": figures.pick_c, "low_c": figures.low_c,
                "high_c": figures.high_c, "score": figures.score, "best_anywhere_c": figures.best_anywhere_c,
            }  # fmt: skip
        return kept

    def decided(self, decision: Decision) -> list[NewValue]:
        """The temperature, applied or kept."""
        figures = self.evaluated.figures
        _, offered = self.pick()
        number = (
            self.inputs.values[offered] if decision.action == "apply" and offered is not None else self.inputs.current
        )
        if number is None:
            return []
        half = None if figures is None else figures.half_width_c
        return [self.new_value(Kind.NOZZLE, number, half, decision, self.inputs.unit)]
