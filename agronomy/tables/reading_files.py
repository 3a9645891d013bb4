"""Reads the files of `data/` into rows and figures, and refuses what is wrong: file, row, column and how to mend it."""

import csv
import io
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, fields
from functools import lru_cache
from pathlib import Path
from types import MappingProxyType
from typing import Any, TypeVar, cast, get_type_hints

from agronomy.tables.columns import BadCell, Names, Within, names_of, number_within, reader_of
from agronomy.tables.row import Parameter, Row

SHIPPED = Path(__file__).parent / "data"
RowType = TypeVar("RowType", bound=Row)


class TableError(ValueError):
    """A table that must not be used: names file, row, column and how to mend it."""

    def __init__(self, place: str, problem: str, mend: str):
        super().__init__(f"{place}: {problem}; {mend}")
        self.place, self.problem, self.mend = place, problem, mend


@dataclass(frozen=True, slots=True)
class Csv:
    """A table of rows in a file of `data/`; `key` is the column, or the columns, that tell its rows apart."""

    file: str
    key: str | tuple[str, ...] | None = None


@dataclass(frozen=True, slots=True)
class Toml:
    """A table that is one document in a file of `data/`."""

    file: str


@lru_cache(maxsize=256)
def _columns(row_class: Any) -> dict[str, Any]:
    """Readers by column, in the order of the file."""
    hints = get_type_hints(row_class, include_extras=True)
    wanted = (field.name for field in fields(row_class) if field.init and field.metadata.get("column", True))
    return {name: lru_cache(maxsize=2048)(reader_of(hints[name])) for name in wanted}  # most cells of a column repeat each other


def read_rows(data: Path, file: str, row_class: type[RowType]) -> list[tuple[str, RowType]]:
    """The rows of a file, or of all files that a pattern names, each with its place for messages. Raises TableError."""
    if "*" in file:
        return [row for path in sorted(data.glob(file)) for row in read_rows(data, path.relative_to(data).as_posix(), row_class)]
    return list(_rows_of(cast(Any, row_class), file, (data / file).read_bytes()))


@lru_cache(maxsize=256)
def _rows_of(row_class: Any, file: str, content: bytes) -> tuple[tuple[str, Any], ...]:
    """The rows in a file's content; the same content makes the same rows, which nobody can change."""
    readers = _columns(row_class)
    table = csv.reader(io.StringIO(content.decode("utf-8"), newline=""), strict=True)
    try:
        head = next(table, [])
        _check_head(file, head, readers)
        return tuple((place := f"{file}, line {table.line_num}", _row(place, head, cells, row_class, readers)) for cells in table)
    except csv.Error as error:
        raise TableError(f"{file}, line {table.line_num}", f"it cannot be read as a table ({error})", "check the quotes") from error


def _check_head(file: str, head: list[str], readers: Mapping[str, Any]) -> None:
    for name in readers:
        if name not in head:
            raise TableError(f"{file}, line 1", f"the column “{name}” is missing", "add it")
    for name in head:
        if name not in readers or head.count(name) > 1:
            raise TableError(
                f"{file}, line 1", f"the column “{name}” is not known here, or stands twice", "take it out, or check its spelling"
            )


def _row(place: str, head: list[str], cells: list[str], row_class: type[RowType], readers: Mapping[str, Any]) -> RowType:
    if len(cells) != len(head):
        raise TableError(place, f"the row has {len(cells)} cells, the head has {len(head)}", "quote the text that holds a comma")
    told = {}
    for name, text in zip(head, cells, strict=True):
        try:
            told[name] = readers[name](text)
        except BadCell as error:
            raise TableError(f"{place}, column {name}", error.problem, error.mend) from None
    row = row_class(**told)
    for fault in row.faults():
        raise TableError(f"{place}, column {fault.column}", fault.problem, fault.mend)
    return row


def keyed(file: str, rows: list[tuple[str, RowType]], key: str | tuple[str, ...]) -> Mapping[Any, RowType]:
    """Rows by key. Raises TableError where two share one."""
    found: dict[Any, RowType] = {}
    for place, row in rows:
        at = getattr(row, key) if isinstance(key, str) else tuple(getattr(row, name) for name in key)
        if at in found:
            raise TableError(place, f"{at} stands in {file} already", "keep one of the two rows")
        found[at] = row
    return MappingProxyType(found)


def read_document(data: Path, file: str) -> dict[str, Any]:
    """A TOML file. Raises TableError."""
    try:
        return tomllib.loads((data / file).read_text(encoding="utf-8"))
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise TableError(file, f"it cannot be read ({error})", "check brackets and quotes") from error


_PARAMETER_KEYS = {field.name for field in fields(Parameter)}


def read_figures(data: Path, file: str, wanted: Mapping[str, Within]) -> dict[str, Parameter]:
    """The figures of a file, each within the range and in the unit that its room states. Raises TableError."""
    content = read_document(data, file)
    for name in content:
        if name not in wanted:
            raise TableError(f"{file}, [{name}]", "no rule reads this figure", "take it out, or check its spelling")
    found = {}
    for name, within in wanted.items():
        place = f"{file}, [{name}]"
        if name not in content:
            raise TableError(place, "this figure is missing", f"add it in {within.unit}")
        found[name] = _figure(place, content[name], within)
    return found


def _figure(place: str, told: Any, within: Within) -> Parameter:
    if not isinstance(told, dict) or set(told) - _PARAMETER_KEYS:
        raise TableError(place, "a figure has value, unit, low, high, source, where and status", "check the spelling")
    if told.get("unit") != within.unit:
        raise TableError(f"{place}, unit", f"“{told.get('unit')}” is not the unit of this figure", f"give it in {within.unit}")
    for name in ("source", "where", "status"):
        if not isinstance(told.get(name), str) or not told[name].strip():
            raise TableError(f"{place}, {name}", "it is missing", "say where the figure comes from and how sure it is")
    if told["status"] not in ("exact", "recalled", "unsure"):
        raise TableError(f"{place}, status", f"“{told['status']}” is no status", "use exact, recalled or unsure")
    numbers = {}
    for name in ("value", "low", "high"):
        number = told.get(name, told.get("value"))
        if isinstance(number, bool) or not isinstance(number, int | float):
            raise TableError(f"{place}, {name}", f"“{number}” is not a number", "write digits with a point")
        try:
            numbers[name] = number_within(float(number), within)
        except BadCell as error:
            raise TableError(f"{place}, {name}", error.problem, error.mend) from None
    if not numbers["low"] <= numbers["value"] <= numbers["high"]:
        raise TableError(place, "low, value and high are not in rising order", "check the three")
    return Parameter(**numbers, unit=told["unit"], source=told["source"], where=told["where"], status=told["status"])


@lru_cache(maxsize=256)
def named(row_class: Any) -> tuple[tuple[str, Names], ...]:
    """The columns of a row class that name rows of other tables."""
    hints = get_type_hints(row_class, include_extras=True)
    return tuple((name, found) for name, hint in hints.items() if (found := names_of(hint)))


def check_names(place: str, row: Row, keys: Mapping[str, frozenset[str]]) -> None:
    """That everything a row names exists. Raises TableError."""
    for column, names in named(cast(Any, type(row))):
        cell = getattr(row, column)
        told = cell.split(";") if names.table == "sources" else [cell] if isinstance(cell, str) else cell or ()
        for name in told:
            if name not in keys[names.table] and name != names.or_word:
                raise TableError(
                    f"{place}, column {column}", f"“{name}” is not in {names.table}", "add it there first, or check its spelling"
                )
