"""The start form of a retraction tower, by distance or by speed."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import retraction_bands, speed_bands
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
from ubrex.server.views.forms import FieldOut, WhenOut
from ubrex.server.words.numbers import plain

LITTLE: Final = 0.5
"""Share of the cap up to which those go who retract almost nothing on flexibles (job, section 6)."""

SLOWEST_MM_S: Final = 1.0


class RetractionInputs(TowerInputs):
    """What a retraction run keeps besides its ratings. ``crossings`` of a band, where strings are counted."""

    of_speed: bool = False
    crossings: int | None = None


def distances_of(tuned: Tuned, sides: Sides) -> tuple[float, ...]:
    """Distances that are proposed [mm]: up to the cap, or a share of it."""
    cap = tuned.parts.cap
    soft = tuned.parts.stiffness is Stiffness.FLEXIBLE
    little = soft and sides.get("flexible_strings") == "one"
    return retraction_bands(cap.distance_mm, from_zero=soft, share=LITTLE if little else 1.0)


def offer(tuned: Tuned, sides: Sides) -> list[FieldOut]:
    """What is asked before the tower is printed."""
    filled, cap = Offer(tuned), tuned.parts.cap
    bands = distances_of(tuned, sides)
    hint = words.STEP_UP if tuned.parts.stiffness is Stiffness.FLEXIBLE else ""
    distance, speed = WhenOut(field="vary", value="distance"), WhenOut(field="vary", value="speed")
    most, fastest = plain(cap.distance_mm), plain(cap.speed_mm_s)
    return [
        choice_field("vary", "Bands differ in", words.VARY, "distance"),
        number_field("shortest", "Shortest", "mm", bands[0], hint, distance),
        number_field("longest", "Longest", "mm", bands[-1], f"At most {most} here.", distance),
        number_field("slowest", "Slowest", "mm/s", speed_bands(cap.speed_mm_s)[0], when=speed),
        number_field("fastest", "Fastest", "mm/s", cap.speed_mm_s, f"At most {fastest}.", speed),
        number_field("count", "Bands", "", str(len(bands))),
        choice_field("strings", "Strings", words.STRINGS, "rated", words.STRINGS_HINT),
        number_field("speed", "Speed", "mm/s", filled.own(Kind.SPEED_OUTER, usual=USUAL_SPEED_MM_S)),
        *filled.nozzles(),
        *line_fields(tuned),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    tuned, fields = form.tuned, form.fields
    reader = StartReader(tuned, form.typed, fields)
    cap = tuned.parts.cap
    of_speed = form.typed.get("vary") == "speed"
    low_name, high_name = ("slowest", "fastest") if of_speed else ("shortest", "longest")
    most, unit = (cap.speed_mm_s, Unit.MM_PER_S) if of_speed else (cap.distance_mm, Unit.MM)
    least = SLOWEST_MM_S if of_speed else 0.0
    why = f"{words.most_here_said(most, unit)}: {cap.why}"
    low = reader.number(low_name, "The least", least, most, why, unit)
    high = reader.number(high_name, "The most", least, most, why, unit)
    many = reader.number("count", "The number of bands", 1, MOST_BANDS, f"1 to {MOST_BANDS} bands", Unit.COUNT)
    nozzle, first_nozzle = reader.nozzle("nozzle", "The nozzle"), reader.first_nozzle()
    line = read_line(tuned, reader)
    places = 0 if of_speed else 1
    if low is None or high is None or many is None:
        return None
    count = round(many)
    values = [round(low + (high - low) * place / max(1, count - 1), places) for place in range(count)]
    if high <= low:
        fields.add(FieldProblem(high_name, "upside_down", words.UPSIDE_DOWN))
    elif len(set(values)) < FEWEST_PRINTED:
        fields.add(FieldProblem("count", "too_few", words.too_few_said(len(set(values)), FEWEST_PRINTED)))
    elif len(set(values)) < count:
        fields.add(FieldProblem("count", "too_many", words.TOO_CLOSE))
    if line is None or nozzle is None or fields.any:
        return None
    inputs = RetractionInputs(
        current=in_use(tuned, Kind.RETRACTION_SPEED if of_speed else Kind.RETRACTION),
        unit=unit,
        places=places,
        asked=FEWEST_PRINTED,
        values=values,
        of_speed=of_speed,
        crossings=round(RETRACTION_BAND_MM / line["layer_mm"]) if form.typed.get("strings") == "counted" else None,
        nozzle_c=nozzle,
        first_nozzle_c=first_nozzle,
        moved=f"Up to {plain(most)} {unit.value}: {cap.why}.",
        **line,
    )
    return Begun(inputs=inputs)


def tower_of(tuned: Tuned, inputs: RetractionInputs) -> tuple[Piece, Manner]:
    """The tower of a run, and how it is printed; raises ``OutOfRange`` where it cannot be."""
    options, manner = options_of(tuned, inputs)
    volume = (inputs.on or printed_on(tuned)).volume
    return retraction_tower(options, volume, manner, of_speed=inputs.of_speed), manner
