"""Plans as plain values, in one walk: what pydantic would write, with floats cut to six significant digits, several times as fast.

Each class of a plan is looked at once; after that a plan is a walk over attributes. A test holds it to pydantic's own writing.
"""

from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from datetime import date
from enum import Enum
from functools import lru_cache
from operator import attrgetter
from typing import Any

from agronomy.base.showing import significant
from agronomy.base.working import Figure

# Names in Python that the plan format writes differently, because they are words of the language.
WRITTEN = {"class_": "class", "from_": "from"}
DIGITS = 6

_cut = lru_cache(maxsize=16_384)(lambda value: significant(value, DIGITS))
_Write = Callable[[Any], Any]


def _as_it_is(value: Any) -> Any:
    return value


class Writer:
    """Writes plans; without workings the steps are left empty, and most of the text with them. Of the classes
    in `by_key`, rows of tables, only the key is written.
    """

    def __init__(self, *, workings: bool = True, by_key: tuple[type, ...] = ()):
        self._by_type: dict[type, _Write] = {
            float: _cut,
            **dict.fromkeys((str, int, bool, type(None)), _as_it_is),
            date: date.isoformat,
            tuple: self._row,
            list: self._row,
            frozenset: self._set,
            Figure: self._figure,
            **dict.fromkeys(by_key, attrgetter("key")),
        }
        self._empty = () if workings else ("working", "steps")

    def write(self, value: Any) -> Any:
        """Any value of a plan as JSON values. Raises TypeError for what a plan does not hold."""
        kind = type(value)
        act = self._by_type.get(kind)
        return act(value) if act else self._learn(kind)(value)

    def _row(self, values: Any) -> list:
        by_type, write = self._by_type, self.write
        return [act(value) if (act := by_type.get(type(value))) else write(value) for value in values]

    def _set(self, values: Any) -> list:
        return self._row(sorted(values))

    def _mapping(self, values: Mapping) -> dict:
        write = self.write
        return {key: write(value) for key, value in values.items()}

    def _figure(self, figure: Figure) -> dict[str, Any]:
        value = figure.value
        written = {"value": _cut(value) if type(value) is float else self.write(value), "unit": figure.unit}
        if figure.source:  # only a coefficient says whose it is
            written["source"] = figure.source
        return written

    def _learn(self, kind: type) -> _Write:
        """How a class is written that was not met before."""
        act: _Write
        if is_dataclass(kind):
            act = self._of_dataclass(kind)
        elif issubclass(kind, Mapping):
            act = self._mapping
        elif issubclass(kind, Enum):
            act = attrgetter("value")
        elif issubclass(kind, float):
            act = lambda value: _cut(float(value))  # noqa: E731 -- one of numpy's
        elif issubclass(kind, str | int):
            act = _as_it_is
        elif issubclass(kind, tuple | list):
            act = self._row
        else:
            raise TypeError(f"a plan does not hold a {kind.__name__}")
        self._by_type[kind] = act
        return act

    def _of_dataclass(self, kind: type) -> _Write:
        names = [field.name for field in fields(kind)]
        keys = [WRITTEN.get(name, name) for name in names]
        if len(names) < 2:
            return lambda value: {key: self.write(getattr(value, name)) for key, name in zip(keys, names, strict=True)}
        empty: dict[str, list] = {WRITTEN.get(name, name): [] for name in names if name in self._empty}
        if empty:
            kept = [(name, key) for name, key in zip(names, keys, strict=True) if key not in empty]
            return lambda value: {key: self.write(getattr(value, name)) for name, key in kept} | empty
        get, row = attrgetter(*names), self._row
        return lambda value: dict(zip(keys, row(get(value)), strict=True))
