"""One cell of a laboratory's file: number, qualifier, rating and unit, whatever way it is written."""

import re

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_value
from agronomy.base.record import record
from agronomy.labfile.words import Lexicon, unit_in

_NUMBER_AND_MORE = re.compile(r"^([<>≤≥~]?\s*+=?\s*+[+-]?\d[\d.,\s'\u00a0\u202f]*(?:[eE][+-]?\d+)?)\s*(.*)$", re.DOTALL)
_SIGNS = str.maketrans({"≤": "<", "≥": ">", "−": "-", "\u00a0": " ", "\u202f": " "})
RANGE = re.compile(r"\d[\d.,\s]{0,20}\s?(?:-|–|to|bis|a|à)\s?\d[\d.,\s]{0,20}")
BAR = re.compile(r"[*•·■█▮▓#|=+x]{1,60}")  # a bar of signs that shows a rating
_THOUSANDS = re.compile(r"^[+-]?\d{1,3}(,\d{3})+$")
_THOUSANDS_POINT = re.compile(r"^[+-]?\d{1,3}(\.\d{3})+$")


@record(kw_only=True)
class Cell:
    """What a cell says. `typed` is the value as parse_value takes it; None where nothing was measured or it cannot be read."""

    typed: str | None
    value: float | None
    qualifier: str | None
    unit: str | None
    rating: str
    doubt: str | None
    is_empty: bool


EMPTY = Cell(typed=None, value=None, qualifier=None, unit=None, rating="", doubt=None, is_empty=True)


_PAGE = re.compile(r"\d{1,3}\s*+/\s*+\d{1,3}")  # "2 / 2"


def read_cell(text: str, lexicon: Lexicon, decimal: str | None) -> Cell:
    """The Cell for a text. Never raises: what cannot be read is kept with a doubt that says so."""
    if text[:1].isdecimal() and (text.isdecimal() or (decimal != "," and text.replace(".", "", 1).isdecimal() and "," not in text)):
        return Cell(
            typed=text, value=float(text), qualifier=None, unit=None, rating="", doubt=None, is_empty=False
        )  # the ordinary case, on its short way
    lowered = text.strip().lower()
    if lowered in lexicon.words["nothing"] or BAR.fullmatch(lowered) or "--|" in lowered:
        return EMPTY
    if lowered in lexicon.words["not_detected"]:
        return Cell(typed="ND", value=0.0, qualifier="ND", unit=None, rating="", doubt=None, is_empty=False)
    if lowered in lexicon.words["trace"]:
        return Cell(typed="trace", value=0.0, qualifier="trace", unit=None, rating="", doubt=None, is_empty=False)
    return _number(text, lexicon, decimal)


def _number(text: str, lexicon: Lexicon, decimal: str | None) -> Cell:
    shown = text.strip().lstrip("'").translate(_SIGNS)
    match = _NUMBER_AND_MORE.match(shown.lstrip("~ "))
    if not match or (match.group(1)[-1] in ".," and match.group(2)[:1].isalpha()) or _PAGE.fullmatch(shown):
        return Cell(typed=None, value=None, qualifier=None, unit=None, rating="", doubt=f"“{text[:40]}” is not a number", is_empty=False)
    number, rest = match.group(1).strip(), match.group(2).strip()
    span = _span(number, rest)
    if span:
        number, rest = span, ""
    typed = plain_number(number, decimal)
    try:
        read = parse_value(typed)
    except RuleError as error:
        return Cell(typed=None, value=None, qualifier=None, unit=None, rating="", doubt=f"“{text[:40]}”: {error.problem}", is_empty=False)
    unit = unit_in(rest) if rest else None
    rating = "" if unit else rest.strip("()[] ")[:40]
    doubt = None
    if rest and not unit and not lexicon.is_a("ratings", rest.strip("()[] ")) and rating != "*":
        doubt = f"“{rest[:40]}” stands behind the number; kept as a remark"
    return Cell(typed=typed, value=read.value, qualifier=read.qualifier, unit=unit, rating=rating, doubt=doubt, is_empty=False)


def _span(number: str, rest: str) -> str | None:
    """A range between two values, such as 5.0-5.5."""
    match = re.match(r"^(?:-|–|to|bis|a|à)\s*(\d[\d.,]*)$", rest)
    return f"{number}-{match.group(1)}" if match and re.fullmatch(r"\d[\d.,]*", number) else None


def plain_number(number: str, decimal: str | None) -> str:
    """A number with a decimal point and no thousands, by what the file uses as decimal sign.

    >>> plain_number("1.234,5", ","), plain_number("1,234", "."), plain_number("< 0,1", ","), plain_number("1 200", None)
    ('1234.5', '1234', '<0.1', '1200')
    """
    text = re.sub(r"[\s'\u00a0\u202f]", "", number)
    sign = text[:1] if text[:1] in "<>" else ""
    text = text[len(sign) :].lstrip("=")
    if decimal == "," and "," in text:
        text = text.replace(".", "").replace(",", ".")
    elif decimal == "," and _THOUSANDS_POINT.match(text):
        text = text.replace(".", "")
    elif decimal == "." and ("." in text or _THOUSANDS.match(text)):
        text = text.replace(",", "")
    return sign + text


def decimal_sign(texts: list[str]) -> str | None:
    """Which sign a file uses for decimals, from its cells: "," or "." or None where nothing tells.

    >>> decimal_sign(["A", "6.0", "12"])
    '.'
    """
    commas = points = 0
    for text in texts:
        shown = re.sub(r"[<>≤≥\s'\u00a0]", "", text)
        if re.fullmatch(r"[+-]?\d+,\d+", shown) and not _THOUSANDS.match(shown):
            commas += 1
        elif re.fullmatch(r"[+-]?\d{1,3}(\.\d{3})+,\d+", shown):
            commas += 3
        elif re.fullmatch(r"[+-]?\d*\.\d+", shown) and not _THOUSANDS_POINT.match(shown):
            points += 1
        elif re.fullmatch(r"[+-]?\d{1,3}(,\d{3})+\.\d+", shown):
            points += 3
    if commas == points:
        return None
    return "," if commas > points else "."
