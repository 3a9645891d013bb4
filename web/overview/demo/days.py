"""Days of the demo, which lie right around the day of loading."""

from datetime import date


def past_day(month_day: str, years_ago: int, today: date) -> date:
    """The last such day that is behind us, so many years further back."""
    day = date.fromisoformat(f"{today.year}-{month_day}")
    if day > today:
        day = day.replace(year=day.year - 1)
    return day.replace(year=day.year - years_ago)


def coming_day(month_day: str, today: date) -> date:
    """The next such day from today on."""
    day = date.fromisoformat(f"{today.year}-{month_day}")
    return day if day >= today else day.replace(year=day.year + 1)
