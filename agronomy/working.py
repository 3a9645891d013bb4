"""How a figure came about: steps that open, down to the source of each rule."""

from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Figure:
    """A number (or a word) with its unit, as it stands in a step."""

    value: float | str
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Step:
    """One piece of arithmetic: what it is called, how it goes, what went in, what came out, whose rule it is.

    `source` is a key of the sources table, or several joined by `;`; `where` is the place in it.
    """

    name: str
    formula: str
    inputs: dict[str, Figure]
    result: Figure
    source: str
    where: str = ""
    note: str = ""


@dataclass(frozen=True, slots=True)
class Banded:
    """A figure with its 80 % band and the steps that led to it."""

    value: float
    low: float
    high: float
    steps: tuple[Step, ...] = field(default=())
