"""Numbers as they were typed: read them all, collect what is wrong with each, refuse once."""

from __future__ import annotations

from ubrex.core.errors import UnreadableEntry
from ubrex.core.quantity import Unit, parse_entry
from ubrex.server.desk._errors import FieldProblem, Refused
from ubrex.server.words.numbers import plain


class TypedFields:
    """Reads typed fields; problems add up until ``refuse_if_any`` is asked."""

    def __init__(self) -> None:
        self._problems: list[FieldProblem] = []

    def add(self, problem: FieldProblem) -> None:
        """Note a problem found elsewhere."""
        self._problems.append(problem)

    def has(self, field: str) -> bool:
        """Whether something is wrong with a field."""
        return any(problem.field == field for problem in self._problems)

    def text(self, field: str, typed: str, *, what: str) -> str:
        """Text that must not be empty."""
        if not typed.strip():
            self.add(FieldProblem(field, "empty", f"{what} is still empty."))
        return typed.strip()

    def number(
        self, field: str, typed: str, *, what: str, low: float, high: float, why: str, unit: Unit = Unit.MM
    ) -> float:
        """Number from ``low`` to ``high``, both included; 0 stands in for one that is refused."""
        value = self.any_number(field, typed, what=what, unit=unit)
        if value is None:
            return 0.0
        if value <= 0 < low:
            self.add(FieldProblem(field, "not_above_zero", f"{what} must be above 0."))
            return 0.0
        if not low <= value <= high:
            self.add(FieldProblem(field, "out_of_range", f"{what} of {plain(value)} cannot be right: {why}."))
            return 0.0
        return value

    def any_number(self, field: str, typed: str, *, what: str, unit: Unit = Unit.MM) -> float | None:
        """Any number; None if the text is not one."""
        try:
            return parse_entry(typed, unit)
        except UnreadableEntry:
            if typed.strip():
                message = f"“{typed.strip()}” is not a number Ubrex can read. Type it like 98.4 or 98,4."
                self.add(FieldProblem(field, "not_a_number", message))
            else:
                self.add(FieldProblem(field, "empty", f"{what} is still empty."))
            return None

    def refuse_if_any(self) -> None:
        """Raise all problems noted so far, if there are any."""
        if self._problems:
            raise Refused(*self._problems)
