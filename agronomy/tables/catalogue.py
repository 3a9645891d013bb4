"""Every table of the core as rows to look through: what it is called, what it says, on which source, how sure."""

import csv
import tomllib
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from agronomy.tables.reading_files import SHIPPED

LEFT_OUT = {"sources.csv", "questions.toml", "labfile/names.csv", "labfile/words.toml"}  # names in other languages rest on no source
_META = ("source", "where", "status")


@dataclass(frozen=True, slots=True, kw_only=True)
class RuleRow:
    """One row: its table, an identity that a link can name, its cells in order, and what it rests on."""

    table: str
    key: str
    cells: tuple[tuple[str, str], ...]
    sources: tuple[str, ...]
    where: str
    status: str

    @property
    def name(self) -> str:
        """The name of its table."""
        return names_of_tables()[self.table]

    @property
    def text(self) -> str:
        return " ".join(
            [self.table, self.name, self.key, self.where, *(f"{name} {value}" for name, value in self.cells), *self.sources]
        ).lower()


@lru_cache(maxsize=1)
def catalogue() -> tuple[RuleRow, ...]:
    """All rows of all tables, by table and place."""
    rows: list[RuleRow] = []
    for path in sorted(SHIPPED.rglob("*.*")):
        name = path.relative_to(SHIPPED).as_posix()
        if name in LEFT_OUT or path.suffix not in (".csv", ".toml"):
            continue
        rows += _of_csv(path, name) if path.suffix == ".csv" else _of_toml(path, name)
    return tuple(rows)


@lru_cache(maxsize=1)
def questions() -> dict[str, dict[str, str]]:
    """What a reader asks, and the tables that answer it by their names."""
    return tomllib.loads((SHIPPED / "questions.toml").read_text(encoding="utf-8"))


@lru_cache(maxsize=1)
def names_of_tables() -> dict[str, str]:
    """The name of each table, by its file."""
    return {table: name for tables in questions().values() for table, name in tables.items()}


def _of_csv(path: Path, name: str) -> list[RuleRow]:
    with path.open(encoding="utf-8", newline="") as file:
        return [_row(name, str(number), row) for number, row in enumerate(csv.DictReader(file), 2)]


def _row(table: str, place: str, row: dict[str, str]) -> RuleRow:
    cells = tuple((key, value) for key, value in row.items() if value and key not in _META)
    return RuleRow(
        table=table,
        key=row.get("key") or place,
        cells=cells,
        sources=tuple((row.get("source") or "").split(";")),
        where=row.get("where") or "",
        status=row.get("status") or "",
    )


def _of_toml(path: Path, name: str) -> list[RuleRow]:
    """A row for each figure of a table of figures; one row for a document such as a kit."""
    content = tomllib.loads(path.read_text(encoding="utf-8"))
    if "source" in content:
        told = {key: value for key, value in content.items() if not isinstance(value, list | dict)}
        return [_row(name, path.stem, {key: f"{value}" for key, value in told.items()})]
    return [
        _row(name, key, {"key": key} | {part: f"{value}" for part, value in figure.items()})
        for key, figure in content.items()
        if isinstance(figure, dict)
    ]


@lru_cache(maxsize=1)
def _by_place() -> dict[tuple[str, str], tuple[RuleRow, ...]]:
    """Rows by source and place in it: the place as the row has it, its name, and both as workings write them."""
    found: dict[tuple[str, str], tuple[RuleRow, ...]] = {}
    for row in catalogue():
        name = dict(row.cells).get("name", "")
        for source in row.sources:
            for place in {row.where, name, f"{name}, {row.where}"} - {"", ", "}:
                found[source, place] = (*found.get((source, place), ()), row)
    return found


MOST_ROWS_BEHIND = 3  # a place that more rows share names no row


def rows_behind(source: str, where: str) -> tuple[RuleRow, ...]:
    """The rows that a step of a working rests on: those of one of its sources at its place. Empty where none can be named."""
    rows = {(row.table, row.key): row for key in source.split(";") for row in _by_place().get((key, where), ())}
    return tuple(rows.values()) if len(rows) <= MOST_ROWS_BEHIND else ()


def one_row(table: str, key: str) -> list[RuleRow]:
    """The row of a table by its key, as a list of one or none."""
    return [row for row in catalogue() if row.table == table and row.key == key]


def look_up(*, words: str = "", table: str = "", source: str = "") -> list[RuleRow]:
    """Rows that hold all the words, of one table or resting on one source where these are given."""
    wanted = words.lower().split()
    return [
        row
        for row in catalogue()
        if (not table or row.table == table) and (not source or source in row.sources) and all(word in row.text for word in wanted)
    ]
