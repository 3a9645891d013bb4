"""Limits of dates as documents: closed seasons and working days, checked by pydantic and read into the core's own."""

from datetime import date

from pydantic import BaseModel, ConfigDict, Field

from agronomy.base.errors import OutOfRange
from agronomy.model.closed_season import ClosedSeason
from agronomy.model.labour import LabourCalendar, labour_calendar_of

MOST_SPANS = 60


class ClosedDoc(BaseModel):
    """A span of every year in which some materials must not be spread, from local rules: month and day, as "10-15"."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(max_length=80)
    materials: list[str] = Field(max_length=300)
    begins: str = Field(max_length=5)
    ends: str = Field(max_length=5)


class AwayDoc(BaseModel):
    """Days on which nobody is there, first and last."""

    model_config = ConfigDict(extra="forbid")

    begins: date
    ends: date


class HandsDoc(BaseModel):
    """Days of the week on which work is done (none named: all of them), and spans without anybody."""

    model_config = ConfigDict(extra="forbid")

    weekdays: list[str] = Field(default_factory=list, max_length=7)
    away: list[AwayDoc] = Field(default_factory=list, max_length=MOST_SPANS)


def read_closed(doc: ClosedDoc, field: str) -> ClosedSeason:
    """A ClosedSeason of its document. Raises OutOfRange for a day that is in no year."""
    return ClosedSeason(doc.name, frozenset(doc.materials), _day(doc.begins, f"{field}.begins"), _day(doc.ends, f"{field}.ends"))


def read_hands(doc: HandsDoc | None, field: str = "hands") -> LabourCalendar:
    """LabourCalendar of their document. Raises UnknownName or OutOfRange."""
    return LabourCalendar() if doc is None else labour_calendar_of(doc.weekdays, [(span.begins, span.ends) for span in doc.away], field)


def _day(text: str, field: str) -> tuple[int, int]:
    try:
        found = date.fromisoformat(f"2028-{text}")  # a leap year, so that 29 February is a day
    except ValueError:
        raise OutOfRange(field, text, f"“{text}” is no day of the year", "write month and day, as 10-15") from None
    return found.month, found.day
