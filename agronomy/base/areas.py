"""Areas as people say them: two sides, or a word for a number."""

import re

from agronomy.base.errors import NotANumber

_BY = re.compile(r"(?<!\s)\s*+(?:[x×*]|\bby\b)\s*", re.IGNORECASE)
_SIDE = re.compile(r"[\d.,¼½¾/ ]++\s*+(?:[a-zA-Z'\"′″]+\.?)?")
_MARKS = {"'": " ft", "′": " ft", '"': " in", "″": " in"}
_WORDS = re.compile(
    r"^(?:(three)\s+quarters|(half|quarter|third)|(an?|one|two|three|four|five|six|seven|eight|nine|ten))"
    r"(?:\s+(?:of\s+)?(?:an?|one))?\s+(?=\S)",
    re.IGNORECASE,
)
_NUMBERS = {
    "a": 1.0,
    "an": 1.0,
    "one": 1.0,
    "two": 2.0,
    "three": 3.0,
    "four": 4.0,
    "five": 5.0,
    "six": 6.0,
    "seven": 7.0,
    "eight": 8.0,
    "nine": 9.0,
    "ten": 10.0,
    "half": 0.5,
    "quarter": 0.25,
    "third": 1 / 3,
}
_FRACTION = re.compile(r"^(\d+)\s*/\s*(\d+)(?=\s*[a-zA-Z])")


def sides(typed: str, field: str) -> tuple[str, str] | None:
    """The two sides of "4 ft x 8 ft", "30 m by 0.75 m" or "4x8", each with its unit where one is told; None where it is no product.

    A unit told for one side holds for the other. Raises NotANumber where a side can't be read. Source: definition.

    >>> sides("4 x 8 ft", "area"), sides("18 m2", "area")
    (('4 ft', '8 ft'), None)
    """
    parts = _BY.split(typed.strip())
    if len(parts) == 1:
        return None
    if len(parts) != 2 or not all(part and _SIDE.fullmatch(part.strip()) for part in parts):
        raise NotANumber(field, typed[:40], f"“{typed[:40]}” is not two sides", "write them as 4 ft x 8 ft, or give the area")
    told = [_with_marks(part.strip()) for part in parts]
    units = [re.sub(r"[\d.,¼½¾/ ]+", "", part) for part in told]
    shared = units[0] or units[1]
    return tuple(part if unit else f"{part} {shared}".strip() for part, unit in zip(told, units, strict=True))  # type: ignore[return-value]


def _with_marks(side: str) -> str:
    for mark, unit in _MARKS.items():
        side = side.replace(mark, unit)
    return side


def in_figures(typed: str) -> str:
    """A text whose first words are a number, in figures: "half an acre" is 0.5 acre. Source: definition.

    >>> in_figures("an acre"), in_figures("a quarter of an acre"), in_figures("1/4 acre"), in_figures("18 m2")
    ('1 acre', '0.25 acre', '0.25 acre', '18 m2')
    """
    text = typed.strip()
    text = re.sub(r"^(?:an?|one)\s+(?=half|quarter|third)", "", text, flags=re.IGNORECASE)
    fraction = _FRACTION.match(text)
    if fraction and int(fraction[2]):
        return f"{int(fraction[1]) / int(fraction[2]):g} {text[fraction.end() :].strip()}"
    word = _WORDS.match(text)
    if not word:
        return text
    number = 0.75 if word[1] else _NUMBERS[(word[2] or word[3]).lower()]
    return f"{number:g} {text[word.end() :]}"
