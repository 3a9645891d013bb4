"""Days as laboratories write them, and which of several days is that of sampling."""

import re
from datetime import date

from agronomy.labfile.words import Lexicon, plain
from agronomy.tables import load_tables

_NUMBERS = re.compile(r"(?<!\d)(\d{1,4})([./-])\s?(\d{1,2})\2\s?(\d{1,4})\.?(?!\d)")
_SIGNS = re.compile(r"(\d{4})\s?年\s?(\d{1,2})\s?月\s?(\d{1,2})\s?日")
_NAMED = re.compile(r"(?<!\d)(?:(\d{1,2})\.?\s+([^\W\d]{3,12})\.?|([^\W\d]{3,12})\.?\s+(\d{1,2}))(?:st|nd|rd|th)?,?\s+(\d{4})(?!\d)")


def parse_date(text: str, order: str = "dmy") -> date | None:
    """The first day in a text; None where there is none. Source: definition.

    >>> parse_date("3.10.2026"), parse_date("2026-10-03 00:00"), parse_date("10/03/26", "mdy")
    (datetime.date(2026, 10, 3), datetime.date(2026, 10, 3), datetime.date(2026, 10, 3))
    >>> parse_date("Nov 07, 2024"), parse_date("7 novembre 2024"), parse_date("2025年4月27日")
    (datetime.date(2024, 11, 7), datetime.date(2024, 11, 7), datetime.date(2025, 4, 27))
    """
    for numbers in _NUMBERS.finditer(text):
        first, second, third = (int(numbers[place]) for place in (1, 3, 4))
        if first > 31:
            found = _day(first, second, third)
        else:
            day, month = (second, first) if order == "mdy" else (first, second)
            found = _day(third + (2000 if third < 100 else 0), month, day)
        if found is not None:
            return found
    if signs := _SIGNS.search(text):
        return _day(*(int(part) for part in signs.groups()))
    for named in _NAMED.finditer(text):
        month = _month(named[2] or named[3])
        if month and (found := _day(int(named[5]), month, int(named[1] or named[4]))):
            return found
    return None


def _day(year: int, month: int, day: int) -> date | None:
    try:
        return date(year, month, day) if 1950 <= year <= 2200 else None
    except ValueError:
        return None


def _month(word: str) -> int:
    """The month that a word begins with, in the languages of most laboratories; 0 for none or where two fit."""
    told = plain(word)
    starts = {
        number: max((len(start) for start in row.split() if told.startswith(start)), default=0)
        for number, row in enumerate(load_tables().labfile.words.months, 1)
    }
    best = max(starts.values())
    fitting = [number for number, length in starts.items() if length == best > 0]
    return fitting[0] if len(fitting) == 1 else 0


def date_column(headings: dict[int, str], lexicon: Lexicon) -> int | None:
    """The column of the day of sampling among columns of days [place: heading]; None where none is. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> date_column({3: "Reported", 4: "Sampled"}, Lexicon(tables, "soil"))
    4
    """
    sampled = [place for place, heading in headings.items() if lexicon.is_of_sampling(heading)]
    others = [place for place, heading in headings.items() if not lexicon.is_of_report(heading)]
    return next(iter(sampled or others), None)
