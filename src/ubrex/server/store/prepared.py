"""Statements whose SQL is made once.

peewee builds the text of a statement anew at each execution, which takes longer than PostgreSQL takes to answer it. What a
screen asks for again and again, and what every reading writes, is declared with these and prepared at its first use.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final, Generic, TypeVar

from peewee import AutoField
from psycopg import RawCursor

from ubrex.server.store.database import database
from ubrex.server.store.records import Record

AnyRecord = TypeVar("AnyRecord", bound=Record)

_NAMED: Final = re.compile(r"%\((\w+)\)s")

_FIRST_MARK: Final = 7_000_000_000_000_000_000
"""Stands in for argument 0 while the SQL is made; no id comes near it."""


@dataclass(slots=True)
class _Shape:
    """SQL, which of its parameters are arguments, and how its rows become records once the first have come."""

    query: Any
    sql: str
    parameters: Sequence[Any]
    assembly: _Assembly | None = None

    def filled(self, arguments: Sequence[int | str]) -> list[Any]:
        """Parameters with the arguments in their places."""
        marks = {_mark(index, argument): argument for index, argument in enumerate(arguments)}
        return [marks.get(value, value) if isinstance(value, int | str) else value for value in self.parameters]


class Prepared(Generic[AnyRecord]):
    """A statement made by ``build`` from ids, texts and limits; a select gives records."""

    def __init__(self, build: Callable[..., Any]) -> None:
        self._build = build
        self._shape: _Shape | None = None

    def rows(self, *arguments: int | str) -> list[AnyRecord]:
        """All rows; the caller holds a connection."""
        cursor, shape = self._execute(arguments)
        if shape.assembly is None:
            shape.assembly = _Assembly(shape.query, cursor)
        return [shape.assembly.made(row) for row in cursor.fetchall()]

    def tuples(self, *arguments: int | str) -> list[tuple[Any, ...]]:
        """All rows as the database gives them, where there are many and records would cost more than they are worth."""
        cursor, _ = self._execute(arguments)
        found: list[tuple[Any, ...]] = cursor.fetchall()
        return found

    def run(self, *arguments: int | str) -> None:
        """Execute a statement that gives no rows."""
        self._execute(arguments)

    def first(self, *arguments: int | str) -> AnyRecord | None:
        """The first row, or None."""
        return next(iter(self.rows(*arguments)), None)

    def _execute(self, arguments: Sequence[int | str]) -> tuple[Any, _Shape]:
        if self._shape is None:
            query = self._build(*(_mark(index, argument) for index, argument in enumerate(arguments)))
            self._shape = _Shape(query, *query.sql())
        return database.execute_sql(self._shape.sql, self._shape.filled(arguments)), self._shape


def record(kind: type[AnyRecord], values: Sequence[Any]) -> AnyRecord:
    """A record as it is stored, from the values of all its columns in order: peewee takes ten times as long for a join."""
    return _filled(kind, kind._meta.sorted_field_names, values)


def _filled(kind: type[AnyRecord], names: Sequence[str], values: Sequence[Any]) -> AnyRecord:
    made = kind(__no_default__=True)
    made.__data__.update(zip(names, values, strict=True))
    return made


class _Assembly:
    """How a row becomes a record with the records joined to it; worked out once, by peewee.

    The database gives every column in the type that its field has, so that nothing is converted; what an outer join did
    not find is None.
    """

    def __init__(self, query: Any, cursor: Any) -> None:
        wrapper = query._get_model_cursor_wrapper(cursor)
        wrapper.initialize()
        self._root: Any = wrapper.model
        keys = getattr(wrapper, "column_keys", [wrapper.model] * wrapper.ncols)
        self._parts = []
        for key in dict.fromkeys(keys):
            places = [place for place, of in enumerate(keys) if of is key]
            self._parts.append((key, getattr(key, "model", key), [wrapper.columns[place] for place in places], places))
        joins = getattr(wrapper, "src_to_dest", ())
        self._joins = [(source, name, key) for source, name, key, *_ in joins if {source, key} <= set(keys)]

    def made(self, row: Sequence[Any]) -> Any:
        """The record of a row."""
        found: dict[Any, Any] = {}
        for key, kind, names, places in self._parts:
            values = [row[place] for place in places]
            there = key is self._root or any(value is not None for value in values)
            found[key] = _filled(kind, names, values) if there else None
        for source, name, key in self._joins:
            if found[source] is not None:
                found[source].__rel__[name] = found[key]
        return found[self._root]


class Insert(Generic[AnyRecord]):
    """Adds records of one kind, every column but a generated id given.

    ``counted_on``: field of the record it belongs to, whose version goes up with each one added, in the same statement.
    """

    def __init__(self, kind: type[AnyRecord], counted_on: str = "") -> None:
        key: Any = kind._meta.primary_key
        self._kind = kind
        self._key: str = key.name
        self._fields = [field for field in kind._meta.sorted_fields if not isinstance(field, AutoField)]
        columns = ", ".join(f'"{field.column_name}"' for field in self._fields)
        places = ", ".join(["%s"] * len(self._fields))
        self._counted_on = counted_on
        counted = ""
        if counted_on:
            of = kind._meta.fields[counted_on].rel_model._meta.table_name
            counted = f'WITH counted AS (UPDATE "{of}" SET version = version + 1 WHERE id = %s) '
        self._insert = f'{counted}INSERT INTO "{kind._meta.table_name}" ({columns}) VALUES ({places})'
        self._returning = f'RETURNING "{key.column_name}"'

    def add(self, **values: Any) -> AnyRecord:
        """The record added."""
        record = self._kind(**values)
        row = database.execute_sql(f"{self._insert} {self._returning}", self._given(record)).fetchone()
        setattr(record, self._key, row[0])
        return record

    def add_unless_there(self, **values: Any) -> bool:
        """Whether it was added; one with its key may be there already, or be on its way, which is waited for."""
        text = f"{self._insert} ON CONFLICT DO NOTHING {self._returning}"
        return database.execute_sql(text, self._given(self._kind(**values))).fetchone() is not None

    def _given(self, record: AnyRecord) -> list[Any]:
        counted = [record.__data__[self._counted_on]] if self._counted_on else []
        return counted + [field.db_value(record.__data__.get(field.name)) for field in self._fields]


class Long:
    """A statement of more than 4096 characters with parameters by name: %(name)s.

    psycopg keeps where the parameters of shorter ones are, and takes longer ones apart at each execution; so here they are
    numbered once.
    """

    def __init__(self, sql: str) -> None:
        self._names: list[str] = list(dict.fromkeys(_NAMED.findall(sql)))
        self._sql = _NAMED.sub(lambda found: f"${self._names.index(found[1]) + 1}", sql)

    def first(self, given: Mapping[str, Any]) -> tuple[Any, ...]:
        """The first row; the caller holds a connection."""
        cursor = RawCursor(database.connection())
        row = cursor.execute(self._sql, [given[name] for name in self._names]).fetchone()
        assert row is not None, "asked only where there is one"
        return tuple(row)


def _mark(index: int, argument: int | str) -> int | str:
    return _FIRST_MARK + index if isinstance(argument, int) else f"\N{SYMBOL FOR RECORD SEPARATOR}{index}"
