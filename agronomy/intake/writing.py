"""Plans as plain values, in one walk: what pydantic would write, with floats cut to six significant digits, several times as fast.

Each class of a plan is looked at once; after that a plan is a walk over attributes. A test holds it to pydantic's own writing.
"""

from collections.abc import Callable, Mapping
from dataclasses import fields, is_dataclass
from datetime import date
from enum import Enum
from operator import attrgetter
from types import UnionType
from typing import Any, Literal, get_args, get_origin, get_type_hints

from agronomy.base.working import Figure

# Names in Python that the plan format writes differently, because they are words of the language.
WRITTEN = {"class_": "class", "from_": "from"}
DIGITS = 6
_PLAIN = (str, int, bool, type(None))

_Write = Callable[[Any], Any]


def _as_it_is(value: Any) -> Any:
    return value


def _cut(value: float) -> float:
    return float(f"{value:.{DIGITS}g}") or 0.0  # never a minus before nothing


class _Acts(dict[type, _Write]):
    """How each class is written; one that was not met before is learnt."""

    def __init__(self, learn: Callable[[type], _Write]):
        super().__init__()
        self._learn = learn

    def __missing__(self, kind: type) -> _Write:
        self[kind] = act = self._learn(kind)
        return act


class Writer:
    """Writes plans; without workings the steps are left empty, and most of the text with them. Of the classes
    in `by_key`, rows of tables, only the key is written.
    """

    def __init__(self, *, workings: bool = True, by_key: tuple[type, ...] = ()):
        known: dict[type, _Write] = {
            float: _cut,
            **dict.fromkeys(_PLAIN, _as_it_is),
            date: date.isoformat,
            tuple: self._row,
            list: self._row,
            frozenset: self._set,
            Figure: self._figure,
            **dict.fromkeys(by_key, attrgetter("key")),
        }
        self._acts = _Acts(self._learnt)
        self._acts.update(known)
        self._empty = () if workings else ("working", "steps")

    def write(self, value: Any) -> Any:
        """Any value of a plan as JSON values. Raises TypeError for what a plan does not hold."""
        return self._acts[type(value)](value)

    def _row(self, values: Any) -> list:
        acts = self._acts
        return [acts[type(value)](value) for value in values]

    def _set(self, values: Any) -> list:
        return self._row(sorted(values))

    def _mapping(self, values: Mapping) -> dict:
        acts = self._acts
        return {key: acts[type(value)](value) for key, value in values.items()}

    def _figure(self, figure: Figure) -> dict[str, Any]:
        written = {"value": self.write(figure.value), "unit": figure.unit}
        if figure.source:  # only a coefficient says whose it is
            written["source"] = figure.source
        return written

    def _learnt(self, kind: type) -> _Write:
        """How a class is written that was not met before."""
        if is_dataclass(kind):
            return self._of_dataclass(kind)
        if issubclass(kind, Mapping):
            return self._mapping
        if issubclass(kind, Enum):
            return attrgetter("value")
        if issubclass(kind, float):
            return lambda value: _cut(float(value))  # one of numpy's
        if issubclass(kind, str | int):
            return _as_it_is
        if issubclass(kind, tuple | list):
            return self._row
        raise TypeError(f"a plan does not hold a {kind.__name__}")

    def _of_dataclass(self, kind: type) -> _Write:
        names = [field.name for field in fields(kind) if field.name not in self._empty]
        keys = [WRITTEN.get(name, name) for name in names]
        hints = get_type_hints(kind)
        worked = [key for key, name in zip(keys, names, strict=True) if not _is_plain(hints[name])]
        empty = [field.name for field in fields(kind) if field.name in self._empty]
        # attrgetter gives no tuple for a single name
        get = attrgetter(*names) if len(names) > 1 else lambda value: [getattr(value, name) for name in names]
        acts = self._acts

        def act(value: Any) -> dict[str, Any]:
            written = dict(zip(keys, get(value)))  # noqa: B905 -- both are made of `names`
            for key in worked:
                held = written[key]
                written[key] = acts[type(held)](held)
            for key in empty:
                written[key] = []
            return written

        return act


def _is_plain(hint: Any) -> bool:
    """Whether a field can hold only what JSON takes as it is."""
    return all(item in _PLAIN or get_origin(item) is Literal for item in (get_args(hint) if isinstance(hint, UnionType) else (hint,)))
