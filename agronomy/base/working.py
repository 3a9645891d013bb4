"""How a figure came about: steps that open, down to the source of each rule."""

from dataclasses import dataclass, field

# A plan makes about a hundred figures and steps. The slots are filled by their own descriptors, because the __init__ that
# dataclass writes for frozen classes takes more than twice as long, and that was a tenth of the whole plan.


@dataclass(frozen=True, slots=True, init=False)
class Figure:
    """A number (or a word) with its unit, as it stands in a step."""

    value: float | str
    unit: str = ""

    def __init__(self, value: float | str, unit: str = ""):
        _set_value(self, value)
        _set_unit(self, unit)


_set_value, _set_unit = Figure.value.__set__, Figure.unit.__set__


@dataclass(frozen=True, slots=True, init=False)
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

    def __init__(self, name: str, formula: str, inputs: dict[str, Figure], result: Figure, source: str, where: str = "", note: str = ""):
        _set_name(self, name)
        _set_formula(self, formula)
        _set_inputs(self, inputs)
        _set_result(self, result)
        _set_source(self, source)
        _set_where(self, where)
        _set_note(self, note)


_set_name, _set_formula, _set_inputs, _set_result = Step.name.__set__, Step.formula.__set__, Step.inputs.__set__, Step.result.__set__
_set_source, _set_where, _set_note = Step.source.__set__, Step.where.__set__, Step.note.__set__


@dataclass(frozen=True, slots=True)
class Banded:
    """A figure with its 80 % band and the steps that led to it."""

    value: float
    low: float
    high: float
    steps: tuple[Step, ...] = field(default=())
