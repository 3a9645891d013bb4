"""Dates by season, in either hemisphere."""

from calendar import monthrange
from collections.abc import Sequence
from datetime import date, timedelta
from typing import NamedTuple

SHORTEST_MONTH = 28


class Window(NamedTuple):
    """From the first to the last day, both included."""

    start: date
    end: date

    def later_than(self, earliest: date) -> "Window":
        """The same window, not beginning before `earliest` (and then at least a week long)."""
        if self.start >= earliest:
            return self
        return Window(earliest, max(self.end, earliest + timedelta(days=7)))

    @property
    def days(self) -> int:
        return (self.end - self.start).days


def local_month(northern_month: int, hemisphere: str) -> int:
    """The month with the same season here. Source: definition (six months on).

    >>> local_month(1, "south"), local_month(12, "south"), local_month(4, "north")
    (7, 6, 4)
    """
    return (northern_month + 5) % 12 + 1 if hemisphere == "south" else northern_month


def add_months(day: date, months: int) -> date:
    """The same day of the month so many months on, or the month's last day.

    >>> str(add_months(date(2027, 5, 5), 6))
    '2027-11-05'
    """
    index = day.year * 12 + day.month - 1 + months
    year, month = divmod(index, 12)
    return date(year, month + 1, day.day if day.day <= SHORTEST_MONTH else min(day.day, monthrange(year, month + 1)[1]))


def season_windows(northern_months: Sequence[int], hemisphere: str, earliest: date, latest: date) -> list[Window]:
    """Runs of the given months (as northern) between two days, cut to them.

    Windows in whole days.

    >>> [str(part.start) for part in season_windows((3, 4), "south", date(2027, 1, 1), date(2027, 12, 31))]
    ['2027-09-01']
    """
    months = {local_month(month, hemisphere) for month in northern_months}
    found: list[Window] = []
    first = earliest.replace(day=1)
    while first <= latest:
        following = date(first.year + first.month // 12, first.month % 12 + 1, 1)
        if first.month in months:
            start, end = max(first, earliest), min(following - timedelta(days=1), latest)
            if found and found[-1].end + timedelta(days=1) == start:
                found[-1] = Window(found[-1].start, end)
            else:
                found.append(Window(start, end))
        first = following
    return found


def next_season(northern_months: Sequence[int], hemisphere: str, earliest: date, shortest_days: int = 7) -> Window:
    """The first run of the given months from `earliest` on that is at least so many days long.

    Shortest run in days.

    >>> str(next_season((3, 4), "south", date(2027, 1, 1)).start)
    '2027-09-01'
    """
    windows = season_windows(northern_months, hemisphere, earliest, add_months(earliest, 18))
    return next(window for window in windows if window.days >= shortest_days)


def months_window(first: int, last: int, year: int) -> Window:
    """From the 1st of a month of a year to the end of another, that year or the next.

    >>> [str(day) for day in months_window(11, 2, 2026)]
    ['2026-11-01', '2027-02-28']
    """
    start = date(year, first, 1)
    return Window(start, add_months(start, (last - first) % 12 + 1) - timedelta(days=1))
