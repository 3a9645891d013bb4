"""Sentences that carry their values: a pattern with named places, and what stands in them, told anew for every reader.

A sentence is a text for whoever only prints it, in the units that the plan was asked in. `Reader.tell` makes it anew in other units,
with days in another habit. A measure that stands fast is written in the pattern itself: "worked in to {15 cm}".
"""

import re
from collections.abc import Callable, Iterable, Mapping
from datetime import date
from functools import lru_cache
from string import Formatter
from typing import Any, get_type_hints

from agronomy.base import showing
from agronomy.base.quantities import factor
from agronomy.base.record import record

TEASPOON_ML = 4.92892
_SPEC = re.compile(r"|[+z]?\.\d[fg]|[dg]|%-d %[bB]( %Y)?|%B %Y")
_HELD: dict[Any, tuple[type, ...]] = {float: (int, float), int: (int,), str: (str,), bool: (bool,)}
_LITERAL = re.compile(r"(\d+(?:\.\d+)?)(?:( to |–| and )(\d+(?:\.\d+)?))? (\S.*)")


@record
class Measure:
    """A figure in a metric unit that another reader has otherwise; a `bare` one leaves its unit to the figure after it."""

    value: float
    unit: str
    bare: bool = False

    def __format__(self, spec: str) -> str:
        return f"{self.value:{spec}}" if self.bare else f"{self.value:{spec}} {self.unit}"

    def told(self, system: str, spec: str) -> str:
        """As a reader of "metric", "us" or "uk" has it; other than metric to two figures. Source: definition."""
        there = showing.converted(self.value, self.unit, system)
        if there is None:
            return format(self, spec)
        return there.split(" ")[0] if self.bare else there


@record
class Mass:
    """A weight [kg] as a person would weigh it, by default in one system of units."""

    kg: float
    digits: int
    system: str

    def __str__(self) -> str:
        return self.told(self.system)

    def told(self, system: str, spec: str = "") -> str:
        """In the reader's units. Source: definition."""
        return showing.mass(self.kg, system, self.digits)


@record
class Liquid:
    """What is poured [kg, g/mL], by the measure it is poured with."""

    kg: float
    density_g_per_ml: float
    system: str

    def __str__(self) -> str:
        return self.told(self.system)

    def told(self, system: str, spec: str = "") -> str:
        """In the reader's units. Source: definition."""
        return showing.liquid(self.kg, self.density_g_per_ml, system)


@record
class Rate:
    """A rate [kg/ha] by the habit of ground of that size [m2]."""

    kg_per_ha: float
    area_m2: float
    system: str

    def __str__(self) -> str:
        return self.told(self.system)

    def told(self, system: str, spec: str = "") -> str:
        """In the reader's units. Source: definition."""
        return showing.rate(self.kg_per_ha, system, self.area_m2)


@record
class Depth:
    """A depth [cm]."""

    cm: float
    system: str

    def __str__(self) -> str:
        return self.told(self.system)

    def told(self, system: str, spec: str = "") -> str:
        """In the reader's units. Source: definition."""
        return showing.depth(self.cm, system)


@record
class Volume:
    """What is poured out [L], in mL and fluid ounces where it is `little`."""

    litres: float
    little: bool
    system: str

    def __str__(self) -> str:
        return self.told(self.system)

    def told(self, system: str, spec: str = "") -> str:
        """In the reader's units. Source: definition."""
        unit = ("fl oz" if self.little else "gal") if system == "us" else ("mL" if self.little else "L")
        return showing.in_unit(self.litres, "L", unit, 2)


@record
class Strength:
    """How much of a feed goes into the can [g/L; g/mL]: teaspoons to a gallon in US units, else to a can of ten litres."""

    g_per_l: float
    density_g_per_ml: float
    is_liquid: bool
    system: str

    def __str__(self) -> str:
        return self.told(self.system)

    def told(self, system: str, spec: str = "") -> str:
        """In the reader's units. Source: definition."""
        if system == "us":
            spoons = self.g_per_l * factor("gal", "L") / self.density_g_per_ml / TEASPOON_ML
            return f"{showing.number(spoons, 2)} teaspoons to a gallon of water"
        amount = self.g_per_l * 10 / (self.density_g_per_ml if self.is_liquid else 1)
        return f"{showing.number(amount, 2)} {'mL' if self.is_liquid else 'g'} to a 10 L can"


_KINDS: dict[str, type] = {kind.__name__: kind for kind in (Measure, Mass, Liquid, Rate, Depth, Volume, Strength)}


