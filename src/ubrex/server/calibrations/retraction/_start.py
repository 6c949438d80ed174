"""The start forms of retraction towers, by distance and by speed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Final

from ubrex.core.calibrate import FEWEST_SPEED_WORDS, FEWEST_SPEEDS, retraction_bands, speed_bands
from ubrex.core.chain import Kind
from ubrex.core.gcode import Manner
from ubrex.core.gcode.pieces import MOST_BANDS, RETRACTION_BAND_MM, Piece, retraction_tower
from ubrex.core.materials import Stiffness
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations._tower_start import (
    FEWEST_PRINTED,
    USUAL_SPEED_MM_S,
    TowerInputs,
    in_use,
    line_fields,
    options_of,
    read_line,
)
from ubrex.server.calibrations.retraction import _words as words
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import Offer, StartReader, choice_field, number_field, printed_on
from ubrex.server.profile import Tuned
from ubrex.server.views.forms import FieldOut
from ubrex.server.words.numbers import plain

LITTLE: Final = 0.5
"""Share of the cap up to which those go who retract almost nothing on flexibles (job, section 6)."""

SLOWEST_MM_S, SHORTEST_MM = 1.0, 0.1


class RetractionInputs(TowerInputs):
    """What a tower of distances keeps besides its ratings. ``crossings`` of a band, where strings are counted."""

    crossings: int | None = None


class PullSpeedInputs(TowerInputs):
    """What a tower of speeds keeps besides its ratings: the distance that all its bands are pulled back by [mm]."""

    distance_mm: float


def distances_of(tuned: Tuned, sides: Sides) -> tuple[float, ...]:
    """Distances that are proposed [mm]: up to the cap, or a share of it."""
    cap = tuned.parts.cap
    soft = tuned.parts.stiffness is Stiffness.FLEXIBLE
    little = soft and sides.get("flexible_strings") == "one"
    return retraction_bands(cap.distance_mm, from_zero=soft, share=LITTLE if little else 1.0)


def offer(tuned: Tuned, sides: Sides) -> list[FieldOut]:
    """What is asked before a tower of distances is printed."""
    bands = distances_of(tuned, sides)
    hint = words.STEP_UP if tuned.parts.stiffness is Stiffness.FLEXIBLE else ""
    most = plain(tuned.parts.cap.distance_mm)
    return [
        number_field("shortest", "Shortest", "mm", bands[0], hint),
        number_field("longest", "Longest", "mm", bands[-1], f"At most {most} here."),
        number_field("count", "Bands", "", str(len(bands))),
        choice_field("strings", "Strings", words.STRINGS, "rated", words.STRINGS_HINT),
        *_printed_fields(tuned),
    ]


def offer_speeds(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before a tower of speeds is printed."""
    filled, cap = Offer(tuned), tuned.parts.cap
    bands = speed_bands(cap.speed_mm_s)
    distance = filled.own(Kind.RETRACTION, usual=distances_of(tuned, {})[-1] / 2)
    return [
        number_field("distance", words.DISTANCE, "mm", distance, words.DISTANCE_HINT),
        number_field("slowest", "Slowest", "mm/s", bands[0]),
        number_field("fastest", "Fastest", "mm/s", cap.speed_mm_s, f"At most {plain(cap.speed_mm_s)}."),
        number_field("count", "Bands", "", str(len(bands))),
        *_printed_fields(tuned),
    ]


