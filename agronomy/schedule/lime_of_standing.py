"""When lime goes on what stands: in its season, clear of the picking, and late rather than a year on."""

from datetime import date, timedelta

from agronomy.base.said import say
from agronomy.model.seasons import Window, add_months, local_month, next_season
from agronomy.schedule.calendar import Calendar
from agronomy.tables import Tables
from agronomy.tables.rooms.documents import LimeOfStanding


def lime_of_standing(months: list[int], calendar: Calendar, tables: Tables) -> tuple[Window, str]:
    """The window for lime on what stands, with a word where it is late.

    Source: timing-guide.
    In days.
    """
    rule, today = tables.timing.lime_of_standing, calendar.today
    row = tables.growing.standing.get(calendar.growth.life_form)
    season = next_season(months, calendar.hemisphere, today)
    is_picked = row is None or not row.lime_between_cuts
    if is_picked:
        season = _clear_of_picking(season, calendar, rule)
    if row is None or (season.start - today).days <= rule.wait_days:
        return season, ""
    late = {local_month(int(month), calendar.hemisphere) for month in row.lime_late_months}
    last = today + timedelta(days=rule.window_days)
    picking = _picking(calendar, today) if is_picked else None
    if picking is not None:
        before = picking.start - timedelta(days=rule.before_harvest_days)
        if before <= today <= picking.end:
            return season, ""
        last = min(last, before) if picking.start > today else last
    if today.month not in late or (last - today).days < rule.shortest_days:
        return season, ""
    return Window(today, last), say(
        "Out of its usual season, and better than waiting for it: onto dry plants. It works from next season on."
    )


def _picking(calendar: Calendar, day: date) -> Window | None:
    """The picking that is under way, or the next to come; None of what isn't picked."""
    first, last = calendar.growth.harvest_from_month, calendar.growth.harvest_to_month
    if first is None or last is None:
        return None
    months = (int(last) - int(first)) % 12 + 1
    starts = (date(year, local_month(int(first), calendar.hemisphere), 1) for year in (day.year - 1, day.year, day.year + 1))
    windows = (Window(start, add_months(start, months) - timedelta(days=1)) for start in starts)
    return next(window for window in windows if window.end >= day)


def _clear_of_picking(season: Window, calendar: Calendar, rule: LimeOfStanding) -> Window:
    """A season from some days after the last picking on, where enough of it is left: citrus is limed between its fruit."""
    picking = _picking(calendar, season.start)
    if picking is None or picking.start > season.start:
        return season
    start = picking.end + timedelta(days=rule.after_harvest_days)
    return Window(start, season.end) if (season.end - start).days >= rule.shortest_days else season