class Said(str):
    """A sentence as text, with the pattern and the values that it was made of."""

    __slots__ = ("forms", "pattern", "values")
    pattern: str
    values: Mapping[str, Any]
    forms: tuple[str, str, int] | None  # of one, of many, and how many there are, where it was said by number

    @property
    def carries(self) -> bool:
        """Whether it holds anything that readers may have otherwise."""
        return any(
            name not in self.values or not isinstance(self.values[name], str) or _carries(self.values[name])
            for name in _places_of(self.pattern)
        )

    def __reduce__(self) -> tuple[Any, ...]:
        return _restored, (self.pattern, dict(self.values), self.forms)

    def __add__(self, other: str) -> "Said":
        return joined((self, other), "")

    def __radd__(self, other: str) -> "Said":
        return joined((other, self), "")


def _places_of(pattern: str) -> list[str]:
    return [name for _, name, _ in _parsed(pattern) if name is not None]


def _carries(text: str) -> bool:
    return isinstance(text, Said) and text.carries


def _restored(pattern: str, values: Mapping[str, Any], forms: tuple[str, str, int] | None) -> Said:
    said = _again(pattern, values)
    said.forms = forms
    return said


def say(pattern: str, /, **values: Any) -> Said:
    """The sentence of a pattern whose places are named, in the manner of str.format; a value may be a sentence itself.

    Source: definition.

    >>> say("worked in to {15 cm} by {day:%-d %B}", day=date(2026, 10, 5))
    'worked in to 15 cm by 5 October'
    """
    pattern = getattr(pattern, "pattern", pattern)
    return _again(pattern, values) if values else _plain(pattern)


@lru_cache(maxsize=2048)
def _plain(pattern: str) -> Said:
    """A sentence without values is made once."""
    return _again(pattern, {})


def _again(pattern: str, values: Mapping[str, Any]) -> Said:
    parts = []
    for text, name, spec in _parsed(pattern):
        parts.append(text)
        if name is None:
            continue
        value = values.get(name, values)  # the values themselves stand for none
        if value is values:
            parts.append(_literal(name)[0])
        elif isinstance(value, str) and not spec:
            parts.append(value)
        else:
            parts.append(format(value, spec))
    said = Said("".join(parts))
    said.pattern, said.values, said.forms = pattern, values, None
    return said


def measured(value: float, unit: str) -> Said:
    """A figure in its metric unit, to be told. Source: definition.

    >>> measured(15, "cm")
    '15 cm'
    """
    return say("{figure:g}", figure=Measure(value, unit))


def with_measures(text: str) -> str:
    """A text of a table as a sentence, where measures stand in it and nothing else is open; any other text as it is. Source: definition.

    >>> Reader("us").tell(with_measures("wait for {15 °C} ground"))
    'wait for 59 °F ground'
    """
    if "{" not in text:
        return text
    names = [name for _, name, _ in _parsed(text) if name is not None]
    return say(text) if all(_LITERAL.fullmatch(name) for name in names) else text


def worded(pattern: str) -> str:
    """A pattern that is said elsewhere: marked, so that it is found where patterns are taken out. Source: definition."""
    return pattern


def say_n(one: str, many: str, count: int, /, **values: Any) -> Said:
    """The sentence for one, or for another number of things. Source: definition.

    >>> say_n("{what} was not tested", "{what} were not tested", 2, what="zinc and boron")
    'zinc and boron were not tested'
    """
    said = _again(one if count == 1 else many, values)
    said.forms = (one, many, count)
    return said


def joined(parts: Iterable[str], between: str = " ") -> Said:
    """Sentences one after another, each with its own values. Source: definition.

    >>> joined([say("Wait {3 cm}."), "Then go."]).pattern
    '{first} {second}'
    """
    told = [part for part in parts if part]
    names, pattern = _places(len(told), between)
    return _again(pattern, dict(zip(names, told, strict=True)))


@lru_cache(maxsize=256)
def _places(count: int, between: str) -> tuple[tuple[str, ...], str]:
    """Names for so many sentences, and the pattern that puts them together."""
    named = ("first", "second", "third", "fourth", "fifth")
    names = tuple(named[place] if place < len(named) else f"part_{place + 1}" for place in range(count))
    return names, between.replace("{", "{{").replace("}", "}}").join(f"{{{name}}}" for name in names)


@record
class _Letter:
    """A sentence with a large or small first letter."""

    sentence: str
    large: bool

    def __str__(self) -> str:
        return self.of(self.sentence)

    def of(self, text: str) -> str:
        return (text[:1].upper() if self.large else text[:1].lower()) + text[1:]


def large(sentence: str) -> Said:
    """A sentence that begins with a large letter. Source: definition."""
    return say("{sentence}", sentence=_Letter(sentence, True))


def small(sentence: str) -> Said:
    """A sentence that goes on within another: its first letter is small. Source: definition."""
    return say("{sentence}", sentence=_Letter(sentence, False))


@lru_cache(maxsize=4096)
def _parsed(pattern: str) -> tuple[tuple[str, str | None, str], ...]:
    return tuple((text, name, spec or "") for text, name, spec, _ in Formatter().parse(pattern))


