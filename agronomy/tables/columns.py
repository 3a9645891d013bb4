"""What may stand in a cell: the kinds of columns, each with its unit, range, words or the table it names.

A row class states its columns as annotated fields, and `reader_of` makes of a field the function that reads its cell:

    low: Annotated[float, Within(0, 400, "kg N/ha")]        a number in a range, with its unit
    salt_index: Annotated[float | None, Within(...)]        the same, or an empty cell
    life: Literal["annual", "perennial"]                    one of some words
    legume: bool                                            yes or no
    crop: Annotated[str, Names("crops")]                    a key of another table
    groups: Annotated[tuple[str, ...], Names("groups")]     keys parted by a semicolon
    says: str                                               any text but none; a measure in it as {15 cm}
"""

import re
import types
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal, NamedTuple, Union, get_args, get_origin

from agronomy.base.said import with_measures

_NUMBER = re.compile(r"-?\d+(\.\d+)?([eE]-?\d+)?")
_MONTH_DAY = re.compile(r"(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])")


@dataclass(frozen=True, slots=True)
class Within:
    """The range of a number, both ends included, and its unit."""

    low: float
    high: float
    unit: str


@dataclass(frozen=True, slots=True)
class Names:
    """The table whose keys a cell names; `or_word` is a word that may stand there instead, such as `*` for all of them."""

    table: str
    or_word: str = ""


@dataclass(frozen=True, slots=True)
class Parted:
    """What parts the words of one cell."""

    by: str = ";"


class MonthDay(NamedTuple):
    """A day of any year."""

    month: int
    day: int


Key = Annotated[str, re.compile(r"[a-z][a-z0-9_]*")]
Status = Literal["exact", "recalled", "unsure"]
Words = Annotated[tuple[str, ...], Parted()]

Reader = Callable[[str], Any]


class BadCell(ValueError):
    """A cell that cannot be: what is wrong, and how to mend it."""

    def __init__(self, problem: str, mend: str):
        super().__init__(f"{problem}; {mend}")
        self.problem, self.mend = problem, mend


def reader_of(annotation: Any) -> Reader:
    """The function that reads a cell of a column annotated so; it raises BadCell."""
    base, marks = (get_args(annotation)[0], get_args(annotation)[1:]) if get_origin(annotation) is Annotated else (annotation, ())
    may_be_empty = get_origin(base) in (Union, types.UnionType)
    kinds = [kind for kind in get_args(base) if kind is not type(None)] if may_be_empty else [base]
    inner = kinds[0]
    if get_origin(inner) is Annotated:
        inner, marks = get_args(inner)[0], (*marks, *get_args(inner)[1:])
    read = _reader(inner, marks)
    if get_origin(inner) is tuple:
        return read
    return lambda text: (None if may_be_empty else _refuse_empty()) if text == "" else read(text)


def names_of(annotation: Any) -> Names | None:
    """The table that a column names, if it names one."""
    return next((mark for mark in getattr(annotation, "__metadata__", ()) if isinstance(mark, Names)), None)


def _refuse_empty() -> None:
    raise BadCell("the cell is empty", "fill it in")


def _reader(kind: Any, marks: tuple[Any, ...]) -> Reader:
    if get_origin(kind) is Literal:
        return lambda text: _one_of(text, get_args(kind))
    if get_origin(kind) is tuple:
        by = next((mark.by for mark in marks if isinstance(mark, Parted)), ";")
        return lambda text: _parted(text, by)
    if kind is bool:
        return lambda text: _one_of(text, ("yes", "no")) == "yes"
    if kind is float:
        (within,) = (mark for mark in marks if isinstance(mark, Within))
        return lambda text: number_within(_number(text), within)
    if kind is MonthDay:
        return _month_day
    pattern = next((mark for mark in marks if isinstance(mark, re.Pattern)), None)
    return lambda text: _text(text, pattern)


def _one_of(text: str, allowed: tuple[str, ...]) -> str:
    if text not in allowed:
        raise BadCell(f"“{text}” is not one of {', '.join(allowed)}", "write one of them")
    return text


def _parted(text: str, by: str) -> tuple[str, ...]:
    words = tuple(text.split(by)) if text else ()
    if any(not word or word != word.strip() for word in words):
        raise BadCell(f"“{text}” has an empty word or stray blanks", f"part words by “{by}” alone")
    if len(set(words)) != len(words):
        raise BadCell(f"“{text}” names something twice", "name it once")
    return words


def _number(text: str) -> float:
    if not _NUMBER.fullmatch(text):
        raise BadCell(f"“{text}” is not a number", "write digits with a point")
    return float(text)


def number_within(number: float, within: Within) -> float:
    """The number, if it lies in the range; else BadCell."""
    if not within.low <= number <= within.high:
        raise BadCell(f"{number:g} is outside {within.low:g} to {within.high:g} {within.unit}", "check the figure and its unit")
    return number


def _month_day(text: str) -> MonthDay:
    found = _MONTH_DAY.fullmatch(text)
    if not found:
        raise BadCell(f"“{text}” is no day of the year", "write month and day as 04-18")
    return MonthDay(int(found[1]), int(found[2]))


def _text(text: str, pattern: re.Pattern[str] | None) -> str:
    if text != text.strip():
        raise BadCell(f"“{text}” has blanks around it", "take them out")
    if pattern and not pattern.fullmatch(text):
        raise BadCell(f"“{text}” is no key", "use small letters, digits and underscores")
    try:
        return with_measures(text)
    except ValueError as error:
        raise BadCell(
            f"“{text}” cannot be read ({error})", "close what is opened with {, and leave nothing else in it but a measure"
        ) from None