def _printed_fields(tuned: Tuned) -> list[FieldOut]:
    filled = Offer(tuned)
    return [
        number_field("speed", "Speed", "mm/s", filled.own(Kind.SPEED_OUTER, usual=USUAL_SPEED_MM_S)),
        *filled.nozzles(),
        *line_fields(tuned),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a tower of distances from its start form; None where a field needs another look."""
    cap = form.tuned.parts.cap
    reader = StartReader(form.tuned, form.typed, form.fields)
    ends = _Ends("shortest", "longest", 0.0, cap.distance_mm, Unit.MM, places=1, fewest=FEWEST_PRINTED)
    found = _read_bands(form, reader, ends)
    if found is None:
        return None
    counted = form.typed.get("strings") == "counted"
    inputs = RetractionInputs(
        current=in_use(form.tuned, Kind.RETRACTION), unit=Unit.MM, places=1, asked=FEWEST_PRINTED,
        crossings=round(RETRACTION_BAND_MM / found["layer_mm"]) if counted else None,
        moved=f"Up to {plain(cap.distance_mm)} mm: {cap.why}.", **found,
    )  # fmt: skip
    return Begun(inputs=inputs)


def read_speeds(form: Filled) -> Begun | None:
    """Inputs of a tower of speeds from its start form; None where a field needs another look."""
    cap = form.tuned.parts.cap
    reader = StartReader(form.tuned, form.typed, form.fields)
    why = f"{words.most_here_said(cap.distance_mm, Unit.MM)}: {cap.why}"
    distance = reader.number("distance", words.DISTANCE, SHORTEST_MM, cap.distance_mm, why, Unit.MM)
    ends = _Ends("slowest", "fastest", SLOWEST_MM_S, cap.speed_mm_s, Unit.MM_PER_S, places=0, fewest=FEWEST_SPEEDS)
    found = _read_bands(form, reader, ends)
    if found is None or distance is None:
        return None
    inputs = PullSpeedInputs(
        current=in_use(form.tuned, Kind.RETRACTION_SPEED), unit=Unit.MM_PER_S, places=0, asked=FEWEST_SPEED_WORDS,
        distance_mm=distance, moved=f"Up to {plain(cap.speed_mm_s)} mm/s: {cap.why}.", **found,
    )  # fmt: skip
    return Begun(inputs=inputs)


@dataclass(frozen=True, slots=True)
class _Ends:
    """The ends of a tower: their fields, between what they lie, and how they are written."""

    low: str
    high: str
    least: float
    most: float
    unit: Unit
    places: int
    fewest: int


def _read_bands(form: Filled, reader: StartReader, ends: _Ends) -> dict[str, Any] | None:
    """Bands, line and heat of a tower; None where a field needs another look."""
    tuned, fields = form.tuned, form.fields
    why = f"{words.most_here_said(ends.most, ends.unit)}: {tuned.parts.cap.why}"
    low = reader.number(ends.low, "The least", ends.least, ends.most, why, ends.unit)
    high = reader.number(ends.high, "The most", ends.least, ends.most, why, ends.unit)
    many = reader.number("count", "The number of bands", 1, MOST_BANDS, f"1 to {MOST_BANDS} bands", Unit.COUNT)
    nozzle, first_nozzle = reader.nozzle("nozzle", "The nozzle"), reader.first_nozzle()
    line = read_line(tuned, reader)
    if low is None or high is None or many is None:
        return None
    count = round(many)
    values = [round(low + (high - low) * place / max(1, count - 1), ends.places) for place in range(count)]
    if high <= low:
        fields.add(FieldProblem(ends.high, "upside_down", words.UPSIDE_DOWN))
    elif len(set(values)) < ends.fewest:
        fields.add(FieldProblem("count", "too_few", words.too_few_said(len(set(values)), ends.fewest)))
    elif len(set(values)) < count:
        fields.add(FieldProblem("count", "too_many", words.TOO_CLOSE))
    if line is None or nozzle is None or fields.any:
        return None
    return {"values": values, "nozzle_c": nozzle, "first_nozzle_c": first_nozzle} | line


def tower_of(tuned: Tuned, inputs: RetractionInputs) -> tuple[Piece, Manner]:
    """The tower of distances of a run, and how it is printed; raises ``OutOfRange`` where it cannot be."""
    options, manner = options_of(tuned, inputs)
    volume = (inputs.on or printed_on(tuned)).volume
    return retraction_tower(options, volume, manner), manner


def speed_tower_of(tuned: Tuned, inputs: PullSpeedInputs) -> tuple[Piece, Manner]:
    """The tower of speeds of a run, and how it is printed; raises ``OutOfRange`` where it cannot be."""
    options, manner = options_of(tuned, inputs)
    volume = (inputs.on or printed_on(tuned)).volume
    manner = replace(manner, retraction_mm=min(inputs.distance_mm, tuned.parts.cap.distance_mm))
    return retraction_tower(options, volume, manner, of_speed=True), manner
