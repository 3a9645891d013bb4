"""Words that more than one room uses: days, windows and nutrients as people write them."""

import re
from collections.abc import Callable
from datetime import date

from agronomy.tables.material import K_IN_K2O, P_IN_P2O5
from web.date_format import said

_NO_CELL_HOLDS = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")  # letters that XML, and so a workbook, has not
NO_CENTS_FROM = 100  # own money
OXIDES = {"P": ("P₂O₅", P_IN_P2O5), "K": ("K₂O", K_IN_K2O)}


def day(value: date, *, year: bool = False) -> str:
    return said(value, "j M Y" if year else "j M")


def between(start: date, end: date, today: date) -> str:
    """A window as people write it.

    >>> between(date(2026, 10, 6), date(2026, 10, 31), date(2026, 10, 1))
    '6–31 Oct'
    """
    other_year = end.year != today.year
    if start == end:
        return day(start, year=other_year)
    if (start.year, start.month) == (end.year, end.month) and said(end, "j M").startswith(str(end.day)):
        return f"{start.day}–{day(end, year=other_year)}"
    return f"{day(start, year=start.year != end.year)} – {day(end, year=other_year)}"


def nutrient_in(nutrient: str, kg: float, form: str) -> tuple[str, float]:
    """Label and amount of a nutrient in the form the reader's country uses."""
    if form == "oxide" and nutrient in OXIDES:
        label, share = OXIDES[nutrient]
        return label, kg / share
    return {"CaCO3": "CaCO₃", "S_acid": "S"}.get(nutrient, nutrient), kg


def money(currency: str) -> Callable[[float], str]:
    """How a holding says a sum: with cents below a hundred."""
    return lambda sum_: f"{currency}{sum_:.2f}" if sum_ < NO_CENTS_FROM else f"{currency}{sum_:.0f}"


def plain_cell(cell: object) -> object:
    """A cell that no spreadsheet takes for a formula: text is marked as text, without what no workbook holds; anything else stays.

    >>> plain_cell("=1+1"), plain_cell(2.5)
    ("'=1+1", 2.5)
    """
    if not isinstance(cell, str):
        return cell
    text = _NO_CELL_HOLDS.sub("", cell)
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") and text else text
