"""A weighed and measured piece of the same spool: what 1 mm of it weighs, without any datasheet."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from ubrex.core.calibrate import ReferencePiece
from ubrex.core.quantity import Tool, ToolKind, Unit
from ubrex.server.calibrations._calibration import Filled
from ubrex.server.desk import FieldProblem
from ubrex.server.printing import choice_field, number_field
from ubrex.server.store.records import Instrument
from ubrex.server.views.forms import FieldOut
from ubrex.server.words import tools as words
from ubrex.server.workshop import length_tools


class Reference(BaseModel):
    """A weighed and measured piece of the same spool."""

    model_config = ConfigDict(frozen=True)

    mass_g: float
    length_mm: float
    length_step_mm: float
    length_error_mm: float

    def to_core(self) -> ReferencePiece:
        """The piece as the core knows it."""
        tool = Tool(resolution=self.length_step_mm, max_permissible_error=self.length_error_mm)
        return ReferencePiece(mass_g=self.mass_g, length_mm=self.length_mm, length_tool=tool)


def reference_fields(hint: str = "") -> list[FieldOut]:
    """What is asked of a reference piece."""
    tools = length_tools()
    return [
        number_field("reference_mass", words.REFERENCE_MASS, "g", "", hint),
        number_field("reference_length", words.REFERENCE_LENGTH, "mm", ""),
        choice_field("reference_tool", words.REFERENCE_TOOL, tools, next(iter(tools), "")),
    ]


def read_reference(form: Filled) -> Reference | None:
    """The piece as it was typed; None where a field of it needs another look."""
    mass = form.fields.number(
        "reference_mass", form.typed.get("reference_mass", ""), what=words.REFERENCE_MASS_WHAT, low=0.01, high=50,
        why=words.REFERENCE_MASS_WHY, unit=Unit.G,
    )  # fmt: skip
    length = form.fields.number(
        "reference_length", form.typed.get("reference_length", ""), what=words.REFERENCE_LENGTH_WHAT, low=20, high=5000,
        why=words.REFERENCE_LENGTH_WHY,
    )  # fmt: skip
    chosen = form.typed.get("reference_tool", "")
    tool = Instrument.get_or_none(Instrument.id == int(chosen)) if chosen.isdecimal() else None
    if tool is None or ToolKind(tool.kind).unit is not Unit.MM:
        form.fields.add(FieldProblem("reference_tool", "missing", words.REFERENCE_TOOL_MISSING))
        return None
    if mass is None or length is None:
        return None
    return Reference(
        mass_g=mass, length_mm=length, length_step_mm=tool.resolution, length_error_mm=tool.max_permissible_error
    )
