"""Colour kits: any kit by its steps, waiting times and colours. An answer is a class or a range, never a decimal."""

import re
from collections.abc import Mapping
from typing import Any

from agronomy.base.errors import RuleError, UnknownName
from agronomy.base.record import record
from agronomy.tables import Tables
from agronomy.tables.rooms.readings import Analyte

MOST_TESTS, MOST_STEPS, MOST_COLOURS = 20, 20, 15
LONGEST_WAIT_SECONDS = 24 * 3600


@record
class KitStep:
    """One thing to do, and how long to shake or wait after it [s]."""

    do: str
    shake_seconds: int
    wait_seconds: int

    @property
    def seconds(self) -> int:
        return self.shake_seconds + self.wait_seconds


@record
class Colour:
    """A colour of the card: how to fill it, the value or range it stands for, and its words."""

    fill: str
    low: float
    high: float
    say: str


@record(kw_only=True)
class KitTest:
    """One test of a kit, ready to be walked through."""

    key: str
    name: str
    analyte: str
    unit: str
    method: str
    between: bool
    steps: tuple[KitStep, ...]
    colours: tuple[Colour, ...]

    @property
    def seconds(self) -> int:
        """All shaking and waiting of the test [s]."""
        return sum(step.seconds for step in self.steps)

    def answer(self, first: int, second: int | None = None) -> tuple[str, str]:
        """What the colours chosen stand for: as typed into a slip ("5.0-5.5" or "5.5"), and in words.

        One colour, or two neighbours for a tube that lies between them. Raises UnknownName for colours the card lacks,
        RuleError for two that are no neighbours.
        """
        second = first if second is None else second
        chosen = [self._colour(place) for place in sorted({first, second})]
        if len(chosen) == 2 and (not self.between or abs(first - second) != 1):
            raise RuleError(
                "colour", f"{first}, {second}", "between two colours means two neighbours", "choose one colour, or two side by side"
            )
        low, high = min(colour.low for colour in chosen), max(colour.high for colour in chosen)
        said = " to ".join(colour.say for colour in chosen)
        return (f"{low:g}" if low == high else f"{low:g}-{high:g}"), said

    def _colour(self, place: int) -> Colour:
        if not 0 <= place < len(self.colours):
            raise UnknownName("colour", place, "the card has no such colour", "choose one of the colours shown")
        return self.colours[place]


@record
class Kit:
    """A kit of one or more tests."""

    key: str
    name: str
    about: str
    how: str
    tests: tuple[KitTest, ...]

    def test(self, key: str) -> KitTest:
        for test in self.tests:
            if test.key == key:
                return test
        raise UnknownName("test", key[:40], f"{self.name} has no such test", f"use one of {', '.join(test.key for test in self.tests)}")


def error_read_early(error: float, *, early_seconds: float, total_seconds: float) -> float:
    """The standard error of a colour read before its time: up to twice as wide, by the share of the time that was left out.

    Source: own-experience; a colour still growing is read too pale.

    >>> round(error_read_early(0.3, early_seconds=240, total_seconds=480), 2)
    0.45
    """
    return error * (1 + min(1.0, early_seconds / total_seconds)) if total_seconds > 0 else error


def kit_from_document(document: dict[str, Any], tables: Tables) -> Kit:
    """A Kit from its document (see agronomy/tables/data/kits for examples), with every part checked. Raises RuleError."""
    tests = _list(document, "test", MOST_TESTS)
    return Kit(
        key=_key(document, "key"),
        name=_text(document, "name", 80),
        about=_text(document, "about", 400, wanted=False),
        how=document.get("how", "kit") if document.get("how", "kit") in ("kit", "strip") else "kit",
        tests=tuple(_test(item, place, tables) for place, item in enumerate(tests)),
    )


