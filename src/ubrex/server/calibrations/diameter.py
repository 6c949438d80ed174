"""Filament diameter: two readings at each of several places along the filament."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from pydantic import BaseModel, ConfigDict

from ubrex.core.calibrate import (
    DIAMETER_RULE_VERSION,
    DIAMETER_TOLERANCE_PCT,
    DiameterResult,
    DiameterSample,
    evaluate_diameter,
)
from ubrex.core.chain import KINDS, Kind, Origin, Standing
from ubrex.core.materials import Hazard, caution
from ubrex.core.quantity import (
    FarOff,
    Impossible,
    Reason,
    Slip,
    Unit,
    Verdict,
    check_entry,
    decimal_text,
)
from ubrex.server.calibrations.measured import MeasuredCase
from ubrex.server.desk import FieldProblem, TypedFields
from ubrex.server.printing import field
from ubrex.server.profile import NewValue, Tuned, diameter_of
from ubrex.server.store.records import Decision, Reading
from ubrex.server.views.base import CautionOut, CellOut
from ubrex.server.views.pieces import PieceOut
from ubrex.server.views.runs import ResultOut, StartFieldOut
from ubrex.server.views.values import PlateOut, StripOut, StripReadingOut
from ubrex.server.words import walls as words
from ubrex.server.words.numbers import plain, plus_minus, step_places, unit_text

METHOD: Final = "diameter"
FIRST_PLACES: Final = 3
MOST_PLACES: Final = 10


class DiameterInputs(BaseModel):
    """What a diameter run keeps besides its readings; ``current`` is what the slicing program holds [mm]."""

    model_config = ConfigDict(frozen=True)

    current: float
    unit: Unit = Unit.MM
    places: int = 3
    asked: int = 2 * FIRST_PLACES
    zero_mm: float = 0.0
    skipped: list[str] = []


@dataclass(frozen=True)
class DiameterCase(MeasuredCase[DiameterInputs]):
    """A diameter run with its readings: widest and across by turns."""

    rule_version = DIAMETER_RULE_VERSION
    inputs_kind = DiameterInputs

    @property
    def asked(self) -> int:
        """Readings asked for before a result is shown."""
        return self.inputs.asked

    @property
    def implied(self) -> str:
        """Digits without a point: 175 is 1.75, 1748 is 1.748."""
        return f"{int(self.inputs.current)}."

    def place_text(self, reading: Reading) -> str:
        """The place, and which way the jaws closed there."""
        place = reading.place or ""
        return f"{place[:-1]} {'widest' if place.endswith('w') else 'across'}" if place else ""

    @cached_property
    def pairs(self) -> list[tuple[float, float]]:
        """Places with both readings."""
        by_place = {reading.place: reading.number - self.inputs.zero_mm for reading in self.readings}
        return [
            (by_place[f"{place}w"], by_place[f"{place}a"])
            for place in range(1, MOST_PLACES + 1)
            if f"{place}w" in by_place and f"{place}a" in by_place
        ]

    @cached_property
    def found(self) -> DiameterResult:
        """What the readings say."""
        return evaluate_diameter(
            DiameterSample(
                widest=tuple(pair[0] for pair in self.pairs),
                across=tuple(pair[1] for pair in self.pairs),
                nominal_mm=self.inputs.current,
                tool=self.tool,
            )
        )

    @property
    def proposal(self) -> float:
        """Diameter to enter [mm]."""
        figures = self.found.figures
        return self.inputs.current if figures is None else round(figures.diameter_mm, 3)

    @property
    def proven(self) -> bool:
        """Whether a change is proven to be worth making."""
        return self.found.verdict is Verdict.APPLY

    def method_name(self) -> str:
        """How it is measured."""
        return "filament diameter, two ways at each place"

    def procedure(self) -> list[str]:
        """How it goes."""
        return list(words.DIAMETER_PROCEDURE)

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        if place is None:
            return "diameter"
        return f"place {place[:-1]}, {'widest' if place.endswith('w') else 'across it'}"

    def cells(self) -> list[CellOut]:
        """What the slicing program holds."""
        text = f"{decimal_text(self.inputs.current, 3)} mm"
        return [CellOut(label="Entered now", value=text, detail="in the slicing program")]

    def cautions(self) -> list[CautionOut]:
        """What can hurt: only the clipping."""
        row = caution(Hazard.BLADES)
        return [CautionOut(lead=row.lead, text=row.text)]

    def question(self, number: float) -> FieldProblem | None:
        """What to ask about a diameter before it is taken."""
        nominal = self.inputs.current
        found = check_entry(number, fed=lambda width: width, commanded=nominal, low=nominal / 5, high=nominal * 5)
        shown = f"{plain(number)} mm"
        match found:
            case None:
                return None
            case Slip(suggested=suggested):
                said = f"{shown} looks like a slipped point. Did you mean {plain(suggested)} mm?"
                return FieldProblem("typed", found.code, said, suggested=plain(suggested), confirmable=number > 0)
            case Impossible() | FarOff():
                said = f"{shown} is no filament of {plain(nominal)} mm. Look again; Enter takes it as typed."
                if number <= 0:
                    return FieldProblem("typed", found.code, "A diameter is above 0.")
                return FieldProblem("typed", found.code, said, confirmable=True)

    def finding(self) -> str | None:
        """Whether it is oval."""
        figures = self.found.figures
        return (words.oval_said(figures) or None) if figures is not None and len(self.readings) >= self.asked else None

    def result(self, *, early: bool) -> ResultOut | None:
        """The result as shown."""
        count = len(self.readings)
        if not self.pairs or (count < self.asked and not early):
            return None
        found, figures = self.found, self.found.figures
        refused = found.verdict is Verdict.REFUSE or figures is None
        proposal = decimal_text(self.proposal, 3)
        nominal = plain(self.inputs.current)
        change = self.proposal - self.inputs.current
        return ResultOut(
            verdict=found.verdict,
            reason=found.reason,
            title=words.title_said(found.verdict, found.reason, proposal, found.more_repeats),
            sentence=words.diameter_said(found.reason, figures, proposal, nominal, found.more_repeats),
            limits="A first metre says how thick the first metres are.",
            remarks=[words.zero_said(self.inputs.zero_mm)] if self.inputs.zero_mm else [],
            so_far=count < self.asked or found.reason is Reason.MORE_REPEATS,
            blue=found.verdict is Verdict.APPLY,
            proposal=proposal,
            half_width_text="" if figures is None else plus_minus(figures.diameter_half_width_mm),
            change=f"was {nominal}, {'up' if change > 0 else 'down'} {decimal_text(abs(change), 3)}",
            unit_text=unit_text(Unit.MM.value),
            can_apply=not refused,
            can_keep=not refused,
            ask_before=words.before_proof_said(found.verdict, proposal),
            keep_text=nominal,
        )

    def strip(self, shown: ResultOut | None) -> StripOut:
        """The strip of the diameters against the one entered."""
        places = step_places(self.tool.resolution)
        figures = self.found.figures
        if shown is None or figures is None:
            return StripOut(
                unit="mm", places=places, step=self.tool.resolution,
                sentence="The strip stays bare until the first readings asked for are in.", standing=Standing.NEVER,
                measured_name="diameter, mm",
            )  # fmt: skip
        share = DIAMETER_TOLERANCE_PCT / 200
        newest = self.readings[-1]
        return StripOut(
            unit="mm",
            places=places,
            step=self.tool.resolution,
            target=self.inputs.current,
            low=self.inputs.current * (1 - share),
            high=self.inputs.current * (1 + share),
            readings=[
                StripReadingOut(
                    number=row.number - self.inputs.zero_mm, text=decimal_text(row.number, places), newest=row is newest
                )
                for row in self.readings
            ],
            mean=figures.diameter_mm,
            half_width=figures.diameter_half_width_mm,
            mean_note=f"{decimal_text(figures.diameter_mm, 3)} {plus_minus(figures.diameter_half_width_mm)}",
            move_to=self.inputs.current if shown.blue else None,
            plate=PlateOut(text=shown.proposal, beside=shown.change) if shown.can_apply else None,
            proposal_name="Diameter to enter, mm",
            measured_name="diameter, mm",
            standing=Standing.FRESH,
            sentence=(
                f"{figures.count} places, {decimal_text(figures.diameter_mm, 3)} "
                f"{plus_minus(figures.diameter_half_width_mm)} mm by area; {plain(self.inputs.current)} is entered. "
                f"{shown.title}."
            ),
        )

    def next_place(self) -> str | None:
        """Widest, then across, place after place."""
        taken = {reading.place for reading in self.readings}
        order = [f"{place}{way}" for place in range(1, MOST_PLACES + 1) for way in "wa"]
        return next((place for place in order if place not in taken), None)

    def piece(self) -> PieceOut | None:
        """Nothing is printed."""
        return None

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        figures = self.found.figures
        if figures is None:
            return {"count": len(self.readings)}
        return {
            "count": figures.count, "diameter_mm": figures.diameter_mm, "factor": figures.factor,
            "error_pct": figures.error_pct, "half_width_95_pct": figures.half_width_95_pct, "ovality_mm": figures.ovality_mm,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The diameter, applied or kept."""
        figures = self.found.figures
        return [
            NewValue(
                kind=Kind.DIAMETER,
                number=self.proposal if decision.action == "apply" else self.inputs.current,
                unit=Unit.MM,
                half_width_95=None if figures is None else figures.diameter_half_width_mm,
                origin=Origin.MEASURED,
                run_id=self.run.id,
                decision_id=decision.id,
            )
        ]

    def overtaken(self) -> str:
        """Filament does not change with the machine."""
        return ""


def start_fields(found: Tuned) -> list[StartFieldOut]:
    """What is asked before filament is measured."""
    number = diameter_of(found.setup, found.values.get(Kind.DIAMETER))
    hint = "What stands in the slicing program: usually 1.75 or 2.85."
    return [field("current", "Entered now", "mm", number, hint)]


def read(typed: Mapping[str, str], fields: TypedFields) -> DiameterInputs | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    kind = KINDS[Kind.DIAMETER]
    current = fields.number(
        "current", typed.get("current", ""), what=kind.name, low=kind.low, high=kind.high, why=kind.why
    )
    return None if fields.has("current") else DiameterInputs(current=current)
