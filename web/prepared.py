"""Queries of the pages that are asked for most: Django writes their SQL once, and later only the values are put into it.

Writing the SQL takes Django several times as long as the database takes to answer. What can differ from call to call are numbers that
rows are found by, such as a plot's; all else of the query stands fast. A query that this cannot hold is refused at its first use: one
whose rows would be of another kind, or whose SQL is another for the numbers that it is asked with than for those it was written with.
"""

from collections.abc import Callable
from typing import Any, Generic, NamedTuple, TypeVar

from django.core.exceptions import EmptyResultSet
from django.db import DEFAULT_DB_ALIAS, connection
from django.db.models import Model, QuerySet
from django.db.models.query import ModelIterable, ValuesListIterable

Row = TypeVar("Row")
_BEYOND = 2**63
_FIRST_MARK = 2_000_000_011  # stands for a value while the SQL is written: fits keys and metres, and no query names it


class CannotBePrepared(Exception):
    """A query whose answers would be wrong without a word; ask it as Django's own."""


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
        written = self._written.get(key)
        if written is None:
            written = _write(self._query, len(numbers))
            _check(self._query, written, numbers)
            self._written[key] = written
        values = _filled(written, numbers)
        with connection.cursor() as cursor:
            cursor.execute(written.sql, values)
            return written.shaped(cursor.fetchall())


def _filled(written: _Written, numbers: tuple[float, ...]) -> list[Any]:
    values = list(written.values)
    for place, argument in written.arguments:
        values[place] = numbers[argument]
    return values


def _check(query: Callable[..., QuerySet], written: _Written, numbers: tuple[float, ...]) -> None:
    """Raises CannotBePrepared where Django itself would ask something else for these numbers.

    Numbers that come twice are one to Django and two here, to the same end: then others are asked with.
    """
    if len(set(numbers)) < len(numbers):
        numbers = tuple(range(1, len(numbers) + 1))
    try:
        sql, values = query(*numbers).query.get_compiler(DEFAULT_DB_ALIAS).as_sql()
    except EmptyResultSet:
        return  # these numbers can find nothing: whatever is asked, the answer is the same
    if (sql, list(values)) != (written.sql, _filled(written, numbers)):
        raise CannotBePrepared(f"the SQL is another for {numbers}: {sql[:200]}")


def _held(queryset: object) -> QuerySet:
    """The query set, if its rows come out as they would by themselves; raises CannotBePrepared."""
    if not isinstance(queryset, QuerySet):
        raise CannotBePrepared(f"this is no query set: {type(queryset).__name__}")
    kind, query = queryset._iterable_class, queryset.query
    if kind not in (ModelIterable, ValuesListIterable):
        raise CannotBePrepared(f"rows as {kind.__name__} would come out as plain tuples: ask for models or lists of values")
    if queryset._prefetch_related_lookups or query.select_related:
        raise CannotBePrepared("what hangs on the rows would be left out: ask for it by a query of its own")
    if kind is ModelIterable and (query.annotations or query.extra):
        raise CannotBePrepared("what is worked out beside the columns would be left out: ask for lists of values")
    return queryset


def _write(query: Callable[..., QuerySet], arguments: int) -> _Written:
    marks = range(_FIRST_MARK, _FIRST_MARK + arguments)
    queryset = _held(query(*marks))
    compiler = queryset.query.get_compiler(DEFAULT_DB_ALIAS)
    sql, values = compiler.as_sql()
    if compiler.pre_sql_setup()[0]:
        raise CannotBePrepared("it is ordered by what it does not list, and would list that too: order it by what it lists")
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


class _Hanging(list):
    """Rows that hang on another, as `owner.name.all()` gives them; whatever else is asked of them is asked of the database."""

    def __init__(self, rows: list[Model], asks: Callable[[], QuerySet]):
        super().__init__(rows)
        self._asks = asks

    def __getattr__(self, name: str) -> Any:
        return getattr(self._asks(), name)


def hang_on(owner: Model, name: str, rows: list[Model]) -> None:
    """Keeps rows as what hangs on another: `owner.name.all()` asks no more."""
    relation = owner._meta.get_field(name)
    back = relation.field.name
    for row in rows:
        row._state.fields_cache[back] = owner
    fetched = getattr(owner, "_prefetched_objects_cache", None)
    if fetched is None:
        fetched = owner._prefetched_objects_cache = {}
    fetched[name] = _Hanging(rows, lambda: relation.related_model._default_manager.filter(**{back: owner}))
