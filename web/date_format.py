"""Days in the holding's own habit: 5 May 2027, May 5, 2027 or 2027-05-05, on every page alike."""

from contextvars import ContextVar
from datetime import date, datetime
from functools import lru_cache

from django.utils.dateformat import format as formatted

HABITS = (("day", "day first: 5 May 2027"), ("month", "month first: May 5, 2027"), ("iso", "year first: 2027-05-05"))
_habit: ContextVar[str] = ContextVar("habit", default="day")

# A format with the day first, and the same with the month or the year first.
_OTHERWISE = {
    "j F Y": ("F j, Y", "Y-m-d"),
    "j M Y": ("M j, Y", "Y-m-d"),
    "j F Y H:i": ("F j, Y H:i", "Y-m-d H:i"),
    "j F Y, H:i": ("F j, Y, H:i", "Y-m-d, H:i"),
    "l j F Y": ("l, F j, Y", "l Y-m-d"),
    "j F": ("F j", "j F"),
    "j M": ("M j", "j M"),
    "j M, H:i": ("M j, H:i", "j M, H:i"),
    "D j M": ("D M j", "D j M"),
    "l j F": ("l, F j", "l j F"),
    "l, j F": ("l, F j", "l, j F"),
}


def keep_habit(habit: str) -> None:
    """Says how this request's reader likes days."""
    _habit.set(habit or "day")


def reader_format(day_first: str) -> str:
    """The same format with the month or the year first, where the reader likes that; others stay as they are."""
    month_first, year_first = _OTHERWISE.get(day_first, (day_first, day_first))
    return {"month": month_first, "iso": year_first}.get(_habit.get(), day_first)


def said(value: date | datetime, day_first: str = "j F Y") -> str:
    """A day as the reader likes it, from a format with the day first (Django's letters)."""
    wanted = reader_format(day_first)
    return _formatted(value, wanted) if type(value) is date else formatted(value, wanted)


_formatted = lru_cache(maxsize=4096)(formatted)  # of days; equal times may be told in two zones


def habit() -> str:
    """How this request's reader likes days: a key of HABITS."""
    return _habit.get()
