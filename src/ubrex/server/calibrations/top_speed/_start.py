"""The start form of a feed ladder."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import Kind
from ubrex.core.quantity import Unit
from ubrex.server.calibrations._calibration import Begun, Filled, Sides
from ubrex.server.calibrations.top_speed import _words as words
from ubrex.server.calibrations.top_speed._run import FEWEST, LadderInputs
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import Offer, StartReader, most_tried, number_field
from ubrex.server.profile import Tuned
from ubrex.server.views.forms import FieldOut
from ubrex.server.words.numbers import plain

USUAL_STEPS: Final = 9
USUAL_VOLUME_MM3: Final = 800.0
MOST_STEPS: Final = 20


def offer(tuned: Tuned, _sides: Sides) -> list[FieldOut]:
    """What is asked before it is fed: from well below what is usual to half more than that."""
    filled, top = Offer(tuned), most_tried(tuned)
    step = max(0.5, round(top / (USUAL_STEPS + 1) * 2) / 2)
    return [
        number_field("first", words.FIRST, "mm³/s", 2 * step, words.FIRST_HINT),
        number_field("step", words.STEP, "mm³/s", step),
        number_field("count", words.COUNT, "", str(min(USUAL_STEPS, int(top / step) - 1))),
        number_field("volume", words.VOLUME, "mm³", USUAL_VOLUME_MM3, words.VOLUME_HINT),
        filled.nozzle(Kind.NOZZLE, Kind.NOZZLE_FIRST),
    ]


def read(form: Filled) -> Begun | None:
    """Inputs of a run from its start form; None where a field needs another look."""
    tuned, fields = form.tuned, form.fields
    reader, top = StartReader(tuned, form.typed, fields, still=True), most_tried(form.tuned)
    why = f"{words.TOO_FAST} At most {plain(top)} mm³/s."
    first = reader.number("first", words.FIRST, 0.5, top, why, Unit.MM3_PER_S)
    step = reader.number("step", words.STEP, 0.2, top, why, Unit.MM3_PER_S)
    many = reader.number("count", "The number of steps", 1, MOST_STEPS, f"1 to {MOST_STEPS} steps", Unit.COUNT)
    volume = reader.number("volume", words.VOLUME, 100, 3000, "100 to 3000 mm³ are fed at each step", Unit.COUNT)
    nozzle = reader.nozzle("nozzle", "The nozzle")
    if first is None or step is None or many is None or volume is None or nozzle is None:
        return None
    flows = [round(first + step * place, 2) for place in range(round(many))]
    if len(flows) < FEWEST:
        fields.add(FieldProblem("count", "too_few", words.TOO_FEW))
    elif flows[-1] > top + 1e-9:
        fields.add(FieldProblem("count", "too_fast", why))
    if fields.any:
        return None
    known = tuned.values.get(Kind.TOP_FLOW)
    inputs = LadderInputs(
        current=None if known is None else known.number,
        asked=len(flows),
        flows=flows,
        volume_mm3=volume,
        nozzle_c=nozzle,
    )
    return Begun(inputs=inputs)
