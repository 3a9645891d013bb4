"""When there are hands: days of the week on which work is done, and days when nobody is there."""

from collections.abc import Iterable
from datetime import date, timedelta

from agronomy.base.errors import OutOfRange, UnknownName
from agronomy.base.record import record

WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
EVERY_DAY = frozenset(range(7))


@record
class Away:
    """A span of days, both counted, on which nobody is there to work."""

    begins: date
    ends: date


@record
class LabourCalendar:
    """Working days of the week (0 is Monday) and spans without anybody."""

    weekdays: frozenset[int] = EVERY_DAY
    away: tuple[Away, ...] = ()

    @property
    def always(self) -> bool:
        return self.weekdays == EVERY_DAY and not self.away

    def free(self, day: date) -> bool:
        """Whether somebody is there to work on a day."""
        return day.weekday() in self.weekdays and not any(span.begins <= day <= span.ends for span in self.away)

    def first_free(self, day: date) -> date:
        """The first working day from one on."""
        while not self.free(day):
            day += timedelta(days=1)
        return day

    def last_free(self, day: date, earliest: date) -> date:
        """The last working day up to one, but none before `earliest`, which is a working day itself."""
        while day > earliest and not self.free(day):
            day -= timedelta(days=1)
        return day


def labour_calendar_of(weekdays: Iterable[str], away: Iterable[tuple[date, date]], field: str = "hands") -> LabourCalendar:
    """The labour calendar by names of weekdays; no weekday means all of them.

    Raises UnknownName, or OutOfRange for a span that ends before it begins.

    >>> sorted(labour_calendar_of(["saturday", "sunday"], ()).weekdays)
    [5, 6]
    """
    numbers = set()
    for place, name in enumerate(weekdays):
        if name.strip().lower() not in WEEKDAYS:
            raise UnknownName(f"{field}.weekdays[{place}]", name[:20], f"“{name[:20]}” is no day of the week", f"use {', '.join(WEEKDAYS)}")
        numbers.add(WEEKDAYS.index(name.strip().lower()))
    spans = []
    for place, (begins, ends) in enumerate(away):
        if ends < begins or (ends - begins).days > 366:
            raise OutOfRange(
                f"{field}.away[{place}]",
                f"{begins} to {ends}",
                "the span ends before it begins, or is longer than a year",
                "check both days",
            )
        spans.append(Away(begins, ends))
    return LabourCalendar(frozenset(numbers) or EVERY_DAY, tuple(spans))
