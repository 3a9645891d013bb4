"""How a figure came about: steps that open, down to the source of each rule."""

from dataclasses import dataclass, field
from typing import Protocol

# A plan makes about a hundred figures and steps. The slots are filled by their own descriptors, because the __init__ that
# dataclass writes for frozen classes takes more than twice as long, and that was a tenth of the whole plan.


@dataclass(frozen=True, slots=True, init=False)
class Figure:
    """A number (or a word) with its unit, as it stands in a step; a coefficient also says whose it is (a key of the sources table)."""

    value: float | str
    unit: str = ""
    source: str = ""

    def __init__(self, value: float | str, unit: str = "", source: str = ""):
        _set_value(self, value)
        _set_unit(self, unit)
        _set_figure_source(self, source)

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


_set_value, _set_unit, _set_figure_source = Figure.value.__set__, Figure.unit.__set__, Figure.source.__set__  # type: ignore[misc, union-attr, attr-defined]


@dataclass(frozen=True, slots=True, init=False)
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

    def __init__(self, name: str, formula: str, inputs: dict[str, Figure], result: Figure, source: str, where: str = "", note: str = ""):
        _set_name(self, name)
        _set_formula(self, formula)
        _set_inputs(self, inputs)
        _set_result(self, result)
        _set_source(self, source)
        _set_where(self, where)
        _set_note(self, note)


_set_name, _set_formula, _set_inputs, _set_result = Step.name.__set__, Step.formula.__set__, Step.inputs.__set__, Step.result.__set__  # type: ignore[misc, attr-defined]
_set_source, _set_where, _set_note = Step.source.__set__, Step.where.__set__, Step.note.__set__  # type: ignore[misc, attr-defined]


@dataclass(frozen=True, slots=True)
class Banded:
    """A figure with its 80 % band and the steps that led to it."""

    value: float
    low: float
    high: float
    steps: tuple[Step, ...] = field(default=())