def shipped_kits(tables: Tables) -> dict[str, Kit]:
    """The kits that ship, by key. Source: invented-kit.

    >>> from agronomy.intake.example import tables
    >>> len(shipped_kits(tables)) > 0
    True
    """
    return {key: kit_from_document(document.model_dump(mode="json"), tables) for key, document in tables.kits.items()}


def _test(item: dict, place: int, tables: Tables) -> KitTest:
    field = f"test.{place}"
    analyte = item.get("analyte") or ""
    if analyte not in tables.analytes:
        raise UnknownName(
            f"{field}.analyte", str(analyte)[:40], "this analyte is not in our list", "use the key of an analyte, such as pH or P"
        )
    row = tables.analytes[analyte]
    unit = item.get("unit") or ("" if row.base_unit == "pH" else row.default_unit)
    if unit and unit not in row.units:
        raise UnknownName(f"{field}.unit", unit, f"{row.name} is not given in {unit}", f"use one of {', '.join(row.units)}")
    method = item.get("method") or "not stated"
    if method not in row.methods:
        raise UnknownName(f"{field}.method", method, f"{row.name} has no such method", f"use one of {', '.join(row.methods)}")
    colours = tuple(
        _colour(colour, f"{field}.colours.{number}", row) for number, colour in enumerate(_list(item, "colours", MOST_COLOURS, least=2))
    )
    steps = tuple(_step(step, f"{field}.steps.{number}") for number, step in enumerate(_list(item, "steps", MOST_STEPS)))
    return KitTest(
        key=_key(item, "key"),
        name=_text(item, "name", 60),
        analyte=analyte,
        unit=unit,
        method=method,
        between=bool(item.get("between", True)),
        steps=steps,
        colours=colours,
    )


def _colour(item: dict, field: str, row: Analyte) -> Colour:
    fill = str(item.get("fill", ""))
    if not re.fullmatch(r"#[0-9a-fA-F]{6}", fill):
        raise RuleError(f"{field}.fill", fill[:20], "a colour is written as six digits", "write it as #c8452c")
    try:
        low, high = float(item["low"]), float(item.get("high", item["low"]))
    except (KeyError, TypeError, ValueError):
        raise RuleError(
            f"{field}.low", item.get("low"), "a colour needs the value it stands for", "give a number, or the two ends of a range"
        ) from None
    if not row.hard_low <= low <= high <= row.hard_high:
        raise RuleError(f"{field}.low", f"{low:g} to {high:g}", f"{row.name} cannot be that", "check the two ends of the range")
    return Colour(fill.lower(), low, high, _text(item, "say", 60))


def _step(item: dict, field: str) -> KitStep:
    times = {}
    for name in ("shake_seconds", "wait_seconds"):
        value = item.get(name, 0)
        if isinstance(value, bool) or not isinstance(value, int) or not 0 <= value <= LONGEST_WAIT_SECONDS:
            raise RuleError(
                f"{field}.{name}", str(value)[:20], "a time is a whole number of seconds, up to a day", "write 300 for five minutes"
            )
        times[name] = value
    return KitStep(_text(item, "do", 300), **times)


def _list(document: dict, name: str, most: int, least: int = 1) -> list:
    value = document.get(name) if isinstance(document, Mapping) else None
    if not isinstance(value, list) or not least <= len(value) <= most or not all(isinstance(item, dict) for item in value):
        raise RuleError(name, None, f"a kit needs {least} to {most} of “{name}”", "see the kits that ship for examples")
    return value


def _text(document: dict, name: str, longest: int, *, wanted: bool = True) -> str:
    value = str(document.get(name) or "").strip()
    if (wanted and not value) or len(value) > longest:
        raise RuleError(name, value[:40], f"“{name}” is missing or longer than {longest} letters", "write a short text")
    return value


def _key(document: dict, name: str) -> str:
    value = str(document.get(name) or "")
    if not re.fullmatch(r"[a-z][a-z0-9_]{0,39}", value):
        raise RuleError(name, value[:40], "a key is made of small letters, digits and underscores", "write it as hedgerow_four")
    return value
