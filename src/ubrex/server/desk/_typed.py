"""Numbers as they were typed: read them all, collect what is wrong with each, refuse once."""

from __future__ import annotations

from dataclasses import replace

from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import Unit, parse_entry
from ubrex.server.desk._errors import FieldProblem, Refused
from ubrex.server.words.forms import not_a_number, not_above_zero, out_of_range, still_empty


class TypedFields:
    """Reads typed fields; problems add up until ``refuse_if_any`` is asked."""

    def __init__(self) -> None:
        self._problems: list[FieldProblem] = []

    def add(self, problem: FieldProblem) -> None:
        """Note a problem found elsewhere."""
        self._problems.append(problem)

    @property
    def any(self) -> bool:
        """Whether something is wrong with any field."""
        return bool(self._problems)

    def take(self, other: TypedFields, prefix: str = "") -> None:
        """Note what another form found, its fields named after ``prefix``."""
        for problem in other._problems:
            self.add(replace(problem, field=f"{prefix}{problem.field}"))

    def has(self, field: str) -> bool:
        """Whether something is wrong with a field."""
        return any(problem.field == field for problem in self._problems)

    def text(self, field: str, typed: str, *, what: str) -> str:
        """Text that must not be empty."""
        if not typed.strip():
            self.add(FieldProblem(field, "empty", still_empty(what)))
        return typed.strip()

    def number(
        self, field: str, typed: str, *, what: str, low: float, high: float, why: str, unit: Unit = Unit.MM
    ) -> float | None:
        """Number from ``low`` to ``high``, both included; None for one that is refused."""
        value = self.any_number(field, typed, what=what, unit=unit)
        if value is None or low <= value <= high:
            return value
        if value <= 0 < low:
            self.add(FieldProblem(field, "not_above_zero", not_above_zero(what)))
        else:
            self.add(FieldProblem(field, "out_of_range", out_of_range(what, value, why)))
        return None

    def any_number(self, field: str, typed: str, *, what: str, unit: Unit = Unit.MM) -> float | None:
        """Any number; None if the text is not one."""
        try:
            return parse_entry(typed, unit)
        except UnreadableEntry:
            if typed.strip():
                self.add(FieldProblem(field, "not_a_number", not_a_number(typed.strip())))
            else:
                self.add(FieldProblem(field, "empty", still_empty(what)))
            return None

    def refuse_if_any(self) -> None:
        """Raise all problems noted so far, if there are any."""
        if self._problems:
            raise Refused(*self._problems)


def all_of(*numbers: float | None) -> tuple[float, ...] | None:
    """Numbers that were all read; None if one of them was refused."""
    return None if None in numbers else tuple(number for number in numbers if number is not None)
