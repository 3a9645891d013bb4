"""What every row of a table has, and a single figure of a rule."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, NamedTuple

from agronomy.tables.columns import Names, Status


class Fault(NamedTuple):
    """Columns of one row that contradict each other: the column at fault, what is wrong, how to mend it."""

    column: str
    problem: str
    mend: str


class Row:
    """A row of a table. `faults` tells where its columns contradict each other."""

    __slots__ = ()

    def faults(self) -> Iterator[Fault]:
        return iter(())


@dataclass(frozen=True, slots=True, kw_only=True)
class Cited(Row):
    """A row with its source: a key of sources.csv (or several, parted by a semicolon), the place in it, how sure it is."""

    source: Annotated[str, Names("sources")]
    where: str
    status: Status

    @property
    def sources(self) -> tuple[str, ...]:
        return tuple(self.source.split(";"))


@dataclass(frozen=True, slots=True, kw_only=True)
class Parameter(Cited):
    """One figure of a rule in its unit; low and high bound its own uncertainty where it has one."""

    value: float
    unit: str
    low: float
    high: float


def rising(row: object, *columns: str, strictly: bool = False) -> Iterator[Fault]:
    """A fault for each column that stands below the one before it; empty cells are passed over."""
    known = [(name, value) for name in columns if (value := getattr(row, name)) is not None]
    for (before, low), (name, high) in pairwise(known):
        if high < low or (strictly and high == low):
            yield Fault(name, f"{high:g} is below {before}, {low:g}", f"put {', '.join(columns)} in rising order")