@lru_cache(maxsize=1024)
def _literal(field: str) -> tuple[str, tuple[Measure, ...], str]:
    """A measure that stands in the pattern: its text, its figures, and what parts them. Raises KeyError where it is none."""
    found = _LITERAL.fullmatch(field)
    if found is None:
        raise KeyError(f"no value was given for {{{field}}}, and it is no measure")
    low, between, high, unit = found.groups()
    figures = (Measure(float(low), unit),) if high is None else (Measure(float(low), unit, bare=True), Measure(float(high), unit))
    return field, figures, between or ""


def _english(one: str, many: str, count: int) -> str:
    return one if count == 1 else many


class SameYear(date):
    """A day whose year the same sentence tells with another day."""


def _plain_day(day: date, spec: str) -> str:
    return format(day, spec)


YEAR_SAID_FROM = 270  # days ahead from which even a day of the same year is written with it


@record
class Reader:
    """For whom sentences are told: units ("metric", "us", "uk"), how days are written, from which day on a year goes unsaid, and the
    language: `words` and `words_n` are gettext and ngettext, or leave English as it is.
    """

    system: str
    day: Callable[[date, str], str] = _plain_day
    today: date | None = None
    words: Callable[[str], str] = str
    words_n: Callable[[str, str, int], str] = _english

    def tell(self, sentence: str) -> str:
        """A sentence in this reader's units and days; a text without values stays. Source: definition.

        >>> Reader("us").tell(say("worked in to {15 cm}, {to} deep", to=Measure(30, "cm")))
        'worked in to 5.9 in, 12 in deep'
        """
        if not isinstance(sentence, Said):
            return sentence
        pattern = self.words(sentence.pattern) if sentence.forms is None else self.words_n(*sentence.forms)
        parts = []
        for text, name, spec in _parsed(pattern):
            parts.append(text)
            if name is not None:
                parts.append(self._value(sentence.values[name], spec) if name in sentence.values else self._fast(name))
        return "".join(parts)

    def _fast(self, name: str) -> str:
        text, figures, between = _literal(name)
        return text if self.system == "metric" else between.join(figure.told(self.system, "g") for figure in figures)

    def _value(self, value: Any, spec: str) -> str:
        if isinstance(value, Said):
            return self.tell(value)
        if isinstance(value, _Letter):
            return value.of(self.tell(value.sentence))
        if isinstance(value, date):
            told_beside = isinstance(value, SameYear)
            is_far = (
                self.today is not None and not told_beside and (value.year != self.today.year or (value - self.today).days > YEAR_SAID_FROM)
            )
            if is_far and spec and "%Y" not in spec:
                spec += " %Y"
            return self.day(value, spec)
        told = getattr(value, "told", None)
        return format(value, spec) if told is None else told(self.system, spec)


def written(sentence: Said) -> list[Any]:
    """A sentence as JSON values: its pattern, and its values by name. Source: definition.

    >>> written(say("to {depth}", depth=Measure(15, "cm")))
    ['to {depth}', {'depth': ['Measure', 15, 'cm', False]}]
    """
    pattern = sentence.pattern if sentence.forms is None else list(sentence.forms)
    return [pattern, {name: _written(value) for name, value in sentence.values.items()}]


def _written(value: Any) -> Any:
    if isinstance(value, Said):
        return ["Said", *written(value)]
    if isinstance(value, _Letter):
        return ["Letter", _written(value.sentence), value.large]
    if isinstance(value, date):
        return ["Day", value.isoformat()]
    kind = type(value).__name__
    return [kind, *(getattr(value, name) for name in value.__slots__)] if kind in _KINDS else value


def read(document: Any) -> Said:
    """The sentence back from `written`. Raises ValueError, KeyError or TypeError for a document of another shape. Source: definition.

    >>> read(["to {depth}", {"depth": ["Measure", 15, "cm", False]}])
    'to 15 cm'
    """
    pattern, told = document
    one, many, count = (pattern, pattern, 1) if isinstance(pattern, str) else pattern
    for _, _, spec in (*_parsed(one), *_parsed(many)):
        if not _SPEC.fullmatch(spec):
            raise ValueError(f"“{spec}” is no way to write a value")
    values = {str(name): _read(value) for name, value in told.items()}
    return _again(pattern, values) if isinstance(pattern, str) else say_n(one, many, count, **values)


def _read(value: Any) -> Any:
    if not isinstance(value, list):
        return value
    kind, *rest = value
    if kind == "Said":
        return read(rest)
    if kind == "Letter":
        return _Letter(_read(rest[0]), bool(rest[1]))
    if kind == "Day":
        return date.fromisoformat(rest[0])
    types = [_HELD[name] for name in get_type_hints(_KINDS[kind]).values()]
    if len(types) != len(rest) or not all(type(item) in wanted for item, wanted in zip(rest, types, strict=True)):
        raise ValueError(f"{kind} does not hold {rest}")
    return _KINDS[kind](*rest)
