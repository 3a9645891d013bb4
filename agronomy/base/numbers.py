"""Numbers as people and laboratories write them: decimal commas, `<0.1`, `ND`, `trace`, ranges between two colours."""

import math
import re
from typing import NamedTuple

from agronomy.base.errors import NotANumber

LONGEST_NUMBER = 40
_AMBIGUOUS = re.compile(r"^[+-]?[1-9]\d{0,2},\d{3}$")
_PLAIN = re.compile(r"^[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?$")
_RANGE = re.compile(r"^\s*(\d[\d.,]*)\s*(?:-|–|to|\.\.)\s*(\d[\d.,]*)\s*$")
_WORDS = {"nd": "ND", "n.d.": "ND", "not detected": "ND", "trace": "trace", "tr": "trace"}


class ReadValue(NamedTuple):
    """A value as read: the number to reckon with, its bounds where they were given, and the qualifier."""

    value: float
    low: float | None
    high: float | None
    qualifier: str | None


def parse_number(typed: object, field: str = "number") -> float:
    """A finite float from what was typed; accepts a decimal comma and spaces between thousands.

    Raises NotANumber, also where a comma could mean thousands or decimals (`1,234`).

    >>> parse_number("5,7"), parse_number("1 200"), parse_number("1,200.5")
    (5.7, 1200.0, 1200.5)
    """
    if isinstance(typed, bool) or typed is None:
        raise NotANumber(field, typed, "there is no number here", "type a number such as 5.7")
    number = (float(typed) if abs(typed) < 1e300 else math.inf) if isinstance(typed, (int, float)) else _from_text(str(typed), field)
    if not math.isfinite(number):
        raise NotANumber(field, str(typed)[:LONGEST_NUMBER], "this is not a finite number", "type a number such as 5.7")
    return number


def _from_text(typed: str, field: str) -> float:
    if len(typed) > 200:
        raise NotANumber(field, typed[:30], f"{len(typed)} characters are too many for a number", "type one number")
    text = re.sub(r"[\s\u00a0\u202f']", "", typed).replace("−", "-")
    if _AMBIGUOUS.match(text):
        whole, part = text.split(",")
        raise NotANumber(field, typed, "the comma could mean thousands or decimals", f"write {whole}{part} or {whole}.{part}")
    if "," in text and "." in text:
        thousands = "," if text.rfind(",") < text.rfind(".") else "."
        text = text.replace(thousands, "")
    text = text.replace(",", ".")
    if not _PLAIN.match(text):
        raise NotANumber(field, typed[:LONGEST_NUMBER], f"“{typed[:LONGEST_NUMBER]}” is not a number", "type digits")
    return float(text)


def parse_value(typed: object, field: str = "value") -> ReadValue:
    """A reading's value with its qualifier: `5.7`, `"<0.1"`, `"ND"`, `"trace"`, `[5.0, 5.5]` or `"5.0-5.5"`.

    Below a limit the reckoning uses half the limit, with bounds from nought to the limit; `ND` and `trace` count as nought.

    >>> parse_value("<0.4")
    ReadValue(value=0.2, low=0.0, high=0.4, qualifier='<0.4')
    >>> parse_value([5.0, 5.5]).value
    5.25
    """
    if isinstance(typed, (list, tuple)):
        return _between(list(typed), field)
    if not isinstance(typed, str):
        return ReadValue(parse_number(typed, field), None, None, None)
    text = typed.strip()
    if text.lower() in _WORDS:
        return ReadValue(0.0, 0.0, None, _WORDS[text.lower()])
    if text[:1] in "<>" and text:
        return _beyond_limit(text, field)
    span = _RANGE.match(text) if len(text) <= LONGEST_NUMBER else None
    if span:
        return _between([span.group(1), span.group(2)], field)
    return ReadValue(parse_number(text, field), None, None, None)


def _between(ends: list[object], field: str) -> ReadValue:
    if len(ends) != 2:
        raise NotANumber(field, str(ends)[:LONGEST_NUMBER], "a range has two ends", "write it as [5.0, 5.5]")
    low, high = sorted(parse_number(end, field) for end in ends)
    return ReadValue((low + high) / 2, low, high, f"{low:g} to {high:g}")


def _beyond_limit(text: str, field: str) -> ReadValue:
    limit = parse_number(text[1:].lstrip("="), field)
    if text[0] == "<":
        return ReadValue(limit / 2, 0.0, limit, f"<{limit:g}")
    return ReadValue(limit, limit, None, f">{limit:g}")
