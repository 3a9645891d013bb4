"""When things go on: properties over any day and planting, and seasons worked by hand."""

from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from agronomy.model.seasons import Window, add_months, next_season, season_windows
from agronomy.schedule.calendar import calendar_for
from tests.helpers.requests import ACID, TABLES, document, plan, reading

days = st.dates(date(2020, 1, 1), date(2040, 12, 31))
QUICK = settings(max_examples=60, deadline=None)


@QUICK
@given(
    days,
    st.one_of(st.none(), st.integers(-1500, 900)),
    st.sampled_from(sorted(TABLES.crops)),
    st.sampled_from(["north", "south"]),
    st.booleans(),
)
def test_nothing_is_due_in_the_past_or_years_away(today, offset, crop, hemisphere, dug):
    planting = None if offset is None else (today + timedelta(days=offset)).isoformat()
    made = plan(document(*ACID, crop=crop, planting=planting, hemisphere=hemisphere, dug=dug), today=today.isoformat())
    for item in made.applications:
        assert today <= item.from_ <= item.to
        assert item.from_ <= add_months(max(today, today + timedelta(days=offset or 0)), 48)
        assert item.dressing <= item.dressings
    assert made.retest > today


@QUICK
@given(
    st.integers(420, 520), st.integers(1, 60), st.sampled_from(["dahlia", "cabbage", "winter_wheat"])
)  # planted in spring: nothing waits for the next one
def test_moving_planting_moves_what_hangs_on_it(ahead, later, crop):
    today = date(2026, 1, 10)
    first, second = (
        plan(
            document(
                reading("pH", 7.0),
                reading("K", 20, "mg/kg", "Mehlich 3"),
                crop=crop,
                planting=(today + timedelta(days=ahead + move)).isoformat(),
            ),
            today=today.isoformat(),
        )
        for move in (0, later)
    )
    assert [b.from_ - a.from_ for a, b in zip(first.applications, second.applications, strict=True)] == [timedelta(days=later)] * len(
        first.applications
    )


@QUICK
@given(days, st.lists(st.integers(1, 12), min_size=1, max_size=4, unique=True))
def test_north_and_south_mirror(today, months):
    here = season_windows(months, "south", today, add_months(today, 12))
    assert here == season_windows([(month + 5) % 12 + 1 for month in months], "north", today, add_months(today, 12))
    assert next_season(months, "north", today).start >= today


@pytest.mark.parametrize(
    ("today", "planting", "crop", "anchor", "note"),
    [
        ("2026-10-05", "2027-05-12", "dahlia", "2027-05-12", ""),
        ("2026-10-05", None, "dahlia", "2027-05-15", "No planting date"),
        ("2026-03-05", None, "dahlia", "2026-05-15", "No planting date"),
        ("2026-10-05", "2025-05-12", "dahlia", "2027-05-12", "has passed"),
        ("2026-06-05", "2026-05-12", "dahlia", "2026-05-12", ""),
        ("2026-10-05", "2020-02-29", "tomato", "2027-02-28", "has passed"),
        ("2026-10-05", "2019-04-10", "hop", "2027-03-01", ""),
        ("2026-03-20", None, "pasture", "2026-03-20", ""),
    ],
)
def test_the_day_that_dates_hang_on(today, planting, crop, anchor, note):
    calendar = calendar_for(TABLES.crops[crop], planting and date.fromisoformat(planting), date.fromisoformat(today), "north", TABLES)
    assert calendar.anchor.isoformat() == anchor
    assert note in calendar.note


@pytest.mark.parametrize(
    ("today", "planting", "start", "end", "says"),
    [
        ("2026-08-01", "2027-05-12", "2026-09-01", "2026-11-30", ""),  # the autumn before a spring planting
        ("2026-12-10", "2027-05-12", "2026-12-10", "2027-02-08", ""),  # autumn is missed, three months are still left
        ("2027-04-01", "2027-05-12", "2027-04-01", "2027-04-22", "Later than it should be"),
        ("2027-05-05", "2027-05-12", "2027-10-19", "2027-11-30", "after this crop"),
    ],
)
def test_lime_goes_on_ahead_or_says_what_being_late_means(today, planting, start, end, says):
    made = plan(document(*ACID, planting=planting), today=today)
    lime = next(item for item in made.applications if item.what == "CaCO3")
    assert (lime.from_.isoformat(), lime.to.isoformat()) == (start, end)
    assert says.lower() in lime.timing_note.lower()


def test_months_end_where_they_end():
    assert add_months(date(2024, 1, 31), 1) == date(2024, 2, 29)
    assert add_months(date(2026, 12, 31), 2) == date(2027, 2, 28)
    assert Window(date(2026, 1, 1), date(2026, 1, 5)).later_than(date(2026, 1, 4)) == Window(date(2026, 1, 4), date(2026, 1, 11))
