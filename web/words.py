"""Words that more than one room uses: days, windows and nutrients as people write them."""

from datetime import date

from agronomy.tables.material import K_IN_K2O, P_IN_P2O5

OXIDES = {"P": ("P₂O₅", P_IN_P2O5), "K": ("K₂O", K_IN_K2O)}


def day(value: date, *, year: bool = False) -> str:
    return f"{value:%-d %b %Y}" if year else f"{value:%-d %b}"


def between(start: date, end: date, today: date) -> str:
    """A window as people write it.

    >>> between(date(2026, 10, 6), date(2026, 10, 31), date(2026, 10, 1))
    '6–31 Oct'
    """
    tail = f" {end.year}" if end.year != today.year else ""
    if start == end:
        return day(start) + tail
    if (start.year, start.month) == (end.year, end.month):
        return f"{start.day}–{end.day} {end:%b}{tail}"
    return f"{day(start)}{'' if start.year == end.year else f' {start.year}'} – {day(end)}{tail}"


def nutrient_in(nutrient: str, kg: float, form: str) -> tuple[str, float]:
    """Label and amount of a nutrient in the form the reader's country uses."""
    if form == "oxide" and nutrient in OXIDES:
        label, share = OXIDES[nutrient]
        return label, kg / share
    return {"CaCO3": "CaCO₃", "S_acid": "S"}.get(nutrient, nutrient), kg
