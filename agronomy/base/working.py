"""How a figure came about: steps that open, down to the source of each rule."""

from dataclasses import field
from typing import Protocol

from agronomy.base.record import record


@record
class Figure:
    """A number (or a word) with its unit, as it stands in a step; a coefficient also says whose it is (a key of the sources table)."""

    value: float | str
    unit: str = ""
    source: str = ""

    @classmethod
    def of(cls, parameter: "Parameter") -> "Figure":
        """A figure of a table as the input of a step: with its unit and its source."""
        return cls(parameter.value, parameter.unit, parameter.source)


class Parameter(Protocol):
    """What a figure of a table has."""

    @property
    def value(self) -> float: ...
    @property
    def unit(self) -> str: ...
    @property
    def source(self) -> str: ...


@record
class Step:
    """One piece of arithmetic: what it is called, how it goes, what went in, what came out, whose rule it is.

    `formula` holds names of inputs only, and factors of ten between units; every coefficient is an input. A formula without an
    operator is a choice told in words ("the row that the reading falls into"). `source` is a key of the sources table, or several
    joined by `;`; `where` is the place in it.
    """

    name: str
    formula: str
    inputs: dict[str, Figure]
    result: Figure
    source: str
    where: str = ""
    note: str = ""


@record
class Banded:
    """A figure with its 80 % band and the steps that led to it."""

    value: float
    low: float
    high: float
    steps: tuple[Step, ...] = field(default=())
