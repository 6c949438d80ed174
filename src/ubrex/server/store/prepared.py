"""Queries whose SQL is made once.

peewee builds the text of a query anew at each execution, which takes longer than PostgreSQL takes to answer it. What a
screen asks for again and again is declared here by a function and prepared at its first use.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Final, Generic, TypeVar

from ubrex.server.store.database import database
from ubrex.server.store.records import Record

AnyRecord = TypeVar("AnyRecord", bound=Record)

_FIRST_MARK: Final = 7_000_000_000_000_000_000
"""Stands in for argument 0 while the SQL is made; no id comes near it."""


@dataclass(frozen=True, slots=True)
class _Shape:
    """SQL, which of its parameters are arguments, and how its rows become records."""

    sql: str
    parameters: Sequence[Any]
    wrapper: Any

    def filled(self, arguments: Sequence[int | str]) -> list[Any]:
        """Parameters with the arguments in their places."""
        marks = {_mark(index, argument): argument for index, argument in enumerate(arguments)}
        return [marks.get(value, value) if isinstance(value, int | str) else value for value in self.parameters]


class Prepared(Generic[AnyRecord]):
    """A select for records, made by ``build`` from ids, names and limits."""

    def __init__(self, build: Callable[..., Any]) -> None:
        self._build = build
        self._shape: _Shape | None = None

    def rows(self, *arguments: int | str) -> list[AnyRecord]:
        """All rows; the caller holds a connection."""
        if self._shape is None:
            self._shape = self._prepare(arguments)
        cursor = database.execute_sql(self._shape.sql, self._shape.filled(arguments))
        return [self._shape.wrapper.process_row(row) for row in cursor.fetchall()]

    def first(self, *arguments: int | str) -> AnyRecord | None:
        """The first row, or None."""
        return next(iter(self.rows(*arguments)), None)

    def _prepare(self, arguments: Sequence[int | str]) -> _Shape:
        query = self._build(*(_mark(index, argument) for index, argument in enumerate(arguments)))
        text, parameters = query.sql()
        wrapper = query._get_model_cursor_wrapper(database.execute_sql(text, parameters))
        wrapper.initialize()
        return _Shape(text, parameters, wrapper)


def _mark(index: int, argument: int | str) -> int | str:
    return _FIRST_MARK + index if isinstance(argument, int) else f"\N{SYMBOL FOR RECORD SEPARATOR}{index}"
