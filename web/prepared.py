"""Queries of the pages that are asked for most: Django writes their SQL once, and later only the values are put into it.

Writing the SQL takes Django several times as long as the database takes to answer. What can differ from call to call are numbers that
rows are found by, such as a plot's; all else of the query stands fast.
"""

from collections.abc import Callable
from typing import Any, Generic, NamedTuple, TypeVar

from django.db import DEFAULT_DB_ALIAS, connection
from django.db.models import Model, QuerySet
from django.db.models.query import ModelIterable

Row = TypeVar("Row")
_BEYOND = 2**63
_FIRST_MARK = 2_000_000_011  # stands for a value while the SQL is written: fits keys and metres, and no query names it


class _Written(NamedTuple):
    """A query as SQL with its values, which of them (first) are which argument (second), and how a row becomes what was asked for."""

    sql: str
    values: tuple[Any, ...]
    arguments: tuple[tuple[int, int], ...]
    shaped: Callable[[list[tuple]], list[Any]]


class Prepared(Generic[Row]):
    """A query by so many numbers. `query` makes the query set for them: of models, without what hangs on them, or of lists of values."""

    def __init__(self, query: Callable[..., QuerySet]):
        self._query = query
        self._written: dict[tuple[str, int], _Written] = {}

    def __call__(self, *numbers: float) -> list[Row]:
        """The rows for these numbers, as the query set would give them; none for a number that no database can hold."""
        if any(abs(number) >= _BEYOND for number in numbers):
            return []
        key = (connection.vendor, len(numbers))
        written = self._written.get(key) or self._written.setdefault(key, _write(self._query, len(numbers)))
        values = list(written.values)
        for place, argument in written.arguments:
            values[place] = numbers[argument]
        with connection.cursor() as cursor:
            cursor.execute(written.sql, values)
            return written.shaped(cursor.fetchall())


def _write(query: Callable[..., QuerySet], arguments: int) -> _Written:
    marks = range(_FIRST_MARK, _FIRST_MARK + arguments)
    queryset = query(*marks)
    compiler = queryset.query.get_compiler(DEFAULT_DB_ALIAS)
    sql, values = compiler.as_sql()
    columns = [expression for expression, _, _ in compiler.select]
    converters = compiler.get_converters(columns)
    names = [column.target.attname for column in columns] if issubclass(queryset._iterable_class, ModelIterable) else None
    from_db = queryset.model.from_db

    def shaped(rows: list[tuple]) -> list[Any]:
        told = [tuple(row) for row in compiler.apply_converters(rows, converters)] if converters else rows
        return told if names is None else [from_db(connection.alias, names, row) for row in told]

    places = tuple((place, int(value) - _FIRST_MARK) for place, value in enumerate(values) if value in marks)
    return _Written(sql, tuple(values), places, shaped)


def hanging_on(owner: Model, name: str, query: Prepared[Row]) -> list[Row]:
    """What hangs on a row by that name, such as a plot's log: as it was fetched with many others, else by the query."""
    fetched = getattr(owner, "_prefetched_objects_cache", {}).get(name)
    return query(owner.pk) if fetched is None else list(fetched)


def hang_on(owner: Model, name: str, rows: list[Model]) -> None:
    """Keeps rows as what hangs on another, as prefetch_related does: `owner.name.all()` asks no more."""
    related = getattr(owner, name)
    found = related.get_queryset()
    found._result_cache, found._prefetch_done = rows, True
    for row in rows:
        setattr(row, related.field.name, owner)
    fetched = getattr(owner, "_prefetched_objects_cache", None)
    if fetched is None:
        fetched = owner._prefetched_objects_cache = {}
    fetched[name] = found
